using System.Numerics;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace JadeOrchard.Core.Results;

/// <summary>A keyword that overlaps another.</summary>
/// <param name="Keyword">Its index.</param>
/// <param name="Count">How many of the first results they share.</param>
public readonly record struct Neighbour(int Keyword, int Count);

/// <summary>What finding overlaps took; the same for the same lists and minimum, whatever the machine.</summary>
/// <param name="Scanned">Postings read.</param>
/// <param name="Checked">Pairs whose lists were compared.</param>
/// <param name="Found">Pairs that overlap by the minimum.</param>
public readonly record struct JoinCounts(long Scanned, long Checked, long Found)
{
    public static JoinCounts operator +(JoinCounts a, JoinCounts b) => new(a.Scanned + b.Scanned, a.Checked + b.Checked, a.Found + b.Found);
}

/// <summary>Result lists, indexed so that the keywords that overlap a keyword by at least a minimum are found exactly.</summary>
/// <remarks>
/// The prefix filter of set-similarity joins (Bayardo, Ma and Srikant, "Scaling up all pairs similarity search", WWW 2007;
/// Xiao, Wang, Lin and Yu, "Efficient similarity joins for near duplicate detection", WWW 2008). With the URLs of a
/// list in order of ascending frequency, two lists of n and n' URLs that share m or more also share one among the
/// first n−m+1 and n'−m+1. So only these are indexed, the URLs that rank for everything hardly ever, and URLs seen
/// once never. A pair is met at the rarest URL that both prefixes share. It is compared only where the places of that URL
/// leave enough others (positional filter), and where 512 bits of each list have enough in common: the 256 most frequent
/// URLs have a bit of their own, the others share 256 bits by remainder. Where even the rarest shared URL has its own bit,
/// the bits in common are the overlap and nothing need be compared.
/// Memory: 140 bytes a keyword, 64 of them for the bits and 64 for its URLs, 8 a result, 4 a URL; 8 a result while it is made.
/// Lists of more than 16 URLs take 4 bytes for each instead of the 64.
/// </remarks>
public sealed class OverlapIndex
{
    /// <summary>64-bit words a keyword, of bits that belong to one of the most frequent URLs each, and again of bits that the others share.</summary>
    private const int Words = 4;

    private const int Bits = Words * 64;

    /// <summary>Tokens that one row of 64 bytes holds; where no set has more, each has a row.</summary>
    private const int Row = 16;

    /// <summary>A keyword that has a token in its prefix.</summary>
    /// <param name="Place">Where the keyword is in the index.</param>
    /// <param name="After">How many tokens its set has after this one; the greatest number counts for any beyond it.</param>
    /// <param name="Clashes">How many URLs of it share their bit with another, likewise.</param>
    internal readonly record struct Posting(int Place, ushort After, ushort Clashes)
    {
        public static Posting Of(int place, int after, int clashes) =>
            new(place, (ushort)Math.Min(after, ushort.MaxValue), (ushort)Math.Min(clashes, ushort.MaxValue));
    }

    private readonly int[] _keywords;
    private readonly int[] _places;
    private readonly int[] _sizes;

    // Where each set begins; empty where every set has a row of its own.
    private readonly int[] _starts;
    private readonly int[] _tokens;
    private readonly int _tokenCount;
    private readonly int _firstOwn;
    private readonly Vector256<ulong>[] _bits;
    private readonly int[] _postingStarts;
    private readonly Posting[] _postings;

    /// <summary>The minimum overlap with which it finds.</summary>
    public int MinOverlap { get; }

