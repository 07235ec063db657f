using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Clusters;

/// <summary>Edits a cluster; what is null stays.</summary>
/// <param name="Name">Empty to call it by its primary keyword again.</param>
/// <param name="Version">That of the row that was shown; null not to look whether it was changed meanwhile.</param>
public sealed record ClusterEdit(string? Name = null, KeywordId? PrimaryKeywordId = null, bool? IsLocked = null, string? Version = null);

/// <summary>Puts keywords into a cluster.</summary>
/// <param name="ToClusterId">Null for a new one.</param>
/// <param name="Version">That of the cluster as it was shown; null not to look whether it was changed meanwhile.</param>
public sealed record MoveRequest(IReadOnlyList<KeywordId> KeywordIds, ClusterId? ToClusterId = null, string? Version = null);

/// <summary>What came of it.</summary>
/// <param name="Warning">What speaks against it, which does not hinder it; null where nothing does.</param>
public sealed record MoveAnswer(ClusterId ClusterId, string? Warning);

/// <summary>Two clusters side by side, and what they would be together.</summary>
/// <param name="PrimariesShare">URLs that their primaries share.</param>
/// <param name="MeanOverlap">Of all pairs of a keyword of the one and a keyword of the other.</param>
/// <param name="Cohesion">Together, 0 to 1.</param>
/// <param name="SharedUrls">URLs that are in lists of both, those of most lists first; the first of them.</param>
public sealed record TogetherView(
    ClusterRow First, ClusterRow Second, int Depth, int PrimariesShare, double MeanOverlap, double? Cohesion, IReadOnlyList<string> SharedUrls, int SharedUrlCount, string? Warning);

/// <summary>Where a cluster would come apart first.</summary>
/// <param name="MinOverlap">The least minimum overlap at which it does.</param>
/// <param name="Apart">The keywords that would leave the primary.</param>
/// <param name="Heads">The most searched keyword of each part that leaves, the largest part first.</param>
/// <param name="OverlapAcross">Mean overlap of a keyword that stays with one that leaves.</param>
/// <param name="OverlapApart">Mean overlap of two keywords of the largest part that leaves.</param>
public sealed record CutView(int MinOverlap, IReadOnlyList<KeywordId> Apart, IReadOnlyList<string> Heads, double OverlapAcross, double? OverlapApart);

/// <summary>What came of asking for a cut.</summary>
/// <param name="Cut">Null where the cluster never parts into groups, but only crumbles into single keywords.</param>
public sealed record CutAnswer(CutView? Cut);

/// <summary>A captured keyword without a cluster.</summary>
/// <param name="ClusterId">The cluster that would take it in; null where it overlaps no primary by the minimum.</param>
/// <param name="Overlap">With that cluster's primary; where there is none, the most with any primary.</param>
/// <param name="IsOffered">The cluster is locked, so that it takes the keyword in only where the planner says so.</param>
public sealed record NewKeywordView(KeywordId KeywordId, string Phrase, long? Volume, ClusterId? ClusterId, string? ClusterName, int Overlap, bool IsOffered);

/// <summary>Captured keywords that came after the grouping.</summary>
/// <param name="Placed">How many a cluster would take in, and their demand.</param>
/// <param name="Left">How many fit none and are left for review.</param>
/// <param name="Rows">Those of most volume, first those that a cluster would take in.</param>
public sealed record NewKeywordsView(int Placed, long PlacedDemand, int Left, long LeftDemand, int MinOverlap, IReadOnlyList<NewKeywordView> Rows);

/// <summary>Places new keywords.</summary>
/// <param name="KeywordIds">Null for all that a cluster would take in; locked ones take in what is named alone.</param>
public sealed record PlaceRequest(IReadOnlyList<KeywordId>? KeywordIds = null);

/// <summary>How many keywords were placed.</summary>
public sealed record PlacedAnswer(int Placed);

/// <summary>Edits of clusters: each is one step that can be undone, and a re-grouping keeps it.</summary>
public static class ClusterEditEndpoints
{
    private const int UrlsShown = 12;
    private const int LongestName = 200;
    private const int NewKeywordsShown = 500;

