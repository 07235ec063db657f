using System.Text.Json;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Overview;
using JadeOrchard.Core.Site;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Findings;

/// <summary>A finding as lists show it.</summary>
/// <param name="Key">Stays the same when findings are computed again.</param>
/// <param name="Reason">Why it was dismissed; empty where it was not.</param>
/// <param name="Assignee">Who works on it, as the planner wrote it; empty for nobody.</param>
/// <param name="Note">What the planner noted; empty where nothing.</param>
/// <param name="Remedy">What is to be done about it; null where nothing was decided.</param>
/// <param name="Demand">Searches per month of its clusters.</param>
/// <param name="Pages">The first of its pages: the one to keep or to mend, then others.</param>
/// <param name="PageCount">How many pages it has.</param>
/// <param name="Folder">The folder of idle pages; null for other kinds.</param>
/// <param name="AtStake">Clicks per month, estimated.</param>
/// <param name="Confidence">From 0 to 1.</param>
/// <param name="Signs">By which it shows itself, the strongest first.</param>
/// <param name="Subject">What it is about: its pages, its cluster or its folder.</param>
/// <param name="Says">What shows it, in short.</param>
public sealed record FindingRow(
    string Key,
    FindingKind Kind,
    FindingState State,
    string Reason,
    string Assignee,
    string Note,
    Remedy? Remedy,
    ClusterId? ClusterId,
    string? ClusterName,
    long Demand,
    TopicId? TopicId,
    string? TopicName,
    string? Keyword,
    IReadOnlyList<FindingPage> Pages,
    long PageCount,
    string? Folder,
    double AtStake,
    double Confidence,
    IReadOnlyList<SignKind> Signs,
    string FirstFoundAt,
    string Subject,
    string Says)
{
    /// <summary>What its kind is called: "page gap".</summary>
    public string Name => FindingText.Name(Kind);

    /// <summary>What is to be done about it, in words; null where nothing was decided.</summary>
    public string? RemedyName => Remedy is { } remedy ? FindingText.Name(remedy) : null;

    /// <summary>To be sent back with a change, so that one made meanwhile is not overwritten.</summary>
    public string Version => RowVersion.Of(State, Reason, Assignee, Note, Remedy);
}

/// <summary>A page of a finding.</summary>
public sealed record FindingPage(PageId Id, string Url, string? Title);

/// <summary>A sign of a finding, by name; see <see cref="Sign"/>.</summary>
/// <param name="Others">The first of its other pages.</param>
/// <param name="Facts">What shows it, most at stake first.</param>
public sealed record FindingSign(
    SignKind Kind, ClusterId? ClusterId, string? ClusterName, string? OtherClusterName, FindingPage? Page, IReadOnlyList<FindingPage> Others, int OtherCount, double AtStake,
    IReadOnlyList<FindingEvidence> Facts);

/// <summary>What shows a sign, by name; see <see cref="SignFact"/>.</summary>
public sealed record FindingEvidence(
    KeywordId? KeywordId, string? Keyword, long? Volume, double Position, double OtherPosition, double AtStake, double Share, double Count);

/// <summary>Which findings are wanted.</summary>
/// <param name="Kind">Only this one.</param>
/// <param name="Sign">Only those that show themselves by this.</param>
/// <param name="State">Only in this state; null for those that are to do: open and accepted.</param>
/// <param name="AnyState">All states.</param>
/// <param name="ClusterId">Only about this cluster.</param>
/// <param name="PageId">Only about this page.</param>
/// <param name="TopicId">Only about clusters of this topic.</param>
/// <param name="Assignee">Only those this person works on; empty for those nobody does.</param>
/// <param name="IsSmall">Only those with less than one click a month at stake; false for only the others.</param>
public sealed record FindingFilter(
    FindingKind? Kind = null, SignKind? Sign = null, FindingState? State = null, bool AnyState = false, ClusterId? ClusterId = null, PageId? PageId = null, TopicId? TopicId = null,
    string? Assignee = null, bool? IsSmall = null);

/// <summary>By what findings are gathered.</summary>
public enum FindingsBy
{
    Page,
    Topic,
}

