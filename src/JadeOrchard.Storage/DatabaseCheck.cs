using System.Globalization;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>Looks for damage in a project's file, and says what can still be read of it.</summary>
public static class DatabaseCheck
{
    /// <summary>The tables that hold a planner's work, and what their rows are called.</summary>
    private static readonly (string Table, string Rows)[] Work =
    [
        ("keyword", "keywords"), ("result_list", "result lists"), ("page", "pages"), ("cluster", "clusters"), ("assignment", "clusters with a page"),
        ("finding_decision", "decisions on findings"), ("performance", "rows of search performance"),
    ];

    /// <param name="path">Of the file; nothing is written.</param>
    /// <returns>That it is damaged, and what can still be read; null where it is sound.</returns>
    public static string? Fault(string path)
    {
        try
        {
            using var connection = Open(path);
            return Text(connection, "pragma quick_check(1)") is "ok" ? null : $"{DatabaseFault.Damaged} {Readable(path)}";
        }
        catch (SqliteException e) when (DatabaseFault.IsDamage(e))
        {
            return $"{DatabaseFault.Says(e)} {Readable(path)}";
        }
    }

    /// <returns>What can still be read of a damaged file, in words.</returns>
    public static string Readable(string path)
    {
        var (sound, damaged) = Counted(path);
        return sound.Count == 0 ? "Nothing can be read of it."
            : $"What can still be read: {string.Join(", ", sound)}{(damaged.Count == 0 ? "" : "; not: " + string.Join(", ", damaged))}.";
    }

    /// <returns>What a sound file holds, in words: "2 keywords, 0 result lists, …".</returns>
    public static string Holds(string path) => string.Join(", ", Counted(path).Sound);

    private static (List<string> Sound, List<string> Damaged) Counted(string path)
    {
        var (sound, damaged) = (new List<string>(), new List<string>());
        try
        {
            using var connection = Open(path);
            foreach (var (table, rows) in Work)
            {
                try
                {
                    sound.Add(string.Create(CultureInfo.InvariantCulture, $"{Rows(connection, table):N0} {rows}"));
                }
                catch (SqliteException)
                {
                    damaged.Add(rows);
                }
            }
        }
        catch (SqliteException)
        {
            return ([], []);
        }

        return (sound, damaged);
    }

    private static SqliteConnection Open(string path)
    {
        var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = path, Mode = SqliteOpenMode.ReadWrite, Pooling = false, DefaultTimeout = 5 }.ToString());
        connection.Open();
        return connection;
    }

    private static string Text(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // Names of our own tables alone.
        command.CommandText = sql;
#pragma warning restore CA2100
        return command.ExecuteScalar() as string ?? "";
    }

    /// <summary>Every row and every column is read.</summary>
    private static long Rows(SqliteConnection connection, string table)
    {
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // Names of our own tables alone.
        command.CommandText = $"select * from {table} not indexed";
#pragma warning restore CA2100
        using var reader = command.ExecuteReader();
        var rows = 0L;
        while (reader.Read())
        {
            for (var column = 0; column < reader.FieldCount; column++)
                reader.GetValue(column);
            rows++;
        }

        return rows;
    }
}
