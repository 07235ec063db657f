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

    private const int BatchesAhead = 4;

    /// <summary>Bytes of a batch, so that a few of them stay in the cache.</summary>
    private const int BatchSize = 1 << 18;

    private readonly DelimitedFile _file;
    private readonly FileStream _stream;
    private readonly ResultTable _table;
    private readonly Fields _fields;
    private readonly int[] _places;
    private readonly byte _delimiter;
    private readonly (int From, int To)[] _parts;
    private readonly List<Range> _partsOfFull = [];

    // The beginning of a line that did not end within its batch.
    private byte[] _left = [];
    private long _position;
    private long _line;
    private bool _isPlain = true;
    private bool _isHeaderRead;

    // Written by the thread that uses the rows, read by the one that takes the file apart.
    private volatile CaptureDay _last = new([], null);

    private PlainResults(DelimitedFile file, FileStream stream, ColumnMapping mapping, ResultTable table)
    {
        (_file, _stream, _table, _fields) = (file, stream, table, new Fields(mapping));
        _places = [.. Enumerable.Range(0, CapturedAtColumn + 1).Select(c => mapping[c])];
        _parts = new (int, int)[file.Header.Count];
        _delimiter = (byte)file.Delimiter;
    }

    /// <summary>Tells texts apart by their bytes.</summary>
    public delegate UInt128 Hash(ReadOnlySpan<byte> bytes);

    /// <summary>A row of a <see cref="Batch"/>, which has its bytes.</summary>
    public record struct Row
    {
        internal (int From, int To) Whole { get; init; }

        internal (int From, int To) Keyword { get; set; }

        internal (int From, int To) Url { get; set; }

        /// <summary>Of <see cref="Batch.Url"/>.</summary>
        public UInt128 UrlHash { get; internal set; }

        /// <summary><see cref="Batch.Url"/> is what the URL is compared by.</summary>
        public bool IsIdentity { get; internal set; }

        /// <summary><see cref="Batch.Url"/> is the URL as the file has it.</summary>
        public bool IsAsCaptured { get; internal set; }

        internal bool IsCut { get; set; }

        /// <summary>From 1; 0 where the row is not plain and must be read by <see cref="Full"/>.</summary>
        public int Position { get; internal set; }

        /// <summary>Day of the capture, of a plain row.</summary>
        public DateOnly? CapturedOn { get; internal set; }

        internal long Line { get; init; }
    }

    /// <summary>Some rows, one after another.</summary>
    public sealed class Batch
    {
        private Row[] _rows = new Row[BatchSize / 64];

        // URLs with something cut out of them.
        private byte[] _cut = new byte[BatchSize / 2];
        private int _cutLength;

        internal byte[] Bytes { get; private set; } = new byte[BatchSize];

        public int Count { get; private set; }

        public ref readonly Row this[int row] => ref _rows[row];

        /// <returns>UTF-8, as the file has it.</returns>
        public ReadOnlySpan<byte> Keyword(in Row row) => Bytes.AsSpan(row.Keyword.From..row.Keyword.To);

        /// <returns>UTF-8: what the URL is compared by, where that is told; else the URL as the file has it.</returns>
        public ReadOnlySpan<byte> Url(in Row row) => (row.IsCut ? _cut : Bytes).AsSpan(row.Url.From..row.Url.To);

        internal ReadOnlySpan<byte> Whole(in Row row) => Bytes.AsSpan(row.Whole.From..row.Whole.To);

        internal void Clear() => (Count, _cutLength) = (0, 0);

        /// <returns>Its bytes, as many or more.</returns>
        internal byte[] RoomFor(int length)
        {
            if (length > Bytes.Length)
                Bytes = Longer(Bytes, length);
            return Bytes;
        }

        internal ref Row Add(Row row)
        {
            if (Count == _rows.Length)
                Array.Resize(ref _rows, 2 * Count);
            _rows[Count] = row;
            return ref _rows[Count++];
        }

        internal (int From, int To) AddCut(ReadOnlySpan<byte> before, ReadOnlySpan<byte> after)
        {
            var (from, to) = (_cutLength, _cutLength + before.Length + after.Length);
            if (to > _cut.Length)
                _cut = Longer(_cut, to);
            before.CopyTo(_cut.AsSpan(from));
            after.CopyTo(_cut.AsSpan(from + before.Length));
            _cutLength = to;
            return (from, to);
        }

        private static byte[] Longer(byte[] bytes, int length)
        {
            Array.Resize(ref bytes, Math.Max(length, 2 * bytes.Length));
            return bytes;
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
        return new PlainResults(file, stream, mapping, table);
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
                while (_isPlain)
                {
                    var batch = spare.TryTake(out var used) ? used : new Batch();
                    if (!Fill(batch, hash))
                        break;
                    ahead.Add(batch, stop.Token);
                }
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
    public TableRow<CapturedResult> Full(Batch batch, in Row row)
    {
        var line = batch.Whole(row);
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
            _last = new CaptureDay(_places[CapturedAtColumn] is var place and >= 0 && place < fields.Length ? line[_partsOfFull[place]].ToArray() : [], result.CapturedOn);
        return new(result, null);
    }

    /// <summary>The rows that are left after the last batch: from the first line on that is not plain. To be read once.</summary>
    public IEnumerable<TableRow<CapturedResult>> Rest(ColumnMapping mapping)
    {
        if (_isPlain)
            return [];
        if (_isHeaderRead)
            _file.SkipTo(_position, _line);
        return _table.Read(_file, mapping);
    }

    public void Dispose() => _stream.Dispose();

    /// <summary>Reads whole lines as far as a batch holds them, up to the first that is not plain.</summary>
    /// <returns>False where there are none.</returns>
    private bool Fill(Batch batch, Hash hash)
    {
        batch.Clear();
        var (end, length, isAtEnd) = (_left.Length, 0, false);
        _left.CopyTo(batch.RoomFor(2 * end), 0);
        while (length == 0 && !isAtEnd)
        {
            // A line may be longer than a batch.
            var bytes = batch.RoomFor(end + 1);
            while (end < bytes.Length && !isAtEnd)
            {
                var read = _stream.Read(bytes, end, bytes.Length - end);
                isAtEnd = read == 0;
                end += read;
            }

            length = isAtEnd ? end : bytes.AsSpan(0, end).LastIndexOf((byte)'\n') + 1;
            if (length == 0 && end > DelimitedFile.MaxFieldLength + 1)
            {
                _line++;
                _isPlain = false;
                return false;
            }
        }

        _left = batch.Bytes[length..end];
        Take(batch, length, hash);
        return length > 0;
    }

    /// <summary>Takes lines apart. What holds for all of them is asked once.</summary>
    private void Take(Batch batch, int length, Hash hash)
    {
        var bytes = batch.Bytes.AsSpan(0, length);
        var isText = Utf8.IsValid(bytes) && !bytes.Contains((byte)0);
        var areAllPlain = !bytes.Contains((byte)'"') && (!bytes.Contains((byte)'\r') || bytes.Count((byte)'\r') == bytes.Count("\r\n"u8));
        for (var at = 0; at < length;)
        {
            var found = bytes[at..].IndexOf((byte)'\n');
            var (start, end, next) = found < 0 ? (at, length, length) : (at, at + found, at + found + 1);
            _line++;
            if (found > 0 && bytes[end - 1] == '\r')
                end--;
            if (end - start > DelimitedFile.MaxFieldLength || (!areAllPlain && bytes[start..end].IndexOfAny((byte)'"', (byte)'\r') >= 0))
            {
                _isPlain = false;
                _position += start;
                return;
            }

            at = next;
            if (_line == 1 && bytes[start..end].StartsWith("\uFEFF"u8))
                start += 3;
            if (end == start)
                continue;
            if (_isHeaderRead)
                Add(batch, start, end, isText || (Utf8.IsValid(bytes[start..end]) && !bytes[start..end].Contains((byte)0)), hash);
            _isHeaderRead = true;
        }

        _position += length;
    }

    private void Add(Batch batch, int start, int end, bool isText, Hash hash)
    {
        var bytes = batch.Bytes;
        ref var row = ref batch.Add(new Row { Whole = (start, end), Line = _line, IsAsCaptured = true });
        var count = 0;
        for (var from = start; ;)
        {
            var found = bytes.AsSpan(from..end).IndexOf(_delimiter);
            // Of a row with more fields than there are columns nothing else is asked.
            if (count == _parts.Length)
                return;
            _parts[count++] = (from, found < 0 ? end : from + found);
            if (found < 0)
                break;
            from += found + 1;
        }

        var last = _last;
        if (isText && In(CapturedAtColumn).SequenceEqual(last.Text))
            (row.Position, row.CapturedOn) = (Number(In(PositionColumn)), last.Day);
        var url = In(UrlColumn);
        (row.Keyword, row.Url) = (Part(KeywordColumn), Part(UrlColumn));
        row.IsIdentity = _table.IsPlain(url, out var after, out var to);
        row.IsCut = row.IsIdentity && after > 8;
        if (row.IsIdentity)
        {
            row.IsAsCaptured = !row.IsCut && to == url.Length;
            row.Url = row.IsCut ? batch.AddCut(url[..8], url[after..to]) : (row.Url.From, row.Url.From + to);
        }

        row.UrlHash = hash(batch.Url(row));

        (int From, int To) Part(int column) => _places[column] is var place and >= 0 && place < count ? _parts[place] : default;

        ReadOnlySpan<byte> In(int column) => Part(column) is var (from, to) ? bytes.AsSpan(from..to) : default;
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

    /// <returns>0 where it is not 1 to 4 digits within the bounds.</returns>
    private static int Number(ReadOnlySpan<byte> digits)
    {
        var number = 0;
        foreach (var digit in digits)
            number = digit is >= (byte)'0' and <= (byte)'9' && number < ResultTable.MaxPosition ? (number * 10) + digit - '0' : ResultTable.MaxPosition + 1;
        return number > ResultTable.MaxPosition ? 0 : number;
    }
}
