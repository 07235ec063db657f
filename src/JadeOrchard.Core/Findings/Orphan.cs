using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Findings;

/// <summary>A page that no page of the site links to.</summary>
/// <remarks>
/// Needs a full scan. Leaves out the home page, variants of another page and pages that aren't indexable. At stake: the expected gain of its clusters.
/// Cost: one pass over its clusters.
/// </remarks>
public static class Orphan
{
    public static IEnumerable<Sign> Find(SiteFacts site, int page)
    {
        if (page >= site.Pages.Count || !site.Pages[page].IsListed || site.Pages[page].LinksIn != 0 || OwnSite.IsHome(site.Pages[page].Url) || site.VariantOf(page) != page)
            yield break;
        var clusters = site.ClustersOf(page).OrderByDescending(site.Demand).ThenBy(site.OrderOf).ToList();
        var facts = clusters.SelectMany(c => site.SearchesOf(site.Clusters[c]))
            .Select(k => new SignFact(k, site.PositionOf(k, page), 0, ExpectedGain.Of(site.Weighed(k), site.PositionOf(k, page), site.Curve)))
            .InOrder();
        yield return Sign.Of(SignKind.Orphan, clusters.Count > 0 ? clusters[0] : null, page, null, facts) with { Folder = site.FolderOf(page) };
    }
}
