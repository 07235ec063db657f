using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Topics;

/// <summary>Which clusters belong together, so that they gather into topics.</summary>
/// <remarks>
/// Clusters are linked where lists of both have results that do not rank for everything, or where most of the rarer words
/// of the one are words of the other. The weight is the mean overlap of their keywords, in which a URL counts the less the
/// more clusters it stands in (inverse document frequency, Spärck Jones 1972), plus the likeness of the words (Jaccard).
/// URLs and words that stand in very many clusters link none: they would link all.
/// </remarks>
public static class ClusterLinks
{
    /// <summary>A URL or a word in more than this share of the clusters links none.</summary>
    private const double Everywhere = 0.02;

    /// <summary>In so few clusters nothing is everywhere.</summary>
    private const int Few = 20;

    /// <summary>Lighter links are chance.</summary>
    private const double LeastWeight = 0.01;

    /// <summary>Words are shared where this share of the lesser set, or more, is in the greater.</summary>
    private const double MostOfTheWords = 0.6;

    /// <param name="clusters">The clusters.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    /// <param name="stems">By <see cref="ClusterStems"/>.</param>
    /// <returns>Ordered by A, then B.</returns>
    public static IReadOnlyList<Link> Of(IReadOnlyList<Cluster> clusters, ResultLists lists, IReadOnlyList<IReadOnlyList<string>> stems)
    {
        var most = Math.Max(Few, (int)(Everywhere * clusters.Count));
        var weights = ByResults(clusters, lists, most);
        foreach (var (a, b, likeness) in ByWords(stems, most))
            weights[(a, b)] = weights.GetValueOrDefault((a, b)) + likeness;
        return [.. weights.Where(w => w.Value >= LeastWeight).OrderBy(w => w.Key).Select(w => new Link(w.Key.Item1, w.Key.Item2, w.Value))];
    }

    private static Dictionary<(int, int), double> ByResults(IReadOnlyList<Cluster> clusters, ResultLists lists, int most)
    {
        // For each URL the clusters that have it in their lists, ascending, with the share of their lists that do.
        var holders = new List<(int Cluster, double Share)>?[lists.UrlCount];
        for (var c = 0; c < clusters.Count; c++)
        {
            foreach (var keyword in clusters[c].Members)
            {
                foreach (var url in lists.Urls(keyword))
                {
                    var of = holders[url] ??= [];
                    var one = 1.0 / clusters[c].Members.Length;
                    if (of.Count > 0 && of[^1].Cluster == c)
                        of[^1] = (c, of[^1].Share + one);
                    else
                        of.Add((c, one));
                }
            }
        }

        var weights = new Dictionary<(int, int), double>();
        foreach (var of in holders)
        {
            if (of is null || of.Count < 2 || of.Count > most)
                continue;
            var rarity = Math.Log((double)clusters.Count / of.Count) / Math.Log(clusters.Count);
            for (var i = 0; i < of.Count; i++)
            {
                for (var j = i + 1; j < of.Count; j++)
                {
                    var pair = (of[i].Cluster, of[j].Cluster);
                    weights[pair] = weights.GetValueOrDefault(pair) + (of[i].Share * of[j].Share * Math.Max(0.1, rarity));
                }
            }
        }

        return weights;
    }

    private static IEnumerable<(int A, int B, double Likeness)> ByWords(IReadOnlyList<IReadOnlyList<string>> stems, int most)
    {
        var frequency = stems.SelectMany(s => s).CountBy(s => s, StringComparer.Ordinal).ToDictionary(StringComparer.Ordinal);
        var rare = stems.Select(s => s.Where(w => frequency[w] <= most).ToHashSet(StringComparer.Ordinal)).ToList();
        var holders = new Dictionary<string, List<int>>(StringComparer.Ordinal);
        for (var b = 0; b < rare.Count; b++)
        {
            var shared = new SortedDictionary<int, int>();
            foreach (var word in rare[b])
            {
                if (!holders.TryGetValue(word, out var before))
                    holders[word] = before = [];
                foreach (var a in before)
                    shared[a] = shared.GetValueOrDefault(a) + 1;
                before.Add(b);
            }

            foreach (var (a, count) in shared)
            {
                if (count >= MostOfTheWords * Math.Min(rare[a].Count, rare[b].Count))
                    yield return (a, b, (double)count / (rare[a].Count + rare[b].Count - count));
            }
        }
    }
}
