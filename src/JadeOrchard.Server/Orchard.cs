using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Topics;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Site;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server;

/// <summary>The open project: its database, the image of it in memory, and what has to be computed again after a change.</summary>
public sealed class Orchard
{
    private readonly Database _database;
    private readonly TimeProvider _clock;

    // The image of what is committed, and the one that a write made for itself, which becomes the other when the write is committed.
    private volatile ProjectSnapshot? _snapshot;
    private volatile ProjectSnapshot? _made;

    public Orchard(Database database, TimeProvider clock)
    {
        (_database, _clock) = (database, clock);
        database.RolledBack += () =>
        {
            _made = null;
            _snapshot?.Stored.Facts.Clear();
            _snapshot?.Stored.Candidates.Clear();
        };
    }

    public Database Database => _database;

    public DateTimeOffset Now => _clock.GetUtcNow();

    /// <summary>The image of the data as the session sees it.</summary>
    public ProjectSnapshot Snapshot(Session session)
    {
        var version = ProjectStore.DataVersion(session);
        return _snapshot is { } kept && kept.Version == version ? kept
            : _made is { } made && made.Version == version ? made
            : _made = ProjectSnapshot.Load(session);
    }

    /// <summary>Works out beforehand what the first change by hand would wait for.</summary>
    public void Warm() => Read((session, snapshot) =>
    {
        foreach (var cluster in Clusters(session, snapshot).Clusters)
            snapshot.Candidates(session).Of(cluster);
        return 0;
    });

    /// <summary>Reads with the image at hand, which is kept for the next time.</summary>
    public T Read<T>(Func<Session, ProjectSnapshot, T> read) => _database.Read(session =>
    {
        var snapshot = Snapshot(session);
        _snapshot = snapshot;
        return read(session, snapshot);
    });

    /// <summary>Groups all captured keywords, keeps identities and decisions, and computes all that follows. One undoable step.</summary>
    /// <param name="settings">Without a fault.</param>
    /// <param name="listId">The list to group, whose keywords alone change their clusters; null for all keywords.</param>
    /// <param name="progress">Told what is being done.</param>
    /// <param name="stop">Ends it; nothing is changed then.</param>
    /// <returns>Number of clusters.</returns>
    public int Regroup(ClusterSettings settings, long? listId = null, IProgress<string>? progress = null, CancellationToken stop = default)
    {
        return _database.Write(
            session =>
            {
                var snapshot = Snapshot(session);
                progress?.Report("Comparing result lists");
                var lists = snapshot.Compared(settings);
                var (old, standing) = Standing(session, snapshot, listId);
                var grouped = Clustering.Of(snapshot.Keywords, Regrouping.Free(lists, standing), settings);
                stop.ThrowIfCancellationRequested();

                progress?.Report("Keeping names, pages and what was fixed by hand");
                var clusters = Regrouping.Of(grouped, snapshot.Keywords, standing);
                ClusterStore.Replace(session, [.. clusters.Select(c => new GroupedCluster(
                    c.GoesOnFrom < 0 ? 0 : old[c.GoesOnFrom].Id,
                    snapshot.KeywordIds[c.Cluster.Primary],
                    [.. c.Cluster.Members.Select(k => snapshot.KeywordIds[k])]))]);
                ProjectStore.SaveGrouping(session, settings, listId, Now);
                stop.ThrowIfCancellationRequested();

                progress?.Report("Gathering topics");
                GatherTopics(session);
                stop.ThrowIfCancellationRequested();

                progress?.Report("Looking for pages and findings");
                AfterData(session);
                return clusters.Count;
            },
            "Regroup");
    }

