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

/// <summary>The site's search performance: rows as they were brought, and what was worked out from them once.</summary>
/// <remarks>A million rows take about 40 MB; reading them in needs no more than the queries and pages that were met last.</remarks>
public static class PerformanceStore
{
    /// <summary>The newest batch counts where several have the same day of the same query and page.</summary>
    private const string InForce =
        """
        (select p.query_id, p.performance_page_id, p.day, max(p.batch_id), p.clicks, p.impressions, p.weighted
         from performance p
         join performance_batch b on b.batch_id = p.batch_id
         where p.query_id between @from and @to and p.day between @first and @last
         group by p.query_id, p.performance_page_id, p.day)
        """;

    /// <summary>Summing this many rows takes well below a second.</summary>
    private const long RowsAtOnce = 100_000;

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

    /// <summary>Works out again what follows from the batches, where they are others than before.</summary>
    public static void Refresh(WriteSession session)
    {
        var batches = string.Join(' ', session.List("select batch_id from performance_batch order by batch_id", r => r.GetInt64(0)));
        if (session.Scalar("select batches from performance_state") as string == batches)
            return;
        var last = session.Count("select coalesce(max(last_day), -1) from performance_batch");
        var first = Math.Max(session.Count("select coalesce(min(first_day), 0) from performance_batch"), last - SearchPerformance.WindowDays + 1);
        // Of no batches until all is summed.
        session.Execute("delete from performance_pair; delete from performance_week; update performance_state set batches = 'none';");
        var (queries, rows) = (session.Count("select max(query_id) from performance_query"), session.Count("select sum(row_count) from performance_batch"));
        var pieces = Math.Max(1, rows / RowsAtOnce);
        for (var piece = 0; piece < pieces && last >= 0; piece++)
        {
            session.GiveWay();
            (string, object?)[] bounds = [("first", first), ("last", last), ("from", (queries * piece / pieces) + 1), ("to", queries * (piece + 1) / pieces)];
            session.Execute(
                $"""
                insert into performance_pair
                select query_id, performance_page_id, sum(clicks), sum(impressions), sum(weighted) / sum(impressions)
                from {InForce}
                group by query_id, performance_page_id
                having sum(impressions) > 0
                """,
                bounds);
            SaveWeeks(session, bounds);
        }

        session.Execute(
            "update performance_state set batches = @batches, first_day = @first, last_day = @last, days = @days",
            ("batches", batches), ("first", last < 0 ? 0 : first), ("last", Math.Max(0, last)), ("days", last < 0 ? 0 : last - first + 1));
    }

