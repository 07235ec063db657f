using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Findings;

/// <summary>What a finding is about, by index.</summary>
/// <param name="Kind">What is to be decided.</param>
/// <param name="Of">The pages of a conflict, ascending and separated by colons; the cluster of what is uncovered; the page of a gap; the first page of twins; the pillar of missing links; the folder of idle pages.</param>
public readonly record struct FindingIdentity(FindingKind Kind, string Of)
{
    /// <summary>The indexes; not to be asked of idle pages.</summary>
    public IEnumerable<int> Indexes => Of.Split(':').Select(i => int.Parse(i, System.Globalization.CultureInfo.InvariantCulture));

    internal static FindingIdentity At(FindingKind kind, int index) => new(kind, index.ToString(System.Globalization.CultureInfo.InvariantCulture));
}

/// <summary>A finding that was looked at again.</summary>
/// <param name="Identity">What it is about.</param>
/// <param name="Finding">As it is now; null where nothing shows it any more.</param>
public readonly record struct LookedFinding(FindingIdentity Identity, Finding? Finding);

/// <summary>The findings of a site; after a change only what it touches is looked at again.</summary>
/// <remarks>
/// What is found in one cluster follows from its keywords, its page, and whether other pages that are seen for it are at home elsewhere; what is found
/// of two clusters from their results and pages; of a page, from its clusters. A change is followed along these. The signs that were found are kept by
/// what was looked at, some 100 bytes each, and findings are made of them. Belongs to one writer, which changes clusters, map and pillars of the site
/// and then calls <see cref="Update"/>.
/// </remarks>
public sealed class FindingTable
{
    private static readonly Func<SiteFacts, int, IEnumerable<Sign>>[] OfCluster =
    [
        RivalsInResults.Find,
        SplitTraffic.Find,
        PageSwap.Find,
        WrongPageRanks.Find,
        NoPage.Find,
        Absent.Find,
        MissingOnPage.Find,
        OpenQuestion.Find,
    ];

    private static readonly Func<SiteFacts, int, IEnumerable<Sign>>[] OfPage =
    [
        MixedTarget.Find,
        FadingPage.Find,
        Orphan.Find,
        Targetless.Find,
    ];

    private readonly SiteFacts _site;
    private readonly SignTable _signs = new();
    private readonly ResultLists _compared;
    private readonly UrlPostings _postings;
    private readonly double[] _weights;
    private readonly List<State> _states = [];
    private readonly Dictionary<int, HashSet<int>> _partners = [];
    private readonly Dictionary<int, HashSet<int>> _homes = [];
    private readonly Dictionary<int, HashSet<int>> _supports = [];
    private readonly Dictionary<int, HashSet<int>> _keywordsSeeing = [];
    private readonly Func<int, int> _slotOf;

    /// <param name="site">The site; its clusters, map and pillars may change afterwards.</param>
    /// <param name="slotOf">For each keyword the index of its cluster, or -1, as they are when it is asked.</param>
    /// <param name="compared">The site's lists as the grouping compares them.</param>
    /// <param name="postings">Of the same lists.</param>
    public FindingTable(SiteFacts site, Func<int, int> slotOf, ResultLists compared, UrlPostings postings)
    {
        (_site, _slotOf, _compared, _postings) = (site, slotOf, compared, postings);
        _weights = new double[site.Keywords.Count];
        site.RepresentativeOf = c => _states[c].List;
        for (var keyword = 0; keyword < site.Keywords.Count; keyword++)
        {
            foreach (var page in site.PagesSeenFor(keyword))
            {
                if (!_keywordsSeeing.TryGetValue(page, out var keywords))
                    _keywordsSeeing[page] = keywords = [];
                keywords.Add(keyword);
            }
        }
    }