    /// <summary>Gathers the clusters into topics anew; what the planner decided of them stays.</summary>
    public void GatherTopics(Session session)
    {
        var snapshot = Snapshot(session);
        var (ids, clusters) = Clusters(session, snapshot);
        var links = LinksOf(session, snapshot, ids, clusters);
        var stored = TopicStore.All(session);
        var indexOf = stored.Select((t, i) => (t.Id, i)).ToDictionary(t => t.Id, t => t.i);
        var indexOfCluster = ids.Select((id, i) => (id, i)).ToDictionary(c => c.id, c => c.i);
        var of = TopicStore.OfClusters(session);
        var topics = Core.Topics.Topics.Of(
            [.. clusters.Select(c => c.Members.Sum(k => snapshot.Keywords[k].Volume ?? 0))],
            links,
            new StandingTopics(
                [.. ids.Select(id => of[id].TopicId is { } topic ? indexOf[topic] : -1)],
                [.. ids.Select(id => of[id].IsPlaced)],
                [.. stored.Select(t => t.ChosenPillarId is { } pillar ? indexOfCluster.GetValueOrDefault(pillar, -1) : -1)]));
        TopicStore.Replace(session, [.. topics.Select(t => new GatheredTopic(t.GoesOnFrom < 0 ? 0 : stored[t.GoesOnFrom].Id, ids[t.Pillar], [.. t.Clusters.Select(c => ids[c])]))]);
        TopicStore.Mend(session);
    }

    private static IReadOnlyList<Link> LinksOf(Session session, ProjectSnapshot snapshot, IReadOnlyList<long> ids, IReadOnlyList<Cluster> clusters)
    {
        using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
        var links = ClusterLinks.Of(clusters, snapshot.Compared(ProjectStore.Grouping(session)), ClusterStems.Of(clusters, snapshot.Keywords, analysis));
        UndoLog.Unrecorded(session, () => TopicStore.SaveLinks(session, ids, links));
        return links;
    }

    /// <summary>Clusters that came without a topic join the one that they are linked with most.</summary>
    private static void JoinTopics(Session session, ProjectSnapshot snapshot, IReadOnlyList<long> ids, IReadOnlyList<Cluster> clusters)
    {
        var topics = TopicStore.All(session);
        if (topics.Count == 0)
            return;
        var of = TopicStore.OfClusters(session);
        if (ids.Any(id => of[id].TopicId is null))
        {
            var indexOf = topics.Select((t, i) => (t.Id, i)).ToDictionary(t => t.Id, t => t.i);
            int[] before = [.. ids.Select(id => of[id].TopicId is { } topic ? indexOf[topic] : -1)];
            var joined = Core.Topics.Topics.Joined(before, LinksOf(session, snapshot, ids, clusters));
            for (var c = 0; c < ids.Count; c++)
            {
                if (before[c] < 0)
                    TopicStore.Join(session, ids[c], joined[c] >= 0 ? topics[joined[c]].Id : TopicStore.Add(session, ids[c]));
            }
        }

        TopicStore.Mend(session);
    }

    /// <param name="session">The transaction.</param>
    /// <param name="snapshot">The image of its data.</param>
    /// <param name="listId">The list to group; null for all keywords.</param>
    /// <returns>The stored clusters, and the same by the indexes of the image.</returns>
    internal static (IReadOnlyList<(long Id, long PrimaryKeywordId, long? PageId, bool IsPlanned)> Stored, StandingClusters Standing) Standing(
        Session session, ProjectSnapshot snapshot, long? listId = null)
    {
        var stored = ClusterStore.All(session);
        var indexOf = stored.Select((c, i) => (c.Id, i)).ToDictionary(c => c.Id, c => c.i);
        var memberships = ClusterStore.Memberships(session);
        var (locked, primaryChosen, placed) = ClusterStore.FixedByHand(session);
        var declined = KeywordStore.Declined(session);
        var listed = listId is { } list ? ListStore.Members(session, list) : null;
        return (stored, new StandingClusters(
            [.. snapshot.KeywordIds.Select(id => memberships.TryGetValue(id, out var cluster) ? indexOf[cluster] : -1)],
            [.. stored.Select(c => snapshot.IndexOfKeyword[c.PrimaryKeywordId])],
            [.. stored.Select(c => locked.Contains(c.Id))],
            [.. snapshot.KeywordIds.Select(placed.Contains)],
            [.. stored.Select(c => primaryChosen.Contains(c.Id))],
            [.. snapshot.KeywordIds.Select(id => declined.Contains(id) || listed?.Contains(id) == false)]));
    }

