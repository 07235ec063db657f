using System.Collections.Concurrent;
using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Topics;

/// <summary>A link of a cluster with another one.</summary>
/// <param name="Slot">The other cluster's slot.</param>
/// <param name="Weight">Above 0.</param>
public readonly record struct SlotLink(int Slot, double Weight);

/// <summary>Which clusters belong together, so that they gather into topics; after a change only what it touches is computed again.</summary>
/// <remarks>
/// The weight of a link, 0 to 1, is the mean of how alike the results and how alike the words of two clusters are. Results: the cosine of the shares of their lists
/// that have each URL, in which a URL counts the less the more lists it is in (inverse document frequency, Spärck Jones 1972; the vector model of Salton,
/// Wong and Yang 1975). Words: the weighted Jaccard index of their stems, weighted likewise, where most of the lesser set is shared. URLs and stems in very many lists link
/// nothing: they would link all. How rare one is follows from the lists alone, not from the clusters, so that a link depends on its two clusters
/// and nothing else. Each cluster keeps its <see cref="Kept"/> strongest links. Cost: a cluster's URLs times <see cref="MostLists"/>.
/// </remarks>
public sealed class ClusterLinkTable
{
    /// <summary>Links that a cluster keeps.</summary>
    public const int Kept = 20;

    /// <summary>Links that are remembered, so that one which leaves does not cost a look at all of them.</summary>
    private const int Remembered = 32;

    /// <summary>Lighter links are chance.</summary>
    private const double LeastWeight = 0.001;

    /// <summary>Stems are shared where this share of the lesser set, or more, is in the greater.</summary>
    private const double MostOfTheStems = 0.6;

    private const double LeastRarity = 0.1;

    /// <summary>Marks a cluster that shares words alone; no sum of results is as small.</summary>
    private const double Met = double.Epsilon;

    private const double LeastSum = 1e-9;

    private readonly ClusterTable _clusters;
    private readonly ResultLists _lists;
    private readonly UrlPostings _postings;
    private readonly Func<int, IReadOnlyList<int>> _stemsOf;
    private readonly int[][] _keywordsWith;
    private readonly Dictionary<int, Links> _links = [];
    private readonly ConcurrentDictionary<Cluster, int[]> _stems = new(ReferenceEqualityComparer.Instance);
    private readonly ConcurrentDictionary<Cluster, double> _norms = new(ReferenceEqualityComparer.Instance);
    private readonly double _logCount;

    /// <param name="clusters">The clusters, changed by their owner.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    /// <param name="postings">Of the same lists.</param>
    /// <param name="stemsOf">For each keyword its content-bearing stems as numbers, each once.</param>
    public ClusterLinkTable(ClusterTable clusters, ResultLists lists, UrlPostings postings, Func<int, IReadOnlyList<int>> stemsOf)
    {
        (_clusters, _lists, _postings, _stemsOf) = (clusters, lists, postings, stemsOf);
        MostLists = Math.Clamp(Math.Max(postings.ListCount / 40, Math.Min(postings.ListCount / 5, 50)), 5, 400);
        _logCount = Math.Log(Math.Max(2, postings.ListCount));
        var with = new List<List<int>>();
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            foreach (var stem in stemsOf(keyword))
            {
                while (with.Count <= stem)
                    with.Add([]);
                with[stem].Add(keyword);
            }
        }

