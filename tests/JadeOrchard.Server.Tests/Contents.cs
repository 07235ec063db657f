using System.Globalization;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Server.Tests;

/// <summary>What the tables of a project's database hold.</summary>
internal static class Contents
{
    /// <summary>Tables that only count or log what was done, so that undoing leaves its mark in them.</summary>
    private static readonly string[] Logs =
        ["data_state", "job", "import", "rejected_row", "scan", "scan_url", "page_change", "capture_item", "expected_member", "coverage_day", "column_mapping"];

    /// <summary>Tables that are only added to: what nothing refers to any more goes when the history lets it go.</summary>
    private static readonly string[] Retained =
        ["url", "result_part", "result_phrase", "page_content", "page_link", "performance_days", "performance_query", "performance_page", "page_stems"];

    /// <summary>A number that says nothing but that rows are others.</summary>
    private const string RowNumber = "finding_id";

    /// <returns>For each table its rows as text, in order.</returns>
    /// <param name="folder">The folder of a project; the application may be running.</param>
    /// <param name="withRetained">Also what undo retains in case it is redone; that grows only.</param>
    public static Dictionary<string, List<string>> Of(string folder, bool withRetained = false)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "project.db")};Pooling=False;Mode=ReadOnly");
        connection.Open();
        var contents = new Dictionary<string, List<string>>(StringComparer.Ordinal);
        foreach (var table in Strings(connection, "select name from sqlite_master where type = 'table' and name not like 'sqlite\\_%' escape '\\' and name not like 'undo\\_%' escape '\\'"))
        {
            if (Logs.Contains(table) || (!withRetained && Retained.Contains(table)))
                continue;
            var columns = Strings(connection, $"select name from pragma_table_info('{table}')")
                .Where(c => c != RowNumber || table != "finding")
                .Select(c => c == RowNumber ? $"(select f.finding_key from finding f where f.finding_id = {table}.finding_id)" : c);
            contents[table] = [.. Strings(connection, $"select {string.Join(" || ' | ' || ", columns.Select(c => $"coalesce(quote({c}), 'null')"))} from {table}").Order(StringComparer.Ordinal)];
        }

        return contents;
    }

    public static Dictionary<string, List<string>> WithoutRetained(Dictionary<string, List<string>> contents) =>
        contents.Where(t => !Retained.Contains(t.Key)).ToDictionary(t => t.Key, t => t.Value, StringComparer.Ordinal);

    /// <summary>Fails with the first rows that differ.</summary>
    public static void AreSame(Dictionary<string, List<string>> expected, Dictionary<string, List<string>> actual, string when)
    {
        foreach (var (table, rows) in expected)
        {
            var (missing, extra) = (rows.Except(actual[table]).Take(3).ToList(), actual[table].Except(rows).Take(3).ToList());
            Assert.True(
                missing.Count == 0 && extra.Count == 0 && rows.Count == actual[table].Count,
                string.Create(CultureInfo.InvariantCulture, $"{when}: {table} has {actual[table].Count} rows instead of {rows.Count}\nmissing:\n  {string.Join("\n  ", missing)}\nextra:\n  {string.Join("\n  ", extra)}"));
        }
    }

    private static List<string> Strings(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // Names of tables and columns from the schema itself.
        command.CommandText = sql;
#pragma warning restore CA2100
        using var reader = command.ExecuteReader();
        var strings = new List<string>();
        while (reader.Read())
            strings.Add(reader.GetString(0));
        return strings;
    }
}
