using System.Collections.Immutable;

namespace JadeOrchard.Core.Findings;

/// <summary>All that can be flagged on a site.</summary>
public static class SiteFindings
{
    private static readonly Func<SiteFacts, IEnumerable<Finding>>[] Kinds =
    [
        RivalsInResults.Find,
        WrongPageRanks.Find,
        SharedTarget.Find,
        NoPage.Find,
        Absent.Find,
    ];

    /// <returns>Most at stake first; ties by kind, then the order of clusters and pages.</returns>
    public static ImmutableArray<Finding> In(SiteFacts site) =>
    [
        .. Kinds.SelectMany(find => find(site))
            .OrderByDescending(f => Math.Round(f.AtStake, 6))
            .ThenBy(f => f.Kind)
            .ThenBy(f => f.Cluster)
            .ThenBy(f => f.Page)
            .ThenBy(f => f.OtherPage),
    ];

    /// <summary>Facts in the order in which they are shown: most at stake first.</summary>
    internal static ImmutableArray<FindingFact> InOrder(this IEnumerable<FindingFact> facts) =>
        [.. facts.OrderByDescending(f => f.AtStake).ThenBy(f => f.Keyword)];
}
