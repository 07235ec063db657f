using System.Text.Json;
using System.Text.Json.Serialization;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Storage.Findings;

/// <summary>A finding as it was computed, with ids.</summary>
public sealed record ComputedFinding(
    string Key, string Scope, FindingKind Kind, ClusterId? ClusterId, ClusterId? OtherClusterId, KeywordId? KeywordId, PageId? PageId, PageId? OtherPageId, double AtStake, StoredFact[] Facts)
{
    /// <returns>Tells other facts apart, so that they need not be read to see that they are the same; the same from run to run (XXH64).</returns>
    internal long FactsHash()
    {
        var hash = new System.IO.Hashing.XxHash64();
        Span<double> values = stackalloc double[6];
        foreach (var fact in Facts)
        {
            (values[0], values[1], values[2], values[3], values[4], values[5]) = (fact.KeywordId?.Value ?? -1, fact.Position, fact.OtherPosition, fact.AtStake, fact.Share, fact.Count);
            hash.Append(System.Runtime.InteropServices.MemoryMarshal.AsBytes(values));
        }

        return unchecked((long)hash.GetCurrentHashAsUInt64());
    }
}

/// <summary>One fact as it is stored.</summary>
public readonly record struct StoredFact(KeywordId? KeywordId, double Position, double OtherPosition, double AtStake, double Share = 0, double Count = 0);

/// <summary>Writes and reads facts without looking at their type: there are a hundred thousand of them. What is zero is left out.</summary>
[JsonSourceGenerationOptions(DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault)]
[JsonSerializable(typeof(StoredFact[]))]
internal sealed partial class StoredFactJson : JsonSerializerContext;

/// <summary>Saves findings as they are computed, and the states that follow.</summary>
public static class ComputedFindings
{
    /// <summary>With fewer rows to write than this, indexes are kept up row by row.</summary>
    private const int Many = 1_000;

    /// <summary>Rows whose facts are made ready, on all cores, before they go in.</summary>
    private const int AtOnce = 4_000;

    /// <summary>Puts newly computed findings in the place of those of the same scopes. Only what differs is written.</summary>
    /// <remarks>One whose cause has gone stays, as resolved. States follow by <see cref="Settle"/>, which is to be called after this.</remarks>
    /// <param name="session">The transaction.</param>
    /// <param name="scopes">What was looked at again, see <see cref="FindingScope"/>; null for everything.</param>
    /// <param name="findings">All that is in these scopes.</param>
    /// <param name="now">When.</param>
    /// <param name="changes">Gets what was changed.</param>
    public static void Save(WriteSession session, IReadOnlyCollection<string>? scopes, IReadOnlyList<ComputedFinding> findings, DateTimeOffset now, FindingChanges changes)
    {
        StoredFinding[] after = scopes is null ? [.. findings.AsParallel().AsOrdered().Select(StoredFinding.Of)] : [.. findings.Select(StoredFinding.Of)];
        var isFirst = session.Count("select exists (select 1 from finding) or exists (select 1 from finding_seen)") == 0;
        if (isFirst && findings.Count == 0)
            return;
        changes.IsAll |= scopes is null;
        var stored = isFirst ? [] : StoredFinding.Of(session, scopes);
        var present = after.Select(f => f.Key).ToHashSet(StringComparer.Ordinal);
        var gone = stored.Values.Where(f => f.IsPresent && !present.Contains(f.Key)).ToList();
        var differ = Enumerable.Range(0, after.Length).Where(i => stored.GetValueOrDefault(after[i].Key) != after[i]).ToList();
        foreach (var finding in gone)
            changes.Add(finding);
        foreach (var i in differ)
        {
            if (stored.TryGetValue(after[i].Key, out var before) && before.IsPresent)
                changes.Add(before);
            changes.Add(after[i]);
        }

        if (gone.Count + differ.Count is > Many and var rows && rows > stored.Count / 3)
            session.WithoutIndexes("finding", Write);
        else
            Write();

        var added = new UndoRanges(session, "finding_seen");
        using (var seen = new RowBuffer(session, "insert or fail into finding_seen (first_found_at, finding_key)", 8, 1, "@s0")
        {
            OnConflict =
                """
                on conflict do update set went_away = 0, kind = null, cluster_id = null, other_cluster_id = null, keyword_id = null, page_id = null, other_page_id = null, at_stake = 0, facts = '[]'
                where went_away = 1
                """,
        })
        {
            seen.Share(now.UtcDateTime.ToString("O"));
            foreach (var key in differ.Select(i => after[i].Key).Where(k => !stored.TryGetValue(k, out var before) || !before.IsPresent))
                seen.Add(key);
        }

        added.End();
        changes.AreCounted = isFirst && changes.IsAll;

        void Write()
        {
            GoAway(session, gone);
            // Those of a project that had none go in with what would be counted afterwards.
            var counted = isFirst ? CountedStakes.Of([.. after.Select(f => new Stake(f.Matter, FindingState.Open.IsWaiting(), f.AtStake, f.Key))]) : new double[after.Length];
            using (var upsert = new RowBuffer(
                session,
                "insert or fail into finding (finding_key, scope, matter, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts, facts_hash, counted, present, state)",
                2,
                15)
            {
                OnConflict =
                    """
                    on conflict (finding_key) do update set
                      scope = excluded.scope, matter = excluded.matter, cluster_id = excluded.cluster_id, other_cluster_id = excluded.other_cluster_id, keyword_id = excluded.keyword_id,
                      page_id = excluded.page_id, other_page_id = excluded.other_page_id, at_stake = excluded.at_stake, facts = excluded.facts, facts_hash = excluded.facts_hash, present = 1, demand = 0
                    """,
            })
            {
                foreach (var some in differ.Chunk(AtOnce))
                {
                    string[] facts = some.Length > Many ? [.. some.AsParallel().AsOrdered().Select(i => FactsOf(findings[i]))] : [.. some.Select(i => FactsOf(findings[i]))];
                    foreach (var (i, fact) in some.Zip(facts))
                    {
                        var f = after[i];
                        upsert.Add(
                            f.Key, f.Scope, f.Matter, f.Kind.Stored(), f.ClusterId, f.OtherClusterId, f.KeywordId, f.PageId, f.OtherPageId, f.AtStake, fact, f.FactsHash, counted[i], 1L, "open");
                    }
                }
            }

            if (changes.IsAll)
                FindingCounts.RefreshDemands(session, null);
        }
    }

