using System.Collections.Concurrent;
using System.Diagnostics;
using System.Threading.Channels;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Services;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;

namespace JadeOrchard.Server.Jobs;

/// <summary>How far a job has come, while it runs.</summary>
/// <param name="Done">Units done.</param>
/// <param name="Total">Units in all; 0 where that is not known.</param>
/// <param name="Phase">What is being done now.</param>
/// <param name="SecondsLeft">About how long it will still take; null where that cannot be told yet.</param>
public sealed record JobProgress(long Done, long Total, string Phase, int? SecondsLeft = null);

/// <summary>One kind of long work.</summary>
public interface IJob
{
    string Kind { get; }

    /// <summary>Jobs of one lane run one after another, those of others at the same time.</summary>
    string Lane => "data";

    /// <summary>It keeps what it did when it is stopped, and can go on from there.</summary>
    bool CanResume => false;

    /// <summary>Does the work; one that cannot resume does it in one transaction, so that stopping or failing leaves nothing half done.</summary>
    /// <returns>What came of it, in words.</returns>
    /// <exception cref="JobEndedException">It ends before it is done, and says how.</exception>
    Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop);
}

/// <summary>A job ends before it is done: paused, stopped or failed.</summary>
public sealed class JobEndedException(JobState state, string message) : Exception(message)
{
    public JobState State => state;
}

/// <summary>Runs jobs, oldest first in each lane. Those that a restart interrupted are begun again.</summary>
public sealed partial class JobRunner(Project project, IEnumerable<IJob> kinds, ILogger<JobRunner> log) : BackgroundService
{
    private readonly Dictionary<string, IJob> _kinds = kinds.ToDictionary(k => k.Kind);
    private readonly ConcurrentDictionary<string, Channel<long>> _lanes = new();
    private readonly ConcurrentDictionary<long, Running> _active = new();
    private readonly Lock _lock = new();
    private CancellationToken _ending;
    private bool _isStarted;
    private long _ended;

    /// <returns>The id of the new job.</returns>
    public long Add(string kind, string label, string arguments) =>
        Enqueue(project.Change<long>(null, session => JobStore.Add(session, kind, label, arguments, project.Now)).Value);

    /// <summary>Runs a job that is in the database already.</summary>
    public long Enqueue(long jobId)
    {
        if (!_active.TryAdd(jobId, new Running()))
            return jobId;
        var kind = _kinds[project.Read(session => JobStore.Find(session, jobId))!.Kind];
        LaneOf(kind).Writer.TryWrite(jobId);
        return jobId;
    }

    /// <summary>Goes on with a job that was stopped or paused.</summary>
    /// <returns>What is in the way, in words; null where nothing is.</returns>
    public string? Resume(long jobId)
    {
        var job = project.Read(session => JobStore.Find(session, jobId));
        if (job is null || !_kinds[job.Kind].CanResume)
            return "There is no such job that could go on.";
        if (job.State is not (JobState.Stopped or JobState.Paused or JobState.Failed))
            return job.State == JobState.Done ? "It is done already." : "It is under way already.";
        project.Change(null, (WriteSession session) => JobStore.SetState(session, jobId, JobState.Waiting, "", null));
        Enqueue(jobId);
        return null;
    }

    /// <returns>Null where the job does not run.</returns>
    public JobProgress? ProgressOf(long jobId) => _active.GetValueOrDefault(jobId)?.Progress;

    public bool CanResume(JobRow job) => _kinds[job.Kind].CanResume && job.State is JobState.Stopped or JobState.Paused;

    /// <returns>Ids of the jobs that wait or run, oldest first.</returns>
    public IReadOnlyList<long> Active => [.. _active.Keys.Order()];

    /// <summary>How many jobs have ended since the start, so that one which ends between two looks is not missed.</summary>
    public long Ended => Interlocked.Read(ref _ended);

    /// <summary>Asks a job to stop.</summary>
    public void Stop(long jobId)
    {
        if (_active.TryGetValue(jobId, out var running))
            running.Stop.Cancel();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        project.CloseOrphans();
        lock (_lock)
        {
            _ending = stoppingToken;
            _isStarted = true;
            foreach (var lane in _lanes.Values)
                _ = Task.Run(() => RunLane(lane), CancellationToken.None);
        }

        foreach (var job in project.Read(JobStore.Unfinished))
            Enqueue(job.Id);
        await Task.Delay(Timeout.Infinite, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
    }

    private Channel<long> LaneOf(IJob kind)
    {
        lock (_lock)
        {
            if (_lanes.TryGetValue(kind.Lane, out var lane))
                return lane;
            _lanes[kind.Lane] = lane = Channel.CreateUnbounded<long>();
            if (_isStarted)
                _ = Task.Run(() => RunLane(lane), CancellationToken.None);
            return lane;
        }
    }

    private async Task RunLane(Channel<long> lane)
    {
        while (!_ending.IsCancellationRequested)
        {
            try
            {
                await RunOne(await lane.Reader.ReadAsync(_ending));
            }
            catch (OperationCanceledException)
            {
                return;
            }
        }
    }

    private async Task RunOne(long id)
    {
        var running = _active[id];
        using var either = CancellationTokenSource.CreateLinkedTokenSource(running.Stop.Token, _ending);
        var job = project.Read(session => JobStore.Find(session, id))!;
        running.Report(new JobProgress(0, 0, "Starting"));
        try
        {
            either.Token.ThrowIfCancellationRequested();
            Finish(id, JobState.Running, "");
            Finish(id, JobState.Done, await _kinds[job.Kind].RunAsync(job, running.Report, either.Token));
        }
        catch (Exception e) when (_ending.IsCancellationRequested && (e is OperationCanceledException or JobEndedException { State: JobState.Stopped }))
        {
            // The program ends; the job stays as it is and is begun again at the next start.
        }
        catch (JobEndedException e)
        {
            Finish(id, e.State, e.Message);
        }
        catch (OperationCanceledException)
        {
            Finish(id, JobState.Stopped, "Stopped. Nothing was changed.");
        }
        catch (Exception e) when (e is TableFormatException or ServiceException)
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
            _active.TryRemove(id, out _);
            Interlocked.Increment(ref _ended);
            running.Stop.Dispose();
        }
    }

    private void Finish(long id, JobState state, string message) => project.Change(null, (WriteSession session) =>
        JobStore.SetState(session, id, state, message, state == JobState.Running ? null : project.Now));

    [LoggerMessage(LogLevel.Error, "Job {JobId} ({Kind}) failed")]
    private partial void JobFailed(Exception exception, long jobId, string kind);

    /// <summary>A job that waits or runs.</summary>
    private sealed class Running
    {
        private Stopwatch? _clock;
        private long _doneAtFirst;
        private string _phase = "";

        public CancellationTokenSource Stop { get; } = new();

        public JobProgress? Progress { get; private set; }

        /// <summary>The time left follows from the pace since the phase began.</summary>
        public void Report(JobProgress progress)
        {
            var phase = progress.Phase.TrimStart("0123456789, ".ToCharArray());
            if (_clock is null || phase != _phase)
                (_clock, _doneAtFirst, _phase) = (Stopwatch.StartNew(), progress.Done, phase);
            var made = progress.Done - _doneAtFirst;
            int? left = made >= 3 && progress.Total > 0 && _clock.Elapsed.TotalSeconds > 1
                ? (int)Math.Ceiling(_clock.Elapsed.TotalSeconds / made * Math.Max(0, progress.Total - progress.Done))
                : null;
            Progress = progress with { SecondsLeft = left };
        }
    }
}
