namespace JadeOrchard.Core.Findings;

/// <summary>The page that ranks for a cluster is not the page assigned to it.</summary>
/// <remarks>
/// The page with most clicks from the cluster's searches is compared with the page that the planner assigned; as long as nothing is decided, nothing is wrong. A
/// planned page that is not there yet has nothing in its way. At stake: the clicks that go to the wrong page. Cost: one pass over the cluster's lists.
/// </remarks>
public static class WrongPageRanks
{
    public static IEnumerable<Sign> Find(SiteFacts site, int cluster)
    {
        if (site.Map[cluster] is not { IsDecided: true, Page: { } page })
            yield break;
        var clicks = site.ClicksByPage(site.Clusters[cluster]);
        if (clicks.Count == 0)
            yield break;
        var wrong = SiteFacts.Most(clicks);
        if (wrong == page || clicks.GetValueOrDefault(page, -1) >= clicks[wrong])
            yield break;
        var facts = site.SearchesOf(site.Clusters[cluster])
            .Select(k => (Keyword: k, Standings: site.StandingsOf(k)))
            .Where(s => s.Standings.Length > 0 && s.Standings[0].Page == wrong)
            .Select(s => new SignFact(s.Keyword, site.PositionOf(s.Keyword, page), s.Standings[0].Position, site.Clicks(s.Keyword, s.Standings[0].Position)))
            .InOrder();
        if (facts.Length > 0)
            yield return Sign.Of(SignKind.WrongPageRanks, cluster, page, wrong, facts);
    }
}
