using System.Collections.Immutable;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>The one result list of a whole cluster.</summary>
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
    /// <param name="curve">The share of clicks at each position.</param>
    /// <returns>One list for each cluster, in their order.</returns>
    public static ResultLists Of(
        IReadOnlyList<Cluster> clusters, double[] weights, ResultLists lists, int depth, IReadOnlyList<string> urlIdentities, ClickCurve curve)
    {
        var builder = new ResultLists.Builder();
        for (var c = 0; c < clusters.Count; c++)
        {
            var position = 0;
            foreach (var url in Of(clusters[c], weights, lists, depth, urlIdentities, curve))
                builder.Add(c, ++position, url);
        }

        return builder.Build(clusters.Count, urlIdentities);
    }

    /// <summary>As above, of one cluster: its URLs, best first.</summary>
    internal static int[] Of(Cluster cluster, double[] weights, ResultLists lists, int depth, IReadOnlyList<string> urlIdentities, ClickCurve curve)
    {
        var scores = new Dictionary<int, double>();
        foreach (var keyword in cluster.Members)
        {
            var urls = lists.Urls(keyword);
            for (var i = 0; i < urls.Length; i++)
                scores[urls[i]] = scores.GetValueOrDefault(urls[i]) + (weights[keyword] * curve.At(lists.Positions(keyword)[i]));
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
        var (some, all) = (false, true);
        foreach (var keyword in cluster.Members)
        {
            some |= keywords[keyword].Volume > 0;
            all &= keywords[keyword].Volume is not null;
        }

        // Within a cluster the middle of its own known volumes is nearer than that of all.
        long[] known = some && !all ? [.. cluster.Members.Select(k => keywords[k].Volume).Where(v => v > 0).OfType<long>().Order()] : [];
        foreach (var keyword in cluster.Members)
            weights[keyword] = !some ? 1 : keywords[keyword].Volume ?? known[(known.Length - 1) / 2];
    }
}
