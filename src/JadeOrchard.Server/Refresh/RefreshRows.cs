using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Refresh;

/// <summary>What was got in a span of days.</summary>
/// <param name="Position">Average, weighted by impressions; null without impressions.</param>
/// <param name="ClickRate">Clicks for each impression; null likewise.</param>
public sealed record SpanView(long Clicks, long Impressions, double? Position, double? ClickRate)
{
    internal static SpanView Of(QuerySpan span) => span.Impressions == 0 ? new SpanView(span.Clicks, 0, null, null) : new SpanView(span.Clicks, span.Impressions, span.Position, (double)span.Clicks / span.Impressions);
}

/// <summary>A query on a page.</summary>
/// <param name="Id">Tells rows apart.</param>
/// <param name="KeywordId">Null where the query is no keyword of the project.</param>
/// <param name="Volume">Searches a month of the keyword, estimated.</param>
/// <param name="HomeUrl">The page that is assigned to its cluster; null where there is none.</param>
/// <param name="IsHome">That is this page.</param>
/// <param name="Before">In the period that is compared with; null where nothing is known of it.</param>
/// <param name="ExpectedRate">Clicks for each impression that its position earns.</param>
/// <param name="Mentions">How often the page mentions it; null where its text was not read.</param>
/// <param name="Places">Where: title, h1, headings, text.</param>
/// <param name="Marks">By name.</param>
/// <param name="AtStake">Clicks a month that could be won.</param>
public sealed record QueryView(
    string Id, PageId PageId, string Url, int QueryId, string Query, KeywordId? KeywordId, long? Volume, ClusterId? ClusterId, string? ClusterName, string? HomeUrl, bool IsHome, SpanView Now, SpanView? Before,
    double ExpectedRate, int? Mentions, IReadOnlyList<string> Places, IReadOnlyList<string> Marks, double AtStake)
{
    internal static string IdOf(QueryBoard board, MarkedQuery row) => $"{board.Snapshot.PageIds[board.Image.Daily.PageOf(row.Pair)]}-{board.Image.Daily.QueryOf(row.Pair)}";

    internal static QueryView Of(QueryBoard board, MarkedQuery row)
    {
        var (page, query) = (board.Image.Daily.PageOf(row.Pair), board.Image.Daily.QueryOf(row.Pair));
        var home = board.HomeOf(query);
        var assigned = home?.PageId is { } homeId ? board.Snapshot.IndexOfPage.GetValueOrDefault(homeId, -1) : -1;
        var places = board.Image.Mentions[row.Pair]?.Places ?? MentionPlace.None;
        return new QueryView(
            IdOf(board, row), board.Snapshot.PageIds[page], board.Snapshot.Pages[page].Url, query, board.Image.Phrases[query], home?.KeywordId, home?.Volume, home?.ClusterId,
            home?.ClusterId is { } cluster ? board.ClusterNames.GetValueOrDefault(cluster) : null, assigned >= 0 ? board.Snapshot.Pages[assigned].Url : null, assigned == page, SpanView.Of(row.Now),
            row.Before is { } before ? SpanView.Of(before) : null, board.Curve.At(row.Now.Position), row.Mentions, PlacesOf(places), [.. QueryMarks.NamesOf(row.Marks)], board.Monthly(row.AtStake));
    }

    internal static List<string> PlacesOf(MentionPlace places) =>
        [.. new[] { (MentionPlace.Title, "title"), (MentionPlace.H1, "H1"), (MentionPlace.Headings, "headings"), (MentionPlace.Text, "text") }.Where(p => places.HasFlag(p.Item1)).Select(p => p.Item2)];
}

/// <summary>A page that fades.</summary>
/// <param name="Since">The first day of the week from which on it gets less.</param>
/// <param name="Before">Clicks in the 28 days that are compared with.</param>
/// <param name="Now">Clicks in the last 28 days.</param>
/// <param name="Lost">Clicks a month that it lost beyond the site's course.</param>
/// <param name="P">Of so few clicks by chance, adjusted for all pages.</param>
public sealed record FadingView(DateOnly Since, long Before, long Now, double SiteCourse, double Lost, double P)
{
    internal static FadingView Of(StoredFading page) => new(page.Since, page.Before, page.Now, page.Course, page.Lost, page.P);
}

/// <summary>A page with its queries.</summary>
/// <param name="Queries">For how many it was shown in the period.</param>
/// <param name="AtStake">Clicks a month that could be won over all its queries.</param>
/// <param name="Fading">Null where it does not fade.</param>
/// <param name="StateSays">Empty where the numbers speak for themselves.</param>
/// <param name="AnonymousClicks">Clicks of queries that the source keeps to itself.</param>
/// <param name="PastYear">A past year that its title mentions.</param>
public sealed record PageQueriesView(
    PageId Id, string Url, string? Title, SpanView Now, SpanView? Before, int Queries, int NotMentioned, int BelowPageOne, int UnderClicked, int Questions, int OtherPage, double AtStake, FadingView? Fading, PageState State,
    string StateSays, long AnonymousClicks, DateOnly? PublishedOn, DateOnly? ModifiedOn, int? PastYear)
{
    internal static PageQueriesView Of(QueryBoard board, int page, IReadOnlyList<MarkedQuery> rows, DateOnly today)
    {
        var daily = board.Image.Daily;
        var numbers = PageNumbers.Of(daily, page, board.Period, query => board.Image.Forms[query].Length == 0);
        var state = QueryTable.IsTooNew(daily, page, board.Period.To) ? PageState.TooNew
            : numbers.Now.Impressions > 0 ? PageState.Shown
            : daily.FirstDayOf(page) is null ? PageState.Never : PageState.NotInPeriod;
        int With(QueryMark mark) => rows.Count(r => r.Marks.HasFlag(mark));
        var (id, known) = (board.Snapshot.PageIds[page], board.Snapshot.Pages[page]);
        var age = board.Ages.GetValueOrDefault(id);
        return new PageQueriesView(
            id, known.Url, known.Title, SpanView.Of(numbers.Now), numbers.Before is { } before ? SpanView.Of(before) : null, rows.Count, With(QueryMark.NotMentioned), With(QueryMark.BelowPageOne),
            With(QueryMark.UnderClicked), With(QueryMark.Question), With(QueryMark.OtherPage), board.Monthly(rows.Sum(r => r.AtStake)), board.Fading.TryGetValue(id, out var fading) ? FadingView.Of(fading) : null,
            state, PageStates.Says(state), numbers.AnonymousClicks, age?.PublishedOn, age?.ModifiedOn, PageStates.PastYear(known.Title, today));
    }
}
