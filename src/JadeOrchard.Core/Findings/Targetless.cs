using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Findings;

/// <summary>An existing page with no cluster and no search performance.</summary>
/// <remarks>
/// Silent as long as no search performance was brought: then nobody knows. The home page, further guises of another page and pages that aren't indexable are left out.
/// Nothing is at stake but the planner's and the site's order. Cost: none.
/// </remarks>
public static class Targetless
{
    public static IEnumerable<Sign> Find(SiteFacts site, int page)
    {
        if (site.Performance.IsKnown && page < site.Pages.Count && site.Pages[page].IsListed && site.ClustersOf(page).Length == 0 && !site.IsMeant(page) && site.Performance.ImpressionsOf(page) == 0

            && !OwnSite.IsHome(site.Pages[page].Url) && site.VariantOf(page) == page)
            yield return Sign.Of(SignKind.Targetless, null, page, null, []) with { Folder = site.FolderOf(page) };
    }
}
