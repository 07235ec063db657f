using JadeOrchard.Core.Overview;

namespace JadeOrchard.Core.Tests.Overview;

public sealed class NextStepsTests
{
    private static readonly ProjectCounts Empty = new(false, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, false);
    private static readonly OpenWork NoWork = new(default, default, default, 0, OpenFindings.None, OpenFindings.None, OpenFindings.None);

    [Fact]
    public void AnEmptyProjectBeginsWithSiteAndKeywords()
    {
        Assert.Equal(["site", "keywords"], NextSteps.Of(Empty, NoWork).Select(s => s.Stage));
        Assert.All(Track.Of(Empty), s => Assert.Equal(0, s.Share));
        Assert.Equal("no pages yet", Track.Of(Empty)[0].Says);
    }

    [Fact]
    public void StepsComeInTheOrderOfTheWorkWithWhatTheyAreWorth()
    {
        var steps = NextSteps.Of(
            Empty with { HasSite = true, Keywords = 1_200 },
            new OpenWork(new(1, 90), new(20, 1_000), new(3, 500), Clear: 2, new(1, 12.6, "dry suit"), OpenFindings.None, new(2, 7, "paddle float")));
        Assert.Equal(["site", "results", "clusters", "page-map", "findings", "findings"], steps.Select(s => s.Stage));
        Assert.Equal(
            ["Read the site", "Capture results of 1 keyword", "Group 20 keywords", "Map 3 clusters", "Decide 1 conflict between own pages", "Mend 2 pages with gaps"],
            steps.Select(s => s.Title));
        Assert.Equal([null, 90, 1_000, 500, 13, 7], steps.Select(s => s.Worth));
        Assert.Equal("2 have a clear page", steps[3].Detail);
        Assert.Equal("the largest: dry suit", steps[4].Detail);
    }

    [Fact]
    public void AllDoneLeavesNothing()
    {
        var done = Empty with { HasSite = true, Pages = 9, Keywords = 10, Captured = 10, Grouped = 10, Clusters = 4, Mapped = 4, Steps = 4, LiveSteps = 3, SettledFindings = 2, AllFindings = 2, Briefs = 2, SentBriefs = 1, PerformanceDays = 90, FadingPages = 2 };
        Assert.Empty(NextSteps.Of(done, NoWork));
        Assert.Equal([1, 1, 1, 1, 1, 1, 0.75, 0.5, 1], Track.Of(done).Select(s => s.Share));
        Assert.Equal(["2 pages fading", "no page fading", "no performance yet"], new[] { done, done with { FadingPages = 0 }, done with { FadingPages = 0, PerformanceDays = 0 } }.Select(d => Track.Of(d)[^1].Says));
        Assert.DoesNotContain(Track.Of(done), s => s.Warns);
    }
}
