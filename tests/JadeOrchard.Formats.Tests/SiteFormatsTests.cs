using System.IO.Compression;
using System.Text;
using CsCheck;
using JadeOrchard.Formats.Site;

namespace JadeOrchard.Formats.Tests;

public class SiteFormatsTests
{
    private static readonly Uri Page = new("https://f.example/dir/page");

    [Fact]
    public void ThePartsOfAPageAreRead()
    {
        var page = Read("""
            <!doctype html><html><head><title> Dry  suits
             &amp; more </title><meta name="Description" content="What we found."><link rel="canonical" href="/dry-suits">
            <meta name="robots" content="NOINDEX, follow"><script type="application/ld+json">{"@graph":[{"datePublished":"2024-02-03T10:00:00Z","dateModified":"2025-01-02"}]}</script></head>
            <body><nav><a href="/">Home</a> menu words</nav><main><h1>Dry suits<a class="headerlink" href="#x">¶</a></h1><h2>One</h2><p>Two words. <a href="other#part">Other
            page</a></p><h2>Two <em>here</em></h2><h3>Three</h3><a href="mailto:x@y">mail</a><a href="#top">top</a><a href="https://elsewhere.example/?a=1&amp;b=2"><img alt="a picture"></a></main>
            <footer>footer words</footer></body></html>
            """);
        Assert.Equal(("Dry suits & more", "What we found.", "https://f.example/dry-suits", "noindex, follow"), (page.Title, page.Description, page.Canonical, page.Robots));
        Assert.Equal(("Dry suits", "One | Two here", "Three"), (page.H1, page.H2, page.H3));
        Assert.Equal((new DateOnly(2024, 2, 3), new DateOnly(2025, 1, 2)), (page.PublishedOn, page.ModifiedOn));
        Assert.Equal(
            [("https://f.example/", "Home"), ("https://f.example/dir/other", "Other page"), ("https://elsewhere.example/?a=1&b=2", "a picture")],
            page.Links.Select(l => (l.Url, l.Anchor)));
        Assert.Equal("Dry suits¶ One Two words. Other page Two here Three mailtop", page.Text);
        Assert.Equal(11, page.Words);
    }

    [Fact]
    public void TheBaseElementCounts() => // HTML Living Standard, section 4.2.3
        Assert.Equal("https://g.example/x/a", Read("<base href='https://g.example/x/'><a href='a'>a</a>").Links[0].Url);

    [Fact] // HTML Living Standard: the lang attribute (3.2.6.2), and the link type "alternate" (4.6.7.1) with hreflang.
    public void TheLanguageOfAPageAndItsVersionsAreRead()
    {
        var page = HtmlPage.Read(Encoding.UTF8.GetBytes(
            "<html lang=' fr-CA '><head><link rel=alternate hreflang=en href='/en/x'><link rel='alternate' hreflang='x-default' href='/en/x'><link rel=alternate type='application/rss+xml' href=/feed></head>"), "utf-8", Page);
        Assert.Equal(("fr-CA", new Uri(Page, "/en/x").AbsoluteUri), (page.Language, page.Versions));
        page = HtmlPage.Read(Encoding.UTF8.GetBytes("<html lang=''><title>a</title>"), "utf-8", Page);
        Assert.Equal((null, null), (page.Language, page.Versions));
    }

    [Theory] // Encodings: the header's first, then that of the document (HTML Living Standard, section 13.2.3.2).
    [InlineData("utf-8", "<title>Größe</title>", "utf-8")]
    [InlineData("iso-8859-1", "<title>Größe</title>", "iso-8859-1")]
    [InlineData(null, "<meta charset='iso-8859-1'><title>Größe</title>", "iso-8859-1")]
    [InlineData("no-such-charset", "<meta charset='utf-8'><title>Größe</title>", "utf-8")]
    public void EncodingsAreToldByHeaderOrDocument(string? header, string html, string encoding) =>
        Assert.Equal("Größe", HtmlPage.Read(Encoding.GetEncoding(encoding).GetBytes(html), header, Page).Title);

