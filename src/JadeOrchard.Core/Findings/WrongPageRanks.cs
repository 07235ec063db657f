namespace JadeOrchard.Core.Findings;

/// <summary>Cannibalization: the page that ranks for a cluster is not the page assigned to it.</summary>
/// <remarks>
/// The page with most clicks from the cluster's searches is compared with the cluster's page. A planned page that is
/// not there yet has nothing in its way. At stake: the clicks that go to the wrong page. Cost: one pass over the lists.
/// </remarks>
public static class WrongPageRanks
{
    public static IEnumerable<Finding> Find(SiteFacts site)
    {
        for (var c = 0; c < site.Clusters.Count; c++)
        {
            if (site.Map[c].Page is not { } page)
                continue;
            var cluster = site.Clusters[c];
            var clicks = site.ClicksByPage(cluster);
            if (clicks.Count == 0)
                continue;
            var (wrong, most) = clicks.OrderByDescending(p => p.Value).ThenBy(p => p.Key).First();
            if (wrong == page || clicks.GetValueOrDefault(page, -1) >= most)
                continue;
            var facts = site.SearchesOf(cluster)
                .Select(k => (Keyword: k, Standings: site.StandingsOf(k)))
                .Where(s => s.Standings.Length > 0 && s.Standings[0].Page == wrong)
                .Select(s => new FindingFact(
                    s.Keyword,
                    s.Standings.FirstOrDefault(o => o.Page == page).Position,
                    s.Standings[0].Position,
                    site.Clicks(s.Keyword, s.Standings[0].Position)))
                .InOrder();
            if (facts.Length > 0)
                yield return new Finding(FindingKind.WrongPageRanks, c, facts[0].Keyword, page, wrong, facts.Sum(f => f.AtStake), facts);
        }
    }
}
