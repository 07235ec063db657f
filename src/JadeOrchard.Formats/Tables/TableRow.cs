namespace JadeOrchard.Formats.Tables;

/// <summary>One row of a table that was read: its value, or why it was rejected.</summary>
/// <param name="Value">Null where the row was rejected.</param>
/// <param name="Rejected">Null where it was not.</param>
public readonly record struct TableRow<T>(T? Value, RejectedRow? Rejected)
    where T : class;
