using System.Collections.Concurrent;
using System.Threading.Channels;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Storage.Jobs;

namespace JadeOrchard.Server.Jobs;

/// <summary>How far a job has come, while it runs.</summary>
/// <param name="Done">Units done.</param>
/// <param name="Total">Units in all; 0 where that is not known.</param>
/// <param name="Phase">What is being done now.</param>
public sealed record JobProgress(long Done, long Total, string Phase);

/// <summary>One kind of long work.</summary>
public interface IJob
{
    string Kind { get; }

    /// <summary>Does the work in one transaction, so that stopping or failing leaves nothing half done.</summary>
    /// <returns>What came of it, in words.</returns>
    string Run(JobRow job, Action<JobProgress> progress, CancellationToken stop);
}

/// <summary>Runs jobs one after another, oldest first. Those that a restart interrupted are begun again.</summary>
public sealed partial class JobRunner(Orchard orchard, IEnumerable<IJob> kinds, ILogger<JobRunner> log) : BackgroundService
{
    private readonly Channel<long> _waiting = Channel.CreateUnbounded<long>();
    private readonly ConcurrentDictionary<long, JobProgress> _progress = new();
    private readonly ConcurrentDictionary<long, CancellationTokenSource> _stops = new();

    /// <returns>The id of the new job.</returns>
    public long Add(string kind, string label, string arguments)
    {
        var id = orchard.Database.Write(session => JobStore.Add(session, kind, label, arguments, orchard.Now));
        _stops[id] = new CancellationTokenSource();
        _waiting.Writer.TryWrite(id);
        return id;
    }

    /// <returns>Null where the job does not run.</returns>
    public JobProgress? ProgressOf(long jobId) => _progress.GetValueOrDefault(jobId);

    /// <returns>Ids of the jobs that wait or run, oldest first.</returns>
    public IReadOnlyList<long> Active => [.. _stops.Keys.Order()];

    /// <summary>Asks a job to stop; what it did so far is undone.</summary>
    public void Stop(long jobId)
    {
        if (_stops.TryGetValue(jobId, out var stop))
            stop.Cancel();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        foreach (var job in orchard.Database.Read(JobStore.Unfinished))
        {
            if (_stops.TryAdd(job.Id, new CancellationTokenSource()))
                _waiting.Writer.TryWrite(job.Id);
        }

        await foreach (var id in _waiting.Reader.ReadAllAsync(stoppingToken))
            await Task.Run(() => RunOne(id, stoppingToken), CancellationToken.None);
    }

    private void RunOne(long id, CancellationToken ending)
    {
        var stop = _stops[id];
        using var either = CancellationTokenSource.CreateLinkedTokenSource(stop.Token, ending);
        var job = orchard.Database.Read(session => JobStore.Find(session, id))!;
        _progress[id] = new JobProgress(0, 0, "Starting");
        try
        {
            either.Token.ThrowIfCancellationRequested();
            Finish(id, JobState.Running, "");
            var message = kinds.Single(k => k.Kind == job.Kind).Run(job, p => _progress[id] = p, either.Token);
            Finish(id, JobState.Done, message);
        }
        catch (OperationCanceledException) when (ending.IsCancellationRequested)
        {
            // The program ends; the job stays as it is and is begun again at the next start.
        }
        catch (OperationCanceledException)
        {
            Finish(id, JobState.Stopped, "Stopped. Nothing was changed.");
        }
        catch (TableFormatException e)
        {
            Finish(id, JobState.Failed, e.Message);
        }
#pragma warning disable CA1031 // Whatever goes wrong in one job must not end the others; it is logged in full.
        catch (Exception e)
#pragma warning restore CA1031
        {
            JobFailed(e, id, job.Kind);
            Finish(id, JobState.Failed, "Something went wrong inside Jade Orchard; nothing was changed. The log of the server tells more.");
        }
        finally
        {
            _progress.TryRemove(id, out _);
            _stops.TryRemove(id, out _);
            stop.Dispose();
        }
    }

    private void Finish(long id, JobState state, string message) => orchard.Database.Write(session =>
        JobStore.SetState(session, id, state, message, state == JobState.Running ? null : orchard.Now));

    [LoggerMessage(LogLevel.Error, "Job {JobId} ({Kind}) failed")]
    private partial void JobFailed(Exception exception, long jobId, string kind);
}
