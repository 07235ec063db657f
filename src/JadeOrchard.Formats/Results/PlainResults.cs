using System.Collections.Concurrent;
using System.Text.Unicode;
using JadeOrchard.Core.Results;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Results;

/// <summary>Reads result lists from the bytes of a CSV or TSV file as long as nothing is quoted, so that texts that were met before need not be made again.</summary>
/// <remarks>
/// At millions of rows making texts costs more than all the rest. It gives what <see cref="DelimitedFile"/> and
/// <see cref="ResultTable"/> give: rows that are not as plain as can be are handed to them, and so is all from the first line on
/// that is quoted, see <see cref="Rest"/>. One thread takes the file apart while another uses the rows.
/// </remarks>
public sealed class PlainResults : IDisposable
{
    private const int KeywordColumn = 0;
    private const int PositionColumn = 1;
    private const int UrlColumn = 2;
    private const int CapturedAtColumn = 5;

    /// <summary>A megabyte or so each.</summary>
    private const int BatchesAhead = 4;

    private readonly DelimitedFile _file;
    private readonly FileStream _stream;
    private readonly ResultTable _table;
    private readonly Fields _fields;
    private readonly int[] _places;
    private readonly byte _delimiter;
    private byte[] _buffer = new byte[4 << 20];
    private int _at;
    private int _end;
    private long _position;
    private long _line;
    private bool _isPlain = true;
    private bool _isHeaderRead;
    private Range _row;
    private readonly List<Range> _parts = [];
    private readonly List<Range> _partsOfFull = [];

    // Written by the thread that uses the rows, read by the one that takes the file apart.
    private volatile CaptureDay _last = new([], null);

    private PlainResults(DelimitedFile file, FileStream stream, ColumnMapping mapping, ResultTable table)
    {
        (_file, _stream, _table, _fields) = (file, stream, table, new Fields(mapping));
        _places = [.. Enumerable.Range(0, CapturedAtColumn + 1).Select(c => mapping[c])];
        _delimiter = (byte)file.Delimiter;
    }

    /// <summary>Tells texts apart by their bytes.</summary>
    public delegate UInt128 Hash(ReadOnlySpan<byte> bytes);

    /// <summary>A row of a <see cref="Batch"/>.</summary>
    /// <param name="Whole">Where the row stands in the bytes of its batch.</param>
    /// <param name="Keyword">Likewise its keyword, as the file has it.</param>
    /// <param name="Url">Likewise what its URL is compared by, where that is told; else the URL as the file has it.</param>
    /// <param name="UrlHash">Of these bytes.</param>
    /// <param name="IsIdentity">They are what it is compared by.</param>
    /// <param name="IsAsCaptured">They are the URL as the file has it.</param>
    /// <param name="Position">From 1; 0 where the row is not plain and must be read by <see cref="Full"/>.</param>
    /// <param name="CapturedOn">Day of the capture, of a plain row.</param>
    /// <param name="Line">In the file.</param>
    public readonly record struct Row(Range Whole, Range Keyword, Range Url, UInt128 UrlHash, bool IsIdentity, bool IsAsCaptured, int Position, DateOnly? CapturedOn, long Line);

    /// <summary>Some rows, one after another.</summary>
    public sealed class Batch
    {
        internal const int MostRows = 8_192;
        private byte[] _bytes = new byte[1 << 20];

        public List<Row> Rows { get; } = new(MostRows);

        public ReadOnlySpan<byte> this[Range part] => _bytes.AsSpan(part);

        internal int Used { get; private set; }

        internal void Clear()
        {
            Rows.Clear();
            Used = 0;
        }

        internal void Add(ReadOnlySpan<byte> line)
        {
            if (Used + line.Length > _bytes.Length)
                Array.Resize(ref _bytes, Math.Max(2 * _bytes.Length, Used + line.Length));
            line.CopyTo(_bytes.AsSpan(Used));
            Used += line.Length;
        }
    }

    private sealed record CaptureDay(byte[] Text, DateOnly? Day);

