using JadeOrchard.Core.Findings;
using JadeOrchard.Storage.Findings;

namespace JadeOrchard.Server.Findings;

/// <summary>What findings are called and say, for files.</summary>
internal static class FindingWords
{
    /// <summary>"Rivals in results".</summary>
    public static string Name(FindingKind kind)
    {
        var words = kind.Code().Replace('-', ' ');
        return char.ToUpperInvariant(words[0]) + words[1..];
    }

    public static string Name(FindingGroup group) => group switch
    {
        FindingGroup.Cannibalization => "Cannibalization",
        FindingGroup.Uncovered => "Uncovered subtopics",
        FindingGroup.Links => "Links that should exist",
        _ => "Pages without a purpose",
    };

    /// <summary>"keep and redirect".</summary>
    public static string Name(Remedy remedy) => remedy switch
    {
        Remedy.Redirect => "keep one, redirect the other",
        Remedy.Merge => "merge",
        Remedy.NewTarget => "give the other a new target",
        Remedy.Canonical => "make one canonical",
        _ => "link",
    };

    /// <summary>A finding in a line, with its pages.</summary>
    public static string Says(FindingRow f) => Name(f.Kind) + f.Kind switch
    {
        FindingKind.WrongPageRanks => $": {f.OtherPageUrl} instead of {f.PageUrl}",
        FindingKind.UnlinkedSupport => $": {f.PageUrl} does not link to {f.OtherPageUrl}",
        FindingKind.MixedTarget => $": {f.PageUrl} also has “{f.OtherClusterName}”",
        FindingKind.NoPage or FindingKind.OpenQuestion => "",
        _ when f.OtherPageUrl is not null => $": {f.PageUrl} and {f.OtherPageUrl}",
        _ when f.PageUrl is not null => $": {f.PageUrl}",
        _ => "",
    };
}
