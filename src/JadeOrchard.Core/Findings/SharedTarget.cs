using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Findings;

/// <summary>Cannibalization: two pages are assigned clusters that overlap by the minimum: they chase the same searches.</summary>
/// <remarks>
/// Under the primary rule two primaries never overlap by the minimum, so it is the clusters that are compared, by the
/// result list that stands for each (<see cref="Clusters.ClusterResults"/>). At stake: what the smaller cluster brings at the
/// target position. Cost: one overlap join of the clusters' lists.
/// </remarks>
public static class SharedTarget
{
    /// <param name="site">The site.</param>
    /// <param name="lists">The result list that stands for each cluster.</param>
    public static IEnumerable<Finding> Find(SiteFacts site, ResultLists lists)
    {
        foreach (var pair in OverlapJoin.Pairs(lists, site.Settings.MinOverlap))
        {
            if (site.Map[pair.A].Page is not { } page || site.Map[pair.B].Page is not { } other || page == other)
                continue;
            var (larger, smaller) = site.Demand(pair.A) >= site.Demand(pair.B) ? (pair.A, pair.B) : (pair.B, pair.A);
            var facts = site.SearchesOf(site.Clusters[smaller])
                .Select(k => new FindingFact(k, site.PositionOf(k, site.Map[larger].Page), site.PositionOf(k, site.Map[smaller].Page), site.Clicks(k, ClickCurve.TargetPosition)))
                .InOrder();
            if (facts.Length > 0 && site.SearchesOf(site.Clusters[larger]).Any())
                yield return Finding.Of(FindingKind.SharedTarget, larger, site.Map[larger].Page, site.Map[smaller].Page, facts, smaller);
        }
    }
}