    public static void MapClusterEdits(this RouteGroupBuilder api)
    {
        api.MapPut("/clusters/{id:long}", Results<Ok<ClusterRow>, ProblemHttpResult> (ClusterId id, ClusterEdit request, Project project) =>
            {
                if (request.Name?.Length > LongestName)
                    return Problems.Invalid("name", $"A name may have {LongestName} characters.");
                return project.Change<ClusterRow>(LabelOf(request), session =>
                {
                    if (ClusterStore.Find(session, id) is not { } now)
                        return Missing(id);
                    if (request.PrimaryKeywordId is { } wanted && !ClusterStore.Has(session, id, wanted))
                        return Problems.Invalid("primaryKeywordId", "That keyword is not in the cluster. Move it there first.");
                    Project.RefuseStale(session, Thing.Cluster(id), now.Version, request.Version);
                    if (request.Name is not null)
                        ClusterStore.Rename(session, id, request.Name.ReplaceLineEndings(" "));
                    if (request.IsLocked is { } isLocked)
                        ClusterStore.Lock(session, id, isLocked);
                    if (request.PrimaryKeywordId is { } primary)
                        ClusterStore.ChoosePrimary(session, id, primary);
                    return ClusterStore.Find(session, id)!;
                }) is { Refusal: { } refusal } ? refusal : TypedResults.Ok(project.Read(session => ClusterStore.Find(session, id))!);
            })
            .WithName("changeCluster");

        api.MapPost("/clusters/move", Results<Ok<MoveAnswer>, ProblemHttpResult> (MoveRequest request, Project project) =>
            {
                if (request.KeywordIds.Count == 0)
                    return Problems.Invalid("keywordIds", "Choose the keywords to move.");
                return project.Change<MoveAnswer>(request.ToClusterId is null ? "Split off keywords" : "Move keywords", session =>
                {
                    if (request.ToClusterId is { } to)
                    {
                        if (ClusterStore.Find(session, to) is not { } now)
                            return Missing(to);
                        Project.RefuseStale(session, Thing.Cluster(to), now.Version, request.Version);
                    }

                    if (KeywordStore.Missing(session, request.KeywordIds) is var unknown and > 0)
                        return Problems.Invalid("keywordIds", $"{unknown} of the keywords no longer exist.");
                    var warning = WarningOf(session, project.Snapshot(session), request);
                    return new MoveAnswer(ClusterStore.Move(session, request.KeywordIds, request.ToClusterId), warning);
                }).ToOk();
            })
            .WithName("moveKeywords");

        api.MapPost("/clusters/{id:long}/merge/{other:long}", Results<Ok<MoveAnswer>, ProblemHttpResult> (ClusterId id, ClusterId other, string? version, Project project) =>
            {
                if (id == other)
                    return Problems.Invalid("other", "A cluster cannot be merged with itself.");
                return project.Change<MoveAnswer>("Merge clusters", session =>
                {
                    if (Together(session, project.Snapshot(session), id, other) is not { } together)
                        return Missing(ClusterStore.Find(session, id) is null ? id : other);
                    Project.RefuseStale(session, Thing.Cluster(id), together.First.Version, version);
                    ClusterStore.Move(session, ClusterStore.Members(session, other), id);
                    return new MoveAnswer(id, together.Warning);
                }).ToOk();
            })
            .WithName("mergeClusters");

        api.MapGet("/clusters/{id:long}/with/{other:long}", Results<Ok<TogetherView>, ProblemHttpResult> (ClusterId id, ClusterId other, Project project) =>
                id == other ? Problems.Invalid("other", "A cluster is not compared with itself. Choose two.")
                    : project.Read((session, snapshot) => Together(session, snapshot, id, other)) is { } view ? TypedResults.Ok(view) : Missing(id))
            .WithName("clustersTogether");

        api.MapGet("/clusters/{id:long}/cut", Results<Ok<CutAnswer>, ProblemHttpResult> (ClusterId id, Project project) => project.Read<Results<Ok<CutAnswer>, ProblemHttpResult>>((session, snapshot) =>
            {
                if (ClusterStore.Find(session, id) is not { } row)
                    return Missing(id);
                var settings = ProjectStore.Grouping(session);
                var ranks = snapshot.Ranks;
                var primary = snapshot.IndexOfKeyword[row.PrimaryKeywordId];
                var members = ClusterStore.Members(session, id).Select(k => snapshot.IndexOfKeyword[k]).Where(k => k != primary).OrderBy(k => ranks[k]);
                var cut = SuggestedCut.Of(new Cluster(primary, [primary, .. members]), snapshot.Compared(settings), settings.Depth, settings.MinOverlap, settings.Rule);
                return TypedResults.Ok(new CutAnswer(cut is null ? null : new CutView(
                    cut.MinOverlap, [.. cut.Apart.Select(k => snapshot.KeywordIds[k])], [.. cut.Heads.Select(k => snapshot.Keywords[k].Phrase)], cut.OverlapAcross, cut.OverlapApart)));
            }))
            .WithName("suggestedCut");

        api.MapGet("/clusters/new-keywords", (Project project) => project.Read((session, snapshot) =>
            {
                var (ids, newKeywords) = NewKeywords(session, snapshot);
                var names = ClusterStore.Names(session);
                long Demand(IEnumerable<NewKeyword> some) => some.Sum(n => snapshot.Keywords[n.Keyword].Volume ?? 0);
                var locked = ClusterStore.FixedByHand(session).Locked;
                bool IsOffered(NewKeyword n) => n.Cluster >= 0 && locked.Contains(ids[n.Cluster]);
                var (placed, left) = (newKeywords.Where(n => n.Cluster >= 0 && !IsOffered(n)).ToList(), newKeywords.Where(n => n.Cluster < 0 || IsOffered(n)).ToList());
                return new NewKeywordsView(placed.Count, Demand(placed), left.Count, Demand(left), ProjectStore.Grouping(session).MinOverlap,
                [
                    .. placed.Concat(left).OrderBy(n => n.Cluster < 0).ThenByDescending(n => snapshot.Keywords[n.Keyword].Volume ?? 0).ThenBy(n => snapshot.Keywords[n.Keyword].NormalForm, StringComparer.Ordinal)
                        .Take(NewKeywordsShown)
                        .Select(n => new NewKeywordView(
                            snapshot.KeywordIds[n.Keyword], snapshot.Keywords[n.Keyword].Phrase, snapshot.Keywords[n.Keyword].Volume,
                            n.Cluster < 0 ? null : ids[n.Cluster], n.Cluster < 0 ? null : names[ids[n.Cluster]].Name, n.Overlap, IsOffered(n))),
                ]);
            }))
            .WithName("newKeywords");

        api.MapPost("/clusters/place", (PlaceRequest request, Project project) =>
            {
                var wanted = request.KeywordIds?.ToHashSet();
                return project.Change<PlacedAnswer>("Place new keywords", session =>
                {
                    var snapshot = project.Snapshot(session);
                    var (ids, newKeywords) = NewKeywords(session, snapshot);
                    var locked = ClusterStore.FixedByHand(session).Locked;
                    var placed = newKeywords.Where(n => n.Cluster >= 0).Select(n => (Keyword: snapshot.KeywordIds[n.Keyword], Cluster: ids[n.Cluster]))
                        .Where(p => wanted is null ? !locked.Contains(p.Cluster) : wanted.Contains(p.Keyword)).ToList();
                    ClusterStore.Place(session, placed);
                    return new PlacedAnswer(placed.Count);
                }).ToOk();
            })
            .WithName("placeNewKeywords");
    }

