using System.Text.Json;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Overview;
using JadeOrchard.Core.Site;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Findings;

/// <summary>A finding as lists show it.</summary>
/// <param name="Key">Stays the same when findings are computed again.</param>
/// <param name="AtStake">Clicks per month, estimated.</param>
/// <param name="Reason">Why it was dismissed; empty where it was not.</param>
/// <param name="Assignee">Who works on it, as the planner wrote it; empty for nobody.</param>
/// <param name="Note">What the planner noted; empty where nothing.</param>
/// <param name="Remedy">What is to be done about it; null where nothing was decided.</param>
/// <param name="IsPageDecided">The page is assigned by the planner, not just suggested.</param>
/// <param name="Sentence">What it says.</param>
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
    ClusterId? OtherClusterId,
    string? OtherClusterName,
    string? Keyword,
    PageId? PageId,
    string? PageUrl,
    string? PageTitle,
    bool IsPageDecided,
    PageId? OtherPageId,
    string? OtherPageUrl,
    string? OtherPageTitle,
    double AtStake,
    string FirstFoundAt,
    string Sentence)
{
    /// <summary>What its kind is called: "rivals in results".</summary>
    public string Name => FindingText.Name(Kind);

    public FindingGroup Group => Kind.Group();

    /// <summary>What is to be done about it, in words; null where nothing was decided.</summary>
    public string? RemedyName => Remedy is { } remedy ? FindingText.Name(remedy) : null;

    /// <summary>To be sent back with a change, so that one made meanwhile is not overwritten.</summary>
    public string Version => RowVersion.Of(State, Reason, Assignee, Note, Remedy);
}

/// <summary>What shows a finding, by name; see <see cref="FindingFact"/>.</summary>
public sealed record FindingEvidence(
    KeywordId? KeywordId, string? Keyword, long? Volume, double Position, double OtherPosition, double AtStake, double Share, double Count);

/// <summary>Which findings are wanted.</summary>
/// <param name="Kind">Only this one.</param>
/// <param name="State">Only in this state; null for those that still wait: open and accepted.</param>
/// <param name="AnyState">All states.</param>
/// <param name="ClusterId">Only about this cluster.</param>
/// <param name="PageId">Only about this page.</param>
/// <param name="Group">Only kinds of this group.</param>
/// <param name="TopicId">Only about clusters of this topic.</param>
/// <param name="Assignee">Only those this person works on; empty for those nobody does.</param>
public sealed record FindingFilter(
    FindingKind? Kind = null, FindingState? State = null, bool AnyState = false, ClusterId? ClusterId = null, PageId? PageId = null, FindingGroup? Group = null,
    TopicId? TopicId = null, string? Assignee = null);

/// <summary>By what findings are gathered.</summary>
public enum FindingsBy
{
    Kind,
    Page,
    Topic,
}

/// <summary>Findings that have something in common.</summary>
/// <param name="Key">The kind, in camel case, or the id of the page or topic; empty for those without one.</param>
/// <param name="Name">That of the kind or topic, or the URL of the page; empty for those without one.</param>
/// <param name="Group">That of the kind; null for pages and topics.</param>
public sealed record FindingBundle(string Key, string Name, FindingGroup? Group, long Count, long Open, double AtStake);

/// <summary>Which findings a change is about: some of them, or all that a filter lets through.</summary>
public sealed record FindingSelection(IReadOnlyList<string>? Keys = null, FindingFilter? Filter = null, string? Search = null);

