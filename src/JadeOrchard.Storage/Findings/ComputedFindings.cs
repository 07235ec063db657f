using System.Text.Json;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Storage.Findings;

/// <summary>Saves findings as they are computed, and the states that follow.</summary>
public static class ComputedFindings
{
    /// <summary>Rows whose contents are made ready, on all cores, before they go in.</summary>
    private const int AtOnce = 4_000;

    /// <summary>Puts newly computed findings in the place of what is stored of them. Only what differs is written.</summary>
    /// <remarks>One that nothing shows any more stays, as resolved. States follow by <see cref="Settle"/>, which is to be called after this.</remarks>
    /// <param name="session">The transaction.</param>
    /// <param name="keys">What was looked at again; null for everything.</param>
    /// <param name="findings">All of these that are there.</param>
    /// <param name="now">When.</param>
    /// <param name="changes">Gets what was changed.</param>
    public static void Save(WriteSession session, IReadOnlyCollection<string>? keys, IReadOnlyList<ComputedFinding> findings, DateTimeOffset now, FindingChanges changes)
    {
        var isFirst = session.Count("select exists (select 1 from finding) or exists (select 1 from finding_seen)") == 0;
        if (isFirst && findings.Count == 0)
            return;
        changes.IsAll |= keys is null;
        var stored = isFirst ? [] : Stored(session, keys);
        var present = findings.Select(f => f.Key).ToHashSet(StringComparer.Ordinal);
        List<string> gone = [.. stored.Where(s => s.Value.IsPresent && !present.Contains(s.Key)).Select(s => s.Key)];
        var differ = new List<(ComputedFinding Finding, string Content, long Hash)>();
        foreach (var some in findings.Chunk(AtOnce))
        {
            foreach (var made in some.AsParallel().AsOrdered().WithDegreeOfParallelism(some.Length > 100 ? Environment.ProcessorCount : 1).Select(f => (Finding: f, Content: f.Content.ToJson())))
            {
                var hash = HashOf(made.Finding, made.Content);
                if (!stored.TryGetValue(made.Finding.Key, out var before) || !before.IsPresent || before.Hash != hash)
                    differ.Add((made.Finding, made.Content, hash));
            }
        }

        changes.Add(session, [.. gone, .. differ.Select(d => d.Finding.Key)]);
        GoAway(session, gone, changes);
        Write(session, differ);
        var added = new UndoRanges(session, "finding_seen");
        using (var seen = new RowBuffer(session, "insert or fail into finding_seen (first_found_at, finding_key)", 8, 1, "@s0")
        {
            OnConflict = "on conflict do update set went_away = 0, kind = null, cluster_id = null, page_id = null, content = null where went_away = 1",
        })
        {
            seen.Share(now.UtcDateTime.ToString("O"));
            foreach (var (finding, _, _) in differ.Where(d => !stored.TryGetValue(d.Finding.Key, out var before) || !before.IsPresent))
                seen.Add(finding.Key);
        }

        added.End();
        if (keys is null)
            FormerFindings.CarryOver(session, findings);
        changes.Add(session, [.. differ.Select(d => d.Finding.Key)]);
    }

    /// <returns>The findings of some keys, or all that are present, by key.</returns>
    private static Dictionary<string, (long Hash, bool IsPresent)> Stored(Session session, IReadOnlyCollection<string>? keys) =>
        session.List(
            $"select finding_key, content_hash, present from finding where {(keys is null ? "present = 1" : "finding_key in (select value from json_each(@keys))")}",
            r => (Key: r.GetString(0), Hash: r.GetInt64(1), IsPresent: r.GetInt64(2) == 1),
            ("keys", keys is null ? null : JsonSerializer.Serialize(keys)))
        .ToDictionary(f => f.Key, f => (f.Hash, f.IsPresent), StringComparer.Ordinal);

