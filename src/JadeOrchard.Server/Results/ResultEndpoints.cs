using System.Text.Json;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Results.Staged;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Keywords;
using JadeOrchard.Server.Team;
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
/// <param name="Expected">Why it is expected in a cluster without a list; null where it is not.</param>
public sealed record ResultListView(
    KeywordRow Keyword, ListInfo? List, IReadOnlyList<ListInfo> Lists, IReadOnlyList<ResultRow> Results, IReadOnlyList<string> Questions, IReadOnlyList<string> Related, ExpectedKeyword? Expected);

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
/// <param name="Certainty">Capture in stages, until the cluster of each keyword that is left is this certain: 0.5 or more, less than 1. Null for all of them at once.</param>
public sealed record CaptureRequest(KeywordSelection Selection, int? FreshDays = null, bool Again = false, double? Certainty = null);

/// <summary>What a capture would ask for and cost.</summary>
/// <param name="IsPossible">An address of the search service is given.</param>
/// <param name="UsualCertainty">That which is usually asked for in stages.</param>
public sealed record EstimateView(
    long Chosen, long Fresh, int FreshDays, long ToAsk, double PricePerRequest, double Cost, string Currency, int Depth, bool IsPossible, double UsualCertainty);

/// <summary>Asks what a capture in stages would cost.</summary>
/// <param name="Certainty">From which a keyword is expected, 0.5 to 1; null for the usual one.</param>
public sealed record StagesEstimateRequest(KeywordSelection Selection, double? Certainty = null);

/// <summary>About what a capture in stages would ask for and cost, told from the words of the keywords.</summary>
/// <param name="Open">Keywords that have no list yet.</param>
/// <param name="Lists">Of them asked for.</param>
/// <param name="Same">The share of all that are chosen that would be in the same cluster as by all lists, 0 to 1.</param>
public sealed record StagesEstimate(long Open, long Lists, double Cost, double Same);

/// <summary>The newest capture in stages, and how the project's keywords stand.</summary>
/// <param name="Captured">Keywords with a result list.</param>
/// <param name="Expected">Without one, but certain enough.</param>
/// <param name="Unknown">Neither.</param>
/// <param name="Capture">Null where nothing was captured in stages.</param>
public sealed record StagesView(long Captured, long Expected, long Unknown, StagedCaptureView? Capture);

/// <summary>A capture in stages.</summary>
/// <param name="Wanted">Keywords that it is about.</param>
/// <param name="Price">Of a list.</param>
/// <param name="Same">The share of its keywords that are in the same cluster as by all lists, by their certainties, 0 to 1.</param>
/// <param name="Saved">What the lists of those that are expected would have cost.</param>
/// <param name="Batches">How each batch left things.</param>
/// <param name="Audit">What the audit found; null before.</param>
/// <param name="IsBorneOut">Whether the audit bears out the certainty that was asked for; false before.</param>
public sealed record StagedCaptureView(
    JobView Job, StagedPhase Phase, double Certainty, long Wanted, double Price, string Currency, double Saved, double Same, IReadOnlyList<StagedBatch> Batches, CaptureAudit? Audit, bool IsBorneOut);

/// <summary>A keyword that is expected in a cluster without a result list.</summary>
/// <param name="Certainty">The probability that its list would put it there, 0 to 1.</param>
/// <param name="Supports">Captured keywords of the cluster that speak for it, most first.</param>
public sealed record ExpectedKeyword(KeywordId Id, string Phrase, long? Volume, double Certainty, IReadOnlyList<string> Supports);

/// <summary>A capture with what came of it.</summary>
public sealed record CaptureView(JobView Job, CaptureCounts Counts, double Cost, string Currency);

