using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Findings;

/// <summary>Links: a supporting page and its pillar do not link to each other, each direction told apart.</summary>
/// <remarks>
/// Looks at pages that the planner assigned, as far as a full scan read their links. The finding's page is the one that should link,
/// the other one where to. At stake: the expected gain of the supporting cluster, since links are one help among others; it orders, no more.
/// Cost: one look-up for each supporting cluster.
/// </remarks>
public static class UnlinkedSupport
{
    public static IEnumerable<Finding> Find(SiteFacts site, int cluster)
    {
        var pillar = site.PillarOf[cluster];
        if (pillar < 0 || site.Map[cluster] is not { IsDecided: true, Page: { } support } || site.Map[pillar] is not { IsDecided: true, Page: { } top } || support == top)
            yield break;
        foreach (var (from, to) in new[] { (support, top), (top, support) })
        {
            if (!site.Links.IsRead(from) || site.Links.Has(from, to))
                continue;
            var facts = site.SearchesOf(site.Clusters[cluster])
                .Select(k => new FindingFact(k, site.PositionOf(k, from), site.PositionOf(k, to), ExpectedGain.Of(site.Keywords[k], site.PositionOf(k, support), site.Curve)))
                .InOrder();
            yield return Finding.Of(FindingKind.UnlinkedSupport, cluster, from, to, facts, pillar);
        }
    }
}
