using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Topics;

/// <summary>Which clusters belong together: the links of a <see cref="ClusterLinkTable"/>, where they are asked for once.</summary>
public static class ClusterLinks
{
    /// <param name="clusters">The clusters.</param>
    /// <param name="keywords">All keywords.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    /// <param name="stemsOf">For each keyword its content-bearing stems as numbers, each once.</param>
    /// <returns>By index of the clusters; ordered by A, then B.</returns>
    public static IReadOnlyList<Link> Of(IReadOnlyList<Cluster> clusters, IReadOnlyList<Keyword> keywords, ResultLists lists, Func<int, IReadOnlyList<int>> stemsOf)
    {
        var table = new ClusterTable(KeywordOrder.Ranks(KeywordOrder.Of(keywords)));
        table.Apply([.. clusters.Select(c => (table.NewSlot(), (Cluster?)c))]);
        var links = new ClusterLinkTable(table, lists, new UrlPostings(lists), stemsOf);
        links.Rebuild();
        return Between(links, [.. Enumerable.Range(0, clusters.Count)]);
    }

    /// <returns>The links between clusters, each once, where one of the two keeps it; by index. Ordered by A, then B.</returns>
    /// <param name="table">The links that clusters keep.</param>
    /// <param name="slots">For each index the slot.</param>
    public static IReadOnlyList<Link> Between(ClusterLinkTable table, IReadOnlyList<int> slots)
    {
        var indexOf = slots.Select((slot, index) => (slot, index)).ToDictionary(s => s.slot, s => s.index);
        var links = new Dictionary<(int, int), double>();
        for (var index = 0; index < slots.Count; index++)
        {
            foreach (var link in table.KeptOf(slots[index]))
            {
                var other = indexOf[link.Slot];
                links[(Math.Min(index, other), Math.Max(index, other))] = link.Weight;
            }
        }

        return [.. links.OrderBy(l => l.Key).Select(l => new Link(l.Key.Item1, l.Key.Item2, l.Value))];
    }

    /// <returns>For each keyword its content-bearing stems as numbers, each once.</returns>
    /// <param name="keywords">The keywords.</param>
    /// <param name="analysis">For their language; leaves stop words out.</param>
    public static int[][] Stems(IReadOnlyList<Keyword> keywords, TextAnalysis analysis)
    {
        var numbers = new Dictionary<string, int>(StringComparer.Ordinal);
        return [.. keywords.Select(k => analysis.Stems(k.NormalForm).Distinct(StringComparer.Ordinal)
            .Select(s => numbers.TryGetValue(s, out var number) ? number : numbers[s] = numbers.Count).ToArray())];
    }
}