/// <summary>Findings of one kind.</summary>
/// <param name="Count">All of them, the small ones among them.</param>
/// <param name="AtStake">Clicks per month.</param>
/// <param name="Pages">Pages of all of them.</param>
/// <param name="SmallCount">Those with less than one click a month at stake.</param>
/// <param name="First">The first few that are not small.</param>
public sealed record FindingKindSummary(FindingKind Kind, long Count, long Open, long Demand, double AtStake, long Pages, long SmallCount, double SmallAtStake, IReadOnlyList<FindingRow> First)
{
    /// <summary>"Page gaps".</summary>
    public string Heading => FindingText.Heading(Kind);
}

/// <summary>Findings that have something in common.</summary>
/// <param name="Key">The id of the page or topic; empty for those without one.</param>
/// <param name="Name">That of the topic, or the URL of the page; empty for those without one.</param>
public sealed record FindingBundle(string Key, string Name, long Count, long Open, double AtStake);

/// <summary>Which findings a change is about: some of them, or all that a filter lets through.</summary>
public sealed record FindingSelection(IReadOnlyList<string>? Keys = null, FindingFilter? Filter = null, string? Search = null);

/// <summary>Findings as lists and panes show them.</summary>
public static class FindingStore
{
    /// <summary>Clicks a month under which findings are gathered in one line.</summary>
    private const int Small = 1;

    private static readonly ListSource<FindingRow> Rows = new(
        "f.finding_key",
        """
        f.finding_key, f.kind, f.state, coalesce(d.reason, ''), coalesce(d.assignee, ''), coalesce(d.note, ''), r.remedy, f.cluster_id, coalesce(c.name, p.phrase),
        f.demand, t.topic_id, coalesce(t.name, tc.name, tp.phrase), k.phrase, f.page_count, f.folder, f.at_stake, f.confidence, f.signs, f.says, coalesce(e.first_found_at, ''),
        (select json_group_array(json_array(g.page_id, g.url, g.title) order by x.place) from finding_page x join page g on g.page_id = x.page_id where x.finding_id = f.finding_id and x.place < 3),
        (select host from project)
        """,
        """
        finding f
        left join cluster c on c.cluster_id = f.cluster_id
        left join keyword p on p.keyword_id = c.primary_keyword_id
        left join keyword k on k.keyword_id = f.keyword_id
        left join topic t on t.topic_id = c.topic_id
        left join cluster tc on tc.cluster_id = t.pillar_cluster_id
        left join keyword tp on tp.keyword_id = tc.primary_keyword_id
        left join page g on g.page_id = f.page_id
        left join finding_decision d on d.finding_key = f.finding_key
        left join plan_step r on r.finding_key = f.finding_key
        left join finding_seen e on e.finding_key = f.finding_key
        """,
        "count(*), count(distinct f.cluster_id), coalesce(sum(f.demand), 0), null, coalesce(sum(iif(@kind is null, f.counted, f.at_stake)), 0.0), 0",
        $"""
        f.finding_id in (
          with hit as materialized (select keyword_id from keyword where {ListSource<FindingRow>.Like("phrase")}),
            near as materialized (select page_id from page where {ListSource<FindingRow>.Like("url")})
          select finding_id from finding where keyword_id in hit
          union all select finding_id from finding_cluster where cluster_id in (
            select cluster_id from cluster where primary_keyword_id in hit
            union all select cluster_id from cluster indexed by cluster_by_name where name is not null and {ListSource<FindingRow>.Like("name")})
          union all select finding_id from finding_page where page_id in near
          union all select finding_id from finding where finding_key in (select finding_key from finding_decision where {ListSource<FindingRow>.Like("note")}))
        """,
        new Dictionary<string, string>
        {
            ["kind"] = "f.kind",
            ["state"] = "f.state",
            ["clusterName"] = "coalesce(c.name, p.phrase)",
            ["demand"] = "f.demand",
            ["keyword"] = "k.phrase",
            ["pageUrl"] = "g.url",
            ["topicName"] = "coalesce(t.name, tc.name, tp.phrase)",
            ["assignee"] = "nullif(d.assignee, '')",
            ["atStake"] = "f.at_stake",
        },
        "f.weight desc, f.finding_key",
        Read)
    {
        Narrow = "finding f",
        WideSorts = new HashSet<string> { "clusterName", "keyword", "pageUrl", "topicName", "assignee" },
    };

