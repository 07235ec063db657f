using System.Text;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Server.Plan;
using JadeOrchard.Server.Services;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Refresh;

/// <summary>Whether there is search performance, and if not, what to do.</summary>
public enum PerformanceStateKind
{
    /// <summary>No service is set up, and nothing was imported.</summary>
    NotConnected,

    /// <summary>A service is set up, and nothing was read yet.</summary>
    NoData,

    /// <summary>The service refuses the key.</summary>
    Denied,

    /// <summary>The service failed.</summary>
    Failed,

    /// <summary>Days are missing in between.</summary>
    Partial,

    Ready,
}

/// <summary>Whether there is search performance.</summary>
/// <param name="HasRows">There is some, whatever went wrong the last time.</param>
/// <param name="Says">What is the matter and what to do; empty where nothing is.</param>
/// <param name="RetryAt">When it is tried again by itself; null where it is not.</param>
/// <param name="MissingDays">Days between the first and the last of which nothing is known.</param>
public sealed record PerformanceStateView(PerformanceStateKind Kind, bool HasRows, string Says, string? RetryAt, int MissingDays, DateOnly? First, DateOnly? Last, int Fading);

/// <summary>A day of a page.</summary>
/// <param name="Clicks">Null where nothing is known of the day: a gap, not a day without clicks.</param>
/// <param name="Position">Average; null where the page was not shown.</param>
/// <param name="IsPreliminary">The source may still correct it.</param>
public sealed record PageDay(DateOnly Day, long? Clicks, long? Impressions, double? Position, bool IsPreliminary);

/// <summary>For how many queries a page stands between two positions.</summary>
public sealed record PositionCount(string Says, int Queries, long Impressions);

/// <summary>A query through which a page lost clicks.</summary>
/// <param name="Query">Empty for those that the source keeps to itself.</param>
public sealed record QueryLoss(string Query, SpanView Before, SpanView Now, double ByPosition, double BySearches, double ByClickRate);

/// <summary>Through what a page lost clicks; the parts add up to the change.</summary>
/// <param name="Queries">The greatest loss first.</param>
/// <param name="TookPlace">Pages that came before it in captured lists of these queries since it fades; none where nothing was captured before and after.</param>
public sealed record FadingDetail(FadingView Fading, bool YearBefore, double ByPosition, double BySearches, double ByClickRate, IReadOnlyList<QueryLoss> Queries, IReadOnlyList<TakenPlace> TookPlace);

/// <summary>A page that ranks where ours did.</summary>
/// <param name="Position">Where it stands now.</param>
/// <param name="Before">Where it stood when ours began to fade; 0 for nowhere among the captured.</param>
/// <param name="Ours">Where ours stands now; 0 for nowhere.</param>
public sealed record TakenPlace(string Query, string Url, string? Title, int Position, int Before, int Ours, int OursBefore);

/// <summary>Where a page has a keyword of its clusters.</summary>
/// <param name="Volume">Searches a month, estimated.</param>
/// <param name="Mentions">How often; 0 for nowhere.</param>
/// <param name="Places">Where: title, H1, headings, text.</param>
public sealed record KeywordPlacement(KeywordId Id, string Phrase, long? Volume, int Mentions, IReadOnlyList<string> Places);

/// <summary>A keyword that rivals' pages rank for and ours does not.</summary>
/// <param name="Url">The best of them.</param>
/// <param name="IsKnown">It is a keyword of the project.</param>
public sealed record RivalKeyword(string Phrase, long? Volume, string Url, int Position, bool IsKnown);

/// <summary>What rivals' pages rank for.</summary>
/// <param name="Pages">The pages that were asked about.</param>
public sealed record RivalKeywords(IReadOnlyList<string> Pages, IReadOnlyList<RivalKeyword> Keywords);

/// <summary>One page with all that its search performance tells.</summary>
/// <param name="Days">From the first to the last of all days.</param>
/// <param name="Positions">Its queries by average position in the period.</param>
/// <param name="Queries">Most at stake first.</param>
/// <param name="Placement">Where it has the keywords of its clusters, most searched first; null where its text was not read.</param>
/// <param name="Rivals">Pages of others that rank for its clusters, of which the rankings service can be asked.</param>
public sealed record PageRefresh(
    PageQueriesView Page, PeriodView Period, IReadOnlyList<PageDay> Days, IReadOnlyList<PositionCount> Positions, IReadOnlyList<QueryView> Queries, FadingDetail? Fading, IReadOnlyList<KeywordPlacement>? Placement,
    IReadOnlyList<string> Rivals);

