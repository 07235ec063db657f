using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Findings;

/// <summary>Links: a page that no page of the site links to.</summary>
/// <remarks>
/// Told by a full scan alone; the home page and pages that may not be listed are left out. At stake: the expected gain of its clusters.
/// Cost: one pass over the pages.
/// </remarks>
public static class Orphan
{
    public static IEnumerable<Finding> Find(SiteFacts site)
    {
        for (var p = 0; p < site.Pages.Count; p++)
        {
            if (!site.Pages[p].IsListed || site.Pages[p].LinksIn != 0 || OwnSite.IsHome(site.Pages[p].Url))
                continue;
            var clusters = site.ClustersOf(p).OrderByDescending(site.Demand).ThenBy(c => c).ToList();
            var facts = clusters.SelectMany(c => site.SearchesOf(site.Clusters[c]))
                .Select(k => new FindingFact(k, site.PositionOf(k, p), 0, ExpectedGain.Of(site.Keywords[k], site.PositionOf(k, p), site.Curve)))
                .InOrder();
            yield return Finding.Of(FindingKind.Orphan, clusters.Count > 0 ? clusters[0] : null, p, null, facts);
        }
    }
}