    private static void Write(WriteSession session, List<(ComputedFinding Finding, string Content, long Hash)> findings, bool isPresent = true)
    {
        if (findings.Count == 0)
            return;
        using (var upsert = new RowBuffer(
            session,
            "insert or fail into finding (finding_id, finding_key, kind, cluster_id, keyword_id, page_id, folder, page_count, at_stake, confidence, weight, signs, says, content, content_hash, is_planned, present, state)",
            2,
            18)
        {
            OnConflict =
                """
                on conflict (finding_key) do update set
                  cluster_id = excluded.cluster_id, keyword_id = excluded.keyword_id, page_id = excluded.page_id, page_count = excluded.page_count,
                  at_stake = excluded.at_stake, confidence = excluded.confidence, weight = excluded.weight, signs = excluded.signs, says = excluded.says, content = excluded.content, content_hash = excluded.content_hash,
                  is_planned = excluded.is_planned, present = excluded.present, state = iif(excluded.present, state, 'resolved')
                """,
        })
        {
            foreach (var (f, content, hash) in findings)
            {
                var c = f.Content;
                upsert.Add(
                    IdOf(f.Key), f.Key, f.Kind.Stored(), c.Clusters is [var first, ..] ? first.Id : null, c.KeywordId, c.Pages is [var page, ..] ? page : null, c.Folder, (long)c.Pages.Length, c.AtStake, c.Confidence,
                    c.AtStake * c.Confidence, c.SignCodes, c.Says, content, hash, f.IsPlanned ? 1L : 0L, isPresent ? 1L : 0L, isPresent ? "open" : "resolved");
            }
        }

        Gather(session, findings.Select(f => f.Finding.Key));
        session.Execute(
            """
            delete from finding_cluster where finding_id in (select f.finding_id from temp.some_finding s join finding f on f.finding_key = s.finding_key);
            delete from finding_page where finding_id in (select f.finding_id from temp.some_finding s join finding f on f.finding_key = s.finding_key);
            insert into finding_cluster (cluster_id, finding_id, at_stake)
            select j.value ->> '$.Id', f.finding_id, coalesce(j.value ->> '$.AtStake', 0.0)
            from temp.some_finding s join finding f on f.finding_key = s.finding_key, json_each(f.content, '$.Clusters') j
            order by 1;
            insert into finding_page (page_id, finding_id, place)
            select j.value, f.finding_id, j.key
            from temp.some_finding s join finding f on f.finding_key = s.finding_key, json_each(f.content, '$.Pages') j
            order by 1;
            update finding set demand = coalesce((select sum(c.demand) from finding_cluster x join cluster c on c.cluster_id = x.cluster_id where x.finding_id = finding.finding_id), 0)
            where finding_key in (select finding_key from temp.some_finding);
            delete from temp.some_finding;
            """);
    }

    /// <summary>Puts keys where statements find them, whatever their number.</summary>
    private static void Gather(WriteSession session, IEnumerable<string> keys)
    {
        session.Execute("create temp table if not exists some_finding (finding_key text primary key) without rowid; delete from temp.some_finding;");
        using var insert = new RowBuffer(session, "insert or fail into temp.some_finding (finding_key)", 8, 1);
        foreach (var key in keys)
            insert.Add(key);
    }

    /// <summary>Marks findings that nothing shows any more.</summary>
    /// <remarks>What a planner decided, and what a finding was when it went, is recorded: undo and redo have brought it back already.</remarks>
    private static void GoAway(WriteSession session, List<string> gone, FindingChanges changes)
    {
        if (gone.Count == 0)
            return;
        Gather(session, gone);
        const string recorded =
            """
            update finding_seen
            set went_away = 1, kind = f.kind, cluster_id = f.cluster_id, page_id = f.page_id, content = f.content
            from temp.some_finding g join finding f on f.finding_key = +g.finding_key
            where finding_seen.finding_key = +g.finding_key and finding_seen.went_away = 0;
            update finding_decision set went_away = 1 where finding_key in (select finding_key from temp.some_finding) and went_away = 0;
            """;
        // With a plus sign, a key of this table is looked up in the others and not the other way round.
        session.Execute(
            $"""
            {(session.IsReplay ? "" : recorded)}
            update finding set present = 0, state = 'resolved', content_hash = 0, is_planned = 0 where finding_key in (select finding_key from temp.some_finding);
            """);
        var now = session.List(
            "select e.finding_key, e.kind, e.content from temp.some_finding g join finding_seen e on e.finding_key = +g.finding_key join finding f on f.finding_key = e.finding_key where e.went_away = 1 and e.content is not null and e.content <> f.content",
            r => GoneOf(r.GetString(0), r.Enum<FindingKind>(1), r.GetString(2)));
        session.Execute("delete from temp.some_finding");
        Write(session, now, isPresent: false);
        changes.Add(session, [.. now.Select(f => f.Finding.Key)]);
    }

    private static (ComputedFinding Finding, string Content, long Hash) GoneOf(string key, FindingKind kind, string content) =>
        (new ComputedFinding(key, kind, IsPlanned: false, FindingContent.Of(content)), content, 0);

    /// <returns>The id of a finding: the same wherever and whenever its key is computed (XXH64, never negative).</returns>
    private static long IdOf(string key) =>
        (long)(System.IO.Hashing.XxHash64.HashToUInt64(System.Runtime.InteropServices.MemoryMarshal.AsBytes(key.AsSpan())) >> 1);

    /// <returns>Tells other contents apart, so that they need not be read to see that they are the same; the same from run to run (XXH64).</returns>
    private static long HashOf(ComputedFinding finding, string content) =>
        unchecked((long)System.IO.Hashing.XxHash64.HashToUInt64(System.Runtime.InteropServices.MemoryMarshal.AsBytes(content.AsSpan()), finding.IsPlanned ? 1 : 0));

