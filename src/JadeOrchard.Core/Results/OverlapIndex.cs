using System.Numerics;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace JadeOrchard.Core.Results;

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
/// Memory: 84 bytes a keyword, 64 of them for the bits, 12 a result, 4 a URL; 8 a result while it is made.
/// </remarks>
public sealed class OverlapIndex
{
    /// <summary>64-bit words a keyword, of bits that belong to one of the most frequent URLs each, and again of bits that the others share.</summary>
    private const int Words = 4;

    private const int Bits = Words * 64;

    /// <summary>A keyword that has a token in its prefix.</summary>
    /// <param name="Place">Where the keyword stands in the index.</param>
    /// <param name="After">How many tokens its set has after this one; the greatest number stands for any beyond it.</param>
    /// <param name="Clashes">How many URLs of it share their bit with another, likewise.</param>
    private readonly record struct Posting(int Place, ushort After, ushort Clashes)
    {
        public static Posting Of(int place, int after, int clashes) =>
            new(place, (ushort)Math.Min(after, ushort.MaxValue), (ushort)Math.Min(clashes, ushort.MaxValue));
    }

    private readonly int _minOverlap;
    private readonly int[] _keywords;
    private readonly int[] _places;
    private readonly int[] _starts;
    private readonly int[] _tokens;
    private readonly int _tokenCount;
    private readonly int _firstOwn;
    private readonly Vector256<ulong>[] _bits;
    private readonly int[] _postingStarts;
    private readonly Posting[] _postings;

    /// <param name="lists">Result lists, already cut at the compared depth.</param>
    /// <param name="minOverlap">m, at least 1.</param>
    public OverlapIndex(ResultLists lists, int minOverlap)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(minOverlap, 1);
        _minOverlap = minOverlap;
        (var tokenOf, _tokenCount) = TokensByFrequency(lists);
        _firstOwn = Math.Max(0, _tokenCount - Bits);
        (_keywords, _starts, _tokens) = Sets(lists, tokenOf, _tokenCount, minOverlap);
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
        internal int[] Seen { get; } = new int[index.Size];

