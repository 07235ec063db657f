using System.Collections;

namespace JadeOrchard.Core.Performance;

/// <summary>Search performance by page, query and day. Not changed once it is made.</summary>
/// <remarks>28 bytes for a row and 16 for a pair of page and query.</remarks>
public sealed class DailyPerformance
{
    private readonly int[] _pages;
    private readonly int[] _queries;
    private readonly int[] _starts;
    private readonly DayFigures[] _days;
    private readonly int[] _firstPairs;

    private DailyPerformance(int pageCount, int[] pages, int[] queries, int[] starts, DayFigures[] days, int[] firstPairs)
    {
        (PageCount, _pages, _queries, _starts, _days, _firstPairs) = (pageCount, pages, queries, starts, days, firstPairs);
        var (first, last) = (int.MaxValue, int.MinValue);
        foreach (var day in days)
            (first, last) = (Math.Min(first, day.Day), Math.Max(last, day.Day));
        if (days.Length > 0)
            (First, Last) = (DateOnly.FromDayNumber(first), DateOnly.FromDayNumber(last));
        ClicksByPage = new Clicks(this);
        _hasDay = new bool[Days];
        foreach (var day in days)
            _hasDay[day.Day - first] = true;
    }

    private readonly bool[] _hasDay;

    /// <summary>The first of all days; of no meaning without rows.</summary>
    public DateOnly First { get; }

    /// <summary>The last of all days; likewise.</summary>
    public DateOnly Last { get; }

    /// <summary>Days from the first to the last; 0 without rows.</summary>
    public int Days => _days.Length == 0 ? 0 : Last.DayNumber - First.DayNumber + 1;

    public int PageCount { get; }

    /// <summary>Pairs of a page and a query, ordered by page, then by query.</summary>
    public int PairCount => _pages.Length;

    /// <returns>The index of the page of a pair.</returns>
    public int PageOf(int pair) => _pages[pair];

    /// <returns>The index of the query of a pair.</returns>
    public int QueryOf(int pair) => _queries[pair];

    /// <returns>The first pair of a page and the one after its last.</returns>
    public Range PairsOf(int page) => _firstPairs[page].._firstPairs[page + 1];

    /// <returns>The days of a pair, ascending, each once.</returns>
    public ReadOnlySpan<DayFigures> DaysOf(int pair) => _days.AsSpan(_starts[pair].._starts[pair + 1]);

    /// <returns>What a pair got from one day to another, both included.</returns>
    public QuerySpan Sum(int pair, DateOnly from, DateOnly to) => DayFigures.Sum(DayFigures.Between(DaysOf(pair), from.DayNumber, to.DayNumber));

    /// <returns>The first day on which a page was shown; null where it never was.</returns>
    public DateOnly? FirstDayOf(int page)
    {
        var first = int.MaxValue;
        for (var pair = _firstPairs[page]; pair < _firstPairs[page + 1]; pair++)
        {
            foreach (var day in DaysOf(pair))
            {
                if (day.Impressions > 0)
                {
                    first = Math.Min(first, day.Day);
                    break;
                }
            }
        }

        return first == int.MaxValue ? null : DateOnly.FromDayNumber(first);
    }

    /// <summary>For each page its clicks by day, from the first day on; made each time it is asked for.</summary>
    public IReadOnlyList<long[]> ClicksByPage { get; }

    /// <returns>False for a day of which nothing is known of any page: it is missing, not a day without clicks.</returns>
    public bool HasDay(DateOnly day) => day >= First && day <= Last && _days.Length > 0 && _hasDay[day.DayNumber - First.DayNumber];

    /// <returns>What a page got on each day, from the first day on; days without a row are null.</returns>
    public DayFigures?[] DaysOfPage(int page)
    {
        var days = new DayFigures?[Days];
        for (var pair = _firstPairs[page]; pair < _firstPairs[page + 1]; pair++)
        {
            foreach (var day in DaysOf(pair))
            {
                var at = day.Day - First.DayNumber;
                days[at] = days[at]?.Plus(day) ?? day;
            }
        }

        return days;
    }

    private sealed class Clicks(DailyPerformance daily) : IReadOnlyList<long[]>
    {
        public int Count => daily.PageCount;

        public long[] this[int page]
        {
            get
            {
                var clicks = new long[daily.Days];
                for (var pair = daily._firstPairs[page]; pair < daily._firstPairs[page + 1]; pair++)
                {
                    foreach (var day in daily.DaysOf(pair))
                        clicks[day.Day - daily.First.DayNumber] += day.Clicks;
                }

                return clicks;
            }
        }

        public IEnumerator<long[]> GetEnumerator() => Enumerable.Range(0, Count).Select(p => this[p]).GetEnumerator();

        IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
    }

    /// <summary>Gathers rows in any order; rows of the same page, query and day are summed.</summary>
    public sealed class Builder
    {
        private readonly List<(int Page, int Query, int Start, int Length)> _runs = [];
        private readonly List<DayFigures> _rows = [];

        /// <param name="page">Index of the page.</param>
        /// <param name="query">Index of the query.</param>
        /// <param name="days">In any order.</param>
        public void Add(int page, int query, params ReadOnlySpan<DayFigures> days)
        {
            // A run goes on where the same pair comes again at once.
            if (_runs.Count > 0 && _runs[^1] is var last && last.Page == page && last.Query == query)
                _runs[^1] = last with { Length = last.Length + days.Length };
            else
                _runs.Add((page, query, _rows.Count, days.Length));
            _rows.AddRange(days);
        }

        /// <param name="pageCount">Pages that there are, with those that were never shown.</param>
        public DailyPerformance Build(int pageCount)
        {
            var keys = new ulong[_runs.Count];
            var order = new int[_runs.Count];
            for (var i = 0; i < order.Length; i++)
                (keys[i], order[i]) = (((ulong)_runs[i].Page << 32) | (uint)_runs[i].Query, i);
            Array.Sort(keys, order);
            var (pages, queries, starts, days) = (new List<int>(), new List<int>(), new List<int> { 0 }, new List<DayFigures>(_rows.Count));
            var given = System.Runtime.InteropServices.CollectionsMarshal.AsSpan(_rows);
            var some = new List<DayFigures>();
            for (var i = 0; i < order.Length;)
            {
                some.Clear();
                var key = keys[i];
                for (; i < order.Length && keys[i] == key; i++)
                    some.AddRange(given.Slice(_runs[order[i]].Start, _runs[order[i]].Length));
                // Sums must not depend on the order of rows.
                some.Sort((a, b) => (a.Day, a.Impressions, a.Clicks, a.Weighted).CompareTo((b.Day, b.Impressions, b.Clicks, b.Weighted)));
                var start = days.Count;
                foreach (var day in some)
                {
                    if (days.Count > start && days[^1] is var same && same.Day == day.Day)
                        days[^1] = same.Plus(day);
                    else
                        days.Add(day);
                }

                pages.Add((int)(key >> 32));
                queries.Add((int)(uint)key);
                starts.Add(days.Count);
            }

            var firstPairs = new int[pageCount + 1];
            foreach (var page in pages)
                firstPairs[page + 1]++;
            for (var page = 0; page < pageCount; page++)
                firstPairs[page + 1] += firstPairs[page];
            return new DailyPerformance(pageCount, [.. pages], [.. queries], [.. starts], [.. days], firstPairs);
        }
    }
}
