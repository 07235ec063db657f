using CsCheck;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Performance;

namespace JadeOrchard.Core.Tests.Findings;

/// <summary>Where the impressions of a query go to several pages; at and beside every limit.</summary>
public class SplitTrafficTests
{
    /// <summary>What is found in a cluster of one keyword that is assigned to page 0, and that no page ranks for in captured results.</summary>
    private static Sign[] Found(params (int Page, long Clicks, long Impressions, double Position)[] rows) =>
        [.. SplitTraffic.Find(SiteFindingsTests.Site([[10, 11]], [SiteFindingsTests.At(0)], "dry suit") with { Performance = SiteFindingsTests.Performance([.. rows.Select(r => (0, r.Page, r.Clicks, r.Impressions, r.Position))]) }, 0)];

    private static bool IsSplit(params long[] impressions) => Found([.. impressions.Select((i, page) => (page, 1L, i, 5.0))]).Length > 0;

    [Fact]
    public void ImpressionsBetweenTwoPagesAreSplitTraffic()
    {
        var sign = Assert.Single(Found((0, 30, 60, 4), (1, 12, 40, 6)));
        Assert.Equal((SignKind.SplitTraffic, 0, 1), (sign.Kind, sign.Page, sign.OtherPage));
        Assert.Equal(12 * 365.25 / 12 / 90, sign.AtStake, 9);
        Assert.Equal((4, 6), (sign.Facts[0].Position, sign.Facts[0].OtherPosition));
        Assert.Equal(0.4, sign.Facts[0].Share, 9);
        Assert.Equal(1 / ((0.6 * 0.6) + (0.4 * 0.4)), sign.Facts[0].Count, 9);
    }

    /// <summary>1 / (0.788² + 0.212²) = 1.502; 1 / (0.789² + 0.211²) = 1.499.</summary>
    [Theory]
    [InlineData(788, 212, true)]
    [InlineData(789, 211, false)]
    [InlineData(211, 789, false)]
    [InlineData(900, 100, false)]
    public void AQueryIsSplitBetweenOnePageAndAHalf(long mine, long its, bool isSplit) => Assert.Equal(isSplit, IsSplit(mine, its));

    [Fact]
    public void TwentyImpressionsAreEnough()
    {
        Assert.True(IsSplit(10, 10));
        Assert.False(IsSplit(10, 9));
        Assert.False(IsSplit(0, 0));
        // One page alone is not split, however often it is shown.
        Assert.False(IsSplit(1_000));
        Assert.False(IsSplit(1_000, 0));
    }

    [Fact]
    public void APageCountsFromATenthOfTheImpressions()
    {
        Assert.Equal([1, 2], Found((0, 1, 45, 5), (1, 1, 45, 5), (2, 1, 10, 5)).Select(s => s.OtherPage!.Value));
        Assert.Equal([1], Found((0, 1, 46, 5), (1, 1, 45, 5), (2, 1, 9, 5)).Select(s => s.OtherPage!.Value));
        // Many small pages beside a large one: none of them counts, so there is nothing between which it is split.
        Assert.False(IsSplit(60, 9, 9, 9, 9));
    }

    [Theory]
    [InlineData(20, true)]
    [InlineData(20.1, false)]
    public void PagesFurtherDownThanIsSeenDoNotCount(double position, bool isSplit)
    {
        Assert.Equal(20, SiteFacts.SeenDepth);
        Assert.Equal(isSplit, Found((0, 1, 50, 3), (1, 1, 50, position)).Length > 0);
        // Their impressions do not make twenty of fewer either.
        Assert.Equal(isSplit, Found((0, 1, 8, 3), (1, 1, 8, 4), (2, 1, 8, position)).Length > 0);
    }

    [Fact]
    public void ThePageOfTheClusterIsTheOneThatShouldRank()
    {
        // Assigned to page 0, though page 1 gets more.
        var sign = Assert.Single(Found((0, 5, 40, 8), (1, 30, 60, 4)));
        Assert.Equal((0, 1), (sign.Page, sign.OtherPage));
        // Page 0 gets nothing: then it is the page with the most clicks; with the most impressions among equals, the first among those.
        Assert.Equal([(2, 1), (2, 3)], Found((1, 5, 40, 8), (2, 9, 30, 8), (3, 5, 30, 8)).Select(s => (s.Page!.Value, s.OtherPage!.Value)));
        Assert.Equal([(1, 2)], Found((1, 5, 60, 8), (2, 5, 40, 8)).Select(s => (s.Page!.Value, s.OtherPage!.Value)));
        Assert.Equal([(1, 2)], Found((2, 5, 40, 8), (1, 5, 40, 8)).Select(s => (s.Page!.Value, s.OtherPage!.Value)));
    }

