using JadeOrchard.Server.Derived;
using JadeOrchard.Server.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server;

/// <summary>What came of a change: its answer, or why it was refused.</summary>
public readonly record struct Outcome<T>(T? Value, ProblemHttpResult? Refusal)
{
    public static implicit operator Outcome<T>(T value) => new(value, null);

    public static implicit operator Outcome<T>(ProblemHttpResult refusal) => new(default, refusal);

    /// <summary>200 with the answer, or the refusal.</summary>
    public Results<Ok<T>, ProblemHttpResult> ToOk() => Refusal is null ? TypedResults.Ok(Value) : Refusal;
}

/// <summary>A refused change, thrown at any depth of it: it is rolled back, and the problem is the answer.</summary>
public sealed class RefusedException(ProblemHttpResult problem) : Exception(problem.ProblemDetails.Detail)
{
    public ProblemHttpResult Problem => problem;
}

/// <summary>The open project: the one door for writes, after which all that follows is derived, and the image of its data in memory for reading.</summary>
public sealed partial class Project
{
    private readonly Database _database;
    private readonly TimeProvider _clock;
    private readonly ILogger _log;
    private readonly Workspace _workspace = new();
    private readonly Lock _lock = new();

    // What a job has touched since it began, derived from when it closes its step.
    private readonly Dictionary<JobId, Data> _waiting = [];

    // A long write has given way in between: until it ends, what others touch is derived with it. For whoever has the writer's turn.
    private LongWrite? _longWrite;

    // The image of what is committed, and the one that a write made for itself, which takes its place when the write is committed.
    private volatile ProjectSnapshot? _snapshot;
    private volatile ProjectSnapshot? _made;

    // What was derived is of other rules, or a kill came before it was: Warm derives everything again, or the job that goes on does when it closes its step.
    private volatile bool _isStale;
    private readonly bool _isInterrupted;

    /// <summary>With more keywords, loading the image takes longer than anybody should wait for.</summary>
    private const long LargeImage = 20_000;

    /// <summary>Raised after each commit, before the next change; whoever listens does not linger.</summary>
    public event Action? Changed;

    public Project(Database database, TimeProvider clock, ILogger<Project> log)
    {
        (_database, _clock, _log) = (database, clock, log);
        var derived = database.Read(ProjectStore.DerivedVersion);
        (_isStale, _isInterrupted) = (derived != Chain.Version, derived == 0);
        database.RolledBack += () => _made = null;
        database.Committed += () =>
        {
            if (_made is { } made)
                (_snapshot, _made) = (made, null);
            Changed?.Invoke();
        };
    }

    private KeptSentences? _siteSentences;

    public DateTimeOffset Now => _clock.GetUtcNow();

    /// <summary>Grows with each write, so that a reader can tell whether anything changed.</summary>
    public long Writes => _database.Writes;

    /// <summary>The plan in order, good until the next write.</summary>
    internal KeptAnswers<PlanBoard> Boards { get; } = new();

    /// <summary>How often ranking pages use what briefs ask for, good until the next write.</summary>
    internal KeptAnswers<IReadOnlyDictionary<string, double>> UsualUses { get; } = new();

    /// <summary>The keywords for capturing in stages, good until the next write.</summary>
    internal KeptAnswers<Results.StagedKeywords> StagedCaptures { get; } = new();

    /// <summary>The list of briefs, good until the next write.</summary>
    internal KeptAnswers<IReadOnlyList<Briefs.BriefRow>> BriefRows { get; } = new();

    /// <summary>The briefs of pages that have none of their own, good until the next write.</summary>
    internal KeptAnswers<Core.Briefs.Brief?> PageBriefs { get; } = new();

    /// <summary>The sentences of the site's pages, good until these change.</summary>
    internal Core.Briefs.SiteSentences SiteSentences(Session session)
    {
        var version = Storage.Briefs.BriefStore.SiteTextsVersion(session);
        if (_siteSentences is not { } kept || kept.Version != version)
            _siteSentences = kept = new KeptSentences(version, new Core.Briefs.SiteSentences(Storage.Briefs.BriefStore.SiteTexts(session)));
        return kept.Sentences;
    }

    private sealed record KeptSentences(string Version, Core.Briefs.SiteSentences Sentences);

