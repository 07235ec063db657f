using System.Collections.Concurrent;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>How well a keyword stands in its cluster.</summary>
/// <param name="Fit">Silhouette (Rousseeuw, "Silhouettes", J. Comput. Appl. Math. 20, 1987): −1 to 1; 0 for a single keyword.</param>
/// <param name="Nearest">Index of the other cluster that it would fit best; -1 where it shares nothing with any other.</param>
/// <param name="BridgeTo">Index of the other cluster whose primary it overlaps most, by the minimum or more; -1 where there is none.</param>
/// <param name="BridgeOverlap">That overlap; 0 where there is none.</param>
/// <param name="NearestTotal">The sum of its overlaps with the keywords of the nearest cluster.</param>
public readonly record struct KeywordFit(double Fit, int Nearest, int BridgeTo, int BridgeOverlap, long NearestTotal = 0)
{
    /// <summary>The silhouette, from sums of overlaps, so that it does not depend on the order in which they are added up.</summary>
    /// <param name="ownTotal">The sum of its overlaps with the other keywords of its cluster.</param>
    /// <param name="size">How many keywords its cluster has.</param>
    /// <param name="nearestTotal">The sum of its overlaps with the keywords of the nearest cluster.</param>
    /// <param name="nearestSize">How many keywords that has; anything where there is none.</param>
    /// <param name="depth">Compared positions.</param>
    internal static double Silhouette(long ownTotal, int size, long nearestTotal, int nearestSize, int depth)
    {
        if (size < 2)
            return 0;
        var within = 1 - ((double)ownTotal / (size - 1) / depth);
        var outside = nearestTotal == 0 ? 1 : 1 - ((double)nearestTotal / nearestSize / depth);
        return Math.Max(within, outside) is var most and > 0 ? (outside - within) / most : 0;
    }

    /// <summary>Whether a mean overlap is greater than another; compared as fractions, which are exact.</summary>
    internal static int Compare(long total, int size, long otherTotal, int otherSize) => (total * otherSize).CompareTo(otherTotal * size);

    /// <summary>Another cluster would fit it better than its own.</summary>
    public bool IsWeak => Fit < 0;

    public bool IsBridge => BridgeTo >= 0;
}

/// <summary>The fit of every keyword in its cluster, on the distance 1 − overlap / depth.</summary>
/// <remarks>
/// The mean overlap of a keyword with a cluster is Σ over its URLs of the share of the cluster's lists that have the URL,
/// so pairs need not be gone through: only the clusters that a URL of the keyword stands in. URLs that stand in very many
/// clusters are set apart: what they alone give is the same for all keywords that have the same of them, and is worked
/// out once for each such set.
/// </remarks>
public sealed class ClusterFits
{
    /// <summary>URLs in more clusters than this are set apart.</summary>
    private const int Widespread = 100;

    private const int ClustersAtOnce = 4_096;

    private readonly IReadOnlyList<Cluster> _clusters;
    private readonly ResultLists _lists;
    private readonly int _depth;
    private readonly int[] _clusterOf;
    private int[] _starts = [];
    private UrlHolder[] _holders = [];

    /// <summary>A cluster in which a URL was found, and for how many of its keywords.</summary>
    private record struct UrlHolder(int Cluster, int Count);

    /// <summary>What one thread needs.</summary>
    private sealed class Scratch(int clusters)
    {
        public int[] Sums { get; } = new int[clusters];

        public List<int> Touched { get; } = [];

        public List<int> Widespread { get; } = [];
    }

    private ClusterFits(IReadOnlyList<Cluster> clusters, ResultLists lists, int depth)
    {
        (_clusters, _lists, _depth) = (clusters, lists, depth);
        _clusterOf = new int[lists.Count];
        Array.Fill(_clusterOf, -1);
        for (var c = 0; c < clusters.Count; c++)
        {
            foreach (var member in clusters[c].Members)
                _clusterOf[member] = c;
        }
    }

