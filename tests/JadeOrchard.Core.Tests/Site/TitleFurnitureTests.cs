using CsCheck;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Site;

/// <summary>What titles of a site have in common, and years that they mention.</summary>
public class TitleFurnitureTests
{
    private static readonly string?[] Shop = ["Dry suits | Fenwater", "Paddles | Fenwater", "Kayak hire | Fenwater", "Fenwater: about us", null];

    [Fact]
    public void WhatManyTitlesEndWithIsTheSites()
    {
        var furniture = new TitleFurniture(Shop);
        Assert.True(furniture.Has("fenwater"));
        Assert.Equal("Dry suits", furniture.Own("Dry suits | Fenwater"));
        Assert.Equal("Dry suits for Fenwater", furniture.Own("Dry suits for Fenwater"));
        Assert.Equal("", furniture.Own("FENWATER"));
        Assert.Equal("", furniture.Own(null));
        Assert.Equal(" | Fenwater", TitleFurniture.EndingOf(Shop));
    }

    [Fact]
    public void WhatTitlesBeginWithIsToo()
    {
        var furniture = new TitleFurniture(["Fenwater – Dry suits", "Fenwater – Paddles", "Fenwater – Hire"]);
        Assert.Equal("Paddles", furniture.Own("Fenwater – Paddles"));
        Assert.Equal("", TitleFurniture.EndingOf(["Fenwater – Dry suits", "Fenwater – Paddles", "Fenwater – Hire"]));
    }

    [Fact]
    public void TwoAreNotManyAndNorIsAFewOfAThousand()
    {
        Assert.Equal("Hire Fenwater", new TitleFurniture(["Hire | Fenwater", "Paddles | Fenwater"]).Own("Hire | Fenwater"));
        string?[] large = [.. Enumerable.Range(0, 995).Select(i => $"Page {i}"), .. Enumerable.Range(0, 5).Select(i => $"Offer {i} | Sale")];
        Assert.False(new TitleFurniture(large).Has("Sale"));
        Assert.Equal("", TitleFurniture.EndingOf(large));
    }

    [Fact]
    public void APartInTheMiddleIsThePages() =>
        Assert.False(new TitleFurniture(["A | Kayaks | X", "B | Kayaks | Y", "C | Kayaks | Z"]).Has("Kayaks"));

    [Fact]
    public void TheOrderOfPagesAndAnyUnicodeMakeNoDifference() => Gen.Select(Gen.String, Gen.OneOf(Gen.Const(" | "), Gen.Const(" - "), Gen.Const(" · ")), Gen.String, (a, s, b) => (string?)(a + s + b)).Array[0, 12].Sample(titles =>
    {
        var (one, other) = (new TitleFurniture(titles), new TitleFurniture([.. titles.Reverse()]));
        foreach (var title in titles)
        {
            Assert.Equal(one.Own(title), other.Own(title));
            // Own parts are parts, in their order.
            Assert.True(one.Own(title).Length <= title!.Length);
        }

        Assert.Equal(TitleFurniture.EndingOf(titles), TitleFurniture.EndingOf([.. titles.Reverse()]));
    });

    private static readonly DateOnly Today = new(2026, 11, 24);

    [Theory]
    [InlineData("Best kayaks 2024", 2024)]
    [InlineData("Best kayaks of 2023 and 2025", 2025)]
    [InlineData("Best kayaks 2026", null)]
    [InlineData("Best kayaks 2027", null)]
    [InlineData("ISO 20150 dry bags", null)]
    [InlineData("Model 1.2024", null)]
    [InlineData("2,024 kayaks", null)]
    [InlineData("Founded in 2008", null)]
    [InlineData("(2024)", 2024)]
    [InlineData("", null)]
    [InlineData(null, null)]
    public void ATitleMentionsAYearThatIsPast(string? title, int? year) => Assert.Equal(year, PageStates.PastYear(title, Today));

    [Fact]
    public void EachStateIsSaidInASentenceButTheOneThatNeedsNone()
    {
        Assert.Equal("", PageStates.Says(PageState.Shown));
        Assert.Equal(3, Enum.GetValues<PageState>().Select(PageStates.Says).Where(s => s.Length > 0 && !s.EndsWith('.')).Distinct().Count());
    }
}
