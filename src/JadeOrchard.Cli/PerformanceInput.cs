using JadeOrchard.Core.Performance;
using JadeOrchard.Formats.Performance;

namespace JadeOrchard.Cli;

/// <summary>Rows of search performance in memory, summed as the application sums them; 48 bytes a row.</summary>
/// <remarks>
/// A row that is there twice counts once, the later one; queries and addresses that are compared as the same are summed; the newest
/// <see cref="SearchPerformance.WindowDays"/> days count.
/// </remarks>
internal sealed class PerformanceInput
{
    private readonly Names _queries = new();
    private readonly Names _pages = new();
    private readonly List<Row> _rows = [];
    private bool _isInOrder;

    public void Add(PerformanceOnDay row)
    {
        _isInOrder = false;
        _rows.Add(new Row(
            _queries.IndexOf(row.NormalForm), _pages.IndexOf(row.Identity), row.Day.DayNumber,
            RowFingerprint.HashOf(row.Query, row.Url),
            _rows.Count, row.Clicks, row.Impressions, row.Position * row.Impressions));
    }

    /// <returns>The identities of the pages that were shown in the days that count.</returns>
    public IEnumerable<string> PagesShown() => Counting().Where(r => r.Impressions > 0).Select(r => r.Page).Distinct().Select(p => _pages[p]);

    /// <param name="keywordOf">The keyword of a normal form, or null.</param>
    /// <param name="pageOf">The page of an identity.</param>
    /// <param name="keywords">Number of keywords.</param>
    /// <param name="pages">Number of pages.</param>
    /// <returns>The performance, and what each query got by its normal form.</returns>
    public (SearchPerformance Performance, IReadOnlyList<FormFigures> Queries) Build(
        Func<string, int?> keywordOf, Func<string, int> pageOf, int keywords, int pages)
    {
        if (_rows.Count == 0)
            return (SearchPerformance.None, []);
        var (first, last) = DaysThatCount();
        var builder = new SearchPerformance.Builder();
        var queries = new List<FormFigures>();
        foreach (var ofQuery in Counting().GroupBy(r => r.Query))
        {
            var rows = ofQuery.GroupBy(r => (r.Page, r.Day))
                .Select(g => (g.Key.Page, g.Key.Day, Clicks: g.Sum(r => r.Clicks), Impressions: g.Sum(r => r.Impressions), Weighted: g.Sum(r => r.Weighted)))
                .Where(r => r.Impressions > 0).ToList();
            if (rows.Count == 0)
                continue;
            var form = _queries[ofQuery.Key];
            var keyword = keywordOf(form);
            var ofPages = rows.GroupBy(r => r.Page).Select(g => (Page: pageOf(_pages[g.Key]), Clicks: g.Sum(r => r.Clicks), Impressions: g.Sum(r => r.Impressions), Weighted: g.Sum(r => r.Weighted))).ToList();
            foreach (var page in ofPages)
                builder.Add(keyword ?? -1, new PageFigures(page.Page, page.Clicks, page.Impressions, page.Weighted / page.Impressions));
            if (keyword is { } k && ofPages.Count > 1)
                builder.AddWeeks(k, BestPages.ByWeek(rows.Select(r => (DateOnly.FromDayNumber(r.Day), pageOf(_pages[r.Page]), r.Impressions, r.Weighted / r.Impressions))));
            var all = ofPages.Sum(p => p.Impressions);
            // What nobody names is no query by itself, but counts for its page.
            if (form.Length > 0)
                queries.Add(new FormFigures(form, new QueryFigures(ofPages.Sum(p => p.Weighted) / all, ofPages.Sum(p => p.Clicks), all)));
        }

        return (builder.Build(keywords, pages, last - first + 1), queries);
    }

    private (int First, int Last) DaysThatCount()
    {
        var (first, last) = (_rows.Min(r => r.Day), _rows.Max(r => r.Day));
        return (Math.Max(first, last - SearchPerformance.WindowDays + 1), last);
    }

    /// <summary>The rows that count, in order: of those given in the same words the last one.</summary>
    private IEnumerable<Row> Counting()
    {
        if (_rows.Count == 0)
            yield break;
        var (first, _) = DaysThatCount();
        if (!_isInOrder)
            _rows.Sort((a, b) => (a.Query, a.Page, a.Day, a.AsGiven, a.Order).CompareTo((b.Query, b.Page, b.Day, b.AsGiven, b.Order)));
        _isInOrder = true;
        for (var i = 0; i < _rows.Count; i++)
        {
            var row = _rows[i];
            var isLast = i + 1 == _rows.Count || (_rows[i + 1].Query, _rows[i + 1].Page, _rows[i + 1].Day, _rows[i + 1].AsGiven) != (row.Query, row.Page, row.Day, row.AsGiven);
            if (isLast && row.Day >= first)
                yield return row;
        }
    }

    private readonly record struct Row(int Query, int Page, int Day, ulong AsGiven, int Order, long Clicks, long Impressions, double Weighted);
}
