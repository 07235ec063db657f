using System.Text.Json;
using JadeOrchard.Core.Findings;
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
public sealed record FindingRow(
    string Key,
    FindingKind Kind,
    FindingState State,
    string Reason,
    string Assignee,
    string Note,
    Remedy? Remedy,
    long? ClusterId,
    string? ClusterName,
    long Demand,
    long? TopicId,
    string? TopicName,
    long? OtherClusterId,
    string? OtherClusterName,
    string? Keyword,
    long? PageId,
    string? PageUrl,
    string? PageTitle,
    bool IsPageDecided,
    long? OtherPageId,
    string? OtherPageUrl,
    string? OtherPageTitle,
    double AtStake,
    string FirstFoundAt);

/// <summary>What is to be done about two pages that stand in each other's way, or should be linked.</summary>
public enum Remedy
{
    /// <summary>Keep one, redirect the other to it.</summary>
    Redirect,

    /// <summary>Bring the texts together on one, redirect the other.</summary>
    Merge,

    /// <summary>The other gets searches of its own.</summary>
    NewTarget,

    /// <summary>One is declared the canonical of the other.</summary>
    Canonical,

    /// <summary>Link from one to the other.</summary>
    Link,
}

/// <summary>What shows a finding, by name; see <see cref="FindingFact"/>.</summary>
public sealed record FindingEvidence(
    long? KeywordId, string? Keyword, long? Volume, double Position, double OtherPosition, double AtStake, double Share, double Count);

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
    FindingKind? Kind = null, FindingState? State = null, bool AnyState = false, long? ClusterId = null, long? PageId = null, FindingGroup? Group = null,
    long? TopicId = null, string? Assignee = null);

/// <summary>By what findings are gathered.</summary>
public enum FindingsBy
{
    Kind,
    Page,
    Topic,
}

/// <summary>Two pages that the planner wants as they are.</summary>
public sealed record DeliberatePair(long PageId, string PageUrl, long OtherPageId, string OtherPageUrl, string Reason, string DeclaredAt);

/// <summary>Findings that have something in common.</summary>
/// <param name="Key">The kind, in camel case, or the id of the page or topic; empty for those without one.</param>
/// <param name="Says">Its name.</param>
public sealed record FindingBundle(string Key, string Says, long Count, long Open, double AtStake);

/// <summary>Which findings a change is about: some of them, or all that a filter lets through.</summary>
public sealed record FindingSelection(IReadOnlyList<string>? Keys = null, FindingFilter? Filter = null, string? Search = null);

/// <summary>A finding as it was computed, with ids.</summary>
/// <param name="Facts">Made when they are needed.</param>
/// <param name="FactsAreKnown">They are those that are stored under this key.</param>
public sealed record ComputedFinding(
    string Key, FindingKind Kind, long? ClusterId, long? OtherClusterId, long? KeywordId, long? PageId, long? OtherPageId, double AtStake,
    Func<IReadOnlyList<StoredFact>> Facts, bool FactsAreKnown = false);

/// <summary>One fact as it is stored.</summary>
public sealed record StoredFact(long? KeywordId, double Position, double OtherPosition, double AtStake, double Share = 0, double Count = 0);