    [Fact]
    public void AnyBytesAreAPage() => Gen.Byte.Array[0, 300].Sample(bytes => Assert.NotNull(HtmlPage.Read(bytes, null, Page)));

    [Fact]
    public void AnyTangleOfTagsIsAPage() =>
        OneOf("<h1>", "</h1>", "<a href='x", "'>", "<table>", "<tr>", "</p>", "<svg><title>", "<script>", "<!--", "-->", "<template>", "<main>", "</main>", "<title>", "text ", "<select><option>", "&#0;", "<math><mi>", "\0")
            .Array[0, 60].Sample(parts => Assert.NotNull(Read(string.Concat(parts))));

    [Fact]
    public void NestingAsDeepAsAnAttackerLikesDoesNoHarm()
    {
        var page = Read("<h1>Before</h1>" + string.Concat(Enumerable.Repeat("<div><b>", 300_000)) + "<h1>Deep</h1>");
        Assert.Equal("Before", page.H1);
    }

    /// <summary>Trees of any shape, as large as a page may be: each is read, or said to be unreadable, long before anybody would stop it.</summary>
    [Fact]
    public void LargeTreesOfAnyShapeAreReadOrRefused() => Gen.Select(
            OneOf("p", "li", "dd", "td", "tr", "table", "a href=x", "b", "font", "h1", "article", "div", "span", "option", "form", "svg", "mo", "script type=application/ld+json", "time itemprop=dateModified").Array[1, 4],
            Gen.Int[0, 2], Gen.Int[0, 800], Gen.Bool, Gen.Int[1, 60_000])
        .Sample(
            (tags, closes, before, numbered, count) =>
            {
                var html = new StringBuilder("<title>Any</title>");
                for (var i = 0; i < before; i++)
                    html.Append('<').Append(tags[0]).Append(" id=").Append(i).Append('>');
                for (var i = 0; i < count; i++)
                {
                    foreach (var tag in tags)
                        html.Append('<').Append(tag).Append(numbered ? $" n{i}=1>" : ">").Append(closes == 0 ? "" : "x");
                    foreach (var tag in closes == 2 ? tags : [])
                        html.Append("</").Append(tag.Split(' ')[0]).Append('>');
                }

                using var stop = new CancellationTokenSource(TimeSpan.FromSeconds(60));
                try
                {
                    Assert.Equal("Any", HtmlPage.Read(Encoding.UTF8.GetBytes(html.ToString()), "utf-8", Page, stop.Token).Title);
                }
                catch (UnreadablePageException e)
                {
                    Assert.NotEmpty(e.Message);
                }
            },
            iter: 25);

    [Fact]
    public void ReadingStopsWhenItIsTold()
    {
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        Assert.Throws<OperationCanceledException>(() => HtmlPage.Read(Encoding.UTF8.GetBytes(string.Concat(Enumerable.Repeat("<p>word", 100_000))), "utf-8", Page, stop.Token));
    }

    [Fact]
    public void AnEncodingThatIsNotAllowedIsReadAsUtf8() => // Encoding Standard: utf-7 is no encoding of the web
        Assert.Equal("Größe", Read("<meta charset='utf-7'><title>Größe</title>").Title);

    [Fact]
    public void ASitemapAsTheProtocolHasIt() // sitemaps.org/protocol.html, the sample of an XML sitemap
    {
        var content = Sitemap.Read(Encoding.UTF8.GetBytes("""
            <?xml version="1.0" encoding="UTF-8"?>
            <urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">
              <url><loc>http://www.example.com/</loc><lastmod>2005-01-01</lastmod><changefreq>monthly</changefreq><priority>0.8</priority></url>
              <url><loc>http://www.example.com/catalog?item=12&amp;desc=vacation_hawaii</loc><changefreq>weekly</changefreq></url>
              <url><loc></loc></url><url><loc> http://www.example.com/x </loc></url>
            </urlset>
            """));
        Assert.Equal(["http://www.example.com/", "http://www.example.com/catalog?item=12&desc=vacation_hawaii", "http://www.example.com/x"], content.Pages);
        Assert.Null(content.Fault);
    }

