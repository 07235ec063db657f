using System.Text.Unicode;
using JadeOrchard.Core.Results;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Results;

/// <summary>Reads result lists from the bytes of a CSV or TSV file in which nothing is quoted, so that texts that were met before need not be made again.</summary>
/// <remarks>
/// At millions of rows making texts costs more than all the rest. It gives what <see cref="DelimitedFile"/> and
/// <see cref="ResultTable"/> give: rows that are not as plain as can be are handed to them.
/// </remarks>
public sealed class PlainResults : IDisposable
{
    private const int KeywordColumn = 0;
    private const int PositionColumn = 1;
    private const int UrlColumn = 2;
    private const int CapturedAtColumn = 5;
    private readonly DelimitedFile _file;
    private readonly FileStream _stream;
    private readonly ResultTable _table;
    private readonly Fields _fields;
    private readonly int[] _places;
    private readonly byte _delimiter;
    private byte[] _buffer = new byte[4 << 20];
    private int _at;
    private int _end;
    private long _line;
    private Range _row;
    private readonly List<Range> _parts = [];
    private byte[] _lastCapturedAt = [];
    private DateOnly? _lastDay;

    private PlainResults(DelimitedFile file, FileStream stream, ColumnMapping mapping, ResultTable table)
    {
        (_file, _stream, _table, _fields) = (file, stream, table, new Fields(mapping));
        _places = [.. Enumerable.Range(0, CapturedAtColumn + 1).Select(c => mapping[c])];
        _delimiter = (byte)file.Delimiter;
    }

    /// <summary>The keyword of the row, as it stands in the file.</summary>
    public ReadOnlySpan<byte> Keyword => Part(_places[KeywordColumn]);

    /// <summary>Likewise its URL.</summary>
    public ReadOnlySpan<byte> Url => Part(_places[UrlColumn]);

    /// <summary>From 1; 0 where the row is not plain and must be read by <see cref="Full"/>.</summary>
    public int Position { get; private set; }

    /// <summary>Day of the capture, of a plain row.</summary>
    public DateOnly? CapturedOn { get; private set; }

    /// <param name="file">Opened; its rows are not read yet.</param>
    /// <param name="path">Where it is.</param>
    /// <param name="mapping">Where its columns are; none is missing.</param>
    /// <param name="table">Reads what is not plain.</param>
    /// <returns>Null where the file holds a quote, is not UTF-8, or ends lines in unusual ways.</returns>
    public static PlainResults? Open(DelimitedFile file, string path, ColumnMapping mapping, ResultTable table)
    {
        if (file.Encoding.CodePage != 65001)
            return null;
        var stream = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 1, FileOptions.SequentialScan);
        if (!IsPlain(stream))
        {
            stream.Dispose();
            return null;
        }

        stream.Position = 0;
        var plain = new PlainResults(file, stream, mapping, table);
        plain.NextLine();
        return plain;
    }

    /// <summary>Goes to the next row.</summary>
    /// <returns>False after the last one.</returns>
    public bool Read()
    {
        if (!NextLine())
            return false;
        Position = 0;
        var line = _buffer.AsSpan(_row);
        _parts.Clear();
        for (var from = 0; ;)
        {
            var length = line[from..].IndexOf(_delimiter);
            var to = length < 0 ? line.Length : from + length;
            _parts.Add((_row.Start.Value + from)..(_row.Start.Value + to));
            if (length < 0)
                break;
            from = to + 1;
        }

        if (_parts.Count <= _file.Header.Count && Part(_places[CapturedAtColumn]).SequenceEqual(_lastCapturedAt) && Utf8.IsValid(line))
        {
            CapturedOn = _lastDay;
            Position = Number(Part(_places[PositionColumn]));
        }

        return true;
    }

    /// <summary>The row, read as any other file's.</summary>
    public TableRow<CapturedResult> Full()
    {
        var fields = new string[_parts.Count];
        for (var i = 0; i < fields.Length; i++)
            fields[i] = _file.Encoding.GetString(_buffer.AsSpan(_parts[i]));
        if (_file.Fault(_line, fields, null) is { } fault)
            return new(null, fault);
        _fields.Begin(_line, fields);
        var result = _table.Read(_fields);
        if (_fields.Rejected is { } rejected)
            return new(null, rejected);
        if (result is not null)
            (_lastCapturedAt, _lastDay) = (Part(_places[CapturedAtColumn]).ToArray(), result.CapturedOn);
        return new(result, null);
    }

    public void Dispose() => _stream.Dispose();

    private ReadOnlySpan<byte> Part(int place) => place >= 0 && place < _parts.Count ? _buffer.AsSpan(_parts[place]) : default;

    /// <returns>0 where it is not 1 to 4 digits within the bounds.</returns>
    private static int Number(ReadOnlySpan<byte> digits)
    {
        var number = 0;
        foreach (var digit in digits)
            number = digit is >= (byte)'0' and <= (byte)'9' && number < ResultTable.MaxPosition ? (number * 10) + digit - '0' : ResultTable.MaxPosition + 1;
        return number > ResultTable.MaxPosition ? 0 : number;
    }

    /// <summary>Finds the next line that is not empty.</summary>
    private bool NextLine()
    {
        while (true)
        {
            var length = _buffer.AsSpan(_at.._end).IndexOf((byte)'\n');
            if (length < 0 && Fill())
                continue;
            if (length < 0 && _at == _end)
                return false;
            var end = length < 0 ? _end : _at + length;
            var start = _at;
            _at = Math.Min(_end, end + 1);
            _line++;
            if (end > start && _buffer[end - 1] == '\r')
                end--;
            if (_line == 1 && _buffer.AsSpan(start..end).StartsWith("\uFEFF"u8))
                start += 3;
            _row = start..end;
            if (end > start)
                return true;
        }
    }

    /// <returns>False at the end of the file.</returns>
    private bool Fill()
    {
        _buffer.AsSpan(_at.._end).CopyTo(_buffer);
        (_at, _end) = (0, _end - _at);
        if (_end == _buffer.Length)
            Array.Resize(ref _buffer, 2 * _buffer.Length);
        var read = _stream.Read(_buffer, _end, _buffer.Length - _end);
        _end += read;
        return read > 0;
    }

    /// <summary>No quotes, no carriage return but before a line feed, no line that no field may be as long as.</summary>
    private static bool IsPlain(FileStream stream)
    {
        var buffer = new byte[1 << 20];
        var (length, wasReturn) = (0L, false);
        for (int read; (read = stream.Read(buffer)) > 0;)
        {
            var rest = buffer.AsSpan(0, read);
            if (rest.Contains((byte)'"') || (wasReturn && rest[0] != '\n'))
                return false;
            wasReturn = rest[^1] == '\r';
            while (rest.IndexOfAny((byte)'\r', (byte)'\n') is var at and >= 0)
            {
                if (rest[at] == '\r' && at + 1 < rest.Length && rest[at + 1] != '\n')
                    return false;
                if (length + at > DelimitedFile.MaxFieldLength)
                    return false;
                length = 0;
                rest = rest[(at + 1)..];
            }

            length += rest.Length;
        }

        return !wasReturn && length <= DelimitedFile.MaxFieldLength;
    }
}
