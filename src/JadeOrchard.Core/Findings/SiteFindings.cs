using System.Collections.Immutable;

namespace JadeOrchard.Core.Findings;

/// <summary>All that can be flagged on a site.</summary>
public static class SiteFindings
{
    /// <returns>By kind, most clicks at stake × confidence first; ties by the order of clusters and pages.</returns>
    public static ImmutableArray<Finding> In(SiteFacts site) => FindingTable.AllOf(site);

    /// <summary>Facts in the order in which they are shown: most at stake first.</summary>
    internal static ImmutableArray<SignFact> InOrder(this IEnumerable<SignFact> facts)
    {
        ImmutableArray<SignFact> given = [.. facts];
        // Keywords come most searched first, so that mostly there is nothing to do.
        for (var i = 1; i < given.Length; i++)
        {
            var (before, fact) = (given[i - 1], given[i]);
            if (fact.AtStake > before.AtStake || (fact.AtStake >= before.AtStake && Nullable.Compare(before.Keyword, fact.Keyword) > 0))
                return [.. given.OrderByDescending(f => f.AtStake).ThenBy(f => f.Keyword)];
        }

        return given;
    }
}
