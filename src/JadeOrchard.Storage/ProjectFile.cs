using System.Globalization;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>What can be told of a project's file that is not open.</summary>
/// <param name="Name">What the planner calls it; empty where nobody named it.</param>
/// <param name="Host">Host of the site; empty as long as none is given.</param>
/// <param name="Shape">How many migrations it has seen.</param>
public sealed record ProjectFileFacts(string Name, string Host, string Country, string Language, long Shape);

/// <summary>Project files as a whole: copied, made fit to live beside the one they came from, and looked at without being opened.</summary>
public static class ProjectFile
{
    /// <summary>The first bytes of every such file (sqlite.org/fileformat.html, 1.3).</summary>
    private static ReadOnlySpan<byte> Magic => "SQLite format 3\0"u8;

    /// <summary>The shape that this program writes.</summary>
    public static long NewestShape => Migrations.Newest;

    /// <summary>Copies a file, whoever writes to it meanwhile (sqlite.org/backup.html). The copy is one file, with nothing beside it, and appears whole or not at all.</summary>
    /// <exception cref="SqliteException">The file cannot be read or the copy not be written.</exception>
    public static void Copy(string from, string to)
    {
        var part = to + ".part";
        File.Delete(part);
        try
        {
            MakePrivate(part);
            using (var source = Connect(from, SqliteOpenMode.ReadWrite))
            using (var target = Connect(part, SqliteOpenMode.ReadWrite))
            {
                source.BackupDatabase(target);
                Execute(target, "pragma journal_mode = delete");
            }

            File.Move(part, to, overwrite: true);
        }
        finally
        {
            File.Delete(part);
        }
    }

    /// <summary>Makes a copy a project of its own: services are asked in its own name, what was under way does not go on, and links for writers are the original's.</summary>
    /// <param name="path">Of the copy, open nowhere.</param>
    /// <param name="keepsKeys">The keys of services stay; false for a file that is handed on.</param>
    /// <exception cref="SqliteException">It is no project, or cannot be written.</exception>
    public static void Detach(string path, bool keepsKeys)
    {
        using var connection = Connect(path, SqliteOpenMode.ReadWrite);
        Execute(connection, "pragma secure_delete = on");
        StopJobs(connection);
        // Tables that older shapes do not have.
        if (Has(connection, "data_state"))
            Execute(connection, "update data_state set identity = lower(hex(randomblob(8)))");
        if (Has(connection, "brief_link"))
            Execute(connection, "delete from brief_link");
        if (!keepsKeys && Has(connection, "service_key"))
        {
            Execute(connection, "delete from service_key");
            Execute(connection, "vacuum");
        }
    }

    /// <summary>What was under way in a file when it was copied does not go on: nothing is asked for and paid that nobody started.</summary>
    /// <exception cref="SqliteException">It is no project, or cannot be written.</exception>
    public static void StopJobs(string path)
    {
        using var connection = Connect(path, SqliteOpenMode.ReadWrite);
        StopJobs(connection);
    }

    /// <returns>What the file says of itself; null where it is no project, or cannot be read.</returns>
    public static ProjectFileFacts? Facts(string path)
    {
        if (!IsDatabase(path))
            return null;
        try
        {
            using var connection = Connect(path, SqliteOpenMode.ReadWrite);
            using var command = connection.CreateCommand();
            command.CommandText = "select name, host, country, language, user_version from project, pragma_user_version";
            using var reader = command.ExecuteReader();
            return reader.Read() ? new ProjectFileFacts(reader.GetString(0), reader.GetString(1), reader.GetString(2), reader.GetString(3), reader.GetInt64(4)) : null;
        }
        catch (SqliteException)
        {
            return null;
        }
    }

    /// <returns>Why a file cannot become a project, in words; null where it can.</returns>
    public static string? WhyNot(string path) =>
        !IsDatabase(path) ? "This is no file of a project. Choose one that Jade Orchard exported, or a backup of a project."
        : DatabaseCheck.Fault(path) is { } fault ? fault.Replace(DatabaseFault.Damaged, "This file is damaged.", StringComparison.Ordinal)
        : Facts(path) is not { } facts ? "This is a database, but not one of a project. Choose one that Jade Orchard exported, or a backup of a project."
        : facts.Shape > NewestShape ? $"This was written by a newer Jade Orchard (version {facts.Shape} of its shape, {NewestShape} is known here). Use that one."
        : null;

    /// <summary>Only its user can read a project's file, and copies of it.</summary>
    public static void MakePrivate(string path)
    {
        var options = new FileStreamOptions { Mode = FileMode.OpenOrCreate, Access = FileAccess.ReadWrite, Share = FileShare.ReadWrite };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        new FileStream(path, options).Dispose();
    }

    internal static bool IsDatabase(string path)
    {
        Span<byte> first = stackalloc byte[16];
        using var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);
        return file.ReadAtLeast(first, first.Length, throwOnEndOfStream: false) == first.Length && first.SequenceEqual(Magic);
    }

    private static void StopJobs(SqliteConnection connection) =>
        Execute(connection, "update job set state = 'stopped', message = 'It was under way when this copy was made.' where state in ('waiting', 'running', 'paused')");

    private static bool Has(SqliteConnection connection, string table)
    {
        using var command = connection.CreateCommand();
        command.CommandText = "select count(*) from sqlite_master where type = 'table' and name = @name";
        command.Parameters.AddWithValue("@name", table);
        return Convert.ToInt64(command.ExecuteScalar(), CultureInfo.InvariantCulture) > 0;
    }

    private static SqliteConnection Connect(string path, SqliteOpenMode mode)
    {
        var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = path, Mode = mode, Pooling = false, DefaultTimeout = 30 }.ToString());
        connection.Open();
        return connection;
    }

    private static void Execute(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // Statements of this class alone.
        command.CommandText = sql;
#pragma warning restore CA2100
        command.ExecuteNonQuery();
    }
}
