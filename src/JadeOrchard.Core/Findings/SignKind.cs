namespace JadeOrchard.Core.Findings;

/// <summary>How findings show themselves. Adding one: a file beside this one, and a line in <see cref="FindingTable"/>.</summary>
public enum SignKind
{
    RivalsInResults,
    SplitTraffic,
    PageSwap,
    WrongPageRanks,
    SharedTarget,
    NoPage,
    Absent,
    OpenQuestion,
    MissingOnPage,
    MixedTarget,
    TwinTitles,
    TwinHeadings,
    TwinTexts,
    SupportToPillar,
    PillarToSupport,
    Orphan,
    Targetless,
    Fading,
}

/// <summary>What is told of a kind of sign wherever it is named.</summary>
public static class SignKinds
{
    /// <summary>The code in files: "rivals-in-results".</summary>
    public static string Code(this SignKind kind) => kind switch
    {
        SignKind.RivalsInResults => "rivals-in-results",
        SignKind.SplitTraffic => "split-traffic",
        SignKind.PageSwap => "page-swap",
        SignKind.WrongPageRanks => "wrong-page-ranks",
        SignKind.SharedTarget => "shared-target",
        SignKind.NoPage => "no-page",
        SignKind.Absent => "absent",
        SignKind.OpenQuestion => "open-question",
        SignKind.MissingOnPage => "missing-on-page",
        SignKind.MixedTarget => "mixed-target",
        SignKind.TwinTitles => "twin-titles",
        SignKind.TwinHeadings => "twin-headings",
        SignKind.TwinTexts => "twin-texts",
        SignKind.SupportToPillar => "support-to-pillar",
        SignKind.PillarToSupport => "pillar-to-support",
        SignKind.Orphan => "orphan",
        SignKind.Targetless => "targetless",
        SignKind.Fading => "fading",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of sign."),
    };

    /// <returns>The signs by which a kind of finding can show itself.</returns>
    public static IEnumerable<SignKind> Of(FindingKind kind) => kind switch
    {
        FindingKind.Conflict => [SignKind.RivalsInResults, SignKind.SplitTraffic, SignKind.PageSwap, SignKind.WrongPageRanks, SignKind.SharedTarget],
        FindingKind.Uncovered => [SignKind.NoPage, SignKind.Absent, SignKind.OpenQuestion],
        FindingKind.PageGap => [SignKind.Absent, SignKind.MissingOnPage, SignKind.OpenQuestion, SignKind.MixedTarget, SignKind.Fading],
        FindingKind.Twins => [SignKind.TwinTitles, SignKind.TwinHeadings, SignKind.TwinTexts],
        FindingKind.MissingLinks => [SignKind.SupportToPillar, SignKind.PillarToSupport],
        _ => [SignKind.Orphan, SignKind.Targetless],
    };
}
