using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>How well every keyword fits its cluster; after a change only what it touches is computed again.</summary>
/// <remarks>
/// The rule is that of <see cref="ClusterFits"/>, on sums of overlaps, which are whole numbers. A changed cluster matters to the keywords that share a
/// URL with it: for these its new mean overlap is compared with that of the nearest cluster, and only those whose nearest became less near are looked
/// at in full. Cost: the URLs of the changed clusters times the lists that have them. 28 bytes a keyword beside the postings.
/// </remarks>
public sealed class FitTable
{
    private readonly ClusterTable _clusters;
    private readonly ResultLists _lists;
    private readonly UrlPostings _postings;
    private readonly int _minOverlap;
    private readonly int _depth;
    private readonly double[] _fits;
    private readonly int[] _nearest;
    private readonly long[] _nearestTotals;
    private readonly int[] _bridges;
    private readonly int[] _bridgeOverlaps;
    private int[] _counts;
    private bool _wasAlone;
    private readonly int[] _perKeyword;
    private readonly List<int> _met = [];

    /// <param name="clusters">The clusters, changed by their owner.</param>
    /// <param name="lists">Cut at <paramref name="depth"/>.</param>
    /// <param name="postings">Of the same lists.</param>
    /// <param name="minOverlap">m.</param>
    /// <param name="depth">Compared positions.</param>
    public FitTable(ClusterTable clusters, ResultLists lists, UrlPostings postings, int minOverlap, int depth)
    {
        (_clusters, _lists, _postings, _minOverlap, _depth) = (clusters, lists, postings, minOverlap, depth);
        _fits = new double[lists.Count];
        _nearest = new int[lists.Count];
        _nearestTotals = new long[lists.Count];
        _bridges = new int[lists.Count];
        _bridgeOverlaps = new int[lists.Count];
        _perKeyword = new int[lists.Count];
        _counts = new int[clusters.SlotCount];
    }

    /// <summary>The fit of a keyword in a cluster; clusters are given by slot.</summary>
    public KeywordFit this[int keyword] => new(_fits[keyword], _nearest[keyword], _bridges[keyword], _bridgeOverlaps[keyword], _nearestTotals[keyword]);

    /// <summary>Computes the fits of all keywords.</summary>
    public void Rebuild()
    {
        _wasAlone = _clusters.Count < 2;
        var slots = _clusters.InOrder();
        Cluster[] clusters = [.. slots.Select(s => _clusters[s]!)];
        var fits = ClusterFits.Of(clusters, _lists, _postings, _depth, clusterOf => Bridges.Of(clusters, clusterOf, new OverlapIndex(_lists, _minOverlap)));
        for (var keyword = 0; keyword < fits.Length; keyword++)
        {
            var fit = fits[keyword];
            (_fits[keyword], _nearestTotals[keyword], _bridgeOverlaps[keyword]) = (fit.Fit, fit.NearestTotal, fit.BridgeOverlap);
            _nearest[keyword] = fit.Nearest < 0 ? -1 : slots[fit.Nearest];
            _bridges[keyword] = fit.BridgeTo < 0 ? -1 : slots[fit.BridgeTo];
        }
    }