    public static ListPage<FindingRow> List(Session session, ListQuery query, FindingFilter filter)
    {
        var (conditions, parameters) = Of(filter);
        return Rows.Page(session, query, conditions, parameters);
    }

    /// <returns>The findings about some clusters that are to do, with these clusters, most at stake first.</returns>
    public static ILookup<ClusterId, FindingRow> About(Session session, IReadOnlyCollection<ClusterId> clusterIds)
    {
        (string, object?) clusters = ("clusters", "[" + string.Join(',', clusterIds) + "]");
        var (conditions, parameters) = Of(new FindingFilter());
        const string about = "f.finding_id in (select finding_id from finding_cluster where cluster_id in (select value from json_each(@clusters)))";
        var rows = Rows.Page(session, new ListQuery(Limit: int.MaxValue), [.. conditions, about], [.. parameters, clusters]).Rows.ToDictionary(f => f.Key, StringComparer.Ordinal);
        return session.List(
            "select x.cluster_id, f.finding_key from finding_cluster x join finding f on f.finding_id = x.finding_id where x.cluster_id in (select value from json_each(@clusters)) order by f.weight desc, f.finding_key",
            r => (Cluster: r.Id<ClusterId>(0), Key: r.GetString(1)), clusters).Where(x => rows.ContainsKey(x.Key)).ToLookup(x => x.Cluster, x => rows[x.Key]);
    }

    private static (string?[] Conditions, (string, object?)[] Parameters) Of(FindingFilter filter) => (
    [
        filter.Kind is null ? null : "f.kind = @kind",
        filter.Sign is null ? null : "instr(' | ' || f.signs || ' | ', ' | ' || @sign || ' | ') > 0",
        filter.AnyState ? null : filter.State is null ? FindingCounts.ToDo : "f.state = @state",
        filter.ClusterId is null ? null : "f.finding_id in (select finding_id from finding_cluster where cluster_id = @cluster)",
        filter.PageId is null ? null : "f.finding_id in (select finding_id from finding_page where page_id = @page)",
        filter.TopicId is null ? null : "f.finding_id in (select x.finding_id from cluster c join finding_cluster x on x.cluster_id = c.cluster_id where c.topic_id = @topic)",
        filter.Assignee is null ? null : "coalesce((select d.assignee from finding_decision d where d.finding_key = f.finding_key), '') = @assignee collate nocase",
        filter.IsSmall is null ? null : filter.IsSmall.Value ? $"f.at_stake < {Small}" : $"f.at_stake >= {Small}",
    ],
    [
        ("kind", filter.Kind?.Stored()),
        ("sign", filter.Sign?.Code()),
        ("state", filter.State?.Stored()),
        ("cluster", filter.ClusterId),
        ("page", filter.PageId),
        ("topic", filter.TopicId),
        ("assignee", filter.Assignee?.Trim()),
    ]);

    /// <summary>What there is of each kind, in the order of the kinds; kinds without a finding are left out.</summary>
    /// <param name="session">The session.</param>
    /// <param name="filter">Which findings.</param>
    /// <param name="search">Words to be found, as in lists; null for none.</param>
    /// <param name="first">How many of each kind are named.</param>
    public static IReadOnlyList<FindingKindSummary> ByKind(Session session, FindingFilter filter, string? search, int first)
    {
        var (conditions, parameters) = Of(filter);
        var where = string.Join(" and ", conditions.Append(string.IsNullOrWhiteSpace(search) ? null : Rows.Search).Where(c => c is not null).Prepend("true"));
        return
        [
            .. session.List(
                $"""
                select f.kind, count(*), sum(f.state = 'open'), sum(f.demand), sum(f.at_stake), sum(f.page_count), sum(f.at_stake < {Small}), sum(iif(f.at_stake < {Small}, f.at_stake, 0.0))
                from finding f
                where {where}
                group by f.kind
                """,
                r => new FindingKindSummary(
                    r.Enum<FindingKind>(0), r.GetInt64(1), r.GetInt64(2), r.GetInt64(3), r.GetDouble(4), r.GetInt64(5), r.GetInt64(6), r.GetDouble(7), []),
                [.. parameters, ("search", ListQuery.Pattern(search?.Trim() ?? ""))])
            .OrderBy(k => k.Kind)
            .Select(k => k with { First = List(session, new ListQuery(search, Limit: first), filter with { Kind = k.Kind, IsSmall = false }).Rows }),
        ];
    }

