using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Findings;

/// <summary>Links: a page that no page of the site links to.</summary>
/// <remarks>
/// Told by a full scan alone; the home page and pages that may not be listed are left out. At stake: the expected gain of its clusters.
/// Cost: one pass over its clusters.
/// </remarks>
public static class Orphan
{
    public static IEnumerable<Finding> Find(SiteFacts site, int page)
    {
        if (page >= site.Pages.Count || !site.Pages[page].IsListed || site.Pages[page].LinksIn != 0 || OwnSite.IsHome(site.Pages[page].Url))
            yield break;
        var clusters = site.ClustersOf(page).OrderByDescending(site.Demand).ThenBy(site.OrderOf).ToList();
        var facts = clusters.SelectMany(c => site.SearchesOf(site.Clusters[c]))
            .Select(k => new FindingFact(k, site.PositionOf(k, page), 0, ExpectedGain.Of(site.Keywords[k], site.PositionOf(k, page), site.Curve)))
            .InOrder();
        yield return Finding.Of(FindingKind.Orphan, clusters.Count > 0 ? clusters[0] : null, page, null, facts);
    }
}
