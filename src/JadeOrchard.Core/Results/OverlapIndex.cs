using System.Numerics;
using System.Runtime.CompilerServices;

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
/// Memory: 64 bytes a keyword for the bits, 4 a result, 8 an indexed result.
/// </remarks>
public sealed class OverlapIndex
{
    /// <summary>64-bit words a keyword, of bits that belong to one of the most frequent URLs each, and again of bits that the others share.</summary>
    private const int Words = 4;

    private const int Bits = Words * 64;

    private readonly int _minOverlap;
    private readonly int[] _keywords;
    private readonly int[] _places;
    private readonly int[] _starts;
    private readonly int[] _tokens;
    private readonly int _tokenCount;
    private readonly int _firstOwn;
    private readonly ulong[] _ownBits;
    private readonly ulong[] _otherBits;
    private readonly int[] _clashes;
    private readonly int[] _postingStarts;
    private readonly (int Place, int Position)[] _postings;

    /// <param name="lists">Result lists, already cut at the compared depth.</param>
    /// <param name="minOverlap">m, at least 1.</param>
    public OverlapIndex(ResultLists lists, int minOverlap)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(minOverlap, 1);
        _minOverlap = minOverlap;
        (var tokenOf, _tokenCount) = TokensByFrequency(lists);
        _firstOwn = Math.Max(0, _tokenCount - Bits);
        (_keywords, _starts, _tokens) = Sets(lists, tokenOf, minOverlap);
        _places = new int[_keywords.Length];
        for (var place = 0; place < _keywords.Length; place++)
            _places[_keywords[place]] = place;
        (_ownBits, _otherBits, _clashes) = BitsOfSets();
        (_postingStarts, _postings) = Postings(_tokenCount);
    }

    /// <summary>Number of keywords.</summary>
    public int Count => _keywords.Length;

    /// <summary>What one thread needs to find overlaps.</summary>
    public sealed class Scratch(OverlapIndex index)
    {
        internal int[] Seen { get; } = new int[index.Count];

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
        long scanned = 0, compared = 0;
        foreach (var (other, otherPosition) in PostingsFrom(set[position], from))
        {
            scanned++;
            if (seen[other] == place + 1 || other == place)
                continue;
            seen[other] = place + 1;
            var otherSet = SetAt(other);
            if (1 + Math.Min(set.Length - position - 1, otherSet.Length - otherPosition - 1) < _minOverlap)
                continue;
            // URLs in common have bits in common, but for those that clash with another URL of the same list.
            if (Shared(_ownBits, place, other) + Shared(_otherBits, place, other) + Math.Min(_clashes[place], _clashes[other]) < _minOverlap)
                continue;
            compared++;
            var count = 1 + SharedOfSorted(set[(position + 1)..], otherSet[(otherPosition + 1)..]);
            if (count >= _minOverlap)
                scratch.Found.Add((_keywords[other], count));
        }

        scratch.Counts += new JoinCounts(scanned, compared, 0);
    }

    /// <summary>Partners whose rarest URL in common is this one, which has a bit of its own, as all more frequent ones have: the bits are the overlap.</summary>
    private void MeetAtOwn(int place, int token, int from, Scratch scratch)
    {
        var bit = OwnBit(token);
        var (word, rarer) = (bit >> 6, ulong.MaxValue << (bit & 63) << 1);
        var mine = _ownBits.AsSpan(place * Words, Words);
        long scanned = 0, compared = 0;
        foreach (var (other, _) in PostingsFrom(token, from))
        {
            scanned++;
            var count = Shared(_ownBits, place, other);
            if (count < _minOverlap || other == place || scratch.Seen[other] == place + 1)
                continue;
            // Bits go from the most frequent URL up to the rarest.
            var theirs = _ownBits.AsSpan(other * Words, Words);
            var isMetBefore = (mine[word] & theirs[word] & rarer) != 0;
            for (var w = word + 1; w < Words; w++)
                isMetBefore |= (mine[w] & theirs[w]) != 0;
            if (isMetBefore)
                continue;
            compared++;
            scratch.Found.Add((_keywords[other], count));
        }

        scratch.Counts += new JoinCounts(scanned, compared, 0);
    }

    /// <summary>The postings of a token at this place and later ones.</summary>
    private ReadOnlySpan<(int Place, int Position)> PostingsFrom(int token, int from)
    {
        var postings = _postings.AsSpan(_postingStarts[token].._postingStarts[token + 1]);
        if (from == 0)
            return postings;
        int low = 0, high = postings.Length;
        while (low < high)
        {
            var middle = (low + high) >>> 1;
            if (postings[middle].Place < from)
                low = middle + 1;
            else
                high = middle;
        }

        return postings[low..];
    }

    /// <summary>For each URL its token, or -1 where it stands in one list only; the rarest has the smallest.</summary>
    private static (int[] TokenOf, int Count) TokensByFrequency(ResultLists lists)
    {
        var frequency = new int[lists.UrlCount];
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            foreach (var url in lists.Urls(keyword))
                frequency[url]++;
        }

        var shared = new List<int>();
        for (var url = 0; url < frequency.Length; url++)
        {
            if (frequency[url] > 1)
                shared.Add(url);
        }

        var byFrequency = shared.ToArray();
        Array.Sort(byFrequency.Select(url => ((long)frequency[url] << 32) | (uint)url).ToArray(), byFrequency);
        var tokenOf = frequency;
        Array.Fill(tokenOf, -1);
        for (var token = 0; token < byFrequency.Length; token++)
            tokenOf[byFrequency[token]] = token;
        return (tokenOf, byFrequency.Length);
    }

    /// <summary>
    /// The lists as ascending sets of tokens. Keywords whose prefixes end with the same URL stand side by side, so that what
    /// is compared with each other mostly lies in the same part of memory.
    /// </summary>
    private static (int[] Keywords, int[] Starts, int[] Tokens) Sets(ResultLists lists, int[] tokenOf, int minOverlap)
    {
        var (starts, tokens) = (new int[lists.Count + 1], new int[lists.Total]);
        var keywords = new int[lists.Count];
        var keys = new long[lists.Count];
        var count = 0;
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            var first = count;
            foreach (var url in lists.Urls(keyword))
            {
                if (tokenOf[url] >= 0)
                    tokens[count++] = tokenOf[url];
            }

            var set = tokens.AsSpan(first..count);
            set.Sort();
            starts[keyword + 1] = count;
            keywords[keyword] = keyword;
            var prefix = PrefixLength(set.Length, minOverlap);
            keys[keyword] = prefix == 0 ? long.MaxValue : ((long)set[prefix - 1] << 32) | (uint)set[0];
        }

        Array.Sort(keys, keywords);
        var (placedStarts, placed) = (new int[starts.Length], new int[count]);
        count = 0;
        for (var place = 0; place < keywords.Length; place++)
        {
            var set = tokens.AsSpan(starts[keywords[place]]..starts[keywords[place] + 1]);
            set.CopyTo(placed.AsSpan(count));
            placedStarts[place + 1] = count += set.Length;
        }

        return (keywords, placedStarts, placed);
    }

    private (ulong[] Own, ulong[] Other, int[] Clashes) BitsOfSets()
    {
        var (own, others, clashes) = (new ulong[Count * Words], new ulong[Count * Words], new int[Count]);
        for (var place = 0; place < Count; place++)
        {
            foreach (var token in SetAt(place))
            {
                if (token >= _firstOwn)
                {
                    own[(place * Words) + (OwnBit(token) >> 6)] |= 1UL << (OwnBit(token) & 63);
                    continue;
                }

                ref var word = ref others[(place * Words) + (token % Bits >> 6)];
                var mask = 1UL << (token & 63);
                clashes[place] += (word & mask) != 0 ? 1 : 0;
                word |= mask;
            }
        }

        return (own, others, clashes);
    }

    private int OwnBit(int token) => _tokenCount - 1 - token;

    private (int[] Starts, (int Place, int Position)[] Postings) Postings(int tokenCount)
    {
        var starts = new int[tokenCount + 1];
        for (var place = 0; place < Count; place++)
        {
            var set = SetAt(place);
            foreach (var token in set[..PrefixLength(set.Length, _minOverlap)])
                starts[token + 1]++;
        }

        for (var token = 0; token < tokenCount; token++)
            starts[token + 1] += starts[token];
        var next = starts.AsSpan(0, tokenCount).ToArray();
        var postings = new (int, int)[starts[^1]];
        for (var place = 0; place < Count; place++)
        {
            var set = SetAt(place);
            for (var position = 0; position < PrefixLength(set.Length, _minOverlap); position++)
                postings[next[set[position]]++] = (place, position);
        }

        return (starts, postings);
    }

    private ReadOnlySpan<int> SetAt(int place) => _tokens.AsSpan(_starts[place].._starts[place + 1]);

    private static int PrefixLength(int size, int minOverlap) => Math.Max(0, size - minOverlap + 1);

    /// <summary>Bits that two places have in common.</summary>
    private static int Shared(ulong[] bits, int place, int other)
    {
        ref var a = ref bits[place * Words];
        ref var b = ref bits[other * Words];
        return BitOperations.PopCount(a & b)
            + BitOperations.PopCount(Unsafe.Add(ref a, 1) & Unsafe.Add(ref b, 1))
            + BitOperations.PopCount(Unsafe.Add(ref a, 2) & Unsafe.Add(ref b, 2))
            + BitOperations.PopCount(Unsafe.Add(ref a, 3) & Unsafe.Add(ref b, 3));
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
