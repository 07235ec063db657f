using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Results;

public sealed class TurnoverTests
{
    private static readonly KeywordId First = new(1);

    /// <summary>−ln((kept + ½) / (compared + ½)) for the time: Cho and Garcia-Molina, "Estimating frequency of change", ACM TOIT 3 (2003); the formula is from memory.</summary>
    [Theory]
    [InlineData(30, 10, 9)]
    [InlineData(7, 10, 10)]
    [InlineData(90, 20, 0)]
    public void TheRateOfOneKeywordIsThePublishedEstimator(int days, int compared, int kept)
    {
        var turnover = new Turnover([new Repeat(First, days, compared, kept)]);
        Assert.Equal(-Math.Log((kept + 0.5) / (compared + 0.5)) / days, turnover.RateOf(First), 12);
        Assert.Equal(1 - Math.Exp(-turnover.RateOf(First) * compared * 12), turnover.Changed(First, 12), 12);
    }

    [Fact]
    public void WithoutRepeatsTheOldestIsTheMostLikely()
    {
        var turnover = new Turnover([]);
        double[] changed = [.. new[] { 0, 1, 10, 40, 400 }.Select(days => turnover.Changed(First, days))];
        Assert.Equal(changed.Distinct().Order(), changed);
        Assert.Equal(0, changed[0]);
        Assert.Equal(0, turnover.Changed(First, -3));
        Assert.InRange(changed[^1], 0.99, 1);
    }

    /// <summary>Results that leave at random times, at rates of their own: what is told is what comes true, and fast keywords come before slow ones.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void WhatIsToldIsWhatComesTrue(int seed)
    {
        var random = new Random(seed);
        const int keywords = 3_000, depth = 10;
        double[] rates = [.. Enumerable.Range(0, keywords).Select(_ => Math.Exp(Math.Log(0.004) + (1.2 * (random.NextDouble() - 0.5) * 2)))];
        int Kept(int k, int days) => Enumerable.Range(0, depth).Count(_ => random.NextDouble() < Math.Exp(-rates[k] * days));
        var repeats = new List<Repeat>();
        for (var k = 0; k < keywords; k++)
        {
            for (var r = 0; r < 3; r++)
            {
                var days = random.Next(7, 60);
                repeats.Add(new Repeat(new KeywordId(k + 1), days, depth, Kept(k, days)));
            }
        }

        var turnover = new Turnover(repeats);
        var told = Enumerable.Range(0, keywords).Select(k => (Keyword: k, Days: random.Next(1, 45)))
            .Select(k => (k.Keyword, Probability: turnover.Changed(new KeywordId(k.Keyword + 1), k.Days), HasChanged: Kept(k.Keyword, k.Days) < depth))
            .OrderBy(k => k.Probability).ToList();
        foreach (var tenth in told.Chunk(keywords / 10))
            Assert.InRange(tenth.Average(k => k.HasChanged ? 1.0 : 0) - tenth.Average(k => k.Probability), -0.09, 0.09);
        // A tenth of the fastest and a tenth of the slowest: the order is right nearly always.
        var byRate = Enumerable.Range(0, keywords).OrderBy(k => rates[k]).ToList();
        var right = byRate.Take(300).Zip(byRate.TakeLast(300)).Count(p => turnover.RateOf(new KeywordId(p.First + 1)) < turnover.RateOf(new KeywordId(p.Second + 1)));
        Assert.True(right > 290, $"{right} of 300");

        // In any order of what was captured.
        var shuffled = repeats.ToArray();
        random.Shuffle(shuffled);
        var other = new Turnover(shuffled);
        Assert.All(Enumerable.Range(0, keywords), k => Assert.Equal(turnover.RateOf(new KeywordId(k + 1)), other.RateOf(new KeywordId(k + 1)), 12));
    }
}
