namespace JadeOrchard.Core.Findings;

/// <summary>What findings are called and what they say: on screens, in files and in summaries.</summary>
public static class FindingText
{
    /// <returns>"rivals in results".</returns>
    public static string Name(FindingKind kind) => kind.Code().Replace('-', ' ');

    /// <returns>"Uncovered subtopics".</returns>
    public static string Name(FindingGroup group) => group switch
    {
        FindingGroup.Cannibalization => "Cannibalization",
        FindingGroup.Uncovered => "Uncovered subtopics",
        FindingGroup.Links => "Links that should exist",
        FindingGroup.Page => "Pages without a purpose",
        _ => throw new ArgumentOutOfRangeException(nameof(group), group, "Not a group of findings."),
    };

    /// <returns>"keep one, redirect the other".</returns>
    public static string Name(Remedy remedy) => remedy switch
    {
        Remedy.Redirect => "keep one, redirect the other",
        Remedy.Merge => "merge the two",
        Remedy.NewTarget => "give the other a new target",
        Remedy.Canonical => "make one canonical",
        Remedy.Link => "link them",
        _ => throw new ArgumentOutOfRangeException(nameof(remedy), remedy, "Not a remedy."),
    };

    /// <summary>What a finding says, in one sentence.</summary>
    /// <param name="kind">What it is about.</param>
    /// <param name="pageUrl">The page it is about, as it is to be shown: by its path on screens, in full in files; null for none.</param>
    /// <param name="isPageDecided">The page is assigned by the planner, not just suggested.</param>
    /// <param name="otherPageUrl">The other page, likewise; null for none.</param>
    /// <param name="otherCluster">Name of the other cluster; null for none.</param>
    public static string Sentence(FindingKind kind, string? pageUrl, bool isPageDecided, string? otherPageUrl, string? otherCluster)
    {
        var (page, other) = (pageUrl ?? "no page", otherPageUrl ?? "another page");
        var held = isPageDecided ? "assigned" : "suggested";
        return kind switch
        {
            FindingKind.RivalsInResults => $"{page} and {other} appear in the same result lists, for keywords of one cluster.",
            FindingKind.SplitTraffic => $"The impressions of the same queries go to {page} and to {other}.",
            FindingKind.PageSwap => $"{page} and {other} take turns as the site’s best page for the same searches.",
            FindingKind.WrongPageRanks => $"{other} ranks for this cluster, not {page}, which is {(isPageDecided ? "the assigned page" : "the page that is about it")}.",
            FindingKind.SharedTarget => $"{page} and {other} have clusters with nearly the same results{(otherCluster is null ? "" : $" (the other is “{otherCluster}”)")}, so they chase the same searches.",
            FindingKind.MixedTarget => $"{page} is also assigned “{otherCluster}”, which shares no result with this cluster.",
            FindingKind.TwinTitles => $"The titles or main headings of {page} and {other} are nearly the same.",
            FindingKind.NoPage => "People search for this, and no page of the site is about it.",
            FindingKind.Absent when pageUrl is null => "No page of the site appears in the captured result lists.",
            FindingKind.Absent => $"{page} is the {held} page, and it appears in none of the captured result lists.",
            FindingKind.MissingOnPage => $"{page}, the {held} page, never mentions some of the keywords of its cluster.",
            FindingKind.OpenQuestion => "People ask these questions, and no page of the site answers them.",
            FindingKind.UnlinkedSupport => $"{page} does not link to {other}, though they are pillar and support of one topic.",
            FindingKind.Orphan => $"No page of the site links to {page}.",
            FindingKind.Targetless => $"{page} has no cluster, and nobody came to it by a search.",
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of finding."),
        };
    }

    /// <returns>What can be done about a kind of finding.</returns>
    public static string Advice(FindingKind kind) => kind switch
    {
        FindingKind.RivalsInResults => "Keep one page and redirect the other, merge them, give the other a new target, or make one canonical. Leave it as it is where both are wanted.",
        FindingKind.SplitTraffic => "Decide which page these searches belong to. Merge or redirect the other, or give it searches of its own and link to the one that stays.",
        FindingKind.PageSwap => "Search services cannot tell which page to show. Merge the two, or make one plainly the better answer: title, links and text of the other go elsewhere.",
        FindingKind.WrongPageRanks => "Assign the page that ranks, or strengthen the assigned one: link to it from the one that ranks, and give that one another target.",
        FindingKind.SharedTarget => "Merge the two pages, or part their targets so that each answers its own searches.",
        FindingKind.MixedTarget => "Give the smaller cluster a page of its own, existing or planned, or decline it.",
        FindingKind.TwinTitles => "Give each page a title that says what only it has; merge them where there is nothing of the kind.",
        FindingKind.NoPage => "Plan a page on the page map, or decline it where the site does not want these searches.",
        FindingKind.Absent => "Plan a page, or look at what the pages that do rank have and this one lacks.",
        FindingKind.MissingOnPage => "Work the words in where they belong, or move the keyword to a cluster whose page it fits.",
        FindingKind.OpenQuestion => "Answer them under a heading of their own, on the page of the cluster.",
        FindingKind.UnlinkedSupport => "Add the link, where a reader would want it.",
        FindingKind.Orphan => "Link to it from pages about the same topic, or take it down.",
        FindingKind.Targetless => "Give it a cluster, merge it into a page that has one, or leave it where it serves another purpose.",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of finding."),
    };
}