    /// <param name="lists">Result lists, already cut at the compared depth.</param>
    /// <param name="minOverlap">m, at least 1.</param>
    public OverlapIndex(ResultLists lists, int minOverlap)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(minOverlap, 1);
        MinOverlap = minOverlap;
        (var tokenOf, _tokenCount) = TokensByFrequency(lists);
        _firstOwn = Math.Max(0, _tokenCount - Bits);
        (_keywords, _sizes, _starts, _tokens) = Sets(lists, tokenOf, _tokenCount, minOverlap);
        _places = new int[_keywords.Length];
        for (var place = 0; place < _keywords.Length; place++)
            _places[_keywords[place]] = place;
        _bits = BitsOfSets();
        (_postingStarts, _postings) = Postings();
    }

    /// <summary>Number of keywords.</summary>
    public int Size => _keywords.Length;

    /// <summary>What one thread needs to find overlaps.</summary>
    public sealed class Scratch(OverlapIndex index)
    {
        private (Posting Posting, int Remaining)[] _met = new (Posting, int)[256];

        internal int[] Seen { get; } = new int[index.Size];

        /// <summary>Partners that were met, at least as many as asked for; those before stay.</summary>
        internal (Posting Posting, int Remaining)[] RoomFor(int count)
        {
            if (count > _met.Length)
                Array.Resize(ref _met, Math.Max(count, _met.Length * 2));
            return _met;
        }

        /// <summary>What was found last: keywords and their overlap, in no order.</summary>
        public List<Neighbour> Found { get; } = [];

        /// <summary>Of all that was found with it.</summary>
        public JoinCounts Counts { get; internal set; }
    }

    /// <summary>All keywords that overlap a keyword by the minimum or more, into <see cref="Scratch.Found"/>.</summary>
    public void Neighbours(int keyword, Scratch scratch)
    {
        scratch.Found.Clear();
        Find(_places[keyword], 0, scratch);
    }

    /// <summary>As <see cref="Neighbours"/>, for the keyword at a place of the index, but only those at later places: each pair once.</summary>
    /// <returns>The keyword.</returns>
    internal int Later(int place, Scratch scratch)
    {
        scratch.Found.Clear();
        Find(place, place + 1, scratch);
        return _keywords[place];
    }

    private void Find(int place, int from, Scratch scratch)
    {
        var set = SetAt(place);
        var prefix = PrefixLength(set.Length, MinOverlap);
        var before = scratch.Found.Count;
        var rare = 0;
        while (rare < prefix && set[rare] < _firstOwn)
            rare++;
        MeetAtRare(place, set, rare, from, scratch);
        for (var position = rare; position < prefix; position++)
            MeetAtOwn(place, set[position], from, scratch);
        scratch.Counts += new JoinCounts(0, 0, scratch.Found.Count - before);
    }

    /// <summary>Partners whose rarest URL in common has no bit of its own, each at that URL.</summary>
    /// <remarks>
    /// First all are gathered, then the filters are put to all, and only then those that are left are compared: most of the
    /// time goes into waiting for memory, and what does not depend on a guess is waited for at once.
    /// </remarks>
    private void MeetAtRare(int place, ReadOnlySpan<int> set, int rare, int from, Scratch scratch)
    {
        var seen = scratch.Seen;
        seen[place] = place + 1;
        long scanned = 0;
        var count = 0;
        for (var position = 0; position < rare; position++)
        {
            var postings = PostingsOf(set[position]);
            var met = scratch.RoomFor(count + postings.Length);
            var rest = set.Length - position - 1;
            // Ascending by place: the partners that come later are at the end.
            for (var i = postings.Length - 1; i >= 0 && postings[i].Place >= from; i--)
            {
                scanned++;
                var posting = postings[i];
                ref var last = ref seen[posting.Place];
                if (last == place + 1)
                    continue;
                last = place + 1;
                met[count++] = (posting, rest);
            }
        }

        var candidates = scratch.RoomFor(count).AsSpan(0, count);
        var (own, others, clashes) = (_bits[2 * place], _bits[(2 * place) + 1], ClashesAt(place));
        var left = 0;
        for (var i = 0; i < candidates.Length; i++)
        {
            var (posting, rest) = candidates[i];
            // URLs in common have bits in common, but for those that clash with another URL of the same list.
            var shared = Count(own & _bits[2 * posting.Place]) + Count(others & _bits[(2 * posting.Place) + 1]) + Math.Min(clashes, posting.Clashes);
            candidates[left] = (posting, rest);
            left += Math.Min(1 + Math.Min(rest, posting.After), shared) >= MinOverlap ? 1 : 0;
        }

        foreach (var (posting, rest) in candidates[..left])
        {
            var overlap = _starts.Length == 0 ? SharedWithRow(set, posting.Place)
                : 1 + SharedOfSorted(set[^rest..], posting.After < ushort.MaxValue ? SetAt(posting.Place)[^posting.After..] : SetAt(posting.Place));
            if (overlap >= MinOverlap)
                scratch.Found.Add(new Neighbour(_keywords[posting.Place], overlap));
        }

        scratch.Counts += new JoinCounts(scanned, left, 0);
    }

    /// <summary>Partners whose rarest URL in common is this one, which has a bit of its own, as all more frequent ones have: the bits are the overlap.</summary>
    private void MeetAtOwn(int place, int token, int from, Scratch scratch)
    {
        var bit = OwnBit(token);
        // Bits go from the most frequent URL up to the rarest; a pair that has a rarer one in common was met there.
        var rarer = Vector256.Create(RarerThan(bit, 0), RarerThan(bit, 1), RarerThan(bit, 2), RarerThan(bit, 3));
        var own = _bits[2 * place];
        long scanned = 0, compared = 0;
        var postings = PostingsOf(token);
        for (var i = postings.Length - 1; i >= 0 && postings[i].Place >= from; i--)
        {
            scanned++;
            var posting = postings[i];
            var shared = own & _bits[2 * posting.Place];
            var count = Count(shared);
            if (count < MinOverlap || (shared & rarer) != Vector256<ulong>.Zero || posting.Place == place || scratch.Seen[posting.Place] == place + 1)
                continue;
            compared++;
            scratch.Found.Add(new Neighbour(_keywords[posting.Place], count));
        }

        scratch.Counts += new JoinCounts(scanned, compared, 0);

        static ulong RarerThan(int bit, int word) =>
            word > bit >> 6 ? ulong.MaxValue : word < bit >> 6 ? 0 : ulong.MaxValue << (bit & 63) << 1;
    }

    private ReadOnlySpan<Posting> PostingsOf(int token) => _postings.AsSpan(_postingStarts[token].._postingStarts[token + 1]);

    /// <summary>For each URL its token, or -1 where it is in one list only; the rarest has the smallest.</summary>
    private static (int[] TokenOf, int Count) TokensByFrequency(ResultLists lists)
    {
        var frequency = new int[lists.UrlCount];
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            foreach (var url in lists.Urls(keyword))
                frequency[url]++;
        }

        // Dealt out by frequency; among equals the order of the URLs stays.
        var starts = new int[lists.Count + 2];
        foreach (var count in frequency)
            starts[count + 1] += count > 1 ? 1 : 0;
        for (var count = 1; count < starts.Length; count++)
            starts[count] += starts[count - 1];
        var tokenCount = starts[^1];
        for (var url = 0; url < frequency.Length; url++)
            frequency[url] = frequency[url] > 1 ? starts[frequency[url]]++ : -1;
        return (frequency, tokenCount);
    }

    /// <summary>
    /// The lists as ascending sets of tokens, at their places. Keywords whose prefixes end with the same URL stand side by
    /// side, and URLs that were seen first together have numbers side by side, so that what is compared with each other
    /// mostly lies in the same part of memory.
    /// </summary>
    private static (int[] Keywords, int[] Sizes, int[] Starts, int[] Tokens) Sets(ResultLists lists, int[] tokenOf, int tokenCount, int minOverlap)
    {
        var urlOf = new int[tokenCount];
        for (var url = 0; url < tokenOf.Length; url++)
        {
            if (tokenOf[url] >= 0)
                urlOf[tokenOf[url]] = url;
        }

        var before = new int[lists.Count + 1];
        for (var keyword = 0; keyword < lists.Count; keyword++)
            before[keyword + 1] = before[keyword] + lists.Urls(keyword).Length;
        var (sets, sizes, lastOfPrefix) = (new int[before[^1]], new int[lists.Count], new int[lists.Count]);
        InParts(lists.Count, (_, from, to) =>
        {
            for (var keyword = from; keyword < to; keyword++)
            {
                var set = sets.AsSpan(before[keyword]);
                var size = 0;
                foreach (var url in lists.Urls(keyword))
                {
                    if (tokenOf[url] >= 0)
                        set[size++] = tokenOf[url];
                }

                Sort(set[..size]);
                sizes[keyword] = size;
                lastOfPrefix[keyword] = size < minOverlap ? lists.UrlCount : urlOf[set[size - minOverlap]];
            }
        });

        var keywords = Dealt(lastOfPrefix, lists.UrlCount);
        var sizesOfPlaces = new int[keywords.Length];
        for (var place = 0; place < keywords.Length; place++)
            sizesOfPlaces[place] = sizes[keywords[place]];
        int[] starts = [];
        if (sizes.AsSpan().ContainsAnyExceptInRange(0, Row))
        {
            starts = new int[keywords.Length + 1];
            for (var place = 0; place < keywords.Length; place++)
                starts[place + 1] = starts[place] + sizesOfPlaces[place];
        }

        var tokens = new int[starts.Length == 0 ? keywords.Length * Row : starts[^1]];
        InParts(lists.Count, (_, from, to) =>
        {
            for (var place = from; place < to; place++)
            {
                var set = tokens.AsSpan(starts.Length == 0 ? place * Row : starts[place]);
                sets.AsSpan(before[keywords[place]], sizesOfPlaces[place]).CopyTo(set);
                if (starts.Length == 0)
                    set[sizesOfPlaces[place]..Row].Fill(-1);
            }
        });
        return (keywords, sizesOfPlaces, starts, tokens);
    }

    /// <summary>Indexes in the order of their keys, from 0 to <paramref name="greatest"/>; among equals by index.</summary>
    private static int[] Dealt(int[] keys, int greatest)
    {
        var starts = new int[greatest + 2];
        foreach (var key in keys)
            starts[key + 1]++;
        for (var key = 0; key <= greatest; key++)
            starts[key + 1] += starts[key];
        var order = new int[keys.Length];
        for (var i = 0; i < keys.Length; i++)
            order[starts[keys[i]]++] = i;
        return order;
    }

    /// <summary>Short lists by insertion, which is faster for them.</summary>
    private static void Sort(Span<int> set)
    {
        const int shortList = 24;
        if (set.Length > shortList)
        {
            set.Sort();
            return;
        }

        for (var i = 1; i < set.Length; i++)
        {
            var token = set[i];
            var at = i;
            for (; at > 0 && set[at - 1] > token; at--)
                set[at] = set[at - 1];
            set[at] = token;
        }
    }

    /// <summary>For each place the bits of its own-bit tokens, then those of its other tokens.</summary>
    private Vector256<ulong>[] BitsOfSets()
    {
        var bits = new Vector256<ulong>[Size * 2];
        InParts(Size, (_, from, to) =>
        {
            var words = MemoryMarshal.Cast<Vector256<ulong>, ulong>(bits.AsSpan());
            for (var place = from; place < to; place++)
            {
                foreach (var token in SetAt(place))
                {
                    var bit = token >= _firstOwn ? OwnBit(token) : Bits + (token % Bits);
                    words[(2 * Words * place) + (bit >> 6)] |= 1UL << (bit & 63);
                }
            }
        });
        return bits;
    }

    /// <summary>How many URLs share their bit with another one of the same list.</summary>
    private int ClashesAt(int place) => _sizes[place] - Count(_bits[2 * place]) - Count(_bits[(2 * place) + 1]);

    private (int[] Starts, Posting[] Postings) Postings()
    {
        // Each part counts the tokens of its own places; those of earlier parts come before them, so that postings are ascending.
        var parts = PartsOf(Size);
        var next = new int[parts][];
        InParts(Size, (part, from, to) =>
        {
            var counts = next[part] = new int[_tokenCount];
            for (var place = from; place < to; place++)
            {
                foreach (var token in PrefixAt(place))
                    counts[token]++;
            }
        });
        var starts = new int[_tokenCount + 1];
        for (var token = 0; token < _tokenCount; token++)
        {
            var start = starts[token];
            foreach (var counts in next)
                (counts[token], start) = (start, start + counts[token]);
            starts[token + 1] = start;
        }

        var postings = new Posting[starts[^1]];
        InParts(Size, (part, from, to) =>
        {
            var at = next[part];
            for (var place = from; place < to; place++)
            {
                var (after, clashes) = (_sizes[place], ClashesAt(place));
                foreach (var token in PrefixAt(place))
                    postings[at[token]++] = Posting.Of(place, --after, clashes);
            }
        });
        return (starts, postings);
    }

    /// <summary>Does a part of the work on each core.</summary>
    private static void InParts(int count, Action<int, int, int> work)
    {
        var parts = PartsOf(count);
        Parallel.For(0, parts, part => work(part, (int)((long)count * part / parts), (int)((long)count * (part + 1) / parts)));
    }

    private static int PartsOf(int count) => count < 4096 ? 1 : Environment.ProcessorCount;

    private ReadOnlySpan<int> PrefixAt(int place) => SetAt(place)[..PrefixLength(_sizes[place], MinOverlap)];

    private int OwnBit(int token) => _tokenCount - 1 - token;

    private ReadOnlySpan<int> SetAt(int place) => _tokens.AsSpan(_starts.Length == 0 ? place * Row : _starts[place], _sizes[place]);

    private static int PrefixLength(int size, int minOverlap) => Math.Max(0, size - minOverlap + 1);

    private static int Count(Vector256<ulong> bits) =>
        BitOperations.PopCount(bits[0]) + BitOperations.PopCount(bits[1]) + BitOperations.PopCount(bits[2]) + BitOperations.PopCount(bits[3]);

    /// <summary>How many of the tokens are in the row of a place: each is compared with the whole row at once.</summary>
    private int SharedWithRow(ReadOnlySpan<int> set, int place)
    {
        ref var row = ref MemoryMarshal.GetReference(_tokens.AsSpan(place * Row, Row));
        var (first, second) = (Vector256.LoadUnsafe(ref row), Vector256.LoadUnsafe(ref row, Row / 2));
        var (inFirst, inSecond) = (Vector256<int>.Zero, Vector256<int>.Zero);
        foreach (var token in set)
        {
            var wanted = Vector256.Create(token);
            inFirst |= Vector256.Equals(first, wanted);
            inSecond |= Vector256.Equals(second, wanted);
        }

        return BitOperations.PopCount(inFirst.ExtractMostSignificantBits()) + BitOperations.PopCount(inSecond.ExtractMostSignificantBits());
    }

    private static int SharedOfSorted(ReadOnlySpan<int> a, ReadOnlySpan<int> b)
    {
        int shared = 0, i = 0, j = 0;
        while (i < a.Length && j < b.Length)
        {
            var (x, y) = (a[i], b[j]);
            if (x == y)
                shared++;
            if (x <= y)
                i++;
            if (y <= x)
                j++;
        }

        return shared;
    }
}
