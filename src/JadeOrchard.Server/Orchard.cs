using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server;

/// <summary>The open project: its database, the image of it in memory, and what has to be computed again after a change.</summary>
public sealed class Orchard(Database database, TimeProvider clock)
{
    private ProjectSnapshot? _snapshot;

    public Database Database => database;

    public DateTimeOffset Now => clock.GetUtcNow();

    /// <summary>The image of the data as the session sees it.</summary>
    /// <remarks>Inside a write it may be of data that is never committed, so only <see cref="Read"/> keeps it.</remarks>
    public ProjectSnapshot Snapshot(Session session) =>
        _snapshot is { } kept && kept.Version == ProjectStore.DataVersion(session) ? kept : ProjectSnapshot.Load(session);

    /// <summary>Reads with the image at hand, which is kept for the next time.</summary>
    public T Read<T>(Func<Session, ProjectSnapshot, T> read) => database.Read(session =>
    {
        var snapshot = Snapshot(session);
        _snapshot = snapshot;
        return read(session, snapshot);
    });

    /// <summary>Groups all captured keywords, keeps identities and decisions, and computes all that follows. One undoable step.</summary>
    /// <returns>Number of clusters.</returns>
    public int Regroup(ClusterSettings settings, IProgress<string>? progress = null, CancellationToken stop = default)
    {
        return database.Write(
            session =>
            {
                var snapshot = Snapshot(session);
                progress?.Report("Comparing result lists");
                var lists = snapshot.Lists.Cut(settings.Depth);
                var (old, standing) = Standing(session, snapshot);
                var grouped = Clustering.Of(snapshot.Keywords, Regrouping.Free(lists, standing), settings);
                stop.ThrowIfCancellationRequested();

                progress?.Report("Keeping names, pages and what was fixed by hand");
                var clusters = Regrouping.Of(grouped, snapshot.Keywords, standing);
                ClusterStore.Replace(session, [.. clusters.Select(c => new GroupedCluster(
                    c.GoesOnFrom < 0 ? 0 : old[c.GoesOnFrom].Id,
                    snapshot.KeywordIds[c.Cluster.Primary],
                    [.. c.Cluster.Members.Select(k => snapshot.KeywordIds[k])]))]);
                ProjectStore.SaveGrouping(session, settings, Now);
                stop.ThrowIfCancellationRequested();

                progress?.Report("Looking for pages and findings");
                AfterData(session);
                return clusters.Count;
            },
            "Regroup");
    }

    /// <returns>The stored clusters, and the same by the indexes of the image.</returns>
    internal static (IReadOnlyList<(long Id, long PrimaryKeywordId, long? PageId, bool IsPlanned)> Stored, StandingClusters Standing) Standing(
        Session session, ProjectSnapshot snapshot)
    {
        var stored = ClusterStore.All(session);
        var indexOf = stored.Select((c, i) => (c.Id, i)).ToDictionary(c => c.Id, c => c.i);
        var memberships = ClusterStore.Memberships(session);
        var (locked, placed) = ClusterStore.FixedByHand(session);
        return (stored, new StandingClusters(
            [.. snapshot.KeywordIds.Select(id => memberships.TryGetValue(id, out var cluster) ? indexOf[cluster] : -1)],
            [.. stored.Select(c => snapshot.IndexOfKeyword[c.PrimaryKeywordId])],
            [.. stored.Select(c => locked.Contains(c.Id))],
            [.. snapshot.KeywordIds.Select(placed.Contains)]));
    }

