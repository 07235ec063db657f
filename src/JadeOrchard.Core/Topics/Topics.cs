using System.Collections.Immutable;
using JadeOrchard.Core.PageMap;

namespace JadeOrchard.Core.Topics;

/// <summary>A group of related clusters.</summary>
/// <param name="Pillar">Index of the cluster that represents the whole topic.</param>
/// <param name="Clusters">Indexes of all its clusters: the pillar, then its supporting clusters by index.</param>
/// <param name="GoesOnFrom">Index of the topic whose identity it inherits; -1 where it is new.</param>
public sealed record Topic(int Pillar, ImmutableArray<int> Clusters, int GoesOnFrom);

/// <summary>The topics as they stand, with what the planner decided.</summary>
/// <param name="TopicOf">For each cluster the index of its topic, or -1.</param>
/// <param name="IsPlaced">For each cluster whether the planner put it there.</param>
/// <param name="ChosenPillars">For each topic the cluster that the planner made its pillar, or -1.</param>
public sealed record StandingTopics(IReadOnlyList<int> TopicOf, IReadOnlyList<bool> IsPlaced, IReadOnlyList<int> ChosenPillars)
{
    /// <summary>None yet.</summary>
    public static StandingTopics None(int clusters) => new([.. Enumerable.Repeat(-1, clusters)], new bool[clusters], []);
}

/// <summary>Gathers clusters into topics.</summary>
public static class Topics
{
    /// <summary>How closely the clusters of a topic are linked, where the planner does not say: the mean weight of the links between all pairs of them, from 0 to 1.</summary>
    public const double Resolution = 0.05;

    /// <summary>Links whose mean is the scale of a cluster.</summary>
    private const int Strongest = 4;

    /// <summary>A cluster whose links are all weaker than this belongs nowhere much.</summary>
    private const double LeastScale = 0.005;

    /// <remarks>
    /// Communities of the links by <see cref="Leiden"/>. They inherit from the topics as they stand by the one-to-one
    /// matching of greatest demand in common. A cluster that the planner placed goes on in its topic.
    /// </remarks>
    /// <param name="demands">For each cluster its searches per month; in keyword order of the primaries.</param>
    /// <param name="links">By <see cref="ClusterLinks"/>.</param>
    /// <param name="standing">The topics as they stand.</param>
    /// <param name="resolution">How closely linked the clusters of a topic are at least: more makes more and smaller topics.</param>
    /// <returns>By demand, most first, then by their pillar.</returns>
    public static IReadOnlyList<Topic> Of(IReadOnlyList<long> demands, IReadOnlyList<Link> links, StandingTopics standing, double resolution = Resolution)
    {
        var communityOf = Leiden.Communities(demands.Count, Scaled(demands.Count, links), resolution);
        var free = Enumerable.Range(0, demands.Count).Where(c => !standing.IsPlaced[c] || standing.TopicOf[c] < 0).ToLookup(c => communityOf[c]);
        var members = free.Select(g => g.ToList()).ToList();
        var shared = members.Select(m => ((int, double)[])[.. m.Where(c => standing.TopicOf[c] >= 0)
            .GroupBy(c => standing.TopicOf[c], (topic, of) => (topic, of.Sum(c => 1.0 + demands[c]))).OrderBy(s => s.topic)]);
        var goesOn = Assignment.Best(standing.ChosenPillars.Count, [.. shared]).ToList();
        var placeOf = goesOn.Select((old, place) => (old, place)).Where(g => g.old >= 0).ToDictionary(g => g.old, g => g.place);
        for (var cluster = 0; cluster < demands.Count; cluster++)
        {
            if (!standing.IsPlaced[cluster] || standing.TopicOf[cluster] is not (var topic and >= 0))
                continue;
            if (!placeOf.TryGetValue(topic, out var place))
            {
                placeOf[topic] = place = members.Count;
                members.Add([]);
                goesOn.Add(topic);
            }

            members[place].Add(cluster);
        }

        var linked = LinkedWithin(members, demands.Count, links);
        return
        [
            .. members.Select((m, place) =>
            {
                var pillar = goesOn[place] >= 0 && standing.ChosenPillars[goesOn[place]] is var chosen and >= 0 && m.Contains(chosen) ? chosen : PillarOf(m, demands, linked);
                return new Topic(pillar, [pillar, .. m.Where(c => c != pillar).Order()], goesOn[place]);
            }).OrderByDescending(t => t.Clusters.Sum(c => demands[c])).ThenBy(t => t.Pillar),
        ];
    }

