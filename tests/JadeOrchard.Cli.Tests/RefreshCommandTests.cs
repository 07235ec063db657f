using System.Globalization;

namespace JadeOrchard.Cli.Tests;

/// <summary>jade refresh, fading and effect on a small site.</summary>
public sealed class RefreshCommandTests : IDisposable
{
    private static readonly DateOnly First = new(2025, 10, 1);
    private readonly Jade _jade = new();

    public RefreshCommandTests() => _jade.Write("pages.csv",
        "url,title,h1,text\nhttps://f.example/suits,Dry suits | Fen,Dry suits,Our dry suits have a relief zip and latex seals.\nhttps://f.example/paddles,Paddles | Fen,Paddles,Our paddles are light.\n");

    public void Dispose() => _jade.Dispose();

    [Fact]
    public void QueriesOfPagesAreMarked()
    {
        // Two months: in the first nobody searched for gaskets, and seals were searched for half as much.
        static string Rows(string query, string page, int from, int to, int clicks, int impressions, double position) => string.Concat(Enumerable.Range(from, to - from).Select(d =>
            string.Create(CultureInfo.InvariantCulture, $"{query},https://f.example/{page},{First.AddDays(d):yyyy-MM-dd},{clicks},{impressions},{position}\n")));
        _jade.Write("s.csv", "query,page,date,clicks,impressions,position\n"
            + Rows("dry suit", "suits", 0, 56, 11, 100, 3) + Rows("dry suit", "paddles", 0, 56, 0, 10, 30) + Rows("replace a gasket", "suits", 28, 56, 1, 60, 14)
            + Rows("how to fit a latex seal", "suits", 0, 28, 1, 20, 8) + Rows("how to fit a latex seal", "suits", 28, 56, 0, 40, 4) + Rows("fen", "suits", 0, 56, 9, 10, 1) + Rows("", "suits", 0, 56, 1, 1, 1));
        var run = _jade.Run("refresh", "--performance", "s.csv", "--pages", "pages.csv", "--site", "f.example", "--brand", "fen", "--out", "refresh.csv");
        Assert.Equal((0, ""), (run.Status, run.Error));
        var rows = _jade.Read("refresh.csv");
        Assert.Equal(["page", "query", "clicks", "impressions", "position", "expected_clicks", "mentions", "marks", "at_stake"], rows[0]);
        string[] Of(string page, string query) => rows.Single(r => r[0].EndsWith(page, StringComparison.Ordinal) && r[1] == query);
        Assert.Equal(("308", "2800", "3"), (Of("suits", "dry suit")[2], Of("suits", "dry suit")[3], Of("suits", "dry suit")[4]));
        // In title, heading and text.
        Assert.Equal(("3", ""), (Of("suits", "dry suit")[6], Of("suits", "dry suit")[7]));
        Assert.Equal("not-mentioned | other-page", Of("paddles", "dry suit")[7]);
        Assert.Equal("not-mentioned | below-page-one | new", Of("suits", "replace a gasket")[7]);
        Assert.Equal("not-mentioned | under-clicked | question | rising", Of("suits", "how to fit a latex seal")[7]);
        // What is searched for by the site's name raises nothing, and clicks of no known query are no query.
        Assert.Equal(("", "0"), (Of("suits", "fen")[7], Of("suits", "fen")[8]));
        Assert.DoesNotContain(rows, r => r[1].Length == 0);
        // A period of one's own; what is wrong with one is said.
        Assert.Equal(0, _jade.Run("refresh", "--performance", "s.csv", "--pages", "pages.csv", "--site", "f.example", "--from", "2025-10-01", "--to", "2025-10-28", "--out", "refresh.csv").Status);
        Assert.DoesNotContain(_jade.Read("refresh.csv"), r => r[1] == "replace a gasket");
        Assert.Equal(2, _jade.Run("refresh", "--performance", "s.csv", "--pages", "pages.csv", "--site", "f.example", "--from", "soon", "--out", "refresh.csv").Status);
        Assert.Equal(2, _jade.Run("refresh", "--performance", "s.csv", "--pages", "pages.csv", "--site", "f.example", "--from", "2025-10-09", "--to", "2025-10-01", "--out", "refresh.csv").Status);
    }

