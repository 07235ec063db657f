using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;
using MiniExcelLibs;
using MiniExcelLibs.Attributes;
using MiniExcelLibs.OpenXml;

namespace JadeOrchard.Formats.Tables;

/// <summary>A column of a table that is written.</summary>
/// <param name="Name">The header.</param>
/// <param name="Width">In characters, for spreadsheets.</param>
public sealed record OutputColumn(string Name, double Width = 16);

/// <summary>Writes tables: CSV (RFC 4180, UTF-8) and XLSX (ECMA-376).</summary>
public static class TableOutput
{
    /// <summary>Rows that become text at once, on one core.</summary>
    private const int RowsAtOnce = 2_000;

    private static readonly CsvConfiguration Configuration = new(CultureInfo.InvariantCulture) { NewLine = "\r\n", ShouldQuote = args => NeedsQuotes(args.Field) };

    /// <summary>A field that begins so is a formula to a spreadsheet, also in full width.</summary>
    private const string FormulaBeginnings = "=+-@\uFF1D\uFF0B\uFF0D\uFF20";

    /// <summary>In which a spreadsheet may see the end of a field, whatever this file parts its fields by.</summary>
    private const string Separators = ";\t|:\r\n";

    /// <summary>Writes CSV.</summary>
    /// <param name="stream">Stays open.</param>
    /// <param name="columns">The header.</param>
    /// <param name="rows">Strings, numbers or null, as many as there are columns.</param>
    /// <param name="forSpreadsheets">
    /// With a byte order mark, and text that a spreadsheet would take for a formula begins with an apostrophe (common
    /// practice). Without, every value stands exactly as it is, for programs.
    /// </param>
    public static void WriteCsv(Stream stream, IReadOnlyList<string> columns, IEnumerable<object?[]> rows, bool forSpreadsheets)
    {
        var encoding = new UTF8Encoding(forSpreadsheets);
        stream.Write(encoding.Preamble);
        stream.Write(Csv([[.. columns]], forSpreadsheets: false));
        foreach (var bytes in ReadAhead.Of(rows.Chunk(RowsAtOnce), some => Csv(some, forSpreadsheets)))
            stream.Write(bytes);
    }

    private static byte[] Csv(IEnumerable<object?[]> rows, bool forSpreadsheets)
    {
        using var bytes = new MemoryStream();
        using (var csv = new CsvWriter(new StreamWriter(bytes, new UTF8Encoding(false)), Configuration))
        {
            foreach (var row in rows)
            {
                foreach (var value in row)
                {
                    // Numbers may begin with a sign; only text can be a formula.
                    var text = TextOf(value);
                    csv.WriteField(forSpreadsheets && value is string ? WithoutFormulas(text!) : text);
                }

                csv.NextRecord();
            }
        }

        return bytes.ToArray();
    }

    /// <summary>Writes a workbook of one sheet: frozen header, widths, wrapped text, real numbers, no formulas.</summary>
    /// <param name="stream">Stays open.</param>
    /// <param name="sheet">Name of the sheet.</param>
    /// <param name="columns">The header and the widths.</param>
    /// <param name="rows">Strings, numbers or null, as many as there are columns.</param>
    public static void WriteXlsx(Stream stream, string sheet, IReadOnlyList<OutputColumn> columns, IEnumerable<object?[]> rows)
    {
        var configuration = new OpenXmlConfiguration
        {
            FreezeRowCount = 1,
            AutoFilter = true,
            FastMode = true,
            DynamicColumns = [.. columns.Select((c, i) => new DynamicExcelColumn(c.Name) { Index = i, Width = c.Width })],
            StyleOptions = new OpenXmlStyleOptions { WrapCellContents = true },
        };
        var records = rows.Select(row =>
        {
            var record = new Dictionary<string, object?>(columns.Count);
            for (var i = 0; i < columns.Count; i++)
                record[columns[i].Name] = row[i] is string text ? CellText(text) : row[i];
            return record;
        });
        MiniExcel.SaveAs(stream, records, sheetName: sheet, configuration: configuration);
    }

    /// <summary>A cell holds at most 32,767 characters, and XML no control characters (ECMA-376, XML 1.0).</summary>
    internal static string CellText(string text)
    {
        const int most = 32_767;
        var clean = string.Concat(text.Where(c => c >= ' ' || c is '\n' or '\t'));
        return clean.Length <= most ? clean : clean[..most];
    }

    /// <summary>Text with an apostrophe before what a spreadsheet would take for a formula: at its beginning and after another dialect's separator, also behind what is not seen.</summary>
    private static string WithoutFormulas(string text)
    {
        // Where a field begins behind which nothing but a formula was seen so far; null where something else was.
        int? field = 0;
        var isAtStart = true;
        StringBuilder? guarded = null;
        for (var i = 0; i < text.Length; i++)
        {
            if (FormulaBeginnings.Contains(text[i], StringComparison.Ordinal))
            {
                if (isAtStart && field > 0)
                    Guard(0);
                if (field is { } at)
                    Guard(at);
            }

            if (Separators.Contains(text[i], StringComparison.Ordinal))
                field = i + 1;
            else if (!IsPassedOver(text[i]))
                field = null;
            isAtStart &= IsPassedOver(text[i]);
        }

        return guarded?.ToString() ?? text;

        void Guard(int at)
        {
            guarded ??= new StringBuilder(text);
            guarded.Insert(at + guarded.Length - text.Length, '\'');
        }
    }

    /// <summary>White space, what is not seen, and quotes, which a reader may take for its own.</summary>
    private static bool IsPassedOver(char c) => c == '"' || char.IsWhiteSpace(c) || char.IsControl(c) || char.GetUnicodeCategory(c) == UnicodeCategory.Format;

    private static bool NeedsQuotes(string? field) =>
        field is not null && (field.AsSpan().IndexOfAny("\",\r\n") >= 0 || (field.Length > 0 && (field[0] == ' ' || field[^1] == ' ')));

    private static string? TextOf(object? value) => value switch
    {
        null => null,
        string text => text,
        IFormattable number => number.ToString(null, CultureInfo.InvariantCulture),
        _ => value.ToString(),
    };
}
