using JadeOrchard.Formats.Tables;
using JadeOrchard.Storage;

namespace JadeOrchard.Server;

/// <summary>The part of a list request that every list has, as in the query string.</summary>
/// <param name="Find">The id of a row: the tally then says where it stands.</param>
public sealed record Listing(string? Search, string? Sort, bool? Descending, int? Offset, int? Limit, string? Find = null)
{
    /// <summary>More rows than this come in several requests.</summary>
    public const int MostRows = 500;

    public ListQuery ToQuery() => new(Search, Sort, Descending ?? false, Offset ?? 0, Math.Clamp(Limit ?? 100, 0, MostRows), Find);

    /// <summary>The whole list, for an export.</summary>
    public ListQuery ToExport() => new(Search, Sort, Descending ?? false, 0, int.MaxValue);

    /// <summary>A list as a CSV file for spreadsheets.</summary>
    public static IResult Csv(string fileName, IReadOnlyList<string> columns, IEnumerable<object?[]> rows)
    {
        var stream = new MemoryStream();
        TableOutput.WriteCsv(stream, columns, rows, forSpreadsheets: true);
        stream.Position = 0;
        return TypedResults.File(stream, "text/csv; charset=utf-8", fileName);
    }

    /// <summary>A list as a workbook of one sheet.</summary>
    public static IResult Xlsx(string fileName, string sheet, IReadOnlyList<OutputColumn> columns, IEnumerable<object?[]> rows)
    {
        var stream = new MemoryStream();
        TableOutput.WriteXlsx(stream, sheet, columns, rows);
        stream.Position = 0;
        return TypedResults.File(stream, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", fileName);
    }
}