    /// <returns>Placements of captured keywords that are neither in a cluster nor declined, and the ids of the clusters they refer to by index.</returns>
    internal static (IReadOnlyList<ClusterId> ClusterIds, IReadOnlyList<NewKeyword> NewKeywords) NewKeywords(Session session, ProjectSnapshot snapshot)
    {
        var settings = ProjectStore.Grouping(session);
        var lists = snapshot.Compared(settings);
        var (ids, clusters) = StoredClusters.Of(session, snapshot);
        var memberships = ClusterStore.Memberships(session);
        var declined = KeywordStore.Declined(session);
        var free = Enumerable.Range(0, snapshot.Keywords.Count)
            .Where(k => lists.IsCaptured(k) && !memberships.ContainsKey(snapshot.KeywordIds[k]) && !declined.Contains(snapshot.KeywordIds[k]));
        return (ids, Core.Clusters.NewKeywords.Of([.. free], clusters, _ => true, lists, settings.MinOverlap));
    }

    private static string LabelOf(ClusterEdit change) =>
        change.Name is not null ? "Rename a cluster" : change.PrimaryKeywordId is not null ? "Choose the primary" : change.IsLocked == false ? "Unlock a cluster" : "Lock a cluster";

    private static ProblemHttpResult Missing(ClusterId id) => Problems.NotFound($"There is no cluster {id}. It may have gone in a re-grouping or a merge.");