/// <summary>Findings and what the planner made of them.</summary>
public static class FindingStore
{
    private static readonly ListSource<FindingRow> Rows = new(
        "f.finding_key",
        """
        f.finding_key, f.kind, f.state, coalesce(d.reason, ''), coalesce(d.assignee, ''), coalesce(d.note, ''), r.remedy, f.cluster_id, coalesce(c.name, p.phrase),
        coalesce(c.demand, 0), t.topic_id, coalesce(t.name, tc.name, tp.phrase), f.other_cluster_id, coalesce(oc.name, op.phrase), k.phrase, f.page_id, g.url, g.title, a.page_id is not null,
        f.other_page_id, og.url, og.title, f.at_stake, f.first_found_at
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
        """,
        "count(*), count(distinct f.cluster_id), coalesce(sum(c.demand), 0), null, coalesce(sum(iif(@kind is null, f.counted, f.at_stake)), 0.0), 0",
        "(coalesce(c.name, '') || ' ' || coalesce(p.phrase, '') || ' ' || coalesce(k.phrase, '') || ' ' || coalesce(g.url, '') || ' ' || coalesce(og.url, '') || ' ' || coalesce(d.note, ''))",
        new Dictionary<string, string>
        {
            ["kind"] = "f.kind",
            ["state"] = "f.state",
            ["clusterName"] = "coalesce(c.name, p.phrase)",
            ["demand"] = "c.demand",
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
        Narrow = "finding f left join cluster c on c.cluster_id = f.cluster_id left join finding_decision d on d.finding_key = f.finding_key",
        WideSorts = new HashSet<string> { "clusterName", "keyword", "pageUrl", "otherPageUrl", "topicName" },
    };

    public static ListPage<FindingRow> List(Session session, ListQuery query, FindingFilter filter)
    {
        var (conditions, parameters) = Of(filter);
        return Rows.Page(session, query, conditions, parameters);
    }

    private static (string?[] Conditions, (string, object?)[] Parameters) Of(FindingFilter filter) => (
    [
        filter.Kind is null ? null : "f.kind = @kind",
        filter.AnyState ? null : filter.State is null ? "f.state in ('open', 'accepted')" : "f.state = @state",
        filter.ClusterId is null ? null : "(f.cluster_id = @cluster or f.other_cluster_id = @cluster)",
        filter.PageId is null ? null : "(f.page_id = @page or f.other_page_id = @page)",
        filter.Group is { } group ? $"f.kind in ({KindsOf(group)})" : null,
        filter.TopicId is null ? null : "c.topic_id = @topic",
        filter.Assignee is null ? null : "coalesce(d.assignee, '') = @assignee collate nocase",
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
        var (key, says) = by switch
        {
            FindingsBy.Kind => ("f.kind", "f.kind"),
            FindingsBy.Page => ("coalesce(f.page_id, '')", "coalesce(g.url, '')"),
            _ => ("coalesce(t.topic_id, '')", "coalesce(t.name, tc.name, tp.phrase, '')"),
        };
        return session.List(
            $"""
            select cast({key} as text), max({says}), count(*), sum(f.state = 'open'), sum(iif(@kind is null, f.counted, f.at_stake)) as stake
            from {Rows.From}
            where {where}
            group by {key}
            order by stake desc, 2
            """,
            r => new FindingBundle(
                by == FindingsBy.Kind ? JsonNamingPolicy.CamelCase.ConvertName(r.Enum<FindingKind>(0).ToString()) : r.GetString(0), r.GetString(1), r.GetInt64(2), r.GetInt64(3), r.GetDouble(4)),
            parameters);
    }

    /// <returns>Everybody who works on a finding.</returns>
    public static IReadOnlyList<string> Assignees(Session session) => session.List(
        "select distinct assignee from finding_decision where assignee <> '' order by assignee collate nocase", r => r.GetString(0));

    /// <returns>The keys of the findings that are chosen, in their own order.</returns>
    public static IReadOnlyList<string> Choose(Session session, FindingSelection selection)
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

    public static IReadOnlyList<FindingEvidence> Evidence(Session session, string key)
    {
        var facts = JsonSerializer.Deserialize<StoredFact[]>(
            session.Scalar("select facts from finding where finding_key = @key", ("key", key)) as string ?? "[]")!;
        return [.. facts.Select(f => f.KeywordId is null
            ? new FindingEvidence(null, null, null, f.Position, f.OtherPosition, f.AtStake, f.Share, f.Count)
            : session.First(
                "select phrase, volume from keyword where keyword_id = @id",
                r => new FindingEvidence(f.KeywordId, r.GetString(0), r.LongOrNull(1), f.Position, f.OtherPosition, f.AtStake, f.Share, f.Count),
                ("id", f.KeywordId))).OfType<FindingEvidence>()];
    }

    /// <summary>Puts newly computed findings in the place of the old ones; decisions stay, and decide the states. Only what differs is written.</summary>
    public static void Save(Session session, IReadOnlyList<ComputedFinding> findings, DateTimeOffset now)
    {
        session.Execute(
            """
            delete from finding
            where (cluster_id is not null and not exists (select 1 from cluster c where c.cluster_id = finding.cluster_id))
              or (cluster_id is null and not exists (select 1 from page g where g.page_id = finding.page_id));
            """);
        var stored = StoredFinding.All(session);
        var present = findings.Select(f => f.Key).ToHashSet(StringComparer.Ordinal);
        foreach (var gone in stored.Values.Where(f => f.IsPresent && !present.Contains(f.Key)).ToList())
        {
            session.Execute(
                """
                update finding set present = 0, state = 'resolved' where finding_key = @key;
                update finding_decision set went_away = 1 where finding_key = @key;
                """,
                ("key", gone.Key));
            stored[gone.Key] = gone with { IsPresent = false, State = FindingState.Resolved };
        }

        var version = ProjectStore.DataVersion(session);
        var decisions = Decisions(session);
        using var upsert = session.Command(
            """
            insert into finding
            values (@key, @kind, @cluster, @other_cluster, @keyword, @page, @other_page, @stake, coalesce(@facts, '[]'), 1, @state, @now, 0)
            on conflict (finding_key) do update set
              cluster_id = excluded.cluster_id, other_cluster_id = excluded.other_cluster_id, keyword_id = excluded.keyword_id,
              page_id = excluded.page_id, other_page_id = excluded.other_page_id, at_stake = excluded.at_stake,
              facts = coalesce(@facts, facts), present = 1, state = excluded.state
            """);
        foreach (var name in new[] { "key", "kind", "cluster", "other_cluster", "keyword", "page", "other_page", "stake", "facts", "state", "now" })
            upsert.Parameters.Add(new SqliteParameter("@" + name, DBNull.Value));
        using var storedFacts = session.Command("select facts from finding where finding_key = @key", ("key", ""));
        foreach (var finding in findings)
        {
            var decision = decisions.GetValueOrDefault(finding.Key);
            var state = FindingStates.After(decision?.State ?? FindingState.Open, true, decision?.WentAway ?? false, decision?.DataVersion < version);
            var before = stored.GetValueOrDefault(finding.Key);
            var after = new StoredFinding(
                finding.Key, finding.Kind, finding.ClusterId, finding.OtherClusterId, finding.KeywordId, finding.PageId, finding.OtherPageId, finding.AtStake, IsPresent: true, state, before?.Counted ?? 0);
            var isSame = before == after;
            var factsAreKnown = finding.FactsAreKnown && before is not null;
            if (isSame && factsAreKnown)
                continue;
            var facts = factsAreKnown ? null : JsonSerializer.Serialize(finding.Facts());
            if (isSame)
            {
                storedFacts.Parameters[0].Value = finding.Key;
                if ((string)storedFacts.ExecuteScalar()! == facts)
                    continue;
            }

            stored[finding.Key] = after;
            object?[] values =
            [
                finding.Key, finding.Kind.Stored(), finding.ClusterId, finding.OtherClusterId, finding.KeywordId, finding.PageId, finding.OtherPageId, finding.AtStake, facts, state.Stored(),
                now.UtcDateTime.ToString("O"),
            ];
            for (var i = 0; i < values.Length; i++)
                upsert.Parameters[i].Value = values[i] ?? DBNull.Value;
            upsert.ExecuteNonQuery();
        }

        FindingTallies.Refresh(session, stored.Values);
    }

    /// <summary>Keeps what the planner says of findings, and works the states out again once.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="keys">The findings.</param>
    /// <param name="state">The state.</param>
    /// <param name="reason">Needed where it is dismissed.</param>
    /// <param name="now">When.</param>
    public static void Decide(Session session, IReadOnlyList<string> keys, FindingState state, string reason, DateTimeOffset now)
    {
        using var command = session.Command(
            """
            insert into finding_decision (finding_key, state, reason, data_version, went_away, decided_at)
            values (@key, @state, @reason, (select version from data_state), 0, @now)
            on conflict (finding_key) do update set
              state = excluded.state, reason = excluded.reason, data_version = excluded.data_version, went_away = 0, decided_at = excluded.decided_at
            """,
            ("key", ""), ("state", state.Stored()), ("reason", reason), ("now", now.UtcDateTime.ToString("O")));
        foreach (var key in keys)
        {
            command.Parameters[0].Value = key;
            command.ExecuteNonQuery();
        }

        RefreshStates(session);
    }

    /// <summary>Says that two pages are wanted as they are, so that they raise nothing.</summary>
    public static void DeclarePair(Session session, long pageId, long otherPageId, string reason, DateTimeOffset now) => session.Execute(
        """
        insert into deliberate_pair (page_id, other_page_id, reason, declared_at) values (@page, @other, @reason, @now)
        on conflict (page_id, other_page_id) do update set reason = excluded.reason, declared_at = excluded.declared_at
        """,
        ("page", Math.Min(pageId, otherPageId)), ("other", Math.Max(pageId, otherPageId)), ("reason", reason), ("now", now.UtcDateTime.ToString("O")));

    /// <summary>Takes back that two pages are wanted as they are.</summary>
    public static void TakePairBack(Session session, long pageId, long otherPageId) => session.Execute(
        "delete from deliberate_pair where page_id = @page and other_page_id = @other", ("page", Math.Min(pageId, otherPageId)), ("other", Math.Max(pageId, otherPageId)));

    /// <returns>The pairs of pages that are wanted as they are, newest first.</returns>
    public static IReadOnlyList<DeliberatePair> DeliberatePairs(Session session) => session.List(
        """
        select d.page_id, g.url, d.other_page_id, og.url, d.reason, d.declared_at
        from deliberate_pair d
        join page g on g.page_id = d.page_id
        join page og on og.page_id = d.other_page_id
        order by d.declared_at desc, d.pair_id
        """,
        r => new DeliberatePair(r.GetInt64(0), r.GetString(1), r.GetInt64(2), r.GetString(3), r.GetString(4), r.GetString(5)));

    /// <summary>Keeps who works on findings, or what was noted; null leaves it as it is.</summary>
    public static void Annotate(Session session, IReadOnlyList<string> keys, string? assignee, string? note, DateTimeOffset now)
    {
        using var command = session.Command(
            """
            insert into finding_decision (finding_key, state, reason, data_version, went_away, decided_at, assignee, note)
            values (@key, 'open', '', (select version from data_state), 0, @now, coalesce(@assignee, ''), coalesce(@note, ''))
            on conflict (finding_key) do update set assignee = coalesce(@assignee, assignee), note = coalesce(@note, note)
            """,
            ("key", ""), ("now", now.UtcDateTime.ToString("O")), ("assignee", assignee?.Trim()), ("note", note?.Trim()));
        foreach (var key in keys)
        {
            command.Parameters[0].Value = key;
            command.ExecuteNonQuery();
        }
    }

    /// <summary>Works the states of all findings out again from the decisions, after one was made or undone.</summary>
    public static void RefreshStates(Session session)
    {
        var version = ProjectStore.DataVersion(session);
        var decisions = Decisions(session);
        var stored = StoredFinding.All(session);
        foreach (var finding in stored.Values.ToList())
        {
            var decision = decisions.GetValueOrDefault(finding.Key);
            var now = FindingStates.After(decision?.State ?? FindingState.Open, finding.IsPresent, decision?.WentAway ?? false, decision?.DataVersion < version);
            if (now == finding.State)
                continue;
            session.Execute("update finding set state = @state where finding_key = @key", ("state", now.Stored()), ("key", finding.Key));
            stored[finding.Key] = finding with { State = now };
        }

        FindingTallies.Refresh(session, stored.Values);
    }

    private sealed record Decision(FindingState State, long DataVersion, bool WentAway);

    private static Dictionary<string, Decision> Decisions(Session session)
    {
        var decisions = new Dictionary<string, Decision>(StringComparer.Ordinal);
        session.List(
            "select finding_key, state, data_version, went_away from finding_decision",
            r => decisions[r.GetString(0)] = new Decision(r.Enum<FindingState>(1), r.GetInt64(2), r.GetInt64(3) == 1));
        return decisions;
    }

    private static FindingRow Read(SqliteDataReader r) => new(
        r.GetString(0), r.Enum<FindingKind>(1), r.Enum<FindingState>(2), r.GetString(3), r.GetString(4), r.GetString(5), r.EnumOrNull<Remedy>(6), r.LongOrNull(7),
        r.TextOrNull(8), r.GetInt64(9), r.LongOrNull(10), r.TextOrNull(11), r.LongOrNull(12), r.TextOrNull(13), r.TextOrNull(14), r.LongOrNull(15), r.TextOrNull(16),
        r.TextOrNull(17), r.GetInt64(18) == 1, r.LongOrNull(19), r.TextOrNull(20), r.TextOrNull(21), r.GetDouble(22), r.GetString(23));
}