/// <summary>Captured result lists: capture, view, compare, export.</summary>
public static class ResultEndpoints
{
    private const int CapturesShown = 30;
    private const int FailedShown = 200;
    private const int ExpectedShown = 500;
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
                        ? TypedResults.Ok(new ResultListView(keyword, null, lists, [], [], [], StagedStore.FindExpected(session, id) is { } expected ? Named(session, [expected])[0] : null))
                        : TypedResults.Ok(new ResultListView(
                            keyword, list, lists, ResultStore.Results(session, list.ListId), ResultStore.Phrases(session, list.ListId, PhraseKind.Question),
                            ResultStore.Phrases(session, list.ListId, PhraseKind.Related), null));
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
            .ForReaders().WithName("estimateCapture");

        api.MapPost("/captures/estimate/stages", Results<Ok<StagesEstimate>, ProblemHttpResult> (StagesEstimateRequest request, Project project) =>
            {
                if (CertaintyFault(request.Certainty) is { } fault)
                    return fault;
                return TypedResults.Ok(project.Read(session => Stages(session, request, project)));
            })
            .ForReaders().WithName("estimateStages");

        api.MapPost("/captures", Results<Accepted<JobView>, ProblemHttpResult> (CaptureRequest request, Project project, JobRunner runner) =>
            {
                if (Fault(request) is { } fault)
                    return fault;
                var estimate = project.Read(session => Estimate(session, request, project));
                if (!estimate.IsPossible)
                    return Problems.Conflict("No address is given for the search service. Give one under “Services” on the Site screen, or import result lists instead.");
                if (request.Certainty is not null && project.Read(session => Stages(session, new StagesEstimateRequest(request.Selection), project)).Open == 0)
                    return Problems.Conflict("All of them have a result list already, so that there is nothing to do in stages.");
                if (request.Certainty is null && estimate.ToAsk == 0)
                    return Problems.Conflict(estimate.Chosen == 0 ? "No keyword is chosen." : "All of them have a fresh result list. Ask for them again only if you mean to pay for them again.");
                var changed = request.Certainty is null
                    ? project.Read(session => CaptureStore.Changed(session, request.Selection, ProjectStore.Settings(session).Capture.Depth, DateOnly.FromDateTime(project.Now.UtcDateTime)))
                    : new Dictionary<KeywordId, double>();
                var id = project.Change<JobId>(null, session =>
                {
                    var job = JobStore.Add(
                        session, CaptureJob.Name, request.Certainty is null ? $"Capture of {estimate.ToAsk:N0} result {(estimate.ToAsk == 1 ? "list" : "lists")}" : $"Capture of {estimate.Chosen:N0} keywords in stages",
                        JsonSerializer.Serialize(new CaptureArguments(request.Again, estimate.PricePerRequest, estimate.Currency)), project.Now);
                    if (request.Certainty is { } certainty)
                        StagedStore.Begin(session, job, certainty, request.Selection);
                    else
                        CaptureStore.Begin(session, job, request.Selection, FreshSince(project, estimate.FreshDays), request.Again, changed);
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

        api.MapGet("/captures/stages", (Project project, JobRunner runner) => project.Read(session =>
            {
                var (captured, expected, unknown) = StagedStore.Counts(session);
                return new StagesView(captured, expected, unknown, StagedStore.Newest(session) is { } row ? Staged(session, row, runner) : null);
            }))
            .WithName("captureStages");

        api.MapGet("/captures/{id:long}/expected", (JobId id, Project project) => project.Read(session =>
                Named(session, [.. StagedStore.Expected(session, id).Where(e => !e.IsAudited).Take(ExpectedShown)])))
            .WithName("expectedKeywords");

        api.MapGet("/captures/schedule", (Project project) => project.Read(session => RecaptureSchedule.View(session, DateOnly.FromDateTime(project.Now.UtcDateTime)))).WithName("recaptureSchedule");

        api.MapGet("/captures/{id:long}/failed", (JobId id, Project project) => project.Read(session => CaptureStore.Failed(session, id, FailedShown))).WithName("failedCaptures");

        api.MapPost("/captures/{id:long}/retry", Results<Accepted<JobView>, ProblemHttpResult> (JobId id, Project project, JobRunner runner) =>
            {
                var refusal = project.Change(null, session =>
                {
                    if (JobStore.Find(session, id) is not { Kind: CaptureJob.Name })
                        return Problems.NotFound($"There is no capture {id}.");
                    if (CaptureStore.Counts(session, id).Failed == 0 || runner.IsActive(id))
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
        request.FreshDays is < 0 or > 3650 ? Problems.Invalid("freshDays", "Days must be from 0 to 3,650.")
        : CertaintyFault(request.Certainty);

    private static ProblemHttpResult? CertaintyFault(double? asked) =>
        asked is { } certainty && !(certainty is >= 0.5 and < 1) ? Problems.Invalid("certainty", "The certainty must be 0.5 or more and less than 1.") : null;

    private static StagesEstimate Stages(Session session, StagesEstimateRequest request, Project project)
    {
        var staged = project.StagedCaptures.Of(project.Writes, "", () => StagedKeywords.Load(session));
        KeywordStore.Select(session, request.Selection);
        var chosen = KeywordStore.Selected(session).ToHashSet();
        bool IsChosen(int k) => chosen.Contains(staged.Ids[k]);
        var captured = Enumerable.Range(0, staged.Ids.Count).Count(k => staged.Lists.IsCaptured(k) && IsChosen(k));
        var (open, lists) = (chosen.Count - captured, staged.Capture.Likely(staged.Lists, IsChosen));
        var certainty = request.Certainty ?? StagedCapture.UsualCertainty;
        return new StagesEstimate(
            open, lists, lists * ProjectStore.Settings(session).Capture.PricePerRequest, StagedCapture.Same(chosen.Count, captured + lists, (open - lists) * certainty));
    }

    private static DateOnly FreshSince(Project project, int days) => DateOnly.FromDateTime(project.Now.UtcDateTime).AddDays(1 - days);

    private static EstimateView Estimate(Session session, CaptureRequest request, Project project)
    {
        var settings = ProjectStore.Settings(session).Capture;
        var days = request.FreshDays ?? settings.FreshDays;
        var estimate = CaptureStore.Estimate(session, request.Selection, FreshSince(project, days), request.Again);
        return new EstimateView(
            estimate.Chosen, estimate.Fresh, days, estimate.ToAsk, settings.PricePerRequest, estimate.ToAsk * settings.PricePerRequest, settings.Currency, settings.Depth,
            ServiceStore.All(session).Any(s => s.Name == ServiceName.Search && s.Address.Length > 0), StagedCapture.UsualCertainty);
    }

    /// <summary>Expected keywords with the phrases of what speaks for them.</summary>
    internal static List<ExpectedKeyword> Named(Session session, IReadOnlyList<ExpectedRow> expected)
    {
        var phrases = KeywordStore.Phrases(session, [.. expected.SelectMany(e => e.Supports.Append(e.KeywordId))]);
        var volumes = KeywordStore.Volumes(session, [.. expected.Select(e => e.KeywordId)]);
        return [.. expected.Select(e => new ExpectedKeyword(e.KeywordId, phrases[e.KeywordId], volumes[e.KeywordId], e.Certainty, [.. e.Supports.Where(phrases.ContainsKey).Select(s => phrases[s])]))];
    }

    private static StagedCaptureView Staged(Session session, StagedRow row, JobRunner runner)
    {
        var job = JobStore.Find(session, row.JobId)!;
        var (arguments, batches) = (CaptureArguments.Of(job), StagedStore.Batches(session, row.JobId));
        var expected = StagedStore.CountExpected(session, row.JobId);
        var wanted = StagedStore.CountKeywords(session, row.JobId);
        var same = batches is [.., var last] ? StagedCapture.Same(wanted, wanted - last.Expected - last.Unknown, last.ProbablyRight) : 0;
        return new StagedCaptureView(
            runner.View(job), row.Phase, row.Certainty, wanted, arguments.Price, arguments.Currency, expected * arguments.Price, same, batches, row.Audit,
            row.Audit?.BearsOut(row.Certainty) == true);
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
