using System.Collections.Concurrent;
using System.Diagnostics;
using System.Threading.Channels;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Clusters;
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
/// <remarks>
/// Whatever it wrote as a part of its step (<see cref="Project.ChangeAsJob"/>) is kept when it is stopped or fails, and the runner closes
/// the step; or it is <see cref="IsAllOrNothing">all or nothing</see>. A job that writes in one transaction leaves nothing half done.
/// </remarks>
public interface IJob
{
    string Kind { get; }

    /// <returns>The path of the stage that shows what it brings: "results".</returns>
    string Stage(JobRow job);

    /// <summary>Jobs of one lane run one after another, those of others at the same time.</summary>
    string Lane => "data";

    /// <summary>It can go on where it was after it was stopped, paused or failed.</summary>
    bool CanResume => false;

    /// <summary>Does the work.</summary>
    /// <returns>What came of it, in words.</returns>
    /// <exception cref="JobPausedException">Something outside does not answer; it can go on when it does.</exception>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop);

    /// <summary>What it wrote is taken back where it does not end well, unless others changed the same meanwhile.</summary>
    bool IsAllOrNothing => false;

    /// <summary>What its step is called in the history.</summary>
    string StepLabel(JobRow job) => job.Label;

    /// <summary>Writes what is still to be written as a part of the step when it ended well.</summary>
    void Finish(WriteSession session, JobRow job)
    {
    }

    /// <returns>How far it has come, for one that is kept piece by piece: it is then begun again from there as often as the program ends.</returns>
    string Place(JobRow job) => "";

    /// <summary>Called at the start, before any runs: what others left behind can go.</summary>
    void Started(IReadOnlyList<JobRow> unfinished)
    {
    }

    /// <summary>Called when a job has come to its end, whatever it is: what only it needed can go.</summary>
    void Ended(JobRow job)
    {
    }

    /// <returns>What is kept of a job that did not end well, in words; "Nothing was changed." where nothing is.</returns>
    string Kept(JobRow job) => "Nothing was changed.";
}

/// <summary>A job cannot go on for now: something outside does not answer.</summary>
public sealed class JobPausedException(string message) : Exception(message);

/// <summary>Runs jobs, oldest first in each lane. Those that a restart interrupted are begun again.</summary>
public sealed partial class JobRunner(Project project, GroupingPreview preview, IEnumerable<IJob> kinds, ILogger<JobRunner> log) : BackgroundService
{
    private readonly Dictionary<string, IJob> _kinds = kinds.ToDictionary(k => k.Kind);
    private readonly ConcurrentDictionary<string, Channel<JobId>> _lanes = new();
    private readonly ConcurrentDictionary<JobId, Running> _active = new();
    private readonly Lock _lock = new();
    private CancellationToken _ending;
    private readonly List<Task> _running = [];
    private bool _isStarted;
    private long _ended;
    private TaskCompletionSource _next = new(TaskCreationOptions.RunContinuationsAsynchronously);

    /// <returns>The new job.</returns>
    public JobView Add(string kind, string label, string arguments) =>
        Enqueue(project.Change<JobId>(null, session => JobStore.Add(session, kind, label, arguments, project.Now)).Value);

    /// <summary>Runs a job that is in the database already.</summary>
    /// <returns>The job.</returns>
    public JobView Enqueue(JobId jobId)
    {
        var job = project.Read(session => JobStore.Find(session, jobId))!;
        if (_active.TryAdd(jobId, new Running(job, Changed)))
        {
            LaneOf(_kinds[job.Kind]).Writer.TryWrite(jobId);
            Changed();
        }

        return View(job);
    }

    /// <summary>Goes on with a job that was stopped or paused, or that failed.</summary>
    /// <returns>What is in the way, in words; null where nothing is.</returns>
    public string? Resume(JobId jobId)
    {
        if (project.Read(session => JobStore.Find(session, jobId)) is not { } job)
            return "There is no such job.";
        if (!CanResume(job) || IsActive(jobId))
        {
            return IsActive(jobId) || job.State is JobState.Waiting or JobState.Running ? "It is under way already."
                : job.State == JobState.Done ? "It is done already."
                : "A job of this kind cannot go on where it was. Start it again.";
        }

        project.Change(null, (WriteSession session) => JobStore.GoOn(session, jobId));
        Enqueue(jobId);
        return null;
    }

    public bool CanResume(JobRow job) => _kinds[job.Kind].CanResume && job.State is JobState.Stopped or JobState.Paused or JobState.Failed;

    /// <returns>The job as it stands now.</returns>
    public JobView View(JobRow job) => new(
        job.Id, job.Kind, _kinds.TryGetValue(job.Kind, out var kind) ? kind.Stage(job) : "", job.Label, _active.TryGetValue(job.Id, out var running) ? running.State : job.State, job.Message, job.CreatedAt, running?.Progress, CanResume(job), job.Author);

    /// <returns>The jobs that wait or run, oldest first; told from memory.</returns>
    public IReadOnlyList<JobView> Active => [.. _active.Values.OrderBy(r => r.Job.Id).Select(r => View(r.Job))];

