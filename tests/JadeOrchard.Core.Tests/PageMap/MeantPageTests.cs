using CsCheck;
using JadeOrchard.Core.PageMap;

namespace JadeOrchard.Core.Tests.PageMap;

/// <summary>The page that is meant, the page that counts and when one is clear, at and beside every limit.</summary>
public class MeantPageTests
{
    private const double Share = PageSuggestions.MeantShare, Lead = PageSuggestions.MeantLead, Strong = PageSuggestions.ClearStrength, Ahead = PageSuggestions.ClearLead;
    private const double Little = 1e-6;

    private static CandidateStrength Page(int page, double strength = 50, double named = 0, bool isSeen = true) => new(page, strength, named, isSeen, true);

    private static int? Meant(int suggested, params CandidateStrength[] candidates) => PageSuggestions.Meant(candidates, suggested, _ => false);

    [Fact]
    public void AMeantPageHasEnoughOfTheWords()
    {
        Assert.Equal(2, Meant(1, Page(1), Page(2, named: Share)));
        Assert.Null(Meant(1, Page(1), Page(2, named: Share - Little)));
        Assert.Null(Meant(1, Page(1, named: 1)));
    }

    [Fact]
    public void AndTheSuggestedOneClearlyFewer()
    {
        Assert.Equal(2, Meant(1, Page(1, named: Lead), Page(2, named: 1)));
        Assert.Null(Meant(1, Page(1, named: Lead + Little), Page(2, named: 1)));
        Assert.Equal(2, Meant(1, Page(1, named: Lead * 0.8), Page(2, named: 0.8)));
        // One that is no candidate may have all of them: nothing is known of it.
        Assert.Null(Meant(7, Page(1), Page(2, named: 1)));
    }

    [Fact]
    public void OfSeveralTheOneWithMostOfTheWordsThenTheStrongestThenTheFirst()
    {
        Assert.Equal(3, Meant(1, Page(1), Page(2, 90, 0.8), Page(3, 20, 0.9)));
        Assert.Equal(3, Meant(1, Page(1), Page(2, 20, 0.9), Page(3, 90, 0.9)));
        Assert.Equal(2, Meant(1, Page(1), Page(3, 20, 0.9), Page(2, 20, 0.9)));
        Assert.Equal(2, PageSuggestions.Meant([Page(1), Page(2, 20, 0.8), Page(3, 20, 0.9)], 1, page => page == 3));
        Assert.Null(PageSuggestions.Meant([Page(1), Page(2, 20, 0.8)], 1, _ => true));
    }

    [Fact]
    public void AFarStrongerPageThatIsSeenCounts()
    {
        Assert.Equal(1, PageSuggestions.Counted([Page(1, 60), Page(2, 60 - Ahead)], 2));
        Assert.Equal(2, PageSuggestions.Counted([Page(1, 60), Page(2, 60 - Ahead + Little)], 2));
        Assert.Equal(2, PageSuggestions.Counted([Page(1, 60, isSeen: false), Page(2, 10)], 2));
        Assert.Equal(1, PageSuggestions.Counted([Page(1, Strong), Page(2, 1)], 2));
        Assert.Equal(2, PageSuggestions.Counted([Page(1, Strong - Little), Page(2, 1)], 2));
        Assert.Equal(1, PageSuggestions.Counted([Page(1, Strong)], null));
        Assert.Null(PageSuggestions.Counted([], null));
        Assert.Equal(9, PageSuggestions.Counted([], 9));
    }

    [Fact]
    public void ClearIsStrongAndAheadAndNoOtherIsMeant()
    {
        Assert.True(Clear(Strong, Page(1, Strong), Page(2, Strong - Ahead)));
        Assert.False(Clear(Strong - Little, Page(1, Strong - Little)));
        Assert.False(Clear(Strong, Page(1, Strong), Page(2, Strong - Ahead + Little)));
        // The next is the strongest of the others, wherever it is in the list.
        Assert.False(Clear(60, Page(3, 5), Page(1, 60), Page(2, 55)));
        Assert.True(Clear(60, Page(1, 60)));
        Assert.False(Clear(60, Page(1, 60), Page(2, 30, named: 1)));

        static bool Clear(double strength, params CandidateStrength[] candidates) => PageSuggestions.IsClear(candidates, 1, strength, _ => false);
    }

    [Fact]
    public void WhatIsUndecidedCountsWithItsPageAndSaysWhichIsMeant()
    {
        var mapped = PageSuggestions.Undecided([Page(1, 60), Page(2, 20, named: 1)], 2, _ => false);
        Assert.Equal((1, 2, false, false), (mapped.Page, mapped.Meant, mapped.IsDecided, mapped.IsPlanned));
        var none = PageSuggestions.Undecided([], null, _ => false);
        Assert.Equal((null, null), (none.Page, none.Meant));
    }

    [Fact]
    public void TheOrderOfTheOthersDoesNotMatter() =>
        Gen.Select(Gen.Double[0, 100], Gen.Double[0, 1]).Array[1, 6].Select(c => c.Select((x, i) => Page(i, x.Item1, x.Item2)).ToArray()).Sample(candidates =>
        {
            CandidateStrength[] reversed = [.. candidates.Reverse()];
            for (var suggested = 0; suggested < candidates.Length; suggested++)
            {
                Assert.Equal(Meant(suggested, candidates), Meant(suggested, reversed));
                Assert.Equal(
                    PageSuggestions.IsClear(candidates, suggested, candidates[suggested].Strength, _ => false),
                    PageSuggestions.IsClear(reversed, suggested, candidates[suggested].Strength, _ => false));
                if (Meant(suggested, candidates) is { } meant)
                    Assert.True(meant != suggested && candidates[meant].Named >= Share && candidates[suggested].Named <= Lead * candidates[meant].Named);
            }
        });
}