    /// <summary>Finds everything in a site whose clusters stay as they are.</summary>
    /// <returns>By kind, most clicks at stake × confidence first; ties by the order of clusters and pages.</returns>
    public static ImmutableArray<Finding> AllOf(SiteFacts site)
    {
        var slots = new int[site.Keywords.Count];
        Array.Fill(slots, -1);
        for (var c = 0; c < site.Clusters.Count; c++)
        {
            foreach (var keyword in site.Clusters[c].Members)
                slots[keyword] = c;
        }

        var compared = site.Settings.Compared(site.Lists, site.UrlIdentities);
        return new FindingTable(site, k => slots[k], compared, new UrlPostings(compared)).All();
    }

    /// <summary>Looks at everything.</summary>
    /// <returns>By kind, most clicks at stake × confidence first; ties by the order of clusters and pages.</returns>
    public ImmutableArray<Finding> All()
    {
        _states.Clear();
        _partners.Clear();
        _homes.Clear();
        _supports.Clear();
        _site.ForgetClusters();
        // The clusters have no keyword in common, so that each has weights of its own.
        var lists = new int[_site.Clusters.Count][];
        Parallel.For(0, lists.Length, c => lists[c] = Representative(_site.Clusters[c]));
        for (var c = 0; c < lists.Length; c++)
            Remember(c, lists[c]);
        foreach (var pair in OverlapJoin.Pairs(RepresentativeLists(), _site.Settings.MinOverlap))
            Pair(pair.A, pair.B);
        for (var c = 0; c < _site.Clusters.Count; c++)
        {
            if (_site.Map[c].Page is { } page && _site.StrongestIn(c) == page)
                Of(_homes, page).Add(c);
        }

        _signs.Clear();
        foreach (var (c, signs) in Enumerable.Range(0, _site.Clusters.Count).AsParallel().AsOrdered().Select(c => (c, Wanted(InCluster(c)))))
            _signs.Put(new SignScope(ScopeKind.Cluster, c), signs);
        foreach (var (a, others) in _partners)
        {
            foreach (var b in others.Where(b => b > a))
                _signs.Put(new SignScope(ScopeKind.Pair, a, b), Wanted(InPair(a, b)));
        }

        foreach (var page in Enumerable.Range(0, _site.Pages.Count).Union(_site.Map.Select(m => m.Page).OfType<int>()))
            _signs.Put(new SignScope(ScopeKind.Page, page), Wanted(InPage(page)));
        for (var c = 0; c < _site.Clusters.Count; c++)
            _signs.Put(new SignScope(ScopeKind.Support, c), Wanted(InSupport(c)));
        foreach (var group in _site.Twins)
            _signs.Put(new SignScope(ScopeKind.Twins, group.First), InTwins(group));
        return
        [
            .. _signs.Identities.AsParallel().Select(i => FindingMaker.Of(_site, _signs.Of(i), _slotOf)).AsSequential()
                .OrderBy(f => f.Kind)
                .ThenByDescending(f => Math.Round(f.Weight, 6))
                .ThenBy(f => f.Clusters is [var first, ..] ? _site.OrderOf(first.Cluster) : -1)
                .ThenBy(f => f.Pages.FirstOrDefault(-1))
                .ThenBy(f => f.Folder, StringComparer.Ordinal),
        ];
    }

