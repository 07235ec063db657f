using System.Globalization;
using System.Text.Json;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Performance;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Refresh;

/// <summary>Reads search performance again once its service has had time to recover.</summary>
public sealed partial class PerformanceRetry(Project project, JobRunner jobs, TimeProvider clock, ILogger<PerformanceRetry> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(1);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        try
        {
            while (await timer.WaitForNextTickAsync(stoppingToken))
                TryAgain();
        }
        catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
        {
            // The program ends.
        }
    }

    /// <summary>Starts reading if it is due and not already running.</summary>
    private void TryAgain()
    {
        try
        {
            if (project.Read(RefreshStore.Trouble) is { RetryAt: { } at } trouble && DateTimeOffset.Parse(at, CultureInfo.InvariantCulture) <= project.Now
                && jobs.Active.All(j => j.Kind != PerformanceJob.Name) && JsonSerializer.Deserialize<PerformanceRange>(trouble.Arguments) is { } range)
                PerformanceEndpoints.Start(range, jobs);
        }
#pragma warning disable CA1031 // A failed retry must not end the program; it is logged and tried again in a minute.
        catch (Exception e)
#pragma warning restore CA1031
        {
            Failed(e);
        }
    }

    [LoggerMessage(LogLevel.Error, "Reading search performance again failed.")]
    private partial void Failed(Exception exception);
}