    private static void SaveWeeks(WriteSession session, (string, object?)[] bounds)
    {
        using var insert = new RowBuffer(session, "insert or fail into performance_week", 100, 3);
        var (query, rows) = (-1L, new List<(DateOnly, int, long, double)>());
        session.List(
            $"""
            select query_id, day, performance_page_id, impressions, weighted
            from {InForce}
            where impressions > 0 and query_id <> coalesce((select query_id from performance_query where normal_form = ''), -1) and query_id in (select query_id from performance_pair where query_id between @from and @to group by query_id having count(*) > 1)
            order by query_id
            """,
            r =>
            {
                if (query != r.GetInt64(0))
                    Flush();
                query = r.GetInt64(0);
                rows.Add((DateOnly.FromDayNumber(r.GetInt32(1)), r.GetInt32(2), r.GetInt64(3), r.GetDouble(4) / r.GetInt64(3)));
                return 0;
            },
            bounds);
        Flush();

        void Flush()
        {
            foreach (var best in BestPages.ByWeek(rows))
                insert.Add(query, best.Day.DayNumber, best.Page);
            rows.Clear();
        }
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

    /// <summary>For the click curve: each query with its average position over all its pages; those that are no queries for the brand are told by the caller.</summary>
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
    public static IReadOnlyList<PerformanceWeek> Weeks(Session session, IReadOnlyCollection<PageId> pageIds, ClusterId? clusterId) => session.List(
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
        select page_id, day - (day % 7), sum(clicks), sum(impressions), iif(sum(impressions) = 0, null, sum(weighted) / sum(impressions))
        from (
          select s.page_id, p.query_id, p.day, max(p.batch_id), p.clicks, p.impressions, p.weighted
          from asked a
          cross join shown s
          cross join performance p on p.query_id = a.query_id and p.performance_page_id = s.performance_page_id
          join performance_batch b on b.batch_id = p.batch_id
          group by p.query_id, p.performance_page_id, p.day
        )
        group by page_id, day / 7
        order by page_id, day / 7
        """,
        r => new PerformanceWeek(r.Id<PageId>(0), DateOnly.FromDayNumber(r.GetInt32(1)), r.GetInt64(2), r.GetInt64(3), r.DoubleOrNull(4)),
        ("cluster", clusterId));

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

    /// <summary>Writes the rows of one batch.</summary>
    /// <remarks>
    /// A row that is there twice counts once, the later one; queries and addresses that are compared as the same are summed. Queries and pages are looked up
    /// in the database, and those met last are kept in memory.
    /// </remarks>
    public sealed class Writer : IDisposable
    {
        private const int MostKept = 300_000;
        private readonly WriteSession _session;
        private readonly PerformanceOrigin _origin;
        private readonly string _label;
        private readonly DateTimeOffset _now;
        private readonly Dictionary<string, long> _queries = new(StringComparer.Ordinal);
        private readonly Dictionary<string, long> _pages = new(StringComparer.Ordinal);
        private readonly SqliteCommand _query;
        private readonly SqliteCommand _page;
        private readonly RowBuffer _rows;
        private (long First, long Last) _days = (long.MaxValue, long.MinValue);

        /// <param name="session">The transaction.</param>
        /// <param name="origin">Where they come from.</param>
        /// <param name="label">The file, or what was asked for.</param>
        /// <param name="now">When.</param>
        public Writer(WriteSession session, PerformanceOrigin origin, string label, DateTimeOffset now)
        {
            (_session, _origin, _label, _now) = (session, origin, label, now);
            session.Execute(
                """
                create temp table if not exists brought (query_id integer, performance_page_id integer, day integer, as_given integer, clicks integer, impressions integer, weighted real,
                  primary key (query_id, performance_page_id, day, as_given)) without rowid;
                delete from temp.brought;
                """);
            _query = session.Command(
                "insert into performance_query (normal_form, phrase) values (@form, @phrase) on conflict (normal_form) do update set normal_form = excluded.normal_form returning query_id",
                ("form", ""), ("phrase", ""));
            _page = session.Command(
                "insert into performance_page (identity, url) values (@identity, @url) on conflict (identity) do update set identity = excluded.identity returning performance_page_id",
                ("identity", ""), ("url", ""));
            _rows = new RowBuffer(session, "insert or replace into temp.brought", 50, 7);
        }

        /// <param name="query">As it was searched for; empty where the source names none, which counts for the page alone.</param>
        /// <param name="normalForm">Its identity.</param>
        /// <param name="url">Address of the page as it was given.</param>
        /// <param name="identity">What it is compared by.</param>
        /// <param name="day">The day.</param>
        /// <param name="clicks">At most <paramref name="impressions"/>.</param>
        /// <param name="impressions">From 0.</param>
        /// <param name="position">Average, from 1.</param>
        public void Write(string query, string normalForm, string url, string identity, DateOnly day, long clicks, long impressions, double position)
        {
            _days = (Math.Min(_days.First, day.DayNumber), Math.Max(_days.Last, day.DayNumber));
            _rows.Add(IdOf(_queries, _query, normalForm, query), IdOf(_pages, _page, identity, url), day.DayNumber, unchecked((long)RowFingerprint.HashOf(query, url)), clicks, impressions, position * impressions);
        }

        /// <summary>To be called once, after the last row.</summary>
        /// <returns>How many rows count.</returns>
        public long Finish()
        {
            _rows.Flush();
            if (_days.First > _days.Last)
                return 0;
            var rows = _session.Count("select count(*) from temp.brought");
            var batch = _session.Count(
                "insert into performance_batch (label, origin, row_count, first_day, last_day, made_at) values (@label, @origin, @rows, @first, @last, @now) returning batch_id",
                ("label", _label), ("origin", _origin.Stored()), ("rows", rows), ("first", _days.First), ("last", _days.Last), ("now", _now.UtcDateTime.ToString("O")));
            _session.Execute(
                """
                insert into performance
                select query_id, performance_page_id, day, @batch, sum(clicks), sum(impressions), sum(weighted)
                from temp.brought
                group by query_id, performance_page_id, day;
                delete from temp.brought;
                """,
                ("batch", batch));
            _session.Touch(Data.Performance);
            _session.Touch(Data.Evidence);
            return rows;
        }

        public void Dispose()
        {
            _rows.Dispose();
            _query.Dispose();
            _page.Dispose();
        }

        private static long IdOf(Dictionary<string, long> kept, SqliteCommand command, string key, string given)
        {
            if (kept.TryGetValue(key, out var id))
                return id;
            if (kept.Count >= MostKept)
                kept.Clear();
            command.Parameters[0].Value = key;
            command.Parameters[1].Value = given;
            return kept[key] = (long)command.ExecuteScalar()!;
        }
    }
}
