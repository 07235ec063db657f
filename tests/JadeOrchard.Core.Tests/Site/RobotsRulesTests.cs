using CsCheck;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Site;

public class RobotsRulesTests
{
    /// <summary>RFC 9309, section 5.1.</summary>
    private const string SimpleExample = """
        User-Agent: *
        Disallow: *.gif$
        Disallow: /example/
        Allow: /publications/

        User-Agent: foobot
        Disallow:/
        Allow:/example/page.html
        Allow:/example/allowed.gif

        User-Agent: barbot
        User-Agent: bazbot
        Disallow: /example/page.html

        User-Agent: quxbot
        """;

    [Theory]
    [InlineData("otherbot", "/picture.gif", false)]
    [InlineData("otherbot", "/picture.gif?x", true)]
    [InlineData("otherbot", "/example/x", false)]
    [InlineData("otherbot", "/publications/x", true)]
    [InlineData("foobot", "/", false)]
    [InlineData("foobot", "/example/page.html", true)]
    [InlineData("foobot", "/example/allowed.gif", true)]
    [InlineData("foobot", "/publications/x", false)]
    [InlineData("barbot", "/example/page.html", false)]
    [InlineData("bazbot", "/example/page.html", false)]
    [InlineData("barbot", "/example/other.gif", true)]
    [InlineData("quxbot", "/example/page.html", true)]
    public void TheSimpleExampleOfTheRfc(string agent, string path, bool allowed) =>
        Assert.Equal(allowed, RobotsRules.Parse(SimpleExample, agent).Allows(path));

    [Theory] // RFC 9309, section 5.2: the longest match decides.
    [InlineData("/example/page/allowed.gif", true)]
    [InlineData("/example/page/disallowed.gif", false)]
    public void TheLongestMatchOfTheRfc(string path, bool allowed) => Assert.Equal(allowed, RobotsRules.Parse(
        "User-Agent: foobot\nAllow: /example/page/\nDisallow: /example/page/disallowed.gif", "foobot").Allows(path));

    [Theory] // RFC 9309, section 2.2.2, the table of percent-encodings.
    [InlineData("/foo/bar?baz=quz", "/foo/bar?baz=quz")]
    [InlineData("/foo/bar?baz=http://foo.bar", "/foo/bar?baz=http://foo.bar")]
    [InlineData("/foo/bar/ツ", "/foo/bar/%E3%83%84")]
    [InlineData("/foo/bar/%E3%83%84", "/foo/bar/%E3%83%84")]
    [InlineData("/foo/bar/%62%61%7A", "/foo/bar/baz")]
    public void PathsAreComparedPercentEncoded(string rule, string path) =>
        Assert.False(RobotsRules.Parse("User-agent: *\nDisallow: " + rule, "jadeorchard").Allows(path));

    [Theory] // RFC 9309, section 2.2.3 and 2.2.2: special characters, and allow where two are as long.
    [InlineData("Disallow: /this/*/exactly$", "/this/path/exactly", false)]
    [InlineData("Disallow: /this/*/exactly$", "/this/path/exactly/not", true)]
    [InlineData("Disallow: /a\nAllow: /a", "/a", true)]
    [InlineData("Disallow:", "/a", true)]
    [InlineData("Disallow: /", "/robots.txt", true)]
    [InlineData("disallow : /a # why", "/a/b", false)]
    public void SpecialCharacters(string rules, string path, bool allowed) =>
        Assert.Equal(allowed, RobotsRules.Parse("user-agent: *\n" + rules, "jadeorchard").Allows(path));

    [Fact]
    public void GroupsOfOneReaderAreTakenTogether() // RFC 9309, section 2.2.1
    {
        var rules = RobotsRules.Parse("User-agent: a\nDisallow: /x\n\nUser-agent: b\nDisallow: /y\n\nUser-agent: A\nDisallow: /z\nSitemap: https://f.example/s.xml\nCrawl-delay: 2.5", "a");
        Assert.Equal([false, true, false], new[] { "/x", "/y", "/z" }.Select(rules.Allows));
        Assert.Equal(["https://f.example/s.xml"], rules.Sitemaps);
        Assert.Equal(2.5, rules.CrawlDelay);
    }

    [Fact]
    public void AnyTextIsReadAndMatchedQuickly() => Gen.Select(Gen.String, Gen.String[Gen.Char["ab*$/%"], 0, 60]).Sample((text, path) =>
    {
        RobotsRules.Parse(text, "jadeorchard").Allows("/" + path);
        RobotsRules.Parse("User-agent: *\nDisallow: /" + path, "jadeorchard").Allows("/" + new string('a', 500));
    });

    [Fact]
    public void ARuleAlwaysMatchesItself() => Gen.String[Gen.Char["abc/-_.~ü日%?="], 1, 30].Sample(path =>
        Assert.False(RobotsRules.Parse("User-agent: *\nDisallow: /x" + path.Trim(), "jadeorchard").Allows("/x" + path.Trim() + "more")));
}
