using System.Collections.Immutable;

namespace JadeOrchard.Core.Performance;

/// <summary>What a page got for a query within the days that count.</summary>
/// <param name="Page">Index of the page.</param>
/// <param name="Position">Average, weighted by impressions.</param>
public readonly record struct PageFigures(int Page, long Clicks, long Impressions, double Position);

/// <summary>How often a page was clicked and shown. More clicks are more; where they are equal, more impressions.</summary>
public readonly record struct Visits(long Clicks, long Impressions) : IComparable<Visits>
{
    public static bool operator <(Visits left, Visits right) => left.CompareTo(right) < 0;

    public static bool operator <=(Visits left, Visits right) => left.CompareTo(right) <= 0;

    public static bool operator >(Visits left, Visits right) => left.CompareTo(right) > 0;

    public static bool operator >=(Visits left, Visits right) => left.CompareTo(right) >= 0;

    /// <inheritdoc/>
    public int CompareTo(Visits other) => (Clicks, Impressions).CompareTo((other.Clicks, other.Impressions));
}

/// <summary>The page of the site that stood best for a query, at a capture or in a week of search performance.</summary>
public readonly record struct BestPage(DateOnly Day, int Page);

/// <summary>The site's own search performance by keyword and page: real counts, where volumes are estimates.</summary>
/// <remarks>Summed over <see cref="Days"/>, the newest there are; 24 bytes for a keyword and page.</remarks>
public sealed class SearchPerformance
{
    /// <summary>The newest days that count (common practice: three months).</summary>
    public const int WindowDays = 90;

    private const double DaysOfMonth = 365.25 / 12;

    private readonly int[] _starts;
    private readonly PageFigures[] _figures;
    private readonly IReadOnlyDictionary<int, ImmutableArray<BestPage>> _weeks;
    private readonly long[] _pageClicks;
    private readonly long[] _pageImpressions;

    private SearchPerformance(
        int[] starts, PageFigures[] figures, IReadOnlyDictionary<int, ImmutableArray<BestPage>> weeks, long[] pageClicks, long[] pageImpressions, int days)
    {
        (_starts, _figures, _weeks, _pageClicks, _pageImpressions, Days) = (starts, figures, weeks, pageClicks, pageImpressions, days);
    }

    /// <summary>No search performance was brought.</summary>
    public static SearchPerformance None { get; } = new([], [], ImmutableDictionary<int, ImmutableArray<BestPage>>.Empty, [], [], 0);

    /// <summary>How many days the figures are of; 0 where there are none.</summary>
    public int Days { get; }

    public bool IsKnown => Days > 0;

    /// <returns>The pages that were shown for a keyword, most impressions first.</returns>
    public ReadOnlySpan<PageFigures> Of(int keyword) => keyword + 1 < _starts.Length ? _figures.AsSpan(_starts[keyword].._starts[keyword + 1]) : [];

    /// <returns>The best page of each week in which one can be told, oldest first; empty where only one page was ever shown.</returns>
    public ImmutableArray<BestPage> Weeks(int keyword) => _weeks.TryGetValue(keyword, out var weeks) ? weeks : [];

    /// <returns>Clicks of a page for all queries, those that are no keywords included.</returns>
    public long ClicksOf(int page) => page < _pageClicks.Length ? _pageClicks[page] : 0;

    /// <returns>Impressions of a page for all queries, those that are no keywords included.</returns>
    public long ImpressionsOf(int page) => page < _pageImpressions.Length ? _pageImpressions[page] : 0;

    /// <summary>A sum over <see cref="Days"/> as it would be in a month.</summary>
    public double Monthly(double sum) => Days == 0 ? 0 : sum * DaysOfMonth / Days;

    /// <summary>Gathers rows in any order.</summary>
    public sealed class Builder
    {
        private readonly List<(int Keyword, PageFigures Figures)> _rows = [];
        private readonly Dictionary<int, ImmutableArray<BestPage>> _weeks = [];
        private readonly Dictionary<int, Visits> _pages = [];

        /// <param name="keyword">Index of the keyword; negative for a query that is none.</param>
        /// <param name="figures">Once for each keyword and page.</param>
        public void Add(int keyword, PageFigures figures)
        {
            var (clicks, impressions) = _pages.GetValueOrDefault(figures.Page);
            _pages[figures.Page] = new Visits(clicks + figures.Clicks, impressions + figures.Impressions);
            if (keyword >= 0)
                _rows.Add((keyword, figures));
        }

        /// <param name="keyword">Index of the keyword.</param>
        /// <param name="weeks">Oldest first.</param>
        public void AddWeeks(int keyword, ImmutableArray<BestPage> weeks) => _weeks[keyword] = weeks;

        /// <param name="keywords">Number of keywords.</param>
        /// <param name="pages">Number of pages.</param>
        /// <param name="days">How many days the rows are of.</param>
        public SearchPerformance Build(int keywords, int pages, int days)
        {
            var starts = new int[keywords + 1];
            foreach (var (keyword, _) in _rows)
                starts[keyword + 1]++;
            for (var k = 0; k < keywords; k++)
                starts[k + 1] += starts[k];
            var figures = _rows
                .OrderBy(r => r.Keyword).ThenByDescending(r => r.Figures.Impressions).ThenByDescending(r => r.Figures.Clicks).ThenBy(r => r.Figures.Page)
                .Select(r => r.Figures);
            var (clicks, impressions) = (new long[pages], new long[pages]);
            foreach (var (page, sums) in _pages)
                (clicks[page], impressions[page]) = sums;
            return new SearchPerformance(starts, [.. figures], _weeks, clicks, impressions, days);
        }
    }
}
