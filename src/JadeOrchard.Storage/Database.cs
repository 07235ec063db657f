using System.Diagnostics;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>The SQLite file of one project.</summary>
/// <remarks>
/// Write-ahead log, foreign keys on, every commit synced: a kill at any moment loses nothing that was answered.
/// Readers never wait. One writer at a time; the others queue here rather than in SQLite.
/// </remarks>
public sealed class Database : IDisposable
{
    private static readonly TimeSpan WriterPatience = TimeSpan.FromSeconds(60);

    /// <summary>An import touches its pages again and again; what does not fit is written to the log each time.</summary>
    private const int WriterCacheMegabytes = 48;

    private const int ReaderCacheMegabytes = 16;

    private readonly string _connectionString;
    private readonly Turns _writer = new();
    private long _writes;

    // Of the writes those that touched something; changed by whoever has the turn.
    private long _changes;

    /// <summary>For so long a write that can give way goes on though others wait.</summary>
    internal TimeSpan Piece { get; set; } = TimeSpan.FromSeconds(0.2);

    /// <summary>How many changes are written before the log is moved into the file.</summary>
    private const int ChangesPerCheckpoint = 16;

    /// <summary>A log of more bytes is moved at once, and shrinks to this.</summary>
    private const long LargestIdleLog = 64 << 20;

    /// <summary>With a larger one, the next change waits until it is moved: under steady writing that beside it would never come to an end.</summary>
    private const long LargestLog = 512 << 20;

    private readonly string _path;
    private Task _checkpoint = Task.CompletedTask;
    private int _sinceCheckpoint;

    private Database(string path)
    {
        _path = path;
        _connectionString = new SqliteConnectionStringBuilder { DataSource = path, ForeignKeys = true, DefaultTimeout = 60 }.ToString();
    }

    /// <summary>Opens the file, makes it where it is missing, and brings it to the newest migration.</summary>
    /// <param name="path">Its folder must be there.</param>
    /// <exception cref="SqliteException">The file cannot be used, see <see cref="DatabaseFault"/>.</exception>
    /// <exception cref="NewerDatabaseException">It was made by a newer program.</exception>
    public static Database Open(string path)
    {
        var database = new Database(path);
        using (var connection = database.Connect(ReaderCacheMegabytes))
        {
            using var command = connection.CreateCommand();
            command.CommandText = "pragma journal_mode = wal";
            command.ExecuteNonQuery();
            Migrations.Apply(connection);
        }

        return database;
    }

    /// <summary>Tallies of lists that were read, good until the next write.</summary>
    internal KeptAnswers<ListTally> Tallies { get; } = new();

    /// <summary>How many transactions were written since the file was opened; grows before the answer of a write goes out.</summary>
    public long Writes => Interlocked.Read(ref _writes);

    /// <summary>Raised after a rollback, before the next transaction begins.</summary>
    public event Action? RolledBack;

    /// <summary>Raised after a commit, before the next transaction begins.</summary>
    public event Action? Committed;

    /// <summary>Reads in one snapshot.</summary>
    public T Read<T>(Func<Session, T> read)
    {
        // Before the snapshot is taken: then what is kept under this number is never older than it says.
        var writes = Writes;
        using var connection = Connect(ReaderCacheMegabytes);
        using var transaction = connection.BeginTransaction(deferred: true);
        return read(new Session(connection, transaction, this, writes));
    }