    /// <summary>Takes over what became of clusters.</summary>
    /// <returns>The keywords in clusters whose fit is another now.</returns>
    public IReadOnlyCollection<int> Update(IReadOnlyList<ClusterChange> changes)
    {
        if (changes.Count == 0)
            return [];
        if (_clusters.Count < 2 || _wasAlone)
        {
            // With one cluster alone nothing can be nearer.
            Rebuild();
            return [.. Enumerable.Range(0, _fits.Length).Where(k => _clusters.SlotOf(k) >= 0)];
        }

        if (_counts.Length < _clusters.SlotCount)
            _counts = new int[_clusters.SlotCount];
        var before = new Dictionary<int, KeywordFit>();
        var changed = changes.ToDictionary(c => c.Slot);
        // What each changed cluster shares now with keywords near it, and all keywords that shared something with it before or do now.
        var totals = changes.Where(c => c.After is not null).Select(c => (c.Slot, c.After!.Members.Length, With: SharedWith(c.After))).ToList();
        var near = new HashSet<int>();
        foreach (var change in changes)
        {
            if (change.Before is { } gone)
                near.UnionWith(Near(gone));
        }

        foreach (var (_, _, with) in totals)
            near.UnionWith(with.Keys);
        foreach (var keyword in near)
        {
            var own = _clusters.SlotOf(keyword);
            if (own < 0)
                continue;
            before[keyword] = this[keyword];
            var nearest = _nearest[keyword];
            if (changed.ContainsKey(own) || !IsStillNearest(keyword, nearest))
            {
                Refit(keyword);
                continue;
            }

            var (best, total, size) = (nearest, _nearestTotals[keyword], nearest < 0 ? 1 : _clusters[nearest]!.Members.Length);
            foreach (var (slot, members, with) in totals)
            {
                if (slot == own || !with.TryGetValue(keyword, out var shared))
                    continue;
                var order = KeywordFit.Compare(shared, members, total, size);
                if (slot == best || order > 0 || (order == 0 && best >= 0 && _clusters.RankOf(slot) < _clusters.RankOf(best)))
                    (best, total, size) = (slot, shared, members);
            }

            if (best == nearest && total == _nearestTotals[keyword] && !(nearest >= 0 && changed.ContainsKey(nearest)))
                continue;
            (_nearest[keyword], _nearestTotals[keyword]) = (best, total);
            _fits[keyword] = KeywordFit.Silhouette(OwnTotal(keyword, own), _clusters[own]!.Members.Length, total, size, _depth);
        }

        foreach (var keyword in Bridged(changes))
        {
            before.TryAdd(keyword, this[keyword]);
            Rebridge(keyword);
        }

        return [.. before.Where(b => this[b.Key] != b.Value || changed.ContainsKey(_clusters.SlotOf(b.Key))).Select(b => b.Key)];

        // A changed cluster stays the nearest of what is known where it is as near as before, or nearer.
        bool IsStillNearest(int keyword, int nearest)
        {
            if (nearest < 0 || !changed.TryGetValue(nearest, out var change))
                return true;
            if (change.After is not { } after || change.Before is not { } was)
                return false;
            var shared = totals.First(t => t.Slot == nearest).With.GetValueOrDefault(keyword);
            var order = KeywordFit.Compare(shared, after.Members.Length, _nearestTotals[keyword], was.Members.Length);
            if (order < 0 || (order == 0 && after.Primary != was.Primary))
                return false;
            _nearestTotals[keyword] = shared;
            return true;
        }
    }

    /// <summary>For each keyword that shares a URL with a cluster's lists, the sum of its overlaps with them.</summary>
    private Dictionary<int, long> SharedWith(Cluster cluster)
    {
        var urls = UrlsOf(cluster);
        _met.Clear();
        foreach (var (url, count) in urls)
        {
            foreach (var keyword in _postings.Of(url))
            {
                if (_perKeyword[keyword] == 0)
                    _met.Add(keyword);
                _perKeyword[keyword] += count;
            }
        }

        var shared = new Dictionary<int, long>(_met.Count);
        foreach (var keyword in _met)
        {
            shared[keyword] = _perKeyword[keyword];
            _perKeyword[keyword] = 0;
        }

        return shared;
    }

    private HashSet<int> Near(Cluster cluster)
    {
        var near = new HashSet<int>();
        foreach (var url in UrlsOf(cluster).Keys)
        {
            foreach (var keyword in _postings.Of(url))
                near.Add(keyword);
        }

        return near;
    }

