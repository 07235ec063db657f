namespace JadeOrchard.Core.Findings;

/// <summary>Two or more pages of the site appear in one result list, for keywords of one cluster.</summary>
/// <remarks>
/// One finding for each page beside the one that should stand there (the assigned page where it is seen, else the one
/// with most clicks). Silent where the other page stands by design (<see cref="SiteFacts.IsAtHomeElsewhere"/>) and the right page is
/// ahead of it. At stake: the clicks that the other page takes where both stand. Cost: one pass over the cluster's lists.
/// </remarks>
public static class RivalsInResults
{
    public static IEnumerable<Sign> Find(SiteFacts site, int cluster)
    {
        var clicks = site.ClicksByPage(site.Clusters[cluster]);
        if (clicks.Count < 2)
            yield break;
        var page = site.Map[cluster].Page is { } mapped && clicks.ContainsKey(mapped) ? mapped : SiteFacts.Most(clicks);
        foreach (var other in clicks.Keys.Where(p => p != page).Order())
        {
            if (clicks[page] >= clicks[other] && site.IsAtHomeElsewhere(other, cluster))
                continue;
            var facts = site.SearchesOf(site.Clusters[cluster])
                .Select(k => (Keyword: k, Page: site.PositionOf(k, page), Other: site.PositionOf(k, other)))
                .Where(f => f.Page > 0 && f.Other > 0)
                .Select(f => new SignFact(f.Keyword, f.Page, f.Other, site.Clicks(f.Keyword, f.Other)))
                .InOrder();
            if (facts.Length > 0)
                yield return Sign.Of(SignKind.RivalsInResults, cluster, page, other, facts);
        }
    }
}
