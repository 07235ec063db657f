using JadeOrchard.Storage;

namespace JadeOrchard.Server.Projects;

/// <summary>Backs a project up once on each day on which it is used.</summary>
public sealed partial class BackupSchedule(ProjectFolder folder, TimeProvider clock, ILogger<BackupSchedule> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(5);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        try
        {
            while (await timer.WaitForNextTickAsync(stoppingToken))
                Look();
        }
        catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
        {
            // The project is closed.
        }
    }

    /// <summary>Makes the backup of today where it is due.</summary>
    public void Look()
    {
        try
        {
            if (Backups.IsDue(folder.File, clock.GetUtcNow()))
                Backups.Make(folder.File, BackupKind.Daily, clock.GetUtcNow());
        }
#pragma warning disable CA1031 // A failed backup must not end the program; it is logged and tried again.
        catch (Exception e)
#pragma warning restore CA1031
        {
            Failed(e, DatabaseFault.Says(e) ?? "");
        }
    }

    [LoggerMessage(LogLevel.Error, "Backing up the project failed. {Fault}")]
    private partial void Failed(Exception exception, string fault);
}
