using System.Collections.Immutable;
using System.Runtime.InteropServices;

namespace JadeOrchard.Core.Clusters;

/// <summary>A cluster that has keywords of another.</summary>
/// <param name="Cluster">Its index.</param>
/// <param name="Count">How many keywords.</param>
public readonly record struct ClusterPart(int Cluster, int Count);

/// <summary>A cluster of one clustering and those of the other that have keywords of it.</summary>
/// <param name="Cluster">Its index.</param>
/// <param name="Parts">Indexes of the others with the number of keywords in common, most first, then by index.</param>
public sealed record ClusterParts(int Cluster, ImmutableArray<ClusterPart> Parts);

/// <summary>How alike two clusterings are, and what parts or comes together between them; without matching their clusters.</summary>
/// <param name="AdjustedRandIndex">As <see cref="ClusteringComparison.AdjustedRandIndex"/>.</param>
/// <param name="Splits">As <see cref="ClusteringComparison.Splits"/>.</param>
/// <param name="Merges">As <see cref="ClusteringComparison.Merges"/>.</param>
public sealed record ClusteringParts(double AdjustedRandIndex, ImmutableArray<ClusterParts> Splits, ImmutableArray<ClusterParts> Merges)
{
    /// <param name="first">For each keyword the index of its cluster, or -1 where it is in none; then it is left out.</param>
    /// <param name="second">Likewise.</param>
    public static ClusteringParts Of(IReadOnlyList<int> first, IReadOnlyList<int> second)
    {
        var (inFirst, inSecond) = (new int[first.DefaultIfEmpty(-1).Max() + 1], new int[second.DefaultIfEmpty(-1).Max() + 1]);
        // Both clusters of a keyword in one number: sorting brings keywords with the same two together.
        var both = new List<long>(first.Count);
        for (var keyword = 0; keyword < first.Count; keyword++)
        {
            var (a, b) = (first[keyword], second[keyword]);
            if (a < 0 || b < 0)
                continue;
            inFirst[a]++;
            inSecond[b]++;
            both.Add(((long)a << 32) | (uint)b);
        }

        both.Sort();
        var counts = new List<(int A, int B, int Count)>();
        for (var (from, to) = (0, 0); from < both.Count; from = to)
        {
            while (to < both.Count && both[to] == both[from])
                to++;
            counts.Add(((int)(both[from] >> 32), (int)both[from], to - from));
        }

        var all = both.Count;
        static double Pairs(long n) => n * (n - 1) / 2.0;
        var together = counts.Sum(c => Pairs(c.Count));
        var (pairsInFirst, pairsInSecond) = (inFirst.Sum(n => Pairs(n)), inSecond.Sum(n => Pairs(n)));
        var byChance = all < 2 ? 0 : pairsInFirst * pairsInSecond / Pairs(all);
        var most = (pairsInFirst + pairsInSecond) / 2;
        return new ClusteringParts(
            // Both one cluster, or both single keywords: the same.
            Math.Abs(most - byChance) < 1e-12 ? 1 : (together - byChance) / (most - byChance),
            Several([.. counts.Where(c => inFirst[c.A] != c.Count)]),
            Several([.. counts.Where(c => inSecond[c.B] != c.Count).Select(c => (c.B, c.A, c.Count)).OrderBy(c => c.B)]));
    }

    /// <param name="counts">Those of the same cluster one after another.</param>
    private static ImmutableArray<ClusterParts> Several(ReadOnlySpan<(int Of, int With, int Count)> counts)
    {
        var several = ImmutableArray.CreateBuilder<ClusterParts>();
        for (var (from, to) = (0, 0); from < counts.Length; from = to)
        {
            while (to < counts.Length && counts[to].Of == counts[from].Of)
                to++;
            var parts = new ClusterPart[to - from];
            for (var i = from; i < to; i++)
                parts[i - from] = new ClusterPart(counts[i].With, counts[i].Count);
            Array.Sort(parts, (a, b) => a.Count != b.Count ? b.Count.CompareTo(a.Count) : a.Cluster.CompareTo(b.Cluster));
            several.Add(new ClusterParts(counts[from].Of, ImmutableCollectionsMarshal.AsImmutableArray(parts)));
        }

        return several.ToImmutable();
    }
}

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
        var shared = both.GroupBy(k => second[k]).ToDictionary(g => g.Key, g => ((int, double)[])
            [.. g.GroupBy(k => first[k], (cluster, of) => (cluster, of.Sum(k => weights?[k] ?? 1))).OrderBy(c => c.cluster)]);
        var matches = PageMap.Assignment.Best(
            first.DefaultIfEmpty(-1).Max() + 1,
            [.. Enumerable.Range(0, second.DefaultIfEmpty(-1).Max() + 1).Select(b => shared.GetValueOrDefault(b, []))]);
        var parts = ClusteringParts.Of(first, second);
        return new ClusteringComparison(parts.AdjustedRandIndex, [.. matches], [.. both.Where(k => matches[second[k]] != first[k])], parts.Splits, parts.Merges);
    }
}