    /// <summary>Reads in one snapshot of the database.</summary>
    public T Read<T>(Func<Session, T> read) => _database.Read(read);

    /// <summary>Reads with the image of the data, which is kept for the next time.</summary>
    public T Read<T>(Func<Session, ProjectSnapshot, T> read) => _database.Read(session => read(session, Snapshot(session)));

    /// <summary>
    /// Changes the project: the only way to write. What follows is derived in the same transaction. A refusal, returned or thrown at any
    /// depth, rolls back, opens no undo step and leaves redo untouched.
    /// </summary>
    /// <param name="label">What the step is called in the history; null for what is not undone, such as the state of a job.</param>
    /// <param name="change">Makes the change.</param>
    public Outcome<T> Change<T>(string? label, Func<WriteSession, Outcome<T>> change) => Attempt(label, null, Complete(change));

    /// <summary>As <see cref="Change{T}"/>, for a job: it waits for its turn as long as it takes, and ends soon where it is to stop.</summary>
    /// <exception cref="OperationCanceledException">It was stopped, and nothing is changed.</exception>
    public T ChangeInJob<T>(string? label, Func<WriteSession, T> change, CancellationToken stop) =>
        Attempt(label, null, Complete(session => new Outcome<T>(change(session), null)), waits: true, stop: stop).Value!;

    /// <summary>
    /// As <see cref="ChangeInJob{T}"/>, as the step of a job that gives way to others at its <see cref="WriteSession.GiveWay">own places</see> and between the
    /// steps of what follows. Where it fails or is stopped, and where the program ends, what it had written before it gave way stays
    /// until <see cref="TakeBack"/>.
    /// </summary>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    public T ChangeGivingWay<T>(JobId jobId, string label, Func<WriteSession, T> change, CancellationToken stop)
    {
        var write = new LongWrite();
        return GivingWay(jobId, label, write, session =>
        {
            var answer = change(session);
            Derive(session, write);
            return answer;
        }, stop);
    }

    /// <summary>Takes back what a job wrote and is still there, as if it had never begun.</summary>
    /// <returns>False where others changed the same since: it stays, and can be undone.</returns>
    public bool TakeBack(JobId jobId)
    {
        try
        {
            // What others changed while it gave way may still have to be derived.
            if (_isStale || Read(session => UndoLog.IsThere(session, jobId)))
                Renew(session => UndoLog.TakeBack(session, jobId));
            return true;
        }
        catch (UsedMeanwhileException)
        {
            return false;
        }
    }

    /// <summary>Changes the project, where there is no answer but a refusal.</summary>
    /// <returns>The refusal; null where it was done.</returns>
    public ProblemHttpResult? Change(string? label, Func<WriteSession, ProblemHttpResult?> change) =>
        Change<bool>(label, session => change(session) is { } problem ? problem : true).Refusal;

    /// <summary>Changes the project, where nothing can be refused.</summary>
    public void Change(string? label, Action<WriteSession> change) => Change<bool>(label, session =>
    {
        change(session);
        return true;
    });

    /// <summary>
    /// Changes the project as a part of a job's step, which several transactions make. What follows is derived when the job
    /// <see cref="CloseStep">closes</see> it, so that a capture does not derive everything again with each list.
    /// </summary>
    public T ChangeAsJob<T>(JobId jobId, string label, Func<WriteSession, T> change)
    {
        return Attempt<T>(
            label,
            jobId,
            session =>
            {
                var answer = change(session);
                Wait(session);
                return answer;
            },
            waits: true,
            beforeOthers: Wait).Value!;

        void Wait(WriteSession session)
        {
            ProjectStore.SetDerivedVersion(session, 0);
            lock (_lock)
            {
                _waiting[jobId] = _waiting.GetValueOrDefault(jobId) | session.Touched.Kinds;
            }
        }
    }

    /// <summary>Ends the step of a job, done or not, and derives what follows from it.</summary>
    /// <param name="jobId">The job.</param>
    /// <param name="label">What the step is called from now on.</param>
    /// <param name="finish">What is still to be written as part of the step.</param>
    public void CloseStep(JobId jobId, string label, Action<WriteSession>? finish = null)
    {
        var write = new LongWrite();
        GivingWay(jobId, label, write, session =>
        {
            finish?.Invoke(session);
            lock (_lock)
            {
                foreach (var kind in Enum.GetValues<Data>())
                {
                    if (kind is not (Data.None or Data.Image) && _waiting.GetValueOrDefault(jobId).HasFlag(kind))
                        session.Touch(kind);
                }
            }

            Derive(session, write, jobId);
            return true;
        }, CancellationToken.None);
        lock (_lock)
            _waiting.Remove(jobId);
    }

