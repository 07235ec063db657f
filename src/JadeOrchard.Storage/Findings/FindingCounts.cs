using JadeOrchard.Core.Findings;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Findings;

/// <summary>A finding as it is stored, to tell what changed.</summary>
internal sealed record StoredFinding(
    string Key, FindingKind Kind, ClusterId? ClusterId, ClusterId? OtherClusterId, KeywordId? KeywordId, PageId? PageId, PageId? OtherPageId, double AtStake, long FactsHash, bool IsPresent, string Scope)
{
    private static readonly Dictionary<string, FindingKind> Kinds = Enum.GetValues<FindingKind>().ToDictionary(k => k.Stored(), StringComparer.Ordinal);

    /// <summary>What <see cref="Read"/> wants.</summary>
    public const string Columns = "finding_key, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts_hash, present, scope";

    /// <summary>What it is about: several findings about the same pages, or the same hole, are about the same clicks.</summary>
    public string Matter => Kind.Group() switch
    {
        FindingGroup.Cannibalization when PageId is { } page && OtherPageId is { } other => $"pages:{Math.Min(page.Value, other.Value)}:{Math.Max(page.Value, other.Value)}",
        FindingGroup.Uncovered when ClusterId is { } cluster => $"hole:{cluster}",
        _ when Kind == FindingKind.UnlinkedSupport && ClusterId is { } cluster => $"links:{cluster}",
        _ => $"{Kind.Code()}:{PageId}:{OtherClusterId}",
    };

    /// <returns>The findings of some scopes, or all that are present, by key.</returns>
    public static Dictionary<string, StoredFinding> Of(Session session, IReadOnlyCollection<string>? scopes) =>
        (scopes is null ? Where(session, "present = 1") : Where(session, "scope in (select value from json_each(@scopes))", ("scopes", System.Text.Json.JsonSerializer.Serialize(scopes))))
            .ToDictionary(f => f.Key, StringComparer.Ordinal);

    public static StoredFinding Of(ComputedFinding f) => new(
        f.Key, f.Kind, f.ClusterId, f.OtherClusterId, f.KeywordId, f.PageId, f.OtherPageId, f.AtStake, f.FactsHash(), IsPresent: true, f.Scope);

    public static List<StoredFinding> Where(Session session, string condition, params ReadOnlySpan<(string Name, object? Value)> parameters) =>
        session.List($"select {Columns} from finding where {condition}", Read, parameters);

    public static StoredFinding Read(SqliteDataReader row) => new(
        row.GetString(0), Kinds[row.GetString(1)], row.IdOrNull<ClusterId>(2), row.IdOrNull<ClusterId>(3), row.IdOrNull<KeywordId>(4), row.IdOrNull<PageId>(5), row.IdOrNull<PageId>(6), row.GetDouble(7), row.GetInt64(8),
        row.GetInt64(9) == 1, row.GetString(10));
}

/// <summary>What changed of findings, so that only what counts them is counted again.</summary>
public sealed class FindingChanges
{
    internal HashSet<string> Matters { get; } = new(StringComparer.Ordinal);

    internal HashSet<PageId> Pages { get; } = [];

    internal HashSet<string> Keys { get; } = new(StringComparer.Ordinal);

    /// <summary>The clusters that they are about.</summary>
    public HashSet<ClusterId> Clusters { get; } = [];

    /// <summary>All findings were looked at, so that nothing is told one by one.</summary>
    public bool IsAll { get; internal set; }

    /// <summary>They were saved with what they add to sums and with the demand behind them, and none changed since.</summary>
    public bool AreCounted { get; internal set; }

    internal void Add(StoredFinding finding)
    {
        AreCounted = false;
        if (IsAll)
            return;
        Keys.Add(finding.Key);
        Matters.Add(finding.Matter);
        foreach (var cluster in new[] { finding.ClusterId, finding.OtherClusterId }.OfType<ClusterId>())
            Clusters.Add(cluster);
        foreach (var page in new[] { finding.PageId, finding.OtherPageId }.OfType<PageId>())
            Pages.Add(page);
    }
}

/// <summary>What clusters, pages and lists count of findings. Only what differs is written.</summary>
public static class FindingCounts
{
    internal static readonly string Waits = $"f.state in ({string.Join(", ", Enum.GetValues<FindingState>().Where(s => s.IsWaiting()).Select(s => $"'{s.Stored()}'"))})";

