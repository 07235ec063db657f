using System.Globalization;
using System.Text.Json;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Results;

/// <summary>What the schedule of captures does next.</summary>
/// <param name="NextOn">The day of the next run; null where it is off.</param>
/// <param name="Lists">Lists that a run would capture if it were due today.</param>
/// <param name="Cost">What they cost.</param>
/// <param name="CostPerMonth">What all runs of a month cost, as far as the budget goes.</param>
/// <param name="SpentThisMonth">By all captures, scheduled or not.</param>
/// <param name="Says">What came of the last run.</param>
public sealed record RecaptureView(DateOnly? NextOn, long Lists, double Cost, double CostPerMonth, double SpentThisMonth, double MonthlyBudget, string Currency, DateOnly? LastOn, string Says);

/// <summary>Captures lists again every few days, those first whose results have most probably changed, within the month's budget. Runs that were missed while the program was off are caught up by one.</summary>
public sealed partial class RecaptureSchedule(Project project, JobRunner jobs, TimeProvider clock, ILogger<RecaptureSchedule> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(1);
    private const double DaysOfMonth = 365.25 / 12;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        try
        {
            do
                Look();
            while (await timer.WaitForNextTickAsync(stoppingToken));
        }
        catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
        {
            // The program ends.
        }
    }

    internal static RecaptureView View(Session session, DateOnly today)
    {
        var settings = ProjectStore.Settings(session).Capture;
        var last = RecaptureStore.Last(session);
        var lists = settings.RecaptureDays == 0 ? 0 : Due(session, settings, today);
        var cost = lists * settings.PricePerRequest;
        return new RecaptureView(
            NextOn(settings, last, today), lists, cost, settings.RecaptureDays == 0 ? 0 : Math.Min(settings.MonthlyBudget, All(session, settings) * settings.PricePerRequest * DaysOfMonth / settings.RecaptureDays),
            Spent(session, today), settings.MonthlyBudget, settings.Currency, last?.RanOn, last?.Says ?? "");
    }

    /// <summary>Starts a run if one is due.</summary>
    public void Look()
    {
        try
        {
            var today = DateOnly.FromDateTime(project.Now.UtcDateTime);
            var (settings, last, isPossible) = project.Read(session => (ProjectStore.Settings(session).Capture, RecaptureStore.Last(session), ServiceStore.All(session).Any(s => s.Name == ServiceName.Search && s.Address.Length > 0)));
            if (NextOn(settings, last, today) is not { } next || next > today || !isPossible || jobs.Active.Any(j => j.Kind == CaptureJob.Name))
                return;
            var changed = project.Read(session => CaptureStore.Changed(session, Chosen(settings), settings.Depth, today));
            var job = project.Change<JobId?>(null, session => Begin(session, settings, changed, today)).Value;
            if (job is { } id)
                jobs.Enqueue(id);
        }
#pragma warning disable CA1031 // A failed run must not end the program; it is logged and tried again in a minute.
        catch (Exception e)
#pragma warning restore CA1031
        {
            Failed(e);
        }
    }

    private JobId? Begin(WriteSession session, CaptureSettings settings, IReadOnlyDictionary<KeywordId, double> changed, DateOnly today)
    {
        var due = Due(session, settings, today);
        var left = settings.MonthlyBudget - Spent(session, today);
        var most = settings.PricePerRequest > 0 ? (long)Math.Floor(Math.Max(0, left) / settings.PricePerRequest + 1e-9) : long.MaxValue;
        if (due == 0 || most <= 0)
        {
            RecaptureStore.Save(session, today, due == 0 ? "No list was old enough to be captured again." : $"The budget of {Money(settings.MonthlyBudget, settings)} a month is used up, so nothing was captured.");
            return null;
        }

        var count = Math.Min(due, most);
        var job = JobStore.Add(
            session, CaptureJob.Name, $"Scheduled capture of {count:N0} result {(count == 1 ? "list" : "lists")}", JsonSerializer.Serialize(new CaptureArguments(Again: false, settings.PricePerRequest, settings.Currency)), project.Now);
        CaptureStore.Begin(session, job, Chosen(settings), FreshSince(settings, today), again: false, changed, count);
        RecaptureStore.Save(
            session, today,
            count < due ? $"{count:N0} of {due:N0} lists were asked for, those first whose results have most probably changed: the budget of {Money(settings.MonthlyBudget, settings)} a month goes no further." : $"{count:N0} {(count == 1 ? "list was" : "lists were")} asked for.");
        return job;
    }

    /// <summary>The day after the last run; today where that is over or there was none.</summary>
    private static DateOnly? NextOn(CaptureSettings settings, Recapture? last, DateOnly today) => settings.RecaptureDays == 0 ? null
        : last is null ? today : last.RanOn.AddDays(settings.RecaptureDays) is var next && next < today ? today : next;

    private static KeywordSelection Chosen(CaptureSettings settings) => new(Filter: new KeywordFilter(Capture: CaptureState.Captured, ListId: settings.RecaptureListId));

    /// <summary>Lists captured manually since the last run are skipped.</summary>
    private static DateOnly FreshSince(CaptureSettings settings, DateOnly today) => today.AddDays(1 - settings.RecaptureDays);

    private static long Due(Session session, CaptureSettings settings, DateOnly today) => CaptureStore.Estimate(session, Chosen(settings), FreshSince(settings, today), again: false).ToAsk;

    private static long All(Session session, CaptureSettings settings) => CaptureStore.Estimate(session, Chosen(settings), DateOnly.MaxValue, again: true).Chosen;

    /// <summary>What captures of the month cost; those that are under way or can go on as if all of their lists came, those that ended without them not.</summary>
    private static double Spent(Session session, DateOnly today) => JobStore.Newest(session, CaptureJob.Name, MostJobs)
        .Where(j => j.CreatedAt.StartsWith(today.ToString("yyyy-MM", CultureInfo.InvariantCulture), StringComparison.Ordinal))
        .Sum(j => CaptureStore.Counts(session, j.Id) is var counts ? (counts.Captured + counts.Empty + (j.State is JobState.Waiting or JobState.Running or JobState.Paused ? counts.Waiting : 0)) * CaptureArguments.Of(j).Price : 0);

    private const int MostJobs = 1_000;

    private static string Money(double amount, CaptureSettings settings) => string.Create(CultureInfo.InvariantCulture, $"{settings.Currency} {amount:0.00}");

    [LoggerMessage(LogLevel.Error, "The scheduled capture failed to start.")]
    private partial void Failed(Exception exception);
}
