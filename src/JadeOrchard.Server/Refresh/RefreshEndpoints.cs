using System.Globalization;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Plan;
using JadeOrchard.Storage;

namespace JadeOrchard.Server.Refresh;

/// <summary>Part of the queries, with what all that the filter lets through got.</summary>
/// <param name="Tally">At stake is in clicks a month.</param>
/// <param name="Period">The days that are shown; null where there is no search performance.</param>
public sealed record QueryListPage(IReadOnlyList<QueryView> Rows, ListTally Tally, long Clicks, long Impressions, PeriodView? Period);

/// <summary>Part of the pages.</summary>
public sealed record PageQueriesPage(IReadOnlyList<PageQueriesView> Rows, ListTally Tally, long Clicks, long Impressions, PeriodView? Period);

/// <summary>The days that are shown.</summary>
/// <param name="BeforeFrom">The first of the days that are compared with; null where nothing is known of them.</param>
/// <param name="First">The first of all days.</param>
/// <param name="Last">The last of all days; this and the one before are preliminary.</param>
/// <param name="MissingDays">Days of the period of which nothing is known.</param>
public sealed record PeriodView(DateOnly From, DateOnly To, DateOnly? BeforeFrom, DateOnly? BeforeTo, DateOnly First, DateOnly Last, int MissingDays);

/// <summary>Queries and pages of the site's search performance.</summary>
public static class RefreshEndpoints
{
    private static readonly OutputColumn[] QueryColumns =
    [
        new("Page"), new("Query"), new("Clicks"), new("Impressions"), new("Click rate"), new("Expected click rate"), new("Position"), new("Clicks before"), new("Impressions before"), new("Position before"),
        new("Mentions"), new("Mentioned in"), new("Cluster"), new("Page of the cluster"), new("Volume (estimated)"), new("Marks"), new("Clicks a month at stake"),
    ];

    private static readonly OutputColumn[] PageColumns =
    [
        new("Page"), new("Title"), new("Clicks"), new("Impressions"), new("Click rate"), new("Position"), new("Clicks before"), new("Impressions before"), new("Queries"), new("Not mentioned"), new("Just below page one"),
        new("Under-clicked"), new("Questions"), new("Another page's"), new("Clicks a month at stake"), new("Fading since"), new("Clicks a month lost"), new("Anonymised clicks"), new("Published"), new("Modified"), new("State"),
    ];