    private static string? WarningOf(Session session, ProjectSnapshot snapshot, MoveRequest request)
    {
        if (request.ToClusterId is not { } to || ClusterStore.Find(session, to) is not { } cluster)
            return null;
        var lists = snapshot.Compared(ProjectStore.Grouping(session));
        var primary = snapshot.IndexOfKeyword[cluster.PrimaryKeywordId];
        var apart = request.KeywordIds.Count(id => snapshot.IndexOfKeyword.TryGetValue(id, out var k) && k != primary && Overlap.Count(lists.Urls(k), lists.Urls(primary)) == 0);
        return apart == 0 ? null
            : $"{apart} of {request.KeywordIds.Count} {(request.KeywordIds.Count == 1 ? "keyword" : "keywords")} {(apart == 1 ? "shares" : "share")} no result with its primary '{cluster.Primary}'.";
    }

    private static TogetherView? Together(Session session, ProjectSnapshot snapshot, ClusterId id, ClusterId other)
    {
        if (ClusterStore.Find(session, id) is not { } first || ClusterStore.Find(session, other) is not { } second)
            return null;
        var settings = ProjectStore.Grouping(session);
        var depth = settings.Depth;
        var lists = snapshot.Compared(settings);
        int[] a = [.. ClusterStore.Members(session, id).Select(k => snapshot.IndexOfKeyword[k])], b = [.. ClusterStore.Members(session, other).Select(k => snapshot.IndexOfKeyword[k])];
        var (inFirst, inSecond) = (Counts(a), Counts(b));
        var shared = inFirst.Keys.Where(inSecond.ContainsKey).ToList();
        var pairs = shared.Sum(url => (double)inFirst[url] * inSecond[url]);
        return new TogetherView(
            first,
            second,
            depth,
            Overlap.Count(lists.Urls(snapshot.IndexOfKeyword[first.PrimaryKeywordId]), lists.Urls(snapshot.IndexOfKeyword[second.PrimaryKeywordId])),
            pairs / ((double)a.Length * b.Length),
            ClusterQuality.Cohesion([.. a, .. b], lists, depth),
            [.. shared.OrderByDescending(url => inFirst[url] + inSecond[url]).ThenBy(url => snapshot.UrlIdentities[url], StringComparer.Ordinal).Take(UrlsShown)
                .Select(url => ClusterEndpoints.WithoutScheme(snapshot.UrlIdentities[url]))],
            shared.Count,
            pairs == 0 ? $"They share nothing: no result of '{first.Name}' is in a list of '{second.Name}', so one page can hardly win both." : null);

        Dictionary<int, int> Counts(int[] keywords)
        {
            var counts = new Dictionary<int, int>();
            foreach (var keyword in keywords)
            {
                foreach (var url in lists.Urls(keyword))
                    counts[url] = counts.GetValueOrDefault(url) + 1;
            }

            return counts;
        }
    }
}
