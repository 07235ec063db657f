using System.Globalization;

namespace JadeOrchard.Cli.Tests;

/// <summary>jade terms, placement, titles and brief on a small site.</summary>
public sealed class BriefCommandTests : IDisposable
{
    private readonly Jade _jade = new();

    public BriefCommandTests()
    {
        _jade.Write("keywords.csv", "keyword,volume,difficulty,intent\nkayak dry suit,1000,30,transactional\ndry suit for kayaking,400,30,\nkayak paddle,800,20,\n");
        string List(string keyword, string prefix) => string.Concat(Enumerable.Range(1, 10).Select(i => $"{keyword},{i},{(i == 9 ? $"https://f.example/{prefix}s" : $"https://r{i}.example/{prefix}")}\n"));
        _jade.Write("results.csv", "keyword,position,url\n" + List("kayak dry suit", "suit") + List("dry suit for kayaking", "suit") + List("kayak paddle", "paddle"));
        _jade.Write("texts.csv", "url,title,headings,text\n" + string.Concat(Enumerable.Range(1, 8).Select(i =>
            $"https://r{i}.example/suit,Dry suits,Dry suits | Seals,\"A latex seal wants powder {(i % 2 == 0 ? "often" : "seldom")}.\"\nhttps://r{i}.example/paddle,Paddles,Paddles | Blades,\"A carbon blade is {(i % 2 == 0 ? "light" : "dear")}.\"\n")));
        _jade.Write("pages.csv", "url,title,h1,words,text\nhttps://f.example/suits,Kayak dry suits | Fen,Kayak dry suits,4,Our kayak dry suits.\nhttps://f.example/paddles,Paddles | Fen,Paddles,2,Our paddles.\nhttps://f.example/,Home | Fen,Home,2,Our shop.\n");
        _jade.Write("clusters.csv", "cluster,keyword,primary\n1,kayak dry suit,kayak dry suit\n1,dry suit for kayaking,kayak dry suit\n2,kayak paddle,kayak paddle\n");
    }

    public void Dispose() => _jade.Dispose();

    [Fact]
    public void TermsAreThoseOfEachCluster()
    {
        var run = _jade.Run("terms", "--texts", "texts.csv", "--results", "results.csv", "--clusters", "clusters.csv", "--out", "terms.csv");
        Assert.Equal((0, ""), (run.Status, run.Error));
        var rows = _jade.Read("terms.csv");
        Assert.Equal(["cluster", "term", "words", "pages", "g2", "c_value"], rows[0]);
        var seal = rows.Single(r => r[0] == "1" && r[1] == "latex seal wants powder");
        // 2 × 16 ln 2 for eight pages of eight against none of eight, and log2 4 × 8.
        Assert.Equal(("4", "8", 22.1807, 16), (seal[2], seal[3], double.Parse(seal[4], CultureInfo.InvariantCulture), double.Parse(seal[5], CultureInfo.InvariantCulture)));
        Assert.Contains(rows, r => r[0] == "2" && r[1] == "carbon blade");
        Assert.DoesNotContain(rows, r => r[0] == "2" && r[1].Contains("latex", StringComparison.Ordinal));
        Assert.Equal(2, _jade.Run("terms", "--texts", "keywords.csv", "--results", "results.csv", "--clusters", "clusters.csv", "--out", "terms.csv").Status);
    }

    [Fact]
    public void PlacementHasARowForEachPlaceAndOneForWhatIsMissing()
    {
        _jade.Write("draft.md", "# Kayak dry suit\n\nSuits that are dry, for kayaking.\n\n## A paddle\n\nText.\n");
        var run = _jade.Run("placement", "--keywords", "keywords.csv", "--text", "draft.md", "--out", "places.csv");
        Assert.Equal((0, ""), (run.Status, run.Error));
        Assert.Equal(
            [
                "keyword,where,exact,within,count,passage", "kayak dry suit,h1,true,true,1,Kayak dry suit", "kayak dry suit,opening,false,true,1,Suits that are dry, for kayaking.",
                "kayak dry suit,body,false,true,1,Suits that are dry, for kayaking.", "dry suit for kayaking,h1,false,true,1,Kayak dry suit", "dry suit for kayaking,opening,false,true,1,Suits that are dry, for kayaking.",
                "dry suit for kayaking,body,false,true,1,Suits that are dry, for kayaking.", "kayak paddle,,false,false,0,Suits that are dry, for kayaking.",
            ],
            _jade.Read("places.csv").Select(r => string.Join(',', r).Replace("True", "true", StringComparison.Ordinal).Replace("False", "false", StringComparison.Ordinal)));
        Assert.Equal(2, _jade.Run("placement", "--keywords", "keywords.csv", "--text", "keywords.csv", "--out", "places.csv").Status);
    }

    [Fact]
    public void TitlesFitAndSayWhatTheyCover()
    {
        var run = _jade.Run("titles", "--clusters", "clusters.csv", "--keywords", "keywords.csv", "--site-name", "Fen", "--out", "titles.csv");
        Assert.Equal((0, ""), (run.Status, run.Error));
        var rows = _jade.Read("titles.csv").Skip(1).ToList();
        Assert.All(rows, r => Assert.True(r[1] != "title" || (int.Parse(r[3], CultureInfo.InvariantCulture) <= 60 && double.Parse(r[4], CultureInfo.InvariantCulture) <= 580)));
        Assert.All(rows.Where(r => r[0] == "1"), r => Assert.StartsWith("kayak dry suit", r[5], StringComparison.Ordinal));
        Assert.All(rows.Where(r => r[1] == "title"), r => Assert.Matches("^Kayak (dry suit|paddle)", r[2]));
    }

    [Theory]
    [InlineData("docx")]
    [InlineData("html")]
    [InlineData("md")]
    [InlineData("xlsx")]
    [InlineData("json")]
    public void ABriefIsWrittenInEachForm(string format)
    {
        string[] inputs = ["--keywords", "keywords.csv", "--results", "results.csv", "--pages", "pages.csv", "--site", "f.example", "--texts", "texts.csv"];
        var run = _jade.Run(["brief", .. inputs, "--cluster", "Kayak dry suit", "--format", format, "--out", "brief." + format]);
        Assert.Equal((0, ""), (run.Status, run.Error));
        Assert.Contains("https://f.example/suits: 2 keywords", run.Output, StringComparison.Ordinal);
        Assert.Equal(2, _jade.Run(["brief", .. inputs, "--cluster", "harp", "--format", format, "--out", "x"]).Status);
        Assert.Equal(2, _jade.Run(["brief", .. inputs, "--cluster", "kayak dry suit", "--format", "pdf", "--out", "x"]).Status);
    }
}
