using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Topics;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Derived;

/// <summary>A finding by its key that was looked at again; null where nothing shows it any more.</summary>
internal readonly record struct NamedFinding(string Key, Finding? Finding);

/// <summary>The clusters with their pages as they stand, in memory and by slot, with what makes the steps incremental. For the writer alone.</summary>
internal sealed class Board
{
    /// <summary>With more clusters touched than this, and an eighth of all, it is loaded again.</summary>
    private const int MostChanges = 500;

    private readonly List<ClusterId> _ids = [];
    private readonly Dictionary<ClusterId, int> _slots = [];
    private readonly List<StoredCluster?> _stored = [];

    // By slot, as the findings want them; a cluster that is gone has no keywords.
    private readonly List<Cluster> _clusters = [];
    private readonly List<MappedPage> _map = [];
    private readonly List<int> _pillars = [];
    private readonly List<int?> _served = [];
    private readonly Dictionary<int, int> _taken = [];
    private static readonly Cluster Gone = new(-1, []);

    private readonly UrlPostings _postings;
    private FitTable? _fits;
    private ClusterLinkTable? _links;

    // Clusters that join a topic need the links before all of them are saved.
    private bool _areLinksSaved;
    private SuggestionTable? _suggestions;
    private FindingTable? _findings;
    private ImmutableArray<Finding> _allFindings = [];
    private HashSet<(int, int)>? _pairs;
    private SiteFacts? _site;
    private IReadOnlyCollection<int>? _suggestionsChanged;

    private Board(ProjectSnapshot snapshot, ClusterSettings settings)
    {
        (Snapshot, Settings) = (snapshot, settings);
        Table = new ClusterTable(snapshot.Ranks);
        Compared = snapshot.Compared(settings);
        _postings = new UrlPostings(Compared);
    }

    public ProjectSnapshot Snapshot { get; }

    public ClusterSettings Settings { get; }

    /// <summary>The result lists as the grouping compares them.</summary>
    public ResultLists Compared { get; }

    public ClusterTable Table { get; }

    /// <summary>What the last change made of clusters; null where the board was loaded for it, so that everything is to be looked at.</summary>
    public IReadOnlyList<ClusterChange>? Changes { get; private set; }

    public static bool HasClusters(Session session) => ClusterStore.HasAny(session);

    public static Board Load(Session session, ProjectSnapshot snapshot)
    {
        var board = new Board(snapshot, ProjectStore.Grouping(session));
        var members = new Dictionary<ClusterId, List<int>>();
        foreach (var (keyword, cluster) in ClusterStore.Memberships(session))
        {
            if (!members.TryGetValue(cluster, out var of))
                members[cluster] = of = [];
            of.Add(snapshot.IndexOfKeyword[keyword]);
        }

        var changes = new List<(int Slot, Cluster?)>();
        foreach (var stored in ClusterStore.All(session).OrderBy(c => snapshot.Ranks[snapshot.IndexOfKeyword[c.PrimaryKeywordId]]))
            changes.Add((board.Put(stored), board.Made(stored, members[stored.Id])));
        foreach (var change in board.Table.Apply(changes))
            board._clusters[change.Slot] = change.After!;
        return board;
    }

