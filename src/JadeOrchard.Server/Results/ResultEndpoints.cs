using System.Text.Json;
using JadeOrchard.Core.Results;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Keywords;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Results;

/// <summary>A keyword with one of its result lists, and which others there are.</summary>
/// <param name="List">The list that is shown; null where there is none.</param>
/// <param name="Lists">All its lists, newest first.</param>
/// <param name="Questions">What people also ask.</param>
/// <param name="Related">Related searches.</param>
public sealed record ResultListView(
    KeywordRow Keyword, ListInfo? List, IReadOnlyList<ListInfo> Lists, IReadOnlyList<ResultRow> Results, IReadOnlyList<string> Questions, IReadOnlyList<string> Related);

/// <summary>A URL in one or both of two result lists.</summary>
/// <param name="Before">Position in the first; null where it is not there.</param>
/// <param name="After">Position in the second; null where it is not there.</param>
public sealed record ComparedRow(string Url, string? Title, bool IsOwn, int? Before, int? After, ListChange Change);

/// <summary>Two result lists next to each other.</summary>
/// <param name="Overlap">URLs that both have among the first ten.</param>
/// <param name="RankBiasedOverlap">0 to 1.</param>
public sealed record ListComparisonView(string BeforeLabel, string AfterLabel, int Overlap, double RankBiasedOverlap, IReadOnlyList<ComparedRow> Rows);

/// <summary>Which keywords to capture.</summary>
/// <param name="FreshDays">Lists younger than this are not asked for again; null for the project's own.</param>
/// <param name="Again">Ask for them all the same.</param>
public sealed record CaptureRequest(KeywordSelection Selection, int? FreshDays = null, bool Again = false);

/// <summary>What a capture would ask for and cost.</summary>
/// <param name="IsPossible">An address of the search service is given.</param>
public sealed record EstimateView(long Chosen, long Fresh, int FreshDays, long ToAsk, double PricePerRequest, double Cost, string Currency, int Depth, bool IsPossible);

/// <summary>A capture with what came of it.</summary>
public sealed record CaptureView(JobView Job, CaptureCounts Counts, double Cost, string Currency);

/// <summary>Captured result lists: capture, look, compare, take away.</summary>
public static class ResultEndpoints
{
    private const int CapturesShown = 30;
    private const int FailedShown = 200;
    private const int ComparedDepth = 10;