    /// <param name="clusters">No keyword in two of them.</param>
    /// <param name="lists">Cut at <paramref name="depth"/>.</param>
    /// <param name="index">Of the same lists, with the minimum overlap.</param>
    /// <param name="depth">Compared positions.</param>
    /// <returns>For each keyword its fit; of one that is in no cluster it says nothing.</returns>
    public static KeywordFit[] Of(IReadOnlyList<Cluster> clusters, ResultLists lists, OverlapIndex index, int depth)
    {
        var fits = new ClusterFits(clusters, lists, depth);
        // Beside the rest, of which the clusters are shared out among the cores.
        var bridges = Task.Run(() => fits.Bridges(index));
        (fits._starts, fits._holders) = fits.Holders();
        var answer = new KeywordFit[lists.Count];
        Array.Fill(answer, new KeywordFit(0, -1, -1, 0));
        if (clusters.Count > 0)
        {
            Parallel.ForEach(Partitioner.Create(0, clusters.Count, Math.Min(clusters.Count, ClustersAtOnce)), () => new Scratch(clusters.Count), (range, _, scratch) =>
            {
                for (var c = range.Item1; c < range.Item2; c++)
                {
                    foreach (var keyword in clusters[c].Members)
                    {
                        var (fit, nearest, total) = fits.FitOf(keyword, scratch);
                        answer[keyword] = answer[keyword] with { Fit = fit, Nearest = nearest, NearestTotal = total };
                    }
                }

                return scratch;
            }, _ => { });
        }

        var (to, overlaps) = bridges.GetAwaiter().GetResult();
        for (var keyword = 0; keyword < answer.Length; keyword++)
            answer[keyword] = answer[keyword] with { BridgeTo = to[keyword], BridgeOverlap = overlaps[keyword] };
        return answer;
    }

    /// <summary>For each keyword the other cluster whose primary it overlaps most, or -1, and by how much.</summary>
    private (int[] To, int[] Overlaps) Bridges(OverlapIndex index)
    {
        var (to, overlaps) = (new int[_lists.Count], new int[_lists.Count]);
        Array.Fill(to, -1);
        // Clusters come in the order of their primaries, so that among equals the first stays.
        var scratch = new OverlapIndex.Scratch(index);
        for (var c = 0; c < _clusters.Count; c++)
        {
            index.Neighbours(_clusters[c].Primary, scratch);
            foreach (var (keyword, overlap) in scratch.Found)
            {
                if (_clusterOf[keyword] >= 0 && _clusterOf[keyword] != c && overlap > overlaps[keyword])
                    (to[keyword], overlaps[keyword]) = (c, overlap);
            }
        }

        return (to, overlaps);
    }

    /// <summary>For each URL the clusters whose lists hold it, and how many of them, by cluster.</summary>
    private (int[] Starts, UrlHolder[] Holders) Holders()
    {
        var starts = new int[_lists.UrlCount + 1];
        var last = new int[_lists.UrlCount];
        Array.Fill(last, -1);
        ForEach((cluster, url) =>
        {
            starts[url + 1] += last[url] == cluster ? 0 : 1;
            last[url] = cluster;
        });
        for (var url = 0; url < _lists.UrlCount; url++)
            starts[url + 1] += starts[url];
        var next = starts.AsSpan(0, _lists.UrlCount).ToArray();
        var holders = new UrlHolder[starts[^1]];
        Array.Fill(last, -1);
        ForEach((cluster, url) =>
        {
            if (last[url] != cluster)
                holders[next[url]++] = new UrlHolder(cluster, 0);
            last[url] = cluster;
            holders[next[url] - 1].Count++;
        });
        return (starts, holders);

        void ForEach(Action<int, int> visit)
        {
            for (var c = 0; c < _clusters.Count; c++)
            {
                foreach (var member in _clusters[c].Members)
                {
                    foreach (var url in _lists.Urls(member))
                        visit(c, url);
                }
            }
        }
    }

