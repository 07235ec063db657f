using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>One transaction in which stores read. SQL is written in stores alone, so only they can run it.</summary>
public class Session
{
    private readonly SqliteConnection _connection;
    private readonly SqliteTransaction? _transaction;

    internal Session(SqliteConnection connection, SqliteTransaction? transaction, Database? readsBeside = null, long writes = -1)
    {
        (_connection, _transaction) = (connection, transaction);
        (ReadsBeside, Writes) = (readsBeside, writes);
    }

    /// <summary>Where something else can be read at the same time; null within a write, whose changes only it sees.</summary>
    internal Database? ReadsBeside { get; }

    /// <summary>How many transactions had been written when a read began: as long as it is the same, so are the data. -1 within a write.</summary>
    public long Writes { get; }

    /// <summary>Reads on another core what this one does not need yet.</summary>
    /// <returns>Null where that cannot be: within a write, whose changes only it sees.</returns>
    public Task<T>? ReadBeside<T>(Func<Session, T> read) => ReadsBeside is { } database
        ? Task.Factory.StartNew(() => database.Read(read), CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default)
        : null;

    /// <summary>A command of this transaction.</summary>
    /// <param name="sql">One statement or several.</param>
    /// <param name="parameters">Names without "@"; null becomes NULL.</param>
    internal SqliteCommand Command(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        BeforeUse();
        var command = _connection.CreateCommand();
        command.Transaction = _transaction;
        command.CommandText = sql;
        foreach (var (name, value) in parameters)
            command.Parameters.AddWithValue("@" + name, Stored(value));
        return command;
    }

    /// <summary>Called before the connection is used.</summary>
    private protected virtual void BeforeUse()
    {
    }

    /// <returns>A value as the database holds it: an id is its number.</returns>
    internal static object Stored(object? value) => value is IId id ? id.Value : value ?? DBNull.Value;

    /// <summary>Fills temporary tables, which only this connection sees; a write needs a <see cref="WriteSession"/>.</summary>
    /// <returns>Number of rows changed.</returns>
    internal int Temporary(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(sql, parameters);
        return command.ExecuteNonQuery();
    }

    /// <returns>The first value of the first row; null where there is none.</returns>
    internal object? Scalar(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(sql, parameters);
        var value = command.ExecuteScalar();
        return value is DBNull ? null : value;
    }

    /// <returns>The first value of the first row as a whole number; 0 where there is none.</returns>
    internal long Count(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters) =>
        Scalar(sql, parameters) is long count ? count : 0;