    [Fact]
    public void ASitemapIndexAsTheProtocolHasItGzipped() // sitemaps.org/protocol.html, the sample of a sitemap index
    {
        var content = Sitemap.Read(Zipped("""
            <?xml version="1.0" encoding="UTF-8"?>
            <sitemapindex xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">
              <sitemap><loc>http://www.example.com/sitemap1.xml.gz</loc><lastmod>2004-10-01T18:23:17+00:00</lastmod></sitemap>
              <sitemap><loc>http://www.example.com/sitemap2.xml.gz</loc></sitemap>
            </sitemapindex>
            """));
        Assert.Equal(["http://www.example.com/sitemap1.xml.gz", "http://www.example.com/sitemap2.xml.gz"], content.Sitemaps);
        Assert.Empty(content.Pages);
    }

    [Fact]
    public void PlainTextIsASitemapToo() =>
        Assert.Equal(["https://a.example/x", "https://a.example/y"], Sitemap.Read("\uFEFFhttps://a.example/x\r\nno address\nhttps://a.example/y\n"u8.ToArray()).Pages);

    [Fact]
    public void NoDtdIsReadAndNoEntityFollowed()
    {
        var content = Sitemap.Read("""<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]><urlset><url><loc>&a;</loc></url></urlset>"""u8.ToArray());
        Assert.Empty(content.Pages);
        Assert.Contains("DTD", content.Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void WhatUnpacksToTooMuchIsStopped()
    {
        using var packed = new MemoryStream();
        using (var zip = new GZipStream(packed, CompressionLevel.Fastest, leaveOpen: true))
        {
            zip.Write("<urlset><url><loc>https://a.example/</loc></url>"u8);
            var blank = new byte[1 << 20];
            Array.Fill(blank, (byte)' ');
            for (var i = 0; i < 60; i++)
                zip.Write(blank);
        }

        Assert.Equal("is larger than 50 MB", Sitemap.Read(packed.ToArray()).Fault);
    }

    [Fact]
    public void ASitemapThatBreaksOffGivesWhatCameBefore()
    {
        var content = Sitemap.Read("<urlset><url><loc>https://a.example/</loc></url><url><loc>https://b"u8.ToArray());
        Assert.Equal(["https://a.example/"], content.Pages);
        Assert.StartsWith("is no proper XML", content.Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void AnyBytesAreReadAsASitemap() => Gen.Select(Gen.Byte.Array[0, 200], Gen.Bool).Sample((bytes, zipped) =>
        Assert.NotNull(Sitemap.Read(zipped ? [0x1F, 0x8B, .. bytes] : bytes)));

    [Theory]
    [MemberData(nameof(HostileFiles))]
    public void EveryFileOfTheHostileCorpusIsRead(string file)
    {
        var bytes = File.ReadAllBytes(file);
        Assert.NotNull(HtmlPage.Read(bytes, null, Page));
        Assert.NotNull(Sitemap.Read(bytes));
    }

    public static TheoryData<string> HostileFiles => [.. Directory.GetFiles(Path.Combine(AppContext.BaseDirectory, "Hostile"))];

    private static Gen<string> OneOf(params string[] texts) => Gen.Int[0, texts.Length - 1].Select(i => texts[i]);

    private static Core.Site.PageContent Read(string html) => HtmlPage.Read(Encoding.UTF8.GetBytes(html), "utf-8", Page);

    private static byte[] Zipped(string text)
    {
        using var packed = new MemoryStream();
        using (var zip = new GZipStream(packed, CompressionLevel.Fastest, leaveOpen: true))
            zip.Write(Encoding.UTF8.GetBytes(text));
        return packed.ToArray();
    }
}
