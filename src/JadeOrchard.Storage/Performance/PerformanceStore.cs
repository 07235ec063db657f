using JadeOrchard.Core.Performance;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Performance;

/// <summary>Where rows of search performance came from.</summary>
public enum PerformanceOrigin
{
    Import,
    Service,
}

/// <summary>Which search performance there is.</summary>
/// <param name="Rows">Rows that were brought, over all batches.</param>
/// <param name="Queries">Queries within the days that count.</param>
/// <param name="FirstDay">The first of all days; null where there are none, as the rest.</param>
/// <param name="CountsFrom">The first of the days that count.</param>
/// <param name="Days">How many days count.</param>
public sealed record PerformanceSummary(long Rows, long Queries, long Clicks, long Impressions, DateOnly? FirstDay, DateOnly? LastDay, DateOnly? CountsFrom, int Days);

/// <summary>What a query and a page got within the days that count.</summary>
public readonly record struct PerformancePair(QueryId QueryId, string PageIdentity, long Clicks, long Impressions, double Position);

/// <summary>What a page got in a week from some queries.</summary>
/// <param name="Week">Its Monday.</param>
/// <param name="Position">Average, weighted by impressions; null without impressions.</param>
public sealed record PerformanceWeek(PageId PageId, DateOnly Week, long Clicks, long Impressions, double? Position);

/// <summary>What a page got for a query within the days that count, by name.</summary>
/// <param name="Query">As it was searched for; empty for all that the source does not name.</param>
/// <param name="KeywordId">Null where the query is no keyword.</param>
/// <param name="PagesShown">Pages of the site that were shown for it.</param>
public sealed record QueryRow(string Query, KeywordId? KeywordId, long? Volume, long Clicks, long Impressions, double Position, long PagesShown);

/// <summary>The site's search performance: rows as they were brought, and what was computed from them once.</summary>
/// <remarks>A row takes 28 bytes. All rows of one batch, page and query are stored as one value.</remarks>
public static class PerformanceStore
{
    /// <summary>Queries whose pairs are summed at once.</summary>
    private const long QueriesAtOnce = 20_000;

    public static PerformanceSummary Summary(Session session) => session.First(
        """
        select (select coalesce(sum(row_count), 0) from performance_batch), (select count(distinct p.query_id) from performance_pair p where not exists (select 1 from performance_query q where q.query_id = p.query_id and q.normal_form = '')),
          (select coalesce(sum(clicks), 0) from performance_pair), (select coalesce(sum(impressions), 0) from performance_pair),
          (select min(first_day) from performance_batch), (select max(last_day) from performance_batch), s.first_day, s.days
        from performance_state s
        """,
        r => new PerformanceSummary(r.GetInt64(0), r.GetInt64(1), r.GetInt64(2), r.GetInt64(3), DayOrNull(r, 4), DayOrNull(r, 5), r.GetInt64(7) == 0 ? null : DateOnly.FromDayNumber(r.GetInt32(6)), r.GetInt32(7)))!;

    /// <returns>How many rows of a batch were read from the service; null where it was not read since.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="label">What was asked for.</param>
    /// <param name="since">ISO 8601, UTC.</param>
    public static long? RowsOfService(Session session, string label, string since) => session.Scalar(
        "select row_count from performance_batch where label = @label and origin = @origin and made_at >= @since order by batch_id desc",
        ("label", label), ("origin", PerformanceOrigin.Service.Stored()), ("since", since)) as long?;

    /// <returns>How many days count; 0 without any.</returns>
    public static int Days(Session session) => (int)session.Count("select days from performance_state");

    /// <summary>Computes again what follows from the batches, where they are others than before.</summary>
    public static void Refresh(WriteSession session)
    {
        var batches = string.Join(' ', session.List("select batch_id from performance_batch order by batch_id", r => r.GetInt64(0)));
        if (session.Scalar("select batches from performance_state") as string == batches)
            return;
        var last = session.Count("select coalesce(max(last_day), -1) from performance_batch");
        var first = Math.Max(session.Count("select coalesce(min(first_day), 0) from performance_batch"), last - SearchPerformance.WindowDays + 1);
        // Of no batches until all is summed.
        session.Execute("delete from performance_pair; delete from performance_week; update performance_state set batches = 'none';");
        var queries = last < 0 ? 0 : session.Count("select max(query_id) from performance_query");
        for (var from = 1L; from <= queries; from += QueriesAtOnce)
        {
            session.GiveWay();
            Sum(session, from, from + QueriesAtOnce - 1, (int)first, (int)last);
        }

        session.Execute(
            "update performance_state set batches = @batches, first_day = @first, last_day = @last, days = @days",
            ("batches", batches), ("first", last < 0 ? 0 : first), ("last", Math.Max(0, last)), ("days", last < 0 ? 0 : last - first + 1));
    }