        _keywordsWith = [.. with.Select(w => w.ToArray())];
    }

    /// <summary>A URL or a stem of more lists than this links nothing.</summary>
    public int MostLists { get; }

    /// <returns>The links that a cluster keeps, strongest first; among equals the cluster whose primary comes first.</returns>
    public ImmutableArray<SlotLink> Of(int slot) => LinksOf(slot, new Scratch(_clusters.SlotCount)).Kept;

    /// <summary>Computes the links of all clusters.</summary>
    public void Rebuild()
    {
        _links.Clear();
        var slots = _clusters.InOrder();
        var links = new Links[slots.Length];
        if (slots.Length > 0)
        {
            Parallel.ForEach(Partitioner.Create(0, slots.Length), () => new Scratch(_clusters.SlotCount), (range, _, scratch) =>
            {
                for (var i = range.Item1; i < range.Item2; i++)
                    links[i] = LinksOf(slots[i], scratch);
                return scratch;
            }, _ => { });
        }

        for (var i = 0; i < slots.Length; i++)
            _links[slots[i]] = links[i];
    }

    /// <summary>Takes over what became of clusters.</summary>
    /// <returns>The slots whose kept links are others now; gone ones included.</returns>
    public IReadOnlyCollection<int> Update(IReadOnlyList<ClusterChange> changes)
    {
        var scratch = new Scratch(_clusters.SlotCount);
        var changed = new HashSet<int>();
        var touched = new HashSet<int>();
        var weights = new List<(int Slot, Dictionary<int, double> With)>();
        var slots = changes.Select(c => c.Slot).ToHashSet();
        foreach (var change in changes)
        {
            foreach (var cluster in new[] { change.Before, change.After })
            {
                if (cluster is not null)
                    Near(cluster, touched);
            }

            if (change.After is { } after)
                weights.Add((change.Slot, All(after, change.Slot, scratch).ToDictionary(l => l.Slot, l => l.Weight)));
        }

        foreach (var change in changes)
        {
            _links.Remove(change.Slot);
            changed.Add(change.Slot);
        }

        foreach (var (slot, with) in weights)
            _links[slot] = Links.Of(Ordered(with.Select(w => new SlotLink(w.Key, w.Value))), default);
        foreach (var near in touched.Where(s => !slots.Contains(s)))
        {
            var before = _links.GetValueOrDefault(near, Links.None);
            var now = weights.Where(w => w.With.ContainsKey(near)).Select(w => new SlotLink(w.Slot, w.With[near])).Where(l => before.IsKnown(l)).ToList();
            if (now.Count == 0 && !before.Best.Any(l => slots.Contains(l.Slot)))
                continue;
            var after = Links.Of(Ordered(before.Best.Where(l => !slots.Contains(l.Slot)).Concat(now)), before.Floor);
            if (after.Best.Length < Kept && !after.IsComplete)
                after = LinksOf(near, scratch);
            _links[near] = after;
            if (!before.Kept.AsSpan().SequenceEqual(after.Kept.AsSpan()))
                changed.Add(near);
        }

        return changed;
    }

    /// <returns>The kept links of a cluster; none where it is gone.</returns>
    public ImmutableArray<SlotLink> KeptOf(int slot) => _links.GetValueOrDefault(slot, Links.None).Kept;

    private Links LinksOf(int slot, Scratch scratch) => Links.Of(Ordered(All(_clusters[slot]!, slot, scratch)), default);

    private IEnumerable<SlotLink> Ordered(IEnumerable<SlotLink> links) => links.OrderByDescending(l => l.Weight).ThenBy(l => _clusters.RankOf(l.Slot));

    /// <summary>All links of a cluster that are not chance.</summary>
    private List<SlotLink> All(Cluster cluster, int slot, Scratch scratch)
    {
        var (sums, counts, touched, here) = (scratch.Sums, scratch.Counts, scratch.Touched, scratch.Here);
        foreach (var (url, count) in UrlsOf(cluster))
        {
            var keywords = _postings.Of(url);
            if (keywords.Length < 2 || keywords.Length > MostLists)
                continue;
            foreach (var keyword in keywords)
            {
                var other = _clusters.SlotOf(keyword);
                if (other >= 0 && other != slot && counts[other]++ == 0)
                    here.Add(other);
            }

            var rarity = Rarity(keywords.Length);
            foreach (var other in here)
            {
                if (sums[other] == 0)
                    touched.Add(other);
                sums[other] += rarity * rarity * ((long)count * counts[other]);
                counts[other] = 0;
            }

            here.Clear();
        }

        var stems = StemsOf(cluster);
        foreach (var stem in stems)
        {
            foreach (var keyword in _keywordsWith[stem])
            {
                var other = _clusters.SlotOf(keyword);
                if (other < 0 || other == slot || counts[other] != 0)
                    continue;
                counts[other] = 1;
                here.Add(other);
                if (sums[other] == 0)
                    touched.Add(other);
                // Marked as met, so that one which shares words alone is not forgotten.
                if (sums[other] == 0)
                    sums[other] = Met;
            }
        }

        foreach (var other in here)
            counts[other] = 0;
        here.Clear();
        var links = new List<SlotLink>();
        foreach (var other in touched)
        {
            var with = _clusters[other]!;
            var results = sums[other] < LeastSum ? 0 : sums[other] / Math.Sqrt(NormOf(cluster) * NormOf(with));
            var weight = (results + Likeness(stems, StemsOf(with))) / 2;
            sums[other] = 0;
            if (weight >= LeastWeight)
                links.Add(new SlotLink(other, weight));
        }

        touched.Clear();
        return links;
    }

    /// <summary>Clusters with a URL or a stem in common that may link.</summary>
    private void Near(Cluster cluster, HashSet<int> slots)
    {
        foreach (var (url, _) in UrlsOf(cluster))
        {
            if (_postings.Of(url) is { Length: var length } keywords && length <= MostLists)
                Add(keywords);
        }

        foreach (var stem in StemsOf(cluster))
            Add(_keywordsWith[stem]);

        void Add(ReadOnlySpan<int> keywords)
        {
            foreach (var keyword in keywords)
            {
                if (_clusters.SlotOf(keyword) is var slot and >= 0)
                    slots.Add(slot);
            }
        }
    }

    private SortedDictionary<int, int> UrlsOf(Cluster cluster)
    {
        var urls = new SortedDictionary<int, int>();
        foreach (var keyword in cluster.Members)
        {
            foreach (var url in _lists.Urls(keyword))
                urls[url] = urls.GetValueOrDefault(url) + 1;
        }

        return urls;
    }

    /// <summary>The stems in at least half of a cluster's keywords and are not everywhere, ascending.</summary>
    private int[] StemsOf(Cluster cluster) => _stems.GetOrAdd(cluster, c =>
    [
        .. c.Members.SelectMany(k => _stemsOf(k)).CountBy(s => s)
            .Where(s => s.Value * 2 >= c.Members.Length && _keywordsWith[s.Key].Length <= MostLists)
            .Select(s => s.Key).Order(),
    ]);

    /// <summary>Σ (rarity · lists that have it)² over the URLs of a cluster.</summary>
    private double NormOf(Cluster cluster) => _norms.GetOrAdd(cluster, c => UrlsOf(c).Where(u => _postings.Of(u.Key).Length <= MostLists).Sum(u => Math.Pow(Rarity(Math.Max(1, _postings.Of(u.Key).Length)) * u.Value, 2)));

    private double Likeness(int[] a, int[] b)
    {
        if (a.Length == 0 || b.Length == 0)
            return 0;
        double shared = 0, all = 0;
        var count = 0;
        for (int i = 0, j = 0; i < a.Length || j < b.Length;)
        {
            var next = j >= b.Length || (i < a.Length && a[i] < b[j]) ? a[i] : b[j];
            var rarity = Rarity(_keywordsWith[next].Length);
            var (inA, inB) = (i < a.Length && a[i] == next, j < b.Length && b[j] == next);
            all += rarity;
            if (inA && inB)
            {
                shared += rarity;
                count++;
            }

            i += inA ? 1 : 0;
            j += inB ? 1 : 0;
        }

        return count >= MostOfTheStems * Math.Min(a.Length, b.Length) ? shared / all : 0;
    }

    private double Rarity(int lists) => Math.Max(LeastRarity, 1 - (Math.Log(lists) / _logCount));

    /// <summary>The strongest links of a cluster, strongest first.</summary>
    /// <param name="Best">Every link that is heavier than the floor.</param>
    /// <param name="Floor">A link of this weight or less may be left out; 0 where none is.</param>
    private readonly record struct Links(ImmutableArray<SlotLink> Best, double Floor)
    {
        public static readonly Links None = new([], 0);

        public bool IsComplete => Floor == 0;

        public ImmutableArray<SlotLink> Kept => Best.Length <= ClusterLinkTable.Kept ? Best : Best[..ClusterLinkTable.Kept];

        public bool IsKnown(SlotLink link) => link.Weight > Floor;

        /// <summary>Of links in order, of which those heavier than a floor are all there.</summary>
        public static Links Of(IEnumerable<SlotLink> links, double floor)
        {
            ImmutableArray<SlotLink> all = [.. links];
            if (all.Length <= Remembered)
                return new Links(all, floor);
            // Cut between two weights, so that equals are all in or all out; where there is no such place, all stay.
            var end = Remembered;
            while (end > ClusterLinkTable.Kept && all[end - 1].Weight == all[end].Weight)
                end--;
            if (end == ClusterLinkTable.Kept && all[end - 1].Weight == all[end].Weight)
            {
                while (end < all.Length && all[end - 1].Weight == all[end].Weight)
                    end++;
            }

            return end == all.Length ? new Links(all, floor) : new Links(all[..end], all[end].Weight);
        }
    }

    /// <summary>What one thread needs.</summary>
    private sealed class Scratch(int slots)
    {
        public double[] Sums { get; } = new double[slots];

        public int[] Counts { get; } = new int[slots];

        public List<int> Touched { get; } = [];

        public List<int> Here { get; } = [];
    }
}