    private (double Fit, int Nearest, long NearestTotal) FitOf(int keyword, Scratch scratch)
    {
        var (sums, touched, widespread) = (scratch.Sums, scratch.Touched, scratch.Widespread);
        var own = _clusterOf[keyword];
        var urls = _lists.Urls(keyword);
        touched.Clear();
        widespread.Clear();
        foreach (var url in urls)
        {
            var holders = HoldersOf(url);
            if (holders.Length > Widespread)
            {
                widespread.Add(url);
                continue;
            }

            foreach (var (cluster, count) in holders)
            {
                if (sums[cluster] == 0)
                    touched.Add(cluster);
                sums[cluster] += count;
            }
        }

        var (nearest, greatest, size) = (-1, 0L, 1);
        if (widespread.Count > 0)
        {
            // Clusters that share no other URL: the first of the best that is not its own.
            foreach (var (cluster, total) in BestOf(widespread))
            {
                if (cluster != own)
                {
                    (nearest, greatest, size) = (cluster, total, _clusters[cluster].Members.Length);
                    break;
                }
            }
        }

        // Its overlap with itself, which is all of its URLs, is none with another.
        var inOwn = TotalIn(own, sums, widespread) - urls.Length;
        foreach (var cluster in touched)
        {
            var total = TotalIn(cluster, sums, widespread);
            sums[cluster] = 0;
            if (cluster == own)
                continue;
            var order = KeywordFit.Compare(total, _clusters[cluster].Members.Length, greatest, size);
            if (order > 0 || (order == 0 && cluster < nearest))
                (nearest, greatest, size) = (cluster, total, _clusters[cluster].Members.Length);
        }

        return (_clusters.Count < 2 ? 0 : KeywordFit.Silhouette(inOwn, _clusters[own].Members.Length, greatest, size, _depth), nearest, greatest);
    }

    private long TotalIn(int cluster, int[] sums, List<int> widespread)
    {
        var total = (long)sums[cluster];
        foreach (var url in widespread)
            total += CountIn(cluster, HoldersOf(url));
        return total;
    }

    /// <summary>The two clusters with which lists that have these URLs overlap most by them alone.</summary>
    private (int Cluster, long Total)[] BestOf(List<int> urls)
    {
        urls.Sort();
        var key = string.Join(' ', urls);
        if (_bestOfWidespread.TryGetValue(key, out var known))
            return known;
        var sums = new Dictionary<int, long>();
        foreach (var url in urls)
        {
            foreach (var (cluster, count) in HoldersOf(url))
                sums[cluster] = sums.GetValueOrDefault(cluster) + count;
        }

        (int Cluster, long Total)? best = null, second = null;
        foreach (var (cluster, total) in sums)
        {
            if (best is null || IsBetter((cluster, total), best.Value))
                (best, second) = ((cluster, total), best);
            else if (second is null || IsBetter((cluster, total), second.Value))
                second = (cluster, total);
        }

        return _bestOfWidespread[key] = [.. new[] { best, second }.OfType<(int, long)>()];

        bool IsBetter((int Cluster, long Total) a, (int Cluster, long Total) b) =>
            KeywordFit.Compare(a.Total, _clusters[a.Cluster].Members.Length, b.Total, _clusters[b.Cluster].Members.Length) is var by && (by > 0 || (by == 0 && a.Cluster < b.Cluster));
    }

    private readonly ConcurrentDictionary<string, (int Cluster, long Total)[]> _bestOfWidespread = new(StringComparer.Ordinal);

    private ReadOnlySpan<UrlHolder> HoldersOf(int url) => _holders.AsSpan(_starts[url].._starts[url + 1]);

    private static int CountIn(int cluster, ReadOnlySpan<UrlHolder> holders)
    {
        int low = 0, high = holders.Length - 1;
        while (low <= high)
        {
            var middle = (low + high) >>> 1;
            if (holders[middle].Cluster == cluster)
                return holders[middle].Count;
            if (holders[middle].Cluster < cluster)
                low = middle + 1;
            else
                high = middle - 1;
        }

        return 0;
    }
}
