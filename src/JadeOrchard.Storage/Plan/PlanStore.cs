using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;

namespace JadeOrchard.Storage.Plan;

/// <summary>A cluster with its page and all that is to be known of it to write or mend that page.</summary>
/// <param name="Secondary">The other keywords of the cluster, most searched first.</param>
/// <param name="Findings">Those that are open or accepted, most at stake first.</param>
public sealed record PlanItem(ClusterRow Cluster, IReadOnlyList<string> Secondary, IReadOnlyList<FindingRow> Findings);

/// <summary>The plan: every cluster with a page, and every one with something to do.</summary>
public static class PlanStore
{
    /// <param name="session">The transaction.</param>
    /// <param name="query">What is wanted; its own order is by what is at stake.</param>
    /// <param name="filter">Which clusters.</param>
    public static ListPage<PlanItem> List(Session session, ListQuery query, ClusterFilter filter)
    {
        var page = ClusterStore.List(session, query with { Sort = query.Sort ?? "atStake", Descending = query.Sort is null || query.Descending }, filter);
        // A page of the list is asked for by its ids; all of it in one go.
        var all = page.Rows.Count > 500;
        var secondary = Grouped(session.List(
            $"""
            select m.cluster_id, k.phrase
            from cluster_member m
            join cluster c on c.cluster_id = m.cluster_id
            join keyword k on k.keyword_id = m.keyword_id
            where k.keyword_id <> c.primary_keyword_id {(all ? "" : $"and m.cluster_id in ({string.Join(',', page.Rows.Select(r => r.Id))})")}
            order by m.cluster_id, k.volume desc, k.normal_form
            """,
            r => (r.GetInt64(0), r.GetString(1))));
        var findings = Grouped(FindingStore.List(session, new ListQuery(Limit: int.MaxValue), new FindingFilter()).Rows
            .SelectMany(f => f.OtherClusterId is { } other ? new[] { (f.ClusterId, f), (other, f) } : [(f.ClusterId, f)]));
        return new ListPage<PlanItem>(
            [.. page.Rows.Select(c => new PlanItem(c, secondary.GetValueOrDefault(c.Id, []), findings.GetValueOrDefault(c.Id, [])))],
            page.Tally);
    }

    private static Dictionary<long, List<T>> Grouped<T>(IEnumerable<(long Key, T Value)> pairs) =>
        pairs.GroupBy(p => p.Key, p => p.Value).ToDictionary(g => g.Key, g => g.ToList());
}