    /// <summary>
    /// Changes the project in one transaction, rolled back where <paramref name="change"/> throws. In the server only its open project may call this
    /// (see ArchitectureTests): it computes what follows in the same transaction.
    /// </summary>
    /// <param name="label">What the change is called in the history; null where it is not recorded for undo.</param>
    /// <param name="change">Gets the session; its answer goes out after the commit.</param>
    /// <param name="jobId">The job whose step this is a part of; null for a step of its own.</param>
    /// <param name="isLast">The job's step ends with this.</param>
    /// <param name="waits">However long it takes until it is its turn.</param>
    /// <param name="beforeOthers">Called before what was written so far is kept so that others can write; null where it is one transaction whoever waits.</param>
    /// <param name="stop">Ends it soon; nothing is changed then.</param>
    /// <exception cref="DatabaseBusyException">Another write took too long.</exception>
    public T Change<T>(
        string? label, Func<WriteSession, T> change, JobId? jobId = null, bool isLast = false, bool waits = false, Action<WriteSession>? beforeOthers = null, CancellationToken stop = default)
    {
        if (!_writer.Take(waits ? Timeout.InfiniteTimeSpan : WriterPatience))
            throw new DatabaseBusyException();
        var isWritten = false;
        var changed = ChangedAreas.Current;
        try
        {
            using var connection = Connect(WriterCacheMegabytes);
            using var watch = changed?.Attach(connection);
            using var transaction = new Transaction(connection);
            using var session = new WriteSession(connection, null, stop) { IsRecorded = label is not null };
            UndoLog.Recording? recording = null;
            var isStep = false;
            var clock = new Stopwatch();
            Begin();
            if (beforeOthers is not null)
                session.MayGiveWay((keepers, meanwhile) => (meanwhile is not null || (_writer.Waiting > 0 && clock.Elapsed >= Piece)) && LetOthersWrite(keepers, meanwhile));
            var answer = change(session);
            Finish();
            if (isLast)
                UndoLog.Close(session, jobId!.Value, label!);
            Commit();
            return answer;

            void Begin()
            {
                transaction.Begin();
                recording = label is null ? null : UndoLog.Start(session, jobId);
                clock.Restart();
            }

            void Finish()
            {
                if (recording is not null)
                    isStep = UndoLog.Finish(session, recording, label!);
            }

            void Commit()
            {
                session.Wait();
                transaction.Commit();
                isWritten = true;
                changed?.Commit(isStep ? label : null);
                Interlocked.Increment(ref _writes);
                if (session.HasTouched)
                    _changes++;
                if (session.Forgets)
                    Checkpoint("truncate");
                else
                    CheckpointBeside();
            }

            bool LetOthersWrite(IReadOnlyList<IGivesWay> keepers, Action? meanwhile)
            {
                foreach (var keeper in keepers.Reverse())
                    keeper.BeforeOthers();
                beforeOthers(session);
                Finish();
                Commit();
                Committed?.Invoke();
                var changes = _changes;
                _writer.Pass();
                try
                {
                    meanwhile?.Invoke();
                }
                finally
                {
                    _writer.Take(Timeout.InfiniteTimeSpan);
                    isWritten = false;
                }

                Begin();
                foreach (var keeper in keepers)
                    keeper.AfterOthers(_changes != changes);
                return true;
            }
        }
        finally
        {
            try
            {
                if (isWritten)
                    Committed?.Invoke();
                else
                    RolledBack?.Invoke();
            }
            finally
            {
                _writer.Pass();
            }
        }
    }

    /// <summary>Closes the connections that are kept for the next use, with what they hold of the file in memory.</summary>
    public void CloseIdle()
    {
        using var connection = new SqliteConnection(_connectionString);
        SqliteConnection.ClearPool(connection);
    }

    public void Dispose()
    {
        _checkpoint.Wait();
        CloseIdle();
    }

    /// <summary>
    /// Moves the log into the file while others go on reading and writing. By itself SQLite does so within a commit, every thousand pages, and the
    /// change that happens to be the one waits for it.
    /// </summary>
    private void CheckpointBeside()
    {
        var log = new FileInfo(_path + "-wal") is { Exists: true } file ? file.Length : 0;
        if ((++_sinceCheckpoint < ChangesPerCheckpoint && log <= LargestIdleLog) || (log <= LargestLog && !_checkpoint.IsCompleted))
            return;
        _sinceCheckpoint = 0;
        if (log > LargestLog)
            Checkpoint();
        else
            _checkpoint = Task.Run(() => Checkpoint());
    }

    private void Checkpoint(string how = "passive")
    {
        try
        {
            using var connection = Connect(1);
            using var command = connection.CreateCommand();
#pragma warning disable CA2100 // One of two words.
            command.CommandText = $"pragma wal_checkpoint({how})";
#pragma warning restore CA2100
            command.ExecuteNonQuery();
        }
        catch (SqliteException)
        {
            // The log stays as it is, and nothing is lost; the next change tries again, and tells what is wrong.
        }
    }

    private SqliteConnection Connect(int cacheMegabytes)
    {
        var connection = new SqliteConnection(_connectionString);
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = $"pragma synchronous = full; pragma cache_size = -{cacheMegabytes * 1024}; pragma temp_store = file; pragma wal_autocheckpoint = 0; pragma journal_size_limit = {LargestIdleLog};";
        command.ExecuteNonQuery();
        return connection;
    }
}

/// <summary>A transaction that can end and begin again on the same connection, whose commands then go on.</summary>
internal sealed class Transaction(SqliteConnection connection) : IDisposable
{
    private bool _isOpen;

    public void Begin()
    {
        Run("begin immediate");
        _isOpen = true;
    }

    public void Commit()
    {
        Run("commit");
        _isOpen = false;
    }

    /// <summary>Takes back what was not committed.</summary>
    public void Dispose()
    {
        if (!_isOpen)
            return;
        try
        {
            Run("rollback");
        }
        catch (SqliteException)
        {
            // Some errors, such as a full disk, have taken it back by themselves (sqlite.org/lang_transaction.html).
        }
    }

    private void Run(string statement)
    {
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // One of three words.
        command.CommandText = statement;
#pragma warning restore CA2100
        command.ExecuteNonQuery();
    }
}

/// <summary>Another write holds the project; trying again later helps.</summary>
public sealed class DatabaseBusyException() : Exception("Another change is still being written. Try again in a moment.");