    private Dictionary<int, int> UrlsOf(Cluster cluster)
    {
        var urls = new Dictionary<int, int>();
        foreach (var keyword in cluster.Members)
        {
            foreach (var url in _lists.Urls(keyword))
                urls[url] = urls.GetValueOrDefault(url) + 1;
        }

        return urls;
    }

    /// <summary>Looks at all clusters that share a URL with a keyword.</summary>
    private void Refit(int keyword)
    {
        var own = _clusters.SlotOf(keyword);
        _met.Clear();
        foreach (var url in _lists.Urls(keyword))
        {
            foreach (var other in _postings.Of(url))
            {
                if (other != keyword && _clusters.SlotOf(other) is var slot and >= 0 && _counts[slot]++ == 0)
                    _met.Add(slot);
            }
        }

        var ownTotal = (long)_counts[own];
        var (nearest, total, size) = (-1, 0L, 1);
        foreach (var slot in _met)
        {
            var shared = _counts[slot];
            _counts[slot] = 0;
            if (slot == own)
                continue;
            var members = _clusters[slot]!.Members.Length;
            var order = KeywordFit.Compare(shared, members, total, size);
            if (order > 0 || (order == 0 && nearest >= 0 && _clusters.RankOf(slot) < _clusters.RankOf(nearest)))
                (nearest, total, size) = (slot, shared, members);
        }

        (_nearest[keyword], _nearestTotals[keyword]) = (nearest, total);
        _fits[keyword] = KeywordFit.Silhouette(ownTotal, _clusters[own]!.Members.Length, total, size, _depth);
    }

    private long OwnTotal(int keyword, int own)
    {
        var total = 0L;
        foreach (var member in _clusters[own]!.Members)
            total += member == keyword ? 0 : Overlap.Count(_lists.Urls(keyword), _lists.Urls(member));
        return total;
    }

    /// <summary>Keywords whose bridge may be another now: members of changed clusters, and those that overlap a primary that came or went.</summary>
    private HashSet<int> Bridged(IReadOnlyList<ClusterChange> changes)
    {
        var keywords = new HashSet<int>();
        foreach (var change in changes)
        {
            keywords.UnionWith(change.After?.Members ?? []);
            if (change.Before?.Primary == change.After?.Primary)
                continue;
            foreach (var primary in new[] { change.Before?.Primary, change.After?.Primary }.OfType<int>())
                keywords.UnionWith(Overlapping(primary));
        }

        keywords.RemoveWhere(k => _clusters.SlotOf(k) < 0);
        return keywords;
    }

    private List<int> Overlapping(int primary)
    {
        _met.Clear();
        foreach (var url in _lists.Urls(primary))
        {
            foreach (var keyword in _postings.Of(url))
            {
                if (_perKeyword[keyword]++ == 0)
                    _met.Add(keyword);
            }
        }

        var overlapping = _met.Where(k => _perKeyword[k] >= _minOverlap).ToList();
        foreach (var keyword in _met)
            _perKeyword[keyword] = 0;
        return overlapping;
    }

    /// <summary>Looks at all primaries that share a URL with a keyword.</summary>
    private void Rebridge(int keyword)
    {
        var own = _clusters.SlotOf(keyword);
        _met.Clear();
        foreach (var url in _lists.Urls(keyword))
        {
            foreach (var other in _postings.Of(url))
            {
                if (_clusters.SlotOf(other) is var slot and >= 0 && slot != own && _clusters[slot]!.Primary == other && _counts[slot]++ == 0)
                    _met.Add(slot);
            }
        }

        var (bridge, overlap) = (-1, 0);
        foreach (var slot in _met)
        {
            var shared = _counts[slot];
            _counts[slot] = 0;
            if (shared >= _minOverlap && (shared > overlap || (shared == overlap && _clusters.RankOf(slot) < _clusters.RankOf(bridge))))
                (bridge, overlap) = (slot, shared);
        }

        (_bridges[keyword], _bridgeOverlaps[keyword]) = (bridge, overlap);
    }
}
