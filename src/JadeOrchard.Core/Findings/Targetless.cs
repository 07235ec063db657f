using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Findings;

/// <summary>Page: an existing page with no cluster and no search performance.</summary>
/// <remarks>
/// Silent as long as no search performance was brought: then nobody knows. The home page and pages that may not be listed are left out.
/// Nothing is at stake but the planner's and the site's order. Cost: one pass over the pages.
/// </remarks>
public static class Targetless
{
    public static IEnumerable<Finding> Find(SiteFacts site)
    {
        if (!site.Performance.IsKnown)
            yield break;
        var meant = site.Map.Select(m => m.Meant).OfType<int>().ToHashSet();
        for (var p = 0; p < site.Pages.Count; p++)
        {
            if (site.Pages[p].IsListed && site.ClustersOf(p).Length == 0 && !meant.Contains(p) && site.Performance.ImpressionsOf(p) == 0 && !OwnSite.IsHome(site.Pages[p].Url))
                yield return Finding.Of(FindingKind.Targetless, null, p, null, []);
        }
    }
}
