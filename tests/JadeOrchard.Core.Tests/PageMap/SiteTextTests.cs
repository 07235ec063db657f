using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.PageMap;

public class SiteTextTests
{
    [Fact]
    public void StemsAreThoseOfTheReference()   // snowballstemmer, "porter", of the examples in Porter 1980; Golden/stems.txt
    {
        using var analysis = new TextAnalysis("en");
        foreach (var parts in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", "stems.txt")).Select(l => l.Split(' ')))
            Assert.Equal([parts[1]], analysis.Stems(parts[0]));
    }

    [Fact]
    public void AKeywordIsMentionedWhereAllItsWordsStand()
    {
        var text = Of("cheap dry suits", "dry suit size guide");
        Assert.True(text.Mentions(0, 0));
        Assert.False(text.Mentions(0, 1));
        using var analysis = new TextAnalysis("en");
        Assert.Equal(["size", "guide"], text.Missing(0, Lists.Keywords(("dry suit size guide", 1))[0], analysis).ToArray());
    }

    [Fact]
    public void TitleHeadingAndAddressNameAPage()
    {
        var text = Of("dry suit", "cheap");
        Assert.Equal(1, text.Named(0, text.StemsOf(0).ToDictionary(s => s, _ => 1.0)), 9);
        Assert.Equal(0, text.Named(0, text.StemsOf(1).ToDictionary(s => s, _ => 1.0)), 9);
    }

    [Theory]
    [InlineData("https://f.example/dry-suits?size=l#top", "dry suits")]
    [InlineData("https://f.example", "")]
    [InlineData("https://f.example/skills/wash_a%20suit.html", "skills wash a suit html")]
    public void TheWordsOfAnAddressTakePart(string url, string words) => Assert.Equal(words, TextEvidence.PathWords(url));

    [Theory]
    [InlineData("https://f.example/guides/x", null, Intent.Informational)]
    [InlineData("https://f.example/x", "Best kayaks of the year", Intent.Commercial)]
    [InlineData("https://f.example/shop/x", "A guide", Intent.Transactional)]
    [InlineData("https://f.example/x", "Kayaks", null)]
    public void AddressAndTitleTellWhatAPageIsFor(string url, string? title, Intent? purpose) => Assert.Equal(purpose, PagePurpose.Of(new SitePage(url, title)));

    [Theory]
    [InlineData(Intent.Informational, Intent.Transactional, true)]
    [InlineData(Intent.Commercial, Intent.Transactional, false)]
    [InlineData(Intent.Navigational, Intent.Informational, true)]
    [InlineData(null, Intent.Informational, false)]
    public void WhoWantsToBuyDoesNotWantToRead(Intent? purpose, Intent intent, bool mismatch) => Assert.Equal(mismatch, PagePurpose.IsMismatch(purpose, intent));

    [Fact]
    public void NewPagesAreProposedAsTheSiteWritesThem()
    {
        var site = UrlHabits.Of(
        [
            new("https://f.example/guides/first-kayak/", "How to choose"), new("https://f.example/guides/sizes/", "A guide to sizes"), new("https://f.example/shop/dry-suits/", "Dry suits"),
            new("https://f.example/shop/paddles/", "Paddles"), new("https://f.example/shop/decks/", "Spray decks"),
        ]);
        Assert.Equal("/guides/kayak-roof-rack/", site.PathFor("Kayak roof-rack?", Intent.Informational, [], _ => false));
        Assert.Equal("/shop/kayak-roof-rack/", site.PathFor("kayak roof rack", Intent.Transactional, [], _ => false));
        Assert.Equal("/guides/cafe-creme-2/", site.PathFor("café crème", Intent.Informational, [], path => path == "/guides/cafe-creme/"));
        Assert.Equal("Kayak roof rack", site.TitleFor("kayak roof rack"));
        Assert.Equal("/kayak-roof-rack", UrlHabits.Of([]).PathFor("kayak roof rack", null, [], _ => false));
    }

    [Fact]
    public void UnderscoresEndingsAndCapitalsAreHabits()
    {
        var site = UrlHabits.Of([new("https://f.example/How_To_Roll.html", "How To Roll A Kayak"), new("https://f.example/Dry_Suits.html", "The Best Dry Suits")]);
        Assert.Equal("/kayak_roof_rack.html", site.PathFor("kayak roof rack", null, [], _ => false));
        Assert.Equal("Kayak Roof Rack", site.TitleFor("kayak roof rack"));
    }

    private static SiteText Of(params string[] keywords)
    {
        using var analysis = new TextAnalysis("en");
        return new SiteText([new("https://f.example/dry-suits", "Dry suits")], ["cheap suit"], Lists.Keywords([.. keywords.Select(k => (k, (long?)1))]), analysis, "en");
    }
}