/// <summary>Findings as lists and panes show them.</summary>
public static class FindingStore
{
    private static readonly ListSource<FindingRow> Rows = new(
        "f.finding_key",
        """
        f.finding_key, f.kind, f.state, coalesce(d.reason, ''), coalesce(d.assignee, ''), coalesce(d.note, ''), r.remedy, f.cluster_id, coalesce(c.name, p.phrase),
        f.demand, t.topic_id, coalesce(t.name, tc.name, tp.phrase), f.other_cluster_id, coalesce(oc.name, op.phrase), k.phrase, f.page_id, g.url, g.title, a.page_id is not null,
        f.other_page_id, og.url, og.title, f.at_stake, coalesce(e.first_found_at, ''),
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
        left join cluster oc on oc.cluster_id = f.other_cluster_id
        left join keyword op on op.keyword_id = oc.primary_keyword_id
        left join page g on g.page_id = f.page_id
        left join page og on og.page_id = f.other_page_id
        left join assignment a on a.cluster_id = f.cluster_id and a.page_id = f.page_id
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
          union all select finding_id from finding where cluster_id in (
            select cluster_id from cluster where primary_keyword_id in hit
            union all select cluster_id from cluster indexed by cluster_by_name where name is not null and {ListSource<FindingRow>.Like("name")})
          union all select finding_id from finding where page_id in near
          union all select finding_id from finding where other_page_id in near
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
            ["otherPageUrl"] = "og.url",
            ["topicName"] = "coalesce(t.name, tc.name, tp.phrase)",
            ["assignee"] = "nullif(d.assignee, '')",
            ["atStake"] = "f.at_stake",
        },
        "f.at_stake desc, f.finding_key",
        Read)
    {
        Narrow = "finding f",
        WideSorts = new HashSet<string> { "clusterName", "keyword", "pageUrl", "otherPageUrl", "topicName", "assignee" },
    };

    public static ListPage<FindingRow> List(Session session, ListQuery query, FindingFilter filter)
    {
        var (conditions, parameters) = Of(filter);
        return Rows.Page(session, query, conditions, parameters);
    }

    /// <returns>The findings about some clusters that wait, most at stake first.</returns>
    public static IReadOnlyList<FindingRow> About(Session session, IReadOnlyCollection<ClusterId> clusterIds)
    {
        const string about =
            """
            f.finding_key in (
              select finding_key from finding where cluster_id in (select value from json_each(@clusters))
              union
              select finding_key from finding where other_cluster_id in (select value from json_each(@clusters)))
            """;
        var (conditions, parameters) = Of(new FindingFilter());
        return Rows.Page(session, new ListQuery(Limit: int.MaxValue), [.. conditions, about], [.. parameters, ("clusters", "[" + string.Join(',', clusterIds) + "]")]).Rows;
    }

    private static (string?[] Conditions, (string, object?)[] Parameters) Of(FindingFilter filter) => (
    [
        filter.Kind is null ? null : "f.kind = @kind",
        filter.AnyState ? null : filter.State is null ? FindingCounts.Waits : "f.state = @state",
        filter.ClusterId is null ? null : "(f.cluster_id = @cluster or f.other_cluster_id = @cluster)",
        filter.PageId is null ? null : "(f.page_id = @page or f.other_page_id = @page)",
        filter.Group is { } group ? $"+f.kind in ({KindsOf(group)})" : null,
        filter.TopicId is null ? null : "f.cluster_id in (select cluster_id from cluster where topic_id = @topic)",
        filter.Assignee is null ? null : "coalesce((select d.assignee from finding_decision d where d.finding_key = f.finding_key), '') = @assignee collate nocase",
    ],
    [
        ("kind", filter.Kind?.Stored()),
        ("state", filter.State?.Stored()),
        ("cluster", filter.ClusterId),
        ("page", filter.PageId),
        ("topic", filter.TopicId),
        ("assignee", filter.Assignee?.Trim()),
    ]);

    /// <summary>The kinds of a group, as a list for SQL.</summary>
    private static string KindsOf(FindingGroup group) =>
        string.Join(", ", Enum.GetValues<FindingKind>().Where(k => k.Group() == group).Select(k => $"'{k.Stored()}'"));

    /// <summary>The findings that a filter lets through, gathered by what they have in common; most at stake first.</summary>
    public static IReadOnlyList<FindingBundle> Bundles(Session session, FindingsBy by, FindingFilter filter)
    {
        var (conditions, parameters) = Of(filter);
        var where = string.Join(" and ", conditions.Where(c => c is not null).Prepend("true"));
        var (key, name) = by switch
        {
            FindingsBy.Kind => ("f.kind", "f.kind"),
            FindingsBy.Page => ("coalesce(f.page_id, '')", "coalesce(g.url, '')"),
            _ => ("coalesce(t.topic_id, '')", "coalesce(t.name, tc.name, tp.phrase, '')"),
        };
        return session.List(
            $"""
            select cast({key} as text), max({name}), count(*), sum(f.state = 'open'), sum(iif(@kind is null, f.counted, f.at_stake)) as stake
            from {Rows.From}
            where {where}
            group by {key}
            order by stake desc, 2
            """,
            r =>
            {
                var kind = by == FindingsBy.Kind ? r.Enum<FindingKind>(0) : (FindingKind?)null;
                return new FindingBundle(
                    kind is null ? r.GetString(0) : JsonNamingPolicy.CamelCase.ConvertName($"{kind}"), kind is { } named ? FindingText.Name(named) : r.GetString(1), kind?.Group(), r.GetInt64(2),
                    r.GetInt64(3), r.GetDouble(4));
            },
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

    /// <returns>The findings of some kinds that are open. Those about the same matter are about the same clicks, so the largest of them counts.</returns>
    public static OpenFindings Open(Session session, IReadOnlyList<FindingKind> kinds)
    {
        var those = $"from finding f where f.state = 'open' and f.kind in ({string.Join(", ", kinds.Select(k => $"'{k.Stored()}'"))})";
        var (count, atStake) = session.First($"select count(*), coalesce(sum({(kinds.Count > 1 ? "f.counted" : "f.at_stake")}), 0.0) {those}", r => Tuple.Create(r.GetInt64(0), r.GetDouble(1)))!;
        var largest = count == 0 ? null : Find(session, (string)session.Scalar($"select f.finding_key {those} order by f.at_stake desc, f.finding_key limit 1")!);
        return new OpenFindings(count, atStake, largest?.ClusterName ?? largest?.PageUrl ?? "");
    }

    public static IReadOnlyList<FindingEvidence> Evidence(Session session, string key)
    {
        var facts = JsonSerializer.Deserialize(
            session.Scalar("select facts from finding where finding_key = @key", ("key", key)) as string ?? "[]", StoredFactJson.Default.StoredFactArray)!;
        return [.. facts.Select(f => f.KeywordId is null
            ? new FindingEvidence(null, null, null, f.Position, f.OtherPosition, f.AtStake, f.Share, f.Count)
            : session.First(
                "select phrase, volume from keyword where keyword_id = @id",
                r => new FindingEvidence(f.KeywordId, r.GetString(0), r.LongOrNull(1), f.Position, f.OtherPosition, f.AtStake, f.Share, f.Count),
                ("id", f.KeywordId))).OfType<FindingEvidence>()];
    }

    private static FindingRow Read(SqliteDataReader r)
    {
        var (kind, otherCluster, pageUrl, isPageDecided, otherPageUrl) = (r.Enum<FindingKind>(1), r.TextOrNull(13), r.TextOrNull(16), r.GetInt64(18) == 1, r.TextOrNull(20));
        var host = r.GetString(24);
        string? Short(string? url) => url is null ? null : ShortUrl.Of(url, host);
        return new(
            r.GetString(0), kind, r.Enum<FindingState>(2), r.GetString(3), r.GetString(4), r.GetString(5), r.EnumOrNull<Remedy>(6), r.IdOrNull<ClusterId>(7), r.TextOrNull(8), r.GetInt64(9),
            r.IdOrNull<TopicId>(10), r.TextOrNull(11), r.IdOrNull<ClusterId>(12), otherCluster, r.TextOrNull(14), r.IdOrNull<PageId>(15), pageUrl, r.TextOrNull(17), isPageDecided, r.IdOrNull<PageId>(19), otherPageUrl,
            r.TextOrNull(21), r.GetDouble(22), r.GetString(23), FindingText.Sentence(kind, Short(pageUrl), isPageDecided, Short(otherPageUrl), otherCluster));
    }
}
