using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>Says in words what keeps a project's file from being read or written (result codes of SQLite, sqlite.org/rescode.html).</summary>
public static class DatabaseFault
{
    private const int Busy = 5;
    private const int Locked = 6;
    private const int ReadOnly = 8;
    private const int InputOutput = 10;
    private const int Corrupt = 11;
    private const int Full = 13;
    private const int CannotOpen = 14;
    private const int NoDatabase = 26;

    internal const string Damaged = "The project file is damaged. Put a backup of it in its place.";

    /// <returns>What is wrong and what to do; null where it is something else.</returns>
    public static string? Says(Exception error) => error switch
    {
        DatabaseBusyException or NewerDatabaseException => error.Message,
        SqliteException sqlite => sqlite.SqliteErrorCode switch
        {
            Busy or Locked => "Another program holds the project file. Close it, then try again.",
            ReadOnly => "The project file cannot be written. See that you may write it and its folder.",
            InputOutput => "Reading or writing the project file failed. Check its disk and the room on it.",
            Full => "The disk is full. Make room on it, then try again.",
            CannotOpen => "The project file cannot be opened. See that its folder is there, and that you may write it.",
            Corrupt or NoDatabase => Damaged,
            _ => null,
        },
        UnauthorizedAccessException or IOException { HResult: ReadOnlyFileSystem } => "The project folder cannot be written. See that you may write it and what is in it.",
        IOException { HResult: NoSpace or NoSpaceOfUnix } => "The disk is full. Make room on it, then try again.",
        _ => error.InnerException is { } inner ? Says(inner) : null,
    };

    /// <returns>Whether the file itself is damaged.</returns>
    public static bool IsDamage(Exception error) => error is SqliteException { SqliteErrorCode: Corrupt or NoDatabase };

    /// <returns>Whether it passes by itself or by what the planner does outside: then trying again helps.</returns>
    public static bool Passes(Exception error) => error is DatabaseBusyException
        || (error is SqliteException sqlite ? sqlite.SqliteErrorCode is Busy or Locked or ReadOnly or InputOutput or Full or CannotOpen : error.InnerException is { } inner && Passes(inner));

    // EROFS and ENOSPC, as .NET hands them on, and ERROR_DISK_FULL.
    private const int ReadOnlyFileSystem = 30;
    private const int NoSpaceOfUnix = 28;
    private const int NoSpace = unchecked((int)0x80070070);
}

/// <summary>The file was written by a newer program.</summary>
public sealed class NewerDatabaseException(string message) : Exception(message);