    /// <summary>Takes over what a change made of clusters and pages.</summary>
    /// <returns>False where too much changed, so that it has to be loaded again.</returns>
    public bool Apply(WriteSession session, Derivation derivation)
    {
        var touched = derivation.Pass;
        if (touched.Any(Data.Grouping) || touched.IsAll(Data.Clusters) || touched.IsAll(Data.PageMap) || touched.IsAll(Data.Topics) || derivation.Snapshot != Snapshot)
            return false;
        var (clusters, mapped) = (touched.Ids<ClusterId>(Data.Clusters)!, touched.Ids<ClusterId>(Data.PageMap)!);
        if (clusters.Count > MostChanges && clusters.Count > Table.Count / 8)
            return false;
        var ids = clusters.Union(mapped).ToHashSet();
        var stored = ids.Count == 0 ? [] : ClusterStore.All(session, ids).ToDictionary(c => c.Id);
        var changes = new List<(int, Cluster?)>();
        foreach (var id in ids)
        {
            if (stored.TryGetValue(id, out var now))
            {
                var slot = Put(now);
                if (clusters.Contains(id))
                    changes.Add((slot, Made(now, [.. ClusterStore.Members(session, id).Select(k => Snapshot.IndexOfKeyword[k])])));
            }
            else if (_slots.Remove(id, out var slot))
            {
                _stored[slot] = null;
                changes.Add((slot, null));
            }
        }

        Changes = Table.Apply(changes);
        foreach (var change in Changes)
            _clusters[change.Slot] = change.After ?? Gone;
        _suggestionsChanged = _suggestions is null ? null : [];
        _site = null;
        return true;
    }

    public ClusterId IdOf(int slot) => _ids[slot];

    /// <returns>The slot of a cluster; -1 where it is gone.</returns>
    public int SlotOf(ClusterId id) => _slots.TryGetValue(id, out var slot) ? slot : -1;

    /// <summary>Preloads, so the next edit is fast.</summary>
    public void Prepare(WriteSession session)
    {
        Links(session);
        _areLinksSaved = true;
        if (_fits is null)
            FitsChanged();
        if (_findings is null)
            LoadFindings(session);
        TakeFindings();
    }

    /// <summary>The links between clusters.</summary>
    public ClusterLinkTable Links(Session session)
    {
        if (_links is null)
        {
            _links = new ClusterLinkTable(Table, Compared, _postings, Snapshot.Text(session).StemsOf);
            _links.Rebuild();
        }

        return _links;
    }

    /// <returns>The slots whose links are others now; null where all are to be saved.</returns>
    public IReadOnlyCollection<int>? LinksChanged(Session session)
    {
        var changed = Changes is not null && _links is not null ? _links.Update(Changes) : null;
        if (!_areLinksSaved)
            changed = null;
        _areLinksSaved = true;
        Links(session);
        return changed;
    }

    /// <summary>
    /// Where all findings are to be looked at, reads what they need, so that all steps after this one write only, and can do so beside each other's computing.
    /// </summary>
    public void ReadAhead(Session session)
    {
        if (Changes is null || _findings is null)
            ReadSite(session);
    }

    private void ReadSite(Session session)
    {
        var pillars = TopicStore.Pillars(session);
        for (var slot = 0; slot < _pillars.Count; slot++)
            _pillars[slot] = Table[slot] is not null && pillars.TryGetValue(_ids[slot], out var pillar) ? SlotOf(pillar) : -1;
        _pairs = Pairs(session);
        _site = Snapshot.Facts(session, _clusters, _map, Settings) with
        {
            PillarOf = _pillars,
            DeliberatePairs = _pairs,
            OrderOf = slot => Table[slot] is null ? int.MaxValue : Table.RankOf(slot),
        };
    }

    /// <returns>The keywords whose fit is another now; null where all are to be saved.</returns>
    public IReadOnlyCollection<int>? FitsChanged()
    {
        if (Changes is not null && _fits is not null)
            return _fits.Update(Changes);
        _fits = new FitTable(Table, Compared, _postings, Settings.MinOverlap, Settings.Depth);
        _fits.Rebuild();
        return null;
    }

    public MemberFit FitOf(int keyword)
    {
        var fit = _fits![keyword];
        return new MemberFit(Snapshot.KeywordIds[keyword], fit.Fit, fit.Nearest < 0 ? null : _ids[fit.Nearest], fit.BridgeTo < 0 ? null : _ids[fit.BridgeTo]);
    }

