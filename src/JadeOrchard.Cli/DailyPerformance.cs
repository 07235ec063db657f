using JadeOrchard.Formats.Performance;

namespace JadeOrchard.Cli;

/// <summary>Search performance of pages and their queries by day, in memory: 40 bytes a row.</summary>
internal sealed class DailyPerformance
{
    private readonly Dictionary<string, int> _pageOf = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int> _queryOf = new(StringComparer.Ordinal);
    private readonly List<Row> _rows = [];
    private readonly List<int> _firstDays = [];

    /// <summary>The pages as the file writes them first.</summary>
    public List<string> Urls { get; } = [];

    /// <summary>What pages are compared by.</summary>
    public List<string> Identities { get; } = [];

    /// <summary>Queries as first written in the file; an empty one stands for the anonymised queries.</summary>
    public List<string> Queries { get; } = [];

    /// <summary>Their normal forms.</summary>
    public List<string> Forms { get; } = [];

    public DateOnly First { get; private set; } = DateOnly.MaxValue;

    public DateOnly Last { get; private set; } = DateOnly.MinValue;

    /// <summary>Days from the first to the last.</summary>
    public int Days => _rows.Count == 0 ? 0 : Last.DayNumber - First.DayNumber + 1;

    public void Add(PerformanceOnDay row)
    {
        if (!_pageOf.TryGetValue(row.Identity, out var page))
        {
            _pageOf[row.Identity] = page = Urls.Count;
            Urls.Add(row.Url);
            Identities.Add(row.Identity);
            _firstDays.Add(row.Day.DayNumber);
        }

        if (!_queryOf.TryGetValue(row.NormalForm, out var query))
        {
            _queryOf[row.NormalForm] = query = Queries.Count;
            Queries.Add(row.Query);
            Forms.Add(row.NormalForm);
        }

        _firstDays[page] = Math.Min(_firstDays[page], row.Day.DayNumber);
        (First, Last) = (row.Day < First ? row.Day : First, row.Day > Last ? row.Day : Last);
        _rows.Add(new Row(page, query, row.Day.DayNumber, row.Clicks, row.Impressions, row.Position));
    }

    /// <returns>The number of the first day on which a page has a row.</returns>
    public int FirstDayOf(int page) => _firstDays[page];

    /// <returns>The index of a page; null where the file has none.</returns>
    public int? PageOf(string identity) => _pageOf.TryGetValue(identity, out var page) ? page : null;

    /// <returns>For each page its clicks by day, from the first day on.</returns>
    public long[][] Clicks()
    {
        long[][] clicks = [.. Urls.Select(_ => new long[Days])];
        foreach (var row in _rows)
            clicks[row.Page][row.Day - First.DayNumber] += row.Clicks;
        return clicks;
    }

    /// <returns>What each query got on each page from one day to another, both included.</returns>
    public Dictionary<(int Page, int Query), Core.Refresh.QuerySpan> Sums(DateOnly from, DateOnly to)
    {
        var sums = new Dictionary<(int, int), (long Clicks, long Impressions, double Positions)>();
        foreach (var row in _rows)
        {
            if (row.Day < from.DayNumber || row.Day > to.DayNumber)
                continue;
            var sum = sums.GetValueOrDefault((row.Page, row.Query));
            sums[(row.Page, row.Query)] = (sum.Clicks + row.Clicks, sum.Impressions + row.Impressions, sum.Positions + (row.Position * row.Impressions));
        }

        return sums.ToDictionary(s => s.Key, s => new Core.Refresh.QuerySpan(s.Value.Clicks, s.Value.Impressions, s.Value.Impressions == 0 ? 0 : s.Value.Positions / s.Value.Impressions));
    }

    private readonly record struct Row(int Page, int Query, int Day, long Clicks, long Impressions, double Position);
}