    /// <summary>Sums the days that count, and tells the best page of each week for the queries that have several.</summary>
    private static void Sum(WriteSession session, long from, long to, int first, int last)
    {
        var anonymous = session.Scalar("select query_id from performance_query where normal_form = ''") as long?;
        using var pairs = new RowBuffer(session, "insert or fail into performance_pair", 5, 5);
        using var weeks = new RowBuffer(session, "insert or fail into performance_week", 8, 3);
        var (query, pages, rows) = (-1L, 0, new List<(DateOnly, int, long, double)>());
        EachDays(session, from, to, (queryId, page, days) =>
        {
            if (query != queryId)
                Flush();
            query = queryId;
            var counting = DayFigures.Between(days, first, last);
            var sum = DayFigures.Sum(counting);
            if (sum.Impressions == 0)
                return;
            pages++;
            pairs.Add(queryId, page, sum.Clicks, sum.Impressions, sum.Position);
            foreach (var day in counting)
            {
                if (day.Impressions > 0 && queryId != anonymous)
                    rows.Add((DateOnly.FromDayNumber(day.Day), (int)page, day.Impressions, day.Weighted / day.Impressions));
            }
        });
        Flush();

        void Flush()
        {
            foreach (var best in pages > 1 ? BestPages.ByWeek(rows) : [])
                weeks.Add(query, best.Day.DayNumber, best.Page);
            rows.Clear();
            pages = 0;
        }
    }

    /// <summary>Goes through the days of each page and query, ordered by both; the newest batch counts where several have the same day.</summary>
    private static void EachDays(Session session, long from, long to, EachOfDays read)
    {
        var (query, page, merged) = (-1L, -1L, new List<DayFigures>());
        session.Each(
            """
            select d.query_id, d.performance_page_id, d.days
            from performance_days d
            join performance_batch b on b.batch_id = d.batch_id
            where d.query_id between @from and @to
            order by d.query_id, d.performance_page_id, d.batch_id
            """,
            r =>
            {
                var (nextQuery, nextPage) = (r.GetInt64(0), r.GetInt64(1));
                var days = DayFigures.Unpacked((byte[])r[2]);
                if (nextQuery != query || nextPage != page)
                    Flush();
                (query, page) = (nextQuery, nextPage);
                if (merged.Count == 0 || merged[^1].Day < days[0].Day)
                    merged.AddRange(days);
                else
                    Merge(merged, days);
            },
            ("from", from), ("to", to));
        Flush();

        void Flush()
        {
            if (merged.Count > 0)
                read(query, page, System.Runtime.InteropServices.CollectionsMarshal.AsSpan(merged));
            merged.Clear();
        }
    }

    private delegate void EachOfDays(long queryId, long pageId, ReadOnlySpan<DayFigures> days);

    private static void Merge(List<DayFigures> merged, ReadOnlySpan<DayFigures> newer)
    {
        var days = new SortedDictionary<int, DayFigures>();
        foreach (var day in merged)
            days[day.Day] = day;
        foreach (var day in newer)
            days[day.Day] = day;
        merged.Clear();
        merged.AddRange(days.Values);
    }

    /// <returns>What the addresses of which there are days are compared by, in a steady order.</returns>
    public static IReadOnlyList<string> Addresses(Session session) => session.List(
        """
        select g.identity
        from performance_page g
        where exists (select 1 from performance_days d join performance_batch b on b.batch_id = d.batch_id where d.performance_page_id = g.performance_page_id)
        order by g.identity
        """,
        r => r.GetString(0));

    /// <returns>Tells which batches the sums are of.</returns>
    public static string Batches(Session session) => (string)session.Scalar("select batches from performance_state")!;

