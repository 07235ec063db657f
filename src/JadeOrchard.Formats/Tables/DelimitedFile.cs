using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;

namespace JadeOrchard.Formats.Tables;

/// <summary>Reads CSV and TSV (RFC 4180), row by row, in bounded memory.</summary>
/// <remarks>
/// UTF-8 with or without byte order mark, UTF-16 with one. The delimiter (comma, semicolon or tab) is found out from
/// the first rows: the one under which the header names most known columns, then under which most rows have as many
/// fields as the header. Blank lines are skipped. Line ends may be CRLF or LF.
/// </remarks>
public sealed class DelimitedFile : TableFile
{
    /// <summary>A field longer than this means a quote that was never closed.</summary>
    public const int MaxFieldLength = 1 << 20;

    /// <summary>Stands for bytes that are no text; a noncharacter, which no real text holds.</summary>
    private const char Undecodable = '\uFDD0';

    private const int SampleRows = 30;
    private static readonly char[] Delimiters = [',', ';', '\t'];
    private readonly Stream _stream;
    private readonly CsvParser _parser;
    private long _nextLine = 1;
    private bool _ended;

    private DelimitedFile(Stream stream, Encoding encoding, char delimiter)
    {
        _stream = stream;
        Encoding = encoding;
        Delimiter = delimiter;
        _parser = Parser(stream, encoding, delimiter);
        Header = ReadHeader(_parser);
        _nextLine = _parser.RawRow + 1L;
    }

    /// <summary>The names of the columns, as they stand in the first row.</summary>
    public override IReadOnlyList<string> Header { get; }

    public char Delimiter { get; }

    public Encoding Encoding { get; }

    /// <summary>Bytes read so far, for progress; the parser reads ahead a little.</summary>
    public override long Position => _stream.Position;

    public override long Length => _stream.Length;

    /// <param name="stream">Can seek; is disposed with this.</param>
    /// <exception cref="TableFormatException">The file is empty or is no text.</exception>
    public static new DelimitedFile Open(Stream stream)
    {
        var encoding = EncodingOf(stream);
        var delimiter = Delimiters
            .Select((d, i) => (Delimiter: d, Fit: Fit(stream, encoding, d), Order: i))
            .OrderByDescending(d => d.Fit.Known).ThenByDescending(d => d.Fit.Even).ThenBy(d => d.Order)
            .First().Delimiter;
        stream.Position = 0;
        return new DelimitedFile(stream, encoding, delimiter);
    }

    /// <exception cref="TableFormatException">The file is not there, cannot be read, is empty or is no text.</exception>
    public static new DelimitedFile Open(string path) => Open(Stream(path));

    /// <summary>The rows after the header, in order; each file is read once.</summary>
    /// <returns>The fields of a row, or why it cannot be one. The array is reused by nobody and may be kept.</returns>
    public override IEnumerable<TableLine> Rows()
    {
        while (!_ended)
        {
            var line = _nextLine;
            string[]? fields = null;
            RejectedRow? rejected = null;
            try
            {
                if (!_parser.Read())
                    yield break;
                // Blank lines before a row are skipped by the parser; the row begins after them.
                var raw = _parser.RawRow - _nextLine > 0 ? _parser.RawRecord : null;
                line = raw is null ? _parser.RawRow : _parser.RawRow - LineBreaksWithin(raw);
                _nextLine = _parser.RawRow + 1L;
                fields = _parser.Record!;
                rejected = Fault(line, fields, raw);
            }
            catch (Exception e) when (e is CsvHelperException or MaxFieldSizeException)
            {
                rejected = UnclosedQuote(line);
            }

            if (rejected is { Reason: UnclosedQuoteReason })
                _ended = true;
            yield return new TableLine(line, rejected is null ? new(fields, null) : new(null, rejected));
        }
    }

    /// <inheritdoc/>
    public override string Says => $"{Header.Count} columns parted by {(Delimiter switch { ',' => "comma", ';' => "semicolon", _ => "tab" })}, {Encoding.WebName.ToUpperInvariant()}";

    protected override void Dispose(bool disposing)
    {
        if (disposing)
            _parser.Dispose();
    }

    private const string UnclosedQuoteReason =
        "A quote opens here and is never closed, so the rest of the file cannot be told apart. Close it, or double it where it is meant.";

    private static RejectedRow UnclosedQuote(long line) => RejectedRow.At(line, "", UnclosedQuoteReason, "");