    /// <summary>
    /// Computes the states of findings. One that nothing shows any more is shown as resolved as long as what it is about is there; after an undo it is shown where
    /// it had gone before.
    /// </summary>
    /// <param name="session">The transaction.</param>
    /// <param name="changes">What was changed; gets what is changed here.</param>
    /// <param name="clusterIds">Clusters that came or went; null to look at everything.</param>
    /// <param name="isDecided">Decisions or the evidence were changed, so that all that were decided are looked at.</param>
    /// <param name="seenIds">What an undo brought back of when findings were seen; null to look at everything.</param>
    /// <param name="now">When.</param>
    public static void Settle(WriteSession session, FindingChanges changes, IReadOnlyCollection<ClusterId>? clusterIds, bool isDecided, IReadOnlySet<FindingSeenId>? seenIds, DateTimeOffset now)
    {
        const string isThere =
            """
            e.content is not null
            and (e.cluster_id is null or exists (select 1 from cluster c where c.cluster_id = e.cluster_id))
            and (e.page_id is null or exists (select 1 from page g where g.page_id = e.page_id))
            """;
        (string, object?) clusters = ("clusters", clusterIds is null ? "[]" : "[" + string.Join(',', clusterIds) + "]");
        (string, object?) keys = ("keys", JsonSerializer.Serialize(changes.Keys));
        (string, object?) ids = ("ids", "[" + (seenIds is null ? "" : string.Join(',', seenIds)) + "]");
        var isAll = clusterIds is null || seenIds is null;
        var gone = session.List(
            $"""
            select finding_key from finding
            where present = 0 and not exists (select 1 from finding_seen e where e.finding_key = finding.finding_key and e.went_away = 1 and {isThere})
            {(isAll ? "" : "and (finding_key in (select value from json_each(@keys)) or cluster_id in (select value from json_each(@clusters)) or finding_key in (select e.finding_key from json_each(@ids) j join finding_seen e on e.seen_id = j.value))")}
            """,
            r => r.GetString(0),
            keys, clusters, ids);
        if (gone.Count > 0)
        {
            changes.Add(session, gone);
            Gather(session, gone);
            session.Execute(
                """
                delete from finding_cluster where finding_id in (select finding_id from finding where finding_key in (select finding_key from temp.some_finding));
                delete from finding_page where finding_id in (select finding_id from finding where finding_key in (select finding_key from temp.some_finding));
                delete from finding where finding_key in (select finding_key from temp.some_finding);
                delete from temp.some_finding;
                """);
        }

        var which = isAll ? "from finding_seen e" : "from (select value from json_each(@ids) union select seen_id from json_each(@clusters) j join finding_seen on cluster_id = j.value and went_away = 1) w join finding_seen e on e.seen_id = w.value";
        var back = session.List(
            $"""
            select e.finding_key, e.kind, e.content
            {which}
            where e.went_away = 1 and {isThere} and not exists (select 1 from finding f where f.finding_key = e.finding_key and (f.present = 1 or f.content = e.content))
            """,
            r => GoneOf(r.GetString(0), r.Enum<FindingKind>(1), r.GetString(2)),
            ids, clusters);
        if (back.Count > 0)
        {
            // What it was about before counts others now, and what it is about as well.
            changes.Add(session, [.. back.Select(f => f.Finding.Key)]);
            Write(session, back, isPresent: false);
            changes.Add(session, [.. back.Select(f => f.Finding.Key)]);
        }

        // An undo takes back when a finding was first seen; where something else shows it still, it is seen now.
        if (session.IsReplay && seenIds is not { Count: 0 })
        {
            session.Execute(
                "insert into finding_seen (first_found_at, finding_key) select @now, f.finding_key from finding f where f.present = 1 and not exists (select 1 from finding_seen e where e.finding_key = f.finding_key)",
                ("now", now.UtcDateTime.ToString("O")));
        }

        var evidence = session.Count("select version from evidence");
        var looked = isAll || isDecided || changes.IsAll
            ? """
              select finding_key from finding_decision
              union all
              select finding_key from finding indexed by finding_decided where state <> 'open' and present = 1
              union all
              select finding_key from finding where is_planned = 1 and present = 1
              """
            : "select value from json_each(@keys)";
        var turned = session.List(
            $"""
            select f.finding_key, f.state, f.present, coalesce(d.state, 'open'), coalesce(d.went_away, 0), coalesce(d.evidence_version, 0), f.is_planned
            from finding f left join finding_decision d on d.finding_key = f.finding_key
            where f.finding_key in ({looked})
            """,
            r => (Key: r.GetString(0), Before: r.Enum<FindingState>(1),
                Now: FindingStates.After(r.Enum<FindingState>(3), r.GetInt64(2) == 1, r.GetInt64(4) == 1, r.GetInt64(5) < evidence, r.GetInt64(6) == 1)),
            ("keys", JsonSerializer.Serialize(changes.Keys))).Where(f => f.Before != f.Now).ToList();
        using var update = session.Command("update finding set state = @state where finding_key = @key", ("state", ""), ("key", ""));
        foreach (var (key, _, state) in turned)
            update.Run(state.Stored(), key);
        changes.Add(session, [.. turned.Select(f => f.Key)]);
    }
}
