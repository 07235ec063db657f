using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Findings;

/// <summary>Uncovered: a cluster's keywords have result lists and no page of the site is in them.</summary>
/// <remarks>
/// Looks at the lists as far as they were captured. At stake: the expected gain of standing at the target position.
/// Cost: one pass over the lists.
/// </remarks>
public static class Absent
{
    public static IEnumerable<Finding> Find(SiteFacts site)
    {
        for (var c = 0; c < site.Clusters.Count; c++)
        {
            var searches = site.SearchesOf(site.Clusters[c]).ToArray();
            if (searches.Length == 0 || searches.Any(k => ResultsEvidence.Standings(k, site.Lists, site.PageOfUrl).Length > 0))
                continue;
            var facts = searches.Select(k => new FindingFact(k, 0, 0, ExpectedGain.Of(site.Keywords[k], 0))).InOrder();
            yield return new Finding(FindingKind.Absent, c, facts[0].Keyword, site.Map[c].Page, null, facts.Sum(f => f.AtStake), facts);
        }
    }
}