    /// <summary>Ends the step of a job where what follows from it cannot be derived; that is done at the next start.</summary>
    public void CloseStepUnderived(JobId jobId, string label) => Attempt<bool>(label, jobId, _ => true, isLast: true, waits: true);

    /// <summary>Closes steps that a kill left open, before jobs go on.</summary>
    public void CloseOrphans() => ChangeInJob(
        null,
        session =>
        {
            UndoLog.CloseOrphans(session);
            return 0;
        },
        CancellationToken.None);

    /// <returns>What was undone; null where there was nothing.</returns>
    /// <exception cref="StepUnderWayException">The step is still being made.</exception>
    public string? Undo() => Change<string>(null, session => new Outcome<string>(UndoLog.Undo(session), null)).Value;

    /// <returns>What was redone; null where there was nothing.</returns>
    /// <exception cref="StepUnderWayException">The step is still being made.</exception>
    public string? Redo() => Change<string>(null, session => new Outcome<string>(UndoLog.Redo(session), null)).Value;

    /// <summary>Gives back to the machine what long work took; see <see cref="Memory.GiveBack"/>.</summary>
    internal void GiveBackMemory() => Memory.GiveBack(_database);

    /// <summary>
    /// Derives everything again where other rules derived it or a kill came in between, and preloads, so the first edit is fast.
    /// </summary>
    /// <param name="jobsGoOn">Jobs that were interrupted go on. Nothing is derived from half of what they bring then, as nothing is while they run.</param>
    public void Warm(bool jobsGoOn = false)
    {
        if (_isStale && _isInterrupted && jobsGoOn)
            return;
        // As much as can be is loaded without keeping others from writing.
        if (!_isStale)
            Read((session, snapshot) => snapshot.Text(session));
        Renew(_ => { });
    }

    private void Renew(Action<WriteSession> change)
    {
        var write = new LongWrite();
        Attempt<bool>(null, null, session =>
        {
            change(session);
            Derive(session, write);
            if (_longWrite is null)
                new Derivation(session, this, _workspace).Prepare();
            return true;
        }, waits: true);
        if (write.IsWhole)
            _isStale = false;
    }

    /// <summary>Derives what follows from what was touched. While another long write has given way, that does it.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="own">Of a long write, which derives everything where that is stale; null for any other.</param>
    /// <param name="closing">The job whose step ends with it, so that nothing of it waits any more.</param>
    private void Derive(WriteSession session, LongWrite? own = null, JobId? closing = null)
    {
        if (own is not null && _isStale)
        {
            own.IsWhole = true;
            foreach (var kind in new[] { Data.Project, Data.Keywords, Data.Results, Data.Pages, Data.Performance, Data.Clusters, Data.PageMap, Data.Topics, Data.Decisions, Data.Expected })
                session.Touch(kind);
        }

        if (_longWrite is { } other && other != own)
        {
            // What is looked up in the image has to be in it.
            if (session.Touched.Any(Data.Image) || (!other.HasImage && !session.Touched.IsEmpty))
                ProjectStore.RaiseImageVersion(session);
            other.Arrived.Add(session.Touched);
            other.IsWhole |= own is { IsWhole: true };
            return;
        }

        var derivation = new Derivation(session, this, _workspace);
        if (own is null)
        {
            if (session.Touched.IsEmpty)
                return;
            UndoLog.AsLayer(session, () => Chain.Run(derivation));
            return;
        }

        session.Touched.Add(own.TakeArrived());
        UndoLog.AsLayer(session, () => Chain.Run(derivation, () =>
        {
            own.HasImage = derivation.HasBoard;
            // A large image is loaded while others write, before a step asks for it; without clusters none does.
            var isLarge = _snapshot?.Version != ProjectStore.ImageVersion(session) && (own.HasGivenWay || KeywordStore.Count(session) > LargeImage) && Board.HasClusters(session);
            session.GiveWay(isLarge ? () => Read((reader, image) => image.Text(reader)) : null);
            return own.TakeArrived();
        }));
        _longWrite = null;
        lock (_lock)
        {
            if (_waiting.Keys.All(job => job == closing) && (own.IsWhole || !_isStale))
                ProjectStore.SetDerivedVersion(session, Chain.Version);
        }
    }