    /// <summary>To be called in the same write after keywords, results, pages or clusters changed.</summary>
    /// <remarks>What is derived is not recorded for undo: after one it is computed again.</remarks>
    public void AfterData(Session session)
    {
        UndoLog.Unrecorded(session, () =>
        {
            PerformanceStore.Refresh(session);
            PageStore.RefreshStems(session, ProjectStore.Get(session).Language);
            PageStore.SaveStandings(session, SiteFacts.SeenDepth, ProjectSnapshot.CurveOf(session).Curve.At);
        });
        AfterClusters(session);
    }

    /// <summary>Changes clusters by hand, and computes what follows. One undoable step.</summary>
    public void ByHand(string label, Action<Session> change) => _database.Write(
        session =>
        {
            change(session);
            AfterClusters(session);
        },
        label);

    /// <summary>To be called in the same write after clusters alone changed.</summary>
    private void AfterClusters(Session session)
    {
        // Before the first grouping nothing else follows, and the image need not be made for it.
        if (session.Count("select exists (select 1 from cluster) or exists (select 1 from suggestion) or exists (select 1 from finding)") == 0)
            return;
        UndoLog.Unrecorded(session, () => ClusterStore.RefreshFacts(session));
        var snapshot = Snapshot(session);
        var (ids, clusters) = Clusters(session, snapshot);
        JoinTopics(session, snapshot, ids, clusters);
        SaveFits(session, snapshot, ids, clusters);
        var suggestions = PageSuggestions.For(clusters, snapshot.Candidates(session));
        var stored = snapshot.Stored.Candidates;
        PageMapStore.SaveSuggestions(session, ids, snapshot.PageIds, suggestions, c => stored.TryGetValue(ids[c], out var before) && before == suggestions[c].Candidates);
        stored.Clear();
        for (var c = 0; c < ids.Count; c++)
            stored[ids[c]] = suggestions[c].Candidates;
        SaveFindings(session, snapshot, ids, clusters);
    }

    private static void SaveFits(Session session, ProjectSnapshot snapshot, IReadOnlyList<long> ids, IReadOnlyList<Cluster> clusters)
    {
        var settings = ProjectStore.Grouping(session);
        var lists = snapshot.Compared(settings);
        var fits = ClusterFits.Of(clusters, lists, new OverlapIndex(lists, settings.MinOverlap), settings.Depth);
        long? IdOf(int cluster) => cluster < 0 ? null : ids[cluster];
        UndoLog.Unrecorded(session, () => ClusterStore.SaveCohesions(session, ids.Zip(ClusterQuality.Cohesions(clusters, lists, settings.Depth))));
        ClusterStore.SaveFits(session, clusters.SelectMany(c => c.Members).Select(k =>
            new MemberFit(snapshot.KeywordIds[k], fits[k].Fit, IdOf(fits[k].Nearest), IdOf(fits[k].BridgeTo))));
    }

    /// <summary>To be called in the same write after a page was assigned or taken away, a pair declared deliberate, or a topic changed.</summary>
    public void AfterDecision(Session session)
    {
        var snapshot = Snapshot(session);
        var (ids, clusters) = Clusters(session, snapshot);
        SaveFindings(session, snapshot, ids, clusters);
    }