    /// <returns>Whether a job waits or runs.</returns>
    public bool IsActive(JobId jobId) => _active.ContainsKey(jobId);

    /// <summary>How many jobs have ended since the start, so that one which ends between two looks is not missed.</summary>
    public long Ended => Interlocked.Read(ref _ended);

    /// <summary>Ends when something about the jobs changes.</summary>
    public Task NextChange => _next.Task;

    /// <summary>Asks a job to stop.</summary>
    public void Stop(JobId jobId)
    {
        if (_active.TryGetValue(jobId, out var running))
            running.Stop.Cancel();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        // Edits and lists do not wait for what jobs have to put in order first.
        for (var isReady = false; !isReady;)
        {
            try
            {
                project.CloseOrphans();
                isReady = true;
            }
            catch (Exception e) when (DatabaseFault.Passes(e))
            {
                NotReady(e, DatabaseFault.Says(e)!);
                await Task.Delay(TimeSpan.FromSeconds(5), stoppingToken);
            }
        }

        lock (_lock)
        {
            _ending = stoppingToken;
            _isStarted = true;
            _running.AddRange(_lanes.Values.Select(lane => Task.Run(() => RunLane(lane), CancellationToken.None)));
        }

        var unfinished = project.Read(JobStore.Unfinished);
        foreach (var kind in _kinds.Values)
            kind.Started([.. unfinished.Where(job => job.Kind == kind.Kind)]);
        foreach (var job in unfinished.Where(job => job.State == JobState.Waiting || MayGoOn(job)))
            Enqueue(job.Id);
        await Task.Delay(Timeout.Infinite, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
    }

    /// <summary>Waits until jobs have put down their work.</summary>
    public override async Task StopAsync(CancellationToken cancellationToken)
    {
        await base.StopAsync(cancellationToken);
        Task[] running;
        lock (_lock)
            running = [.. _running];
        await Task.WhenAll(running).WaitAsync(cancellationToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
    }

    /// <summary>The program ended in the middle of a job. One that ended it twice at the same place is left to the planner.</summary>
    private bool MayGoOn(JobRow job)
    {
        try
        {
            if (project.ChangeInJob(null, session => JobStore.AddDeath(session, job.Id, _kinds[job.Kind].Place(job)), CancellationToken.None) < MostDeaths)
                return true;
        }
        catch (Exception e) when (DatabaseFault.Passes(e))
        {
            // The job itself tells what is in the way.
            return true;
        }

        SetState(job.Id, JobState.Failed, $"Jade Orchard ended twice in the middle of this, at the same place, so that it is not begun again by itself. {Kept(_kinds[job.Kind], job)}");
        return false;
    }

    private const int MostDeaths = 2;

    private Channel<JobId> LaneOf(IJob kind)
    {
        lock (_lock)
        {
            if (_lanes.TryGetValue(kind.Lane, out var lane))
                return lane;
            _lanes[kind.Lane] = lane = Channel.CreateUnbounded<JobId>();
            if (_isStarted)
            {
                // What a request watches of its own writes is not for the jobs that come after it.
                using (ExecutionContext.SuppressFlow())
                    _running.Add(Task.Run(() => RunLane(lane), CancellationToken.None));
            }
            return lane;
        }
    }

    private async Task RunLane(Channel<JobId> lane)
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
#pragma warning disable CA1031 // A lane outlives whatever goes wrong in one of its jobs; it is logged in full.
            catch (Exception e)
#pragma warning restore CA1031
            {
                LaneFailed(e);
            }
        }
    }

    private async Task RunOne(JobId id)
    {
        var running = _active[id];
        var (job, kind) = (running.Job, _kinds[running.Job.Kind]);
        Author.Current = job.Author;
        try
        {
            using var either = CancellationTokenSource.CreateLinkedTokenSource(running.Stop.Token, _ending);
            var (state, message) = await Attempt(kind, running, either.Token);
            // Where the program ends, the job is begun again at the next start.
            if (state is { } ended)
                await Close(kind, running, ended, message);
            else
                SetState(id, JobState.Waiting, "");
        }
        finally
        {
            _active.TryRemove(id, out _);
            Interlocked.Increment(ref _ended);
            running.Stop.Dispose();
            Changed();
            if (running.Took > LongWork)
            {
                Volatile.Write(ref _tookMemory, true);
                _ = Task.Run(Rest, CancellationToken.None);
            }
        }
    }

