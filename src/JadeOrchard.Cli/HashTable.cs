namespace JadeOrchard.Cli;

/// <summary>Gives each distinct 128-bit hash an index from 0, in the order in which they come.</summary>
/// <remarks>
/// Open addressing with linear probing. 16 bytes a hash and 4 a place, of which half to three quarters are free. With millions of hashes nearly every
/// look waits for memory, so that many are asked for <see cref="Fetch"/> at once.
/// </remarks>
internal sealed class HashTable
{
    // What stands at a place is one more than an index; 0 is free.
    private int[] _places = new int[1 << 10];
    private (ulong High, ulong Low)[] _hashes = new (ulong, ulong)[1 << 8];
    private readonly int[] _fetched = new int[FetchedAtOnce];
    private ulong _seen;

    /// <summary>How many hashes are fetched at once.</summary>
    public const int FetchedAtOnce = 64;

    public int Count { get; private set; }

    /// <returns>Its index; -1 where it is not there.</returns>
    public int Find(UInt128 hash)
    {
        var (high, low) = Halves(hash);
        for (var place = PlaceOf(low); ; place = (place + 1) & (_places.Length - 1))
        {
            var index = _places[place] - 1;
            if (index < 0 || _hashes[index] == (high, low))
                return index;
        }
    }

    /// <returns>Its index; the next one where it is new.</returns>
    public int FindOrAdd(UInt128 hash, out bool isNew)
    {
        var (high, low) = Halves(hash);
        var place = PlaceOf(low);
        for (; _places[place] > 0; place = (place + 1) & (_places.Length - 1))
        {
            var index = _places[place] - 1;
            if (_hashes[index] == (high, low))
            {
                isNew = false;
                return index;
            }
        }

        isNew = true;
        if (Count == _hashes.Length)
            Array.Resize(ref _hashes, 2 * _hashes.Length);
        _hashes[Count] = (high, low);
        _places[place] = ++Count;
        if (Count > _places.Length / 2)
            Grow();
        return Count - 1;
    }

    /// <summary>Reads what a look at each of some hashes will read: none of these reads depends on another, so that memory is waited for but once.</summary>
    /// <param name="hashes">At most <see cref="FetchedAtOnce"/>.</param>
    public void Fetch(ReadOnlySpan<UInt128> hashes)
    {
        for (var i = 0; i < hashes.Length; i++)
            _fetched[i] = _places[PlaceOf((ulong)hashes[i])];
        for (var i = 0; i < hashes.Length; i++)
            _seen += _hashes[Math.Max(0, _fetched[i] - 1)].Low;
    }

    private int PlaceOf(ulong low) => (int)low & (_places.Length - 1);

    private void Grow()
    {
        _places = new int[4 * _places.Length];
        for (var index = 0; index < Count; index++)
        {
            var place = PlaceOf(_hashes[index].Low);
            while (_places[place] > 0)
                place = (place + 1) & (_places.Length - 1);
            _places[place] = index + 1;
        }
    }

    private static (ulong High, ulong Low) Halves(UInt128 hash) => ((ulong)(hash >> 64), (ulong)hash);
}
