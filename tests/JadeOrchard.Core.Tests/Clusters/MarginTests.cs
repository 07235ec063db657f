using CsCheck;
using JadeOrchard.Core.Clusters;

namespace JadeOrchard.Core.Tests.Clusters;

/// <summary>How near the next best cluster is, and what makes overlaps worth less.</summary>
public sealed class MarginTests
{
    [Fact]
    public void MarginsAreWhatCountingEachPairGives() => Gen.Int[0, 9].Array[0, 8].Array[1, 12].Sample(drawn =>
    {
        int[][] rows = [.. drawn.Select(r => r.Distinct().ToArray())];
        var lists = Lists.Of(rows);
        var clustering = Clustering.Of(Lists.Keywords([.. rows.Select((_, i) => ($"k{i:00}", (long?)(i * 31 % 7)))]), lists, new ClusterSettings(Depth: 8, MinOverlap: 2));
        var margins = Margins.All(clustering, lists);
        for (var c = 0; c < clustering.Clusters.Length; c++)
        {
            foreach (var keyword in clustering.Clusters[c].Members)
            {
                var primary = clustering.Clusters[c].Primary;
                if (keyword == primary)
                {
                    Assert.Null(margins[keyword]);
                    continue;
                }

                var others = clustering.Clusters.Select((o, i) => (Shared: rows[o.Primary].Intersect(rows[keyword]).Count(), Cluster: i)).Where(o => o.Cluster != c && o.Shared > 0).ToList();
                var best = others.Count == 0 ? (Shared: 0, Cluster: -1) : others.OrderByDescending(o => o.Shared).ThenBy(o => o.Cluster).First();
                Assert.Equal(new Margin(rows[primary].Intersect(rows[keyword]).Count(), best.Shared, best.Cluster), margins[keyword]);
                Assert.Equal(margins[keyword], new Margins([.. clustering.Clusters.Select(o => o.Primary)], lists).Of(c, [keyword])[0]);
            }
        }
    });

    [Fact]
    public void AKeywordThatASingleResultDecidesIsUnsettled()
    {
        var lists = Lists.Of([[0, 1, 2, 3, 4, 5], [10, 11, 12, 13, 14, 15], [0, 1, 2, 3, 10, 11, 12], [0, 1, 2, 3, 10]]);
        var clustering = Clustering.Of(Lists.Keywords(("a", 9), ("b", 8), ("c", 2), ("d", 1)), lists, new ClusterSettings(MinOverlap: 3));
        var margins = Margins.All(clustering, lists);
        Assert.Equal((new Margin(4, 3, 1), true), (margins[2]!.Value, margins[2]!.Value.IsUnsettled));
        Assert.Equal((new Margin(4, 1, 1), false), (margins[3]!.Value, margins[3]!.Value.IsUnsettled));
    }

    private static readonly string[] OneShop = ["shop.example/1", "shop.example/2", "shop.example/3", "shop.example/4", "a.example/", "b.example/", "c.example/"];

    private static IReadOnlyList<string> Cautions(int[][] rows, ClusterSettings settings)
    {
        var lists = Lists.Of(rows);
        var keywords = Lists.Keywords([.. rows.Select((_, i) => ($"k{i}", (long?)(9 - i)))]);
        var clustering = Clustering.Of(keywords, settings.Compared(lists, OneShop), settings);
        Assert.Single(clustering.Clusters);
        return ClusterCautions.Of(clustering.Clusters[0].Members, keywords, lists, OneShop, settings);
    }

    [Fact]
    public void AHostThatSuppliesFourSharedResultsIsNamed()
    {
        var says = Assert.Single(Cautions([[0, 1, 2, 3, 4], [0, 1, 2, 3, 5], [0, 1, 2, 3, 6]], new ClusterSettings()));
        Assert.StartsWith("shop.example alone supplies 4 of the 4 results that 'k1' shares with the primary, and 4 or more for 1 other keyword.", says, StringComparison.Ordinal);
        Assert.Empty(Cautions([[0, 1, 2, 4, 5], [0, 1, 2, 4, 6]], new ClusterSettings()));
    }

    [Fact]
    public void ShortListsAndListsOfOtherLengthsAreSaid()
    {
        var says = Cautions([[0, 1, 4], [0, 1, 4]], new ClusterSettings(ShortLists: true));
        Assert.Equal("1 keyword is here with fewer than 4 shared results, since short lists may group: of 3 results, 2 shared are enough ('k1').", Assert.Single(says));
        says = Cautions([[0, 1, 2, 4, 5, 6], [0, 1, 2, 4, 5]], new ClusterSettings());
        Assert.Equal("1 list has fewer than the 6 results of the others, the shortest 5, so they can share fewer.", Assert.Single(says));
    }

    [Fact]
    public void AGroupingSaysWhatOneHostDecidesAndThatListsAreShorter()
    {
        var rows = new[] { new[] { 0, 1, 2, 3, 4 }, [0, 1, 2, 3, 5], [4, 5, 6] };
        var (lists, settings) = (Lists.Of(rows), new ClusterSettings(Depth: 5));
        var clustering = Clustering.Of(Lists.Keywords(("a", 3), ("b", 2), ("c", 1)), lists, settings);
        var says = ClusterCautions.OfGrouping(clustering, lists, OneShop, settings);
        Assert.Equal(2, says.Count);
        Assert.StartsWith("In 1 cluster, one host supplies 4 or more of the shared results (shop.example in 1).", says[0], StringComparison.Ordinal);
        Assert.StartsWith("1 of 3 lists have fewer than the 5 results that are compared, most of them 3", says[1], StringComparison.Ordinal);
        Assert.Single(ClusterCautions.OfGrouping(clustering, lists, OneShop, settings with { PerHost = 2 }));
    }
}
