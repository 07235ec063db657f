using System.Collections.Immutable;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>Where a cluster would come apart first.</summary>
/// <param name="MinOverlap">The least minimum overlap at which it does.</param>
/// <param name="Apart">Indexes of the keywords that would leave the primary, in keyword order.</param>
/// <param name="Heads">The primaries of the parts that leave; the first is of the largest part.</param>
/// <param name="OverlapAcross">Mean overlap of a keyword that stays with one that leaves.</param>
/// <param name="OverlapApart">Mean overlap of two keywords that leave together in the largest part; null for a single one.</param>
public sealed record SuggestedCut(int MinOverlap, ImmutableArray<int> Apart, ImmutableArray<int> Heads, double OverlapAcross, double? OverlapApart)
{
    /// <param name="cluster">The cluster.</param>
    /// <param name="lists">Cut at <paramref name="depth"/>.</param>
    /// <param name="depth">Compared positions.</param>
    /// <param name="minOverlap">The minimum that it was made with.</param>
    /// <param name="rule">How links become clusters.</param>
    /// <returns>Null where it never parts into a group that leaves, but only crumbles into single keywords.</returns>
    public static SuggestedCut? Of(Cluster cluster, ResultLists lists, int depth, int minOverlap, LinkingRule rule)
    {
        var members = cluster.Members;
        if (members.Length < 3)
            return null;
        // The primary stays the first, whatever its volume: the cluster is cut around it.
        var own = lists.Select(members);
        int[] order = [.. Enumerable.Range(0, members.Length)];
        var pairs = OverlapJoin.Pairs(own, Math.Min(minOverlap + 1, depth));
        for (var m = minOverlap + 1; m <= depth; m++)
        {
            var parts = Clustering.Of(order, own, pairs, rule, m).Clusters;
            var leaves = parts.Where(p => p.Primary != 0 && p.Members.Length > 1).OrderByDescending(p => p.Members.Length).ThenBy(p => p.Primary).ToList();
            if (leaves.Count == 0)
                continue;
            int[] apart = [.. leaves.SelectMany(p => p.Members).Order()];
            int[] stays = [.. order.Except(apart)];
            var largest = leaves[0].Members;
            return new SuggestedCut(
                m,
                [.. apart.Select(i => members[i])],
                [.. leaves.Select(p => members[p.Primary])],
                stays.Average(a => apart.Average(b => (double)Overlap.Count(own.Urls(a), own.Urls(b)))),
                ClusterQuality.Cohesion([.. largest.Select(i => members[i])], lists, depth) * depth);
        }

        return null;
    }
}
