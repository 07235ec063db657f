namespace JadeOrchard.Storage.Results;

/// <summary>The newest list of a keyword on a day, and where the site ranks in it.</summary>
/// <param name="Position">Of its best page; 0 where none stands there.</param>
/// <param name="PageId">That page.</param>
public readonly record struct OwnRank(KeywordId KeywordId, ResultListId ListId, DateOnly Day, int Position, PageId? PageId);

/// <summary>Where the site's pages stood in captured lists, day by day.</summary>
public static class RankStore
{
    /// <returns>The days of all captures, the newest first.</returns>
    public static IReadOnlyList<DateOnly> Days(Session session) =>
        session.List("select distinct captured_on from result_list order by captured_on desc", r => DateOnly.FromDayNumber(r.GetInt32(0)));

    /// <returns>For each keyword its newest list of a day or earlier.</returns>
    public static IReadOnlyList<OwnRank> On(Session session, DateOnly day) => Read(
        session, "select list_id, keyword_id, max(captured_on) from result_list where captured_on <= @day group by keyword_id", ("day", day.DayNumber));

    /// <returns>All lists of some keywords, oldest first.</returns>
    public static IReadOnlyList<OwnRank> History(Session session, IEnumerable<KeywordId> keywords) =>
        [.. Read(session, $"select list_id, keyword_id, captured_on from result_list where keyword_id in ({string.Join(',', keywords)})").OrderBy(r => r.Day).ThenBy(r => r.KeywordId)];

    /// <returns>The identities of the first results of the newest list of each keyword of a day or earlier, for those that were captured later again.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="day">The day.</param>
    /// <param name="depth">Positions that are looked at.</param>
    public static IReadOnlyDictionary<KeywordId, IReadOnlySet<long>> UrlsOn(Session session, DateOnly day, int depth) =>
        Urls(session, "select list_id, keyword_id, max(captured_on) from result_list where captured_on <= @day group by keyword_id", depth, ("day", day.DayNumber));

    /// <returns>The same of the newest list of each keyword.</returns>
    public static IReadOnlyDictionary<KeywordId, IReadOnlySet<long>> UrlsNow(Session session, int depth) =>
        Urls(session, "select list_id, keyword_id, max(captured_on) from result_list group by keyword_id", depth);

    /// <returns>How many keywords were captured after a day.</returns>
    public static long CapturedAfter(Session session, DateOnly day) => session.Count("select count(distinct keyword_id) from result_list where captured_on > @day", ("day", day.DayNumber));

    private static Dictionary<KeywordId, IReadOnlySet<long>> Urls(Session session, string lists, int depth, params (string, object?)[] parameters)
    {
        var urls = new Dictionary<KeywordId, IReadOnlySet<long>>();
        session.Each(
            $"select l.keyword_id, group_concat(p.ranks) from ({lists}) l join result_part p on p.list_id = l.list_id group by l.list_id",
            r => urls[r.Id<KeywordId>(0)] = ResultParts.Ranks(r.GetString(1)).Where(rank => rank.Position <= depth).Select(rank => rank.UrlId).ToHashSet(),
            parameters);
        return urls;
    }

    private static List<OwnRank> Read(Session session, string lists, params (string, object?)[] parameters)
    {
        var pages = ResultStore.OwnPages(session, r => r.Id<PageId>(1));
        var ranks = new List<OwnRank>();
        session.Each(
            $"select l.list_id, l.keyword_id, l.captured_on, (select group_concat(p.ranks) from result_part p where p.list_id = l.list_id) from ({lists.Replace("max(captured_on)", "max(captured_on) as captured_on", StringComparison.Ordinal)}) l",
            r =>
            {
                var best = (Position: 0, UrlId: 0L);
                foreach (var rank in ResultParts.Ranks(r.TextOrNull(3) ?? ""))
                {
                    if (pages.ContainsKey(rank.UrlId) && (best.Position == 0 || rank.Position < best.Position))
                        best = (rank.Position, rank.UrlId);
                }

                ranks.Add(new OwnRank(r.Id<KeywordId>(1), r.Id<ResultListId>(0), DateOnly.FromDayNumber(r.GetInt32(2)), best.Position, best.Position == 0 ? null : pages[best.UrlId]));
            },
            parameters);
        return ranks;
    }
}
