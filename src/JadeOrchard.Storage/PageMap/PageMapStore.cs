using System.Collections.Immutable;
using System.Text.Json;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Storage.PageMap;

/// <summary>A page that could serve a cluster.</summary>
/// <param name="Results">0 to 1; null where no keyword of the cluster has a result list.</param>
/// <param name="Performance">0 to 1; null where no query of the cluster was seen.</param>
/// <param name="Text">0 to 1; null where the page's text is not known.</param>
/// <param name="Strength">0 to 100.</param>
/// <param name="AssignedTo">Another cluster that has the page; null where none has.</param>
public sealed record PageCandidate(
    PageId PageId, string Url, string? Title, double? Results, double? Performance, double? Text, double Strength, string? AssignedTo);

/// <summary>A suggestion as it is stored.</summary>
/// <param name="Page">Index of the suggested page; null for none.</param>
/// <param name="LostTo">The cluster that got this cluster's strongest page instead; null where none did.</param>
/// <param name="Candidates">The strongest pages, best first; null where those that are stored are still right.</param>
public sealed record StoredSuggestion(int? Page, Verdict Verdict, double Strength, ClusterId? LostTo, ImmutableArray<PageEvidence>? Candidates);

/// <summary>An undecided cluster with a page that fits clearly.</summary>
public sealed record ClearSuggestion(ClusterId ClusterId, string Cluster, long Demand, PageId PageId, string Url, string? Title, double Strength);

/// <summary>Which page each cluster is assigned to, and what is suggested.</summary>
public static class PageMapStore
{
    /// <summary>Gives a cluster its page, in the place of the one it had.</summary>
    public static void Assign(WriteSession session, ClusterId clusterId, PageId pageId, DateTimeOffset now)
    {
        session.Touch(Data.PageMap, clusterId);
        session.Execute("delete from cluster_decline where cluster_id = @cluster", ("cluster", clusterId));
        session.Execute(
            """
            insert into assignment (cluster_id, page_id, decided_at) values (@cluster, @page, @now)
            on conflict (cluster_id) do update set page_id = excluded.page_id, decided_at = excluded.decided_at where page_id <> excluded.page_id
            """,
            ("cluster", clusterId), ("page", pageId), ("now", now.UtcDateTime.ToString("O")));
        PageStore.DropUnusedPlanned(session);
    }

    /// <summary>Says that a cluster is to have no page, and why.</summary>
    public static void Decline(WriteSession session, ClusterId clusterId, string reason, DateTimeOffset now)
    {
        Unassign(session, clusterId);
        session.Execute(
            "insert into cluster_decline (cluster_id, reason, declined_at) values (@cluster, @reason, @now)",
            ("cluster", clusterId), ("reason", reason), ("now", now.UtcDateTime.ToString("O")));
    }

    /// <summary>Takes a cluster's page away, or the word that it is to have none.</summary>
    public static void Unassign(WriteSession session, ClusterId clusterId)
    {
        session.Touch(Data.PageMap, clusterId);
        session.Execute(
            "delete from assignment where cluster_id = @cluster; delete from cluster_decline where cluster_id = @cluster;", ("cluster", clusterId));
        PageStore.DropUnusedPlanned(session);
    }

    /// <returns>How many clusters have a page, and how many of these pages are planned.</returns>
    public static (long Assigned, long Planned) Counts(Session session) => session.List(
        "select count(*), coalesce(sum(g.kind = 'planned'), 0) from assignment a join page g on g.page_id = a.page_id", r => (r.GetInt64(0), r.GetInt64(1)))[0];

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
        r => new ClearSuggestion(r.Id<ClusterId>(0), r.GetString(1), r.GetInt64(2), r.Id<PageId>(3), r.GetString(4), r.TextOrNull(5), r.GetDouble(6)),
        ("demand", minDemand));

    /// <returns>The candidates of a cluster, best first.</returns>
    public static IReadOnlyList<PageCandidate> Candidates(Session session, ClusterId clusterId) => session.List(
        """
        select n.page_id, g.url, g.title, n.results, n.performance, n.text, n.strength,
          (select coalesce(c.name, k.phrase)
           from assignment a
           join cluster c on c.cluster_id = a.cluster_id
           join keyword k on k.keyword_id = c.primary_keyword_id
           where a.page_id = n.page_id and a.cluster_id <> @cluster
           order by c.demand desc
           limit 1)
        from (
          select j.key as place, j.value ->> 0 as page_id, j.value ->> 1 as results, j.value ->> 2 as performance, j.value ->> 3 as text, j.value ->> 5 as strength
          from suggestion s, json_each(s.candidates) j
          where s.cluster_id = @cluster
        ) n
        join page g on g.page_id = n.page_id
        order by n.place
        """,
        r => new PageCandidate(r.Id<PageId>(0), r.GetString(1), r.TextOrNull(2), r.DoubleOrNull(3), r.DoubleOrNull(4), r.DoubleOrNull(5), r.GetDouble(6), r.TextOrNull(7)),
        ("cluster", clusterId));

    /// <summary>Puts new suggestions in the place of old ones; only what differs is written.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="suggestions">By cluster id: of all clusters, or of those that changed; null for a cluster that is gone.</param>
    /// <param name="pageIds">The ids of the pages that suggestions name by index.</param>
    /// <param name="isAll">They are all there are.</param>
    public static void SaveSuggestions(WriteSession session, IReadOnlyDictionary<ClusterId, StoredSuggestion?> suggestions, IReadOnlyList<PageId> pageIds, bool isAll)
    {
        var before = session.List(
            $"select cluster_id, page_id, verdict, strength, lost_to_cluster_id, candidates from suggestion {(isAll ? "" : $"where cluster_id in ({string.Join(',', suggestions.Keys)})")}",
            r => (Id: r.Id<ClusterId>(0), Row: (Page: r.IdOrNull<PageId>(1), Verdict: r.GetString(2), Strength: r.GetDouble(3), LostTo: r.IdOrNull<ClusterId>(4), Candidates: r.GetString(5))))
            .ToDictionary(s => s.Id, s => s.Row);
        using var drop = session.Command("delete from suggestion where cluster_id = @id", ("id", 0L));
        foreach (var gone in before.Keys.Where(c => suggestions.GetValueOrDefault(c) is null))
            drop.Run(gone);

        using var insert = new RowBuffer(session, "insert or replace into suggestion (cluster_id, page_id, verdict, strength, lost_to_cluster_id, candidates)", 4, 6);
        foreach (var (cluster, given) in suggestions)
        {
            if (given is not { } stored)
                continue;
            var known = before.GetValueOrDefault(cluster);
            var now = (
                Page: stored.Page is { } page ? pageIds[page] : (PageId?)null, Verdict: stored.Verdict.Stored(), stored.Strength, stored.LostTo,
                Candidates: stored.Candidates is { } evidence ? Stored(evidence, pageIds) : known.Candidates ?? "[]");
            if (known != now)
                insert.Add(cluster, now.Page, now.Verdict, now.Strength, now.LostTo, now.Candidates);
        }
    }

    private static string Stored(ImmutableArray<PageEvidence> candidates, IReadOnlyList<PageId> pageIds) => JsonSerializer.Serialize(
        candidates.Select(c => new double?[] { pageIds[c.Page].Value, c.Results, c.Performance, c.Text, c.Named, c.Strength }));
}
