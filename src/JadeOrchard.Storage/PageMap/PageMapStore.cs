using JadeOrchard.Core.PageMap;
using JadeOrchard.Storage.Site;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.PageMap;

/// <summary>A page that could stand for a cluster.</summary>
/// <param name="Results">0 to 1; null where no keyword of the cluster has a result list.</param>
/// <param name="Performance">0 to 1; null where no query of the cluster was seen.</param>
/// <param name="Text">0 to 1; null where the page's text is not known.</param>
/// <param name="Strength">0 to 100.</param>
/// <param name="AssignedTo">Another cluster that has the page; null where none has.</param>
public sealed record PageCandidate(
    long PageId, string Url, string? Title, double? Results, double? Performance, double? Text, double Strength, string? AssignedTo);

/// <summary>An undecided cluster with a page that fits clearly.</summary>
public sealed record ClearSuggestion(long ClusterId, string Cluster, long Demand, long PageId, string Url, string? Title, double Strength);

/// <summary>How far a cluster has come at the mapping desk.</summary>
public enum CoveragePart
{
    /// <summary>It has an existing page, and nothing is in its way.</summary>
    Covered,

    /// <summary>Its page is planned.</summary>
    Planned,

    /// <summary>Pages of the site stand in each other's way.</summary>
    Contested,

    /// <summary>Nothing is decided.</summary>
    Open,

    /// <summary>The planner does not want a page for it.</summary>
    Declined,
}

/// <summary>The clusters of one part on a day.</summary>
public sealed record CoverageRow(DateOnly Day, CoveragePart Part, long Clusters, long Demand);

/// <summary>Which page each cluster is assigned to, and what is suggested.</summary>
public static class PageMapStore
{
    /// <summary>Gives a cluster its page, in the place of the one it had.</summary>
    public static void Assign(Session session, long clusterId, long pageId, DateTimeOffset now)
    {
        session.Execute("delete from cluster_decline where cluster_id = @cluster", ("cluster", clusterId));
        session.Execute(
            """
            insert into assignment (cluster_id, page_id, decided_at) values (@cluster, @page, @now)
            on conflict (cluster_id) do update set page_id = excluded.page_id, decided_at = excluded.decided_at
            """,
            ("cluster", clusterId), ("page", pageId), ("now", now.UtcDateTime.ToString("O")));
        PageStore.DropUnusedPlanned(session);
    }

    /// <summary>Says that a cluster is to have no page, and why.</summary>
    public static void Decline(Session session, long clusterId, string reason, DateTimeOffset now)
    {
        Clear(session, clusterId);
        session.Execute(
            "insert into cluster_decline (cluster_id, reason, declined_at) values (@cluster, @reason, @now)",
            ("cluster", clusterId), ("reason", reason), ("now", now.UtcDateTime.ToString("O")));
    }

    /// <returns>The clusters that are to have no page.</returns>
    public static HashSet<long> Declined(Session session) => [.. session.List("select cluster_id from cluster_decline", r => r.GetInt64(0))];

    /// <summary>Takes a cluster's page away, or the word that it is to have none.</summary>
    public static void Clear(Session session, long clusterId)
    {
        session.Execute(
            "delete from assignment where cluster_id = @cluster; delete from cluster_decline where cluster_id = @cluster;", ("cluster", clusterId));
        PageStore.DropUnusedPlanned(session);
    }

    /// <returns>The undecided clusters of a least demand whose suggestion is clear and free, most demand first.</returns>
    public static IReadOnlyList<ClearSuggestion> ClearSuggestions(Session session, long minDemand) => session.List(
        """
        select s.cluster_id, coalesce(c.name, k.phrase), c.demand, s.page_id, g.url, g.title, s.strength
        from suggestion s
        join cluster c on c.cluster_id = s.cluster_id
        join keyword k on k.keyword_id = c.primary_keyword_id
        join page g on g.page_id = s.page_id
        where s.verdict = 'clear'
          and c.demand >= @demand
          and not exists (select 1 from assignment a where a.cluster_id = s.cluster_id)
          and not exists (select 1 from assignment a where a.page_id = s.page_id)
          and not exists (select 1 from cluster_decline d where d.cluster_id = s.cluster_id)
        order by c.demand desc, c.cluster_id
        """,
        r => new ClearSuggestion(r.GetInt64(0), r.GetString(1), r.GetInt64(2), r.GetInt64(3), r.GetString(4), r.TextOrNull(5), r.GetDouble(6)),
        ("demand", minDemand));

    /// <summary>Keeps the demand of each part for today, in the place of what was kept for it.</summary>
    public static void SaveCoverage(Session session, DateOnly today) => UndoLog.Unrecorded(session, () => session.Execute(
        $"""
        delete from coverage where day = @day;
        insert into coverage select @day, part, count(*), sum(demand) from ({Parts}) group by part;
        """,
        ("day", today.DayNumber)));

    /// <returns>For each day on which something changed the clusters and the demand of each part, oldest first.</returns>
    public static IReadOnlyList<CoverageRow> Coverage(Session session) => session.List(
        "select day, part, clusters, demand from coverage order by day, part",
        r => new CoverageRow(DateOnly.FromDayNumber(r.GetInt32(0)), r.Enum<CoveragePart>(1), r.GetInt64(2), r.GetInt64(3)));

    /// <returns>The clusters and the demand of each part now.</returns>
    public static IReadOnlyList<CoverageRow> CoverageNow(Session session, DateOnly today) => session.List(
        $"select part, count(*), sum(demand) from ({Parts}) group by part", r => new CoverageRow(today, r.Enum<CoveragePart>(0), r.GetInt64(1), r.GetInt64(2)));