    public static void MapRefresh(this RouteGroupBuilder api)
    {
        api.MapGet("/refresh/queries", Results<Ok<QueryListPage>, ProblemHttpResult> ([AsParameters] Listing listing, [AsParameters] QueryFilter filter, [AsParameters] PeriodChoice period, Project project, QueryImages images) =>
            {
                if (filter.Fault() is { } fault)
                    return Problems.Invalid(fault.Field, fault.Says);
                return TypedResults.Ok(project.Read((session, snapshot) =>
                {
                    if (images.Board(session, snapshot, period) is not { } board)
                        return new QueryListPage([], new ListTally(0, 0, 0, null, 0, 0), 0, 0, null);
                    var query = listing.ToQuery();
                    var today = StepEndpoints.Today(project);
                    var queries = images.Queries.Of(
                        session.Writes, $"{filter} {period} {query.Search} {query.Sort} {query.Descending} {today}", () => SortedQueries.Of(Sorted(board, filter.Of(board, query.Search, today), query)));
                    return new QueryListPage(
                        [.. queries.Rows.Skip(query.Offset).Take(query.Limit).Select(r => QueryView.Of(board, r))], new ListTally(queries.Rows.Length, 0, 0, null, board.Monthly(queries.AtStake), 0, query.PlaceOf(queries.Rows, r => QueryView.IdOf(board, r))), queries.Clicks, queries.Impressions,
                        View(board));
                }));
            })
            .WithName("refreshQueries");

        api.MapGet("/refresh/pages", Results<Ok<PageQueriesPage>, ProblemHttpResult> ([AsParameters] Listing listing, [AsParameters] QueryFilter filter, [AsParameters] PeriodChoice period, Project project, QueryImages images) =>
            {
                if (filter.Fault() is { } fault)
                    return Problems.Invalid(fault.Field, fault.Says);
                return TypedResults.Ok(project.Read((session, snapshot) =>
                {
                    if (images.Board(session, snapshot, period) is not { } board)
                        return new PageQueriesPage([], new ListTally(0, 0, 0, null, 0, 0), 0, 0, null);
                    var query = listing.ToQuery();
                    var today = StepEndpoints.Today(project);
                    var rows = images.Pages.Of(session.Writes, $"{filter} {period} {query.Search} {query.Sort} {query.Descending} {today}", () => Pages(board, filter, query, today));
                    return new PageQueriesPage(
                        [.. rows.Skip(query.Offset).Take(query.Limit)], new ListTally(rows.Count, 0, 0, null, rows.Sum(r => r.AtStake), 0, query.PlaceOf(rows, r => $"{r.Id}")), rows.Sum(r => r.Now.Clicks), rows.Sum(r => r.Now.Impressions), View(board));
                }));
            })
            .WithName("refreshPages");

        api.MapGet("/refresh/queries.{form}", (string form, [AsParameters] Listing listing, [AsParameters] QueryFilter filter, [AsParameters] PeriodChoice period, Project project, QueryImages images) =>
                Export(form, filter, "queries", QueryColumns, () => project.Read((session, snapshot) => images.Board(session, snapshot, period) is { } board
                    ? Sorted(board, filter.Of(board, listing.Search, StepEndpoints.Today(project)), listing.ToQuery()).Select(r => QueryView.Of(board, r)).Select(r => new object?[]
                    {
                        r.Url, r.Query, r.Now.Clicks, r.Now.Impressions, Rounded(r.Now.ClickRate, 4), Rounded(r.ExpectedRate, 4), Rounded(r.Now.Position, 1), r.Before?.Clicks, r.Before?.Impressions, Rounded(r.Before?.Position, 1),
                        r.Mentions, string.Join(", ", r.Places), r.ClusterName, r.HomeUrl, r.Volume, string.Join(" | ", r.Marks), Rounded(r.AtStake, 1),
                    }).ToList() : [])))
            .ExcludeFromDescription();

        api.MapGet("/refresh/pages.{form}", (string form, [AsParameters] Listing listing, [AsParameters] QueryFilter filter, [AsParameters] PeriodChoice period, Project project, QueryImages images) =>
                Export(form, filter, "pages", PageColumns, () => project.Read((session, snapshot) => images.Board(session, snapshot, period) is { } board
                    ? Pages(board, filter, listing.ToQuery(), StepEndpoints.Today(project)).Select(r => new object?[]
                    {
                        r.Url, r.Title, r.Now.Clicks, r.Now.Impressions, Rounded(r.Now.ClickRate, 4), Rounded(r.Now.Position, 1), r.Before?.Clicks, r.Before?.Impressions, r.Queries, r.NotMentioned, r.BelowPageOne,
                        r.UnderClicked, r.Questions, r.OtherPage, Rounded(r.AtStake, 1), Day(r.Fading?.Since), Rounded(r.Fading?.Lost, 1), r.AnonymousClicks, Day(r.PublishedOn), Day(r.ModifiedOn), r.StateSays,
                    }).ToList() : [])))
            .ExcludeFromDescription();

        api.MapRefreshPage();
        api.MapRefreshWork();
    }

    internal static PeriodView View(QueryBoard board)
    {
        var (period, daily) = (board.Period, board.Image.Daily);
        return new PeriodView(period.From, period.To, period.BeforeFrom, period.BeforeTo, daily.First, daily.Last, period.Days - QueryTable.KnownDays(daily, period.From, period.Days));
    }

    private static IResult Export(string form, QueryFilter filter, string name, OutputColumn[] columns, Func<IEnumerable<object?[]>> rows) => form switch
    {
        _ when filter.Fault() is { } fault => Problems.Invalid(fault.Field, fault.Says),
        "csv" => Listing.Csv($"{name}.csv", [.. columns.Select(c => c.Name)], rows()),
        "xlsx" => Listing.Xlsx($"{name}.xlsx", name, columns, rows()),
        _ => Problems.NotFound($"There is no file “{name}.{form}”; there are csv and xlsx."),
    };

    private static double? Rounded(double? number, int digits) => number is { } some ? Math.Round(some, digits) : null;

