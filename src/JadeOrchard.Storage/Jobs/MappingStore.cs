using System.Text.Json;

namespace JadeOrchard.Storage.Jobs;

/// <summary>Columns mapped by the planner, remembered by the header, so that the next such file maps itself.</summary>
public static class MappingStore
{
    /// <param name="session">The transaction.</param>
    /// <param name="header">The names of the columns in their order.</param>
    /// <param name="kind">What the table is about.</param>
    /// <returns>For a column's name its place; null where no such header was mapped yet.</returns>
    public static Dictionary<string, int>? Find(Session session, IReadOnlyList<string> header, string kind) =>
        session.Scalar("select columns from column_mapping where header = @header and kind = @kind", ("header", ShapeOf(header)), ("kind", kind)) is string columns
            ? JsonSerializer.Deserialize<Dictionary<string, int>>(columns)
            : null;

    public static void Save(WriteSession session, IReadOnlyList<string> header, string kind, IReadOnlyDictionary<string, int> columns) => session.Execute(
        "insert into column_mapping (header, kind, columns) values (@header, @kind, @columns) on conflict do update set columns = excluded.columns",
        ("header", ShapeOf(header)), ("kind", kind), ("columns", JsonSerializer.Serialize(columns)));

    private static string ShapeOf(IReadOnlyList<string> header) => string.Join('\t', header.Select(name => name.Replace('\t', ' ').Trim().ToLowerInvariant()));
}
