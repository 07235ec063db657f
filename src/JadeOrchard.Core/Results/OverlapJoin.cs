namespace JadeOrchard.Core.Results;

/// <summary>All pairs of keywords whose result lists overlap by at least a minimum, found exactly.</summary>
/// <remarks>
/// Prefix-filtered set-similarity join (Bayardo, Ma and Srikant, "Scaling up all pairs similarity search", WWW 2007;
/// Xiao, Wang, Lin and Yu, "Efficient similarity joins for near duplicate detection", WWW 2008). With the URLs of a
/// list in order of ascending frequency, two lists of n and n' URLs that share m or more also share one among the
/// first n−m+1 and n'−m+1. So only these are indexed, the URLs that rank for everything hardly ever, and URLs seen
/// once never. A pair is met at the first URL that both prefixes share and is verified there, unless the places
/// of that URL already leave too few others (positional filter).
/// Memory: 8 bytes an indexed URL, 4 bytes a keyword and thread, 12 bytes a pair found.
/// </remarks>
public static class OverlapJoin
{
    /// <param name="lists">Result lists, already cut at the compared depth.</param>
    /// <param name="minOverlap">m, at least 1.</param>
    /// <returns>Every pair with overlap ≥ m once, ordered by A, then B.</returns>
    public static OverlapPair[] Pairs(ResultLists lists, int minOverlap)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(minOverlap, 1);
        var tokens = TokensByFrequency(lists);
        var index = PrefixIndex.Of(tokens, minOverlap);
        var threads = Math.Clamp(lists.Count / 2048, 1, Environment.ProcessorCount);
        // Slices are interleaved blocks, so that every thread gets its part of the long posting lists at the end.
        const int block = 512;
        var blocks = (lists.Count + block - 1) / block;
        var found = new List<OverlapPair>[blocks];
        Parallel.For(0, threads, new ParallelOptions { MaxDegreeOfParallelism = threads }, thread =>
        {
            var seen = new int[lists.Count];
            for (var b = thread; b < blocks; b += threads)
            {
                found[b] = [];
                var end = Math.Min(lists.Count, (b + 1) * block);
                for (var keyword = b * block; keyword < end; keyword++)
                    index.Find(keyword, tokens, seen, found[b]);
            }
        });

        var pairs = new OverlapPair[found.Sum(f => f.Count)];
        var at = 0;
        foreach (var part in found)
        {
            part.CopyTo(pairs, at);
            at += part.Count;
        }

        return pairs;
    }

    /// <summary>The lists as sets of tokens, each sorted; the rarest URL is the smallest token.</summary>
    private static TokenSets TokensByFrequency(ResultLists lists)
    {
        var frequency = new int[lists.UrlCount];
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            foreach (var url in lists.Urls(keyword))
                frequency[url]++;
        }

        var shared = Enumerable.Range(0, frequency.Length).Where(u => frequency[u] > 1).ToArray();
        Array.Sort(shared, (a, b) => frequency[a] != frequency[b] ? frequency[a].CompareTo(frequency[b]) : a.CompareTo(b));
        var token = new int[frequency.Length];
        Array.Fill(token, -1);
        for (var i = 0; i < shared.Length; i++)
            token[shared[i]] = i;

        var starts = new int[lists.Count + 1];
        var values = new int[lists.Total];
        var count = 0;
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            var first = count;
            foreach (var url in lists.Urls(keyword))
            {
                if (token[url] >= 0)
                    values[count++] = token[url];
            }

            values.AsSpan(first..count).Sort();
            starts[keyword + 1] = count;
        }

        return new TokenSets(starts, values, shared.Length);
    }

    private sealed record TokenSets(int[] Starts, int[] Values, int TokenCount)
    {
        public int Count => Starts.Length - 1;

        public ReadOnlySpan<int> this[int keyword] => Values.AsSpan(Starts[keyword]..Starts[keyword + 1]);
    }

    /// <summary>For each token the keywords that have it in their prefix, ascending, with its place there.</summary>
    private sealed class PrefixIndex
    {
        private readonly int _minOverlap;
        private readonly int[] _starts;
        private readonly (int Keyword, int Place)[] _postings;

        private PrefixIndex(int minOverlap, int[] starts, (int Keyword, int Place)[] postings)
        {
            _minOverlap = minOverlap;
            _starts = starts;
            _postings = postings;
        }

        public static PrefixIndex Of(TokenSets tokens, int minOverlap)
        {
            var starts = new int[tokens.TokenCount + 1];
            for (var keyword = 0; keyword < tokens.Count; keyword++)
            {
                var set = tokens[keyword];
                foreach (var token in set[..PrefixLength(set.Length, minOverlap)])
                    starts[token + 1]++;
            }

            for (var i = 0; i < tokens.TokenCount; i++)
                starts[i + 1] += starts[i];
            var next = starts.AsSpan(0, tokens.TokenCount).ToArray();
            var postings = new (int, int)[starts[^1]];
            for (var keyword = 0; keyword < tokens.Count; keyword++)
            {
                var set = tokens[keyword];
                for (var place = 0; place < PrefixLength(set.Length, minOverlap); place++)
                    postings[next[set[place]]++] = (keyword, place);
            }

            return new PrefixIndex(minOverlap, starts, postings);
        }

        /// <summary>Adds the pairs of a keyword with later ones, ascending.</summary>
        /// <param name="keyword">The keyword whose partners are wanted.</param>
        /// <param name="tokens">The sets that were indexed.</param>
        /// <param name="seen">Scratch of this thread: keyword + 1 where a partner was met already.</param>
        /// <param name="found">Gets the pairs.</param>
        public void Find(int keyword, TokenSets tokens, int[] seen, List<OverlapPair> found)
        {
            var first = found.Count;
            var set = tokens[keyword];
            for (var place = 0; place < PrefixLength(set.Length, _minOverlap); place++)
            {
                var postings = _postings.AsSpan(_starts[set[place]].._starts[set[place] + 1]);
                // Ascending by keyword: the partners that come later are at the end.
                for (var i = postings.Length - 1; i >= 0 && postings[i].Keyword > keyword; i--)
                {
                    var (other, otherPlace) = postings[i];
                    if (seen[other] == keyword + 1)
                        continue;
                    seen[other] = keyword + 1;
                    var otherSet = tokens[other];
                    if (1 + Math.Min(set.Length - place - 1, otherSet.Length - otherPlace - 1) < _minOverlap)
                        continue;
                    var count = 1 + SharedOfSorted(set[(place + 1)..], otherSet[(otherPlace + 1)..]);
                    if (count >= _minOverlap)
                        found.Add(new OverlapPair(keyword, other, count));
                }
            }

            if (found.Count - first > 1)
                System.Runtime.InteropServices.CollectionsMarshal.AsSpan(found)[first..].Sort((a, b) => a.B.CompareTo(b.B));
        }

        private static int PrefixLength(int size, int minOverlap) => Math.Max(0, size - minOverlap + 1);

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
}
