using System.Collections.Immutable;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>The one result list that stands for a whole cluster.</summary>
public static class ClusterResults
{
    /// <summary>
    /// URLs by Σ volume · curve(position) over the cluster's keywords, cut at the depth: what a searcher of this
    /// cluster, whichever words are used, most probably sees.
    /// </summary>
    /// <param name="clusters">The clusters.</param>
    /// <param name="weights">The weight of each keyword, see <see cref="SearchWeights"/>.</param>
    /// <param name="lists">Cut at <paramref name="depth"/>.</param>
    /// <param name="depth">Length of the lists.</param>
    /// <param name="urlIdentities">Decides between equals.</param>
    /// <returns>One list for each cluster, in their order.</returns>
    public static ResultLists Of(
        IReadOnlyList<Cluster> clusters, double[] weights, ResultLists lists, int depth, IReadOnlyList<string> urlIdentities)
    {
        var builder = new ResultLists.Builder();
        for (var c = 0; c < clusters.Count; c++)
        {
            var position = 0;
            foreach (var url in Of(clusters[c], weights, lists, depth, urlIdentities))
                builder.Add(c, ++position, url);
        }

        return builder.Build(clusters.Count, urlIdentities);
    }

    /// <summary>As above, of one cluster: its URLs, best first.</summary>
    internal static int[] Of(Cluster cluster, double[] weights, ResultLists lists, int depth, IReadOnlyList<string> urlIdentities)
    {
        var scores = new Dictionary<int, double>();
        foreach (var keyword in cluster.Members)
        {
            var urls = lists.Urls(keyword);
            for (var i = 0; i < urls.Length; i++)
                scores[urls[i]] = scores.GetValueOrDefault(urls[i]) + (weights[keyword] * ClickCurve.Default.At(lists.Positions(keyword)[i]));
        }

        return [.. scores.OrderByDescending(s => Math.Round(s.Value, 9)).ThenBy(s => urlIdentities[s.Key], StringComparer.Ordinal).Take(depth).Select(s => s.Key)];
    }

    /// <summary>
    /// The weight of each keyword within its cluster: its volume; where no keyword of the cluster has one, all weigh
    /// the same.
    /// </summary>
    public static double[] SearchWeights(IReadOnlyList<Cluster> clusters, IReadOnlyList<Keywords.Keyword> keywords)
    {
        var weights = new double[keywords.Count];
        foreach (var cluster in clusters)
            Weigh(cluster, keywords, weights);
        return weights;
    }

    /// <summary>As <see cref="SearchWeights"/>, of one cluster.</summary>
    internal static void Weigh(Cluster cluster, IReadOnlyList<Keywords.Keyword> keywords, double[] weights)
    {
        var known = cluster.Members.Any(k => keywords[k].Volume > 0);
        foreach (var keyword in cluster.Members)
            weights[keyword] = known ? keywords[keyword].Volume ?? 0 : 1;
    }
}