    public static void MapResults(this RouteGroupBuilder api)
    {
        api.MapGet("/keywords/{id:long}/results", Results<Ok<ResultListView>, ProblemHttpResult> (KeywordId id, ResultListId? listId, Project project) =>
                project.Read<Results<Ok<ResultListView>, ProblemHttpResult>>(session =>
                {
                    if (KeywordStore.Find(session, id) is not { } keyword)
                        return KeywordEndpoints.NoKeyword(id);
                    var lists = ResultStore.Lists(session, id);
                    var list = lists.FirstOrDefault(l => listId is null || l.ListId == listId);
                    return list is null
                        ? TypedResults.Ok(new ResultListView(keyword, null, lists, [], [], []))
                        : TypedResults.Ok(new ResultListView(
                            keyword, list, lists, ResultStore.Results(session, list.ListId), ResultStore.Phrases(session, list.ListId, PhraseKind.Question),
                            ResultStore.Phrases(session, list.ListId, PhraseKind.Related)));
                }))
            .WithName("resultList");

        api.MapGet("/keywords/{id:long}/results/changes", Results<Ok<ListComparisonView>, ProblemHttpResult> (KeywordId id, ResultListId before, ResultListId after, Project project) =>
                project.Read<Results<Ok<ListComparisonView>, ProblemHttpResult>>(session =>
                {
                    var lists = ResultStore.Lists(session, id);
                    return lists.FirstOrDefault(l => l.ListId == before) is { } first && lists.FirstOrDefault(l => l.ListId == after) is { } second
                        ? TypedResults.Ok(Compare(session, before, after, first.CapturedOn.ToString("yyyy-MM-dd", null), second.CapturedOn.ToString("yyyy-MM-dd", null)))
                        : Problems.NotFound("The keyword has no such result list any more.");
                }))
            .WithName("resultChanges");

        api.MapGet("/results/side-by-side", Results<Ok<ListComparisonView>, ProblemHttpResult> (KeywordId a, KeywordId b, Project project) =>
                project.Read<Results<Ok<ListComparisonView>, ProblemHttpResult>>(session =>
                {
                    if (KeywordStore.Find(session, a) is not { } first || KeywordStore.Find(session, b) is not { } second)
                        return KeywordEndpoints.NoKeyword(KeywordStore.Find(session, a) is null ? a : b);
                    var (ofFirst, ofSecond) = (ResultStore.NewestList(session, a), ResultStore.NewestList(session, b));
                    return ofFirst is null || ofSecond is null
                        ? Problems.Conflict($"“{(ofFirst is null ? first.Phrase : second.Phrase)}” has no result list yet. Capture it first.")
                        : TypedResults.Ok(Compare(session, ofFirst.ListId, ofSecond.ListId, first.Phrase, second.Phrase));
                }))
            .WithName("sideBySide");

        api.MapPost("/captures/estimate", Results<Ok<EstimateView>, ProblemHttpResult> (CaptureRequest request, Project project) =>
                Fault(request) is { } fault ? fault : TypedResults.Ok(project.Read(session => Estimate(session, request, project))))
            .WithName("estimateCapture");

        api.MapPost("/captures", Results<Accepted<JobView>, ProblemHttpResult> (CaptureRequest request, Project project, JobRunner runner) =>
            {
                if (Fault(request) is { } fault)
                    return fault;
                var estimate = project.Read(session => Estimate(session, request, project));
                if (!estimate.IsPossible)
                    return Problems.Conflict("No address is given for the search service. Give one under “Services” on the Site screen, or import result lists instead.");
                if (estimate.ToAsk == 0)
                    return Problems.Conflict(estimate.Chosen == 0 ? "No keyword is chosen." : "All of them have a fresh result list. Ask for them again only if you mean to pay for them again.");
                var id = project.Change<JobId>(null, session =>
                {
                    var job = JobStore.Add(
                        session, CaptureJob.Name, $"Capture of {estimate.ToAsk:N0} result {(estimate.ToAsk == 1 ? "list" : "lists")}",
                        JsonSerializer.Serialize(new CaptureArguments(request.Again, estimate.PricePerRequest, estimate.Currency)), project.Now);
                    CaptureStore.Begin(session, job, request.Selection, FreshSince(project, estimate.FreshDays), request.Again);
                    return job;
                }).Value;
                return JobEndpoints.Accepted(runner.Enqueue(id));
            })
            .WithName("capture");

        api.MapGet("/captures", (Project project, JobRunner runner) => project.Read(session => JobStore.Newest(session, CaptureJob.Name, CapturesShown).Select(job =>
            {
                var (counts, arguments) = (CaptureStore.Counts(session, job.Id), CaptureArguments.Of(job));
                return new CaptureView(runner.View(job), counts, (counts.Captured + counts.Empty) * arguments.Price, arguments.Currency);
            }).ToList()))
            .WithName("captures");

        api.MapGet("/captures/schedule", (Project project) => project.Read(session => RecaptureSchedule.View(session, DateOnly.FromDateTime(project.Now.UtcDateTime)))).WithName("recaptureSchedule");

        api.MapGet("/captures/{id:long}/failed", (JobId id, Project project) => project.Read(session => CaptureStore.Failed(session, id, FailedShown))).WithName("failedCaptures");

        api.MapPost("/captures/{id:long}/retry", Results<Accepted<JobView>, ProblemHttpResult> (JobId id, Project project, JobRunner runner) =>
            {
                var refusal = project.Change(null, session =>
                {
                    if (JobStore.Find(session, id) is not { Kind: CaptureJob.Name } || CaptureStore.Counts(session, id).Failed == 0 || runner.IsActive(id))
                        return Problems.Conflict("Nothing of that capture failed, or it is still under way.");
                    CaptureStore.RetryFailed(session, id);
                    JobStore.SetState(session, id, JobState.Waiting, "", null);
                    return null;
                });
                if (refusal is not null)
                    return refusal;
                return JobEndpoints.Accepted(runner.Enqueue(id));
            })
            .WithName("retryCapture");

        api.MapGet("/results.csv", ([AsParameters] KeywordFilter filter, string? search, Project project) => Listing.Csv(
                "results.csv",
                ["keyword", "position", "url", "title", "snippet", "captured_at"],
                Exported(project, filter, search).SelectMany(l => l.Results.Select(r => new object?[] { l.Keyword, r.Position, r.Url, r.Title, r.Snippet, l.CapturedAt }))))
            .ExcludeFromDescription();

        api.MapGet("/results.json", ([AsParameters] KeywordFilter filter, string? search, Project project) =>
            {
                var lists = Exported(project, filter, search).Select(l => new Dictionary<string, object?>
                {
                    ["keyword"] = l.Keyword,
                    ["captured_at"] = l.CapturedAt,
                    ["results"] = l.Results.Select(r => new Dictionary<string, object?> { ["position"] = r.Position, ["url"] = r.Url, ["title"] = r.Title, ["snippet"] = r.Snippet }),
                    ["questions"] = l.Questions,
                    ["related"] = l.Related,
                });
                return TypedResults.File(JsonSerializer.SerializeToUtf8Bytes(lists), "application/json", "results.json");
            })
            .ExcludeFromDescription();
    }