    /// <returns>For each query, by its id, how it was searched for and its normal form; empty where there is none.</returns>
    public static (string[] Phrases, string[] Forms) Queries(Session session)
    {
        var count = session.Count("select coalesce(max(query_id), 0) + 1 from performance_query");
        var (phrases, forms) = (new string[count], new string[count]);
        Array.Fill(phrases, "");
        Array.Fill(forms, "");
        session.Each("select query_id, phrase, normal_form from performance_query", r =>
        {
            var (phrase, form) = (r.GetString(1), r.GetString(2));
            // Most are searched for in their normal form, and one text is enough then.
            (phrases[r.GetInt64(0)], forms[r.GetInt64(0)]) = (phrase == form ? form : phrase, form);
        });
        return (phrases, forms);
    }

    /// <summary>All days of all pairs, for what reads them from memory.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="pageOf">The index of the page for what an address is compared by; below 0 where it is none.</param>
    /// <param name="pageCount">Pages that there are.</param>
    /// <returns>Queries by their id.</returns>
    public static DailyPerformance Daily(Session session, Func<string, int> pageOf, int pageCount)
    {
        var pages = new Dictionary<long, int>();
        session.Each("select performance_page_id, identity from performance_page", r => pages[r.GetInt64(0)] = pageOf(r.GetString(1)));
        var builder = new DailyPerformance.Builder();
        EachDays(session, 1, int.MaxValue, (query, page, days) =>
        {
            if (pages[page] is >= 0 and var index)
                builder.Add(index, (int)query, days);
        });
        return builder.Build(pageCount);
    }

    /// <summary>For each keyword that is a query, by its own words or those of a merged variant, the query's id.</summary>
    public static ILookup<QueryId, KeywordId> KeywordsOfQueries(Session session) => session.List(
        """
        select q.query_id, k.keyword_id
        from performance_query q
        join keyword k on k.normal_form = q.normal_form
        union
        select q.query_id, a.keyword_id
        from performance_query q
        join keyword_alias a on a.normal_form = q.normal_form
        """,
        r => (Query: r.Id<QueryId>(0), Keyword: r.Id<KeywordId>(1))).ToLookup(q => q.Query, q => q.Keyword);

    /// <param name="session">The transaction.</param>
    /// <param name="read">Gets each pair, those of a query one after another.</param>
    public static void EachPair(Session session, Action<PerformancePair> read) => session.List(
        """
        select p.query_id, g.identity, p.clicks, p.impressions, p.position
        from performance_pair p
        join performance_page g on g.performance_page_id = p.performance_page_id
        order by p.query_id
        """,
        r =>
        {
            read(new PerformancePair(r.Id<QueryId>(0), r.GetString(1), r.GetInt64(2), r.GetInt64(3), r.GetDouble(4)));
            return 0;
        });

    /// <returns>What each page got for one query, by its normal form; empty where it was never shown.</returns>
    public static IReadOnlyList<PerformancePair> OfQuery(Session session, string normalForm) => session.List(
        """
        select p.query_id, g.identity, p.clicks, p.impressions, p.position
        from performance_query q
        join performance_pair p on p.query_id = q.query_id
        join performance_page g on g.performance_page_id = p.performance_page_id
        where q.normal_form = @form
        """,
        r => new PerformancePair(r.Id<QueryId>(0), r.GetString(1), r.GetInt64(2), r.GetInt64(3), r.GetDouble(4)),
        ("form", normalForm));

    /// <returns>The best pages of each query that had several, oldest week first.</returns>
    public static IReadOnlyList<(QueryId QueryId, DateOnly Week, string PageIdentity)> BestByWeek(Session session) => session.List(
        """
        select w.query_id, w.week, g.identity
        from performance_week w
        join performance_page g on g.performance_page_id = w.performance_page_id
        order by w.query_id, w.week
        """,
        r => (r.Id<QueryId>(0), DateOnly.FromDayNumber(r.GetInt32(1)), r.GetString(2)));

    /// <summary>For the click curve: each query with its average position over all its pages; the caller tells which are queries for the brand.</summary>
    public static IReadOnlyList<FormFigures> QueryFigures(Session session) => session.List(
        """
        select q.normal_form, sum(p.position * p.impressions) / sum(p.impressions), sum(p.clicks), sum(p.impressions)
        from performance_pair p
        join performance_query q on q.query_id = p.query_id
        where q.normal_form <> ''
        group by p.query_id
        """,
        r => new FormFigures(r.GetString(0), new QueryFigures(r.GetDouble(1), r.GetInt64(2), r.GetInt64(3))));