/// <summary>A page that ranks for a query.</summary>
/// <param name="Title">As it was captured; null where it was not.</param>
public sealed record RankingTitle(int Position, string Url, string? Title);

/// <summary>One query on one page.</summary>
/// <param name="Closest">The sentence of the page that comes closest; null where none does, or the page mentions it.</param>
/// <param name="Elsewhere">The same query on other pages of the site.</param>
/// <param name="Rivals">Titles of the newest captured results; none where it is no keyword or was not captured.</param>
/// <param name="OwnTitle">Of this page.</param>
public sealed record QueryDetail(QueryView Query, string? Closest, IReadOnlyList<QueryView> Elsewhere, IReadOnlyList<RankingTitle> Rivals, string? OwnTitle);

/// <summary>One page, and the state of search performance.</summary>
public static class RefreshPage
{
    private const int QueriesShown = 100;
    private const int LossesShown = 12;
    private const int RivalsShown = 10;
    private const int RivalsAsked = 3, RankingsOfPage = 200, RivalKeywordsShown = 100, PlacementsShown = 20, ClustersLooked = 20;

    /// <summary>Days that the source may still correct (common practice).</summary>
    internal const int PreliminaryDays = 2;

    private static readonly (double From, double To, string Says)[] Buckets = [(1, 3.5, "1–3"), (3.5, 10.5, "4–10"), (10.5, 20.5, "11–20"), (20.5, 50.5, "21–50"), (50.5, double.MaxValue, "beyond 50")];

    public static void MapRefreshPage(this RouteGroupBuilder api)
    {
        api.MapGet("/refresh/state", (Project project, QueryImages images) => project.Read((session, snapshot) => StateOf(session, snapshot, images))).WithName("refreshState");

        api.MapGet("/refresh/pages/{id:long}", Results<Ok<PageRefresh>, ProblemHttpResult> (PageId id, [AsParameters] PeriodChoice period, Project project, QueryImages images) =>
                project.Read<Results<Ok<PageRefresh>, ProblemHttpResult>>((session, snapshot) =>
                {
                    if (!snapshot.IndexOfPage.TryGetValue(id, out var page))
                        return Problems.NotFound($"There is no page {id}.");
                    return images.Board(session, snapshot, period) is { } board ? TypedResults.Ok(Detail(session, board, page, StepEndpoints.Today(project))) : Problems.Conflict(StateOf(session, snapshot, images).Says);
                }))
            .WithName("refreshPage");

        api.MapPost("/refresh/pages/{id:long}/rival-keywords", async Task<Results<Ok<RivalKeywords>, ProblemHttpResult>> (PageId id, Project project, OutsideServices services, QueryImages images, CancellationToken stop) =>
            {
                var (page, rivals, market) = project.Read((session, snapshot) => snapshot.IndexOfPage.TryGetValue(id, out var index) ? (index, RivalsOf(session, snapshot, index).ToList(), ProjectStore.Get(session)) : (-1, [], ProjectStore.Get(session)));
                if (page < 0)
                    return Problems.NotFound($"There is no page {id}.");
                if (rivals.Count == 0)
                    return Problems.Conflict("No page of a rival is known to rank for its clusters. Assign it a cluster, or capture the results of one.");
                var rankings = new List<Ranking>();
                try
                {
                    foreach (var rival in rivals)
                    {
                        rankings.AddRange((await services.Ask<RankingsAnswer>(
                            ServiceName.Rankings, $"rankings?page={Uri.EscapeDataString(rival)}&offset=0&limit={RankingsOfPage}&country={market.Country}&language={market.Language}", stop)).Rankings);
                    }
                }
                catch (ServiceException e)
                {
                    return Problems.Conflict(e.Message);
                }

                return project.Read((session, snapshot) => TypedResults.Ok(new RivalKeywords(rivals, Missing(session, snapshot, images, id, rankings, StepEndpoints.Today(project)))));
            })
            .WithName("rivalKeywords");

        api.MapGet("/refresh/pages/{id:long}/queries/{queryId:int}", Results<Ok<QueryDetail>, ProblemHttpResult> (PageId id, int queryId, [AsParameters] PeriodChoice period, Project project, QueryImages images) =>
                project.Read<Results<Ok<QueryDetail>, ProblemHttpResult>>((session, snapshot) =>
                {
                    if (images.Board(session, snapshot, period) is not { } board)
                        return Problems.Conflict(StateOf(session, snapshot, images).Says);
                    var rows = board.Rows.Where(r => board.Image.Daily.QueryOf(r.Pair) == queryId).Select(r => QueryView.Of(board, r)).OrderByDescending(r => r.Now.Impressions).ThenBy(r => r.PageId).ToList();
                    return rows.Find(r => r.PageId == id) is { } own
                        ? TypedResults.Ok(Detail(session, board, own, [.. rows.Where(r => r.PageId != id)]))
                        : Problems.NotFound("This page was not shown for this query in the period. Choose more days.");
                }))
            .WithName("refreshQuery");

        api.MapGet("/refresh/pages/{id:long}/questions.txt", IResult (PageId id, [AsParameters] PeriodChoice period, Project project, QueryImages images) => project.Read<IResult>((session, snapshot) =>
            {
                if (!snapshot.IndexOfPage.TryGetValue(id, out var page))
                    return Problems.NotFound($"There is no page {id}.");
                var questions = images.Board(session, snapshot, period) is { } board
                    ? RowsOf(board, page).Where(r => r.Marks.HasFlag(QueryMark.Question)).OrderByDescending(r => r.Now.Impressions).ThenBy(r => r.Pair).Select(r => board.Image.Phrases[board.Image.Daily.QueryOf(r.Pair)])
                    : [];
                return TypedResults.Text(string.Concat(questions.Select(q => q + "\n")), "text/plain", Encoding.UTF8);
            }))
            .WithName("pageQuestions");
    }