    /// <param name="session">The transaction.</param>
    /// <param name="changes">What changed.</param>
    /// <param name="clusterIds">Clusters whose demand may be another; null for all.</param>
    public static void Refresh(WriteSession session, FindingChanges changes, IReadOnlySet<ClusterId>? clusterIds)
    {
        if (!changes.AreCounted)
        {
            RefreshDemands(session, changes.IsAll ? null : clusterIds?.Union(changes.Clusters).ToList());
            RefreshCounted(session, changes);
        }

        (string, object?) pages = ("pages", changes.IsAll ? null : "[" + string.Join(',', changes.Pages) + "]");
        string Among(string column, string name) => changes.IsAll ? "true" : $"{column} in (select value from json_each(@{name}))";
        (string, object?) clusters = ("clusters", changes.IsAll ? null : "[" + string.Join(',', changes.Clusters) + "]");
        var conflicts = string.Join(", ", Enum.GetValues<FindingKind>().Where(k => k.IsCannibalization()).Select(k => $"'{k.Stored()}'"));
        session.Execute(
            $"""
            update cluster set at_stake = n.stake, open_findings = n.count, conflicts = n.conflicts
            from (
              select c.cluster_id, coalesce(sum(f.count), 0) as count, coalesce(sum(f.conflicts), 0) as conflicts, round(coalesce(sum(f.stake), 0.0), 6) as stake
              from cluster c
              left join (
                select f.cluster_id, count(*) as count, sum(f.kind in ({conflicts})) as conflicts, sum(f.counted) as stake
                from finding f where {Waits} and {Among("f.cluster_id", "clusters")} group by f.cluster_id
                union all
                select f.other_cluster_id, count(*), count(*), 0.0
                from finding f where {Waits} and f.other_cluster_id is not null and f.kind in ({conflicts}) and {Among("f.other_cluster_id", "clusters")} group by f.other_cluster_id
              ) f on f.cluster_id = c.cluster_id
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
              left join (
                select f.page_id, f.finding_id from finding f where {Waits} and {Among("f.page_id", "pages")}
                union
                select f.other_page_id, f.finding_id from finding f where {Waits} and {Among("f.other_page_id", "pages")}
              ) f on f.page_id = g.page_id
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

    private static void RefreshCounted(WriteSession session, FindingChanges changes)
    {
        var stakes = session.List(
            $"select finding_id, matter, state, at_stake, finding_key, counted, cluster_id from finding {(changes.IsAll ? "" : "where matter in (select value from json_each(@matters))")}",
            r => (Id: r.GetInt64(0), Stake: new Stake(r.GetString(1), r.Enum<FindingState>(2).IsWaiting(), r.GetDouble(3), r.GetString(4)), Counted: r.GetDouble(5), Cluster: r.IdOrNull<ClusterId>(6)),
            ("matters", changes.IsAll ? null : System.Text.Json.JsonSerializer.Serialize(changes.Matters)));
        using var count = session.Command("update finding set counted = @counted where finding_id = @id", ("id", 0L), ("counted", 0.0));
        foreach (var (stake, counted) in stakes.Zip(CountedStakes.Of([.. stakes.Select(s => s.Stake)])))
        {
            if (stake.Counted.Equals(counted))
                continue;
            count.Run(stake.Id, counted);
            // One that counts now, because a larger one about the same matter went, may be of another cluster.
            if (stake.Cluster is { } cluster)
                changes.Clusters.Add(cluster);
        }
    }

    /// <param name="session">The transaction.</param>
    /// <param name="clusterIds">Clusters whose demand may be another; null for all.</param>
    internal static void RefreshDemands(WriteSession session, IReadOnlyCollection<ClusterId>? clusterIds)
    {
        session.Execute(
            $"""
            update finding set demand = c.demand
            from cluster c
            where c.cluster_id = finding.cluster_id and finding.demand <> c.demand
              {(clusterIds is null ? "" : "and finding.cluster_id in (select value from json_each(@clusters))")}
            """,
            ("clusters", clusterIds is null ? null : "[" + string.Join(',', clusterIds) + "]"));
    }
}