    /// <summary>The findings that a filter lets through, gathered by what they have in common; most at stake first.</summary>
    public static IReadOnlyList<FindingBundle> Bundles(Session session, FindingsBy by, FindingFilter filter)
    {
        var (conditions, parameters) = Of(filter);
        var where = string.Join(" and ", conditions.Where(c => c is not null).Prepend("true"));
        var (key, name, from) = by == FindingsBy.Page
            ? ("g2.page_id", "g2.url", " left join finding_page x on x.finding_id = f.finding_id left join page g2 on g2.page_id = x.page_id")
            : ("t.topic_id", "coalesce(t.name, tc.name, tp.phrase)", "");
        return session.List(
            $"""
            select cast(coalesce({key}, '') as text), coalesce(max({name}), ''), count(*), sum(f.state = 'open'), sum({(by == FindingsBy.Page ? "f.at_stake" : "iif(@kind is null, f.counted, f.at_stake)")}) as stake
            from {Rows.From}{from}
            where {where}
            group by {key}
            order by stake desc, 2
            """,
            r => new FindingBundle(r.GetString(0), r.GetString(1), r.GetInt64(2), r.GetInt64(3), r.GetDouble(4)),
            parameters);
    }

    /// <returns>Everybody who works on a finding.</returns>
    public static IReadOnlyList<string> Assignees(Session session) => session.List(
        "select distinct assignee from finding_decision where assignee <> '' order by assignee collate nocase", r => r.GetString(0));

    /// <returns>The keys of the findings that are chosen, in their own order.</returns>
    public static IReadOnlyList<string> Select(Session session, FindingSelection selection)
    {
        if (selection.Keys is { } keys)
            return [.. keys.Distinct(StringComparer.Ordinal).Where(k => session.Count("select count(*) from finding where finding_key = @key", ("key", k)) > 0)];
        return [.. List(session, new ListQuery(selection.Search, Limit: int.MaxValue), selection.Filter ?? new FindingFilter()).Rows.Select(f => f.Key)];
    }

    public static FindingRow? Find(Session session, string key) => session.First(
        $"select {Rows.Columns} from {Rows.From} where f.finding_key = @key", Read, ("key", key));

    /// <returns>How many findings of each kind are in each state, and the clicks at stake.</returns>
    public static IReadOnlyList<(FindingKind Kind, FindingState State, long Count, double AtStake)> Counts(Session session) => session.List(
        "select kind, state, count(*), sum(at_stake) from finding group by kind, state",
        r => (r.Enum<FindingKind>(0), r.Enum<FindingState>(1), r.GetInt64(2), r.GetDouble(3)));

    /// <returns>The findings of a kind that are open.</returns>
    public static OpenFindings Open(Session session, FindingKind kind)
    {
        var page = List(session, new ListQuery(Limit: 1), new FindingFilter(kind, State: FindingState.Open));
        return new OpenFindings(page.Tally.Rows, page.Tally.AtStake, page.Rows is [var largest] ? largest.Subject : "");
    }

    /// <returns>All pages of a finding: the one to keep or to mend first.</returns>
    public static IReadOnlyList<FindingPage> PagesOf(Session session, string key, int most = int.MaxValue) => session.List(
        """
        select g.page_id, g.url, g.title
        from finding f join finding_page x on x.finding_id = f.finding_id join page g on g.page_id = x.page_id
        where f.finding_key = @key
        order by x.place
        limit @most
        """,
        r => new FindingPage(r.Id<PageId>(0), r.GetString(1), r.TextOrNull(2)),
        ("key", key), ("most", (long)most));

