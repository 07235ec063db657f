using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;

namespace JadeOrchard.Formats.Tables;

/// <summary>Reads CSV and TSV (RFC 4180), row by row, in bounded memory.</summary>
/// <remarks>
/// UTF-8 with or without byte order mark, UTF-16 with one. The delimiter (comma, semicolon or tab) is found out from
/// the first rows: the one under which the header names most known columns, then under which most rows have as many
/// fields as the header. Blank lines are skipped. Line ends may be CRLF or LF. As long as nothing is quoted, lines are parted
/// at the delimiters alone; from the first line on that is not as plain, by the parser.
/// </remarks>
public sealed class DelimitedFile : TableFile
{
    /// <summary>A field longer than this means a quote that was never closed.</summary>
    public const int MaxFieldLength = 1 << 20;

    /// <summary>Marks bytes that are no text; a noncharacter, which no real text holds.</summary>
    private const char Undecodable = '\uFDD0';

    private const int SampleRows = 30;
    private static readonly char[] Delimiters = [',', ';', '\t'];
    private const int BufferSize = 1 << 16;
    private readonly Stream _stream;
    private StreamReader _reader;
    private char[] _text = new char[BufferSize];
    private int _at;
    private int _end;
    private string[] _before = [];

    // Null as long as lines are plain.
    private CsvParser? _parser;
    private long _linesBefore;
    private long _nextLine = 1;
    private bool _ended;

    private DelimitedFile(Stream stream, Encoding encoding, char delimiter)
    {
        _stream = stream;
        Encoding = encoding;
        Delimiter = delimiter;
        _reader = Reader(stream, encoding);
        if (!TakePlain(out var names))
        {
            names = NamesIn(Rest());
            _nextLine = _linesBefore + _parser!.RawRow + 1;
        }

        Header = ReadHeader(names);
    }

    /// <summary>The names of the columns, as in the first row.</summary>
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
        while (TakePlain(out var plain))
            yield return Fault(_nextLine - 1, plain, null) is { } fault ? new TableLine(_nextLine - 1, new(null, fault)) : new TableLine(_nextLine - 1, new(plain, null));

