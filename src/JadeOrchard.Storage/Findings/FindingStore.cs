using System.Text.Json;
using JadeOrchard.Core.Findings;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Findings;

/// <summary>A finding as lists show it.</summary>
/// <param name="Key">Stays the same when findings are computed again.</param>
/// <param name="AtStake">Clicks per month, estimated.</param>
/// <param name="Reason">Why it was dismissed, or what the planner noted; empty where nothing.</param>
/// <param name="IsPageDecided">The page is assigned by the planner, not just suggested.</param>
public sealed record FindingRow(
    string Key,
    FindingKind Kind,
    FindingState State,
    string Reason,
    long ClusterId,
    string ClusterName,
    long Demand,
    long? OtherClusterId,
    string? OtherClusterName,
    string Keyword,
    long? PageId,
    string? PageUrl,
    string? PageTitle,
    bool IsPageDecided,
    long? OtherPageId,
    string? OtherPageUrl,
    string? OtherPageTitle,
    double AtStake,
    string FirstFoundAt);

/// <summary>What one keyword tells about a finding, by name.</summary>
public sealed record FindingEvidence(long KeywordId, string Keyword, long? Volume, int Position, int OtherPosition, double AtStake);

/// <summary>Which findings are wanted.</summary>
/// <param name="Kind">Only this one.</param>
/// <param name="State">Only in this state; null for those that still wait: open and accepted.</param>
/// <param name="AnyState">All states.</param>
/// <param name="ClusterId">Only about this cluster.</param>
/// <param name="PageId">Only about this page.</param>
public sealed record FindingFilter(
    FindingKind? Kind = null, FindingState? State = null, bool AnyState = false, long? ClusterId = null, long? PageId = null);

/// <summary>A finding as it was computed, with ids.</summary>
public sealed record ComputedFinding(
    string Key, FindingKind Kind, long ClusterId, long? OtherClusterId, long KeywordId, long? PageId, long? OtherPageId, double AtStake,
    IReadOnlyList<StoredFact> Facts);

/// <summary>One fact as it is stored.</summary>
public sealed record StoredFact(long KeywordId, int Position, int OtherPosition, double AtStake);

/// <summary>Findings and what the planner made of them.</summary>
public static class FindingStore
{
    private static readonly ListSource<FindingRow> Rows = new(
        "f.finding_key",
        """
        f.finding_key, f.kind, f.state, coalesce(d.reason, ''), f.cluster_id, coalesce(c.name, p.phrase), c.demand,
        f.other_cluster_id, coalesce(oc.name, op.phrase), k.phrase, f.page_id, g.url, g.title, a.page_id is not null,
        f.other_page_id, og.url, og.title, f.at_stake, f.first_found_at
        """,
        """
        finding f
        join cluster c on c.cluster_id = f.cluster_id
        join keyword p on p.keyword_id = c.primary_keyword_id
        join keyword k on k.keyword_id = f.keyword_id
        left join cluster oc on oc.cluster_id = f.other_cluster_id
        left join keyword op on op.keyword_id = oc.primary_keyword_id
        left join page g on g.page_id = f.page_id
        left join page og on og.page_id = f.other_page_id
        left join assignment a on a.cluster_id = f.cluster_id and a.page_id = f.page_id
        left join finding_decision d on d.finding_key = f.finding_key
        """,
        // A cluster without a page is mostly absent as well: the same clicks, which count once.
        """
        count(*), count(distinct f.cluster_id), coalesce(sum(c.demand), 0), null,
        coalesce(sum(iif(
          f.kind = 'absent' and @kind is null
            and exists (select 1 from finding n where n.cluster_id = f.cluster_id and n.kind = 'nopage' and n.state = f.state),
          0.0, f.at_stake)), 0.0), 0
        """,
        "(coalesce(c.name, '') || ' ' || p.phrase || ' ' || k.phrase || ' ' || coalesce(g.url, '') || ' ' || coalesce(og.url, ''))",
        new Dictionary<string, string>
        {
            ["kind"] = "f.kind",
            ["state"] = "f.state",
            ["clusterName"] = "coalesce(c.name, p.phrase)",
            ["demand"] = "c.demand",
            ["keyword"] = "k.phrase",
            ["pageUrl"] = "g.url",
            ["otherPageUrl"] = "og.url",
            ["atStake"] = "f.at_stake",
        },
        "f.at_stake desc, f.finding_key",
        Read)
    {
        Narrow = "finding f join cluster c on c.cluster_id = f.cluster_id",
        WideSorts = new HashSet<string> { "clusterName", "keyword", "pageUrl", "otherPageUrl" },
    };