    /// <returns>The slots whose suggestion may be another now; null where all are to be saved.</returns>
    public IReadOnlyCollection<int>? SuggestionsChanged(Session session)
    {
        if (Changes is not null && _suggestions is not null)
            return _suggestionsChanged = _suggestions.Update(Changes);
        _suggestions = new SuggestionTable(
            Table, Snapshot.Keywords, Snapshot.Pages,
            new PageCandidates(Snapshot.Keywords, Snapshot.Lists, Snapshot.Pages, Snapshot.PageOfUrl, Snapshot.Text(session), Snapshot.Performance, Snapshot.Curve));
        _suggestions.Rebuild();
        return _suggestionsChanged = null;
    }

    /// <returns>The suggestion for a slot as it is stored; null where its cluster is gone. Candidates that were not looked at again are left out.</returns>
    public StoredSuggestion? Suggested(int slot)
    {
        if (Table[slot] is null)
            return null;
        var found = _suggestions!.Of(slot);
        return new StoredSuggestion(found.Page, found.Verdict, found.Strength, found.LostTo is { } lost ? _ids[lost] : null, _suggestions.Looked.TryGetValue(slot, out var looked) ? looked : null);
    }

    /// <returns>All findings, after <see cref="FindingsChanged"/> said that all are to be saved; they are not kept.</returns>
    public ImmutableArray<Finding> TakeFindings()
    {
        var all = _allFindings;
        _allFindings = [];
        return all;
    }

    /// <returns>What was looked at again; null where all findings are to be saved.</returns>
    public IReadOnlyList<NamedFinding>? FindingsChanged(Session session, Touched touched)
    {
        if (Changes is null || _findings is null || _suggestionsChanged is null || touched.IsAll(Data.Topics))
        {
            LoadFindings(session);
            return null;
        }

        var changed = Changes.Select(c => c.Slot).ToHashSet();
        var slots = new HashSet<int>(changed);
        slots.UnionWith(_suggestionsChanged);
        slots.UnionWith(touched.Ids<ClusterId>(Data.PageMap)!.Select(SlotOf).Where(s => s >= 0));
        // A page that is taken by none any more, or by some now, matters to all clusters that it is a candidate for.
        foreach (var slot in slots.ToList())
        {
            foreach (var page in Serve(slot))
                slots.UnionWith(_suggestions!.SlotsWith(page));
        }

        foreach (var slot in slots.ToList())
        {
            var map = Mapped(slot);
            if (map == _map[slot] && !changed.Contains(slot))
                slots.Remove(slot);
            _map[slot] = map;
        }

        var topics = touched.Ids<ClusterId>(Data.Topics)!.Union(touched.Ids<ClusterId>(Data.Clusters)!).ToHashSet();
        if (topics.Count > 0)
        {
            var near = TopicStore.SharingTopics(session, topics);
            near = near.Union(topics).ToHashSet();
            var pillars = TopicStore.Pillars(session, near);
            foreach (var slot in near.Select(SlotOf).Where(s => s >= 0))
            {
                var pillar = pillars.TryGetValue(_ids[slot], out var id) ? SlotOf(id) : -1;
                if (pillar == _pillars[slot])
                    continue;
                _pillars[slot] = pillar;
                slots.Add(slot);
            }

            foreach (var slot in changed.Where(s => Table[s] is null))
                _pillars[slot] = -1;
        }

        var pages = PairsChanged(session, touched);
        return [.. _findings.Update(slots, changed, pages).Select(l => new NamedFinding(KeyOf(l.Identity), l.Finding))];
    }

    private void LoadFindings(Session session)
    {
        // Loaded for a change that asks for no suggestions, such as an assignment after one that broke off.
        if (_suggestions is null)
            SuggestionsChanged(session);
        _taken.Clear();
        for (var slot = 0; slot < _served.Count; slot++)
            _served[slot] = null;
        var slots = Table.InOrder();
        foreach (var slot in slots)
            Serve(slot);
        foreach (var slot in slots)
            _map[slot] = Mapped(slot);
        if (_site is null)
            ReadSite(session);
        _findings = new FindingTable(_site!, Table.SlotOf, Compared, _postings);
        _site = null;
        _allFindings = _findings.All();
    }

