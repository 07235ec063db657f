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
    public static IEnumerable<Finding> Find(SiteFacts site)
    {
        for (var c = 0; c < site.PillarOf.Count; c++)
        {
            var pillar = site.PillarOf[c];
            if (pillar < 0 || site.Map[c] is not { IsDecided: true, Page: { } support } || site.Map[pillar] is not { IsDecided: true, Page: { } top } || support == top)
                continue;
            foreach (var (from, to) in new[] { (support, top), (top, support) })
            {
                if (!site.Links.IsRead(from) || site.Links.Has(from, to))
                    continue;
                var facts = site.SearchesOf(site.Clusters[c])
                    .Select(k => new FindingFact(k, site.PositionOf(k, from), site.PositionOf(k, to), ExpectedGain.Of(site.Keywords[k], site.PositionOf(k, support), site.Curve)))
                    .InOrder();
                yield return Finding.Of(FindingKind.UnlinkedSupport, c, from, to, facts, pillar);
            }
        }
    }
}