    /// <summary>To be called in the same write after keywords, results, pages or clusters changed.</summary>
    /// <remarks>What is derived is not recorded for undo: after one it is computed again.</remarks>
    public void AfterData(Session session)
    {
        UndoLog.Unrecorded(session, () => PageStore.SaveStandings(session, SiteFacts.SeenDepth, ClickCurve.At));
        // Before the first grouping nothing else follows, and the image need not be made for it.
        if (session.Count("select exists (select 1 from cluster) or exists (select 1 from suggestion) or exists (select 1 from finding)") == 0)
            return;
        UndoLog.Unrecorded(session, () => ClusterStore.RefreshFacts(session));
        var snapshot = Snapshot(session);
        var (ids, clusters) = Clusters(session, snapshot);
        SaveFits(session, snapshot, ids, clusters);
        using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
        var suggestions = PageSuggestions.For(clusters, snapshot.Keywords, snapshot.Lists, snapshot.Pages, snapshot.PageOfUrl, analysis);
        PageMapStore.SaveSuggestions(session, ids, snapshot.PageIds, suggestions);
        AfterDecision(session, snapshot);
    }

    private static void SaveFits(Session session, ProjectSnapshot snapshot, IReadOnlyList<long> ids, IReadOnlyList<Cluster> clusters)
    {
        var settings = ProjectStore.Grouping(session);
        var lists = snapshot.Lists.Cut(settings.Depth);
        var fits = ClusterFits.Of(clusters, lists, new OverlapIndex(lists, settings.MinOverlap), settings.Depth);
        long? IdOf(int cluster) => cluster < 0 ? null : ids[cluster];
        UndoLog.Unrecorded(session, () => ClusterStore.SaveCohesions(session, ids.Zip(ClusterQuality.Cohesions(clusters, lists, settings.Depth))));
        ClusterStore.SaveFits(session, clusters.SelectMany(c => c.Members).Select(k =>
            new MemberFit(snapshot.KeywordIds[k], fits[k].Fit, IdOf(fits[k].Nearest), IdOf(fits[k].BridgeTo))));
    }

    /// <summary>To be called in the same write after a page was assigned or taken away.</summary>
    public void AfterDecision(Session session, ProjectSnapshot snapshot)
    {
        var project = ProjectStore.Get(session);
        var (ids, clusters) = Clusters(session, snapshot);
        var suggested = PageMapStore.SuggestedPages(session);
        var pages = ClusterStore.All(session).ToDictionary(c => c.Id);
        var map = ids.Select(id => pages[id] switch
        {
            { IsPlanned: true } => new MappedPage(null, IsDecided: true, IsPlanned: true),
            { PageId: { } page } => new MappedPage(snapshot.IndexOfPage[page], IsDecided: true, IsPlanned: false),
            _ => new MappedPage(suggested.TryGetValue(id, out var page) ? snapshot.IndexOfPage[page] : null, IsDecided: false, IsPlanned: false),
        });
        var findings = SiteFindings.In(new SiteFacts(
            snapshot.Keywords, snapshot.Lists, clusters, [.. map], snapshot.PageOfUrl, snapshot.UrlIdentities, ProjectStore.Grouping(session),
            new BrandTerms([new OwnSite(project.Host).BrandName, .. project.BrandTerms])));
        FindingStore.Save(session, [.. findings.Select(f => Named(f, ids, snapshot))], Now);
    }

    /// <summary>The clusters as they are stored, hand work included, by the indexes of the image.</summary>
    public static (IReadOnlyList<long> Ids, IReadOnlyList<Cluster> Clusters) Clusters(Session session, ProjectSnapshot snapshot)
    {
        var ranks = KeywordOrder.Ranks(KeywordOrder.Of(snapshot.Keywords));
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

    private static ComputedFinding Named(Finding finding, IReadOnlyList<long> clusterIds, ProjectSnapshot snapshot)
    {
        long? IdOf(int? page) => page is { } p ? snapshot.PageIds[p] : null;
        var cluster = clusterIds[finding.Cluster];
        return new ComputedFinding(
            FindingKey.Of(finding.Kind, cluster, IdOf(finding.Page), IdOf(finding.OtherPage)),
            finding.Kind,
            cluster,
            finding.OtherCluster is { } other ? clusterIds[other] : null,
            snapshot.KeywordIds[finding.Keyword],
            IdOf(finding.Page),
            IdOf(finding.OtherPage),
            finding.AtStake,
            [.. finding.Facts.Select(f => new StoredFact(snapshot.KeywordIds[f.Keyword], f.Position, f.OtherPosition, f.AtStake))]);
    }
}