    /// <summary>A write that gives way, as the step of a job or the end of one.</summary>
    private T GivingWay<T>(JobId jobId, string label, LongWrite write, Func<WriteSession, T> change, CancellationToken stop)
    {
        try
        {
            var answer = Attempt<T>(
                label,
                jobId,
                session =>
                {
                    try
                    {
                        return change(session);
                    }
                    finally
                    {
                        if (_longWrite == write)
                        {
                            // It failed: what others changed meanwhile is derived with everything else.
                            _longWrite = null;
                            _workspace.Clear();
                        }
                    }
                },
                isLast: true,
                waits: true,
                session =>
                {
                    ProjectStore.SetDerivedVersion(session, 0);
                    _longWrite ??= write;
                    write.HasGivenWay = true;
                },
                stop).Value!;
            if (write.IsWhole)
                _isStale = false;
            return answer;
        }
        catch when (write.HasGivenWay)
        {
            _isStale = true;
            throw;
        }
    }

    /// <summary>Refuses a change of something that another window changed since it was read.</summary>
    /// <param name="session">The transaction of the change.</param>
    /// <param name="thing">What is to be changed.</param>
    /// <param name="now">The version of its row now.</param>
    /// <param name="read">The version that the window has; null where the caller does not care.</param>
    /// <exception cref="RefusedException">It was changed meanwhile.</exception>
    public static void RefuseStale(Session session, Thing thing, string now, string? read)
    {
        if (read is not null && read != now)
            throw new RefusedException(Problems.Stale(UndoLog.LastChange(session, thing)));
    }

    /// <summary>The image of the data as a session sees them.</summary>
    internal ProjectSnapshot Snapshot(Session session)
    {
        var version = ProjectStore.ImageVersion(session);
        if (_snapshot is { } kept && kept.Version == version)
            return kept;
        if (_made is { } made && made.Version == version)
            return made;
        var loaded = ProjectSnapshot.Load(session);
        if (session is WriteSession)
            _made = loaded;
        else
            _snapshot = loaded;
        return loaded;
    }

    /// <summary>Writes to the log how long a step of the chain took.</summary>
    [LoggerMessage(LogLevel.Debug, "{Step} took {Milliseconds} ms")]
    internal partial void StepTook(string step, long milliseconds);

    private static T Made<T>(Outcome<T> outcome) => outcome.Refusal is { } refusal ? throw new RefusedException(refusal) : outcome.Value!;

    /// <summary>A change with all that follows from it.</summary>
    private Func<WriteSession, T> Complete<T>(Func<WriteSession, Outcome<T>> change) => session =>
    {
        var answer = Made(change(session));
        Derive(session);
        return answer;
    };

    private Outcome<T> Attempt<T>(string? label, JobId? jobId, Func<WriteSession, T> change, bool isLast = false, bool waits = false,
        Action<WriteSession>? beforeOthers = null, CancellationToken stop = default)
    {
        try
        {
            return _database.Change(
                label,
                session =>
                {
                    try
                    {
                        return change(session);
                    }
                    catch
                    {
                        // What the workspace holds may be ahead of what was rolled back.
                        if (session.HasTouched)
                            _workspace.Clear();
                        throw;
                    }
                },
                jobId,
                isLast,
                waits,
                beforeOthers,
                stop);
        }
        catch (RefusedException e)
        {
            return e.Problem;
        }
    }

    /// <summary>What a long write and those that it gives way to tell each other, in the writer's turn.</summary>
    private sealed class LongWrite
    {
        /// <summary>What others touched meanwhile.</summary>
        public Touched Arrived { get; private set; } = new();

        /// <summary>The image in memory is of what it wrote.</summary>
        public bool HasImage { get; set; }

        /// <summary>Everything is derived again.</summary>
        public bool IsWhole { get; set; }

        /// <summary>Part of it is written for good.</summary>
        public bool HasGivenWay { get; set; }

        public Touched TakeArrived()
        {
            var arrived = Arrived;
            Arrived = new Touched();
            return arrived;
        }
    }
}