    public static ListPage<FindingRow> List(Session session, ListQuery query, FindingFilter filter) => Rows.Page(
        session,
        query,
        [
            filter.Kind is null ? null : "f.kind = @kind",
            filter.AnyState ? null : filter.State is null ? "f.state in ('open', 'accepted')" : "f.state = @state",
            filter.ClusterId is null ? null : "(f.cluster_id = @cluster or f.other_cluster_id = @cluster)",
            filter.PageId is null ? null : "(f.page_id = @page or f.other_page_id = @page)",
        ],
        ("kind", filter.Kind?.Stored()),
        ("state", filter.State?.Stored()),
        ("cluster", filter.ClusterId),
        ("page", filter.PageId));

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
        return [.. facts.Select(f => session.First(
            "select phrase, volume from keyword where keyword_id = @id",
            r => new FindingEvidence(f.KeywordId, r.GetString(0), r.LongOrNull(1), f.Position, f.OtherPosition, f.AtStake),
            ("id", f.KeywordId))).OfType<FindingEvidence>()];
    }

    /// <summary>Puts newly computed findings in the place of the old ones; decisions stay, and decide the states.</summary>
    public static void Save(Session session, IReadOnlyList<ComputedFinding> findings, DateTimeOffset now)
    {
        var present = findings.Select(f => f.Key).ToHashSet(StringComparer.Ordinal);
        var known = session.List("select finding_key from finding where present = 1", r => r.GetString(0));
        foreach (var gone in known.Where(k => !present.Contains(k)))
        {
            session.Execute(
                """
                update finding set present = 0, state = 'resolved' where finding_key = @key;
                update finding_decision set went_away = 1 where finding_key = @key;
                """,
                ("key", gone));
        }

        session.Execute("delete from finding where not exists (select 1 from cluster c where c.cluster_id = finding.cluster_id)");
        var version = ProjectStore.DataVersion(session);
        var decisions = Decisions(session);
        using var upsert = session.Command(
            """
            insert into finding
            values (@key, @kind, @cluster, @other_cluster, @keyword, @page, @other_page, @stake, @facts, 1, @state, @now)
            on conflict (finding_key) do update set
              cluster_id = excluded.cluster_id, other_cluster_id = excluded.other_cluster_id, keyword_id = excluded.keyword_id,
              page_id = excluded.page_id, other_page_id = excluded.other_page_id, at_stake = excluded.at_stake,
              facts = excluded.facts, present = 1, state = excluded.state
            """);
        foreach (var name in new[] { "key", "kind", "cluster", "other_cluster", "keyword", "page", "other_page", "stake", "facts", "state", "now" })
            upsert.Parameters.Add(new SqliteParameter("@" + name, DBNull.Value));
        var before = new Dictionary<string, object?[]>(StringComparer.Ordinal);
        session.List(
            "select finding_key, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts, state from finding where present = 1",
            r => before[r.GetString(0)] = [r.GetString(0), r.GetString(1), r.GetInt64(2), r.LongOrNull(3), r.GetInt64(4), r.LongOrNull(5), r.LongOrNull(6), r.GetDouble(7), r.GetString(8), r.GetString(9)]);
        foreach (var finding in findings)
        {
            var decision = decisions.GetValueOrDefault(finding.Key);
            var state = FindingStates.After(decision?.State ?? FindingState.Open, true, decision?.WentAway ?? false, decision?.DataVersion < version);
            object?[] values =
            [
                finding.Key, finding.Kind.Stored(), finding.ClusterId, finding.OtherClusterId, finding.KeywordId, finding.PageId, finding.OtherPageId,
                finding.AtStake, JsonSerializer.Serialize(finding.Facts), state.Stored(), now.UtcDateTime.ToString("O"),
            ];
            if (before.TryGetValue(finding.Key, out var stored) && stored.AsSpan().SequenceEqual(values.AsSpan(..^1)))
                continue;
            for (var i = 0; i < values.Length; i++)
                upsert.Parameters[i].Value = values[i] ?? DBNull.Value;
            upsert.ExecuteNonQuery();
        }

        RefreshTallies(session);
    }

    /// <summary>Keeps what the planner says of a finding.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="key">The finding.</param>
    /// <param name="state">The state.</param>
    /// <param name="reason">Needed where it is dismissed.</param>
    /// <param name="now">When.</param>
    public static void Decide(Session session, string key, FindingState state, string reason, DateTimeOffset now)
    {
        session.Execute(
            """
            insert into finding_decision (finding_key, state, reason, data_version, went_away, decided_at)
            values (@key, @state, @reason, (select version from data_state), 0, @now)
            on conflict (finding_key) do update set
              state = excluded.state, reason = excluded.reason, data_version = excluded.data_version, went_away = 0, decided_at = excluded.decided_at
            """,
            ("key", key), ("state", state.Stored()), ("reason", reason), ("now", now.UtcDateTime.ToString("O")));
        RefreshStates(session);
    }

    /// <summary>Works the states of all findings out again from the decisions, after one was made or undone.</summary>
    public static void RefreshStates(Session session)
    {
        var version = ProjectStore.DataVersion(session);
        var decisions = Decisions(session);
        foreach (var (key, isPresent, state) in session.List(
            "select finding_key, present, state from finding", r => (r.GetString(0), r.GetInt64(1) == 1, r.Enum<FindingState>(2))))
        {
            var decision = decisions.GetValueOrDefault(key);
            var now = FindingStates.After(decision?.State ?? FindingState.Open, isPresent, decision?.WentAway ?? false, decision?.DataVersion < version);
            if (now != state)
                session.Execute("update finding set state = @state where finding_key = @key", ("state", now.Stored()), ("key", key));
        }

        RefreshTallies(session);
    }

    /// <summary>Counts for clusters and pages what is open or accepted about them.</summary>
    private static void RefreshTallies(Session session) => UndoLog.Unrecorded(session, () => session.Execute(
        """
        -- A cluster without a page is mostly absent as well: the same clicks, which count once.
        update cluster set at_stake = f.at_stake, open_findings = f.count, conflicts = f.conflicts
        from (
          select c.cluster_id, coalesce(t.count, 0) as count, coalesce(t.at_stake, 0.0) as at_stake, coalesce(t.conflicts, 0) as conflicts
          from cluster c
          left join (
            select cluster_id, count(*) as count, sum(iif(is_conflict, at_stake, 0.0)) + max(iif(is_conflict, 0.0, at_stake)) as at_stake, sum(is_conflict) as conflicts
            from (
              select cluster_id, kind in ('rivalsinresults', 'wrongpageranks', 'sharedtarget') as is_conflict, at_stake
              from finding where state in ('open', 'accepted')
              union all
              select other_cluster_id, 1, 0.0 from finding where state in ('open', 'accepted') and other_cluster_id is not null
            )
            group by cluster_id
          ) t on t.cluster_id = c.cluster_id
        ) f
        where f.cluster_id = cluster.cluster_id
          and (cluster.at_stake, cluster.open_findings, cluster.conflicts) <> (f.at_stake, f.count, f.conflicts);
        update page set open_findings = f.count
        from (
          select g.page_id, coalesce(t.count, 0) as count
          from page g
          left join (
            select page_id, count(*) as count
            from (
              select page_id, finding_key from finding where state in ('open', 'accepted')
              union
              select other_page_id, finding_key from finding where state in ('open', 'accepted')
            )
            group by page_id
          ) t on t.page_id = g.page_id
        ) f
        where f.page_id = page.page_id and page.open_findings <> f.count;
        """));

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
        r.GetString(0), r.Enum<FindingKind>(1), r.Enum<FindingState>(2), r.GetString(3), r.GetInt64(4), r.GetString(5), r.GetInt64(6),
        r.LongOrNull(7), r.TextOrNull(8), r.GetString(9), r.LongOrNull(10), r.TextOrNull(11), r.TextOrNull(12), r.GetInt64(13) == 1,
        r.LongOrNull(14), r.TextOrNull(15), r.TextOrNull(16), r.GetDouble(17), r.GetString(18));
}