    private static ProblemHttpResult? Fault(CaptureRequest request) =>
        request.FreshDays is < 0 or > 3650 ? Problems.Invalid("freshDays", "Days must be from 0 to 3,650.") : null;

    private static DateOnly FreshSince(Project project, int days) => DateOnly.FromDateTime(project.Now.UtcDateTime).AddDays(1 - days);

    private static EstimateView Estimate(Session session, CaptureRequest request, Project project)
    {
        var settings = ProjectStore.Settings(session).Capture;
        var days = request.FreshDays ?? settings.FreshDays;
        var estimate = CaptureStore.Estimate(session, request.Selection, FreshSince(project, days), request.Again);
        return new EstimateView(
            estimate.Chosen, estimate.Fresh, days, estimate.ToAsk, settings.PricePerRequest, estimate.ToAsk * settings.PricePerRequest, settings.Currency, settings.Depth,
            ServiceStore.All(session).Any(s => s.Name == ServiceName.Search && s.Address.Length > 0));
    }

    private static List<ExportedList> Exported(Project project, KeywordFilter filter, string? search) => project.Read(session =>
    {
        KeywordStore.Select(session, new KeywordSelection(null, filter, search));
        return ResultStore.Export(session).ToList();
    });

    private static ListComparisonView Compare(Session session, ResultListId before, ResultListId after, string beforeLabel, string afterLabel)
    {
        var (first, second) = (ResultStore.Results(session, before), ResultStore.Results(session, after));
        var indexes = new Dictionary<string, int>(StringComparer.Ordinal);
        var rows = new List<ResultRow>();
        List<PlacedUrl> Indexed(IReadOnlyList<ResultRow> list) => [.. list.Select(r =>
        {
            if (!indexes.TryGetValue(r.Identity, out var index))
            {
                indexes[r.Identity] = index = rows.Count;
                rows.Add(r);
            }

            return new PlacedUrl(index, r.Position);
        })];
        var (a, b) = (Indexed(first), Indexed(second));
        int[] topOfFirst = [.. a.Where(r => r.Position <= ComparedDepth).Select(r => r.Url)];
        int[] topOfSecond = [.. b.Where(r => r.Position <= ComparedDepth).Select(r => r.Url)];
        return new ListComparisonView(
            beforeLabel,
            afterLabel,
            Overlap.Count(topOfFirst, topOfSecond),
            RankBiasedOverlap.Extrapolated(topOfFirst, topOfSecond),
            [.. ListComparison.Of(a, b).Select(c => new ComparedRow(
                rows[c.Url].Url, rows[c.Url].Title, rows[c.Url].PageId is not null, c.Before > 0 ? c.Before : null, c.After > 0 ? c.After : null, c.Change))]);
    }
}
