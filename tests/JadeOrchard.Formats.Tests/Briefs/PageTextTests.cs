using System.Text;
using JadeOrchard.Formats.Briefs;
using JadeOrchard.Formats.Site;

namespace JadeOrchard.Formats.Tests.Briefs;

public sealed class PageTextTests
{
    private const string Html = """
        <!doctype html><html><head><title>Suits</title><meta name="keywords" content="suit, zip"><meta name="description" content="All on suits.">
        <meta property="article:published_time" content="2024-05-06"><meta property="article:modified_time" content="2025-01-02T10:00:00Z"></head>
        <body><nav><a href="/nav">Menu</a></nav><main><h1>Dry suits</h1>
        <p>See <a href="/size">our sizes</a> and <a href="https://tables.example/zip">the zip <b>table</b></a>.</p>
        <h2>Care</h2><ul><li>Rinse.</li><li>Dry <a href="https://tables.example/zip">slowly</a>.</li></ul>
        <table><tr><th>Size</th><td>M</td></tr></table><p><img src="/zip.jpg" alt="A zip"> <img src="/x.jpg"></p>
        <aside><a href="https://ads.example/">Elsewhere</a></aside></main></body></html>
        """;

    [Fact]
    public void WhatElseIsOnAPageIsCounted()
    {
        var facts = HtmlPage.ReadText(Encoding.UTF8.GetBytes(Html), "utf-8", new Uri("https://suits.example/dry")).Facts!;
        Assert.Equal(("suit, zip", 1, 2, 1), (facts.Keywords, facts.Tables, facts.Images, facts.LinksWithin));
        // Each address once, and none of the furniture.
        Assert.Equal(["https://tables.example/zip"], facts.LinksOut!);
        Assert.Equal((new DateOnly(2024, 5, 6), new DateOnly(2025, 1, 2)), (facts.PublishedOn, facts.LastChange));
    }

    [Fact]
    public void APageCanBeEditedAsMarkdownAndSaysTheSameAfterwards()
    {
        var page = HtmlPage.ReadText(Encoding.UTF8.GetBytes(Html), "utf-8", new Uri("https://suits.example/dry"));
        Assert.StartsWith("# Dry suits\n\nSee [our sizes](https://suits.example/size) and [the zip table](https://tables.example/zip).\n\n## Care\n\n- Rinse.\n- Dry [slowly](https://tables.example/zip).", page.Markdown, StringComparison.Ordinal);
        var again = DraftFile.OfPasted(page.Markdown!);
        Assert.Equal((string.Join('|', page.H1), string.Join('|', page.H2.Select(h => h.Text))), (string.Join('|', again.H1), string.Join('|', again.H2.Select(h => h.Text))));
        Assert.Equal(page.Links.Select(l => (l.Url, l.Anchor)), again.Links.Select(l => (l.Url, l.Anchor)));
        Assert.Equal(page.Words, again.Words);
        Assert.Equal(["A zip"], again.Alts);
    }

    [Fact]
    public void LinksThatAreNotClosedOrHoldBlocksBreakNothing()
    {
        var page = HtmlPage.ReadText("<main><p>One <a href='https://a.example/'>two<p>three</a> four</p><a href='#x'>here</a> <a>nowhere</a></main>"u8.ToArray(), "utf-8", null);
        Assert.Equal("One two three four here nowhere", string.Join(' ', page.Paragraphs));
        Assert.All(page.Links, l => Assert.Equal("https://a.example/", l.Url));
        Assert.NotNull(page.Markdown);
    }
}
