using System.Text.Json;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Storage.Findings;

/// <summary>What changed of findings, so that only what counts them is counted again.</summary>
public sealed class FindingChanges
{
    internal HashSet<PageId> Pages { get; } = [];

    internal HashSet<string> Keys { get; } = new(StringComparer.Ordinal);

    /// <summary>The clusters that they are about.</summary>
    public HashSet<ClusterId> Clusters { get; } = [];

    /// <summary>All findings were looked at, so that nothing is told one by one.</summary>
    public bool IsAll { get; internal set; }

    /// <summary>Adds findings with the clusters and pages that they are about as they are stored now.</summary>
    internal void Add(Session session, IReadOnlyCollection<string> keys)
    {
        if (IsAll || keys.Count == 0)
            return;
        Keys.UnionWith(keys);
        (string, object?) which = ("keys", JsonSerializer.Serialize(keys));
        Clusters.UnionWith(session.List(
            "select x.cluster_id from finding f join finding_cluster x on x.finding_id = f.finding_id where f.finding_key in (select value from json_each(@keys))", r => r.Id<ClusterId>(0), which));
        Pages.UnionWith(session.List(
            "select x.page_id from finding f join finding_page x on x.finding_id = f.finding_id where f.finding_key in (select value from json_each(@keys))", r => r.Id<PageId>(0), which));
    }
}

/// <summary>What clusters, pages and lists count of findings. Only what differs is written.</summary>
public static class FindingCounts
{
    internal static readonly string ToDo = $"f.state in ({string.Join(", ", Enum.GetValues<FindingState>().Where(s => s.IsToDo()).Select(s => $"'{s.Stored()}'"))})";

    /// <param name="session">The transaction.</param>
    /// <param name="changes">What changed.</param>
    /// <param name="clusterIds">Clusters whose demand may be another; null for all.</param>
    public static void Refresh(WriteSession session, FindingChanges changes, IReadOnlySet<ClusterId>? clusterIds)
    {
        RefreshDemands(session, changes.IsAll ? null : clusterIds);
        (string, object?) pages = ("pages", changes.IsAll ? null : "[" + string.Join(',', changes.Pages) + "]");
        string Among(string column, string name) => changes.IsAll ? "true" : $"{column} in (select value from json_each(@{name}))";
        (string, object?) clusters = ("clusters", changes.IsAll ? null : "[" + string.Join(',', changes.Clusters) + "]");
        (string, object?) keys = ("keys", changes.IsAll ? null : JsonSerializer.Serialize(changes.Keys));

        // Each cluster's clicks count in the largest finding about it, of those to do and of the others, so that no sum counts them twice.
        session.Execute(
            $"""
            update finding_cluster set counts = n.counts
            from (
              select x.cluster_id, x.finding_id, row_number() over (partition by x.cluster_id, {ToDo} order by round(x.at_stake, 6) desc, f.finding_key) = 1 as counts
              from finding_cluster x join finding f on f.finding_id = x.finding_id
              where {Among("x.cluster_id", "clusters")}
            ) n
            where n.cluster_id = finding_cluster.cluster_id and n.finding_id = finding_cluster.finding_id and finding_cluster.counts <> n.counts
            """,
            clusters);
        session.Execute(
            $"""
            update finding set counted = n.counted
            from (
              select f.finding_id, max(0.0, round(f.at_stake - coalesce((select sum(x.at_stake) from finding_cluster x where x.finding_id = f.finding_id and x.counts = 0), 0.0), 6)) as counted
              from finding f
              where {(changes.IsAll ? "true" : $"f.finding_id in (select x.finding_id from finding_cluster x where {Among("x.cluster_id", "clusters")} union select finding_id from finding where {Among("finding_key", "keys")})")}
            ) n
            where n.finding_id = finding.finding_id and finding.counted <> n.counted
            """,
            clusters, keys);
        session.Execute(
            $"""
            update cluster set at_stake = n.stake, open_findings = n.count, conflicts = n.conflicts
            from (
              select c.cluster_id, count(f.finding_id) as count, coalesce(sum(f.kind = '{FindingKind.Conflict.Stored()}'), 0) as conflicts,
                round(coalesce(sum(iif(x.counts, x.at_stake, 0.0)) filter (where f.finding_id is not null), 0.0), 6) as stake
              from cluster c
              left join finding_cluster x on x.cluster_id = c.cluster_id
              left join finding f on f.finding_id = x.finding_id and {ToDo}
              where {Among("c.cluster_id", "clusters")}
              group by c.cluster_id
            ) n
            where n.cluster_id = cluster.cluster_id and (cluster.at_stake, cluster.open_findings, cluster.conflicts) <> (n.stake, n.count, n.conflicts)
            """,
            clusters);
        session.Execute(
            $"""
            update page set open_findings = n.count
            from (
              select g.page_id, count(f.finding_id) as count
              from page g
              left join finding_page x on x.page_id = g.page_id
              left join finding f on f.finding_id = x.finding_id and {ToDo}
              where {Among("g.page_id", "pages")}
              group by g.page_id
            ) n
            where n.page_id = page.page_id and page.open_findings <> n.count
            """,
            pages);
        if (changes.IsAll)
        {
            session.Touch(Data.Findings);
            return;
        }

        session.Touch(Data.Findings, [.. changes.Clusters]);
    }

    private static void RefreshDemands(WriteSession session, IReadOnlyCollection<ClusterId>? clusterIds) => session.Execute(
        $"""
        update finding set demand = n.demand
        from (
          select x.finding_id, sum(c.demand) as demand
          from finding_cluster x join cluster c on c.cluster_id = x.cluster_id
          where {(clusterIds is null ? "true" : "x.finding_id in (select finding_id from finding_cluster where cluster_id in (select value from json_each(@clusters)))")}
          group by x.finding_id
        ) n
        where n.finding_id = finding.finding_id and finding.demand <> n.demand
        """,
        ("clusters", clusterIds is null ? null : "[" + string.Join(',', clusterIds) + "]"));
}
