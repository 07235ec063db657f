using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>Inserts rows several at a time: a statement for each alone costs more than its row.</summary>
internal sealed class RowBuffer : IDisposable
{
    private readonly WriteSession _session;
    private readonly string _insert;
    private readonly string[] _shared;
    private readonly int _columns;
    private readonly SqliteCommand?[] _commands;
    private readonly object?[] _sharedValues;
    private readonly object?[] _values;

    /// <param name="session">The transaction.</param>
    /// <param name="insert">
    /// The statement up to its values. With "or fail", so that SQLite need not keep what the statement would take back
    /// alone: after an error the transaction ends.
    /// </param>
    /// <param name="rows">How many rows go in at once. A value is found by its name among all, so more is not better.</param>
    /// <param name="columns">How many values a row has of its own.</param>
    /// <param name="shared">The expressions that come before them, each with one value for all rows, @s0 and so on.</param>
    public RowBuffer(WriteSession session, string insert, int rows, int columns, params string[] shared)
    {
        (_session, _insert, _columns, _shared) = (session, insert, columns, shared);
        _commands = new SqliteCommand?[rows];
        _sharedValues = new object?[shared.Length];
        _values = new object?[rows * columns];
    }

    /// <summary>What comes after the values: "on conflict …".</summary>
    public string OnConflict { get; init; } = "";

    public int Waiting { get; private set; }

    /// <summary>Sets the values that the rows from here on share.</summary>
    public void Share(params ReadOnlySpan<object?> values)
    {
        Flush();
        values.CopyTo(_sharedValues);
    }

    public void Add(params ReadOnlySpan<object?> values)
    {
        values.CopyTo(_values.AsSpan(Waiting * _columns));
        if (++Waiting == _commands.Length)
            Flush();
    }

    public void Flush()
    {
        if (Waiting == 0)
            return;
        _session.ThrowIfStopped();
        var command = _commands[Waiting - 1] ??= Command(Waiting);
        for (var i = 0; i < _shared.Length; i++)
            command.Parameters[i].Value = Session.Stored(_sharedValues[i]);
        for (var i = 0; i < Waiting * _columns; i++)
            command.Parameters[_shared.Length + i].Value = Session.Stored(_values[i]);
        Waiting = 0;
        command.ExecuteNonQuery();
    }

    public void Dispose()
    {
        Flush();
        foreach (var command in _commands)
            command?.Dispose();
    }

    private SqliteCommand Command(int rows)
    {
        var values = Enumerable.Range(0, rows).Select(row => string.Join(
            ", ",
            _shared.Concat(Enumerable.Range(row * _columns, _columns).Select(i => $"@{i}"))));
        var command = _session.Command($"{_insert} values ({string.Join("), (", values)}) {OnConflict}");
        foreach (var name in Enumerable.Range(0, _shared.Length).Select(i => $"@s{i}").Concat(Enumerable.Range(0, rows * _columns).Select(i => $"@{i}")))
            command.Parameters.Add(new SqliteParameter(name, DBNull.Value));
        command.Prepare();
        return command;
    }
}
