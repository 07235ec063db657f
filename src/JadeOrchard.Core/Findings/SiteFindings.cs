using System.Collections.Immutable;

namespace JadeOrchard.Core.Findings;

/// <summary>All that can be flagged on a site.</summary>
public static class SiteFindings
{
    /// <returns>Most at stake first; ties by kind, then the order of clusters and pages.</returns>
    public static ImmutableArray<Finding> In(SiteFacts site) => FindingTable.AllOf(site);

    /// <summary>Facts in the order in which they are shown: most at stake first.</summary>
    internal static ImmutableArray<FindingFact> InOrder(this IEnumerable<FindingFact> facts) =>
        [.. facts.OrderByDescending(f => f.AtStake).ThenBy(f => f.Keyword)];
}
