using CsCheck;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Site;

public class UrlIdentityTests
{
    // RFC 3986, section 5.2.4: both worked examples, and the results of section 5.4 that need nothing but this step.
    // Tracking parameters, index files, fast and mobile twins: common practice. NFC: UAX #15.
    [Theory]
    [InlineData("https://f.example/kayaks?srsltid=AfmBOoq&gad_source=1&gbraid=0AAA&wbraid=1&hsa_acc=2&pk_campaign=x&mtm_source=y&yclid=3&_ga=2.1")]
    [InlineData("https://f.example/kayaks;jsessionid=1A2B3C")]
    [InlineData("https://f.example/kayaks/index.html")]
    [InlineData("https://www.f.example/kayaks/Index.PHP?utm_term=a")]
    [InlineData("https://f.example/kayaks/amp")]
    [InlineData("https://f.example/kayaks/amp/")]
    [InlineData("https://f.example/kayaks?amp=1")]
    [InlineData("https://m.f.example/kayaks")]
    [InlineData("http://www.m.f.example/kayaks/")]
    [InlineData("https://amp.f.example/kayaks")]
    public void OnePageInSeveralGuisesIsOne(string url) => Assert.Equal(Of("https://f.example/kayaks"), Of(url));

    [Theory]
    [InlineData("https://f.example/kayaks?id=1", "https://f.example/kayaks?id=2")]
    [InlineData("https://f.example/kayaks?page=2", "https://f.example/kayaks")]
    [InlineData("https://f.example/kayaks?lang=fr", "https://f.example/kayaks")]
    [InlineData("https://f.example/guitar-amp", "https://f.example/guitar")]
    [InlineData("https://m.example/kayaks", "https://example/kayaks")]
    [InlineData("https://f.example/indexes.html", "https://f.example/")]
    public void WhatSelectsContentKeepsPagesApart(string one, string other) => Assert.NotEqual(Of(one), Of(other));

    [Theory]
    [InlineData("https://f.example/caf%C3%A9", "https://f.example/cafe%CC%81")]
    [InlineData("https://f.example/café", "https://f.example/cafe\u0301")]
    [InlineData("https://bücher.example/ä", "https://xn--bcher-kva.example/a%cc%88")]
    public void LettersWithTheirAccentBesideThemAreTheSame(string one, string other) => Assert.Equal(Of(one), Of(other));

    private static string Of(string url) => UrlIdentity.TryOf(url, UrlFolds.All, out var identity) ? identity : throw new ArgumentException(url);

    [Theory]
    [InlineData("/a/b/c/./../../g", "/a/g")]
    [InlineData("mid/content=5/../6", "mid/6")]
    [InlineData("/b/c/../../../g", "/g")]
    [InlineData("/b/c/../../../../g", "/g")]
    [InlineData("/./g", "/g")]
    [InlineData("/../g", "/g")]
    [InlineData("/b/c/g.", "/b/c/g.")]
    [InlineData("/b/c/.g", "/b/c/.g")]
    [InlineData("/b/c/g..", "/b/c/g..")]
    [InlineData("/b/c/..g", "/b/c/..g")]
    [InlineData("/b/c/./../g", "/b/g")]
    [InlineData("/b/c/./g/.", "/b/c/g/")]
    [InlineData("/b/c/g/./h", "/b/c/g/h")]
    [InlineData("/b/c/g/../h", "/b/c/h")]
    [InlineData("/b/c/g;x=1/./y", "/b/c/g;x=1/y")]
    [InlineData("/b/c/g;x=1/../y", "/b/c/y")]
    [InlineData("/b/c/..", "/b/")]
    [InlineData("/b/c/../..", "/")]
    public void DotSegmentsAreRemoved(string given, string expected) => Assert.Equal(expected, UrlIdentity.RemoveDotSegments(given));

    [Theory]
    [InlineData("HTTP://www.EXAMPLE.com/", "http://www.example.com/")]                  // RFC 3986, 6.2.2.1
    [InlineData("http://example.com/%7euser/%2fa", "http://example.com/~user/%2Fa")]    // RFC 3986, 6.2.2.1 and 6.2.2.2
    [InlineData("http://example.com", "http://example.com/")]                           // RFC 3986, 6.2.3
    [InlineData("http://example.com:/", "http://example.com/")]                         // RFC 3986, 6.2.3
    [InlineData("http://example.com:80/", "http://example.com/")]                       // RFC 3986, 6.2.3
    [InlineData("https://example.com:80/", "https://example.com:80/")]
    [InlineData("http://example.com/../a/./b", "http://example.com/a/b")]
    [InlineData("http://example.com/?", "http://example.com/?")]                        // RFC 3986, 6.2.3: "?" alone counts
    [InlineData("http://bücher.example/ä", "http://xn--bcher-kva.example/%C3%A4")]      // RFC 3987, 3.1; RFC 3492
    public void NormalizationIsThatOfTheStandard(string given, string expected)
    {
        Assert.True(UrlIdentity.TryOf(given, UrlFolds.None, out var identity));
        Assert.Equal(expected, identity);
    }

    [Theory]
    [InlineData("http://www.fenwater.example/dry-suits/")]
    [InlineData("https://fenwater.example/dry-suits#sizes")]
    [InlineData("https://fenwater.example/dry-suits?utm_source=mail&gclid=x")]
    [InlineData("fenwater.example/dry-suits")]
    [InlineData("HTTPS://Fenwater.Example:443/guides/../dry-suits")]
    public void FoldsMakeOneIdentity(string url)
    {
        Assert.True(UrlIdentity.TryOf(url, UrlFolds.All, out var identity));
        Assert.Equal("https://fenwater.example/dry-suits", identity);
    }

