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

    [Fact]
    public void TooFewQueriesLeaveTheDefault()
    {
        var rows = Enumerable.Range(0, CurveFit.FewestQueries - 1).Select(i => new QueryFigures(1 + (i % 10), 50, 100)).ToList();
        Assert.Same(ClickCurve.Default, CurveFit.Of(rows, ClickCurve.Default).Curve);
        Assert.False(CurveFit.Of(rows, ClickCurve.Default).IsFitted);
        Assert.NotSame(ClickCurve.Default, CurveFit.Of([.. rows, rows[0]], ClickCurve.Default).Curve);
    }

    [Fact]
    public void BeyondWhatWasSeenTheDefaultGoesOnScaled()
    {
        // Only position 5, at twice the default's share.
        var fit = CurveFit.Of(Enumerable.Repeat(new QueryFigures(5, 130, 1000), CurveFit.FewestQueries), ClickCurve.Default);
        Assert.Equal(0.13, fit.Curve.At(5), 9);
        Assert.Equal(0.56, fit.Curve.At(1), 9);
        Assert.Equal(2 * 0.023, fit.Curve.At(10), 9);
        Assert.Equal([new SeenShare(5, CurveFit.FewestQueries, 130 * CurveFit.FewestQueries, 1000 * CurveFit.FewestQueries)], fit.Seen.ToArray());
    }

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
