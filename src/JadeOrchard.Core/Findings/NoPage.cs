using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Findings;

/// <summary>Uncovered: a cluster with demand has no page.</summary>
/// <remarks>
/// A cluster that is not decided yet but has a page that fits (clear or doubtful, or one that stands for another cluster too) waits
/// in the page map; it is not uncovered, and neither is one that the planner declined. At stake: the expected gain of a page at the target position.
/// Cost: one pass over the cluster.
/// </remarks>
public static class NoPage
{
    public static IEnumerable<Finding> Find(SiteFacts site, int cluster)
    {
        if (!site.Map[cluster].IsMissing)
            yield break;
        var facts = site.SearchesOf(site.Clusters[cluster])
            .Where(k => site.Keywords[k].Volume > 0)
            .Select(k => new FindingFact(k, 0, 0, ExpectedGain.Of(site.Keywords[k], 0, site.Curve)))
            .InOrder();
        if (facts.Length > 0)
            yield return Finding.Of(FindingKind.NoPage, cluster, null, null, facts);
    }
}