    [Fact]
    public void ParametersThatCountAreKeptAndSorted()
    {
        Assert.True(UrlIdentity.TryOf("https://a.example/x?b=2&a=1&utm_medium=m", UrlFolds.All, out var identity));
        Assert.Equal("https://a.example/x?a=1&b=2", identity);
        Assert.True(UrlIdentity.TryOf("https://a.example/x?b=2", UrlFolds.All, out var other));
        Assert.NotEqual(identity, other);
    }

    [Theory]
    [InlineData("")]
    [InlineData("kayak")]
    [InlineData("javascript:alert(1)")]
    [InlineData("ftp://a.example/")]
    [InlineData("http://")]
    [InlineData("http:///path")]
    [InlineData("https://a..b/")]
    [InlineData("https://a.example:port/")]
    public void WhatIsNoAddressIsRefused(string text) => Assert.False(UrlIdentity.TryOf(text, UrlFolds.All, out _));

    [Fact]
    public void AnyTextIsAnsweredAndAnIdentityIsItsOwn() => Gen.String[Gen.Char, 0, 30].Sample(path =>
        !UrlIdentity.TryOf("http://www.a.example/" + path, UrlFolds.All, out var identity)
        || (UrlIdentity.TryOf(identity, UrlFolds.All, out var again) && again == identity));

    // From the test data published with the list (publicsuffix.org), as far as they speak of its ICANN section.
    [Theory]
    [InlineData("example.com", "example.com")]
    [InlineData("b.example.com", "example.com")]
    [InlineData("a.b.example.uk.com", "uk.com")]
    [InlineData("example.co.uk", "example.co.uk")]
    [InlineData("a.b.c.co.jp", "c.co.jp")]
    [InlineData("b.c.kobe.jp", "b.c.kobe.jp")]
    [InlineData("a.b.c.kobe.jp", "b.c.kobe.jp")]
    [InlineData("city.kobe.jp", "city.kobe.jp")]
    [InlineData("www.city.kobe.jp", "city.kobe.jp")]
    [InlineData("www.www.ck", "www.ck")]
    [InlineData("b.example.example", "example.example")]
    public void RegistrableDomainsFollowTheList(string host, string expected) =>
        Assert.Equal(expected, PublicSuffixes.RegistrableDomain(host));

    [Theory]
    [InlineData("fenwater.example", true)]
    [InlineData("shop.fenwater.example", true)]
    [InlineData("notfenwater.example", false)]
    [InlineData("fenwater.example.evil.example", false)]
    public void OwnPagesAreThoseOfTheHostAndBelow(string host, bool expected) =>
        Assert.Equal(expected, new OwnSite("https://www.Fenwater.example/").Owns("https://" + host + "/a"));

    [Theory]
    [InlineData("https://fenwater.example/a", true)]
    [InlineData("http://www.fenwater.fr.example/fr/bateaux", true)]
    [InlineData("https://shop.example/kayaks", true)]
    [InlineData("https://shop.example/Kayaks/sea?page=2", true)]
    [InlineData("https://shop.example/kayaks-for-sale", false)]
    [InlineData("https://shop.example/", false)]
    [InlineData("https://other.example/kayaks", false)]
    public void ASiteMayBeSeveralHostsAndFolders(string url, bool expected) =>
        Assert.Equal(expected, new OwnSite("fenwater.example, https://www.fenwater.fr.example/\n shop.example/kayaks/index.html").Owns(url));

    [Fact]
    public void AddressesOfASiteInAFolderLieInIt()
    {
        var site = new OwnSite("shop.example/kayaks, fenwater.example");
        Assert.Equal(("shop.example/kayaks, fenwater.example", "https://shop.example/kayaks/sea", "https://shop.example/kayaks/sea"), (site.ToString(), site.UrlOf("/sea"), site.UrlOf("/kayaks/sea")));
        Assert.Equal(["shop.example", "fenwater.example"], site.Hosts);
        Assert.True(site.OwnsHost("shop.example") && site.OwnsHost("a.fenwater.example") && !site.OwnsHost("example"));
    }

    [Fact]
    public void ASiteWithoutAHostOwnsNothing() => Assert.False(new OwnSite(" ").Owns("https://a.example/"));

    [Fact]
    public void PlainUrlsAreReadAsAllOthersAre() =>
        Gen.Select(Gen.String[Gen.Char["abWw.-/_~9"], 1, 24], Gen.Bool).Sample((rest, www) =>
        {
            var url = "https://" + (www ? "www." : "") + rest;
            // A fragment is dropped, and keeps the URL from being taken for a plain one.
            Assert.Equal(
                (UrlIdentity.TryOf(url + "#x", UrlFolds.All, out var whole), whole),
                (UrlIdentity.TryOf(url, UrlFolds.All, out var plain), plain));
        });

    // What is told from the bytes is what is told from the text, where it is told at all.
    [Fact]
    public void ALookAtTheBytesTellsTheSameIdentity() => CsCheck.Gen.OneOf(
        CsCheck.Gen.String[CsCheck.Gen.Char["https:/.wexample-_~AZ%?#&="], 0, 30].Select(s => "https://" + s), CsCheck.Gen.String[0, 20],
        CsCheck.Gen.Int[0, 6].Select(i => new[] { "https://www.a.example/b/", "https://www.a/", "https://a.example", "https://a.example//", "https://a.example/./b", "https://www.example", "https://A.example/b" }[i])).Sample(url =>
        {
            var bytes = System.Text.Encoding.UTF8.GetBytes(url);
            if (!UrlIdentity.IsPlain(bytes, out var from, out var to))
                return true;
            return UrlIdentity.TryOf(url, UrlFolds.All, out var identity) && identity == "https://" + url[from..to];
        });
}