    /// <summary>Takes in the pages that were shown but are not known yet.</summary>
    public static void AdoptPages(WriteSession session) => session.Touching(
        Data.Pages,
        """
        insert into page (identity, url, kind, source)
        select g.identity, g.url, 'existing', 'results'
        from performance_page g
        where exists (select 1 from performance_pair p where p.performance_page_id = g.performance_page_id)
          and not exists (select 1 from page x where x.identity = g.identity and x.kind = 'existing')
        on conflict (identity) do update set kind = 'existing', source = 'results'
        returning page_id
        """);

    /// <summary>What some pages got week by week, over all days there are.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="pageIds">The pages.</param>
    /// <param name="clusterId">From the queries of this cluster alone; null for all queries.</param>
    public static IReadOnlyList<PerformanceWeek> Weeks(Session session, IReadOnlyCollection<PageId> pageIds, ClusterId? clusterId)
    {
        var (pair, pageId, newest) = ((Query: -1L, Page: -1L), default(PageId), new Dictionary<int, DayFigures>());
        var weeks = new SortedDictionary<(PageId Page, int Week), List<DayFigures>>();
        session.Each(
            $"""
            with shown as (
              select g.performance_page_id, x.page_id
              from page x
              join performance_page g on g.identity = x.identity
              where x.page_id in ({string.Join(',', pageIds)})
            ), asked as (
              select q.query_id
              from performance_query q
              join keyword k on k.normal_form = q.normal_form
              join cluster_member m on m.keyword_id = k.keyword_id and m.cluster_id = @cluster
              union
              select p.query_id
              from performance_pair p
              where @cluster is null and p.performance_page_id in (select performance_page_id from shown)
            )
            select s.page_id, d.query_id, d.performance_page_id, d.days
            from asked a
            cross join shown s
            cross join performance_days d on d.query_id = a.query_id and d.performance_page_id = s.performance_page_id
            join performance_batch b on b.batch_id = d.batch_id
            order by d.query_id, d.performance_page_id, d.batch_id
            """,
            r =>
            {
                if (pair != (r.GetInt64(1), r.GetInt64(2)))
                    Flush();
                (pair, pageId) = ((r.GetInt64(1), r.GetInt64(2)), r.Id<PageId>(0));
                foreach (var day in DayFigures.Unpacked((byte[])r[3]))
                    newest[day.Day] = day;
            },
            ("cluster", clusterId));
        Flush();
        return
        [
            .. weeks.Select(w => (w.Key, Sum: Sum(w.Value)))
                .Select(w => new PerformanceWeek(w.Key.Page, DateOnly.FromDayNumber(w.Key.Week), w.Sum.Clicks, w.Sum.Impressions, w.Sum.Impressions == 0 ? null : w.Sum.Position)),
        ];

        static QuerySpan Sum(IEnumerable<DayFigures> days) => DayFigures.Sum((DayFigures[])[.. days.OrderBy(d => (d.Day, d.Impressions, d.Clicks, d.Weighted))]);

        void Flush()
        {
            foreach (var day in newest.Values)
            {
                var key = (pageId, day.Day - (day.Day % 7));
                if (!weeks.TryGetValue(key, out var some))
                    weeks[key] = some = [];
                some.Add(day);
            }

            newest.Clear();
        }
    }

    /// <returns>The queries for which a page was shown within the days that count, most impressions first.</returns>
    public static IReadOnlyList<QueryRow> OfPage(Session session, PageId pageId, int limit) => session.List(
        """
        select q.phrase, k.keyword_id, k.volume, p.clicks, p.impressions, p.position, (select count(*) from performance_pair o where o.query_id = p.query_id)
        from page x
        join performance_page g on g.identity = x.identity
        cross join performance_pair p on p.performance_page_id = g.performance_page_id
        join performance_query q on q.query_id = p.query_id
        left join keyword k on k.normal_form = q.normal_form
        where x.page_id = @id
        order by p.impressions desc, p.clicks desc, q.normal_form
        limit @limit
        """,
        r => new QueryRow(r.GetString(0), r.IdOrNull<KeywordId>(1), r.LongOrNull(2), r.GetInt64(3), r.GetInt64(4), r.GetDouble(5), r.GetInt64(6)),
        ("id", pageId), ("limit", limit));

    private static DateOnly? DayOrNull(SqliteDataReader r, int column) => r.IsDBNull(column) ? null : DateOnly.FromDayNumber(r.GetInt32(column));
}
