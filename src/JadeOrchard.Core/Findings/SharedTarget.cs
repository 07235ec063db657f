using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Findings;

/// <summary>Cannibalization: two pages are assigned clusters that overlap by the minimum: they chase the same searches.</summary>
/// <remarks>
/// Under the primary rule two primaries never overlap by the minimum, so it is the clusters that are compared, by the
/// result list that stands for each (<see cref="ClusterResults"/>). At stake: what the smaller cluster brings at the
/// target position. Cost: one overlap join of the clusters' lists.
/// </remarks>
public static class SharedTarget
{
    public static IEnumerable<Finding> Find(SiteFacts site)
    {
        var weights = ClusterResults.SearchWeights(site.Clusters, site.Keywords);
        var lists = site.Settings.Compared(site.Lists, site.UrlIdentities);
        var ofClusters = ClusterResults.Of(site.Clusters, weights, lists, site.Settings.Depth, site.UrlIdentities);
        foreach (var pair in OverlapJoin.Pairs(ofClusters, site.Settings.MinOverlap))
        {
            if (site.Map[pair.A].Page is not { } page || site.Map[pair.B].Page is not { } other || page == other)
                continue;
            var (larger, smaller) = Demand(site, pair.A) >= Demand(site, pair.B) ? (pair.A, pair.B) : (pair.B, pair.A);
            var facts = site.SearchesOf(site.Clusters[smaller])
                .Select(k => new FindingFact(
                    k,
                    site.StandingsOf(k).FirstOrDefault(s => s.Page == site.Map[larger].Page).Position,
                    site.StandingsOf(k).FirstOrDefault(s => s.Page == site.Map[smaller].Page).Position,
                    site.Clicks(k, ClickCurve.TargetPosition)))
                .InOrder();
            if (facts.Length > 0 && site.SearchesOf(site.Clusters[larger]).Any())
            {
                yield return new Finding(
                    FindingKind.SharedTarget, larger, facts[0].Keyword, site.Map[larger].Page, site.Map[smaller].Page,
                    facts.Sum(f => f.AtStake), facts, smaller);
            }
        }
    }

    private static long Demand(SiteFacts site, int cluster) =>
        site.Clusters[cluster].Members.Sum(k => site.Keywords[k].Volume ?? 0);
}