    /// <returns>By what a finding shows itself, most at stake first.</returns>
    /// <param name="session">The session.</param>
    /// <param name="key">The finding.</param>
    /// <param name="others">How many other pages are named of each sign.</param>
    public static IReadOnlyList<FindingSign> SignsOf(Session session, string key, int others)
    {
        if (session.Scalar("select content from finding where finding_key = @key", ("key", key)) is not string content)
            return [];
        var signs = FindingContent.Of(content).Signs;
        var keywords = Named(
            session, "select keyword_id, phrase, volume from keyword where keyword_id in (select value from json_each(@ids))",
            signs.SelectMany(s => s.Facts).Select(f => f.KeywordId?.Value), r => (Phrase: r.GetString(1), Volume: r.LongOrNull(2)));
        var pages = Named(
            session, "select page_id, url, title from page where page_id in (select value from json_each(@ids))",
            signs.SelectMany(s => s.Others.Take(others).Select(o => (long?)o.Value).Prepend(s.PageId?.Value)), r => new FindingPage(r.Id<PageId>(0), r.GetString(1), r.TextOrNull(2)));
        var clusters = Named(
            session, "select c.cluster_id, coalesce(c.name, p.phrase) from cluster c join keyword p on p.keyword_id = c.primary_keyword_id where c.cluster_id in (select value from json_each(@ids))",
            signs.SelectMany(s => new[] { s.ClusterId?.Value, s.OtherClusterId?.Value }), r => r.GetString(1));
        string? ClusterName(ClusterId? id) => id is { } c ? clusters.GetValueOrDefault(c.Value) : null;
        return
        [
            .. signs.Select(s => new FindingSign(
                s.Kind, s.ClusterId, ClusterName(s.ClusterId), ClusterName(s.OtherClusterId), s.PageId is { } page ? pages.GetValueOrDefault(page.Value) : null,
                [.. s.Others.Take(others).Select(o => pages.GetValueOrDefault(o.Value)).OfType<FindingPage>()], s.Others.Length, s.AtStake,
                [
                    .. s.Facts.Where(f => f.KeywordId is null || keywords.ContainsKey(f.KeywordId.Value.Value)).Select(f => f.KeywordId is { } k
                        ? new FindingEvidence(k, keywords[k.Value].Phrase, keywords[k.Value].Volume, f.Position, f.OtherPosition, f.AtStake, f.Share, f.Count)
                        : new FindingEvidence(null, null, null, f.Position, f.OtherPosition, f.AtStake, f.Share, f.Count)),
                ])),
        ];
    }

    private static Dictionary<long, T> Named<T>(Session session, string sql, IEnumerable<long?> ids, Func<SqliteDataReader, T> read) =>
        session.List(sql, r => (Id: r.GetInt64(0), Value: read(r)), ("ids", "[" + string.Join(',', ids.OfType<long>().Distinct()) + "]")).ToDictionary(x => x.Id, x => x.Value);

    private static FindingRow Read(SqliteDataReader r)
    {
        var (kind, cluster, pageCount, folder) = (r.Enum<FindingKind>(1), r.TextOrNull(8), r.GetInt64(13), r.TextOrNull(14));
        var (pages, host) = (PagesIn(r.GetString(20)), r.GetString(21));
        return new(
            r.GetString(0), kind, r.Enum<FindingState>(2), r.GetString(3), r.GetString(4), r.GetString(5), r.EnumOrNull<Remedy>(6), r.IdOrNull<ClusterId>(7), cluster, r.GetInt64(9),
            r.IdOrNull<TopicId>(10), r.TextOrNull(11), r.TextOrNull(12), pages, pageCount, folder, r.GetDouble(15), r.GetDouble(16),
            [.. r.GetString(17).Split(FindingContent.Separator).Select(code => SignOf[code])], r.GetString(19),
            FindingText.Subject(kind, cluster, [.. pages.Select(p => ShortUrl.Of(p.Url, host))], (int)pageCount, folder), r.GetString(18));
    }

    private static readonly Dictionary<string, SignKind> SignOf = Enum.GetValues<SignKind>().ToDictionary(k => k.Code(), StringComparer.Ordinal);

    /// <param name="json">A list of lists: id, URL, title.</param>
    internal static IReadOnlyList<FindingPage> PagesIn(string json)
    {
        using var pages = JsonDocument.Parse(json);
        return [.. pages.RootElement.EnumerateArray().Select(p => new FindingPage(new PageId(p[0].GetInt64()), p[1].GetString()!, p[2].GetString()))];
    }
}