    /// <summary>Closes the step of a job and says what came of it. Where the disk is full or the file is held, again and again until that can be written.</summary>
    private async Task Close(IJob kind, Running running, JobState ended, string message)
    {
        var (job, isDerived, isClosed) = (running.Job, true, false);
        for (var wait = TimeSpan.FromSeconds(1); ; wait = wait < MostWait ? 2 * wait : MostWait)
        {
            try
            {
                var suffix = ended switch { JobState.Done => "", JobState.Failed => ", failed", JobState.Paused => ", paused", _ => ", stopped" };
                if (ended != JobState.Done && kind.IsAllOrNothing && isDerived && !isClosed)
                    isClosed = project.TakeBack(job.Id);
                if (isDerived && !isClosed)
                {
                    project.CloseStep(job.Id, kind.StepLabel(job) + suffix, session =>
                    {
                        if (ended == JobState.Done)
                            kind.Finish(session, job);
                    });
                }
                else if (!isClosed)
                    project.CloseStepUnderived(job.Id, kind.StepLabel(job) + suffix);
                isClosed = true;
                SetState(job.Id, ended, ended == JobState.Done ? message : $"{message} {Kept(kind, job)}");
                break;
            }
#pragma warning disable CA1031 // The lane goes on whatever it is, and the step can be undone.
            catch (Exception e)
#pragma warning restore CA1031
            {
                JobFailed(e, job.Id, job.Kind);
                if (!DatabaseFault.Passes(e))
                {
                    // What follows from the step cannot be derived now; it is at the next start.
                    if (!isDerived)
                        throw;
                    (isDerived, ended, message) = (false, JobState.Failed, Internal);
                    continue;
                }

                running.Report(new JobProgress(0, 0, DatabaseFault.Says(e)!));
                await Task.Delay(wait, _ending);
            }
        }

        kind.Ended(job);
    }

    private static readonly TimeSpan MostWait = TimeSpan.FromSeconds(16);

    /// <summary>What is kept, where that can be told.</summary>
    private string Kept(IJob kind, JobRow job)
    {
        try
        {
            return kind.IsAllOrNothing && project.Read(session => UndoLog.IsThere(session, job.Id))
                ? "What it had brought by then was used meanwhile, so that it is kept; you can undo it."
                : kind.Kept(job);
        }
        catch (Exception e) when (DatabaseFault.Says(e) is not null)
        {
            return "";
        }
    }

    /// <summary>After long work, where no other follows: gives back what it took, and makes ready what is likely to be opened next.</summary>
    private async Task Rest()
    {
        await Task.Delay(TimeSpan.FromSeconds(1), _ending).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        if (!_active.IsEmpty || _ending.IsCancellationRequested)
            return;
        GiveBack();
        preview.Prepare();
        project.GiveBackMemory();
    }

    /// <summary>Gives back what long work took, once.</summary>
    private void GiveBack()
    {
        if (Interlocked.Exchange(ref _tookMemory, false))
            project.GiveBackMemory();
    }

    private bool _tookMemory;

    private static readonly TimeSpan LongWork = TimeSpan.FromSeconds(3);

    private const string Internal = "Something went wrong inside Jade Orchard; the log of the server tells more.";

    /// <returns>How it ended and what to say of it; null where the program ends.</returns>
    private async Task<(JobState? State, string Message)> Attempt(IJob kind, Running running, CancellationToken stop)
    {
        try
        {
            stop.ThrowIfCancellationRequested();
            SetState(running.Job.Id, JobState.Running, "");
            // Long work that follows long work would pile its memory on top.
            GiveBack();
            running.Begin();
            return (JobState.Done, await kind.RunAsync(running.Job, running.Report, stop));
        }
        catch (OperationCanceledException)
        {
            return (_ending.IsCancellationRequested ? null : JobState.Stopped, "Stopped.");
        }
        catch (JobPausedException e)
        {
            return (JobState.Paused, e.Message);
        }
        catch (Exception e) when (e is TableFormatException or ServiceException)
        {
            return (JobState.Failed, e.Message);
        }
#pragma warning disable CA1031 // Whatever goes wrong in one job must not end the others; it is logged in full.
        catch (Exception e)
#pragma warning restore CA1031
        {
            JobFailed(e, running.Job.Id, running.Job.Kind);
            return (JobState.Failed, DatabaseFault.Says(e) ?? Internal);
        }
    }

    private void SetState(JobId id, JobState state, string message) => project.ChangeInJob(
        null,
        session =>
        {
            JobStore.SetState(session, id, state, message, state is JobState.Running or JobState.Waiting ? null : project.Now);
            return 0;
        },
        CancellationToken.None);

    private void Changed() => Interlocked.Exchange(ref _next, new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)).TrySetResult();

    [LoggerMessage(LogLevel.Error, "Job {JobId} ({Kind}) failed")]
    private partial void JobFailed(Exception exception, JobId jobId, string kind);

    [LoggerMessage(LogLevel.Warning, "Jobs cannot begin yet. {Fault}")]
    private partial void NotReady(Exception exception, string fault);

    [LoggerMessage(LogLevel.Error, "What is told of a job could not be written")]
    private partial void LaneFailed(Exception exception);

    /// <summary>A job that waits or runs.</summary>
    private sealed class Running(JobRow job, Action changed)
    {
        private readonly Stopwatch _sinceItBegan = new();
        private Stopwatch? _clock;
        private long _doneAtFirst;
        private string _phase = "";

        public JobRow Job => job;

        public JobState State { get; private set; } = JobState.Waiting;

        public CancellationTokenSource Stop { get; } = new();

        public JobProgress? Progress { get; private set; }

        public TimeSpan Took => _sinceItBegan.Elapsed;

        public void Begin()
        {
            State = JobState.Running;
            _sinceItBegan.Start();
            Report(new JobProgress(0, 0, "Starting"));
        }

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
            changed();
        }
    }
}
