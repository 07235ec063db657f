using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Topics;

/// <summary>The words that carry the meaning of a cluster.</summary>
public static class ClusterStems
{
    /// <param name="clusters">The clusters.</param>
    /// <param name="keywords">Their keywords.</param>
    /// <param name="analysis">Of the project's language; leaves stop words out.</param>
    /// <returns>For each cluster the stems that stand in at least half of its keywords, none twice, in ordinal order.</returns>
    public static IReadOnlyList<IReadOnlyList<string>> Of(IReadOnlyList<Cluster> clusters, IReadOnlyList<Keyword> keywords, TextAnalysis analysis) =>
    [
        .. clusters.Select(cluster => (IReadOnlyList<string>)
        [
            .. cluster.Members
                .SelectMany(k => analysis.Stems(keywords[k].NormalForm).Distinct(StringComparer.Ordinal))
                .CountBy(s => s, StringComparer.Ordinal)
                .Where(s => s.Value * 2 >= cluster.Members.Length)
                .Select(s => s.Key)
                .Order(StringComparer.Ordinal),
        ]),
    ];
}