    private static PerformanceStateView StateOf(Session session, ProjectSnapshot snapshot, QueryImages images)
    {
        var trouble = RefreshStore.Trouble(session);
        var has = PerformanceStore.Days(session) > 0;
        var isConnected = ServiceStore.All(session).Any(s => s.Name == ServiceName.Performance && s.Address.Length > 0);
        if (!has)
        {
            return trouble is not null ? new PerformanceStateView(KindOf(trouble), false, trouble.Message, trouble.RetryAt, 0, null, null, 0)
                : isConnected ? new PerformanceStateView(PerformanceStateKind.NoData, false, "A performance service is set up, but nothing was read from it yet. Read search performance on the Site screen.", null, 0, null, null, 0)
                : new PerformanceStateView(PerformanceStateKind.NotConnected, false, "No search performance is connected. Set up a performance service or import a file of queries, pages and days on the Site screen.", null, 0, null, null, 0);
        }

        var daily = images.Image(session, snapshot).Daily;
        var missing = daily.Days - QueryTable.KnownDays(daily, daily.First, daily.Days);
        var kind = trouble is not null ? KindOf(trouble) : missing > 0 ? PerformanceStateKind.Partial : PerformanceStateKind.Ready;
        var says = trouble is not null ? $"Couldn't read the newest days. {trouble.Message}"
            : missing > 0 ? $"{missing} of {daily.Days} days were never read. They are gaps in charts, not days without clicks. Read them again on the Site screen."
            : "";
        return new PerformanceStateView(kind, true, says, trouble?.RetryAt, missing, daily.First, daily.Last, FadingStore.All(session).Count);
    }

    private static PerformanceStateKind KindOf(PerformanceTrouble trouble) => trouble.Kind == TroubleKind.Denied ? PerformanceStateKind.Denied : PerformanceStateKind.Failed;

