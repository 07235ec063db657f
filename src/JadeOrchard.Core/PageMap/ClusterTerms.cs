using JadeOrchard.Core.Clusters;

namespace JadeOrchard.Core.PageMap;

/// <summary>The stems of a cluster's keywords, each with the share of the cluster's demand that uses it.</summary>
public static class ClusterTerms
{
    /// <param name="cluster">The cluster.</param>
    /// <param name="weights">The weight of each keyword, see <see cref="ClusterResults.SearchWeights"/>.</param>
    /// <param name="stems">The stems of each keyword, each once.</param>
    /// <returns>Stem to weight, above 0 and at most 1.</returns>
    public static Dictionary<int, double> Of(Cluster cluster, double[] weights, Func<int, IReadOnlyList<int>> stems)
    {
        var terms = new Dictionary<int, double>();
        var total = cluster.Members.Sum(k => weights[k]);
        foreach (var keyword in cluster.Members)
        {
            if (weights[keyword] <= 0)
                continue;
            foreach (var stem in stems(keyword))
                terms[stem] = terms.GetValueOrDefault(stem) + (weights[keyword] / total);
        }

        return terms;
    }
}
