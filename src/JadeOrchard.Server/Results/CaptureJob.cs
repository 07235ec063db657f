using System.Collections.Concurrent;
using System.Globalization;
using System.Text.Json;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Results;
using JadeOrchard.Server.Clusters;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Services;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Results;

/// <summary>Asks the search service for result lists, one keyword after another, and keeps each at once.</summary>
/// <remarks>
/// What is to be asked is in the database. Each request bears a key that follows from the job and the keyword: should
/// the program be killed between the answer and its saving, the request is repeated under the same key, which the
/// service neither works for nor charges twice.
/// </remarks>
public sealed class CaptureJob(Project project, OutsideServices services) : IJob
{
    public const string Name = "capture";

    private ResultStore.UrlIds _urls = new();

    public string Kind => Name;

    public string Stage(JobRow job) => "results";

    public string Lane => Name;

    public bool CanResume => true;

    public async Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        var stages = new CaptureStages(project, job);
        while (true)
        {
            if (project.Read(session => CaptureStore.Waiting(session, job.Id)).Count == 0 && !stages.Advance())
                break;
            await Ask(job, progress, stop);
        }

        var (counts, expected) = project.Read(session => (CaptureStore.Counts(session, job.Id), CaptureStages.Says(session, job.Id)));
        return $"{Number(counts.Captured)} result lists captured"
            + (counts.Empty > 0 ? $", {Number(counts.Empty)} came back empty" : "")
            + (counts.Failed > 0 ? $", {Number(counts.Failed)} failed" : "") + "." + expected;
    }

    /// <summary>Asks for what is waiting.</summary>
    private async Task Ask(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        var (market, settings, waiting, counts, identity, phase) = project.Read(session => (
            ProjectStore.Get(session), ProjectStore.Settings(session).Capture, CaptureStore.Waiting(session, job.Id), CaptureStore.Counts(session, job.Id), ProjectStore.Identity(session),
            StagedStore.Find(session, job.Id)?.Phase));
        services.Forgive(ServiceName.Search);
        var says = phase switch { null => "Capturing result lists", StagedPhase.Auditing => "Checking some of the expected keywords", _ => "Capturing in stages, what tells most first" };
        var done = counts.Done;
        using var pace = new Pace(settings.RatePerSecond);
        using var giveUp = CancellationTokenSource.CreateLinkedTokenSource(stop);
        ServiceException? down = null;
        // What failed since the last answer: should the service turn out to be down, it is asked for again.
        var failedInARow = new ConcurrentQueue<KeywordId>();
        try
        {
            await Parallel.ForEachAsync(waiting, new ParallelOptions { MaxDegreeOfParallelism = settings.AtOnce, CancellationToken = giveUp.Token }, async (item, token) =>
            {
                await pace.Wait(token);
                try
                {
                    var answer = await services.Ask<SearchAnswer>(
                        ServiceName.Search, "search", token, new SearchRequest(item.Phrase, market.Country, market.Language, settings.Depth), $"{identity}-{job.Id}-{item.KeywordId}");
                    Save(job, item, answer, settings.Depth);
                    failedInARow.Clear();
                }
                catch (ServiceException e) when (e is PassingServiceException)
                {
                    Fail(job, item, e.Message);
                    failedInARow.Enqueue(item.KeywordId);
                }
                catch (ServiceException e)
                {
                    down = e;
                    await giveUp.CancelAsync();
                    return;
                }

                progress(new JobProgress(Interlocked.Increment(ref done), counts.Total, says));
            });
        }
        catch (OperationCanceledException)
        {
            if (down is ServiceDownException)
            {
                project.ChangeAsJob(job.Id, job.Label, session =>
                {
                    foreach (var keyword in failedInARow)
                        CaptureStore.Forgive(session, job.Id, keyword);
                    return 0;
                });
            }

            if (down is not null)
                throw new JobPausedException($"Paused: {down.Message} Press Resume when the service works again.");
            throw;
        }
    }

    public void Ended(JobRow job) => ArrivedKeywords.Place(project);

    public string Place(JobRow job) => Number(project.Read(session => CaptureStore.Counts(session, job.Id)).Done);

    public string Kept(JobRow job)
    {
        var counts = project.Read(session => CaptureStore.Counts(session, job.Id));
        return $"{Number(counts.Done)} of {Number(counts.Total)} are done and kept; nothing is asked for twice. It can go on from there.";
    }

    private static string Number(long count) => count.ToString("N0", CultureInfo.InvariantCulture);

    private void Save(JobRow job, CaptureItem item, SearchAnswer answer, int depth)
    {
        try
        {
            project.ChangeAsJob(job.Id, job.Label, session => Save(session, job.Id, item, answer, depth));
        }
        catch
        {
            _urls = new ResultStore.UrlIds();
            throw;
        }
    }

    private int Save(WriteSession session, JobId jobId, CaptureItem item, SearchAnswer answer, int depth)
    {
        // The keyword may have been taken out of the project while the service was asked.
        if (!KeywordStore.Exists(session, item.KeywordId))
            return 0;
        var now = project.Now;
        var day = DateOnly.FromDateTime(now.UtcDateTime).DayNumber;
        using var writer = new ResultStore.ListWriter(session, _urls);
        var list = writer.Begin(item.KeywordId, day, now.UtcDateTime.ToString("O"), "capture", depth);
        var kept = 0;
        foreach (var result in answer.Results)
        {
            // What is no web address, or stands at no position, is passed over; the rest of the list is good.
            if (result.Position < 1 || result.Position > ResultTable.MaxPosition || !UrlIdentity.TryOf(result.Url, UrlFolds.All, out var identity))
                continue;
            writer.Add(list, result.Position, result.Url, identity, result.Title, result.Snippet);
            kept++;
        }

        writer.AddPhrases(list, PhraseKind.Question, (answer.Questions ?? []).Where(IsPhrase));
        writer.AddPhrases(list, PhraseKind.Related, (answer.Related ?? []).Where(IsPhrase));
        if (kept == 0)
            writer.MarkEmpty(list);
        session.Touch(Data.Evidence);
        CaptureStore.SetState(session, jobId, item.KeywordId, kept == 0 ? CaptureState.Empty : CaptureState.Captured, "");
        return 0;
    }

    private void Fail(JobRow job, CaptureItem item, string note) => project.ChangeAsJob(job.Id, job.Label, session =>
    {
        CaptureStore.SetState(session, job.Id, item.KeywordId, CaptureState.Failed, note);
        CaptureStore.MarkFailed(session, item.KeywordId, note);
        return 0;
    });

    private static bool IsPhrase(string? text) => text is { Length: > 0 and <= 500 };
}

/// <summary>What a capture was asked for, for its history.</summary>
/// <param name="Again">Fresh lists were asked for as well.</param>
/// <param name="Price">At the price of that time.</param>
public sealed record CaptureArguments(bool Again, double Price, string Currency)
{
    public static CaptureArguments Of(JobRow job) => JsonSerializer.Deserialize<CaptureArguments>(job.Arguments)!;
}
