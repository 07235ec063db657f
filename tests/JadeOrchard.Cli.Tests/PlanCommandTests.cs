namespace JadeOrchard.Cli.Tests;

/// <summary>jade plan, links and redirects on a small site.</summary>
public sealed class PlanCommandTests : IDisposable
{
    private readonly Jade _jade = new();

    public PlanCommandTests()
    {
        _jade.Write("keywords.csv", "keyword,volume,difficulty\nkayak dry suit,1000,30\ndry suit for kayaking,400,30\nkayak paddle,800,20\nkayak paddles,200,20\nkayak roof rack,600,\n");
        var rows = new List<string> { "keyword,position,url" };
        void List(string keyword, string prefix, params (int Position, string Url)[] own)
        {
            for (var i = 1; i <= 10; i++)
                rows.Add($"{keyword},{i},{own.FirstOrDefault(o => o.Position == i).Url ?? $"https://r{i}.example/{prefix}"}");
        }

        List("kayak dry suit", "suit", (5, "https://f.example/suits"), (8, "https://f.example/blog/suits"));
        List("dry suit for kayaking", "suit", (6, "https://f.example/suits"), (9, "https://f.example/blog/suits"));
        List("kayak paddle", "paddle", (7, "https://f.example/paddles"));
        List("kayak paddles", "paddle", (7, "https://f.example/paddles"));
        List("kayak roof rack", "rack");
        _jade.Write("results.csv", string.Join('\n', rows));
        _jade.Write("pages.csv",
            "url,title,h1,words,text\nhttps://f.example/suits,Kayak dry suits,Kayak dry suits,800,Kayak dry suits keep you warm. A good kayak paddle matters too.\n"
            + "https://f.example/blog/suits,Our dry suit for kayaking,Our dry suit for kayaking,500,We tried a dry suit for kayaking in winter.\nhttps://f.example/paddles,Kayak paddles,Kayak paddles,700,Kayak paddles of carbon are light. Wear a kayak dry suit in winter.\n");
        _jade.Write("map.csv", "keyword,page\nkayak dry suit,https://f.example/suits\nkayak paddle,https://f.example/paddles\n");
    }

    public void Dispose() => _jade.Dispose();

    [Fact]
    public void ThePlanIsOrderedAndFitsTheHours()
    {
        var run = _jade.Run("plan", "--keywords", "keywords.csv", "--results", "results.csv", "--pages", "pages.csv", "--map", "map.csv", "--site", "f.example", "--capacity", "6", "--start", "2026-12-02", "--out", "plan.csv");
        Assert.Equal((0, ""), (run.Status, run.Error));
        var rows = _jade.Read("plan.csv");
        Assert.Equal(["step", "what", "page", "cluster", "gain", "hours", "week", "because"], rows[0]);
        var steps = rows.Skip(1).ToList();
        Assert.Equal(steps.Count, steps.Select(s => s[2]).Distinct().Count());
        string PlaceOf(string what, string page) => steps.Single(s => s[1] == what && s[2] == page)[0];
        // The text is brought over before its page redirects, and what has no page is to be written.
        Assert.True(int.Parse(PlaceOf("merge", "https://f.example/suits"), System.Globalization.CultureInfo.InvariantCulture) < int.Parse(PlaceOf("redirect", "https://f.example/blog/suits"), System.Globalization.CultureInfo.InvariantCulture));
        Assert.Contains("kayak-roof-rack", steps.Single(s => s[1] == "write")[2], StringComparison.Ordinal);
        // 600 × 0.11 × (1 − 0.2), where the difficulty that is not known is the median.
        Assert.Equal("52.8", steps.Single(s => s[1] == "write")[4]);
        Assert.Contains("600 searches, from nowhere to 3rd, difficulty unknown: about 53 clicks a month", steps.Single(s => s[1] == "write")[7], StringComparison.Ordinal);
        Assert.All(steps.GroupBy(s => s[6]), week => Assert.True(week.Sum(s => double.Parse(s[5], System.Globalization.CultureInfo.InvariantCulture)) <= 6));
        Assert.Equal("2026-11-30", steps.Min(s => s[6]));
        Assert.Equal(2, _jade.Run("plan", "--keywords", "keywords.csv", "--results", "results.csv", "--pages", "pages.csv", "--site", "f.example", "--capacity", "0", "--out", "plan.csv").Status);
        Assert.Contains("--start", _jade.Run("plan", "--keywords", "keywords.csv", "--results", "results.csv", "--pages", "pages.csv", "--site", "f.example", "--capacity", "5", "--start", "soon", "--out", "p.csv").Error, StringComparison.Ordinal);
    }

    [Fact]
    public void MissingLinksComeWithTheirPassage()
    {
        _jade.Write("clusters.csv", "cluster,keyword,primary,volume\nsuits,kayak dry suit,kayak dry suit,1000\nsuits,dry suit for kayaking,kayak dry suit,400\npaddles,kayak paddle,kayak paddle,800\n");
        _jade.Write("topics.csv", "topic,cluster,pillar\nkayaking,suits,yes\nkayaking,paddles,no\n");
        _jade.Write("links.csv", "source,target,anchor\nhttps://f.example/suits,https://f.example/blog/suits,blog\n");
        string[] arguments = ["links", "--pages", "pages.csv", "--links", "links.csv", "--clusters", "clusters.csv", "--topics", "topics.csv", "--map", "map.csv", "--out", "missing.csv"];
        var run = _jade.Run(arguments);
        Assert.Equal((0, ""), (run.Status, run.Error));
        Assert.Equal(
            [
                "source,target,direction,words,passage",
                "https://f.example/paddles,https://f.example/suits,support-to-pillar,kayak dry suit,Wear a kayak dry suit in winter.",
                "https://f.example/suits,https://f.example/paddles,pillar-to-support,kayak paddle,A good kayak paddle matters too.",
            ],
            _jade.Read("missing.csv").Select(r => string.Join(',', r)));
        // Links that are there are not missing.
        _jade.Write("links.csv", "from,to\nhttps://www.f.example/paddles/,http://f.example/suits\n");
        Assert.Equal(0, _jade.Run(arguments).Status);
        Assert.Equal(["https://f.example/suits"], _jade.Read("missing.csv").Skip(1).Select(r => r[0]));
        _jade.Write("links.csv", "a,b\n1,2\n");
        Assert.Contains("source and target", _jade.Run(arguments).Error, StringComparison.Ordinal);
    }

    [Fact]
    public void RedirectsAreShortenedAndALoopIsRefused()
    {
        _jade.Write("redirects.csv", "from,to,status\n/a,/b,301\n/b,/c,302\n");
        var run = _jade.Run("redirects", "--plan", "redirects.csv", "--format", "csv", "--out", "short.csv");
        Assert.Equal(0, run.Status);
        Assert.Contains("/a → /c (through /b)", run.Output, StringComparison.Ordinal);
        Assert.Equal(["from|to|status", "/a|/c|301", "/b|/c|302"], _jade.Read("short.csv").Select(r => string.Join('|', r)));
        _jade.Write("redirects.csv", "from,to\n/a,/b\n/b,/a\n");
        run = _jade.Run("redirects", "--plan", "redirects.csv", "--format", "nginx", "--out", "loop.conf");
        Assert.Equal((2, false), (run.Status, File.Exists(_jade.Path("loop.conf"))));
        Assert.Contains("/a → /b → /a", run.Error, StringComparison.Ordinal);
        Assert.Equal(2, _jade.Run("redirects", "--plan", "redirects.csv", "--format", "iis", "--out", "x").Status);
    }
}
