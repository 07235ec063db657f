using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Site;

/// <summary>Pages in other languages and pages under several addresses.</summary>
public sealed class SiteLanguageTests
{
    private static SitePage Page(string path, string? language = null, string? versions = null) => new("https://f.example" + path, Language: language, Versions: versions);

    [Fact]
    public void PagesInAnotherLanguageAreNotListed()
    {
        var listed = SiteLanguages.Listed([Page("/a", "en-GB"), Page("/b", "EN"), Page("/fr/a", "fr"), Page("/c")], "en");
        Assert.Equal([true, true, false, true], listed.Select(p => p.IsListed));
    }

    [Fact]
    public void WhereFewPagesSayTheLanguageOfTheProjectNothingFollows()
    {
        // A template that says "en" whatever the site is written in.
        SitePage[] pages = [Page("/a", "en"), Page("/b", "en"), Page("/c", "de"), Page("/d")];
        Assert.Same(pages, SiteLanguages.Listed(pages, "de"));
    }

    [Theory]
    [InlineData("en-GB", "en")]
    [InlineData(" FR_ca", "fr")]
    [InlineData("x", null)]
    [InlineData("", null)]
    [InlineData(null, null)]
    [InlineData("zh-Hant-TW", "zh")]   // RFC 5646, section 2.1: language, script, region
    public void TheFirstPartOfATagIsTheLanguage(string? tag, string? primary) => Assert.Equal(primary, SiteLanguages.Primary(tag));

    [Fact]
    public void GuisesAreOnePage()
    {
        var of = PageVariants.Of([Page("/a?page=2"), Page("/a"), Page("/a?colour=red"), Page("/b?id=1"), Page("/b?id=2"), Page("/fr/a")]);
        Assert.Equal([1, 1, 1, 3, 4, 1], of);
    }

    [Fact]
    public void VersionsThatLinkToEachOtherAreOnePage()
    {
        const string uk = "https://f.example/uk", us = "https://f.example/us", plain = "https://f.example/x";
        var of = PageVariants.Of([Page("/x", "en", $"{uk} {us}"), Page("/uk", "en-GB", plain), Page("/us", "en-US", plain), Page("/y", "en")]);
        Assert.Equal([0, 0, 0, 3], of);
        // What is not listed is no guise of anything.
        of = PageVariants.Of([Page("/x", "en", uk) with { IsListed = false }, Page("/uk", "en-GB", plain)]);
        Assert.Equal([0, 1], of);
    }
}