    private static string? Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    /// <summary>Those with most at stake first, then with most impressions; else by a column.</summary>
    private static MarkedQuery[] Sorted(QueryBoard board, List<MarkedQuery> rows, ListQuery query)
    {
        var daily = board.Image.Daily;
        var sign = query.Descending ? -1 : 1;
        Comparison<MarkedQuery>? byText = query.Sort switch
        {
            "query" => (a, b) => sign * string.CompareOrdinal(board.Image.Forms[daily.QueryOf(a.Pair)], board.Image.Forms[daily.QueryOf(b.Pair)]),
            "page" => (a, b) => sign * string.CompareOrdinal(board.Snapshot.Pages[daily.PageOf(a.Pair)].Url, board.Snapshot.Pages[daily.PageOf(b.Pair)].Url),
            _ => null,
        };
        Func<MarkedQuery, double> by = query.Sort switch
        {
            "clicks" => r => r.Now.Clicks,
            "impressions" => r => r.Now.Impressions,
            "clickRate" => r => (double)r.Now.Clicks / r.Now.Impressions,
            "position" => r => r.Now.Position,
            "change" => r => r.Now.Clicks - (r.Before?.Clicks ?? 0),
            "mentions" => r => r.Mentions ?? -1,
            _ => r => r.AtStake,
        };
        if (query.Sort is null)
            sign = -1;
        MarkedQuery[] sorted = [.. rows];
        if (byText is not null)
        {
            Array.Sort(sorted, (a, b) => byText(a, b) is not 0 and var order ? order : a.Pair.CompareTo(b.Pair));
            return sorted;
        }

        // By numbers first, then the few that are equal: a third of the time of comparing rows.
        double[] keys = [.. rows.Select(r => sign * by(r))];
        Array.Sort(keys, sorted);
        for (int start = 0, end; start < sorted.Length; start = end)
        {
            for (end = start + 1; end < sorted.Length && keys[end].Equals(keys[start]);)
                end++;
            if (end - start > 1)
                sorted.AsSpan(start, end - start).Sort((a, b) => (b.AtStake, b.Now.Impressions, a.Pair).CompareTo((a.AtStake, a.Now.Impressions, b.Pair)));
        }

        return sorted;
    }

    private static List<PageQueriesView> Pages(QueryBoard board, QueryFilter filter, ListQuery query, DateOnly today)
    {
        var daily = board.Image.Daily;
        var asksOfQueries = filter is not { Marks: null, WithoutMarks: null, In: null, Out: null, ClusterId: null, LeastAtStake: null, LeastClicks: null, MostClicks: null, LeastImpressions: null, LeastPosition: null, MostPosition: null, Irrelevant: null };
        // Rows are ordered by page.
        var rows = new Dictionary<int, List<MarkedQuery>>();
        foreach (var row in filter.Of(board, null, today))
        {
            if (!rows.TryGetValue(daily.PageOf(row.Pair), out var some))
                rows[daily.PageOf(row.Pair)] = some = [];
            some.Add(row);
        }

        var wanted = filter.PagesOf(board, today);
        var views = new PageQueriesView?[board.Snapshot.Pages.Count];
        Parallel.For(0, views.Length, page =>
        {
            var known = board.Snapshot.Pages[page];
            if ((asksOfQueries && !rows.ContainsKey(page)) || wanted?[page] == false || (daily.PairsOf(page) is var pairs && pairs.Start.Value == pairs.End.Value && !known.IsListed)
                || (query.Search?.Trim() is { Length: > 0 } search && !known.Url.Contains(search, StringComparison.OrdinalIgnoreCase) && known.Title?.Contains(search, StringComparison.OrdinalIgnoreCase) != true))
                return;
            views[page] = PageQueriesView.Of(board, page, rows.GetValueOrDefault(page, []), today);
        });
        var pages = views.OfType<PageQueriesView>();

        Func<PageQueriesView, IComparable?> by = query.Sort switch
        {
            "url" => p => p.Url,
            "clicks" => p => p.Now.Clicks,
            "impressions" => p => p.Now.Impressions,
            "clickRate" => p => p.Now.ClickRate,
            "position" => p => p.Now.Position,
            "change" => p => p.Now.Clicks - (p.Before?.Clicks ?? 0),
            "queries" => p => p.Queries,
            "notMentioned" => p => p.NotMentioned,
            "belowPageOne" => p => p.BelowPageOne,
            "underClicked" => p => p.UnderClicked,
            "lost" => p => p.Fading?.Lost ?? 0,
            "age" => p => p.ModifiedOn ?? p.PublishedOn,
            _ => p => p.AtStake,
        };
        var down = query.Sort is null || query.Descending;
        return [.. (down ? pages.OrderByDescending(by) : pages.OrderBy(by)).ThenByDescending(p => p.Now.Impressions).ThenBy(p => p.Url, StringComparer.Ordinal)];
    }
}
