namespace JadeOrchard.Core.Findings;

/// <summary>A page with a cluster loses clicks, see <see cref="Refresh.Fading"/>.</summary>
/// <remarks>At stake: the clicks a month that it lost beyond the site's course. Cost: one look.</remarks>
public static class FadingPage
{
    /// <param name="site">The site.</param>
    /// <param name="page">The page.</param>
    public static IEnumerable<Sign> Find(SiteFacts site, int page)
    {
        if (!site.LostClicks.TryGetValue(page, out var lost) || site.ClustersOf(page).Where(c => site.Map[c].IsDecided).OrderByDescending(site.Demand).ThenBy(site.OrderOf).ToList() is not [var largest, ..])
            yield break;
        yield return Sign.Of(SignKind.Fading, largest, page, null, [new SignFact(null, 0, 0, lost)]);
    }
}
