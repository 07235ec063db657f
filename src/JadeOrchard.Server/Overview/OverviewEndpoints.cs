using System.Globalization;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Site;
using JadeOrchard.Server.Clusters;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Site;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Overview;

/// <summary>The project with its settings, the stages of the track, and what can be undone.</summary>
public sealed record ProjectView(ProjectProfile Project, RegroupRequest Grouping, string? GroupedAt, IReadOnlyList<StageView> Track, string? Undo, string? Redo);

/// <summary>A stage of the track.</summary>
/// <param name="Says">Its counts, in words.</param>
/// <param name="Share">How far it has come, 0 to 1.</param>
/// <param name="Warns">Something waits there that stands in the site's own way.</param>
public sealed record StageView(string Stage, string Says, double Share, bool Warns);

/// <summary>Where the site stands.</summary>
/// <param name="Plots">The clusters of most demand, for the plot map.</param>
/// <param name="MorePlots">Clusters that are not among them.</param>
public sealed record OverviewView(
    long Topics, long Clusters, long Keywords, long Demand, IReadOnlyList<MarkShare> Marks, IReadOnlyList<PlotView> Plots, long MorePlots, long MoreDemand,
    IReadOnlyList<NextStep> Next, DateOnly? CapturedOn);

/// <summary>The clusters under one mark.</summary>
public sealed record MarkShare(Coverage Mark, long Clusters, long Demand, double Share);

/// <summary>A cluster of the plot map.</summary>
public sealed record PlotView(long Id, string Name, long Demand, Coverage Mark, string? PageUrl, long? TopicId, string? TopicName);

