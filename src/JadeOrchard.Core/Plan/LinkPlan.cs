using System.Collections.Immutable;

namespace JadeOrchard.Core.Plan;

/// <summary>Why two pages should link.</summary>
public enum LinkDirection
{
    /// <summary>From a supporting page to the pillar of its topic.</summary>
    SupportToPillar,

    /// <summary>From the pillar of a topic to a supporting page.</summary>
    PillarToSupport,

    /// <summary>From an existing page to one that is new.</summary>
    OldToNew,

    /// <summary>From a new page to one that exists.</summary>
    NewToOld,
}

/// <summary>Two pages that should link.</summary>
/// <param name="Source">Index of the page that should link.</param>
/// <param name="Target">Index of the page it should link to.</param>
/// <param name="Direction">Why.</param>
/// <param name="Cluster">Index of the cluster of the target, whose keywords are looked for.</param>
public readonly record struct WantedLink(int Source, int Target, LinkDirection Direction, int Cluster);

/// <summary>Which pages of a topic should link (4.21 of the design).</summary>
public static class LinkPlan
{
    /// <summary>The most pages that should link to a new page, and that it should link to.</summary>
    public const int MostForNew = 5;

    /// <summary>The fewest of them, where the topic has that many.</summary>
    public const int FewestForNew = 2;

    /// <summary>Less alike than this is not alike enough, beyond the first <see cref="FewestForNew"/>.</summary>
    private const double AlikeEnough = 0.1;

    /// <returns>The code in files: "support-to-pillar".</returns>
    public static string Code(this LinkDirection direction) => direction switch
    {
        LinkDirection.SupportToPillar => "support-to-pillar",
        LinkDirection.PillarToSupport => "pillar-to-support",
        LinkDirection.OldToNew => "old-to-new",
        LinkDirection.NewToOld => "new-to-old",
        _ => throw new ArgumentOutOfRangeException(nameof(direction), direction, "Not a direction."),
    };

    /// <param name="topics">The clusters of each topic, the pillar first.</param>
    /// <param name="pageOf">For each cluster its page; null for none.</param>
    /// <param name="isNew">Pages that are planned, so that nothing links to them yet.</param>
    /// <param name="likeness">How much two clusters have in common, 0 to 1.</param>
    /// <returns>Each pair of pages once, by source and target; those between pillar and support before those of new pages.</returns>
    public static ImmutableArray<WantedLink> Of(IReadOnlyList<IReadOnlyList<int>> topics, Func<int, int?> pageOf, Func<int, bool> isNew, Func<int, int, double> likeness)
    {
        var links = new List<WantedLink>();
        var seen = new HashSet<(int, int)>();
        foreach (var topic in topics)
        {
            if (topic.Count < 2)
                continue;
            if (pageOf(topic[0]) is { } pillar)
            {
                foreach (var c in topic.Skip(1))
                {
                    if (pageOf(c) is not { } support)
                        continue;
                    Add(support, pillar, LinkDirection.SupportToPillar, topic[0]);
                    Add(pillar, support, LinkDirection.PillarToSupport, c);
                }
            }

            foreach (var c in topic)
            {
                if (pageOf(c) is not { } page || !isNew(page))
                    continue;
                var kin = topic.Where(o => o != c && pageOf(o) is { } other && other != page && !isNew(other))
                    .Select(o => (Cluster: o, Page: pageOf(o)!.Value, Likeness: likeness(c, o)))
                    .OrderByDescending(o => o.Likeness).ThenBy(o => o.Cluster)
                    .DistinctBy(o => o.Page).Take(MostForNew).ToList();
                foreach (var (cluster, old, alike) in kin.Where((k, i) => i < FewestForNew || k.Likeness >= AlikeEnough))
                {
                    Add(old, page, LinkDirection.OldToNew, c);
                    Add(page, old, LinkDirection.NewToOld, cluster);
                }
            }
        }

        return [.. links];

        void Add(int source, int target, LinkDirection direction, int cluster)
        {
            if (source != target && seen.Add((source, target)))
                links.Add(new WantedLink(source, target, direction, cluster));
        }
    }
}