    /// <returns>The first value of the first row as an id; null where there is no row, or NULL stands there.</returns>
    internal TId? IdOrNull<TId>(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
        where TId : struct, IId<TId> => Scalar(sql, parameters) is long id ? TId.Of(id) : null;

    /// <returns>The first value of the first row as an id.</returns>
    /// <exception cref="InvalidOperationException">There is no row: only for a statement that gives one for certain.</exception>
    internal TId Id<TId>(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
        where TId : struct, IId<TId> => IdOrNull<TId>(sql, parameters) ?? throw new InvalidOperationException("No row: " + sql);

    /// <returns>The first column of all rows, as ids.</returns>
    internal List<TId> Ids<TId>(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
        where TId : struct, IId<TId> => List(sql, r => r.Id<TId>(0), parameters);

    /// <returns>All rows.</returns>
    internal List<T> List<T>(string sql, Func<SqliteDataReader, T> read, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(sql, parameters);
        using var reader = command.ExecuteReader();
        var rows = new List<T>();
        while (reader.Read())
            rows.Add(read(reader));
        return rows;
    }

    /// <summary>Goes through all rows without keeping them.</summary>
    internal void Each(string sql, Action<SqliteDataReader> read, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(sql, parameters);
        using var reader = command.ExecuteReader();
        while (reader.Read())
            read(reader);
    }

    /// <returns>The first row; null where there is none.</returns>
    internal T? First<T>(string sql, Func<SqliteDataReader, T> read, params ReadOnlySpan<(string Name, object? Value)> parameters)
        where T : class
    {
        using var command = Command(sql, parameters);
        using var reader = command.ExecuteReader();
        return reader.Read() ? read(reader) : null;
    }
}

/// <summary>One transaction in which stores write, and say what they touched. Made by <see cref="Database.Change{T}"/> alone.</summary>
public sealed class WriteSession : Session, IDisposable
{
    private Task? _beside;
    private volatile int _besideThread;

    private readonly CancellationToken _stop;

    // Whoever keeps in memory what others may change, in the order in which they came.
    private readonly List<IGivesWay> _givingWay = [];

    internal WriteSession(SqliteConnection connection, SqliteTransaction? transaction, CancellationToken stop = default)
        : base(connection, transaction) => _stop = stop;

    /// <summary>To be called in long work between statements, which do it by themselves.</summary>
    /// <exception cref="OperationCanceledException">It is to stop; what was written is rolled back.</exception>
    public void ThrowIfStopped() => _stop.ThrowIfCancellationRequested();

    /// <summary>What was touched so far; derived data follow from it.</summary>
    public Touched Touched { get; private set; } = new();

    /// <summary>Something was touched, whether or not it was taken.</summary>
    public bool HasTouched => _hasTouched || !Touched.IsEmpty;

    private bool _hasTouched;

    /// <returns>What was touched since it was taken last.</returns>
    public Touched TakeTouched()
    {
        var touched = Touched;
        (_hasTouched, Touched) = (HasTouched, new Touched());
        return touched;
    }

    /// <summary>
    /// Lets others write where they have waited for a while: what was written so far is kept, and the rest is written after them. To be called in long work
    /// where nothing half done is left.
    /// </summary>
    /// <param name="meanwhile">What is done without the session until it goes on, for which others are let in whether or not they wait; null for nothing.</param>
    /// <returns>True where it did; <paramref name="meanwhile"/> was not done where not.</returns>
    public bool GiveWay(Action? meanwhile = null) => _letOthers is not null && _letOthers(_givingWay, meanwhile);

    /// <summary>Makes it possible to give way.</summary>
    internal void MayGiveWay(Func<IReadOnlyList<IGivesWay>, Action?, bool> letOthers) => _letOthers = letOthers;

    private Func<IReadOnlyList<IGivesWay>, Action?, bool>? _letOthers;

    internal void Add(IGivesWay keeper) => _givingWay.Add(keeper);

    internal void Remove(IGivesWay keeper) => _givingWay.Remove(keeper);

    /// <summary>It is a step of the history, or a part of one.</summary>
    internal bool IsRecorded { get; init; }

    /// <summary>True while a step is undone or redone: what it restores needs no further change.</summary>
    public bool IsReplay { get; internal set; }

    /// <summary>Says that all of a kind may have changed.</summary>
    public void Touch(Data kind) => Touched.AddAll(kind);

    /// <summary>Says what changed, by id.</summary>
    /// <param name="kind">One kind.</param>
    /// <param name="ids">What <see cref="Data"/> says of the kind.</param>
    public void Touch<TId>(Data kind, params ReadOnlySpan<TId> ids)
        where TId : struct, IId<TId>
    {
        foreach (var id in ids)
            Touched.Add(kind, id.Value);
    }

    /// <summary>
    /// Writes on another core while the caller computes what comes next. Whatever uses the session after this waits until it is written, and gets its error;
    /// several are written in their order. A command that was made before must not be run until then.
    /// </summary>
    /// <param name="write">Touches nothing, and works on what nobody changes meanwhile.</param>
    public void Beside(Action write)
    {
        var before = _beside;
        _beside = Task.Factory.StartNew(
            () =>
            {
                before?.GetAwaiter().GetResult();
                _besideThread = Environment.CurrentManagedThreadId;
                write();
            },
            CancellationToken.None,
            TaskCreationOptions.LongRunning,
            TaskScheduler.Default);
    }

    /// <summary>Waits for what is written beside, whatever becomes of it: nothing may use the connection after the transaction.</summary>
    public void Dispose() => _beside?.ContinueWith(_ => { }, CancellationToken.None, TaskContinuationOptions.ExecuteSynchronously, TaskScheduler.Default).Wait();

    /// <summary>Waits until all is written.</summary>
    /// <exception cref="Exception">What was written beside failed.</exception>
    internal void Wait()
    {
        if (_beside is not { } beside || Environment.CurrentManagedThreadId == _besideThread)
            return;
        beside.GetAwaiter().GetResult();
        _beside = null;
    }

    private protected override void BeforeUse()
    {
        ThrowIfStopped();
        Wait();
    }

    /// <returns>Number of rows changed.</returns>
    internal int Execute(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(sql, parameters);
        return command.ExecuteNonQuery();
    }

    /// <summary>Deletes what must not be found in the file afterwards: it is written over, here and, after the commit, in the log.</summary>
    internal void ForgetForGood(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        Execute("pragma secure_delete = on");
        Forgets |= Execute(sql, parameters) > 0;
        Execute("pragma secure_delete = off");
    }

    /// <summary>Something was forgotten for good.</summary>
    internal bool Forgets { get; private set; }

    /// <summary>Adds many rows to a table whose indexes are made again afterwards: that sorts once, where else each row is put in its place.</summary>
    internal void WithoutIndexes(string table, Action add)
    {
        var indexes = List(
            "select name, sql from sqlite_master where type = 'index' and tbl_name = @table and sql is not null", r => (Name: r.GetString(0), Sql: r.GetString(1)), ("table", table));
        foreach (var (name, _) in indexes)
            Execute($"drop index {name}");
        add();
        foreach (var (_, sql) in indexes)
            Execute(sql);
    }

    /// <summary>Runs a statement that returns ids, and touches these.</summary>
    /// <returns>How many there were.</returns>
    internal int Touching(Data kind, string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        var ids = List(sql, r => r.IsDBNull(0) ? 0L : r.GetInt64(0), parameters);
        foreach (var id in ids)
            Touched.Add(kind, id);
        return ids.Count;
    }
}

/// <summary>Keeps in memory what others may change when a long write <see cref="WriteSession.GiveWay">gives way</see>.</summary>
internal interface IGivesWay
{
    /// <summary>Writes what is still waiting.</summary>
    void BeforeOthers();

    /// <summary>Looks again at what it keeps.</summary>
    /// <param name="haveChanged">Others changed something from which data are derived, or that is looked up.</param>
    void AfterOthers(bool haveChanged);
}

/// <summary>Runs a prepared command again with other values.</summary>
internal static class Commands
{
    /// <summary>Sets the first parameters, in their order.</summary>
    public static void Set(this SqliteCommand command, params ReadOnlySpan<object?> values)
    {
        for (var i = 0; i < values.Length; i++)
            command.Parameters[i].Value = Session.Stored(values[i]);
    }

    /// <summary>Sets the first parameters, in their order, and executes.</summary>
    public static void Run(this SqliteCommand command, params ReadOnlySpan<object?> values)
    {
        command.Set(values);
        command.ExecuteNonQuery();
    }
}

/// <summary>Reads columns as what they hold.</summary>
internal static class Columns
{
    public static string? TextOrNull(this SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetString(column);

    public static TId Id<TId>(this SqliteDataReader reader, int column)
        where TId : struct, IId<TId> => TId.Of(reader.GetInt64(column));

    public static TId? IdOrNull<TId>(this SqliteDataReader reader, int column)
        where TId : struct, IId<TId> => reader.IsDBNull(column) ? null : TId.Of(reader.GetInt64(column));

    public static long? LongOrNull(this SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetInt64(column);

    public static int? IntOrNull(this SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetInt32(column);

    public static double? DoubleOrNull(this SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetDouble(column);

    /// <summary>Enumerations are stored by name in lower case.</summary>
    public static T? EnumOrNull<T>(this SqliteDataReader reader, int column)
        where T : struct, Enum => reader.IsDBNull(column) ? null : System.Enum.Parse<T>(reader.GetString(column), ignoreCase: true);

    public static T Enum<T>(this SqliteDataReader reader, int column)
        where T : struct, Enum => System.Enum.Parse<T>(reader.GetString(column), ignoreCase: true);

    public static string Stored<T>(this T value)
        where T : struct, Enum => value.ToString().ToLowerInvariant();
}