    /// <summary>What rivals' pages rank for and ours does not, neither in captured results nor in search performance; most searched first.</summary>
    private static List<RivalKeyword> Missing(Session session, ProjectSnapshot snapshot, QueryImages images, PageId id, List<Ranking> rankings, DateOnly today)
    {
        var page = snapshot.IndexOfPage.GetValueOrDefault(id, -1);
        var ours = snapshot.KeywordsOf(page).Select(k => snapshot.Keywords[k].NormalForm).ToHashSet(StringComparer.Ordinal);
        if (page >= 0 && images.Board(session, snapshot, new PeriodChoice(Days: Core.Performance.SearchPerformance.WindowDays)) is { } board)
            ours.UnionWith(RowsOf(board, page).Select(r => board.Image.Forms[board.Image.Daily.QueryOf(r.Pair)]));
        var known = snapshot.Keywords.Select(k => k.NormalForm).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. rankings.Select(r => (Ranking: r, Keyword: r.Keyword.ToKeyword(today))).Where(r => r.Keyword is not null && r.Ranking.Position >= 1 && !ours.Contains(r.Keyword.NormalForm))
                .GroupBy(r => r.Keyword!.NormalForm, StringComparer.Ordinal).Select(g => g.OrderBy(r => r.Ranking.Position).First())
                .OrderByDescending(r => r.Keyword!.Volume ?? 0).ThenBy(r => r.Keyword!.NormalForm, StringComparer.Ordinal).Take(RivalKeywordsShown)
                .Select(r => new RivalKeyword(r.Keyword!.Phrase, r.Keyword.Volume, r.Ranking.Url, r.Ranking.Position, known.Contains(r.Keyword.NormalForm))),
        ];
    }

    private static List<MarkedQuery> RowsOf(QueryBoard board, int page) => [.. board.Rows.Where(r => board.Image.Daily.PageOf(r.Pair) == page)];

    private static PageRefresh Detail(Session session, QueryBoard board, int page, DateOnly today)
    {
        var daily = board.Image.Daily;
        var rows = RowsOf(board, page);
        var days = daily.DaysOfPage(page).Select((figures, i) =>
        {
            var day = daily.First.AddDays(i);
            var isPreliminary = daily.Last.DayNumber - day.DayNumber < PreliminaryDays;
            return figures is { } known ? new PageDay(day, known.Clicks, known.Impressions, known.Impressions == 0 ? null : known.Weighted / known.Impressions, isPreliminary)
                : daily.HasDay(day) ? new PageDay(day, 0, 0, null, isPreliminary) : new PageDay(day, null, null, null, isPreliminary);
        });
        var positions = Buckets.Select(b => rows.Where(r => r.Now.Position >= b.From && r.Now.Position < b.To).ToList() is var some ? new PositionCount(b.Says, some.Count, some.Sum(r => r.Now.Impressions)) : null!);
        return new PageRefresh(
            PageQueriesView.Of(board, page, [.. rows.Where(r => !r.Marks.HasFlag(QueryMark.Irrelevant))], today), RefreshEndpoints.View(board), [.. days], [.. positions],
            [.. rows.OrderByDescending(r => r.AtStake).ThenByDescending(r => r.Now.Impressions).ThenBy(r => r.Pair).Take(QueriesShown).Select(r => QueryView.Of(board, r))], FadingOf(session, board, page), PlacementOf(session, board.Snapshot, page),
            [.. RivalsOf(session, board.Snapshot, page)]);
    }

    private static QueryDetail Detail(Session session, QueryBoard board, QueryView own, IReadOnlyList<QueryView> elsewhere)
    {
        string? closest = null;
        if (own.Mentions == 0 && BriefStore.OwnText(session, own.PageId) is { } text)
        {
            var language = ProjectStore.Get(session).Language;
            using var analysis = new TextAnalysis(language);
            closest = new Placement(text, [], analysis, language).Closest(own.Query);
        }

        var rivals = own.KeywordId is { } keyword
            ? ResultStore.ListOf(session, keyword).Where(r => r.Position <= RivalsShown && r.PageId is null).Select(r => new RankingTitle(r.Position, r.Url, string.IsNullOrEmpty(r.Title) ? null : r.Title))
            : [];
        return new QueryDetail(own, closest, elsewhere, [.. rivals], board.Snapshot.Pages[board.Snapshot.IndexOfPage[own.PageId]].Title);
    }

    private static FadingDetail? FadingOf(Session session, QueryBoard board, int page)
    {
        if (!board.Fading.TryGetValue(board.Snapshot.PageIds[page], out var fading))
            return null;
        var causes = FadingCauses.Of(board.Image.Daily, page, board.Curve);
        List<QueryShift> lost = [.. causes.Queries.Where(q => q.Shift.Total < 0).Take(LossesShown)];
        return new FadingDetail(
            FadingView.Of(fading), board.Image.Daily.Days >= Fading.Days + Fading.Year, causes.Sum.ByPosition, causes.Sum.BySearches, causes.Sum.ByClickRate,
            [.. lost.Select(q => new QueryLoss(board.Image.Phrases[q.Query], SpanView.Of(q.Before), SpanView.Of(q.Now), q.Shift.ByPosition, q.Shift.BySearches, q.Shift.ByClickRate))],
            [.. lost.SelectMany(q => TookPlaceOf(session, board, page, q.Query, fading.Since)).Take(LossesShown)]);
    }

    /// <summary>Pages of others that stand before ours in the newest list of a query, and did not in the one from when ours began to fade.</summary>
    private static IEnumerable<TakenPlace> TookPlaceOf(Session session, QueryBoard board, int page, int query, DateOnly since)
    {
        if (board.HomeOf(query) is not { KeywordId: var keyword })
            return [];
        var lists = ResultStore.Lists(session, keyword);
        // The capture from before; where there is none, the oldest one tells as much as can be told.
        if (lists.Count < 2 || (lists.FirstOrDefault(l => l.CapturedOn <= since) ?? lists[^1]) is not { } then || then.ListId == lists[0].ListId)
            return [];
        var (before, now) = (ResultStore.Results(session, then.ListId), ResultStore.Results(session, lists[0].ListId));
        int OurPosition(IEnumerable<ResultRow> list) => list.Where(r => r.PageId == board.Snapshot.PageIds[page]).Select(r => r.Position).DefaultIfEmpty(0).Min();
        var (ours, oursBefore) = (OurPosition(now), OurPosition(before));
        // Who was not there has no place to lose.
        if (oursBefore == 0)
            return [];
        bool IsBefore(int position, int our) => our == 0 || position < our;
        var known = before.DistinctBy(r => r.Identity).ToDictionary(r => r.Identity, r => r.Position, StringComparer.Ordinal);
        return now.Where(r => r.PageId is null && r.Position <= RivalsShown && IsBefore(r.Position, ours) && !(known.TryGetValue(r.Identity, out var was) && was < oursBefore))
            .Select(r => new TakenPlace(board.Image.Phrases[query], r.Url, r.Title, r.Position, known.GetValueOrDefault(r.Identity), ours, oursBefore));
    }

    private static List<KeywordPlacement>? PlacementOf(Session session, ProjectSnapshot snapshot, int page)
    {
        if (BriefStore.OwnText(session, snapshot.PageIds[page]) is not { } text)
            return null;
        var language = ProjectStore.Get(session).Language;
        using var analysis = new TextAnalysis(language);
        var mentions = new PageMentions(text, analysis, language);
        return
        [
            .. KeywordsOf(session, snapshot, page).OrderByDescending(k => snapshot.Keywords[k].Volume ?? 0).ThenBy(k => k).Take(PlacementsShown)
                .Select(k => (Keyword: k, Mention: mentions.Of(snapshot.Keywords[k].NormalForm)))
                .Select(k => new KeywordPlacement(snapshot.KeywordIds[k.Keyword], snapshot.Keywords[k.Keyword].Phrase, snapshot.Keywords[k.Keyword].Volume, k.Mention.Count, QueryView.PlacesOf(k.Mention.Places))),
        ];
    }

    /// <summary>The keywords of the clusters that are assigned to a page.</summary>
    private static IEnumerable<int> KeywordsOf(Session session, ProjectSnapshot snapshot, int page) =>
        ClusterStore.List(session, new ListQuery(Limit: ClustersLooked), new ClusterFilter(PageId: snapshot.PageIds[page])).Rows
            .SelectMany(c => ClusterStore.Members(session, c.Id)).Where(snapshot.IndexOfKeyword.ContainsKey).Select(id => snapshot.IndexOfKeyword[id]);

    private static IEnumerable<string> RivalsOf(Session session, ProjectSnapshot snapshot, int page) =>
        KeywordsOf(session, snapshot, page).ToList() is { Count: > 0 } keywords ? snapshot.Rivals(keywords, RivalsAsked).Select(r => snapshot.UrlIdentities[r.Url]) : [];
}
