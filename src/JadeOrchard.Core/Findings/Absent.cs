using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Findings;

/// <summary>A cluster's keywords have result lists, and no page of the site is in them.</summary>
/// <remarks>
/// Of a cluster without a page it is a sign that it is uncovered, of one with an assigned page a gap of that page; where a page is merely suggested, nothing is
/// said. Looks at the lists as far as they were captured; a declined cluster is not looked at. At stake: the expected gain of standing at the target position.
/// Cost: one pass over the cluster's lists.
/// </remarks>
public static class Absent
{
    public static IEnumerable<Sign> Find(SiteFacts site, int cluster)
    {
        if (site.Map[cluster].IsDeclined || site.Map[cluster].IsSuggested)
            yield break;
        var searches = site.SearchesOf(site.Clusters[cluster]).ToArray();
        if (searches.Length == 0 || searches.Any(k => ResultsEvidence.Standings(k, site.Lists, site.PageOfUrl).Length > 0))
            yield break;
        var facts = searches.Select(k => new SignFact(k, 0, 0, ExpectedGain.Of(site.Weighed(k), 0, site.Curve))).InOrder();
        yield return Sign.Of(SignKind.Absent, cluster, site.Map[cluster].Page, null, facts);
    }
}
