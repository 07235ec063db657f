namespace JadeOrchard.Core.Findings;

/// <summary>What a finding is about. Adding one: a file beside this one, and a line in <see cref="FindingTable"/>.</summary>
public enum FindingKind
{
    RivalsInResults,
    SplitTraffic,
    PageSwap,
    WrongPageRanks,
    SharedTarget,
    MixedTarget,
    TwinTitles,
    NoPage,
    Absent,
    MissingOnPage,
    OpenQuestion,
    UnlinkedSupport,
    Orphan,
    Targetless,
}

/// <summary>Kinds that belong together.</summary>
public enum FindingGroup
{
    /// <summary>Pages of the site stand in each other's way.</summary>
    Cannibalization,

    /// <summary>Searches that no page answers well.</summary>
    Uncovered,

    /// <summary>Links that should be there.</summary>
    Links,

    /// <summary>Pages that serve nothing.</summary>
    Page,
}

/// <summary>What is told of a kind wherever it is named.</summary>
public static class FindingKinds
{
    /// <summary>As it stands in files and keys: "rivals-in-results".</summary>
    public static string Code(this FindingKind kind) => kind switch
    {
        FindingKind.RivalsInResults => "rivals-in-results",
        FindingKind.SplitTraffic => "split-traffic",
        FindingKind.PageSwap => "page-swap",
        FindingKind.WrongPageRanks => "wrong-page-ranks",
        FindingKind.SharedTarget => "shared-target",
        FindingKind.MixedTarget => "mixed-target",
        FindingKind.TwinTitles => "twin-titles",
        FindingKind.NoPage => "no-page",
        FindingKind.Absent => "absent",
        FindingKind.MissingOnPage => "missing-on-page",
        FindingKind.OpenQuestion => "open-question",
        FindingKind.UnlinkedSupport => "unlinked-support",
        FindingKind.Orphan => "orphan",
        FindingKind.Targetless => "targetless",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of finding."),
    };

    public static FindingGroup Group(this FindingKind kind) => kind switch
    {
        <= FindingKind.TwinTitles => FindingGroup.Cannibalization,
        <= FindingKind.OpenQuestion => FindingGroup.Uncovered,
        <= FindingKind.Orphan => FindingGroup.Links,
        _ => FindingGroup.Page,
    };

    /// <summary>True for the kinds where pages of the site stand in each other's way.</summary>
    public static bool IsCannibalization(this FindingKind kind) => kind.Group() == FindingGroup.Cannibalization;
}
