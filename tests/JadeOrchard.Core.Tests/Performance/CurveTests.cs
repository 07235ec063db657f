using System.Globalization;
using CsCheck;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Performance;

/// <summary>Against files that Golden/make.py made with scipy and scikit-learn; it says which versions.</summary>
public class CurveTests
{
    [Fact]
    public void TheIntervalIsThatOfTheLibrary()   // scipy.stats.binomtest(k, n).proportion_ci(0.95, "wilson")
    {
        foreach (var line in File.ReadLines(Golden("wilson.txt")).Select(Numbers))
        {
            var (lower, upper) = WilsonInterval.Of((long)line[0], (long)line[1]);
            Assert.Equal(line[2], lower, 9);
            Assert.Equal(line[3], upper, 9);
        }
    }

    [Fact]
    public void WithoutTrialsNothingIsKnown() => Assert.Equal((0, 1), WilsonInterval.Of(0, 0));

    [Fact]
    public void TheFitIsThatOfTheLibrary()   // sklearn.isotonic.IsotonicRegression(increasing=False), with weights and ties
    {
        foreach (var parts in File.ReadLines(Golden("isotonic.txt")).Select(l => l.Split(';').Select(Numbers).ToArray()))
        {
            var curve = ClickCurve.Through(CurveFit.Fit([.. parts[0].Select((x, i) => (x, parts[1][i], parts[2][i]))]));
            for (var i = 0; i < parts[3].Length; i++)
                Assert.Equal(parts[4][i], curve.At(parts[3][i]), 6);
        }
    }

    [Fact]
    public void AFittedCurveNeverRises() => Gen.Select(Gen.Double[1, 30], Gen.Double[0, 1], Gen.Double[0.1, 100]).Array[1, 60].Sample(rows =>
    {
        var points = CurveFit.Fit(rows);
        return points.Zip(points.Skip(1)).All(p => p.First.Position < p.Second.Position && p.First.Share >= p.Second.Share);
    });

    [Fact]
    public void TheOrderOfRowsDoesNotMatter() => Gen.Select(Gen.Int[1, 20].Select(p => (double)p), Gen.Int[0, 10].Select(s => s / 10.0), Gen.Int[1, 5].Select(w => (double)w)).Array[1, 30].Sample(rows =>
        CurveFit.Fit(rows).SequenceEqual(CurveFit.Fit([.. rows.Reverse()])));

    /// <summary>Levels that are the same but for rounding are one or two in either order.</summary>
    [Fact]
    public void RoundingDoesNotTellWhichLevelsArePooled()
    {
        (double, double, double)[] rows = [(1, 0.1, 3), (1, 0.2, 1), (1, 0.7, 2), (2, 0.3, 5), (2, 0.1, 4), (2, 0.6, 1), (2, 0.2, 1)];
        var fitted = CurveFit.Fit(rows);
        for (var i = 1; i < rows.Length; i++)
            Assert.Equal(fitted.AsEnumerable(), CurveFit.Fit([.. rows[i..], .. rows[..i]]));
    }

    [Theory]
    [InlineData(CurveFit.FewestQueries - 1, 3)]
    [InlineData(CurveFit.FewestQueries, 1)]   // 100 clicks
    public void TooLittleLeavesTheDefault(int queries, long clicks)
    {
        var rows = Enumerable.Range(0, queries).Select(i => new QueryFigures(1 + (i % 10), clicks, 100)).ToList();
        Assert.Same(ClickCurve.Default, CurveFit.Of(rows, ClickCurve.Default).Curve);
        Assert.False(CurveFit.Of(rows, ClickCurve.Default).IsFitted);
        Assert.All(CurveFit.Of(rows, ClickCurve.Default).Supports, s => Assert.Equal(1, s.WeightOfDefault));
        Assert.NotSame(ClickCurve.Default, CurveFit.Of([.. rows, .. rows, .. rows, rows[0]], ClickCurve.Default).Curve);
    }

    [Fact]
    public void TheDefaultGivesWayWhereThereAreData()
    {
        // Only position 5, at 1.4 times the default's share: many queries decide it, and the positions above it follow the order.
        var fit = CurveFit.Of(Enumerable.Repeat(new QueryFigures(5, 91, 1000), 200), ClickCurve.Default);
        Assert.Equal((0.091, 200), (Math.Round(fit.Supports[4].Share, 3), fit.Supports[4].Queries));
        Assert.InRange(fit.Supports[4].WeightOfDefault, 0, 0.01);
        Assert.Equal((0.28, 1), (fit.Curve.At(1), fit.Supports[0].WeightOfDefault));
        Assert.InRange(fit.Curve.At(4), fit.Curve.At(5), ClickCurve.Default.At(3));
        Assert.Equal(0.01, fit.Curve.At(20), 9);
        Assert.Equal(0.003, fit.Curve.At(30), 9);
        Assert.Equal([new SeenShare(5, 200, 91 * 200, 1000 * 200)], fit.Seen.ToArray());
    }

