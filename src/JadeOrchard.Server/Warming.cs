using JadeOrchard.Server.Clusters;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;

namespace JadeOrchard.Server;

/// <summary>What is done once the program answers, beside the first requests.</summary>
public sealed partial class Warming(Project project, ProjectFolder folder, JobRunner jobs, GroupingPreview preview, ILogger<Warming> log)
{
    /// <summary>What is wrong with the project's file, and what can still be read of it; null as long as nothing is known.</summary>
    public string? Damage { get; private set; }

    /// <summary>Preloads, so the first edit is fast, and checks a file that was too large to be checked before it was opened.</summary>
    public async Task Run(CancellationToken stop)
    {
        // The first screen is served before anything is loaded that only a change needs.
        await Task.Delay(TimeSpan.FromSeconds(1), stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        Try(() =>
        {
            project.Warm(jobs.Active.Count > 0);
            project.GiveBackMemory();
            preview.Prepare();
            project.GiveBackMemory();
        });
        Try(() => Damage = folder.FaultOfLargeFile());
        if (Damage is { } damage)
            IsDamaged(damage);
    }

    private void Try(Action work)
    {
        try
        {
            work();
        }
#pragma warning disable CA1031 // Nobody waits for it; it is logged in full, and what it would have made is made when it is asked for.
        catch (Exception e)
#pragma warning restore CA1031
        {
            Failed(e, DatabaseFault.Says(e) ?? "");
        }
    }

    [LoggerMessage(LogLevel.Error, "{Damage}")]
    private partial void IsDamaged(string damage);

    [LoggerMessage(LogLevel.Error, "Preloading failed. {Fault}")]
    private partial void Failed(Exception exception, string fault);
}
