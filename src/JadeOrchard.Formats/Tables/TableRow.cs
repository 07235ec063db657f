namespace JadeOrchard.Formats.Tables;

/// <summary>The fields of one row of a table, or why it cannot be one.</summary>
/// <param name="Line">Its line or row in the file, from 1.</param>
/// <param name="Row">The fields.</param>
public readonly record struct TableLine(long Line, TableRow<string[]> Row);

/// <summary>One row of a table that was read: its value, or why it was rejected.</summary>
/// <param name="Value">Null where the row was rejected.</param>
/// <param name="Rejected">Null where it was not.</param>
public readonly record struct TableRow<T>(T? Value, RejectedRow? Rejected)
    where T : class;
