using System.Globalization;

namespace JadeOrchard.Core.Findings;

/// <summary>What is told of a sign in a sentence.</summary>
/// <param name="Kind">What was seen.</param>
/// <param name="PageUrl">The page it is about, as it is to be shown: by its path on screens, in full in files; null for none.</param>
/// <param name="Others">Its other pages, likewise.</param>
/// <param name="OtherCluster">Name of the other cluster; null for none.</param>
/// <param name="Keywords">How many keywords show it.</param>
public readonly record struct SaidSign(SignKind Kind, string? PageUrl, IReadOnlyList<string> Others, string? OtherCluster, int Keywords);

/// <summary>What findings are called and what they say: on screens, in files and in summaries.</summary>
public static class FindingText
{
    /// <returns>"conflict".</returns>
    public static string Name(FindingKind kind) => kind.Code().Replace('-', ' ');

    /// <returns>"Conflicts", as a heading.</returns>
    public static string Heading(FindingKind kind) => kind switch
    {
        FindingKind.Conflict => "Conflicts",
        FindingKind.Uncovered => "Uncovered",
        FindingKind.PageGap => "Page gaps",
        FindingKind.Twins => "Twins",
        FindingKind.MissingLinks => "Missing links",
        FindingKind.IdlePages => "Idle pages",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of finding."),
    };

    /// <returns>"rivals in results".</returns>
    public static string Name(SignKind kind) => kind switch
    {
        SignKind.OpenQuestion => "open questions",
        SignKind.MissingOnPage => "missing keywords",
        _ => kind.Code().Replace('-', ' '),
    };

    /// <returns>"keep one, redirect the other".</returns>
    public static string Name(Remedy remedy) => remedy switch
    {
        Remedy.Redirect => "keep one, redirect the other",
        Remedy.Merge => "merge them",
        Remedy.NewTarget => "give the other a new target",
        Remedy.Canonical => "make one canonical",
        Remedy.Link => "link them",
        _ => throw new ArgumentOutOfRangeException(nameof(remedy), remedy, "Not a remedy."),
    };

    /// <summary>What a finding is about, in a few words: its pages, its cluster or its folder.</summary>
    /// <param name="kind">What is to be decided.</param>
    /// <param name="cluster">Name of its first cluster; null for none.</param>
    /// <param name="pages">The first of its pages, as they are to be shown.</param>
    /// <param name="pageCount">How many pages it has.</param>
    /// <param name="folder">The folder; null for none.</param>
    public static string Subject(FindingKind kind, string? cluster, IReadOnlyList<string> pages, int pageCount, string? folder) => kind switch
    {
        FindingKind.Uncovered or FindingKind.MissingLinks when cluster is not null => cluster,
        FindingKind.IdlePages when pageCount > 1 => folder ?? "",
        _ when pages.Count == 0 => cluster ?? "",
        FindingKind.Conflict or FindingKind.Twins when pageCount == 2 && pages.Count >= 2 => $"{pages[0]} and {pages[1]}",
        FindingKind.Conflict or FindingKind.Twins when pageCount > 2 && pages.Count >= 2 => $"{pages[0]}, {pages[1]} and {Number(pageCount - 2)}\u00A0more",
        _ => pages[0],
    };

    /// <summary>What a kind of sign says, in short, for the line of a finding: "both rank".</summary>
    /// <param name="kind">What was seen.</param>
    /// <param name="count">How many keywords show it; pages or links where no keyword does.</param>
    /// <param name="pages">How many pages the finding has.</param>
    public static string Brief(SignKind kind, int count, int pages) => kind switch
    {
        SignKind.RivalsInResults => pages > 2 ? "several rank" : "both rank",
        SignKind.SplitTraffic => "traffic splits",
        SignKind.PageSwap => "they take turns",
        SignKind.WrongPageRanks => "the wrong page ranks",
        SignKind.SharedTarget => "the same target",
        SignKind.NoPage => "no page",
        SignKind.Absent => $"absent from {Counted(count, "list")}",
        SignKind.OpenQuestion => Counted(count, "open question"),
        SignKind.MissingOnPage => $"{Counted(count, "keyword")} not mentioned",
        SignKind.MixedTarget => "a mixed target",
        SignKind.TwinTitles => "titles alike",
        SignKind.TwinHeadings => "headings alike",
        SignKind.TwinTexts => "texts alike",
        SignKind.SupportToPillar => $"{Counted(count, "link")} to the pillar",
        SignKind.PillarToSupport => $"{Counted(count, "link")} from the pillar",
        SignKind.Orphan => count == 1 ? "no page links to it" : $"{Number(count)} without a link to them",
        SignKind.Fading => "it fades",
        SignKind.Targetless => count == 1 ? "no cluster and no visits" : $"{Number(count)} without cluster and visits",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of sign."),
    };

