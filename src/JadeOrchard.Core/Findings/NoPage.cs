using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Findings;

/// <summary>Uncovered: a cluster with demand has no page.</summary>
/// <remarks>
/// A cluster that is not decided yet but has a page that fits (clear or doubtful) waits in the page map; it is not
/// uncovered. At stake: the expected gain of a page at the target position. Cost: one pass over the clusters.
/// </remarks>
public static class NoPage
{
    public static IEnumerable<Finding> Find(SiteFacts site)
    {
        for (var c = 0; c < site.Clusters.Count; c++)
        {
            if (!site.Map[c].IsMissing)
                continue;
            var facts = site.SearchesOf(site.Clusters[c])
                .Where(k => site.Keywords[k].Volume > 0)
                .Select(k => new FindingFact(k, 0, 0, ExpectedGain.Of(site.Keywords[k], 0)))
                .InOrder();
            if (facts.Length > 0)
                yield return new Finding(FindingKind.NoPage, c, facts[0].Keyword, null, null, facts.Sum(f => f.AtStake), facts);
        }
    }
}
