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
        var shared = new (int Old, double Weight)[clusters.Count][];
        var weights = new List<(int Old, double Weight)>();
        for (var c = 0; c < shared.Length; c++)
        {
            // Mostly they are few, so they are looked for one after another.
            weights.Clear();
            foreach (var keyword in clusters[c].Members)
            {
                if (oldClusterOf[keyword] is not (var old and >= 0))
                    continue;
                var weight = 1.0 + (keywords[keyword].Volume ?? 0);
                var at = weights.Count - 1;
                while (at >= 0 && weights[at].Old > old)
                    at--;
                if (at >= 0 && weights[at].Old == old)
                    weights[at] = (old, weights[at].Weight + weight);
                else
                    weights.Insert(at + 1, (old, weight));
            }

            shared[c] = [.. weights];
        }

        return Assignment.Best(oldCount, shared);
    }
}