    private HashSet<(int, int)> Pairs(Session session) =>
    [
        .. FindingDecisions.DeliberatePairs(session)
            .Where(p => Snapshot.IndexOfPage.ContainsKey(p.PageId) && Snapshot.IndexOfPage.ContainsKey(p.OtherPageId))
            .Select(p => (A: Snapshot.IndexOfPage[p.PageId], B: Snapshot.IndexOfPage[p.OtherPageId]))
            .Select(p => (Math.Min(p.A, p.B), Math.Max(p.A, p.B))),
    ];

    /// <returns>The pages of pairs that are deliberate now and were not, or the other way round.</returns>
    private HashSet<int> PairsChanged(Session session, Touched touched)
    {
        if (!touched.Any(Data.Pairs))
            return [];
        var now = Pairs(session);
        var changed = now.Except(_pairs!).Concat(_pairs!.Except(now)).SelectMany(p => new[] { p.Item1, p.Item2 }).ToHashSet();
        // The site has the set itself, which is why it is changed and not replaced.
        _pairs!.Clear();
        _pairs.UnionWith(now);
        return changed;
    }

    private string KeyOf(FindingIdentity identity) => identity.Kind switch
    {
        FindingKind.Uncovered or FindingKind.MissingLinks => FindingKey.Of(identity.Kind, _ids[identity.Indexes.Single()], [], null),
        FindingKind.IdlePages => FindingKey.Of(identity.Kind, null, [], identity.Of),
        FindingKind.Twins => FindingKey.Of(identity.Kind, null, _findings!.TwinsAt(identity.Indexes.Single()).Select(p => Snapshot.PageIds[p]), null),
        _ => FindingKey.Of(identity.Kind, null, identity.Indexes.Select(p => Snapshot.PageIds[p]), null),
    };

    /// <summary>Counts the page that a cluster has or is suggested as taken.</summary>
    /// <returns>Pages that were free and are taken now, or the other way round.</returns>
    private List<int> Serve(int slot)
    {
        int? page = _stored[slot] is not { } stored ? null
            : stored.PageId is { } decided ? (Snapshot.IndexOfPage.TryGetValue(decided, out var index) ? index : null)
            : _suggestions!.Of(slot).Page;
        var before = _served[slot];
        if (page == before)
            return [];
        _served[slot] = page;
        var turned = new List<int>();
        if (before is { } left && --System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(_taken, left, out _) == 0)
            turned.Add(left);
        if (page is { } taken && ++System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(_taken, taken, out _) == 1)
            turned.Add(taken);
        return turned;
    }

    private MappedPage Mapped(int slot) => _stored[slot] switch
    {
        null => default,
        { IsPlanned: true } => new MappedPage(null, IsDecided: true, IsPlanned: true),
        { PageId: { } page } => new MappedPage(Snapshot.IndexOfPage[page], IsDecided: true, IsPlanned: false),
        { IsDeclined: true } => new MappedPage(null, IsDecided: true, IsPlanned: false, IsDeclined: true),
        _ => _suggestions!.Undecided(slot, page => _taken.GetValueOrDefault(page) > 0),
    };

    private int Put(StoredCluster stored)
    {
        if (!_slots.TryGetValue(stored.Id, out var slot))
        {
            _slots[stored.Id] = slot = Table.NewSlot();
            _ids.Add(stored.Id);
            _stored.Add(stored);
            _clusters.Add(Gone);
            _map.Add(default);
            _pillars.Add(-1);
            _served.Add(null);
        }

        _stored[slot] = stored;
        return slot;
    }

    private Cluster Made(StoredCluster stored, List<int> members)
    {
        var primary = Snapshot.IndexOfKeyword[stored.PrimaryKeywordId];
        members.Remove(primary);
        members.Sort((a, b) => Snapshot.Ranks[a].CompareTo(Snapshot.Ranks[b]));
        return new Cluster(primary, [primary, .. members]);
    }
}