    /// <summary>Looks again at what a change touches.</summary>
    /// <param name="touched">Clusters whose keywords, page or pillar are others now; new and gone ones included.</param>
    /// <param name="changed">Those of them whose keywords are.</param>
    /// <param name="pairs">Pages of pairs that were declared deliberate, or are not any more.</param>
    /// <returns>The findings that may be others now, each once.</returns>
    public IReadOnlyList<LookedFinding> Update(IReadOnlySet<int> touched, IReadOnlySet<int> changed, IReadOnlySet<int> pairs)
    {
        var (pages, clusters, twos) = (new HashSet<int>(pairs), new HashSet<int>(touched), new HashSet<(int, int)>());
        var supports = new HashSet<int>(touched);
        foreach (var c in touched)
        {
            if (c < _states.Count)
            {
                AddPages(_states[c].Map);
                twos.UnionWith(Partners(c));
            }

            supports.UnionWith(_supports.GetValueOrDefault(c, []));
        }

        var before = new Dictionary<int, HashSet<int>>();
        foreach (var c in touched)
        {
            Forget(c, changed.Contains(c));
            Remember(c, changed.Contains(c) ? Representative(_site.Clusters[c]) : null);
            AddPages(_states[c].Map);
            if (changed.Contains(c))
            {
                foreach (var other in Overlapping(c))
                    Pair(c, other);
            }
        }

        foreach (var c in touched)
        {
            twos.UnionWith(Partners(c));
            supports.UnionWith(_supports.GetValueOrDefault(c, []));
        }

        foreach (var page in pages)
        {
            before[page] = _homes.GetValueOrDefault(page) ?? [];
            _homes[page] = [.. _site.ClustersOf(page).Where(c => _site.StrongestIn(c) == page)];
        }

        foreach (var page in pages)
        {
            var (was, now) = (before[page], _homes[page]);
            if (was.SetEquals(now) && !pairs.Contains(page))
                continue;
            foreach (var c in SeenIn(page))
            {
                if (pairs.Contains(page) || IsElsewhere(was, c) != IsElsewhere(now, c))
                    clusters.Add(c);
            }
        }

        foreach (var page in pairs)
        {
            foreach (var c in _site.ClustersOf(page))
                twos.UnionWith(Partners(c));
        }

        foreach (var c in clusters)
            _signs.Put(new SignScope(ScopeKind.Cluster, c), Wanted(InCluster(c)));
        foreach (var (a, b) in twos)
            _signs.Put(new SignScope(ScopeKind.Pair, a, b), _partners.TryGetValue(a, out var with) && with.Contains(b) ? Wanted(InPair(a, b)) : []);
        foreach (var page in pages)
            _signs.Put(new SignScope(ScopeKind.Page, page), Wanted(InPage(page)));
        foreach (var c in supports)
            _signs.Put(new SignScope(ScopeKind.Support, c), Wanted(InSupport(c)));
        foreach (var group in pairs.Count == 0 ? [] : _site.Twins.Where(g => g.Pages.Overlaps(pairs)))
            _signs.Put(new SignScope(ScopeKind.Twins, group.First), InTwins(group));
        // Stakes are kept by cluster, so findings about a changed cluster are made again even if their signs are the same.
        foreach (var c in changed)
            _signs.Touch(new SignScope(ScopeKind.Cluster, c));
        return [.. _signs.TakeTouched().Select(i => new LookedFinding(i, _signs.Of(i) is { Count: > 0 } signs ? FindingMaker.Of(_site, signs, _slotOf) : null))];

        void AddPages(MappedPage map)
        {
            if (map.Page is { } page)
                pages.Add(page);
            if (map.Meant is { } meant)
                pages.Add(meant);
        }

        static bool IsElsewhere(HashSet<int> homes, int here) => homes.Count > (homes.Contains(here) ? 1 : 0);
    }

    /// <returns>The pages of the group of twins of which a page is the first.</returns>
    public IEnumerable<int> TwinsAt(int first) => _site.Twins.Single(g => g.First == first).Pages;

    private IEnumerable<Sign> InCluster(int c) => _site.Clusters[c].Members.IsEmpty ? [] : OfCluster.SelectMany(find => find(_site, c));

    private IEnumerable<Sign> InPair(int a, int b) => SharedTarget.Between(_site, a, b);

    private IEnumerable<Sign> InPage(int page) => OfPage.SelectMany(find => find(_site, page));

    private IEnumerable<Sign> InSupport(int c) => c < _site.PillarOf.Count && !_site.Clusters[c].Members.IsEmpty ? MissingLinks.Find(_site, c) : [];

    private ImmutableArray<Sign> InTwins(TwinGroup group) => group.IsDeliberate(_site.DeliberatePairs) ? [] : group.Signs;

