using System.IO.Compression;
using System.Xml;
using DocumentFormat.OpenXml.Packaging;

namespace JadeOrchard.Formats.Tables;

/// <summary>Reads the first sheet of a workbook (XLSX, ECMA-376), row by row.</summary>
/// <remarks>
/// Values as the file keeps them, so formulas count by the value that was saved with them. Bounded: a workbook whose
/// parts would unpack to more than a limit is refused before anything of it is read.
/// </remarks>
public sealed class WorkbookFile : TableFile
{
    /// <summary>Parts together may unpack to this much.</summary>
    public const long MostUnpacked = 1L << 30;

    /// <summary>A large part that unpacks to more than this many times its size is hostile.</summary>
    private const int MostRatio = 100;

    private readonly Stream _stream;
    private readonly IEnumerator<(long Line, string[]? Fields, string? Fault)> _rows;
    private long _line;

    private WorkbookFile(Stream stream, long rows)
    {
        _stream = stream;
        Length = rows;
        _rows = ReadRows(stream).GetEnumerator();
        if (!_rows.MoveNext())
            throw new TableFormatException("The workbook is empty. The first row of its first sheet must name the columns.");
        if (_rows.Current.Fault is { } fault)
            throw new TableFormatException(fault);
        Header = [.. _rows.Current.Fields!.Select(f => f.Trim())];
    }

    public override IReadOnlyList<string> Header { get; }

    public override long Position => Math.Min(_line, Length);

    /// <summary>In rows, estimated from the size of the sheet.</summary>
    public override long Length { get; }

    public override string Says => $"{Header.Count} columns of a workbook's first sheet";

    /// <param name="stream">Can seek; is disposed with this.</param>
    /// <exception cref="TableFormatException">It is no workbook, or one that would unpack to too much.</exception>
    public static new WorkbookFile Open(Stream stream)
    {
        try
        {
            return new WorkbookFile(stream, Check(stream));
        }
        catch (TableFormatException)
        {
            stream.Dispose();
            throw;
        }
    }

    public override IEnumerable<TableLine> Rows()
    {
        while (_rows.MoveNext())
        {
            var (line, fields, fault) = _rows.Current;
            _line = line;
            if (fault is not null)
            {
                yield return new TableLine(line, new(null, RejectedRow.At(line, "", fault, "")));
                continue;
            }

            if (fields!.All(string.IsNullOrWhiteSpace))
                continue;
            var beyond = fields!.Skip(Header.Count).FirstOrDefault(f => f.Length > 0);
            yield return beyond is null
                ? new TableLine(line, new(fields, null))
                : new TableLine(line, new(null, RejectedRow.At(line, "", $"Has a value beyond the {Header.Count} columns that the first row names.", beyond)));
        }
    }

    protected override void Dispose(bool disposing)
    {
        if (!disposing)
            return;
        _rows.Dispose();
        _stream.Dispose();
    }

    /// <returns>About how many rows the first sheet has.</returns>
    private static long Check(Stream stream)
    {
        try
        {
            using var zip = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
            if (zip.Entries.Sum(e => e.Length) > MostUnpacked || zip.Entries.Any(e => e.Length > 10 << 20 && e.Length / Math.Max(1, e.CompressedLength) > MostRatio))
                throw new TableFormatException("The workbook would unpack to far more than a workbook should. Save the sheet as CSV and bring that.");
            if (!zip.Entries.Any(e => e.FullName.StartsWith("xl/", StringComparison.OrdinalIgnoreCase)))
                throw new TableFormatException("The file is a ZIP file, but no workbook. Bring XLSX, CSV or TSV.");
            return Math.Max(1, zip.Entries.Where(e => e.FullName.StartsWith("xl/worksheets/", StringComparison.OrdinalIgnoreCase)).Sum(e => e.Length) / 300);
        }
        catch (Exception e) when (e is InvalidDataException or IOException or ArgumentException or NotSupportedException)
        {
            throw new TableFormatException("The workbook is damaged. Open it, save it again as .xlsx, and bring that.");
        }
        finally
        {
            stream.Position = 0;
        }
    }

    private static IEnumerable<(long Line, string[]? Fields, string? Fault)> ReadRows(Stream stream)
    {
        IEnumerator<(long Line, string[]? Fields, string? Fault)>? rows = null;
        var line = 0L;
        try
        {
            while (true)
            {
                (long Line, string[]? Fields, string? Fault) row;
                try
                {
                    rows ??= SheetReader.Rows(stream).GetEnumerator();
                    if (!rows.MoveNext())
                        yield break;
                    row = rows.Current;
                    line = row.Line;
                }
                catch (Exception e) when (e is XmlException or InvalidDataException or IOException or FormatException or ArgumentException or InvalidOperationException or OpenXmlPackageException
                    or NullReferenceException or IndexOutOfRangeException or KeyNotFoundException or OverflowException or NotSupportedException or InvalidCastException)
                {
                    // The package lets whatever its parsing meets come through; the planner needs one answer.
                    row = (line + 1, null, line == 0
                        ? "The workbook is damaged. Open it, save it again as .xlsx, and bring that."
                        : "The workbook is damaged from here on; the rest of it cannot be read. Open it, save it again as .xlsx, and bring that.");
                    rows = Enumerable.Empty<(long, string[]?, string?)>().GetEnumerator();
                }

                yield return row;
            }
        }
        finally
        {
            rows?.Dispose();
        }
    }
}
