using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Tests.Plan;

public sealed class StepChecksTests
{
    private static readonly (string, string) Other = ("https://f.example/b", "https://www.f.example/b");

    private static readonly SeenPage Page = new("https://f.example/a", true, 200, null, "yes", null, true, "Dry suits | F", "Dry suits", ["How a dry suit should fit"], "One sentence about suits that stays.", new HashSet<string> { "https://f.example/b" });

    private static (bool IsFound, string Says) Check(StepKind kind, SeenPage page, params string[] before) => StepChecks.Of(kind, page, Other, before, null);

    [Fact]
    public void WhatIsOnTheSiteIsFound()
    {
        Assert.Equal((true, "redirects with status 301 to https://www.f.example/b"), Check(StepKind.Redirect, Page with { Status = 301, RedirectsTo = "https://f.example/b" }));
        Assert.True(Check(StepKind.Canonical, Page with { Canonical = "https://f.example/b" }).IsFound);
        Assert.True(Check(StepKind.RemoveFromIndex, Page with { Indexable = "noindex" }).IsFound);
        Assert.True(Check(StepKind.RemoveFromIndex, Page with { Status = 410 }).IsFound);
        Assert.True(Check(StepKind.Write, Page, "dry suits").IsFound);
        Assert.True(Check(StepKind.Retitle, Page, "Suits", "Suits").IsFound);
        Assert.True(Check(StepKind.Link, Page).IsFound);
        Assert.True(Check(StepKind.Refresh, Page).IsFound);
        Assert.True(Check(StepKind.LeaveOut, Page with { IsScanned = false }).IsFound);
    }

    [Theory]
    [InlineData(StepKind.Redirect, "does not redirect; it answers with status 200")]
    [InlineData(StepKind.Canonical, "names no canonical")]
    [InlineData(StepKind.RemoveFromIndex, "is still indexable")]
    public void WhatIsNotThereIsSaid(StepKind kind, string says) => Assert.Contains(says, Check(kind, Page).Says, StringComparison.Ordinal);

    [Fact]
    public void ReasonsNameWhatWasFoundInstead()
    {
        Assert.Equal((false, "it redirects with status 302, but to https://f.example/c"), Check(StepKind.Redirect, Page with { Status = 302, RedirectsTo = "https://f.example/c" }));
        Assert.Equal((false, "its canonical is the page itself"), Check(StepKind.Canonical, Page with { Canonical = Page.Identity }));
        Assert.Equal((false, "the title is still “Dry suits | F”"), Check(StepKind.Retitle, Page, "Dry suits | F", "Other"));
        Assert.Contains("heading is still", Check(StepKind.Retitle, Page, "Other", "Dry suits").Says, StringComparison.Ordinal);
        Assert.Contains("no sitemap", Check(StepKind.Write, Page with { InSitemap = false }, "dry suits").Says, StringComparison.Ordinal);
        Assert.Contains("neither title nor heading", Check(StepKind.Write, Page, "Wet suits").Says, StringComparison.Ordinal);
        Assert.Contains("status 404", Check(StepKind.Refresh, Page with { Status = 404 }).Says, StringComparison.Ordinal);
        Assert.Contains("not read", Check(StepKind.Link, Page with { LinksTo = null }).Says, StringComparison.Ordinal);
        Assert.Equal((false, "still: 4 keywords not mentioned"), StepChecks.Of(StepKind.Refresh, Page, null, [], "4 keywords not mentioned"));
        Assert.False(Check(StepKind.Write, Page with { IsScanned = false }, "x").IsFound);
    }

    [Fact]
    public void HeadingsOfTheBriefAreLookedForByTheirWords()
    {
        using var analysis = new TextAnalysis("en");
        Assert.Equal(["Care and storage"], StepChecks.MissingHeadings(["Fit of dry suits", "Care and storage"], ["Dry suits", .. Page.Headings], analysis));
        Assert.Empty(StepChecks.MissingHeadings([], [], analysis));
        Assert.Equal((false, "the page is there, but a heading of the brief is missing: “Care and storage”"), StepChecks.Of(StepKind.Write, Page, null, ["dry suits"], null, ["Care and storage"]));
        Assert.Equal((false, "4 headings of the brief are missing: “a”, “b”, “c”, …"), StepChecks.Of(StepKind.Refresh, Page, null, [], null, ["a", "b", "c", "d"]));
        Assert.True(StepChecks.Of(StepKind.Refresh, Page, null, [], null, []).IsFound);
    }

    [Fact]
    public void MergedTextsAreLookedForSentenceBySentence()
    {
        const string other = "Latex seals keep the water out for years. One sentence about suits that stays. Sponges are handy things to carry on board!";
        var only = StepChecks.OnlyIn(other, Page.Text!);
        Assert.Equal(["Latex seals keep the water out for years", "Sponges are handy things to carry on board"], only);
        Assert.Equal((true, "all 2 passages are there"), Check(StepKind.Merge, Page with { Text = other }, [.. only]));
        Assert.Equal((true, "1 of 2 passages are there; lost: “Sponges are handy things to carry on board”"), Check(StepKind.Merge, Page with { Text = "As we said, latex seals keep the water out for years." }, [.. only]));
        Assert.False(Check(StepKind.Merge, Page, [.. only]).IsFound);
    }
}
