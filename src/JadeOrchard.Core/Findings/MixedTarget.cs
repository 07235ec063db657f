using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Findings;

/// <summary>One page is assigned clusters that do not overlap at all.</summary>
/// <remarks>
/// Clusters are compared by the result list of each, as in <see cref="SharedTarget"/>; those that the largest one of the page reaches
/// over shared results, directly or over others, belong together. One finding for each cluster that does not.
/// At stake: the expected gain of the smaller cluster. Cost: the pairs of clusters of the page.
/// </remarks>
public static class MixedTarget
{
    /// <param name="site">The site.</param>
    /// <param name="page">The page.</param>
    public static IEnumerable<Sign> Find(SiteFacts site, int page)
    {
        var apart = site.ClustersOf(page)
            .Where(c => site.Map[c].IsDecided && site.RepresentativeOf(c).Length > 0 && site.SearchesOf(site.Clusters[c]).Any())
            .OrderByDescending(site.Demand).ThenBy(site.OrderOf)
            .ToList();
        if (apart.Count < 2)
            yield break;
        var largest = apart[0];
        var reached = new Queue<int>([largest]);
        apart.RemoveAt(0);
        while (reached.TryDequeue(out var from))
        {
            foreach (var near in apart.Where(c => Overlap.Count(site.RepresentativeOf(from), site.RepresentativeOf(c)) > 0).ToList())
            {
                apart.Remove(near);
                reached.Enqueue(near);
            }
        }

        foreach (var cluster in apart)
        {
            var facts = site.SearchesOf(site.Clusters[cluster])
                .Select(k => new SignFact(k, site.PositionOf(k, page), 0, ExpectedGain.Of(site.Weighed(k), site.PositionOf(k, page), site.Curve)))
                .InOrder();
            yield return Sign.Of(SignKind.MixedTarget, largest, page, null, facts, cluster);
        }
    }
}