    /// <summary>The mean of the posterior, where no query is so large that it is bounded.</summary>
    [Fact]
    public void ShrinkageIsTheMeanOfTheBetaDistribution()   // scipy.stats.beta(a + k, b + n - k).mean()
    {
        foreach (var line in File.ReadLines(Golden("shrunk.txt")).Select(Numbers))
        {
            var (prior, queries, clicks, impressions) = (line[0], (int)line[1], line[2], line[3]);
            Assert.Equal(line[4], CurveFit.Shrunk([.. Enumerable.Repeat((clicks / impressions, impressions), queries)], prior).Share, 9);
        }
    }

    public static TheoryData<string, QueryFigures[]> Outliers => new()
    {
        { "a million impressions", [new QueryFigures(3, 900_000, 1_000_000)] },
        { "a million and no click", [new QueryFigures(3, 0, 1_000_000)] },
        { "a single click", [new QueryFigures(8, 1, 1)] },
        { "a single impression", [new QueryFigures(1, 0, 1)] },
    };

    [Theory]
    [MemberData(nameof(Outliers))]
    public void NoQueryMovesTheCurveByMoreThanATenth(string what, QueryFigures[] more)
    {
        var random = new Random(11);
        List<QueryFigures> rows = [.. Enumerable.Range(0, 400).Select(_ => new QueryFigures(1 + (random.NextDouble() * 14), 0, random.Next(5, 400)))
            .Select(q => q with { Clicks = (long)Math.Round(q.Impressions * ClickCurve.Default.At(q.Position) * (0.6 + random.NextDouble())) })];
        var (before, after) = (CurveFit.Of(rows, ClickCurve.Default).Curve, CurveFit.Of([.. rows, .. more], ClickCurve.Default).Curve);
        for (var p = 1; p <= 30; p++)
            Assert.True(Math.Abs(after.At(p) - before.At(p)) <= 0.1 * before.At(p) + 1e-12, $"{what} moves position {p} from {before.At(p)} to {after.At(p)}");
    }

    [Fact]
    public void QueriesWithoutAClickDoNotMakeTheCurveNothing()
    {
        // 500 queries that were shown once or twice each, and some that tell what positions bring.
        var few = Enumerable.Range(0, 500).Select(i => new QueryFigures(1 + (i % 10), 0, 1 + (i % 2)));
        var rest = Enumerable.Range(0, 120).Select(i => new QueryFigures(1 + (i % 10), (long)Math.Round(3_000 * ClickCurve.Default.At(1 + (i % 10))), 3_000));
        Assert.Same(ClickCurve.Default, CurveFit.Of(few, ClickCurve.Default).Curve);
        var fit = CurveFit.Of([.. few, .. rest], ClickCurve.Default);
        Assert.All(Enumerable.Range(1, 10), p => Assert.InRange(fit.Curve.At(p), 0.9 * ClickCurve.Default.At(p), ClickCurve.Default.At(p)));
    }

    [Fact]
    public void AnyQueriesMakeACurveThatNeverRises() => Gen.Select(Gen.Double[1, 30], Gen.Int[0, 60], Gen.Int[1, 500]).Array[100, 160].Sample(rows =>
    {
        var fit = CurveFit.Of([.. rows.Select(r => new QueryFigures(r.Item1, Math.Min(r.Item2, r.Item3), r.Item3))], ClickCurve.Default);
        var other = CurveFit.Of([.. rows.Reverse().Select(r => new QueryFigures(r.Item1, Math.Min(r.Item2, r.Item3), r.Item3))], ClickCurve.Default);
        return Enumerable.Range(1, 40).All(p => fit.Curve.At(p) >= fit.Curve.At(p + 1) - 1e-12 && fit.Curve.At(p) is >= 0 and <= 1 && Math.Abs(fit.Curve.At(p) - other.Curve.At(p)) < 1e-12);
    });

    [Theory]
    [InlineData(1.5, (0.28 + 0.15) / 2)]
    [InlineData(10.5, (0.023 + 0.01) / 2)]
    [InlineData(0.5, 0.28)]
    [InlineData(0, 0)]
    [InlineData(60, 0.003)]
    public void BetweenPositionsACurveIsStraight(double position, double share) => Assert.Equal(share, ClickCurve.Default.At(position), 9);

    [Theory]
    [InlineData("0.3 0.2", "A curve has 12 values")]
    [InlineData("0.3 0.2 0.1 0.08 0.07 0.06 0.05 0.04 0.03 0.02 0.01 2", "from 0 to 1")]
    [InlineData("0.3 0.2 0.1 0.08 0.07 0.06 0.05 0.06 0.03 0.02 0.01 0.01", "further down")]
    public void ACurveThatCannotBeIsRefused(string values, string says) => Assert.Contains(says, ClickCurve.Fault(Numbers(values)), StringComparison.Ordinal);

    private static double[] Numbers(string line) => [.. line.Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture))];

    private static string Golden(string name) => Path.Combine(AppContext.BaseDirectory, "Golden", name);
}
