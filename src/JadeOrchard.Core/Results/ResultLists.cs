namespace JadeOrchard.Core.Results;

/// <summary>The result lists of many keywords, packed: which URLs each keyword's search returned, best first.</summary>
/// <remarks>
/// Keywords and URLs are indexes from 0. A URL stands at most once in a list, at its best position. URLs at the same
/// position are in the order of their identity, so that the order of rows does not matter. 8 bytes a result.
/// Lists that are cut share the results of those they were cut from.
/// </remarks>
public sealed class ResultLists
{
    private readonly int[] _starts;
    private readonly int[] _ends;
    private readonly int[] _urls;
    private readonly int[] _positions;

    private ResultLists(int[] starts, int[] ends, int[] urls, int[] positions, int urlCount)
    {
        _starts = starts;
        _ends = ends;
        _urls = urls;
        _positions = positions;
        UrlCount = urlCount;
    }

    /// <summary>Lists that all have as many URLs, one after another, best first; no URL twice in one.</summary>
    public static ResultLists OfEqualLength(int[] urls, int length) => new(
        [.. Enumerable.Range(0, urls.Length / length).Select(k => k * length)],
        [.. Enumerable.Range(1, urls.Length / length).Select(k => k * length)],
        urls,
        [.. Enumerable.Range(0, urls.Length).Select(i => (i % length) + 1)],
        urls.Length == 0 ? 0 : urls.Max() + 1);

    /// <summary>Number of keywords, those without a result list included.</summary>
    public int Count => _starts.Length;

    /// <summary>One more than the greatest URL index.</summary>
    public int UrlCount { get; }

    /// <returns>The URLs of a keyword, best first; empty where it was not captured.</returns>
    public ReadOnlySpan<int> Urls(int keyword) => _urls.AsSpan(_starts[keyword].._ends[keyword]);

    /// <returns>The positions that belong to <see cref="Urls"/>; 1 is the best.</returns>
    public ReadOnlySpan<int> Positions(int keyword) => _positions.AsSpan(_starts[keyword].._ends[keyword]);

    public bool IsCaptured(int keyword) => _ends[keyword] > _starts[keyword];

    /// <returns>The position of a URL in a keyword's list; 0 where it is not in it.</returns>
    public int PositionOf(int keyword, int url)
    {
        var at = Urls(keyword).IndexOf(url);
        return at < 0 ? 0 : Positions(keyword)[at];
    }

    /// <summary>The same lists as far as positions up to a depth, without the URLs that do not count.</summary>
    /// <param name="depth">The last position that counts; at least 1.</param>
    /// <param name="leaveOut">URLs to leave out of the comparison; null for none.</param>
    public ResultLists Cut(int depth, Func<int, bool>? leaveOut = null)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(depth, 1);
        var ends = new int[Count];
        var isWhole = true;
        for (var keyword = 0; keyword < ends.Length; keyword++)
        {
            // Positions ascend, so that a list is cut at its end.
            var end = _ends[keyword];
            while (end > _starts[keyword] && _positions[end - 1] > depth)
                end--;
            isWhole &= end == _ends[keyword];
            ends[keyword] = end;
        }

        if (leaveOut is null)
            return isWhole ? this : new ResultLists(_starts, ends, _urls, _positions, UrlCount);
        var starts = new int[Count];
        var (urls, positions, kept) = (new int[_urls.Length], new int[_urls.Length], 0);
        for (var keyword = 0; keyword < ends.Length; keyword++)
        {
            starts[keyword] = kept;
            for (var i = _starts[keyword]; i < ends[keyword]; i++)
            {
                if (!leaveOut(_urls[i]))
                    (urls[kept], positions[kept++]) = (_urls[i], _positions[i]);
            }

            ends[keyword] = kept;
        }

