using System.Globalization;
using CsCheck;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Refresh;

public sealed class RefreshRulesTests
{
    /// <summary>scipy.stats.binom.cdf, see Golden/make.py.</summary>
    [Fact]
    public void TheConditionalTestIsTheTailOfScipysBinomial()
    {
        foreach (var parts in Golden("rates.txt").Select(l => l.Split(' ')))
        {
            var expected = Number(parts[3]);
            var found = TwoRates.Fewer(long.Parse(parts[0], CultureInfo.InvariantCulture), long.Parse(parts[1], CultureInfo.InvariantCulture), Number(parts[2]));
            Assert.True(Math.Abs(found - expected) <= Math.Max(1e-12, expected * 1e-6), $"{string.Join(' ', parts)}: {found:R}");
        }
    }

    [Fact]
    public void BeyondTheExactSumTheTestGoesOnWithoutAStep()
    {
        Assert.Equal(0.5, TwoRates.Fewer(2_000_000, 2_000_000, 1), 2);
        Assert.Equal(TwoRates.Fewer(499_000, 500_000, 1), TwoRates.Fewer(500_500, 501_500, 1), 2);
        Assert.Equal(1, TwoRates.Fewer(0, 0, 1));
        Assert.Throws<ArgumentOutOfRangeException>(() => TwoRates.Fewer(1, 1, 0));
    }

    /// <summary>The example of Benjamini and Hochberg 1995 (table of fifteen comparisons, from memory): at 5 % the first four are findings.</summary>
    [Fact]
    public void FalseDiscoveriesAreBoundedAsInThePaper()
    {
        double[] p = [0.0001, 0.0004, 0.0019, 0.0095, 0.0201, 0.0278, 0.0298, 0.0344, 0.0459, 0.3240, 0.4262, 0.5719, 0.6528, 0.7590, 1.000];
        var adjusted = FalseDiscoveries.Adjusted(p);
        Assert.Equal(4, adjusted.Count(a => a <= FalseDiscoveries.Usual));
        Assert.Equal(0.0001 * 15, adjusted[0], 12);
        // In any order of the tests each has the same.
        var order = Enumerable.Range(0, p.Length).OrderBy(i => (i * 7) % p.Length).ToArray();
        Assert.Equal(order.Select(i => adjusted[i]), FalseDiscoveries.Adjusted([.. order.Select(i => p[i])]));
        Assert.Empty(FalseDiscoveries.Adjusted([]));
    }

    /// <summary>scipy.stats.kendalltau, see Golden/make.py.</summary>
    [Fact]
    public void TheTrendsRankCorrelationIsScipys()
    {
        foreach (var parts in Golden("kendall.txt").Select(l => l.Split(';')))
            Assert.Equal(Number(parts[1]), Trend.Of([.. parts[0].Split(' ').Select(Number)]).Tau, 8);
    }

    [Fact]
    public void ATrendIsToldFromASeason()
    {
        // Twelve months over and over are no trend; with a tenth more each year they are one.
        double[] year = [10, 12, 20, 40, 80, 120, 130, 110, 60, 30, 15, 10];
        Assert.Equal(Direction.Level, Trend.Deseasonalised([.. Enumerable.Range(0, 36).Select(m => year[m % 12])], 1).Direction);
        Assert.Equal(Direction.Rising, Trend.Deseasonalised([.. Enumerable.Range(0, 36).Select(m => year[m % 12] * (1 + (0.02 * m)))], 1).Direction);
        Assert.Equal(Direction.Falling, Trend.Deseasonalised([.. Enumerable.Range(0, 48).Select(m => year[(m + 4) % 12] * (1 - (0.012 * m)))], 5).Direction);
        Assert.Equal((0, 1), ((int)Trend.Of([5, 5, 5, 5, 5, 5, 5, 5, 5]).S, Trend.Of([5, 5, 5, 5, 5, 5, 5, 5, 5]).P));
        // Too few values tell nothing, however they rise.
        Assert.Equal(Direction.Level, Trend.Of([1, 2, 3, 4, 5]).Direction);
    }

    /// <summary>scipy.optimize.nnls, see Golden/make.py.</summary>
    [Fact]
    public void NonNegativeWeightsAreScipys()
    {
        foreach (var parts in Golden("nnls.txt").Select(l => l.Split(';')))
        {
            double[][] columns = [.. parts[0].Split('|').Select(c => c.Split(' ').Select(Number).ToArray())];
            double[] target = [.. parts[1].Split(' ').Select(Number)], expected = [.. parts[2].Split(' ').Select(Number)];
            var found = LeastSquares.NonNegative(columns, target);
            Assert.All(found.Zip(expected), w => Assert.Equal(w.Second, w.First, 1e-4));
        }
    }