        /// <summary>What was found last: keywords and their overlap, in no order.</summary>
        public List<(int Keyword, int Count)> Found { get; } = [];

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
        var prefix = PrefixLength(set.Length, _minOverlap);
        var before = scratch.Found.Count;
        var position = 0;
        for (; position < prefix && set[position] < _firstOwn; position++)
            MeetAtRare(place, set, position, from, scratch);
        for (; position < prefix; position++)
            MeetAtOwn(place, set[position], from, scratch);
        scratch.Counts += new JoinCounts(0, 0, scratch.Found.Count - before);
    }

    /// <summary>Partners whose rarest URL in common is this one, which has no bit of its own, or a rarer one that they were met at before.</summary>
    private void MeetAtRare(int place, ReadOnlySpan<int> set, int position, int from, Scratch scratch)
    {
        var seen = scratch.Seen;
        var (own, others, clashes) = (_bits[2 * place], _bits[(2 * place) + 1], ClashesAt(place));
        var rest = set[(position + 1)..];
        long scanned = 0, compared = 0;
        var postings = PostingsOf(set[position]);
        // Ascending by place: the partners that come later are at the end.
        for (var i = postings.Length - 1; i >= 0 && postings[i].Place >= from; i--)
        {
            scanned++;
            var posting = postings[i];
            var other = posting.Place;
            if (seen[other] == place + 1 || other == place)
                continue;
            seen[other] = place + 1;
            if (1 + Math.Min(rest.Length, posting.After) < _minOverlap)
                continue;
            // URLs in common have bits in common, but for those that clash with another URL of the same list.
            if (Count(own & _bits[2 * other]) + Count(others & _bits[(2 * other) + 1]) + Math.Min(clashes, posting.Clashes) < _minOverlap)
                continue;
            compared++;
            var otherSet = SetAt(other);
            var count = 1 + SharedOfSorted(rest, posting.After < ushort.MaxValue ? otherSet[^posting.After..] : otherSet);
            if (count >= _minOverlap)
                scratch.Found.Add((_keywords[other], count));
        }

        scratch.Counts += new JoinCounts(scanned, compared, 0);
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
            if (count < _minOverlap || (shared & rarer) != Vector256<ulong>.Zero || posting.Place == place || scratch.Seen[posting.Place] == place + 1)
                continue;
            compared++;
            scratch.Found.Add((_keywords[posting.Place], count));
        }

        scratch.Counts += new JoinCounts(scanned, compared, 0);

        static ulong RarerThan(int bit, int word) =>
            word > bit >> 6 ? ulong.MaxValue : word < bit >> 6 ? 0 : ulong.MaxValue << (bit & 63) << 1;
    }

    private ReadOnlySpan<Posting> PostingsOf(int token) => _postings.AsSpan(_postingStarts[token].._postingStarts[token + 1]);

    /// <summary>For each URL its token, or -1 where it stands in one list only; the rarest has the smallest.</summary>
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
    private static (int[] Keywords, int[] Starts, int[] Tokens) Sets(ResultLists lists, int[] tokenOf, int tokenCount, int minOverlap)
    {
        var urlOf = new int[tokenCount];
        for (var url = 0; url < tokenOf.Length; url++)
        {
            if (tokenOf[url] >= 0)
                urlOf[tokenOf[url]] = url;
        }

        var (sets, sizes, lastOfPrefix) = (new int[lists.Total], new int[lists.Count], new int[lists.Count]);
        InParts(lists.Count, (from, to) =>
        {
            for (var keyword = from; keyword < to; keyword++)
            {
                var set = sets.AsSpan(lists.StartOf(keyword));
                var size = 0;
                foreach (var url in lists.Urls(keyword))
                {
                    if (tokenOf[url] >= 0)
                        set[size++] = tokenOf[url];
                }

                set[..size].Sort();
                sizes[keyword] = size;
                lastOfPrefix[keyword] = size < minOverlap ? int.MaxValue : urlOf[set[size - minOverlap]];
            }
        });

        var keywords = Enumerable.Range(0, lists.Count).ToArray();
        Array.Sort(lastOfPrefix, keywords);
        var starts = new int[lists.Count + 1];
        for (var place = 0; place < keywords.Length; place++)
            starts[place + 1] = starts[place] + sizes[keywords[place]];
        var tokens = new int[starts[^1]];
        InParts(lists.Count, (from, to) =>
        {
            for (var place = from; place < to; place++)
                sets.AsSpan(lists.StartOf(keywords[place]), sizes[keywords[place]]).CopyTo(tokens.AsSpan(starts[place]));
        });
        return (keywords, starts, tokens);
    }

    /// <summary>For each place the bits of its own-bit tokens, then those of its other tokens.</summary>
    private Vector256<ulong>[] BitsOfSets()
    {
        var bits = new Vector256<ulong>[Size * 2];
        InParts(Size, (from, to) =>
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
    private int ClashesAt(int place) => _starts[place + 1] - _starts[place] - Count(_bits[2 * place]) - Count(_bits[(2 * place) + 1]);

    private (int[] Starts, Posting[] Postings) Postings()
    {
        var starts = new int[_tokenCount + 1];
        for (var place = 0; place < Size; place++)
        {
            foreach (var token in PrefixAt(place))
                starts[token + 1]++;
        }

        for (var token = 0; token < _tokenCount; token++)
            starts[token + 1] += starts[token];
        var next = starts.AsSpan(0, _tokenCount).ToArray();
        var postings = new Posting[starts[^1]];
        // Each part goes through all places, so that the postings of its tokens are ascending.
        InParts(_tokenCount, (from, to) =>
        {
            for (var place = 0; place < Size; place++)
            {
                var (after, clashes) = (_starts[place + 1] - _starts[place], -1);
                foreach (var token in PrefixAt(place))
                {
                    after--;
                    if (token < from || token >= to)
                        continue;
                    clashes = clashes < 0 ? ClashesAt(place) : clashes;
                    postings[next[token]++] = Posting.Of(place, after, clashes);
                }
            }
        });
        return (starts, postings);
    }

    /// <summary>Does a part of the work on each core.</summary>
    private static void InParts(int count, Action<int, int> work)
    {
        var parts = count < 4096 ? 1 : Environment.ProcessorCount;
        Parallel.For(0, parts, part => work((int)((long)count * part / parts), (int)((long)count * (part + 1) / parts)));
    }

    private ReadOnlySpan<int> PrefixAt(int place) => SetAt(place)[..PrefixLength(_starts[place + 1] - _starts[place], _minOverlap)];

    private int OwnBit(int token) => _tokenCount - 1 - token;

    private ReadOnlySpan<int> SetAt(int place) => _tokens.AsSpan(_starts[place].._starts[place + 1]);

    private static int PrefixLength(int size, int minOverlap) => Math.Max(0, size - minOverlap + 1);

    private static int Count(Vector256<ulong> bits) =>
        BitOperations.PopCount(bits[0]) + BitOperations.PopCount(bits[1]) + BitOperations.PopCount(bits[2]) + BitOperations.PopCount(bits[3]);

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
