using System.Text.Json;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Keywords;
using JadeOrchard.Server.Results;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Clusters;

/// <summary>A cluster with its members and why they belong together.</summary>
/// <param name="Depth">How far the lists were compared.</param>
/// <param name="Least">The least overlap of a member with the primary; null for a single keyword.</param>
/// <param name="Most">The greatest overlap of a member with the primary; null for a single keyword.</param>
/// <param name="HoldingTogether">How many URLs are in at least half of the lists.</param>
/// <param name="Cautions">What makes its overlaps worth less than their number says, in words.</param>
/// <param name="Expected">Keywords that are expected in it without a result list, most searched first; the first of them.</param>
/// <param name="Unsettled">Keywords of which at most one result decides between this cluster and another.</param>
public sealed record ClusterDetail(
    ClusterRow Cluster, IReadOnlyList<MemberView> Members, IReadOnlyList<ExpectedKeyword> Expected, int Depth, int MinOverlap, int? Least, int? Most, int HoldingTogether,
    IReadOnlyList<string> Cautions, int Unsettled, GridView Grid, IReadOnlyList<FindingRow> Findings);

/// <summary>A keyword of a cluster.</summary>
/// <param name="Overlap">URLs shared with the primary.</param>
/// <param name="RankBiasedOverlap">0 to 1, with the primary.</param>
/// <param name="Fit">Silhouette, −1 to 1; negative where another cluster would fit it better.</param>
/// <param name="Nearest">The other cluster that would fit a weak member better; null for all others.</param>
/// <param name="Bridge">The other cluster whose primary it overlaps by the minimum or more.</param>
/// <param name="Margin">How many more results it shares with this primary than with that of any other cluster; null for the primary.</param>
/// <param name="NextBest">Which other cluster that is, where it is 0 or 1 (or less) and so unsettled; null for all others.</param>
public sealed record MemberView(
    KeywordId KeywordId, string Phrase, long? Volume, double? Difficulty, Core.Keywords.Intent? Intent, int Overlap, double RankBiasedOverlap, int? OwnPosition,
    double Fit, OtherCluster? Nearest, OtherCluster? Bridge, int? Margin, OtherCluster? NextBest);

/// <summary>A cluster that is named in passing.</summary>
public sealed record OtherCluster(ClusterId Id, string Name);

/// <summary>The result grid: URLs by keywords.</summary>
/// <param name="Columns">Keywords, the primary first.</param>
/// <param name="HiddenColumns">Keywords of the cluster that are not among them.</param>
public sealed record GridView(IReadOnlyList<GridColumn> Columns, IReadOnlyList<GridRow> Rows, int HiddenColumns, int HiddenRows);

/// <summary>A keyword of the grid.</summary>
public sealed record GridColumn(KeywordId KeywordId, string Phrase);

/// <summary>A URL of the grid.</summary>
/// <param name="Positions">For each column its position; 0 where it is not in the list.</param>
public sealed record GridRow(string Url, int Shared, bool IsOwn, IReadOnlyList<int> Positions);