    private const string Parts =
        """
        select c.demand, case
          when d.cluster_id is not null then 'declined'
          when c.conflicts > 0 then 'contested'
          when g.kind = 'existing' then 'covered'
          when g.kind = 'planned' then 'planned'
          else 'open'
        end as part
        from cluster c
        left join assignment a on a.cluster_id = c.cluster_id
        left join page g on g.page_id = a.page_id
        left join cluster_decline d on d.cluster_id = c.cluster_id
        """;

    public static IReadOnlyList<PageCandidate> Candidates(Session session, long clusterId) => session.List(
        """
        select n.page_id, g.url, g.title, n.results, n.performance, n.text, n.strength,
          (select coalesce(c.name, k.phrase)
           from assignment a
           join cluster c on c.cluster_id = a.cluster_id
           join keyword k on k.keyword_id = c.primary_keyword_id
           where a.page_id = n.page_id and a.cluster_id <> n.cluster_id
           order by c.demand desc
           limit 1)
        from page_candidate n
        join page g on g.page_id = n.page_id
        where n.cluster_id = @cluster
        order by n.place
        """,
        r => new PageCandidate(r.GetInt64(0), r.GetString(1), r.TextOrNull(2), r.DoubleOrNull(3), r.DoubleOrNull(4), r.DoubleOrNull(5), r.GetDouble(6), r.TextOrNull(7)),
        ("cluster", clusterId));

    /// <returns>The suggested page of each cluster that has one.</returns>
    public static Dictionary<long, long> SuggestedPages(Session session)
    {
        var pages = new Dictionary<long, long>();
        session.List("select cluster_id, page_id from suggestion where page_id is not null", r => pages[r.GetInt64(0)] = r.GetInt64(1));
        return pages;
    }

    /// <summary>Puts new suggestions in the place of all old ones; only what differs is written.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="clusterIds">The clusters, in the order of the suggestions.</param>
    /// <param name="pageIds">The ids of the pages that suggestions name by index.</param>
    /// <param name="suggestions">One for each cluster.</param>
    /// <param name="hasCandidates">True for a cluster whose candidates are stored as they are.</param>
    public static void SaveSuggestions(
        Session session, IReadOnlyList<long> clusterIds, IReadOnlyList<long> pageIds, IReadOnlyList<ClusterSuggestion> suggestions, Func<int, bool> hasCandidates)
    {
        var before = new Dictionary<long, (long? Page, string Verdict, double Strength, long? LostTo)>();
        session.List("select cluster_id, page_id, verdict, strength, lost_to_cluster_id from suggestion", r =>
            before[r.GetInt64(0)] = (r.LongOrNull(1), r.GetString(2), r.GetDouble(3), r.LongOrNull(4)));
        var unsure = Enumerable.Range(0, clusterIds.Count).Where(c => !hasCandidates(c)).ToHashSet();
        // A few clusters are asked for by their ids, many all at once.
        var candidates = session.List(
            $"""
            select cluster_id, page_id, results, performance, text, strength
            from page_candidate
            {(unsure.Count > 500 ? "" : $"where cluster_id in ({string.Join(',', unsure.Select(c => clusterIds[c]))})")}
            order by cluster_id, place
            """,
            r => (Cluster: r.GetInt64(0), Page: r.GetInt64(1), Results: r.DoubleOrNull(2), Performance: r.DoubleOrNull(3), Text: r.DoubleOrNull(4), Strength: r.GetDouble(5)))
            .ToLookup(c => c.Cluster, c => (c.Page, c.Results, c.Performance, c.Text, c.Strength));
        var kept = clusterIds.ToHashSet();
        foreach (var gone in before.Keys.Where(c => !kept.Contains(c)))
            session.Execute("delete from page_candidate where cluster_id = @id; delete from suggestion where cluster_id = @id;", ("id", gone));
        using var forget = session.Command("delete from page_candidate where cluster_id = @id", ("id", 0L));
        using var suggestion = session.Command(
            "insert or replace into suggestion values (@cluster, @page, @verdict, @strength, @lost)",
            ("cluster", 0L), ("page", null), ("verdict", ""), ("strength", 0.0), ("lost", null));
        using var candidate = session.Command(
            "insert into page_candidate values (@cluster, @place, @page, @results, @performance, @text, @strength)",
            ("cluster", 0L), ("place", 0), ("page", 0L), ("results", null), ("performance", null), ("text", null), ("strength", 0.0));
        for (var c = 0; c < clusterIds.Count; c++)
        {
            var s = suggestions[c];
            (long? Page, string Verdict, double Strength, long? LostTo) now =
                (s.Page is { } page ? pageIds[page] : null, s.Verdict.Stored(), s.Strength, s.LostTo is { } lost ? clusterIds[lost] : null);
            if (!before.TryGetValue(clusterIds[c], out var known) || known != now)
                Set(suggestion, clusterIds[c], now.Page, now.Verdict, now.Strength, now.LostTo);
            if (!unsure.Contains(c) || candidates[clusterIds[c]].SequenceEqual(s.Candidates.Select(e => (pageIds[e.Page], e.Results, e.Performance, e.Text, e.Strength))))
                continue;
            Set(forget, clusterIds[c]);
            for (var place = 0; place < s.Candidates.Length; place++)
            {
                var e = s.Candidates[place];
                Set(candidate, clusterIds[c], place, pageIds[e.Page], e.Results, e.Performance, e.Text, e.Strength);
            }
        }
    }

    private static void Set(SqliteCommand command, params ReadOnlySpan<object?> values)
    {
        for (var i = 0; i < values.Length; i++)
            command.Parameters[i].Value = values[i] ?? DBNull.Value;
        command.ExecuteNonQuery();
    }
}