    [Fact]
    public void FadingPagesAreListedWithWhatTheyLost()
    {
        // Twenty pages for 400 days; the first one's position falls for the last 40.
        _jade.Write("s.csv", "query,page,date,clicks,impressions,position\n" + string.Concat(Enumerable.Range(0, 20).SelectMany(p => Enumerable.Range(0, 400).Select(d =>
            string.Create(CultureInfo.InvariantCulture, $"query {p},https://f.example/p{p},{First.AddDays(d):yyyy-MM-dd},{(p == 0 && d >= 360 ? 4 : 11)},100,{(p == 0 && d >= 360 ? 7 : 3)}\n")))));
        var run = _jade.Run("fading", "--performance", "s.csv", "--pages", "pages.csv", "--site", "f.example", "--out", "fading.csv");
        Assert.Equal((0, ""), (run.Status, run.Error));
        Assert.Contains("1 of 20 pages fade", run.Output, StringComparison.Ordinal);
        var row = Assert.Single(_jade.Read("fading.csv").Skip(1));
        Assert.Equal(["https://f.example/p0", "308", "112", "1", "-196", "0", "0"], new[] { row[0], row[2], row[3], row[4], row[6], row[7], row[8] });
        Assert.InRange(DateOnly.ParseExact(row[1], "yyyy-MM-dd", CultureInfo.InvariantCulture).DayNumber, First.AddDays(353).DayNumber, First.AddDays(367).DayNumber);
        // Too short a file says so.
        _jade.Write("short.csv", "query,page,date,clicks,impressions,position\nq,https://f.example/p0,2025-10-01,1,2,3\n");
        Assert.Contains("too few", _jade.Run("fading", "--performance", "short.csv", "--pages", "pages.csv", "--site", "f.example", "--out", "fading.csv").Output, StringComparison.Ordinal);
    }

    [Fact]
    public void ChangesAreJudged()
    {
        _jade.Write("s.csv", "query,page,date,clicks,impressions,position\n" + string.Concat(Enumerable.Range(0, 12).SelectMany(p => Enumerable.Range(0, 120).Select(d =>
            string.Create(CultureInfo.InvariantCulture, $"query {p},https://f.example/p{p},{First.AddDays(d):yyyy-MM-dd},{(10 + (d % 7)) * (p == 0 && d >= 80 ? 2 : 1)},100,3\n")))));
        _jade.Write("c.csv", "page,date\nhttps://f.example/p0,2025-12-20\nhttps://f.example/p1,2025-12-20\nhttps://f.example/p2,2026-01-25\nhttps://f.example/none,2025-12-20\n");
        var run = _jade.Run("effect", "--performance", "s.csv", "--changes", "c.csv", "--out", "effect.csv");
        Assert.Equal((0, ""), (run.Status, run.Error));
        var rows = _jade.Read("effect.csv");
        Assert.Equal(["page", "date", "verdict", "clicks_effect", "low", "high", "controls"], rows[0]);
        Assert.Equal(["helped", "no-effect", "too-early", "too-little-data"], rows.Skip(1).Select(r => r[2]));
        // 28 days of 10 to 16 clicks, doubled.
        Assert.Equal(364, double.Parse(rows[1][3], CultureInfo.InvariantCulture), 1);
        Assert.True(double.Parse(rows[1][4], CultureInfo.InvariantCulture) > 0);
        _jade.Write("bad.csv", "page,date\nhttps://f.example/p0,soon\n");
        var refused = _jade.Run("effect", "--performance", "s.csv", "--changes", "bad.csv", "--out", "effect.csv");
        Assert.Equal(2, refused.Status);
        Assert.Contains("“soon” is no day", refused.Error, StringComparison.Ordinal);
    }
}
