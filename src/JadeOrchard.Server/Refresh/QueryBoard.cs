using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Core.Results;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Refresh;

/// <summary>Images of search performance that readers share. The newest of each is kept.</summary>
public sealed class QueryImages
{
    private readonly Lock _lock = new();
    private readonly KeptAnswers<QueryBoard> _boards = new(MostPeriods);
    private QueryImage? _image;
    private (string Key, MarkedQuery[] Rows)[] _marked = [];
    private (string Key, bool[] IsBrand, bool[] IsQuestion)? _kinds;

    /// <summary>Periods whose marks and lists are kept: some 20 MB each at 200,000 queries.</summary>
    private const int MostPeriods = 6;

    /// <summary>Lists of pages in their order, good until the next write.</summary>
    internal KeptAnswers<List<PageQueriesView>> Pages { get; } = new(MostPeriods);

    /// <summary>Queries in their order with their sums, good until the next write; few, as each may have 200,000 rows.</summary>
    internal KeptAnswers<SortedQueries> Queries { get; } = new(2);

    /// <summary>Ranks of two days, good until the next write.</summary>
    internal KeptAnswers<List<RankRow>> Ranks { get; } = new(MostPeriods);

    internal QueryImage Image(Session session, ProjectSnapshot snapshot)
    {
        // Two readers must not load it at once.
        lock (_lock)
            return _image = QueryImage.Of(session, snapshot, _image);
    }

    /// <returns>All queries of a period with everything that is shown of them; null where there is no search performance.</returns>
    internal QueryBoard? Board(Session session, ProjectSnapshot snapshot, PeriodChoice choice) =>
        PerformanceStore.Days(session) == 0 ? null : _boards.Of(session.Writes, choice.ToString(), () => QueryBoard.Load(this, session, snapshot, choice));

    internal MarkedQuery[] Marked(Session session, QueryImage image, QueryPeriod period, ClickCurve curve)
    {
        var (brands, questions, language) = (ProjectStore.Brands(session), ProjectStore.Questions(session), ProjectStore.Get(session).Language);
        var kindsKey = $"{image.Key} {string.Join('|', ProjectStore.BrandNames(session))} {string.Join('|', questions.All)} {string.Join('|', questions.Except ?? [])} {language}";
        var key = $"{kindsKey} {period} {string.Join(' ', Enumerable.Range(1, 30).Select(p => curve.At(p)))}";
        lock (_lock)
        {
            if (_marked.FirstOrDefault(m => m.Key == key) is { Rows: { } known })
                return known;
            if (_kinds is not { } kinds || kinds.Key != kindsKey)
            {
                var (isBrand, isQuestion) = image.Kinds(brands, new Questions(questions, language));
                _kinds = kinds = (kindsKey, isBrand, isQuestion);
            }

            var rows = QueryTable.Of(
                image.Daily, period,
                new QueryFacts
                {
                    Mentions = pair => image.Mentions[pair]?.Count,
                    IsBrand = query => kinds.IsBrand[query],
                    IsQuestion = query => kinds.IsQuestion[query],
                    IsAnonymous = query => image.Forms[query].Length == 0,
                },
                curve);
            _marked = [(key, rows), .. _marked.Take(MostPeriods - 1)];
            return rows;
        }
    }
}

/// <summary>Queries in their order, with what all of them got.</summary>
/// <param name="AtStake">Clicks in the period.</param>
internal sealed record SortedQueries(MarkedQuery[] Rows, long Clicks, long Impressions, double AtStake)
{
    public static SortedQueries Of(MarkedQuery[] rows)
    {
        var (clicks, impressions, atStake) = (0L, 0L, 0.0);
        foreach (ref readonly var row in rows.AsSpan())
            (clicks, impressions, atStake) = (clicks + row.Now.Clicks, impressions + row.Now.Impressions, atStake + row.AtStake);
        return new SortedQueries(rows, clicks, impressions, atStake);
    }
}

/// <summary>Which days are looked at.</summary>
/// <param name="Days">How many days, counted back from the last; null for those from <paramref name="From"/> to <paramref name="To"/>, or 28.</param>
/// <param name="From">The first day.</param>
/// <param name="To">The last day.</param>
/// <param name="YearBefore">Compared with the same days a year before, else with the days just before.</param>
public sealed record PeriodChoice(int? Days = null, DateOnly? From = null, DateOnly? To = null, bool? YearBefore = null)
{
    private const int MostDays = 366 * 5;

