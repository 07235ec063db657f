using System.Globalization;

namespace JadeOrchard.Cli.Tests;

/// <summary>jade savings and jade next.</summary>
public sealed class StagedCommandTests : IDisposable
{
    private readonly Jade _jade = new();

    public StagedCommandTests()
    {
        // Twelve subjects, each with eight ways to ask for it that return the same pages, and two that return others.
        string[] same = ["buy", "cheap", "sale", "price", "shop", "online", "offers", "deals"], other = ["repair", "fix"];
        var (keywords, results) = ("keyword,volume\n", "keyword,position,url\n");
        for (var s = 0; s < 12; s++)
        {
            foreach (var word in same.Concat(other))
            {
                var keyword = $"{word} {(char)('a' + s)}boat";
                keywords += $"{keyword},{(word == "buy" ? 900 : 100 - s)}\n";
                for (var p = 1; p <= 10; p++)
                    results += $"{keyword},{p},https://r{p}.example/{(other.Contains(word) ? "mend" : "sell")}/{s}\n";
            }
        }

        _jade.Write("k.csv", keywords);
        _jade.Write("r.csv", results);
    }

    public void Dispose() => _jade.Dispose();

    [Fact]
    public void SavingsReplaysACaptureInStages()
    {
        var run = _jade.Run("savings", "--keywords", "k.csv", "--results", "r.csv", "--out", "curve.csv", "--assignments", "a.csv");
        Assert.Equal((0, ""), (run.Status, run.Error));
        var curve = _jade.Read("curve.csv");
        Assert.Equal(["captured", "share", "certain", "ari", "wrong"], curve[0]);
        double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);
        Assert.All(curve.Skip(1).Zip(curve.Skip(2)), p => Assert.True(Number(p.First[0]) < Number(p.Second[0])));
        var last = curve[^1];
        Assert.Equal(120, Number(last[0]) + Number(last[2]));
        Assert.Equal(Number(last[0]) / 120, Number(last[1]), 3);
        var assigned = _jade.Read("a.csv");
        Assert.Equal(["cluster", "keyword", "state"], assigned[0]);
        Assert.Equal(120, assigned.Skip(1).Select(r => r[1]).Distinct().Count());
        Assert.Equal(last[2], assigned.Count(r => r[2] == "expected").ToString(CultureInfo.InvariantCulture));
        Assert.All(assigned.Skip(1), r => Assert.True(r[2] is "captured" or "expected"));
    }

    [Fact]
    public void NextNamesKeywordsThatAreNotCaptured()
    {
        _jade.Write("none.csv", "keyword,position,url\n");
        Assert.Equal(0, _jade.Run("next", "--keywords", "k.csv", "--results", "none.csv", "--count", "12", "--out", "next.csv").Status);
        var first = _jade.Read("next.csv");
        Assert.Equal(["keyword", "volume", "certainty"], first[0]);
        // The most searched of different subjects come first.
        Assert.All(first.Skip(1).Take(5), r => Assert.StartsWith("buy ", r[0], StringComparison.Ordinal));
        Assert.Equal(12, first.Skip(1).Select(r => r[0]).Distinct().Count());
        // With what came of them, others follow; with everything, none.
        Assert.Equal(0, _jade.Run("next", "--keywords", "k.csv", "--results", "r.csv", "--out", "next.csv").Status);
        Assert.Single(_jade.Read("next.csv"));
        Assert.Contains("more lists would change nothing", _jade.Run("next", "--keywords", "k.csv", "--results", "r.csv", "--out", "next.csv").Output, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("--certainty", "1", "--certainty must be 0.5 or more and less than 1, not 1.")]
    [InlineData("--count", "0", "--count must be 1 or more, not 0.")]
    public void WhatCannotBeIsRefused(string option, string value, string says)
    {
        var run = _jade.Run("next", "--keywords", "k.csv", "--results", "r.csv", "--out", "next.csv", option, value);
        Assert.Equal(2, run.Status);
        Assert.Contains(says, run.Error, StringComparison.Ordinal);
    }
}
