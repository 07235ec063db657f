using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Tests.Findings;

/// <summary>URLs 0 to 4 are the pages 0 to 4 of the site; the others are rivals'.</summary>
public class SiteFindingsTests
{
    private static readonly MappedPage Missing = new(null, false, false);
    private static readonly MappedPage Planned = new(null, true, true);

    [Fact]
    public void TwoPagesInOneListAreRivals()
    {
        var finding = Assert.Single(Find([[0, 10, 1]], [At(0)], "dry suit"));
        Assert.Equal((FindingKind.RivalsInResults, 0, 1), (finding.Kind, finding.Page, finding.OtherPage));
        Assert.Equal(1000 * 0.11, finding.AtStake, 9);
        Assert.Equal(new FindingFact(0, 1, 3, 110), finding.Facts[0]);
    }

    [Fact]
    public void ASupportingPageAtItsOwnSearchesIsNoRival()
    {
        // Page 1 is best for the second cluster, and behind page 0 in the first.
        Assert.Empty(Find([[0, 10, 1], [1, 11, 12]], [At(0), At(1)], "dry suit", "wash a dry suit"));
    }

    [Fact]
    public void ASupportingPageAheadOfThePageOfTheClusterIsARival()
    {
        var kinds = Find([[1, 10, 0], [1, 11, 12]], [At(0), At(1)], "dry suit", "wash a dry suit").Select(f => f.Kind);
        Assert.Equal([FindingKind.RivalsInResults, FindingKind.WrongPageRanks], kinds);
    }

    [Fact]
    public void BrandQueriesRaiseNothing() => Assert.Empty(Find([[0, 1, 2]], [Missing], "fenwater shop"));

    [Fact]
    public void APageFarDownIsNoRival()
    {
        var list = Enumerable.Range(10, 33).Prepend(0).Append(1).ToArray();
        Assert.Empty(Find([list], [At(0)], "dry suit"));
    }

    [Fact]
    public void ThePageThatRanksIsNotTheOneAssigned()
    {
        var finding = Assert.Single(Find([[10, 1, 11]], [At(0)], "dry suit"));
        Assert.Equal((FindingKind.WrongPageRanks, 0, 1), (finding.Kind, finding.Page, finding.OtherPage));
        Assert.Equal(150, finding.AtStake, 9);
    }

    [Fact]
    public void ClustersWithTheSameResultsShareTheirTarget()
    {
        var finding = Assert.Single(
            Find([[0, 10, 11, 12, 13], [1, 10, 11, 12, 13]], [At(0), At(1)], "surf", "surf landing"), f => f.Kind == FindingKind.SharedTarget);
        Assert.Equal((0, 1), (finding.Cluster, finding.OtherCluster));
    }

    [Fact]
    public void FewerSharedResultsThanTheMinimumShareNoTarget() =>
        Assert.Empty(Find([[0, 10, 11, 12, 20], [1, 10, 11, 12, 30]], [At(0), At(1)], "surf", "surf landing"));

    [Fact]
    public void AClusterWithDemandAndNoPageIsUncovered()
    {
        var kinds = Find([[10, 11]], [Missing], "how to roll").Select(f => f.Kind);
        Assert.Equal([FindingKind.NoPage, FindingKind.Absent], kinds);
    }

    [Fact]
    public void APlannedPageCoversAndIsAbsentStill() =>
        Assert.Equal(FindingKind.Absent, Assert.Single(Find([[10, 11]], [Planned], "how to roll")).Kind);

    [Fact]
    public void WithoutDemandNoPageIsMissed()
    {
        var site = Site([[10, 11]], [Missing], "d ring") with { Keywords = Lists.Keywords(("d ring", 0)) };
        Assert.DoesNotContain(SiteFindings.In(site), f => f.Kind == FindingKind.NoPage);
    }

    [Fact]
    public void GainFallsWithDifficulty()
    {
        Assert.Equal(1000 * 0.11 * 0.6, ExpectedGain.Of(new Keyword("a", "a", 1000, 40), 0), 9);
        Assert.Equal(0, ExpectedGain.Of(new Keyword("a", "a", 1000), 1));
        Assert.Equal(0, ExpectedGain.Of(new Keyword("a", "a"), 0));
    }

    [Fact]
    public void RivalsKeepTheirKeyWhenTheyChangePlaces()
    {
        Assert.Equal(FindingKey.Of(FindingKind.RivalsInResults, 5, 2, 9), FindingKey.Of(FindingKind.RivalsInResults, 5, 9, 2));
        Assert.NotEqual(FindingKey.Of(FindingKind.WrongPageRanks, 5, 2, 9), FindingKey.Of(FindingKind.WrongPageRanks, 5, 9, 2));
        Assert.Equal("no-page:5", FindingKey.Of(FindingKind.NoPage, 5, null, null));
    }

    [Theory]
    [InlineData(FindingState.Open, true, false, false, FindingState.Open)]
    [InlineData(FindingState.Accepted, true, true, true, FindingState.Accepted)]
    [InlineData(FindingState.Dismissed, true, true, true, FindingState.Dismissed)]
    [InlineData(FindingState.Open, false, true, false, FindingState.Resolved)]
    [InlineData(FindingState.Resolved, true, false, false, FindingState.Resolved)]
    [InlineData(FindingState.Resolved, true, true, false, FindingState.Open)]
    [InlineData(FindingState.Resolved, true, false, true, FindingState.Open)]
    public void StatesFollowFromDecisionAndCause(FindingState decided, bool present, bool wentAway, bool newerData, FindingState expected) =>
        Assert.Equal(expected, FindingStates.After(decided, present, wentAway, newerData));

    [Fact]
    public void EveryKindHasACodeOfItsOwn() =>
        Assert.Equal(Enum.GetValues<FindingKind>().Length, Enum.GetValues<FindingKind>().Select(k => k.Code()).Distinct().Count());

    private static MappedPage At(int page) => new(page, true, false);

    private static IReadOnlyList<Finding> Find(int[][] lists, MappedPage[] map, params string[] keywords) => SiteFindings.In(Site(lists, map, keywords));

    private static SiteFacts Site(int[][] lists, MappedPage[] map, params string[] keywords)
    {
        var all = Lists.Of(lists);
        return new SiteFacts(
            Lists.Keywords([.. keywords.Select((k, i) => (k, (long?)(1000 - (i * 100))))]),
            all,
            [.. keywords.Select((_, k) => new Cluster(k, [k]))],
            map,
            [.. Enumerable.Range(0, all.UrlCount).Select(u => u < 5 ? u : -1)],
            [.. Enumerable.Range(0, all.UrlCount).Select(u => $"{u:D3}")],
            new ClusterSettings(),
            new BrandTerms(["fenwater"]));
    }
}
