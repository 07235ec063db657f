namespace JadeOrchard.Formats.Tables;

/// <summary>A file that cannot be read as a table at all; the message says what to do, for the planner.</summary>
public sealed class TableFormatException(string message) : Exception(message);