    [Fact]
    public void WeightsOfColumnsThatDependOnEachOtherAreStillWeights()
    {
        double[] column = [1, 2, 3], twice = [2, 4, 6], none = [0, 0, 0];
        var weights = LeastSquares.NonNegative([column, twice, none], [3, 6, 9]);
        Assert.Equal(3, weights[0] + (2 * weights[1]), 6);
        Assert.All(weights, w => Assert.True(w >= 0));
        Assert.Empty(LeastSquares.NonNegative([], [1]));
    }

    [Fact]
    public void ThePartsOfAShiftAddUpToIt()
    {
        var span = Gen.Select(Gen.Long[0, 500], Gen.Long[0, 5_000], Gen.Double[1, 60]).Select((clicks, more, position) => new QuerySpan(clicks, clicks + more, position));
        Gen.Select(span, span).Sample((before, now) =>
        {
            var shift = ClickShift.Of(before, now, p => ClickCurve.Default.At(p));
            var back = ClickShift.Of(now, before, p => ClickCurve.Default.At(p));
            return Math.Abs(shift.Total - (now.Clicks - before.Clicks)) < 1e-6 && Math.Abs(shift.ByPosition + back.ByPosition) < 1e-6 && Math.Abs(shift.BySearches + back.BySearches) < 1e-6;
        });
    }

    [Fact]
    public void AShiftOfOneFactorIsThatFactors()
    {
        double Share(double position) => ClickCurve.Default.At(position);
        // Half the searches at the same position and rate; then a worse position with the rate that it earns; then a worse rate.
        Assert.Equal((0, -50, 0), Rounded(ClickShift.Of(new(100, 1_000, 3), new(50, 500, 3), Share)));
        Assert.Equal((-70, 0, 0), Rounded(ClickShift.Of(new(110, 1_000, 3), new(40, 1_000, 7), Share)));
        Assert.Equal((0, 0, -60), Rounded(ClickShift.Of(new(110, 1_000, 3), new(50, 1_000, 3), Share)));
        Assert.Equal((0, -9, 0), Rounded(ClickShift.Of(new(9, 90, 3), default, Share)));

        static (double, double, double) Rounded(ClickShift s) => (Math.Round(s.ByPosition, 6), Math.Round(s.BySearches, 6), Math.Round(s.ByClickRate, 6));
    }

    [Fact]
    public void MarksSayWhatStandsOut()
    {
        var curve = ClickCurve.Default;
        QueryMark Marks(QuerySpan now, QuerySpan? before = null, int? mentions = 1, bool asks = false, bool other = false) => QueryMarks.Of(now, before, mentions, asks, other, curve);
        Assert.Equal(QueryMark.None, Marks(new(110, 1_000, 3), new(108, 990, 3)));
        Assert.Equal(QueryMark.NotMentioned | QueryMark.Question, Marks(new(110, 1_000, 3), mentions: 0, asks: true));
        Assert.Equal(QueryMark.BelowPageOne, Marks(new(24, 1_000, 10.1)));
        Assert.Equal(QueryMark.BelowPageOne, Marks(new(10, 1_000, 20)));
        Assert.False(Marks(new(24, 1_000, 10)).HasFlag(QueryMark.BelowPageOne));
        Assert.True(Marks(new(5, 1_000, 3)).HasFlag(QueryMark.UnderClicked));
        // Few impressions tell nothing of clicks, and a text that nobody read nothing of mentions.
        Assert.Equal(QueryMark.None, Marks(new(0, 10, 3), mentions: null));
        Assert.Equal(QueryMark.New, Marks(new(110, 1_000, 3), new(0, 0, 0)));
        Assert.Equal(QueryMark.Rising, Marks(new(110, 1_000, 3), new(80, 800, 3)));
        Assert.Equal(QueryMark.Falling | QueryMark.OtherPage, Marks(new(90, 800, 3), new(110, 1_000, 3), other: true));
        Assert.Equal(1_000 * (curve.At(4) - curve.At(7)), QueryMarks.AtStake(new(40, 1_000, 7), curve), 9);
        Assert.Equal(10, QueryMarks.WithinReach(14));
        Assert.Equal(1, QueryMarks.WithinReach(2.5));
    }

    private static double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);

    private static IEnumerable<string> Golden(string name) => File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", name));
}