        _ = Rest();
        while (!_ended)
        {
            var line = _nextLine;
            string[]? fields = null;
            RejectedRow? rejected = null;
            try
            {
                if (!_parser!.Read())
                    yield break;
                var last = _linesBefore + _parser.RawRow;
                // Blank lines before a row are skipped by the parser; the row begins after them.
                var raw = last > _nextLine ? _parser.RawRecord : null;
                line = raw is null ? last : last - LineBreaksWithin(raw);
                _nextLine = last + 1;
                fields = _parser.Record!;
                // Blank lines are no part of the row; a line break at its end is, if it is inside a field.
                var isLong = raw is not null && (LineBreaksWithin(raw) > 0 || fields[^1].EndsWith('\n') || fields[^1].EndsWith('\r'));
                rejected = Fault(line, fields, isLong ? raw : null);
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

    /// <summary>Goes on from a line further down, before any row was read.</summary>
    /// <param name="position">Where the line begins, in bytes.</param>
    /// <param name="line">Its number, from 1.</param>
    internal void SkipTo(long position, long line)
    {
        _stream.Position = position;
        (_reader, _at, _end, _nextLine, _parser) = (Reader(_stream, Encoding), 0, 0, line, null);
    }

    /// <summary>Takes the next line that is not blank, where it needs no parser: nothing in it is quoted, and it ends as lines do.</summary>
    private bool TakePlain(out string[] fields)
    {
        fields = [];
        for (var looked = 0; _parser is null;)
        {
            var found = _text.AsSpan((_at + looked).._end).IndexOfAny('\n', '\r', '"');
            var length = found < 0 ? _end - _at : looked + found;
            var next = _at + length + 1;
            if (length > MaxFieldLength)
                return false;
            if (found < 0 || (_text[next - 1] == '\r' && next == _end))
            {
                looked = length;
                if (Fill())
                    continue;
                if (length == 0 || found >= 0)
                    return false;
                next = _end;
            }
            else if (_text[next - 1] == '"' || (_text[next - 1] == '\r' && _text[next++] != '\n'))
                return false;

            var line = _text.AsSpan(_at, length);
            (_at, looked) = (next, 0);
            _nextLine++;
            if (length == 0)
                continue;
            fields = Split(line);
            return true;
        }

        return false;
    }

    /// <summary>The fields of a line; those that are the same as in the line before are the same texts, which spares making them.</summary>
    private string[] Split(ReadOnlySpan<char> line)
    {
        var fields = new string[line.Count(Delimiter) + 1];
        for (var i = 0; i < fields.Length; i++)
        {
            var end = line.IndexOf(Delimiter);
            var field = end < 0 ? line : line[..end];
            fields[i] = i < _before.Length && field.SequenceEqual(_before[i]) ? _before[i] : field.ToString();
            line = line[(end + 1)..];
        }

        return _before = fields;
    }

    /// <returns>False at the end of the file.</returns>
    private bool Fill()
    {
        _text.AsSpan(_at.._end).CopyTo(_text);
        (_at, _end) = (0, _end - _at);
        if (_end == _text.Length)
            Array.Resize(ref _text, 2 * _text.Length);
        var read = _reader.Read(_text, _end, _text.Length - _end);
        _end += read;
        return read > 0;
    }

    /// <summary>The parser, for all that was not taken as plain.</summary>
    private CsvParser Rest()
    {
        if (_parser is not null)
            return _parser;
        _linesBefore = _nextLine - 1;
        return _parser = Parser(new Joined(new string(_text, _at, _end - _at), _reader), Delimiter);
    }

    /// <summary>What was read already, and what comes after it.</summary>
    private sealed class Joined(string before, TextReader after) : TextReader
    {
        private int _at;

        public override int Peek() => _at < before.Length ? before[_at] : after.Peek();

        public override int Read() => _at < before.Length ? before[_at++] : after.Read();

        public override int Read(char[] buffer, int index, int count)
        {
            if (_at == before.Length)
                return after.Read(buffer, index, count);
            var length = Math.Min(count, before.Length - _at);
            before.CopyTo(_at, buffer, index, length);
            _at += length;
            return length;
        }

        protected override void Dispose(bool disposing)
        {
            if (disposing)
                after.Dispose();
            base.Dispose(disposing);
        }
    }

    /// <inheritdoc/>
    public override string Says => $"{Header.Count} columns separated by {(Delimiter switch { ',' => "comma", ';' => "semicolon", _ => "tab" })}, {Encoding.WebName.ToUpperInvariant()}";

    protected override void Dispose(bool disposing)
    {
        if (!disposing)
            return;
        _parser?.Dispose();
        _reader.Dispose();
        _stream.Dispose();
    }

    private const string UnclosedQuoteReason =
        "A quote opens here and is never closed, so the rest of the file cannot be told apart. Close it, or double it where it is meant.";

    private static RejectedRow UnclosedQuote(long line) => RejectedRow.At(line, "", UnclosedQuoteReason, "");

    /// <summary>What is wrong with a row as such.</summary>
    /// <param name="line">Where it begins.</param>
    /// <param name="fields">Its fields.</param>
    /// <param name="raw">As in the file, where it takes several lines.</param>
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

    private static StreamReader Reader(Stream stream, Encoding encoding) => new(stream, encoding, detectEncodingFromByteOrderMarks: false, BufferSize, leaveOpen: true);

    private static CsvParser Parser(TextReader reader, char delimiter) => new(
        reader,
        new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = delimiter.ToString(),
            Mode = CsvMode.RFC4180,
            BadDataFound = null,
            MaxFieldSize = MaxFieldLength,
            BufferSize = BufferSize,
            CacheFields = false,
        });

    private static string[] NamesIn(CsvParser parser)
    {
        try
        {
            return parser.Read() ? parser.Record! : throw new TableFormatException("The file is empty. Its first row must name the columns.");
        }
        catch (Exception e) when (e is CsvHelperException or MaxFieldSizeException)
        {
            throw new TableFormatException("The first row cannot be read: a quote opens in it and is never closed.");
        }
    }

    private static List<string> ReadHeader(string[] names)
    {
        if (Array.Exists(names, f => f.Contains('\0', StringComparison.Ordinal)))
            throw new TableFormatException("The file is not text. Save it as CSV or TSV, in UTF-8.");
        return [.. names.Select(f => f.Trim('\uFEFF', ' '))];
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
        using var parser = Parser(Reader(stream, encoding), delimiter);
        try
        {
            var header = ReadHeader(NamesIn(parser));
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
