using JadeOrchard.Core.Topics;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Topics;

/// <summary>What a resolution would make of the clusters.</summary>
/// <param name="Resolution">How closely linked the clusters of a topic are at least, 0 to 1.</param>
/// <param name="Alone">Topics of a single cluster.</param>
/// <param name="Largest">Clusters of the largest topic.</param>
/// <param name="Example">What the largest would be about: its pillar.</param>
public sealed record ResolutionRow(double Resolution, int Topics, int Alone, int Largest, string Example);

/// <summary>Resolutions to choose from, and the one in force.</summary>
public sealed record ResolutionsView(double Resolution, IReadOnlyList<ResolutionRow> Rows);

/// <summary>Topics that belong together.</summary>
/// <param name="Topics">The first of them, most demand first.</param>
/// <param name="Count">How many there are.</param>
public sealed record ThemeView(IReadOnlyList<ThemeTopic> Topics, int Count, long Clusters, long Demand);

/// <summary>A topic of a theme.</summary>
public sealed record ThemeTopic(TopicId Id, string Name, long Demand);

/// <summary>What other resolutions would make of the clusters, and the level above the topics.</summary>
internal static class TopicPreview
{
    private const int TopicsShown = 4;

    private static readonly double[] Tried = [0.01, 0.02, 0.05, 0.1, 0.2, 0.4];

    public static ResolutionsView Resolutions(Session session)
    {
        var (ids, demands, links) = Linked(session);
        var names = ClusterStore.Names(session);
        var used = ProjectStore.Settings(session).TopicResolution;
        var rows = Tried.Append(used).Distinct().Order().AsParallel().AsOrdered().Select(resolution =>
        {
            var topics = Core.Topics.Topics.Of(demands, links, StandingTopics.None(ids.Length), resolution);
            var largest = topics.MaxBy(t => t.Clusters.Length);
            return new ResolutionRow(resolution, topics.Count, topics.Count(t => t.Clusters.Length == 1), largest?.Clusters.Length ?? 0, largest is null ? "" : names[ids[largest.Pillar]].Name);
        });
        return new ResolutionsView(used, ids.Length == 0 ? [] : [.. rows]);
    }

    /// <returns>Most demand first; none where there are few topics.</returns>
    public static IReadOnlyList<ThemeView> Themes(Session session)
    {
        var (ids, demands, links) = Linked(session);
        var indexOf = ids.Index().ToDictionary(i => i.Item, i => i.Index);
        var rows = TopicStore.List(session, new ListQuery(Limit: int.MaxValue)).Rows.ToDictionary(t => t.Id);
        var topics = TopicStore.OfClusters(session).Where(c => c.Value.TopicId is { } id && rows.ContainsKey(id)).GroupBy(c => c.Value.TopicId!.Value)
            .Select(g => (Id: g.Key, Topic: new Topic(indexOf[rows[g.Key].PillarId], [.. g.Select(c => indexOf[c.Key]).Order()], -1)))
            .OrderByDescending(t => rows[t.Id].Demand).ThenBy(t => t.Id.Value).ToList();
        var themeOf = Core.Topics.Themes.Of([.. topics.Select(t => t.Topic)], links, ProjectStore.Settings(session).TopicResolution);
        return
        [
            .. themeOf.Index().GroupBy(t => t.Item, t => rows[topics[t.Index].Id])
                .Select(g => new ThemeView([.. g.Take(TopicsShown).Select(t => new ThemeTopic(t.Id, t.Name, t.Demand))], g.Count(), g.Sum(t => t.Clusters), g.Sum(t => t.Demand)))
                .Where(t => t.Count > 1).OrderByDescending(t => t.Demand).ThenBy(t => t.Topics[0].Id.Value),
        ];
    }

    /// <summary>The clusters in the order of their primaries, with demand and links as they are stored.</summary>
    private static (ClusterId[] Ids, long[] Demands, IReadOnlyList<Link> Links) Linked(Session session)
    {
        var clusters = ClusterStore.Names(session).OrderByDescending(c => c.Value.Demand).ThenBy(c => c.Key.Value).ToList();
        ClusterId[] ids = [.. clusters.Select(c => c.Key)];
        var indexOf = ids.Index().ToDictionary(i => i.Item, i => i.Index);
        var links = TopicStore.AllLinks(session).Where(l => indexOf.ContainsKey(l.ClusterId) && indexOf.ContainsKey(l.OtherClusterId))
            .Select(l => (A: indexOf[l.ClusterId], B: indexOf[l.OtherClusterId], l.Weight)).Select(l => new Link(Math.Min(l.A, l.B), Math.Max(l.A, l.B), l.Weight))
            .GroupBy(l => (l.A, l.B)).Select(g => g.First()).OrderBy(l => l.A).ThenBy(l => l.B).ToList();
        return (ids, [.. clusters.Select(c => c.Value.Demand)], links);
    }
}
