namespace JadeOrchard.Core.Results.Staged;

/// <summary>For each keyword those with almost the same words, which are all that it is compared with.</summary>
/// <remarks>
/// Two keywords are alike where the same words are left once at most two are taken out of each (a deletion neighbourhood, as in Mor and Fraenkel, "A hash code
/// method for detecting and correcting spelling errors", Comm. ACM 25, 1982, of words instead of letters). Where more keywords have the same words left, each is
/// held against the most searched of them and against those next to it in order. Memory: 4 bytes for each keyword that another is compared with.
/// </remarks>
public sealed class LikeKeywords
{
    /// <summary>With more words, only one is taken out.</summary>
    private const int MostWordsForTwo = 6;

    /// <summary>With more words, none but the whole is compared.</summary>
    private const int MostWords = 16;

    /// <summary>Keywords with the same words left that each other is held against.</summary>
    private const int Heads = 12, HeadsOfMany = 5;

    /// <summary>Those before it in order, likewise.</summary>
    private const int Next = 3;

    /// <summary>From as many keywords each is compared with fewer.</summary>
    private const int Many = 20_000;

    private readonly int[] _starts;
    private readonly int[] _keywords;

    /// <param name="words">The keywords.</param>
    /// <param name="order">In keyword order.</param>
    public LikeKeywords(WordedKeywords words, ReadOnlySpan<int> order)
    {
        var (keys, places) = (new List<ulong>(), new List<int>());
        Span<ulong> codes = stackalloc ulong[MostWords];
        for (var place = 0; place < order.Length; place++)
        {
            var core = words.Core(order[place]);
            // Sums of scrambled numbers tell sets apart, whatever their order.
            var all = 0UL;
            for (var i = 0; i < core.Length; i++)
                all += Scrambled(core[i]);
            Add(all, place);
            if (core.Length > MostWords)
                continue;
            for (var i = 0; i < core.Length; i++)
                codes[i] = Scrambled(core[i]);
            for (var i = 0; i < core.Length && core.Length > 1; i++)
            {
                Add(all - codes[i], place);
                for (var j = 0; j < i && core.Length is > 2 and <= MostWordsForTwo; j++)
                    Add(all - codes[i] - codes[j], place);
            }
        }

        var heads = order.Length > Many ? HeadsOfMany : Heads;
        var (keyOf, placeOf) = (keys.ToArray(), places.ToArray());
        keys = null!;
        // Places ascend within a key, since they were added in order and the pair is sorted.
        Array.Sort(keyOf, placeOf);
        var pairs = new List<long>();
        for (var (from, to) = (0, 0); from < keyOf.Length; from = to)
        {
            while (to < keyOf.Length && keyOf[to] == keyOf[from])
                to++;
            if (to - from < 2)
                continue;
            var alike = placeOf.AsSpan(from..to);
            alike.Sort();
            for (var i = 1; i < alike.Length; i++)
            {
                for (var j = 0; j < Math.Min(i, heads); j++)
                    pairs.Add(((long)alike[j] << 32) | (uint)alike[i]);
                for (var j = Math.Max(heads, i - Next); j < i; j++)
                    pairs.Add(((long)alike[j] << 32) | (uint)alike[i]);
            }
        }

        var sorted = pairs.ToArray();
        pairs = null!;
        Array.Sort(sorted);
        _starts = new int[order.Length + 1];
        var last = -1L;
        foreach (var pair in sorted)
        {
            if (pair == last)
                continue;
            last = pair;
            _starts[order[(int)(pair >> 32)] + 1]++;
            _starts[order[(int)pair] + 1]++;
        }

        for (var i = 0; i < order.Length; i++)
            _starts[i + 1] += _starts[i];
        var next = _starts[..^1];
        _keywords = new int[_starts[^1]];
        last = -1;
        foreach (var pair in sorted)
        {
            if (pair == last)
                continue;
            last = pair;
            var (a, b) = (order[(int)(pair >> 32)], order[(int)pair]);
            _keywords[next[a]++] = b;
            _keywords[next[b]++] = a;
        }

        void Add(ulong key, int place)
        {
            keys.Add(key);
            places.Add(place);
        }
    }

    public int Count => _starts.Length - 1;

    /// <summary>Pairs of keywords that are alike.</summary>
    public int Pairs => _keywords.Length / 2;

    /// <returns>Keywords that are compared with this one; the same pairs from both sides.</returns>
    public ReadOnlySpan<int> Of(int keyword) => _keywords.AsSpan(_starts[keyword].._starts[keyword + 1]);

    /// <summary>Steele, Lea and Flood, "Fast splittable pseudorandom number generators", OOPSLA 2014.</summary>
    internal static ulong Scrambled(long number)
    {
        var z = unchecked((ulong)number * 0x9E3779B97F4A7C15UL) + 0x9E3779B97F4A7C15UL;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9UL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBUL;
        return z ^ (z >> 31);
    }
}