        return new ResultLists(starts, ends, urls, positions, UrlCount);
    }

    /// <summary>The same lists with a limited number of results of one host in each, the best ones.</summary>
    /// <param name="hostOf">For each URL its host, as a number.</param>
    /// <param name="most">At least 1.</param>
    public ResultLists PerHost(int[] hostOf, int most)
    {
        int[] starts = new int[Count], ends = new int[Count], urls = new int[_urls.Length], positions = new int[_urls.Length];
        var (kept, counts) = (0, new Dictionary<int, int>());
        for (var keyword = 0; keyword < Count; keyword++)
        {
            starts[keyword] = kept;
            counts.Clear();
            for (var i = _starts[keyword]; i < _ends[keyword]; i++)
            {
                if (System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(counts, hostOf[_urls[i]], out _)++ < most)
                    (urls[kept], positions[kept++]) = (_urls[i], _positions[i]);
            }

            ends[keyword] = kept;
        }

        return new ResultLists(starts, ends, urls, positions, UrlCount);
    }

    /// <summary>The lists of some keywords, in the order they are named.</summary>
    public ResultLists Select(IReadOnlyList<int> keywords) =>
        new([.. keywords.Select(k => _starts[k])], [.. keywords.Select(k => _ends[k])], _urls, _positions, UrlCount);

    /// <summary>The same lists, where some keywords have none.</summary>
    public ResultLists Without(Func<int, bool> keyword) =>
        new(_starts, [.. _ends.Select((end, k) => keyword(k) ? _starts[k] : end)], _urls, _positions, UrlCount);

    /// <summary>Gathers results in any order of rows; of several captures of a keyword the newest is its result list.</summary>
    public sealed class Builder
    {
        private const int BlockSize = 1 << 16;

        // In blocks, since one long list is copied again and again as it grows.
        private readonly List<(int Position, int Url)[]> _blocks = [];

        // Rows of a keyword and day mostly follow each other, so that these are said once: 8 bytes a row rather than 16.
        private readonly List<Run> _runs = [];
        private int _used = BlockSize;
        private int _urlCount;

        /// <param name="keyword">Index of the keyword, from 0.</param>
        /// <param name="position">From 1.</param>
        /// <param name="url">Index of the URL, from 0.</param>
        /// <param name="day">Day of the capture, any number that grows with time.</param>
        public void Add(int keyword, int position, int url, int day = 0)
        {
            if (_used == BlockSize)
            {
                _blocks.Add(new (int, int)[BlockSize]);
                _used = 0;
            }

            _blocks[^1][_used++] = (position, url);
            _urlCount = Math.Max(_urlCount, url + 1);
            if (_runs.Count == 0 || (_runs[^1].Keyword, _runs[^1].Day) != (keyword, day))
                _runs.Add(new Run(keyword, day, 0));
            System.Runtime.InteropServices.CollectionsMarshal.AsSpan(_runs)[^1].Count++;
        }

        private record struct Run(int Keyword, int Day, int Count);

        /// <summary>Makes the lists of what was gathered, and lets go of it.</summary>
        /// <param name="keywordCount">Number of keywords; those never added have no result list.</param>
        /// <param name="urlIdentities">The identity of each URL, which decides between equal positions.</param>
        public ResultLists Build(int keywordCount, IReadOnlyList<string> urlIdentities)
        {
            var newest = new int[keywordCount];
            Array.Fill(newest, int.MinValue);
            foreach (var run in _runs)
                newest[run.Keyword] = Math.Max(newest[run.Keyword], run.Day);
            var starts = new int[keywordCount + 1];
            foreach (var run in _runs)
                starts[run.Keyword + 1] += run.Day == newest[run.Keyword] ? run.Count : 0;
            for (var i = 0; i < keywordCount; i++)
                starts[i + 1] += starts[i];
            var next = starts.AsSpan(0, keywordCount).ToArray();
            var (urls, positions) = (new int[starts[^1]], new int[starts[^1]]);
            var row = 0;
            foreach (var run in _runs)
            {
                for (var end = row + run.Count; row < end; row++)
                {
                    // A block is let go of once all of it is dealt out.
                    var block = row / BlockSize;
                    if (run.Day == newest[run.Keyword])
                    {
                        var at = next[run.Keyword]++;
                        (positions[at], urls[at]) = _blocks[block][row % BlockSize];
                    }

                    if (row % BlockSize == BlockSize - 1)
                        _blocks[block] = [];
                }
            }

            _blocks.Clear();
            _runs.Clear();
            _used = BlockSize;
            var kept = 0;
            var ends = new int[keywordCount];
            for (var keyword = 0; keyword < keywordCount; keyword++)
            {
                var (from, to) = (starts[keyword], starts[keyword + 1]);
                Sort(positions.AsSpan(from..to), urls.AsSpan(from..to), urlIdentities);
                var first = starts[keyword] = kept;
                for (var i = from; i < to; i++)
                {
                    if (urls.AsSpan(first..kept).Contains(urls[i]))
                        continue;
                    (urls[kept], positions[kept++]) = (urls[i], positions[i]);
                }

                ends[keyword] = kept;
            }

            return new ResultLists(
                starts[..keywordCount], ends, kept == urls.Length ? urls : urls[..kept], kept == positions.Length ? positions : positions[..kept],
                Math.Max(_urlCount, urlIdentities.Count));
        }

        /// <summary>By position; equal ones by the identity of the URL. Usually they are in order already.</summary>
        private static void Sort(Span<int> positions, Span<int> urls, IReadOnlyList<string> urlIdentities)
        {
            var i = 1;
            while (i < positions.Length && positions[i] > positions[i - 1])
                i++;
            if (i >= positions.Length)
                return;
            var list = new (int Position, int Url)[positions.Length];
            for (i = 0; i < list.Length; i++)
                list[i] = (positions[i], urls[i]);
            Array.Sort(list, (a, b) => a.Position != b.Position ? a.Position.CompareTo(b.Position) : string.CompareOrdinal(urlIdentities[a.Url], urlIdentities[b.Url]));
            for (i = 0; i < list.Length; i++)
                (positions[i], urls[i]) = list[i];
        }
    }
}
