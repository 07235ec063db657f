using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;

namespace JadeOrchard.Server.Clusters;

/// <summary>Changes a cluster by hand; what is null stays.</summary>
/// <param name="Name">Empty to call it by its primary keyword again.</param>
public sealed record ClusterChange(string? Name = null, long? PrimaryKeywordId = null, bool? IsLocked = null);

/// <summary>Puts keywords into a cluster.</summary>
/// <param name="ToClusterId">Null for a new one.</param>
public sealed record MoveRequest(IReadOnlyList<long> KeywordIds, long? ToClusterId = null);

/// <summary>What came of it.</summary>
/// <param name="Warning">What speaks against it, which does not hinder it; null where nothing does.</param>
public sealed record MoveAnswer(long ClusterId, string? Warning);

/// <summary>Two clusters side by side, and what they would be together.</summary>
/// <param name="PrimariesShare">URLs that their primaries share.</param>
/// <param name="MeanOverlap">Of all pairs of a keyword of the one and a keyword of the other.</param>
/// <param name="Cohesion">Together, 0 to 1.</param>
/// <param name="SharedUrls">URLs that stand in lists of both, those of most lists first; the first of them.</param>
public sealed record TogetherView(
    ClusterRow First, ClusterRow Second, int Depth, int PrimariesShare, double MeanOverlap, double? Cohesion, IReadOnlyList<string> SharedUrls, int SharedUrlCount, string? Warning);

/// <summary>Work on clusters by hand: each change is one step that can be undone, and a re-grouping keeps it.</summary>
public static class HandEndpoints
{
    private const int UrlsShown = 12;
    private const int LongestName = 200;

    public static void MapHandWork(this RouteGroupBuilder api)
    {
        api.MapPut("/clusters/{id:long}", Results<Ok<ClusterRow>, ProblemHttpResult> (long id, ClusterChange request, Orchard orchard) =>
            {
                if (request.Name?.Length > LongestName)
                    return Problems.Invalid("name", $"A name may have {LongestName} characters.");
                ProblemHttpResult? problem = null;
                Change(orchard, LabelOf(request), session =>
                {
                    problem = ClusterStore.Find(session, id) is null ? Missing(id)
                        : request.PrimaryKeywordId is { } wanted && ClusterStore.Memberships(session).GetValueOrDefault(wanted) != id
                            ? Problems.Invalid("primaryKeywordId", "That keyword is not in the cluster. Move it there first.")
                        : null;
                    if (problem is not null)
                        return;
                    if (request.Name is not null)
                        ClusterStore.Rename(session, id, request.Name.ReplaceLineEndings(" "));
                    if (request.IsLocked is { } isLocked)
                        ClusterStore.Lock(session, id, isLocked);
                    if (request.PrimaryKeywordId is { } primary)
                        ClusterStore.ChoosePrimary(session, id, primary);
                });
                return problem is null ? TypedResults.Ok(orchard.Database.Read(session => ClusterStore.Find(session, id))!) : problem;
            })
            .WithName("changeCluster");

        api.MapPost("/clusters/move", Results<Ok<MoveAnswer>, ProblemHttpResult> (MoveRequest request, Orchard orchard) =>
            {
                if (request.KeywordIds.Count == 0)
                    return Problems.Invalid("keywordIds", "Choose the keywords to move.");
                var warning = orchard.Read((session, snapshot) => WarningOf(session, snapshot, request));
                ProblemHttpResult? problem = null;
                var cluster = 0L;
                Change(orchard, request.ToClusterId is null ? "Split off keywords" : "Move keywords", session =>
                {
                    problem = request.ToClusterId is { } to && ClusterStore.Find(session, to) is null ? Missing(to)
                        : request.KeywordIds.Distinct().Count(k => session.Count("select count(*) from keyword where keyword_id = @id", ("id", k)) == 0) is var unknown and > 0
                            ? Problems.Invalid("keywordIds", $"{unknown} of the keywords are not there any more.")
                        : null;
                    if (problem is null)
                        cluster = ClusterStore.Move(session, request.KeywordIds, request.ToClusterId);
                });
                return problem is null ? TypedResults.Ok(new MoveAnswer(cluster, warning)) : problem;
            })
            .WithName("moveKeywords");

        api.MapPost("/clusters/{id:long}/merge/{other:long}", Results<Ok<MoveAnswer>, ProblemHttpResult> (long id, long other, Orchard orchard) =>
            {
                if (id == other)
                    return Problems.Invalid("other", "A cluster cannot be merged with itself.");
                var together = orchard.Read((session, snapshot) => Together(session, snapshot, id, other));
                if (together is null)
                    return Missing(orchard.Database.Read(session => ClusterStore.Find(session, id)) is null ? id : other);
                Change(orchard, "Merge clusters", session =>
                    ClusterStore.Move(session, [.. ClusterStore.Memberships(session).Where(m => m.Value == other).Select(m => m.Key)], id));
                return TypedResults.Ok(new MoveAnswer(id, together.Warning));
            })
            .WithName("mergeClusters");

        api.MapGet("/clusters/{id:long}/with/{other:long}", Results<Ok<TogetherView>, ProblemHttpResult> (long id, long other, Orchard orchard) =>
                orchard.Read((session, snapshot) => Together(session, snapshot, id, other)) is { } view ? TypedResults.Ok(view) : Missing(id))
            .WithName("clustersTogether");
    }

    private static string LabelOf(ClusterChange change) =>
        change.Name is not null ? "Rename a cluster" : change.PrimaryKeywordId is not null ? "Choose the primary" : change.IsLocked == false ? "Unlock a cluster" : "Lock a cluster";

    private static ProblemHttpResult Missing(long id) => Problems.NotFound($"There is no cluster {id}. It may have gone in a re-grouping or a merge.");

    private static void Change(Orchard orchard, string label, Action<Session> change) => orchard.Database.Write(
        session =>
        {
            change(session);
            orchard.AfterData(session);
        },
        label);

    private static string? WarningOf(Session session, ProjectSnapshot snapshot, MoveRequest request)
    {
        if (request.ToClusterId is not { } to || ClusterStore.Find(session, to) is not { } cluster)
            return null;
        var lists = snapshot.Lists.Cut(ProjectStore.Grouping(session).Depth);
        var primary = snapshot.IndexOfKeyword[cluster.PrimaryKeywordId];
        var apart = request.KeywordIds.Count(id => snapshot.IndexOfKeyword.TryGetValue(id, out var k) && k != primary && Overlap.Count(lists.Urls(k), lists.Urls(primary)) == 0);
        return apart == 0 ? null
            : $"{apart} of {request.KeywordIds.Count} {(request.KeywordIds.Count == 1 ? "keyword" : "keywords")} {(apart == 1 ? "shares" : "share")} no result with its primary '{cluster.Primary}'.";
    }

    private static TogetherView? Together(Session session, ProjectSnapshot snapshot, long id, long other)
    {
        if (ClusterStore.Find(session, id) is not { } first || ClusterStore.Find(session, other) is not { } second)
            return null;
        var depth = ProjectStore.Grouping(session).Depth;
        var lists = snapshot.Lists.Cut(depth);
        var members = ClusterStore.Memberships(session).Where(m => m.Value == id || m.Value == other).ToLookup(m => m.Value == id, m => snapshot.IndexOfKeyword[m.Key]);
        int[] a = [.. members[true]], b = [.. members[false]];
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
            pairs == 0 ? $"They share nothing: no result of '{first.Name}' stands in a list of '{second.Name}', so one page can hardly win both." : null);

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
