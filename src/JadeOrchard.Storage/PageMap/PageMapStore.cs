using JadeOrchard.Core.PageMap;
using JadeOrchard.Storage.Site;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.PageMap;

/// <summary>A page that could stand for a cluster.</summary>
/// <param name="Results">0 to 1.</param>
/// <param name="Text">0 to 1; null where the page's text is not known.</param>
/// <param name="Strength">0 to 100.</param>
/// <param name="AssignedTo">Another cluster that has the page; null where none has.</param>
public sealed record PageCandidate(
    long PageId, string Url, string? Title, double Results, double? Text, double Strength, string? AssignedTo);

/// <summary>Which page each cluster is assigned to, and what is suggested.</summary>
public static class PageMapStore
{
    /// <summary>Gives a cluster its page, in the place of the one it had.</summary>
    public static void Assign(Session session, long clusterId, long pageId, DateTimeOffset now)
    {
        session.Execute(
            """
            insert into assignment (cluster_id, page_id, decided_at) values (@cluster, @page, @now)
            on conflict (cluster_id) do update set page_id = excluded.page_id, decided_at = excluded.decided_at
            """,
            ("cluster", clusterId), ("page", pageId), ("now", now.UtcDateTime.ToString("O")));
        PageStore.DropUnusedPlanned(session);
    }

    /// <summary>Takes a cluster's page away.</summary>
    public static void Clear(Session session, long clusterId)
    {
        session.Execute("delete from assignment where cluster_id = @cluster", ("cluster", clusterId));
        PageStore.DropUnusedPlanned(session);
    }

    /// <returns>The clusters of a least demand without a page whose suggestion is clear and free, with the suggested page.</returns>
    public static IReadOnlyList<(long ClusterId, long PageId)> ClearSuggestions(Session session, long minDemand) => session.List(
        """
        select s.cluster_id, s.page_id
        from suggestion s
        join cluster c on c.cluster_id = s.cluster_id
        where s.verdict = 'clear'
          and c.demand >= @demand
          and not exists (select 1 from assignment a where a.cluster_id = s.cluster_id)
          and not exists (select 1 from assignment a where a.page_id = s.page_id)
        order by c.demand desc, c.cluster_id
        """,
        r => (r.GetInt64(0), r.GetInt64(1)),
        ("demand", minDemand));

    public static IReadOnlyList<PageCandidate> Candidates(Session session, long clusterId) => session.List(
        """
        select n.page_id, g.url, g.title, n.results, n.text, n.strength,
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
        r => new PageCandidate(r.GetInt64(0), r.GetString(1), r.TextOrNull(2), r.GetDouble(3), r.DoubleOrNull(4), r.GetDouble(5), r.TextOrNull(6)),
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
    public static void SaveSuggestions(
        Session session, IReadOnlyList<long> clusterIds, IReadOnlyList<long> pageIds, IReadOnlyList<ClusterSuggestion> suggestions)
    {
        var before = new Dictionary<long, (long? Page, string Verdict, double Strength, long? LostTo)>();
        session.List("select cluster_id, page_id, verdict, strength, lost_to_cluster_id from suggestion", r =>
            before[r.GetInt64(0)] = (r.LongOrNull(1), r.GetString(2), r.GetDouble(3), r.LongOrNull(4)));
        var candidates = session.List(
            "select cluster_id, page_id, results, text, strength from page_candidate order by cluster_id, place",
            r => (Cluster: r.GetInt64(0), Page: r.GetInt64(1), Results: r.GetDouble(2), Text: r.DoubleOrNull(3), Strength: r.GetDouble(4)))
            .ToLookup(c => c.Cluster, c => (c.Page, c.Results, c.Text, c.Strength));
        var kept = clusterIds.ToHashSet();
        foreach (var gone in before.Keys.Where(c => !kept.Contains(c)))
            session.Execute("delete from page_candidate where cluster_id = @id; delete from suggestion where cluster_id = @id;", ("id", gone));
        using var forget = session.Command("delete from page_candidate where cluster_id = @id", ("id", 0L));
        using var suggestion = session.Command(
            "insert or replace into suggestion values (@cluster, @page, @verdict, @strength, @lost)",
            ("cluster", 0L), ("page", null), ("verdict", ""), ("strength", 0.0), ("lost", null));
        using var candidate = session.Command(
            "insert into page_candidate values (@cluster, @place, @page, @results, @text, @strength)",
            ("cluster", 0L), ("place", 0), ("page", 0L), ("results", 0.0), ("text", null), ("strength", 0.0));
        for (var c = 0; c < clusterIds.Count; c++)
        {
            var s = suggestions[c];
            (long? Page, string Verdict, double Strength, long? LostTo) now =
                (s.Page is { } page ? pageIds[page] : null, s.Verdict.Stored(), s.Strength, s.LostTo is { } lost ? clusterIds[lost] : null);
            if (!before.TryGetValue(clusterIds[c], out var known) || known != now)
                Set(suggestion, clusterIds[c], now.Page, now.Verdict, now.Strength, now.LostTo);
            if (candidates[clusterIds[c]].SequenceEqual(s.Candidates.Select(e => (pageIds[e.Page], e.Results, e.Text, e.Strength))))
                continue;
            Set(forget, clusterIds[c]);
            for (var place = 0; place < s.Candidates.Length; place++)
            {
                var e = s.Candidates[place];
                Set(candidate, clusterIds[c], place, pageIds[e.Page], e.Results, e.Text, e.Strength);
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
