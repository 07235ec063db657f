using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Overview;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Site;
using JadeOrchard.Server.Clusters;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Site;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Overview;

/// <summary>The project with its settings, the stages of the track, and what can be undone.</summary>
/// <param name="CanLoadDemo">The project is empty, and the demo can be loaded into it.</param>
/// <param name="Undo">What is undone next; null where there is nothing.</param>
/// <param name="Redo">What is redone next; null where there is nothing.</param>
/// <param name="UndoAuthor">Who did what is undone next; empty where nobody had to sign in.</param>
/// <param name="RedoAuthor">Who did what is redone next; empty where nobody had to sign in.</param>
/// <param name="Damage">What is wrong with its file, and what can still be read of it; null where nothing is known to be.</param>
public sealed record ProjectView(ProjectProfile Project, RegroupRequest Grouping, string? GroupedAt, IReadOnlyList<TrackStage> Track, string? Undo, string? Redo, bool CanLoadDemo, string? Damage, string UndoAuthor, string RedoAuthor);

/// <summary>Where the site stands.</summary>
/// <param name="Plots">The clusters of most demand, for the plot map.</param>
/// <param name="MorePlots">Clusters that are not among them.</param>
public sealed record OverviewView(
    long Topics, long Clusters, long Keywords, long Demand, IReadOnlyList<MarkShare> Marks, IReadOnlyList<PlotView> Plots, long MorePlots, long MoreDemand,
    IReadOnlyList<NextStep> Next, DateOnly? CapturedOn);

/// <summary>The clusters under one mark.</summary>
public sealed record MarkShare(Coverage Mark, long Clusters, long Demand, double Share);

/// <summary>A cluster of the plot map.</summary>
public sealed record PlotView(ClusterId Id, string Name, long Demand, Coverage Mark, string? PageUrl, TopicId? TopicId, string? TopicName);

/// <summary>Gives the project its settings.</summary>
public sealed record ProjectRequest(string Name, string Host, string Country, string Language, IReadOnlyList<string> BrandTerms);

/// <summary>What was undone or redone; null where there was nothing.</summary>
public sealed record UndoneView(string? Label);

/// <summary>Steps that cannot be undone any more, since the history had grown too long.</summary>
/// <param name="Dropped">Null where there are none.</param>
public sealed record DroppedView(DroppedSteps? Dropped);

/// <summary>The project as a whole: settings, track, overview, undo.</summary>
public static class OverviewEndpoints
{
    private const int PlotsShown = 120;

    public static void MapOverview(this RouteGroupBuilder api)
    {
        api.MapGet("/project", (Project project, Warming warming, DemoFolder demo) => project.Read(session =>
            {
                var (undo, redo) = UndoLog.Next(session);
                return new ProjectView(ProjectStore.Get(session), RegroupRequest.Of(ProjectStore.Grouping(session), ProjectStore.GroupedList(session)), ProjectStore.GroupedAt(session), TrackOf(session), undo?.Label, redo?.Label, demo.CanLoad(session), warming.Damage, undo?.Author ?? "", redo?.Author ?? "");
            }))
            .WithName("project");

        api.MapPut("/project", Results<NoContent, ProblemHttpResult> (ProjectRequest request, Project project) =>
            {
                if (ProfileFault(request.Host, request.Country, request.Language) is { } fault)
                    return fault;
                var site = new OwnSite(request.Host);
                project.Change("Change site and market", (WriteSession session) =>
                {
                    var before = ProjectStore.Get(session);
                    ProjectStore.Save(session, new ProjectProfile(
                        string.IsNullOrWhiteSpace(request.Name) ? site.Host : request.Name.Trim(), site.ToString(), request.Country.ToUpperInvariant(), request.Language.ToLowerInvariant(),
                        [.. request.BrandTerms.Select(t => t.ReplaceLineEndings(" ").Trim()).Where(t => t.Length > 0)]));
                    var settings = ProjectStore.Settings(session);
                    if (before.Host != site.ToString() || StartUrlIn(request.Host, site).Length > 0)
                        ProjectStore.SaveSettings(session, settings with { Scan = settings.Scan with { StartUrl = StartUrlIn(request.Host, site) } });
                });
                return TypedResults.NoContent();
            })
            .WithName("saveProject");

        api.MapPost("/demo", Results<Accepted<JobView>, ProblemHttpResult> (Project project, DemoFolder demo, JobRunner runner) =>
                project.Read(demo.CanLoad)
                    ? JobEndpoints.Accepted(runner.Add(DemoJob.Name, "Loading the demo", "{}"))
                    : Problems.Conflict("The demo goes into an empty project only, started with ./run --empty. This one has keywords or pages, or was started without the demo's files."))
            .WithName("loadDemo");

        api.MapGet("/history", (Project project) => project.Read(session => UndoLog.History(session))).WithName("history");
        api.MapGet("/history/dropped", (Project project) => new DroppedView(project.Read(UndoLog.Dropped))).WithName("droppedSteps");
        api.MapGet("/overview", (Project project) => project.Read(Overview)).WithName("overview");
        api.MapPost("/undo", (Project project) => Replay(project.Undo)).WithName("undo");
        api.MapPost("/redo", (Project project) => Replay(project.Redo)).WithName("redo");
    }

