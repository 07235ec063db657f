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
    private const int WriterCacheMegabytes = 256;

    private readonly string _connectionString;
    private readonly SemaphoreSlim _writer = new(1, 1);
    private long _writes;

    private Database(string connectionString) => _connectionString = connectionString;

    /// <summary>Opens the file, makes it where it is missing, and brings it to the newest migration.</summary>
    /// <param name="path">Its folder must be there.</param>
    /// <exception cref="SqliteException">The file is no database, or was made by a newer program.</exception>
    public static Database Open(string path)
    {
        var database = new Database(new SqliteConnectionStringBuilder { DataSource = path, ForeignKeys = true, DefaultTimeout = 60 }.ToString());
        using (var connection = database.Connect())
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
    internal long Writes => Interlocked.Read(ref _writes);

    /// <summary>Told when a transaction came to nothing, before the next one begins.</summary>
    public event Action? RolledBack;

    /// <summary>Reads in one snapshot.</summary>
    public T Read<T>(Func<Session, T> read)
    {
        // Before the snapshot is taken: then what is kept under this number is never older than it says.
        var writes = Writes;
        using var connection = Connect();
        using var transaction = connection.BeginTransaction(deferred: true);
        return read(new Session(connection, transaction, this, writes));
    }

    /// <summary>Writes in one transaction; nothing is kept where <paramref name="write"/> throws.</summary>
    /// <param name="write">Gets the session; its answer goes out after the commit.</param>
    /// <param name="undoLabel">What the change is called in the list of steps that can be undone; null where it cannot.</param>
    /// <exception cref="DatabaseBusyException">Another write took too long.</exception>
    public T Write<T>(Func<Session, T> write, string? undoLabel = null) => InTransaction(session =>
    {
        if (undoLabel is null)
            return write(session);
        UndoLog.Begin(session, undoLabel);
        var answer = write(session);
        UndoLog.End(session);
        return answer;
    });

    /// <summary>Writes as part of a step that was begun by <see cref="UndoLog.Open"/>.</summary>
    /// <param name="step">Its id.</param>
    /// <param name="write">Gets the session.</param>
    public T Continue<T>(long step, Func<Session, T> write) => InTransaction(session =>
    {
        UndoLog.Start(session, step);
        var answer = write(session);
        UndoLog.Record(session, null);
        return answer;
    });

    private T InTransaction<T>(Func<Session, T> write)
    {
        if (!_writer.Wait(WriterPatience))
            throw new DatabaseBusyException();
        var isWritten = false;
        try
        {
            using var connection = Connect(WriterCacheMegabytes);
            using var transaction = connection.BeginTransaction();
            var answer = write(new Session(connection, transaction));
            transaction.Commit();
            isWritten = true;
            Interlocked.Increment(ref _writes);
            return answer;
        }
        finally
        {
            if (!isWritten)
                RolledBack?.Invoke();
            _writer.Release();
        }
    }

    /// <inheritdoc cref="Write{T}(Func{Session, T}, string?)"/>
    public void Write(Action<Session> write, string? undoLabel = null) => Write(
        session =>
        {
            write(session);
            return 0;
        },
        undoLabel);

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        _writer.Dispose();
    }

    private SqliteConnection Connect(int cacheMegabytes = 64)
    {
        var connection = new SqliteConnection(_connectionString);
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = $"pragma synchronous = full; pragma cache_size = -{cacheMegabytes * 1024}; pragma temp_store = memory; pragma mmap_size = 1073741824;";
        command.ExecuteNonQuery();
        return connection;
    }
}

/// <summary>Another write holds the project; trying again later helps.</summary>
public sealed class DatabaseBusyException() : Exception("Another change is still being written. Try again in a moment.");