    /// <summary>Leaves out pairs of pages that the planner declared deliberate.</summary>
    private ImmutableArray<Sign> Wanted(IEnumerable<Sign> signs) =>
        [.. signs.Where(s => s.Finding != FindingKind.Conflict || s.OtherPage is not { } other || !_site.DeliberatePairs.Contains((Math.Min(s.Page!.Value, other), Math.Max(s.Page.Value, other))))];

    /// <summary>The clusters with a keyword for which a page is or was seen.</summary>
    private HashSet<int> SeenIn(int page)
    {
        var clusters = new HashSet<int>();
        foreach (var keyword in _keywordsSeeing.GetValueOrDefault(page, []))
        {
            if (_slotOf(keyword) is var slot and >= 0)
                clusters.Add(slot);
        }

        return clusters;
    }

    private IEnumerable<(int, int)> Partners(int c) => _partners.GetValueOrDefault(c, []).Select(other => (Math.Min(c, other), Math.Max(c, other)));

    private void Pair(int a, int b)
    {
        Of(_partners, a).Add(b);
        Of(_partners, b).Add(a);
    }

    private void Forget(int c, bool isChanged)
    {
        if (c >= _states.Count)
            return;
        var state = _states[c];
        _site.Unmap(c, state.Map);
        if (state.Pillar >= 0)
            _supports.GetValueOrDefault(state.Pillar)?.Remove(c);
        if (!isChanged)
            return;
        foreach (var other in _partners.GetValueOrDefault(c, []))
            _partners[other].Remove(c);
        _partners.Remove(c);
    }

    /// <param name="c">The cluster.</param>
    /// <param name="list">Its representative result list; null where it is the one from before.</param>
    private void Remember(int c, int[]? list)
    {
        while (_states.Count <= c)
            _states.Add(new State(default, -1, []));
        var pillar = c < _site.PillarOf.Count ? _site.PillarOf[c] : -1;
        if (list is not null)
            _site.ForgetStrongest(c);
        _states[c] = new State(_site.Map[c], pillar, list ?? _states[c].List);
        _site.Remap(c, _site.Map[c]);
        if (pillar >= 0)
            Of(_supports, pillar).Add(c);
    }

    private int[] Representative(Cluster cluster)
    {
        if (cluster.Members.IsEmpty)
            return [];
        ClusterResults.Weigh(cluster, _site.Keywords, _weights);
        return ClusterResults.Of(cluster, _weights, _compared, _site.Settings.Depth, _site.UrlIdentities, _site.Curve);
    }

    /// <summary>The clusters whose list shares the minimum or more with that of a cluster.</summary>
    private List<int> Overlapping(int c)
    {
        var counts = new Dictionary<int, int>();
        foreach (var url in _states[c].List)
        {
            foreach (var other in Holding(url))
            {
                if (other != c && other < _states.Count && Array.IndexOf(_states[other].List, url) >= 0)
                    counts[other] = counts.GetValueOrDefault(other) + 1;
            }
        }

        return [.. counts.Where(o => o.Value >= _site.Settings.MinOverlap).Select(o => o.Key)];

        HashSet<int> Holding(int url)
        {
            var slots = new HashSet<int>();
            foreach (var keyword in _postings.Of(url))
            {
                if (_slotOf(keyword) is var slot and >= 0)
                    slots.Add(slot);
            }

            return slots;
        }
    }

    private ResultLists RepresentativeLists()
    {
        var builder = new ResultLists.Builder();
        for (var c = 0; c < _states.Count; c++)
        {
            for (var i = 0; i < _states[c].List.Length; i++)
                builder.Add(c, i + 1, _states[c].List[i]);
        }

        return builder.Build(_states.Count, _site.UrlIdentities);
    }

    private static HashSet<int> Of(Dictionary<int, HashSet<int>> sets, int key) => sets.TryGetValue(key, out var known) ? known : sets[key] = [];

    /// <summary>A cluster as it was when it was looked at last.</summary>
    /// <param name="List">The URLs of its representative result list, best first.</param>
    private readonly record struct State(MappedPage Map, int Pillar, int[] List);
}
