using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>A keyword without a cluster, and the cluster that takes it in.</summary>
/// <param name="Keyword">Its index.</param>
/// <param name="Cluster">Index of the cluster; -1 where it overlaps no primary by the minimum and is left for review.</param>
/// <param name="Overlap">With its primary; where none takes it in, the most with any primary.</param>
public sealed record NewKeyword(int Keyword, int Cluster, int Overlap);

/// <summary>Places new keywords into the clusters as they stand, without disturbing these.</summary>
/// <remarks>As secondary keywords are by <see cref="PrimaryRule"/>: to the primary that they overlap most; ties: rank-biased overlap, then the first in keyword order.</remarks>
public static class NewKeywords
{
    /// <param name="newKeywords">Captured keywords that are in no cluster.</param>
    /// <param name="clusters">In the keyword order of their primaries.</param>
    /// <param name="takesIn">For each cluster whether it may take keywords in; locked ones do not.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    /// <param name="minOverlap">m.</param>
    public static IReadOnlyList<NewKeyword> Of(IReadOnlyList<int> newKeywords, IReadOnlyList<Cluster> clusters, Func<int, bool> takesIn, ResultLists lists, int minOverlap)
    {
        var holders = new Dictionary<int, List<int>>();
        for (var c = 0; c < clusters.Count; c++)
        {
            if (!takesIn(c))
                continue;
            foreach (var url in lists.Urls(clusters[c].Primary))
            {
                if (!holders.TryGetValue(url, out var of))
                    holders[url] = of = [];
                of.Add(c);
            }
        }

        var counts = new int[clusters.Count];
        var touched = new List<int>();
        return [.. newKeywords.Select(Place)];

        NewKeyword Place(int keyword)
        {
            foreach (var url in lists.Urls(keyword))
            {
                foreach (var cluster in holders.GetValueOrDefault(url, []))
                {
                    if (counts[cluster]++ == 0)
                        touched.Add(cluster);
                }
            }

            var most = touched.Select(c => counts[c]).DefaultIfEmpty().Max();
            var best = touched.Where(c => counts[c] == most)
                .Select(c => (Cluster: c, Similarity: RankBiasedOverlap.Extrapolated(lists.Urls(keyword), lists.Urls(clusters[c].Primary))))
                .OrderByDescending(c => Math.Round(c.Similarity, 9)).ThenBy(c => c.Cluster)
                .Select(c => c.Cluster).FirstOrDefault(-1);
            foreach (var cluster in touched)
                counts[cluster] = 0;
            touched.Clear();
            return new NewKeyword(keyword, most >= minOverlap ? best : -1, most);
        }
    }
}
