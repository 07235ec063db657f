namespace JadeOrchard.Core.Findings;

/// <summary>What a finding is about. Adding one: a file beside this one, and a line in <see cref="SiteFindings"/>.</summary>
public enum FindingKind
{
    RivalsInResults,
    WrongPageRanks,
    SharedTarget,
    NoPage,
    Absent,
}

/// <summary>What is told of a kind wherever it is named.</summary>
public static class FindingKinds
{
    /// <summary>As it stands in files and keys: "rivals-in-results".</summary>
    public static string Code(this FindingKind kind) => kind switch
    {
        FindingKind.RivalsInResults => "rivals-in-results",
        FindingKind.WrongPageRanks => "wrong-page-ranks",
        FindingKind.SharedTarget => "shared-target",
        FindingKind.NoPage => "no-page",
        FindingKind.Absent => "absent",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of finding."),
    };

    /// <summary>True for the kinds where pages of the site stand in each other's way.</summary>
    public static bool IsCannibalization(this FindingKind kind) =>
        kind is FindingKind.RivalsInResults or FindingKind.WrongPageRanks or FindingKind.SharedTarget;
}