    private void SaveFindings(Session session, ProjectSnapshot snapshot, IReadOnlyList<long> ids, IReadOnlyList<Cluster> clusters)
    {
        var suggested = PageMapStore.SuggestedPages(session);
        var declined = PageMapStore.Declined(session);
        var pages = ClusterStore.All(session).ToDictionary(c => c.Id);
        var taken = ids.Select(id => pages[id].PageId ?? (suggested.TryGetValue(id, out var page) ? page : -1)).Where(snapshot.IndexOfPage.ContainsKey).Select(p => snapshot.IndexOfPage[p]).ToHashSet();
        MappedPage Undecided(int cluster) => PageSuggestions.Undecided(
            snapshot.Candidates(session).Of(clusters[cluster]),
            suggested.TryGetValue(ids[cluster], out var page) ? snapshot.IndexOfPage[page] : null,
            taken.Contains);

        var map = ids.Select((id, c) => pages[id] switch
        {
            { IsPlanned: true } => new MappedPage(null, IsDecided: true, IsPlanned: true),
            { PageId: { } page } => new MappedPage(snapshot.IndexOfPage[page], IsDecided: true, IsPlanned: false),
            _ when declined.Contains(id) => new MappedPage(null, IsDecided: true, IsPlanned: false, IsDeclined: true),
            _ => Undecided(c),
        });
        var indexOf = ids.Select((id, i) => (id, i)).ToDictionary(c => c.id, c => c.i);
        var pillars = TopicStore.Pillars(session);
        var pairs = FindingStore.DeliberatePairs(session)
            .Where(p => snapshot.IndexOfPage.ContainsKey(p.PageId) && snapshot.IndexOfPage.ContainsKey(p.OtherPageId))
            .Select(p => (A: snapshot.IndexOfPage[p.PageId], B: snapshot.IndexOfPage[p.OtherPageId]));
        var findings = snapshot.Findings.In(snapshot.Facts(session, clusters, [.. map], ProjectStore.Brands(session)) with
        {
            PillarOf = [.. ids.Select(id => pillars.TryGetValue(id, out var pillar) ? indexOf[pillar] : -1)],
            DeliberatePairs = pairs.Select(p => (Math.Min(p.A, p.B), Math.Max(p.A, p.B))).ToHashSet(),
        });
        var stored = snapshot.Stored.Facts;
        var named = findings.Select(f => Named(f, ids, snapshot, stored)).ToList();
        FindingStore.Save(session, named, Now);
        stored.Clear();
        for (var i = 0; i < named.Count; i++)
            stored[named[i].Key] = findings[i].Facts;
        PageMapStore.SaveCoverage(session, DateOnly.FromDateTime(Now.UtcDateTime));
    }

    /// <summary>The clusters as they are stored, hand work included, by the indexes of the image.</summary>
    public static (IReadOnlyList<long> Ids, IReadOnlyList<Cluster> Clusters) Clusters(Session session, ProjectSnapshot snapshot)
    {
        var ranks = snapshot.Ranks;
        var members = ClusterStore.Memberships(session)
            .GroupBy(m => m.Value, m => snapshot.IndexOfKeyword[m.Key])
            .ToDictionary(g => g.Key, g => g.OrderBy(k => ranks[k]).ToList());
        var all = ClusterStore.All(session)
            .Select(c => (c.Id, Primary: snapshot.IndexOfKeyword[c.PrimaryKeywordId]))
            .OrderBy(c => ranks[c.Primary])
            .ToList();
        return (
            [.. all.Select(c => c.Id)],
            [.. all.Select(c => new Cluster(c.Primary, [c.Primary, .. members[c.Id].Where(k => k != c.Primary)]))]);
    }

    private static ComputedFinding Named(Finding finding, IReadOnlyList<long> clusterIds, ProjectSnapshot snapshot, Dictionary<string, ImmutableArray<FindingFact>> stored)
    {
        long? IdOf(int? page) => page is { } p ? snapshot.PageIds[p] : null;
        long? ClusterOf(int? cluster) => cluster is { } c ? clusterIds[c] : null;
        long? KeywordOf(int? keyword) => keyword is { } k ? snapshot.KeywordIds[k] : null;
        var key = FindingKey.Of(finding.Kind, ClusterOf(finding.Cluster), IdOf(finding.Page), IdOf(finding.OtherPage), ClusterOf(finding.OtherCluster));
        return new ComputedFinding(
            key,
            finding.Kind,
            ClusterOf(finding.Cluster),
            ClusterOf(finding.OtherCluster),
            KeywordOf(finding.Keyword),
            IdOf(finding.Page),
            IdOf(finding.OtherPage),
            finding.AtStake,
            () => [.. finding.Facts.Select(f => new StoredFact(KeywordOf(f.Keyword), f.Position, f.OtherPosition, f.AtStake, f.Share, f.Count))],
            stored.TryGetValue(key, out var facts) && facts == finding.Facts);
    }
}
