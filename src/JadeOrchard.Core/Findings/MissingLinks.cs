using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Findings;

/// <summary>A supporting page and its pillar do not link to each other, each direction told apart.</summary>
/// <remarks>
/// Looks at pages that the planner assigned, as far as a full scan read their links. The sign's page is the one that should link,
/// the other one where to. At stake: the expected gain of the supporting cluster, since links are one help among others; it orders, no more.
/// Cost: one look-up for each supporting cluster.
/// </remarks>
public static class MissingLinks
{
    public static IEnumerable<Sign> Find(SiteFacts site, int cluster)
    {
        var pillar = site.PillarOf[cluster];
        if (pillar < 0 || site.Map[cluster] is not { IsDecided: true, Page: { } support } || site.Map[pillar] is not { IsDecided: true, Page: { } top } || support == top)
            yield break;
        foreach (var (kind, from, to) in new[] { (SignKind.SupportToPillar, support, top), (SignKind.PillarToSupport, top, support) })
        {
            if (!site.Links.IsRead(from) || site.Links.Has(from, to))
                continue;
            var facts = site.SearchesOf(site.Clusters[cluster])
                .Select(k => new SignFact(k, site.PositionOf(k, from), site.PositionOf(k, to), ExpectedGain.Of(site.Weighed(k), site.PositionOf(k, support), site.Curve)))
                .InOrder();
            yield return Sign.Of(kind, cluster, from, to, facts, pillar);
        }
    }
}
