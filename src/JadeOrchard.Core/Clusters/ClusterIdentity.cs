using JadeOrchard.Core.PageMap;

namespace JadeOrchard.Core.Clusters;

/// <summary>Which new cluster is which old one, so that a re-grouping keeps names, pages and decisions.</summary>
/// <remarks>The one-to-one matching with the greatest volume-weighted overlap of members (<see cref="Assignment"/>).</remarks>
public static class ClusterIdentity
{
    /// <param name="oldClusterOf">For each keyword the index of its old cluster, or -1.</param>
    /// <param name="oldCount">Number of old clusters.</param>
    /// <param name="clusters">The new clusters.</param>
    /// <param name="keywords">For their volumes: each counts one more than its volume.</param>
    /// <returns>For each new cluster the old one whose identity it inherits, or -1.</returns>
    public static int[] Inherited(
        int[] oldClusterOf, int oldCount, IReadOnlyList<Cluster> clusters, IReadOnlyList<Keywords.Keyword> keywords)
    {
        var shared = clusters.Select(cluster =>
        {
            var weights = new SortedDictionary<int, double>();
            foreach (var keyword in cluster.Members)
            {
                if (oldClusterOf[keyword] is var old and >= 0)
                    weights[old] = weights.GetValueOrDefault(old) + 1 + (keywords[keyword].Volume ?? 0);
            }

            return (IReadOnlyList<(int, double)>)[.. weights.Select(w => (w.Key, w.Value))];
        });
        return Assignment.Best(oldCount, [.. shared]);
    }
}
