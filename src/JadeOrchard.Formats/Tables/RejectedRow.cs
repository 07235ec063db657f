namespace JadeOrchard.Formats.Tables;

/// <summary>A row that did not go in.</summary>
/// <param name="Line">The line of the file on which the row begins, from 1.</param>
/// <param name="Column">The column at fault; empty where it is the row as a whole.</param>
/// <param name="Reason">What is wrong, in words.</param>
/// <param name="Value">What stood there, cut to a length that can be shown.</param>
public sealed record RejectedRow(long Line, string Column, string Reason, string Value)
{
    private const int ShownLength = 200;

    public static RejectedRow At(long line, string column, string reason, string value) =>
        new(line, column, reason, value.Length <= ShownLength ? value : value[..ShownLength] + "…");
}
