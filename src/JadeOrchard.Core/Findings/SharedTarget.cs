using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Findings;

/// <summary>Two pages are assigned clusters that overlap by the minimum: they chase the same searches.</summary>
/// <remarks>
/// Under the primary rule two primaries never overlap by the minimum, so it is the clusters that are compared, by the
/// result list of each (<see cref="Clusters.ClusterResults"/>). At stake: what the smaller cluster brings at the
/// target position. Cost: one pass over the smaller cluster's lists.
/// </remarks>
public static class SharedTarget
{
    /// <param name="site">The site.</param>
    /// <param name="a">A cluster.</param>
    /// <param name="b">Another one, which overlaps it.</param>
    public static IEnumerable<Sign> Between(SiteFacts site, int a, int b)
    {
        if (site.Map[a] is not { IsDecided: true, Page: { } page } || site.Map[b] is not { IsDecided: true, Page: { } other } || page == other)
            yield break;
        var isFirst = site.Demand(a) != site.Demand(b) ? site.Demand(a) > site.Demand(b) : site.OrderOf(a) < site.OrderOf(b);
        var (larger, smaller) = isFirst ? (a, b) : (b, a);
        var facts = site.SearchesOf(site.Clusters[smaller])
            .Select(k => new SignFact(k, site.PositionOf(k, site.Map[larger].Page), site.PositionOf(k, site.Map[smaller].Page), site.Clicks(k, ClickCurve.TargetPosition)))
            .InOrder();
        if (facts.Length > 0 && site.SearchesOf(site.Clusters[larger]).Any())
            yield return Sign.Of(SignKind.SharedTarget, larger, site.Map[larger].Page, site.Map[smaller].Page, facts, smaller);
    }
}
