using CsCheck;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Core.Tests.Findings;

public class CountedStakesTests
{
    [Fact]
    public void TheLargestCountsForAllAboutItsMatter() => Assert.Equal(
        [0, 9, 4, 7],
        CountedStakes.Of([new("hole:1", true, 5, "a"), new("hole:1", true, 9, "b"), new("hole:1", false, 4, "c"), new("hole:2", true, 7, "d")]));

    [Fact]
    public void OfEqualsTheSmallerKeyCounts() => Assert.Equal([0, 5], CountedStakes.Of([new("hole:1", true, 5, "b"), new("hole:1", true, 5, "B")]));

    /// <summary>Against the rule written down plainly: sorted by what is at stake, the first of each matter counts.</summary>
    [Fact]
    public void WhateverTheOrderEachMatterCountsOnce() => Gen.Select(Gen.Int[0, 3], Gen.Bool, Gen.Int[0, 4]).List[0, 20].Sample(rows =>
    {
        var stakes = rows.Select((r, i) => new Stake($"m{r.Item1}", r.Item2, r.Item3, $"k{i:D2}")).ToList();
        var expected = stakes.GroupBy(s => (s.Matter, s.IsWaiting)).Select(g => g.OrderByDescending(s => s.AtStake).ThenBy(s => s.Key, StringComparer.Ordinal).First()).ToHashSet();
        Assert.Equal(stakes.Select(s => expected.Contains(s) ? s.AtStake : 0), CountedStakes.Of(stakes));
        var turned = Enumerable.Reverse(stakes).ToList();
        Assert.Equal(CountedStakes.Of(stakes).Reverse(), CountedStakes.Of(turned));
    });
}