    /// <summary>Page 1 has a cluster of its own, in which it gets more than any other page.</summary>
    [Theory]
    [InlineData(30, 60, 12, 40, false)]
    [InlineData(12, 40, 12, 40, false)]
    [InlineData(12, 40, 12, 41, true)]
    [InlineData(12, 60, 13, 40, true)]
    public void APageAtHomeElsewhereRaisesNothingUnlessItGetsMore(long clicks, long impressions, long itsClicks, long its, bool isFound)
    {
        var site = SiteFindingsTests.Site([[10, 11], [1, 12]], [SiteFindingsTests.At(0), SiteFindingsTests.At(1)], "dry suit", "wash a dry suit") with
        {
            Performance = SiteFindingsTests.Performance((0, 0, clicks, impressions, 4), (0, 1, itsClicks, its, 6), (1, 1, 30, 50, 2)),
        };
        Assert.Equal(isFound, SplitTraffic.Find(site, 0).Any());
    }

    [Fact]
    public void BrandQueriesAndASiteWithoutPerformanceRaiseNothing()
    {
        var brand = SiteFindingsTests.Site([[10, 11]], [SiteFindingsTests.At(0)], "fenwater shop") with { Performance = SiteFindingsTests.Performance((0, 0, 30, 60, 4), (0, 1, 12, 40, 6)) };
        Assert.Empty(SplitTraffic.Find(brand, 0));
        Assert.Empty(SplitTraffic.Find(brand with { Performance = SearchPerformance.None }, 0));
    }

    /// <summary>Several queries of a cluster: each that is split between the two pages is a fact of the one sign.</summary>
    [Fact]
    public void EveryQueryThatIsSplitIsAFact()
    {
        var site = SiteFindingsTests.Site([[10, 11], [12, 13], [14, 15]], [SiteFindingsTests.At(0), SiteFindingsTests.At(0), SiteFindingsTests.At(0)], "dry suit", "dry suits", "drysuit");
        site = site with
        {
            Clusters = [new(0, [0, 1, 2])],
            Map = [SiteFindingsTests.At(0)],
            Performance = SiteFindingsTests.Performance((0, 0, 1, 50, 4), (0, 1, 2, 50, 6), (1, 0, 3, 50, 4), (1, 1, 40, 50, 6), (2, 0, 3, 95, 4), (2, 1, 1, 5, 6)),
        };
        var sign = Assert.Single(SplitTraffic.Find(site, 0));
        Assert.Equal([1, 0], sign.Facts.Select(f => f.Keyword));
        Assert.Equal((2 + 40) * 365.25 / 12 / 90, sign.AtStake, 9);
    }

    // Herfindahl index by its definition: n equal shares make n pages, one share of all makes one.
    [Theory]
    [InlineData(new long[] { 5, 5, 5, 5 }, 4)]
    [InlineData(new long[] { 7, 0, 0 }, 1)]
    [InlineData(new long[] { 80, 10, 10 }, 1 / (0.64 + 0.01 + 0.01))]
    public void EffectivePagesAreOneOverHerfindahl(long[] impressions, double pages) => Assert.Equal(pages, SplitTraffic.EffectivePages(impressions), 9);

    /// <summary>Between one page, where it gets all, and as many as there are, where they get the same.</summary>
    [Fact]
    public void EffectivePagesAreBetweenOneAndAll() => Gen.Long[1, 1_000_000].Array[1, 30].Sample(impressions =>
    {
        var pages = SplitTraffic.EffectivePages(impressions);
        Assert.InRange(pages, 1 - 1e-9, impressions.Length + 1e-9);
        Assert.Equal(pages, SplitTraffic.EffectivePages(impressions.Select(i => i * 7).Append(0).Reverse()), 6);
    });
}
