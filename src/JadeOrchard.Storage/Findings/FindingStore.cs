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
    string FirstFoundAt)
{
    /// <summary>To be sent back with a change, so that one made meanwhile is not overwritten.</summary>
    public string Version => RowVersion.Of(State, Reason, Assignee, Note, Remedy);
}

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
public sealed record ComputedFinding(
    string Key, string Scope, FindingKind Kind, long? ClusterId, long? OtherClusterId, long? KeywordId, long? PageId, long? OtherPageId, double AtStake, IReadOnlyList<StoredFact> Facts)
{
    /// <returns>Tells other facts apart, so that they need not be read to see that they are the same; the same from run to run (XXH64).</returns>
    internal long FactsHash()
    {
        var hash = new System.IO.Hashing.XxHash64();
        Span<double> values = stackalloc double[6];
        foreach (var fact in Facts)
        {
            (values[0], values[1], values[2], values[3], values[4], values[5]) = (fact.KeywordId ?? -1, fact.Position, fact.OtherPosition, fact.AtStake, fact.Share, fact.Count);
            hash.Append(System.Runtime.InteropServices.MemoryMarshal.AsBytes(values));
        }

        return unchecked((long)hash.GetCurrentHashAsUInt64());
    }
}

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
        f.other_page_id, og.url, og.title, f.at_stake, coalesce(e.first_found_at, '')
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

    /// <returns>The findings about some clusters that wait, most at stake first.</returns>
    public static IReadOnlyList<FindingRow> About(Session session, IReadOnlyCollection<long> clusterIds)
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

    /// <summary>Puts newly computed findings in the place of those of the same scopes. Only what differs is written.</summary>
    /// <remarks>One whose cause has gone stays, as resolved. States follow by <see cref="Settle"/>, which is to be called after this.</remarks>
    /// <param name="session">The transaction.</param>
    /// <param name="scopes">What was looked at again, see <see cref="FindingScope"/>; null for everything.</param>
    /// <param name="findings">All that is in these scopes.</param>
    /// <param name="now">When.</param>
    /// <param name="changes">Gets what was changed.</param>
    public static void Save(WriteSession session, IReadOnlyCollection<string>? scopes, IReadOnlyList<ComputedFinding> findings, DateTimeOffset now, FindingChanges changes)
    {
        const string goesAway =
            """
            update finding_seen
            set went_away = 1, kind = f.kind, cluster_id = f.cluster_id, other_cluster_id = f.other_cluster_id, keyword_id = f.keyword_id, page_id = f.page_id,
              other_page_id = f.other_page_id, at_stake = f.at_stake, facts = f.facts
            from finding f
            where f.finding_key = @key and finding_seen.finding_key = @key and finding_seen.went_away = 0;
            update finding_decision set went_away = 1 where finding_key = @key and went_away = 0;
            """;
        var stored = StoredFinding.Of(session, scopes);
        var present = findings.Select(f => f.Key).ToHashSet(StringComparer.Ordinal);
        // What a planner decided, and what a finding was when it went, is recorded: undo and redo have brought it back already.
        using var goes = session.Command(
            $"""
            {(session.IsReplay ? "" : goesAway)}
            update finding set present = 0, state = 'resolved', scope = '', facts_hash = 0 where finding_key = @key;
            update finding
            set cluster_id = e.cluster_id, other_cluster_id = e.other_cluster_id, keyword_id = e.keyword_id, page_id = e.page_id, other_page_id = e.other_page_id,
              at_stake = e.at_stake, facts = e.facts
            from finding_seen e
            where e.finding_key = @key and e.went_away = 1 and e.kind is not null and finding.finding_key = @key;
            """,
            ("key", ""));
        foreach (var gone in stored.Values.Where(f => f.IsPresent && !present.Contains(f.Key)))
        {
            goes.Parameters[0].Value = gone.Key;
            goes.ExecuteNonQuery();
            changes.Add(gone);
        }

        using var upsert = session.Command(
            """
            insert into finding (finding_key, scope, matter, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts, facts_hash, present, state, counted)
            values (@key, @scope, @matter, @kind, @cluster, @other_cluster, @keyword, @page, @other_page, @stake, @facts, @hash, 1, 'open', 0)
            on conflict (finding_key) do update set
              scope = excluded.scope, matter = excluded.matter, cluster_id = excluded.cluster_id, other_cluster_id = excluded.other_cluster_id, keyword_id = excluded.keyword_id,
              page_id = excluded.page_id, other_page_id = excluded.other_page_id, at_stake = excluded.at_stake, facts = excluded.facts, facts_hash = excluded.facts_hash, present = 1
            """);
        foreach (var name in new[] { "key", "scope", "matter", "kind", "cluster", "other_cluster", "keyword", "page", "other_page", "stake", "facts", "hash" })
            upsert.Parameters.Add(new SqliteParameter("@" + name, DBNull.Value));
        using var seen = session.Command(
            """
            insert into finding_seen (finding_key, first_found_at) values (@key, @now)
            on conflict do update set went_away = 0, kind = null, cluster_id = null, other_cluster_id = null, keyword_id = null, page_id = null, other_page_id = null, at_stake = 0, facts = '[]'
            where went_away = 1
            """,
            ("key", ""), ("now", now.UtcDateTime.ToString("O")));
        var added = new UndoLog.Ranges(session, "finding_seen");
        foreach (var finding in findings)
        {
            var before = stored.GetValueOrDefault(finding.Key);
            var hash = finding.FactsHash();
            var after = new StoredFinding(
                finding.Key, finding.Kind, finding.ClusterId, finding.OtherClusterId, finding.KeywordId, finding.PageId, finding.OtherPageId, finding.AtStake, hash, IsPresent: true, finding.Scope);
            if (before == after)
                continue;
            object?[] values =
            [
                finding.Key, finding.Scope, after.Matter, finding.Kind.Stored(), finding.ClusterId, finding.OtherClusterId, finding.KeywordId, finding.PageId, finding.OtherPageId, finding.AtStake,
                JsonSerializer.Serialize(finding.Facts), hash,
            ];
            for (var i = 0; i < values.Length; i++)
                upsert.Parameters[i].Value = values[i] ?? DBNull.Value;
            upsert.ExecuteNonQuery();
            if (before is { IsPresent: true })
                changes.Add(before);
            else
            {
                seen.Parameters[0].Value = finding.Key;
                seen.ExecuteNonQuery();
            }

            changes.Add(after);
        }

        added.End();
    }

    /// <summary>
    /// Computes the states of findings. One whose cause has gone is shown as resolved as long as what it is about is there; after an undo it is shown where
    /// it had gone before.
    /// </summary>
    /// <param name="session">The transaction.</param>
    /// <param name="changes">What was changed; gets what is changed here.</param>
    /// <param name="clusterIds">Clusters that came or went; null to look at everything.</param>
    /// <param name="isDecided">Decisions or the evidence were changed, so that all that were decided are looked at.</param>
    public static void Settle(WriteSession session, FindingChanges changes, IReadOnlyCollection<long>? clusterIds, bool isDecided)
    {
        const string isThere =
            """
            (e.cluster_id is null or exists (select 1 from cluster c where c.cluster_id = e.cluster_id))
            and (e.page_id is null or exists (select 1 from page g where g.page_id = e.page_id))
            """;
        (string, object?) clusters = ("clusters", clusterIds is null ? "[]" : "[" + string.Join(',', clusterIds) + "]");
        (string, object?) keys = ("keys", JsonSerializer.Serialize(changes.Keys));
        var seenIds = session.Touched.Ids(Data.FindingsSeen);
        (string, object?) ids = ("ids", "[" + string.Join(',', seenIds ?? new HashSet<long>()) + "]");
        var isAll = clusterIds is null || seenIds is null;
        foreach (var gone in StoredFinding.Where(session,
            $"""
            present = 0 and not exists (select 1 from finding_seen e where e.finding_key = finding.finding_key and e.went_away = 1 and {isThere})
            {(isAll ? "" : "and (finding_key in (select value from json_each(@keys)) or cluster_id in (select value from json_each(@clusters)) or finding_key in (select e.finding_key from json_each(@ids) j join finding_seen e on e.seen_id = j.value))")}
            """,
            keys, clusters, ids))
        {
            session.Execute("delete from finding where finding_key = @key", ("key", gone.Key));
            changes.Add(gone);
        }

        var which = isAll ? "from finding_seen e" : "from (select value from json_each(@ids) union select seen_id from json_each(@clusters) j join finding_seen on cluster_id = j.value and went_away = 1) w join finding_seen e on e.seen_id = w.value";
        foreach (var (f, facts) in session.List(
            $"""
            select e.finding_key, e.kind, e.cluster_id, e.other_cluster_id, e.keyword_id, e.page_id, e.other_page_id, e.at_stake, e.facts
            {which}
            where e.went_away = 1 and e.kind is not null and {isThere} and not exists (
              select 1 from finding f where f.finding_key = e.finding_key and (f.present = 1 or (f.facts = e.facts and f.at_stake = e.at_stake and f.keyword_id is e.keyword_id)))
            """,
            r => (new StoredFinding(
                r.GetString(0), r.Enum<FindingKind>(1), r.LongOrNull(2), r.LongOrNull(3), r.LongOrNull(4), r.LongOrNull(5), r.LongOrNull(6), r.GetDouble(7), 0, IsPresent: false, ""), r.GetString(8)),
            ids, clusters))
        {
            session.Execute(
                """
                insert into finding (finding_key, scope, matter, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts, facts_hash, present, state, counted)
                values (@key, '', @matter, @kind, @cluster, @other_cluster, @keyword, @page, @other_page, @stake, @facts, 0, 0, 'resolved', 0)
                on conflict (finding_key) do update set keyword_id = excluded.keyword_id, at_stake = excluded.at_stake, facts = excluded.facts
                """,
                ("key", f.Key), ("matter", f.Matter), ("kind", f.Kind.Stored()), ("cluster", f.ClusterId), ("other_cluster", f.OtherClusterId), ("keyword", f.KeywordId), ("page", f.PageId),
                ("other_page", f.OtherPageId), ("stake", f.AtStake), ("facts", facts));
            changes.Add(f);
        }

        var evidence = session.Count("select version from evidence");
        var decided = isAll || isDecided
            ? """
              select f.finding_key from finding_decision d join finding f on f.finding_key = d.finding_key
              union
              select finding_key from finding where state <> 'open' and present = 1
              """
            : "select value from json_each(@keys)";
        foreach (var (key, before, now) in session.List(
            $"""
            select f.finding_key, f.state, f.present, coalesce(d.state, 'open'), coalesce(d.went_away, 0), coalesce(d.evidence_version, 0)
            from finding f left join finding_decision d on d.finding_key = f.finding_key
            where f.finding_key in ({decided})
            """,
            r => (Key: r.GetString(0), Before: r.Enum<FindingState>(1), Now: FindingStates.After(r.Enum<FindingState>(3), r.GetInt64(2) == 1, r.GetInt64(4) == 1, r.GetInt64(5) < evidence)),
            ("keys", JsonSerializer.Serialize(changes.Keys))))
        {
            if (before == now)
                continue;
            session.Execute("update finding set state = @state where finding_key = @key", ("state", now.Stored()), ("key", key));
            foreach (var finding in StoredFinding.Where(session, "finding_key = @key", ("key", key)))
                changes.Add(finding);
        }
    }

    /// <summary>Keeps what the planner says of findings.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="keys">The findings.</param>
    /// <param name="state">The state.</param>
    /// <param name="reason">Needed where it is dismissed.</param>
    /// <param name="now">When.</param>
    public static void Decide(WriteSession session, IReadOnlyList<string> keys, FindingState state, string reason, DateTimeOffset now)
    {
        using var command = session.Command(
            """
            insert into finding_decision (finding_key, state, reason, evidence_version, went_away, decided_at)
            values (@key, @state, @reason, (select version from evidence), 0, @now)
            on conflict (finding_key) do update set
              state = excluded.state, reason = excluded.reason, evidence_version = excluded.evidence_version, went_away = 0, decided_at = excluded.decided_at
            """,
            ("key", ""), ("state", state.Stored()), ("reason", reason), ("now", now.UtcDateTime.ToString("O")));
        foreach (var key in keys)
        {
            command.Parameters[0].Value = key;
            command.ExecuteNonQuery();
        }

        session.Touch(Data.Decisions);
    }

    /// <summary>Says that two pages are wanted as they are, so that they raise nothing.</summary>
    public static void DeclarePair(WriteSession session, long pageId, long otherPageId, string reason, DateTimeOffset now)
    {
        session.Execute(
            """
            insert into deliberate_pair (page_id, other_page_id, reason, declared_at) values (@page, @other, @reason, @now)
            on conflict (page_id, other_page_id) do update set reason = excluded.reason, declared_at = excluded.declared_at
            """,
            ("page", Math.Min(pageId, otherPageId)), ("other", Math.Max(pageId, otherPageId)), ("reason", reason), ("now", now.UtcDateTime.ToString("O")));
        session.Touch(Data.Pairs, pageId, otherPageId);
    }

    /// <summary>Takes back that two pages are wanted as they are.</summary>
    public static void UndeclarePair(WriteSession session, long pageId, long otherPageId)
    {
        session.Execute("delete from deliberate_pair where page_id = @page and other_page_id = @other", ("page", Math.Min(pageId, otherPageId)), ("other", Math.Max(pageId, otherPageId)));
        session.Touch(Data.Pairs, pageId, otherPageId);
    }

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
    public static void Annotate(WriteSession session, IReadOnlyList<string> keys, string? assignee, string? note, DateTimeOffset now)
    {
        using var command = session.Command(
            """
            insert into finding_decision (finding_key, state, reason, evidence_version, went_away, decided_at, assignee, note)
            values (@key, 'open', '', (select version from evidence), 0, @now, coalesce(@assignee, ''), coalesce(@note, ''))
            on conflict (finding_key) do update set assignee = coalesce(@assignee, assignee), note = coalesce(@note, note)
            """,
            ("key", ""), ("now", now.UtcDateTime.ToString("O")), ("assignee", assignee?.Trim()), ("note", note?.Trim()));
        foreach (var key in keys)
        {
            command.Parameters[0].Value = key;
            command.ExecuteNonQuery();
        }

        session.Touch(Data.Decisions);
    }

    private static FindingRow Read(SqliteDataReader r) => new(
        r.GetString(0), r.Enum<FindingKind>(1), r.Enum<FindingState>(2), r.GetString(3), r.GetString(4), r.GetString(5), r.EnumOrNull<Remedy>(6), r.LongOrNull(7),
        r.TextOrNull(8), r.GetInt64(9), r.LongOrNull(10), r.TextOrNull(11), r.LongOrNull(12), r.TextOrNull(13), r.TextOrNull(14), r.LongOrNull(15), r.TextOrNull(16),
        r.TextOrNull(17), r.GetInt64(18) == 1, r.LongOrNull(19), r.TextOrNull(20), r.TextOrNull(21), r.GetDouble(22), r.GetString(23));
}