    /// <summary>Marks findings whose cause has gone.</summary>
    /// <remarks>What a planner decided, and what a finding was when it went, is recorded: undo and redo have brought it back already.</remarks>
    private static void GoAway(WriteSession session, List<StoredFinding> gone)
    {
        if (gone.Count == 0)
            return;
        session.Execute("create temp table if not exists gone_finding (finding_key text primary key) without rowid; delete from temp.gone_finding;");
        using (var insert = new RowBuffer(session, "insert or fail into temp.gone_finding (finding_key)", 8, 1))
        {
            foreach (var finding in gone)
                insert.Add(finding.Key);
        }

        // With a plus sign, a key of this table is looked up in the others and not the other way round.
        const string recorded =
            """
            update finding_seen
            set went_away = 1, kind = f.kind, cluster_id = f.cluster_id, other_cluster_id = f.other_cluster_id, keyword_id = f.keyword_id, page_id = f.page_id,
              other_page_id = f.other_page_id, at_stake = f.at_stake, facts = f.facts
            from temp.gone_finding g join finding f on f.finding_key = +g.finding_key
            where finding_seen.finding_key = +g.finding_key and finding_seen.went_away = 0;
            update finding_decision set went_away = 1 where finding_key in (select finding_key from temp.gone_finding) and went_away = 0;
            """;
        session.Execute(
            $"""
            {(session.IsReplay ? "" : recorded)}
            update finding set present = 0, state = 'resolved', scope = '', facts_hash = 0 where finding_key in (select finding_key from temp.gone_finding);
            update finding
            set cluster_id = e.cluster_id, other_cluster_id = e.other_cluster_id, keyword_id = e.keyword_id, page_id = e.page_id, other_page_id = e.other_page_id,
              at_stake = e.at_stake, facts = e.facts
            from temp.gone_finding g join finding_seen e on e.finding_key = +g.finding_key
            where e.went_away = 1 and e.kind is not null and finding.finding_key = +g.finding_key;
            delete from temp.gone_finding;
            """);
    }

    private static string FactsOf(ComputedFinding finding) => JsonSerializer.Serialize(finding.Facts, StoredFactJson.Default.StoredFactArray);

    /// <summary>
    /// Computes the states of findings. One whose cause has gone is shown as resolved as long as what it is about is there; after an undo it is shown where
    /// it had gone before.
    /// </summary>
    /// <param name="session">The transaction.</param>
    /// <param name="changes">What was changed; gets what is changed here.</param>
    /// <param name="clusterIds">Clusters that came or went; null to look at everything.</param>
    /// <param name="isDecided">Decisions or the evidence were changed, so that all that were decided are looked at.</param>
    /// <param name="seenIds">What an undo brought back of when findings were seen; null to look at everything.</param>
    public static void Settle(WriteSession session, FindingChanges changes, IReadOnlyCollection<ClusterId>? clusterIds, bool isDecided, IReadOnlySet<FindingSeenId>? seenIds)
    {
        const string isThere =
            """
            (e.cluster_id is null or exists (select 1 from cluster c where c.cluster_id = e.cluster_id))
            and (e.page_id is null or exists (select 1 from page g where g.page_id = e.page_id))
            """;
        (string, object?) clusters = ("clusters", clusterIds is null ? "[]" : "[" + string.Join(',', clusterIds) + "]");
        (string, object?) keys = ("keys", JsonSerializer.Serialize(changes.Keys));
        (string, object?) ids = ("ids", "[" + (seenIds is null ? "" : string.Join(',', seenIds)) + "]");
        var isAll = clusterIds is null || seenIds is null;
        foreach (var gone in session.List(
            $"""
            delete from finding
            where present = 0 and not exists (select 1 from finding_seen e where e.finding_key = finding.finding_key and e.went_away = 1 and {isThere})
            {(isAll ? "" : "and (finding_key in (select value from json_each(@keys)) or cluster_id in (select value from json_each(@clusters)) or finding_key in (select e.finding_key from json_each(@ids) j join finding_seen e on e.seen_id = j.value))")}
            returning {StoredFinding.Columns}
            """,
            StoredFinding.Read,
            keys, clusters, ids))
        {
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
                r.GetString(0), r.Enum<FindingKind>(1), r.IdOrNull<ClusterId>(2), r.IdOrNull<ClusterId>(3), r.IdOrNull<KeywordId>(4), r.IdOrNull<PageId>(5), r.IdOrNull<PageId>(6), r.GetDouble(7), 0, IsPresent: false, ""), r.GetString(8)),
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
              select finding_key from finding_decision
              union all
              select finding_key from finding indexed by finding_decided where state <> 'open' and present = 1
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
}
