using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Findings;

/// <summary>A cluster with demand has no page.</summary>
/// <remarks>
/// A cluster that is not decided yet but has a page that fits (clear or doubtful, or one that serves another cluster too) waits
/// in the page map; it is not uncovered, and neither is one that the planner declined. One with a planned page waits for it. At stake: the expected gain of a page at the target position.
/// Cost: one pass over the cluster.
/// </remarks>
public static class NoPage
{
    public static IEnumerable<Sign> Find(SiteFacts site, int cluster)
    {
        if (site.Map[cluster].Page is not null || site.Map[cluster].IsDeclined)
            yield break;
        var facts = site.SearchesOf(site.Clusters[cluster])
            .Where(k => site.Weighed(k).Volume > 0)
            .Select(k => new SignFact(k, 0, 0, ExpectedGain.Of(site.Weighed(k), 0, site.Curve)))
            .InOrder();
        if (facts.Length > 0)
            yield return Sign.Of(SignKind.NoPage, cluster, null, null, facts);
    }
}