    /// <summary>Links by what is much for their two clusters, so that one resolution fits where results are much alike and where they are not.</summary>
    /// <remarks>Local scaling: Zelnik-Manor and Perona, "Self-tuning spectral clustering", NIPS 2004; the scale of a cluster is here the mean of its strongest links.</remarks>
    /// <param name="clusters">How many there are.</param>
    /// <param name="links">By <see cref="ClusterLinks"/>.</param>
    internal static IReadOnlyList<Link> Scaled(int clusters, IReadOnlyList<Link> links)
    {
        var strongest = new PriorityQueue<double, double>[clusters];
        void Add(int cluster, double weight)
        {
            var queue = strongest[cluster] ??= new PriorityQueue<double, double>(Strongest + 1);
            queue.Enqueue(weight, weight);
            if (queue.Count > Strongest)
                queue.Dequeue();
        }

        foreach (var link in links)
        {
            Add(link.A, link.Weight);
            Add(link.B, link.Weight);
        }

        double[] scales = [.. strongest.Select(q => q is null ? LeastScale : Math.Max(LeastScale, q.UnorderedItems.Select(i => i.Element).Order().Sum() / q.Count))];
        return [.. links.Select(l => l with { Weight = Math.Min(1, l.Weight / Math.Sqrt(scales[l.A] * scales[l.B])) })];
    }

    /// <summary>The cluster with the greatest demand × number of clusters of the topic that it is linked with; among equals more demand, then the first.</summary>
    /// <param name="clusters">Those of the topic, at least one.</param>
    /// <param name="demands">For each cluster.</param>
    /// <param name="linked">For each cluster with how many of its topic it is linked.</param>
    public static int PillarOf(IEnumerable<int> clusters, IReadOnlyList<long> demands, IReadOnlyList<int> linked) =>
        clusters.OrderByDescending(c => (double)demands[c] * linked[c]).ThenByDescending(c => demands[c]).ThenBy(c => c).First();

    /// <summary>Where a cluster without a topic belongs: the topic that the heaviest links lead to.</summary>
    /// <param name="topicOf">For each cluster the index of its topic, or -1.</param>
    /// <param name="links">By <see cref="ClusterLinks"/>.</param>
    /// <returns>As given, but for clusters whose links lead to a topic.</returns>
    public static int[] Joined(IReadOnlyList<int> topicOf, IReadOnlyList<Link> links)
    {
        var joined = topicOf.ToArray();
        var weights = new Dictionary<(int Cluster, int Topic), double>();
        void Add(int cluster, int topic, double weight)
        {
            if (topicOf[cluster] < 0 && topic >= 0)
                weights[(cluster, topic)] = weights.GetValueOrDefault((cluster, topic)) + weight;
        }

        foreach (var link in links)
        {
            Add(link.A, topicOf[link.B], link.Weight);
            Add(link.B, topicOf[link.A], link.Weight);
        }

        foreach (var of in weights.GroupBy(w => w.Key.Cluster))
            joined[of.Key] = of.OrderByDescending(w => Math.Round(w.Value, 9)).ThenBy(w => w.Key.Topic).First().Key.Topic;
        return joined;
    }

    /// <summary>For each cluster with how many others of its topic it is linked.</summary>
    public static int[] LinkedWithin(IReadOnlyList<IReadOnlyList<int>> topics, int clusters, IReadOnlyList<Link> links)
    {
        var topicOf = new int[clusters];
        Array.Fill(topicOf, -1);
        for (var topic = 0; topic < topics.Count; topic++)
        {
            foreach (var cluster in topics[topic])
                topicOf[cluster] = topic;
        }

        var linked = new int[clusters];
        foreach (var link in links.Where(l => l.A != l.B && topicOf[l.A] >= 0 && topicOf[l.A] == topicOf[l.B]))
        {
            linked[link.A]++;
            linked[link.B]++;
        }

        return linked;
    }
}
