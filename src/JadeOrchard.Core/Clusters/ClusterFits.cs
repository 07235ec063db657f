using System.Collections.Concurrent;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>How well a keyword fits its cluster.</summary>
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
/// so pairs need not be gone through: only the lists that have a URL of the keyword. URLs in very many lists are set
/// apart: what they alone give is the same for all keywords with the same of them, and is computed once for each such set.
/// </remarks>
public sealed class ClusterFits
{
    /// <summary>URLs in more lists than this are set apart.</summary>
    private const int Widespread = 100;

    private const int ClustersAtOnce = 4_096;
    private const int UrlsAtOnce = 65_536;

    private readonly int[] _sizes;
    private readonly ResultLists _lists;
    private readonly UrlPostings _postings;
    private readonly int _depth;
    private readonly int[] _clusterOf;

    // For each posting of a URL the cluster of its keyword, or -1; those of a widespread URL ascending.
    private readonly int[] _holders;

    /// <summary>What one thread needs.</summary>
    private sealed class Scratch(int clusters, int longest)
    {
        public int[] Sums { get; } = new int[clusters];

        public List<int> Touched { get; } = [];

        public List<int> Widespread { get; } = [];

        public (int From, int To)[] Holders { get; } = new (int, int)[longest];

        /// <summary>So that what is fetched ahead counts as used.</summary>
        public int Fetched { get; set; }
    }

    private ClusterFits(IReadOnlyList<Cluster> clusters, ResultLists lists, UrlPostings postings, int depth)
    {
        (_lists, _postings, _depth) = (lists, postings, depth);
        _sizes = [.. clusters.Select(c => c.Members.Length)];
        _clusterOf = new int[lists.Count];
        Array.Fill(_clusterOf, -1);
        for (var c = 0; c < clusters.Count; c++)
        {
            foreach (var member in clusters[c].Members)
                _clusterOf[member] = c;
        }

        _holders = Holders();
    }

    /// <param name="clusters">In the keyword order of their primaries; no keyword in two of them.</param>
    /// <param name="lists">Cut at <paramref name="depth"/>.</param>
    /// <param name="postings">Of the same lists.</param>
    /// <param name="depth">Compared positions.</param>
    /// <param name="bridgesOf">The bridges of the clusters, given by keyword its cluster; called once, on another thread.</param>
    /// <returns>For each keyword its fit; of one that is in no cluster it says nothing.</returns>
    public static KeywordFit[] Of(IReadOnlyList<Cluster> clusters, ResultLists lists, UrlPostings postings, int depth, Func<int[], Bridges> bridgesOf)
    {
        var fits = new ClusterFits(clusters, lists, postings, depth);
        // Beside the rest, of which the clusters are shared out among the cores.
        var bridging = Task.Run(() => bridgesOf(fits._clusterOf));
        var answer = new KeywordFit[lists.Count];
        Array.Fill(answer, new KeywordFit(0, -1, -1, 0));
        if (clusters.Count > 0)
        {
            var longest = Enumerable.Range(0, lists.Count).Max(k => lists.Urls(k).Length);
            Parallel.ForEach(Partitioner.Create(0, clusters.Count, Math.Min(clusters.Count, ClustersAtOnce)), () => new Scratch(clusters.Count, longest), (range, _, scratch) =>
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

        var bridges = bridging.GetAwaiter().GetResult();
        for (var keyword = 0; keyword < answer.Length; keyword++)
            answer[keyword] = answer[keyword] with { BridgeTo = bridges.To[keyword], BridgeOverlap = bridges.Overlaps[keyword] };
        return answer;
    }

    private int[] Holders()
    {
        var holders = new int[_postings.Count];
        if (_lists.UrlCount == 0)
            return holders;
        Parallel.ForEach(Partitioner.Create(0, _lists.UrlCount, Math.Min(_lists.UrlCount, UrlsAtOnce)), range =>
        {
            for (var url = range.Item1; url < range.Item2; url++)
            {
                var keywords = _postings.Of(url);
                var of = holders.AsSpan(_postings.StartOf(url), keywords.Length);
                for (var i = 0; i < of.Length; i++)
                    of[i] = _clusterOf[keywords[i]];
                if (of.Length > Widespread)
                    of.Sort();
            }
        });
        return holders;
    }

    private (double Fit, int Nearest, long NearestTotal) FitOf(int keyword, Scratch scratch)
    {
        var (sums, touched, widespread) = (scratch.Sums, scratch.Touched, scratch.Widespread);
        var own = _clusterOf[keyword];
        var urls = _lists.Urls(keyword);
        touched.Clear();
        widespread.Clear();
        // What is read for each URL, before it is used: none of these reads depends on another, so that memory is waited for but twice.
        var places = scratch.Holders.AsSpan(0, urls.Length);
        for (var i = 0; i < urls.Length; i++)
            places[i] = (_postings.StartOf(urls[i]), _postings.StartOf(urls[i] + 1));
        foreach (var (from, _) in places)
            scratch.Fetched += _holders[from];
        for (var i = 0; i < urls.Length; i++)
        {
            var (from, to) = places[i];
            if (to - from > Widespread)
            {
                widespread.Add(urls[i]);
                continue;
            }

            foreach (var cluster in _holders.AsSpan(from..to))
            {
                if (cluster < 0)
                    continue;
                if (sums[cluster]++ == 0)
                    touched.Add(cluster);
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
                    (nearest, greatest, size) = (cluster, total, _sizes[cluster]);
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
            var order = KeywordFit.Compare(total, _sizes[cluster], greatest, size);
            if (order > 0 || (order == 0 && cluster < nearest))
                (nearest, greatest, size) = (cluster, total, _sizes[cluster]);
        }

        return (_sizes.Length < 2 ? 0 : KeywordFit.Silhouette(inOwn, _sizes[own], greatest, size, _depth), nearest, greatest);
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
            foreach (var cluster in HoldersOf(url))
            {
                if (cluster >= 0)
                    sums[cluster] = sums.GetValueOrDefault(cluster) + 1;
            }
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
            KeywordFit.Compare(a.Total, _sizes[a.Cluster], b.Total, _sizes[b.Cluster]) is var by && (by > 0 || (by == 0 && a.Cluster < b.Cluster));
    }

    private readonly ConcurrentDictionary<string, (int Cluster, long Total)[]> _bestOfWidespread = new(StringComparer.Ordinal);

    private ReadOnlySpan<int> HoldersOf(int url) => _holders.AsSpan(_postings.StartOf(url).._postings.StartOf(url + 1));

    /// <summary>How often a cluster stands among ascending ones.</summary>
    private static int CountIn(int cluster, ReadOnlySpan<int> holders)
    {
        int low = 0, high = holders.Length;
        while (low < high)
        {
            var middle = (low + high) >>> 1;
            if (holders[middle] < cluster)
                low = middle + 1;
            else
                high = middle;
        }

        var first = low;
        while (low < holders.Length && holders[low] == cluster)
            low++;
        return low - first;
    }
}
