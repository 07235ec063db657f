using System.Globalization;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Clusters;

/// <summary>Against files that Golden/make.py made with scipy and networkx; it says which versions.</summary>
public class ReferenceTests
{
    private static readonly int[][] Given =
        [.. File.ReadLines(Golden("lists.txt")).Select(line => line.Split(' ').Select(n => int.Parse(n, CultureInfo.InvariantCulture)).ToArray())];

    [Fact]
    public void PairsAreThoseOfTheSparseProduct()   // scipy.sparse: A Aᵀ of the incidence matrix, 10,000 keywords
    {
        var pairs = OverlapJoin.Pairs(Lists.Of(Given), 3);
        Assert.Equal(File.ReadLines(Golden("pairs.txt")), [Summary(pairs)]);
    }

    [Fact]
    public void ChainsAreConnectedComponents()   // networkx.connected_components of the pairs of 4 or more
    {
        var keywords = Lists.Keywords([.. Given.Select((_, k) => ($"{k:D5}", (long?)0))]);
        var clusters = Clustering.Of(keywords, Lists.Of(Given), new ClusterSettings(10, 4, LinkingRule.Chain)).Clusters;
        var components = clusters.Where(c => c.Members.Length > 1).Select(c => string.Join(' ', c.Members.Order())).Order(StringComparer.Ordinal);
        Assert.Equal(File.ReadLines(Golden("components.txt")), components);
    }

    [Fact]
    public void TheAssignmentIsThatOfTheLibrary()   // scipy.optimize.linear_sum_assignment, maximize=True
    {
        foreach (var line in File.ReadLines(Golden("assignments.txt")))
        {
            var parts = line.Split(';');
            var size = parts[0].Split(' ').Select(n => int.Parse(n, CultureInfo.InvariantCulture)).ToArray();
            var worth = parts[1].Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToArray();
            var edges = Enumerable.Range(0, size[0]).Select(r => ((int, double)[])
                [.. Enumerable.Range(0, size[1]).Select(c => (c, worth[(r * size[1]) + c])).Where(e => e.Item2 > 0)]).ToList();
            var best = Core.PageMap.Assignment.Best(size[1], edges);
            var total = best.Select((c, r) => c < 0 ? 0 : worth[(r * size[1]) + c]).Sum();
            Assert.Equal(double.Parse(parts[2], CultureInfo.InvariantCulture), total, 6);
            Assert.Equal(best.Count(c => c >= 0), best.Where(c => c >= 0).Distinct().Count());
        }
    }

    [Fact]
    public void EveryPairAndChainAreCompleteAndSingleLinkage()   // scipy.cluster.hierarchy, overlaps without ties
    {
        foreach (var parts in File.ReadLines(Golden("linkages.txt")).Select(l => l.Split(';')))
        {
            var (overlaps, groups) = (Numbers(parts[2]), Numbers(parts[3]));
            var lists = groups.Select(_ => new List<int>()).ToArray();
            var (pair, url) = (0, 0);
            for (var a = 0; a < groups.Length; a++)
            {
                for (var b = a + 1; b < groups.Length; b++, pair++)
                {
                    var shared = Enumerable.Range(url, overlaps[pair]).ToList();
                    lists[a].AddRange(shared);
                    lists[b].AddRange(shared);
                    url += shared.Count;
                }
            }

            // Long lists, so deeper than searches are compared; the rule does not mind.
            var keywords = Lists.Keywords([.. groups.Select((_, k) => ($"k{k}", (long?)0))]);
            var settings = new ClusterSettings(1_000, int.Parse(parts[1], CultureInfo.InvariantCulture), parts[0] == "complete" ? LinkingRule.EveryPair : LinkingRule.Chain);
            var clusters = Clustering.Of(keywords, Lists.Of([.. lists.Select(l => l.ToArray())]), settings).Clusters;
            var expected = groups.Select((g, k) => (g, k)).GroupBy(x => x.g, x => x.k).Select(g => string.Join(' ', g)).Order();
            Assert.Equal(expected, clusters.Select(c => string.Join(' ', c.Members.Order())).Order());
        }
    }

    [Fact]
    public void FitIsTheSilhouetteOfTheLibrary()   // sklearn.metrics.silhouette_samples, metric="precomputed"
    {
        var lines = File.ReadLines(Golden("silhouettes.txt")).Select(l => l.Split(' ')).ToList();
        var lists = Lists.Of(Given[..lines.Count]);
        var clusters = lines.Select((l, k) => (Label: l[0], Keyword: k)).GroupBy(l => l.Label, l => l.Keyword).Select(g => new Cluster(g.First(), [.. g])).ToList();
        var fits = ClusterFits.Of(clusters, lists, new UrlPostings(lists), 10, of => Bridges.Of(clusters, of, new OverlapIndex(lists, 4)));
        Assert.Equal(lines.Select(l => double.Parse(l[1], CultureInfo.InvariantCulture)), fits.Select(f => f.Fit), (a, b) => Math.Abs(a - b) < 1e-8);
    }

    [Fact]
    public void TheAdjustedRandIndexIsThatOfTheLibrary()   // sklearn.metrics.adjusted_rand_score
    {
        foreach (var parts in File.ReadLines(Golden("rand.txt")).Select(l => l.Split(';')))
            Assert.Equal(double.Parse(parts[2], CultureInfo.InvariantCulture), ClusteringComparison.Of(Numbers(parts[0]), Numbers(parts[1])).AdjustedRandIndex, 9);
    }

    private static int[] Numbers(string text) => [.. text.Split(' ').Select(n => int.Parse(n, CultureInfo.InvariantCulture))];

    /// <summary>Count, sum of overlaps, and a checksum over all pairs; the pairs themselves would be megabytes.</summary>
    private static string Summary(OverlapPair[] pairs)
    {
        ulong sum = 0;
        foreach (var pair in pairs)
            sum = unchecked((sum * 31) + ((((ulong)pair.A * 1_000_003) + (ulong)pair.B) * 11) + (ulong)pair.Count);
        return string.Create(CultureInfo.InvariantCulture, $"{pairs.Length} {pairs.Sum(p => p.Count)} {sum}");
    }

    private static string Golden(string name) => Path.Combine(AppContext.BaseDirectory, "Golden", name);
}
