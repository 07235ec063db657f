using JadeOrchard.Core.PageMap;

namespace JadeOrchard.Core.Findings;

/// <summary>Cannibalization: two or more pages of the site stand in one result list, for keywords of one cluster.</summary>
/// <remarks>
/// One finding for each page beside the one that should stand there (the assigned page where it is seen, else the one
/// with most clicks). Silent where the other page stands by design: it has a cluster of its own in which it gets
/// more clicks than any other page of the site, and here the right page is ahead of it; so a pillar and its support, each at its own
/// searches, raise nothing. At stake: the clicks that the other page takes where both stand. Cost: one pass over the lists.
/// </remarks>
public static class RivalsInResults
{
    public static IEnumerable<Finding> Find(SiteFacts site)
    {
        for (var c = 0; c < site.Clusters.Count; c++)
        {
            var cluster = site.Clusters[c];
            var clicks = site.ClicksByPage(cluster);
            if (clicks.Count < 2)
                continue;
            var page = site.Map[c].Page is { } mapped && clicks.ContainsKey(mapped) ? mapped : Strongest(clicks);
            foreach (var other in clicks.Keys.Where(p => p != page).Order())
            {
                if (clicks[page] >= clicks[other] && IsAtHomeElsewhere(site, other, c))
                    continue;
                var facts = site.SearchesOf(cluster)
                    .Select(k => (Keyword: k, Page: PositionOf(site.StandingsOf(k), page), Other: PositionOf(site.StandingsOf(k), other)))
                    .Where(f => f.Page > 0 && f.Other > 0)
                    .Select(f => new FindingFact(f.Keyword, f.Page, f.Other, site.Clicks(f.Keyword, f.Other)))
                    .InOrder();
                if (facts.Length > 0)
                    yield return new Finding(FindingKind.RivalsInResults, c, facts[0].Keyword, page, other, facts.Sum(f => f.AtStake), facts);
            }
        }
    }

    private static int Strongest(Dictionary<int, double> clicks) =>
        clicks.OrderByDescending(p => p.Value).ThenBy(p => p.Key).First().Key;

    private static bool IsAtHomeElsewhere(SiteFacts site, int page, int here)
    {
        foreach (var home in site.ClustersOf(page))
        {
            if (home == here)
                continue;
            var clicks = site.ClicksByPage(site.Clusters[home]);
            if (clicks.Count > 0 && Strongest(clicks) == page)
                return true;
        }

        return false;
    }

    private static int PositionOf(IEnumerable<Standing> standings, int page) =>
        standings.FirstOrDefault(s => s.Page == page).Position;
}