/// <summary>How to group.</summary>
/// <param name="Smallest">Keywords that a cluster must have; 1 where it is not given.</param>
/// <param name="LeftOutHosts">Hosts to leave out of the comparison, separated by commas or lines.</param>
/// <param name="ListId">The list to group; null for all keywords.</param>
/// <param name="PerHost">See <see cref="ClusterSettings.PerHost"/>; all where it is not given.</param>
/// <param name="ShortLists">See <see cref="ClusterSettings.ShortLists"/>.</param>
/// <param name="Hysteresis">See <see cref="ClusterSettings.Hysteresis"/>; the usual where it is not given.</param>
public sealed record RegroupRequest(
    int Depth, int MinOverlap, LinkingRule Rule, int? Smallest = null, string? LeftOutHosts = null, ListId? ListId = null, int? PerHost = null, bool? ShortLists = null, int? Hysteresis = null)
{
    public ClusterSettings ToSettings() => new(
        Depth, MinOverlap, Rule, Smallest ?? 1, (LeftOutHosts ?? "").Split([',', '\n', ' ', '\r'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries),
        PerHost ?? 0, ShortLists ?? false, Hysteresis ?? new ClusterSettings().Hysteresis);

    public static RegroupRequest Of(ClusterSettings settings, ListId? listId) =>
        new(settings.Depth, settings.MinOverlap, settings.Rule, settings.Smallest, string.Join('\n', settings.LeftOutHosts), listId, settings.PerHost, settings.ShortLists, settings.Hysteresis);
}

/// <summary>How to group, as a job keeps it.</summary>
public sealed record RegroupArguments(ClusterSettings Settings, ListId? ListId);

/// <summary>Clusters: the list, one with its evidence, and grouping.</summary>
public static class ClusterEndpoints
{
    private const int GridColumns = 40;
    private const int GridRows = 40;
    private const int MembersShown = 2_000;
    private const int ExpectedShown = 500;

    public static void MapClusters(this RouteGroupBuilder api)
    {
        api.MapGet("/clusters", ([AsParameters] Listing listing, [AsParameters] ClusterFilter filter, Project project) =>
                project.Read(session => ClusterStore.List(session, listing.ToQuery(), filter)))
            .WithName("clusters");

        api.MapGet("/clusters.csv", ([AsParameters] Listing listing, [AsParameters] ClusterFilter filter, Project project) => Listing.Csv(
                "clusters.csv",
                ["cluster", "topic", "mark", "primary", "keywords", "expected", "demand", "mean_difficulty", "intent", "cohesion", "weak_members", "at_stake", "page", "suggested_page", "strength", "verdict", "trend", "peak_months"],
                project.Read(session => ClusterStore.List(session, listing.ToExport(), filter)).Rows.Select(c => new object?[]
                {
                    c.Name, c.TopicName, c.Mark.ToString().ToLowerInvariant(), c.Primary, c.Size, c.Expected, c.Demand, Rounded(c.MeanDifficulty, 1), c.Intent?.ToString().ToLowerInvariant(),
                    Rounded(c.Cohesion, 2), c.WeakMembers, Math.Round(c.AtStake, 1), c.PageUrl, c.SuggestedUrl, Rounded(c.Strength, 1), c.Verdict?.ToString().ToLowerInvariant(),
                    c.Season?.Direction.ToString().ToLowerInvariant(), KeywordEndpoints.Peaks(c.Season),
                })))
            .ExcludeFromDescription();

        api.MapGet("/clusters/{id:long}", Results<Ok<ClusterDetail>, ProblemHttpResult> (ClusterId id, Project project) =>
                project.Read<Results<Ok<ClusterDetail>, ProblemHttpResult>>((session, snapshot) =>
                    ClusterStore.Find(session, id) is { } cluster
                        ? TypedResults.Ok(Detail(session, snapshot, cluster))
                        : Problems.NotFound($"There is no cluster {id}. It may have gone in a re-grouping.")))
            .WithName("cluster");

        api.MapGet("/clusters/preview", Results<Ok<GroupingPreviewView>, ProblemHttpResult> ([AsParameters] RegroupRequest request, Project project, GroupingPreview groupingPreview) =>
            {
                var settings = request.ToSettings();
                if (settings.Fault() is { } fault)
                    return Problems.Invalid(FieldOf(fault), fault);
                if (ListEndpoints.Unknown(project, request.ListId) is { } unknown)
                    return unknown;
                return TypedResults.Ok(project.Read((session, snapshot) => groupingPreview.Of(session, snapshot, settings, request.ListId)));
            })
            .WithName("groupingPreview");

        api.MapPost("/clusters/regroup", Results<Accepted<JobView>, ProblemHttpResult> (RegroupRequest request, Project project, JobRunner runner) =>
            {
                var settings = request.ToSettings();
                if (settings.Fault() is { } fault)
                    return Problems.Invalid(FieldOf(fault), fault);
                if (ListEndpoints.Unknown(project, request.ListId) is { } unknown)
                    return unknown;
                if (!project.Read(ResultStore.HasAny))
                    return Problems.Conflict("There is nothing to group yet: no keyword has a result list. Import result lists first.");
                return JobEndpoints.Accepted(runner.Add(RegroupJob.Name, "Grouping keywords", JsonSerializer.Serialize(new RegroupArguments(settings, request.ListId))));
            })
            .WithName("regroup");
    }

    private static string FieldOf(string fault) =>
        fault.StartsWith("Depth", StringComparison.Ordinal) ? "depth"
        : fault.StartsWith("Minimum", StringComparison.Ordinal) ? "minOverlap"
        : fault.StartsWith("The smallest", StringComparison.Ordinal) ? "smallest"
        : "leftOutHosts";

    private static ClusterDetail Detail(Session session, ProjectSnapshot snapshot, ClusterRow cluster)
    {
        var settings = ProjectStore.Grouping(session);
        var primary = snapshot.IndexOfKeyword[cluster.PrimaryKeywordId];
        int[] members =
        [
            primary,
            .. ClusterStore.Members(session, cluster.Id).Select(id => snapshot.IndexOfKeyword[id]).Where(k => k != primary).OrderBy(k => snapshot.Ranks[k]),
        ];
        var lists = snapshot.Compared(settings);
        var fits = ClusterStore.Fits(session, cluster.Id);
        var all = ClusterStore.Primaries(session);
        var margins = new Margins([.. all.Select(c => snapshot.IndexOfKeyword[c.Primary])], lists).Of(all.Index().First(c => c.Item.Id == cluster.Id).Index, members);
        var names = ClusterStore.Names(session, margins.Where(m => m is { IsUnsettled: true, OtherCluster: >= 0 }).Select(m => all[m!.Value.OtherCluster].Id).ToHashSet());
        static OtherCluster? Other(ClusterId? id, string? name) => id is { } other ? new OtherCluster(other, name!) : null;
        var views = members.Select((k, i) =>
        {
            var (fit, nearest, bridge) = fits[snapshot.KeywordIds[k]];
            return new MemberView(
                snapshot.KeywordIds[k],
                snapshot.Keywords[k].Phrase,
                snapshot.Keywords[k].Volume,
                snapshot.Keywords[k].Difficulty,
                snapshot.Keywords[k].Intent,
                Overlap.Count(lists.Urls(primary), lists.Urls(k)),
                RankBiasedOverlap.Extrapolated(lists.Urls(primary), lists.Urls(k)),
                OwnPosition(snapshot, k),
                fit.Fit,
                fit.Fit < 0 ? Other(fit.NearestId, nearest) : null,
                Other(fit.BridgeId, bridge),
                margins[i]?.Value,
                margins[i] is { IsUnsettled: true, OtherCluster: >= 0 and var next } ? new OtherCluster(all[next].Id, names[all[next].Id].Name) : null);
        }).ToList();
        var grid = ResultGrid.Of([.. members.Take(GridColumns)], lists);
        var secondary = views.Skip(1).Select(v => v.Overlap).ToList();
        return new ClusterDetail(
            cluster,
            [.. views.Take(MembersShown)],
            ResultEndpoints.Named(session, [.. StagedStore.ExpectedIn(session, cluster.Id).Take(ExpectedShown)]),
            settings.Depth,
            settings.MinOverlap,
            secondary.Count == 0 ? null : secondary.Min(),
            secondary.Count == 0 ? null : secondary.Max(),
            grid.Rows.Count(r => r.Shared * 2 >= grid.Keywords.Length),
            ClusterCautions.Of(members, snapshot.Keywords, lists, snapshot.UrlIdentities, settings),
            margins.Count(m => m is { IsUnsettled: true }),
            new GridView(
                [.. grid.Keywords.Select(k => new GridColumn(snapshot.KeywordIds[k], snapshot.Keywords[k].Phrase))],
                [.. grid.Rows.Take(GridRows).Select(r => new GridRow(WithoutScheme(snapshot.UrlIdentities[r.Url]), r.Shared, snapshot.PageOfUrl[r.Url] >= 0, r.Positions))],
                members.Length - grid.Keywords.Length,
                Math.Max(0, grid.Rows.Length - GridRows)),
            FindingStore.List(session, new ListQuery(), new FindingFilter(ClusterId: cluster.Id)).Rows);
    }

    private static int? OwnPosition(ProjectSnapshot snapshot, int keyword)
    {
        var standings = Core.PageMap.ResultsEvidence.Standings(keyword, snapshot.Lists, snapshot.PageOfUrl);
        return standings.Length == 0 ? null : standings[0].Position;
    }

    internal static string WithoutScheme(string identity) =>
        identity.StartsWith("https://", StringComparison.Ordinal) ? identity["https://".Length..] : identity;

    private static double? Rounded(double? value, int digits) => value is { } number ? Math.Round(number, digits) : null;
}

/// <summary>Groups all captured keywords.</summary>
public sealed class RegroupJob(Project project) : IJob
{
    public const string Name = "regroup";

    public string Kind => Name;

    public string Stage(JobRow job) => "clusters";

    public Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        var (settings, listId) = JsonSerializer.Deserialize<RegroupArguments>(job.Arguments)!;
        static string Says(int clusters) => $"{clusters:N0} clusters.";
        var made = Regroup(
            project, settings, listId, phase => progress(new JobProgress(0, 0, phase)), (session, clusters) => JobStore.Done(session, job.Id, Says(clusters), project.Now), stop);
        return Task.FromResult(Says(made));
    }

    /// <summary>Groups captured keywords; names, pages and manual edits are kept. One undoable step.</summary>
    /// <param name="project">The project.</param>
    /// <param name="settings">Without a fault.</param>
    /// <param name="listId">The list to group, whose keywords alone change their clusters; null for all keywords.</param>
    /// <param name="progress">Told what is being done.</param>
    /// <param name="also">What is written with it, given the number of clusters.</param>
    /// <param name="stop">Ends it; nothing is changed then.</param>
    /// <returns>Number of clusters.</returns>
    public static int Regroup(
        Project project, ClusterSettings settings, ListId? listId = null, Action<string>? progress = null, Action<WriteSession, int>? also = null, CancellationToken stop = default)
    {
        // Loads what is not loaded yet without keeping others from writing: the snapshot now, and the texts of pages while clusters are made.
        project.Read((_, _) => 0);
        _ = Task.Factory.StartNew(() => project.Read((session, snapshot) => snapshot.Text(session)), CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
        return project.ChangeInJob("Regroup", session =>
        {
            var snapshot = project.Snapshot(session);
            progress?.Invoke("Comparing result lists");
            var lists = snapshot.Compared(settings);
            var (old, stored) = StoredClusters.Standing(session, snapshot, listId);
            var standing = stored.WithoutOffered(lists, settings.MinOverlap, snapshot.Order);
            var previous = settings.HoldsFrom(ProjectStore.Grouping(session)) ? standing.ToHold(settings.Hysteresis) : null;
            // Computed beside, so that stopping does not wait for the seconds that it takes; what comes of it then is dropped.
            var grouping = Task.Run(() => Clustering.Of(snapshot.Keywords, Regrouping.Free(lists, standing), settings, snapshot.Order, previous), stop);
            var grouped = grouping.WaitAsync(stop).GetAwaiter().GetResult();

            progress?.Invoke("Keeping names, pages and manual edits");
            var clusters = Regrouping.Of(grouped, snapshot.Keywords, standing, snapshot.Ranks);
            ClusterStore.Replace(session, [.. clusters.Select(c => new GroupedCluster(
                c.GoesOnFrom < 0 ? default : old[c.GoesOnFrom].Id,
                snapshot.KeywordIds[c.Cluster.Primary],
                [.. c.Cluster.Members.Select(k => snapshot.KeywordIds[k])]))]);
            ProjectStore.SaveGrouping(session, settings, listId, project.Now);
            session.Touch(Data.TopicsRebuild);
            also?.Invoke(session, clusters.Count);
            progress?.Invoke("Updating topics, suggestions and findings");
            return clusters.Count;
        }, stop);
    }
}
