using System.Collections.Immutable;

namespace JadeOrchard.Core.Clusters;

/// <summary>A cluster of one clustering and those of the other that have keywords of it.</summary>
/// <param name="Cluster">Its index.</param>
/// <param name="Parts">Indexes of the others with the number of keywords in common, most first, then by index.</param>
public sealed record ClusterParts(int Cluster, ImmutableArray<(int Cluster, int Count)> Parts);

/// <summary>How two clusterings of the same keywords differ.</summary>
/// <param name="AdjustedRandIndex">Hubert and Arabie, "Comparing partitions", J. of Classification 2, 1985: 1 where they are the same, about 0 where they agree by chance only.</param>
/// <param name="Matches">For each cluster of the second the one of the first that it goes on from, or -1.</param>
/// <param name="Moved">Keywords in another cluster of the second than the one their old cluster goes on as.</param>
/// <param name="Splits">Clusters of the first whose keywords are in several of the second.</param>
/// <param name="Merges">Clusters of the second whose keywords come from several of the first.</param>
public sealed record ClusteringComparison(
    double AdjustedRandIndex, ImmutableArray<int> Matches, ImmutableArray<int> Moved, ImmutableArray<ClusterParts> Splits, ImmutableArray<ClusterParts> Merges)
{
    /// <param name="first">For each keyword the index of its cluster, or -1 where it is in none; then it is left out.</param>
    /// <param name="second">Likewise.</param>
    /// <param name="weights">What each keyword counts in matching the clusters; null for the same each.</param>
    public static ClusteringComparison Of(IReadOnlyList<int> first, IReadOnlyList<int> second, IReadOnlyList<double>? weights = null)
    {
        var both = Enumerable.Range(0, first.Count).Where(k => first[k] >= 0 && second[k] >= 0).ToArray();
        var counts = new Dictionary<(int A, int B), (int Count, double Weight)>();
        foreach (var keyword in both)
        {
            var key = (first[keyword], second[keyword]);
            var (count, weight) = counts.GetValueOrDefault(key);
            counts[key] = (count + 1, weight + (weights?[keyword] ?? 1));
        }

        var secondCount = second.DefaultIfEmpty(-1).Max() + 1;
        var firstCount = first.DefaultIfEmpty(-1).Max() + 1;
        var shared = counts.GroupBy(c => c.Key.B).ToDictionary(g => g.Key, g => (IReadOnlyList<(int, double)>)[.. g.OrderBy(c => c.Key.A).Select(c => (c.Key.A, c.Value.Weight))]);
        var matches = PageMap.Assignment.Best(firstCount, [.. Enumerable.Range(0, secondCount).Select(b => shared.GetValueOrDefault(b, []))]);
        return new ClusteringComparison(
            AdjustedRand(both, first, second, counts.Values.Select(c => c.Count)),
            [.. matches],
            [.. both.Where(k => matches[second[k]] != first[k])],
            Several(counts.Select(c => (c.Key.A, c.Key.B, c.Value.Count))),
            Several(counts.Select(c => (c.Key.B, c.Key.A, c.Value.Count))));
    }

    private static ImmutableArray<ClusterParts> Several(IEnumerable<(int Of, int With, int Count)> counts) =>
    [
        .. counts.GroupBy(c => c.Of).Where(g => g.Count() > 1).OrderBy(g => g.Key)
            .Select(g => new ClusterParts(g.Key, [.. g.OrderByDescending(c => c.Count).ThenBy(c => c.With).Select(c => (c.With, c.Count))])),
    ];

    private static double AdjustedRand(int[] keywords, IReadOnlyList<int> first, IReadOnlyList<int> second, IEnumerable<int> counts)
    {
        static double Pairs(long n) => n * (n - 1) / 2.0;
        var together = counts.Sum(n => Pairs(n));
        var inFirst = keywords.CountBy(k => first[k]).Sum(c => Pairs(c.Value));
        var inSecond = keywords.CountBy(k => second[k]).Sum(c => Pairs(c.Value));
        var all = Pairs(keywords.Length);
        var byChance = all == 0 ? 0 : inFirst * inSecond / all;
        var most = (inFirst + inSecond) / 2;
        // Both one cluster, or both single keywords: the same.
        return Math.Abs(most - byChance) < 1e-12 ? 1 : (together - byChance) / (most - byChance);
    }
}