/// <summary>Something to do next, with what it is worth.</summary>
/// <param name="Stage">Where it is done.</param>
public sealed record NextStep(string Stage, string Title, string Detail, string Worth, string WorthUnit);

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
        api.MapGet("/project", (Project project) => project.Read(session =>
            {
                var (undo, redo) = UndoLog.Next(session);
                return new ProjectView(ProjectStore.Get(session), RegroupRequest.Of(ProjectStore.Grouping(session), ProjectStore.GroupedList(session)), ProjectStore.GroupedAt(session), Track(session), undo, redo);
            }))
            .WithName("project");

        api.MapPut("/project", Results<NoContent, ProblemHttpResult> (ProjectRequest request, Project project) =>
            {
                var site = new OwnSite(request.Host);
                if (site.Host.Length == 0 || !(site.Host.Contains('.', StringComparison.Ordinal) || site.Host == "localhost" || site.Host[0] == '['))
                    return Problems.Invalid("host", $"'{request.Host}' is no host. Write the site's domain, such as fenwater.example.");
                if (!IsTwoLetters(request.Country))
                    return Problems.Invalid("country", $"'{request.Country}' is no country. Write its two letters, such as GB.");
                if (!IsTwoLetters(request.Language))
                    return Problems.Invalid("language", $"'{request.Language}' is no language. Write its two letters, such as en.");
                project.Change("Change site and market", (WriteSession session) =>
                {
                    var before = ProjectStore.Get(session);
                    ProjectStore.Save(session, new ProjectProfile(
                        string.IsNullOrWhiteSpace(request.Name) ? site.Host : request.Name.Trim(), site.Host, request.Country.ToUpperInvariant(), request.Language.ToLowerInvariant(),
                        [.. request.BrandTerms.Select(t => t.ReplaceLineEndings(" ").Trim()).Where(t => t.Length > 0)]));
                    var settings = ProjectStore.Settings(session);
                    if (before.Host != site.Host || StartUrlIn(request.Host, site).Length > 0)
                        ProjectStore.SaveSettings(session, settings with { Scan = settings.Scan with { StartUrl = StartUrlIn(request.Host, site) } });
                });
                return TypedResults.NoContent();
            })
            .WithName("saveProject");

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
        var text = given.Trim();
        var hasScheme = text.Contains("://", StringComparison.Ordinal);
        if (!hasScheme && text.TrimEnd('/').Equals(site.Host, StringComparison.OrdinalIgnoreCase))
            return site.Host == "localhost" || char.IsAsciiDigit(site.Host[^1]) ? $"http://{site.Host}/" : "";
        if (!hasScheme && text.Equals("www." + site.Host, StringComparison.OrdinalIgnoreCase))
            return "";
        var isLocal = site.Host is "localhost" || char.IsAsciiDigit(site.Host[^1]) || site.Host[0] == '[';
        return hasScheme ? text : $"{(isLocal ? "http" : "https")}://{text}";
    }

    private static bool IsTwoLetters(string text) => text.Length == 2 && text.All(char.IsAsciiLetter);

    private static List<StageView> Track(Session session)
    {
        var pages = PageStore.Count(session);
        var keywords = KeywordStore.Count(session);
        var captured = KeywordStore.CapturedCount(session);
        var grouped = ClusterStore.KeywordCount(session);
        var clusters = ClusterStore.Count(session);
        var topics = TopicStore.Count(session);
        var (mapped, toWrite) = PageMapStore.Counts(session);
        var counts = FindingStore.Counts(session);
        var open = counts.Where(c => c.State == FindingState.Open).Sum(c => c.Count);
        var settled = counts.Where(c => c.State is FindingState.Dismissed or FindingState.Resolved).Sum(c => c.Count);
        var all = counts.Sum(c => c.Count);
        return
        [
            new("site", pages == 0 ? "no pages yet" : Counted(pages, "page"), pages > 0 ? 1 : 0, false),
            new("keywords", keywords == 0 ? "none yet" : Counted(keywords, "keyword"), keywords > 0 ? 1 : 0, false),
            new("results", captured == 0 ? "none captured" : $"{Number(captured)} captured", Share(captured, keywords), false),
            new("clusters", clusters == 0 ? "not grouped yet" : topics == 0 ? Counted(clusters, "cluster") : $"{Number(clusters)} in {Counted(topics, "topic")}", Share(grouped, captured), false),
            new("page-map", $"{Number(mapped)} of {Number(clusters)} mapped", Share(mapped, clusters), false),
            new("findings", open == 0 ? "none open" : $"{Number(open)} open", Share(settled, all), counts.Any(c => c.State == FindingState.Open && c.Kind.IsCannibalization())),
            new("plan", $"{Counted(mapped, "page")}, {Number(toWrite)} to write", Share(mapped - toWrite, mapped), false),
        ];
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
            [.. Next(session)],
            KeywordStore.NewestCapture(session));
    }

    /// <summary>What to do next, in the order in which planners work; each line says what it is worth.</summary>
    private static IEnumerable<NextStep> Next(Session session)
    {
        if (ProjectStore.Get(session).Host.Length == 0)
            yield return new NextStep("site", "Name the site", "its domain and market, so that own pages can be told from others", "", "");
        var keywords = KeywordStore.Count(session);
        if (keywords == 0)
        {
            yield return new NextStep("keywords", "Bring keywords", "ideas for a seed phrase, suggestions, rankings, or a file of your own", "", "");
            yield break;
        }

        if (PageStore.Count(session) == 0)
            yield return new NextStep("site", "Read the site", "a scan of its sitemap or links, or a page list of your own", "", "");
        var missing = KeywordStore.NotCaptured(session);
        if (missing.Count > 0)
            yield return new NextStep("results", $"Capture results of {Counted(missing.Count, "keyword")}", "without them a keyword cannot be grouped", Number(missing.Volume), "searches a month");
        var waiting = KeywordStore.NotGrouped(session);
        if (waiting.Count > 0)
            yield return new NextStep("clusters", $"Group {Counted(waiting.Count, "keyword")}", "captured, but in no cluster yet", Number(waiting.Volume), "searches a month");

        var open = ClusterStore.List(session, new ListQuery(Limit: 0), new ClusterFilter(Decided: false)).Tally;
        var clear = ClusterStore.List(session, new ListQuery(Limit: 0), new ClusterFilter(Decided: false, Verdict: Verdict.Clear)).Tally;
        if (open.Rows > 0)
            yield return new NextStep("page-map", $"Map {Counted(open.Rows, "cluster")}", clear.Rows > 0 ? $"{Number(clear.Rows)} have a clear page" : "none has a clear page", Number(open.Demand), "demand");
        foreach (var (title, kinds, unit) in new[]
        {
            ("Decide {0} between own pages", Enum.GetValues<FindingKind>().Where(k => k.IsCannibalization()).ToArray(), "clicks at stake"),
            ("Plan pages for {0}", [FindingKind.NoPage], "clicks to gain"),
            ("Look at {0} where the site is absent", [FindingKind.Absent], "clicks to gain"),
        })
        {
            var counts = FindingStore.Counts(session).Where(c => c.State == FindingState.Open && kinds.Contains(c.Kind)).ToList();
            var number = counts.Sum(c => c.Count);
            if (number == 0)
                continue;
            var largest = kinds.SelectMany(kind => FindingStore.List(session, new ListQuery(Limit: 1), new FindingFilter(kind, FindingState.Open)).Rows).MaxBy(f => f.AtStake)!;
            // Several conflicts of the same two pages are about the same clicks.
            var atStake = kinds.Length > 1 ? FindingStore.List(session, new ListQuery(Limit: 0), new FindingFilter(State: FindingState.Open, Group: kinds[0].Group())).Tally.AtStake : counts.Sum(c => c.AtStake);
            var noun = kinds.Length > 1 ? "conflict" : kinds[0] == FindingKind.NoPage ? "uncovered cluster" : "cluster";
            yield return new NextStep("findings", string.Format(CultureInfo.InvariantCulture, title, Counted(number, noun)), $"the largest: {largest.ClusterName ?? largest.PageUrl}", Number((long)Math.Round(atStake)), unit);
        }
    }

    private static double Share(long part, long whole) => whole == 0 ? 0 : (double)part / whole;

    private static string Number(long count) => count.ToString("N0", CultureInfo.InvariantCulture);

    private static string Counted(long count, string noun) => $"{Number(count)} {noun}{(count == 1 ? "" : "s")}";
}