    /// <returns>The period within what is known.</returns>
    internal QueryPeriod Of(DailyPerformance daily)
    {
        // Only days that are known, whatever is asked for.
        var (first, last) = (daily.First.DayNumber, daily.Last.DayNumber);
        var to = Math.Clamp(Days is null && To is { } chosen ? chosen.DayNumber : last, first, last);
        var from = Days is null && From is { } start ? start.DayNumber : to + 1 - Math.Clamp(Days ?? Fading.Days, 1, MostDays);
        return QueryPeriod.Of(daily.First, DateOnly.FromDayNumber(Math.Clamp(from, first, to)), DateOnly.FromDayNumber(to), YearBefore ?? false);
    }
}

/// <summary>All queries of all pages in a period, with their clusters. Never changed once it is made.</summary>
internal sealed class QueryBoard
{
    private readonly Dictionary<int, int> _homeOf;

    private QueryBoard(QueryImage image, QueryPeriod period, MarkedQuery[] rows, IReadOnlyList<QueryHome> homes, Dictionary<int, int> homeOf)
    {
        (Image, Period, Rows, Homes, _homeOf) = (image, period, rows, homes, homeOf);
    }

    public QueryImage Image { get; }

    public QueryPeriod Period { get; }

    /// <summary>Ordered by page, then by query.</summary>
    public MarkedQuery[] Rows { get; }

    public IReadOnlyList<QueryHome> Homes { get; }

    public required ProjectSnapshot Snapshot { get; init; }

    public required IReadOnlyDictionary<ClusterId, string> ClusterNames { get; init; }

    public required IReadOnlyDictionary<PageId, PageAge> Ages { get; init; }

    public required ClickCurve Curve { get; init; }

    /// <summary>Pages that fade.</summary>
    public required IReadOnlyDictionary<PageId, StoredFading> Fading { get; init; }

    /// <returns>The keyword and cluster of a query; null where it is no keyword.</returns>
    public QueryHome? HomeOf(int query) => _homeOf.TryGetValue(query, out var home) ? Homes[home] : null;

    /// <summary>A sum over the period as it would be in a month.</summary>
    public double Monthly(double sum) => sum * 365.25 / 12 / Period.Days;

    public static QueryBoard Load(QueryImages images, Session session, ProjectSnapshot snapshot, PeriodChoice choice)
    {
        var image = images.Image(session, snapshot);
        var period = choice.Of(image.Daily);
        var marked = images.Marked(session, image, period, snapshot.Curve);
        var homes = RefreshStore.Homes(session);
        var homeOf = new Dictionary<int, int>(homes.Count);
        // For each query the page of its cluster, by index; -1 where it has none.
        var pageOf = new int[image.Forms.Length];
        Array.Fill(pageOf, -1);
        for (var i = 0; i < homes.Count; i++)
        {
            homeOf[homes[i].Query] = i;
            pageOf[homes[i].Query] = homes[i].PageId is { } page ? snapshot.IndexOfPage.GetValueOrDefault(page, -1) : -1;
        }

        var irrelevant = IrrelevantStore.All(session);
        var everywhere = irrelevant.Where(i => i.PageId is null).Select(i => i.NormalForm).ToHashSet(StringComparer.Ordinal);
        var onPage = irrelevant.Where(i => i.PageId is not null).Select(i => (i.NormalForm, snapshot.IndexOfPage.GetValueOrDefault(i.PageId!.Value, -1))).ToHashSet();
        var rows = new MarkedQuery[marked.Length];
        for (var i = 0; i < rows.Length; i++)
        {
            var (page, query) = (image.Daily.PageOf(marked[i].Pair), image.Daily.QueryOf(marked[i].Pair));
            var isIrrelevant = irrelevant.Count > 0 && (everywhere.Contains(image.Forms[query]) || onPage.Contains((image.Forms[query], page)));
            rows[i] = marked[i].With(isIrrelevant, pageOf[query] >= 0 && pageOf[query] != page);
        }

        return new QueryBoard(image, period, rows, homes, homeOf)
        {
            Snapshot = snapshot,
            ClusterNames = RefreshStore.ClusterNames(session),
            Ages = RefreshStore.Ages(session),
            Curve = snapshot.Curve,
            Fading = FadingStore.All(session).ToDictionary(f => f.PageId),
        };
    }

    public PageId PageIdOf(in MarkedQuery row) => Snapshot.PageIds[Image.Daily.PageOf(row.Pair)];
}