    private static Results<Ok<UndoneView>, ProblemHttpResult> Replay(Func<string?> replay)
    {
        try
        {
            return TypedResults.Ok(new UndoneView(replay()));
        }
        catch (StepUnderWayException e)
        {
            return Problems.Conflict(e.Message);
        }
    }

    /// <summary>Where the domain was written with a scheme, a port or a path, a scan begins there.</summary>
    private static string StartUrlIn(string given, OwnSite site)
    {
        var text = OwnSite.Split(given)[0];
        var hasScheme = text.Contains("://", StringComparison.Ordinal);
        if (!hasScheme && text.TrimEnd('/').Equals(site.Host, StringComparison.OrdinalIgnoreCase))
            return site.Host == "localhost" || char.IsAsciiDigit(site.Host[^1]) ? $"http://{site.Host}/" : "";
        if (!hasScheme && text.Equals("www." + site.Host, StringComparison.OrdinalIgnoreCase))
            return "";
        var isLocal = site.Host is "localhost" || char.IsAsciiDigit(site.Host[^1]) || site.Host[0] == '[';
        return hasScheme ? text : $"{(isLocal ? "http" : "https")}://{text}";
    }

    /// <returns>What is wrong with a site and its market; null where nothing is.</returns>
    internal static ProblemHttpResult? ProfileFault(string host, string country, string language)
    {
        var site = new OwnSite(host);
        return site.Places.IsEmpty || site.Hosts.Any(h => !(h.Contains('.', StringComparison.Ordinal) || h == "localhost" || h[0] == '['))
            ? Problems.Invalid("host", $"'{host}' is not a domain. Write the site's domain, such as fenwater.example, or several with commas between; a folder such as fenwater.example/shop limits it to that.")
            : !IsTwoLetters(country) ? Problems.Invalid("country", $"'{country}' is no country. Write its two letters, such as GB.")
            : !IsTwoLetters(language) ? Problems.Invalid("language", $"'{language}' is no language. Write its two letters, such as en.")
            : null;
    }

    private static bool IsTwoLetters(string text) => text.Length == 2 && text.All(char.IsAsciiLetter);

    /// <returns>The stages of the track, with how far each has come.</returns>
    internal static IReadOnlyList<TrackStage> TrackOf(Session session) => Track.Of(Counts(session));

    private static ProjectCounts Counts(Session session)
    {
        var (steps, live) = StepStore.Counts(session);
        var (briefs, sent) = BriefStore.Counts(session);
        var findings = FindingStore.Counts(session);
        long Count(params FindingState[] states) => findings.Where(c => states.Contains(c.State)).Sum(c => c.Count);
        return new ProjectCounts(
            ProjectStore.Get(session).Host.Length > 0,
            PageStore.Count(session),
            KeywordStore.Count(session),
            KeywordStore.CapturedCount(session),
            ClusterStore.KeywordCount(session),
            ClusterStore.Count(session),
            TopicStore.Count(session),
            PageMapStore.Counts(session).Assigned,
            steps,
            live,
            Count(FindingState.Open),
            Count(FindingState.Dismissed, FindingState.Resolved),
            Count(Enum.GetValues<FindingState>()),
            findings.Any(c => c.State == FindingState.Open && c.Kind == FindingKind.Conflict),
            briefs,
            sent,
            PerformanceStore.Days(session),
            FadingStore.All(session).Count);
    }

    private static OpenWork Work(Session session)
    {
        var (missing, waiting) = (KeywordStore.NotCaptured(session), KeywordStore.NotGrouped(session));
        ListTally Clusters(ClusterFilter filter) => ClusterStore.List(session, new ListQuery(Limit: 0), filter).Tally;
        var undecided = Clusters(new ClusterFilter(Decided: false));
        return new OpenWork(
            new CountWithWorth(missing.Count, missing.Volume),
            new CountWithWorth(waiting.Count, waiting.Volume),
            new CountWithWorth(undecided.Rows, undecided.Demand),
            Clusters(new ClusterFilter(Decided: false, Verdict: Verdict.Clear)).Rows,
            FindingStore.Open(session, FindingKind.Conflict),
            FindingStore.Open(session, FindingKind.Uncovered),
            FindingStore.Open(session, FindingKind.PageGap));
    }

    private static OverviewView Overview(Session session)
    {
        var marks = ClusterStore.ByCoverage(session);
        var demand = marks.Sum(m => m.Demand);
        var clusters = marks.Sum(m => m.Clusters);
        var plots = ClusterStore.List(session, new ListQuery(Limit: PlotsShown), new ClusterFilter(MinDemand: 1)).Rows;
        return new OverviewView(
            TopicStore.Count(session),
            clusters,
            ClusterStore.KeywordCount(session),
            demand,
            [.. Enum.GetValues<Coverage>().Select(mark =>
            {
                var found = marks.FirstOrDefault(m => m.Coverage == mark);
                return new MarkShare(mark, found?.Clusters ?? 0, found?.Demand ?? 0, Share(found?.Demand ?? 0, demand));
            })],
            [.. plots.Select(c => new PlotView(c.Id, c.Name, c.Demand, c.Mark, c.PageUrl, c.TopicId, c.TopicName))],
            clusters - plots.Count,
            demand - plots.Sum(p => p.Demand),
            NextSteps.Of(Counts(session), Work(session)),
            KeywordStore.NewestCapture(session));
    }

    private static double Share(long part, long whole) => whole == 0 ? 0 : (double)part / whole;
}