    /// <param name="file">Opened; its rows are not read yet.</param>
    /// <param name="path">Where it is.</param>
    /// <param name="mapping">Where its columns are; none is missing.</param>
    /// <param name="table">Reads what is not plain.</param>
    /// <returns>Null where the file is not UTF-8.</returns>
    public static PlainResults? Open(DelimitedFile file, string path, ColumnMapping mapping, ResultTable table)
    {
        if (file.Encoding.CodePage != 65001)
            return null;
        var stream = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 1, FileOptions.SequentialScan);
        var plain = new PlainResults(file, stream, mapping, table);
        plain._isHeaderRead = plain.NextLine();
        return plain;
    }

    /// <summary>All rows; the file is taken apart on a thread of its own, a few batches ahead. A batch is good until the next one is asked for.</summary>
    public IEnumerable<Batch> Batches(Hash hash)
    {
        using var ahead = new BlockingCollection<Batch>(BatchesAhead);
        using var stop = new CancellationTokenSource();
        var spare = new ConcurrentBag<Batch>();
        var reading = Task.Run(() =>
        {
            try
            {
                var batch = new Batch();
                while (NextLine())
                {
                    Add(batch, hash);
                    if (batch.Rows.Count < Batch.MostRows)
                        continue;
                    ahead.Add(batch, stop.Token);
                    batch = spare.TryTake(out var used) ? used : new Batch();
                }

                ahead.Add(batch, stop.Token);
            }
            finally
            {
                ahead.CompleteAdding();
            }
        });
        try
        {
            foreach (var batch in ahead.GetConsumingEnumerable())
            {
                yield return batch;
                batch.Clear();
                spare.Add(batch);
            }

            reading.GetAwaiter().GetResult();
        }
        finally
        {
            stop.Cancel();
            Task.WaitAny(reading);
        }
    }

    /// <summary>A row, read as any other file's.</summary>
    public TableRow<CapturedResult> Full(Batch batch, Row row)
    {
        var line = batch[row.Whole];
        Split(line, _partsOfFull);
        var fields = new string[_partsOfFull.Count];
        for (var i = 0; i < fields.Length; i++)
            fields[i] = _file.Encoding.GetString(line[_partsOfFull[i]]);
        if (_file.Fault(row.Line, fields, null) is { } fault)
            return new(null, fault);
        _fields.Begin(row.Line, fields);
        var result = _table.Read(_fields);
        if (_fields.Rejected is { } rejected)
            return new(null, rejected);
        if (result is not null)
            _last = new CaptureDay(Part(line, _partsOfFull, CapturedAtColumn).ToArray(), result.CapturedOn);
        return new(result, null);
    }

    /// <summary>The rows that are left after the last batch: from the first line on that is not plain. To be read once.</summary>
    public IEnumerable<TableRow<CapturedResult>> Rest(ColumnMapping mapping)
    {
        if (_isPlain)
            return [];
        if (_isHeaderRead)
            _file.SkipTo(_position + _at, _line);
        return _table.Read(_file, mapping);
    }

    public void Dispose() => _stream.Dispose();

    private void Add(Batch batch, Hash hash)
    {
        var line = _buffer.AsSpan(_row);
        Split(line, _parts);
        var (position, last, start) = (0, _last, batch.Used);
        if (_parts.Count <= _file.Header.Count && Part(line, _parts, CapturedAtColumn).SequenceEqual(last.Text) && Utf8.IsValid(line) && !line.Contains((byte)0))
            position = Number(Part(line, _parts, PositionColumn));
        batch.Add(line);
        var (whole, keyword, given) = (start..batch.Used, In(KeywordColumn), In(UrlColumn));
        var url = Part(line, _parts, UrlColumn);
        var isPlain = _table.IsPlain(url, out var from, out var to);
        if (isPlain && from > 8)
        {
            // The bytes with "www." taken out stand after the line.
            var at = batch.Used;
            batch.Add(url[..8]);
            batch.Add(url[from..to]);
            given = at..batch.Used;
        }
        else if (isPlain)
            given = given.Start.Value..(given.Start.Value + to);
        batch.Rows.Add(new Row(whole, keyword, given, hash(batch[given]), isPlain, !isPlain || (from <= 8 && to == url.Length), position, last.Day, _line));

        Range In(int column) => _places[column] < _parts.Count ? (start + _parts[_places[column]].Start.Value)..(start + _parts[_places[column]].End.Value) : default;
    }

    private void Split(ReadOnlySpan<byte> line, List<Range> parts)
    {
        parts.Clear();
        for (var from = 0; ;)
        {
            var length = line[from..].IndexOf(_delimiter);
            var to = length < 0 ? line.Length : from + length;
            parts.Add(from..to);
            if (length < 0)
                break;
            from = to + 1;
        }
    }

    private ReadOnlySpan<byte> Part(ReadOnlySpan<byte> line, List<Range> parts, int column) =>
        _places[column] is var place and >= 0 && place < parts.Count ? line[parts[place]] : default;

    /// <returns>0 where it is not 1 to 4 digits within the bounds.</returns>
    private static int Number(ReadOnlySpan<byte> digits)
    {
        var number = 0;
        foreach (var digit in digits)
            number = digit is >= (byte)'0' and <= (byte)'9' && number < ResultTable.MaxPosition ? (number * 10) + digit - '0' : ResultTable.MaxPosition + 1;
        return number > ResultTable.MaxPosition ? 0 : number;
    }

    /// <summary>Finds the next line that is not empty.</summary>
    /// <returns>False at the end of the file, and where a line is not plain: with quotes, with a carriage return that is not at its end, or longer than any field may be.</returns>
    private bool NextLine()
    {
        while (_isPlain)
        {
            var length = _buffer.AsSpan(_at.._end).IndexOf((byte)'\n');
            if (length < 0 && _end - _at <= DelimitedFile.MaxFieldLength && Fill())
                continue;
            if (length < 0 && _at == _end)
                return false;
            var end = length < 0 ? _end : _at + length;
            var start = _at;
            _line++;
            if (length > 0 && _buffer[end - 1] == '\r')
                end--;
            if (end - start > DelimitedFile.MaxFieldLength || _buffer.AsSpan(start..end).IndexOfAny((byte)'"', (byte)'\r') >= 0)
            {
                _isPlain = false;
                return false;
            }

            _at = length < 0 ? _end : _at + length + 1;
            if (_line == 1 && _buffer.AsSpan(start..end).StartsWith("\uFEFF"u8))
                start += 3;
            _row = start..end;
            if (end > start)
                return true;
        }

        return false;
    }

    /// <returns>False at the end of the file.</returns>
    private bool Fill()
    {
        _buffer.AsSpan(_at.._end).CopyTo(_buffer);
        _position += _at;
        (_at, _end) = (0, _end - _at);
        if (_end == _buffer.Length)
            Array.Resize(ref _buffer, 2 * _buffer.Length);
        var read = _stream.Read(_buffer, _end, _buffer.Length - _end);
        _end += read;
        return read > 0;
    }
}
