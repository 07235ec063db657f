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
            var edges = Enumerable.Range(0, size[0]).Select(r => (IReadOnlyList<(int, double)>)
                [.. Enumerable.Range(0, size[1]).Select(c => (c, worth[(r * size[1]) + c])).Where(e => e.Item2 > 0)]).ToList();
            var best = Core.PageMap.Assignment.Best(size[1], edges);
            var total = best.Select((c, r) => c < 0 ? 0 : worth[(r * size[1]) + c]).Sum();
            Assert.Equal(double.Parse(parts[2], CultureInfo.InvariantCulture), total, 6);
            Assert.Equal(best.Count(c => c >= 0), best.Where(c => c >= 0).Distinct().Count());
        }
    }

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
