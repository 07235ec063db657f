using System.Collections;
using System.IO.Hashing;
using System.Text;

namespace JadeOrchard.Cli;

/// <summary>Gives each distinct name an index from 0, in the order in which they come.</summary>
/// <remarks>
/// Names are told apart by a 128-bit hash of their UTF-8 bytes (XXH128), and their bytes are kept packed, so that millions of URLs
/// fit: about 40 bytes a name beside its own.
/// </remarks>
internal sealed class Names : IReadOnlyList<string>
{
    private const int BlockSize = 1 << 22;
    private HashTable _indexes = new();
    private readonly List<byte[]> _blocks = [];
    private readonly List<(int Block, int Start)> _places = [];
    private readonly List<int> _ends = [];
    private int _used = BlockSize;
    private byte[] _bytes = new byte[256];

    public int Count => _places.Count;

    public string this[int index]
    {
        get
        {
            var (block, start) = _places[index];
            var end = index + 1 < Count && _places[index + 1].Block == block ? _places[index + 1].Start : _ends[block];
            return Encoding.UTF8.GetString(_blocks[block], start, end - start);
        }
    }

    public int IndexOf(string name)
    {
        var bytes = BytesOf(name);
        return IndexOf(bytes, HashOf(bytes));
    }

    /// <param name="name">UTF-8.</param>
    /// <param name="hash">Its <see cref="HashOf"/>.</param>
    public int IndexOf(ReadOnlySpan<byte> name, UInt128 hash)
    {
        var index = _indexes.FindOrAdd(hash, out var isNew);
        if (isNew)
            Keep(name);
        return index;
    }

    public int? Find(UInt128 hash) => _indexes.Find(hash) is var index and >= 0 ? index : null;

    public int? Find(string name) => Find(HashOf(BytesOf(name)));

    /// <summary>To be called before many are looked for, see <see cref="HashTable.Fetch"/>.</summary>
    public void Fetch(ReadOnlySpan<UInt128> hashes) => _indexes.Fetch(hashes);

    /// <summary>Lets go of what finds a name, which takes as much as the names themselves; from then on they are known by index alone.</summary>
    public void Close() => _indexes = new HashTable();

    public static UInt128 HashOf(ReadOnlySpan<byte> bytes) => XxHash128.HashToUInt128(bytes);

    public IEnumerator<string> GetEnumerator() => Enumerable.Range(0, Count).Select(i => this[i]).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    private ReadOnlySpan<byte> BytesOf(string name)
    {
        if (_bytes.Length < Encoding.UTF8.GetMaxByteCount(name.Length))
            _bytes = new byte[Encoding.UTF8.GetMaxByteCount(name.Length)];
        return _bytes.AsSpan(0, Encoding.UTF8.GetBytes(name, _bytes));
    }

    private void Keep(ReadOnlySpan<byte> bytes)
    {
        if (_blocks.Count == 0 || _used + bytes.Length > BlockSize)
        {
            _blocks.Add(new byte[Math.Max(BlockSize, bytes.Length)]);
            _ends.Add(0);
            _used = 0;
        }

        bytes.CopyTo(_blocks[^1].AsSpan(_used));
        _places.Add((_blocks.Count - 1, _used));
        _ends[^1] = _used += bytes.Length;
    }
}