    /// <summary>What is wrong with a row as such.</summary>
    /// <param name="line">Where it begins.</param>
    /// <param name="fields">Its fields.</param>
    /// <param name="raw">As it stands in the file, where it takes several lines.</param>
    internal RejectedRow? Fault(long line, string[] fields, string? raw)
    {
        if (raw is not null && raw.Count(c => c == '"') % 2 == 1)
        {
            // The line break at its end belongs to the field, and was not taken for the row's own.
            return UnclosedQuote(line - (raw.EndsWith('\n') ? 1 : 0));
        }

        var bad = Array.FindIndex(fields, f => f.Contains(Undecodable, StringComparison.Ordinal));
        if (bad >= 0)
        {
            return RejectedRow.At(line, NameOf(bad), $"Holds bytes that are not {Encoding.WebName.ToUpperInvariant()}. Save the file as UTF-8.",
                fields[bad].Replace(Undecodable, '\uFFFD'));
        }

        for (var i = Header.Count; i < fields.Length; i++)
        {
            if (fields[i].Length > 0)
            {
                return RejectedRow.At(line, "",
                    $"Has {fields.Length} fields where the header has {Header.Count}. A field that holds the delimiter needs quotes.", fields[i]);
            }
        }

        return null;
    }

    private string NameOf(int column) => column < Header.Count ? Header[column] : "";

    private static int LineBreaksWithin(string raw)
    {
        var text = raw.AsSpan().TrimEnd("\r\n");
        var breaks = 0;
        for (var i = 0; i < text.Length; i++)
        {
            if (text[i] == '\n' || (text[i] == '\r' && !(i + 1 < text.Length && text[i + 1] == '\n')))
                breaks++;
        }

        return breaks;
    }

    private static CsvParser Parser(Stream stream, Encoding encoding, char delimiter, bool leaveOpen = false) => new(
        new StreamReader(stream, encoding, detectEncodingFromByteOrderMarks: false, 1 << 16, leaveOpen),
        new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = delimiter.ToString(),
            Mode = CsvMode.RFC4180,
            BadDataFound = null,
            MaxFieldSize = MaxFieldLength,
            BufferSize = 1 << 16,
            CacheFields = false,
        });

    private static List<string> ReadHeader(CsvParser parser)
    {
        try
        {
            if (!parser.Read())
                throw new TableFormatException("The file is empty. Its first row must name the columns.");
        }
        catch (Exception e) when (e is CsvHelperException or MaxFieldSizeException)
        {
            throw new TableFormatException("The first row cannot be read: a quote opens in it and is never closed.");
        }

        if (parser.Record!.Any(f => f.Contains('\0', StringComparison.Ordinal)))
            throw new TableFormatException("The file is not text. Save it as CSV or TSV, in UTF-8.");
        return [.. parser.Record!.Select(f => f.Trim('\uFEFF', ' '))];
    }

    private static Encoding EncodingOf(Stream stream)
    {
        Span<byte> mark = stackalloc byte[3];
        stream.Position = 0;
        var count = stream.ReadAtLeast(mark, 3, throwOnEndOfStream: false);
        stream.Position = 0;
        Encoding encoding = count >= 2 && mark[0] == 0xFF && mark[1] == 0xFE ? Encoding.Unicode
            : count >= 2 && mark[0] == 0xFE && mark[1] == 0xFF ? Encoding.BigEndianUnicode
            : Encoding.UTF8;
        return Encoding.GetEncoding(encoding.WebName, EncoderFallback.ReplacementFallback, new DecoderReplacementFallback(Undecodable.ToString()));
    }

    /// <summary>How well a delimiter fits: known names in the header, and rows with as many fields as the header.</summary>
    private static (int Known, int Even) Fit(Stream stream, Encoding encoding, char delimiter)
    {
        stream.Position = 0;
        using var parser = Parser(stream, encoding, delimiter, leaveOpen: true);
        try
        {
            var header = ReadHeader(parser);
            var known = Enum.GetValues<TableKind>().Max(kind => ColumnMapping.ByName(kind, header).Recognised);
            var even = 0;
            for (var i = 0; i < SampleRows && parser.Read(); i++)
            {
                if (header.Count > 1 && parser.Count == header.Count)
                    even++;
            }

            return (known, even);
        }
        catch (Exception e) when (e is CsvHelperException or MaxFieldSizeException)
        {
            return (0, 0);
        }
    }
}