    /// <summary>What a sign says, in one sentence.</summary>
    public static string Sentence(SaidSign sign)
    {
        var page = sign.PageUrl ?? "no page";
        var other = sign.Others.Count switch
        {
            0 => "another page",
            1 => sign.Others[0],
            var count => $"{Number(count)} other pages",
        };
        return sign.Kind switch
        {
            SignKind.RivalsInResults => $"{page} and {other} appear in the same result lists, for keywords of one cluster.",
            SignKind.SplitTraffic => $"The impressions of the same queries go to {page} and to {other}.",
            SignKind.PageSwap => $"{page} and {other} take turns as the site’s best page for the same searches.",
            SignKind.WrongPageRanks => $"{other} ranks for this cluster, not {page}, which is the assigned page.",
            SignKind.SharedTarget => $"{page} and {other} have clusters with nearly the same results{(sign.OtherCluster is null ? "" : $" (the other is “{sign.OtherCluster}”)")}, so they chase the same searches.",
            SignKind.NoPage => "People search for this, and no page of the site is about it.",
            SignKind.Absent when sign.PageUrl is null => "No page of the site appears in the captured result lists.",
            SignKind.Absent => $"{page} is the assigned page, and no page of the site appears in the captured result lists.",
            SignKind.OpenQuestion => "People ask these questions, and no page of the site answers them.",
            SignKind.MissingOnPage => $"{page}, the assigned page, never mentions some of the keywords of its cluster.",
            SignKind.MixedTarget => $"{page} is also assigned “{sign.OtherCluster}”, which shares no result with its main cluster.",
            SignKind.TwinTitles => $"The titles of {page} and {other} are nearly the same.",
            SignKind.TwinHeadings => $"The main headings of {page} and {other} are nearly the same.",
            SignKind.TwinTexts => $"The texts of {page} and {other} are nearly the same.",
            SignKind.SupportToPillar => $"{page} does not link to {other}, the pillar of its topic.",
            SignKind.PillarToSupport => $"{page}, the pillar of its topic, does not link to {other}.",
            SignKind.Orphan => $"No page of the site links to {page}.",
            SignKind.Fading => $"{page}, the assigned page, loses clicks beyond the site’s course, its season and chance.",
            SignKind.Targetless => $"{page} has no cluster, and nobody came to it by a search.",
            _ => throw new ArgumentOutOfRangeException(nameof(sign), sign, "Not a kind of sign."),
        };
    }

    /// <returns>What can be done about a kind of finding.</returns>
    public static string Advice(FindingKind kind) => kind switch
    {
        FindingKind.Conflict => "Decide which page these searches belong to. Redirect or merge the others, give them searches of their own, or make one canonical. Leave it as it is where all are wanted.",
        FindingKind.Uncovered => "Plan a page on the page map, or decline it where the site does not want these searches.",
        FindingKind.PageGap => "Work in what is missing where it belongs, answer the questions under a heading of their own, and give a cluster that does not fit a page of its own.",
        FindingKind.Twins => "Give each page a title and text that say what only it has, or merge them.",
        FindingKind.MissingLinks => "Add the links, where a reader would want them.",
        FindingKind.IdlePages => "Link to them from pages about the same topic, give them a cluster, merge them into pages that have one, or take them down.",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of finding."),
    };

    /// <summary>How sure a finding is, in one sentence.</summary>
    /// <param name="confidence">From 0 to 1, see <see cref="FindingMaker.Confidence"/>.</param>
    /// <param name="kinds">How many kinds of signs show it.</param>
    /// <param name="facts">How many keywords or pages do.</param>
    public static string Certainty(double confidence, int kinds, int facts) =>
        $"{(confidence >= 0.9 ? "Sure" : confidence >= 0.7 ? "Fairly sure" : "Not sure")}: {Counted(kinds, "kind")} of sign, {Counted(facts, "fact")}.";

    private static string Counted(int count, string noun) => $"{Number(count)} {noun}{(count == 1 ? "" : "s")}";

    private static string Number(int count) => count.ToString("N0", CultureInfo.InvariantCulture);
}
