using System.Globalization;
using JadeOrchard.Core.Refresh;
using Xunit.Abstractions;

namespace JadeOrchard.Core.Tests.Refresh;

/// <summary>Sites that are drawn at random, with what happened to their pages planted: a season, weekends, a course of the whole site, and chance.</summary>
public sealed class PlantedCourseTests(ITestOutputHelper output)
{
    private static readonly DateOnly First = new(2025, 7, 1);

    [Fact]
    public void EffectsAreFoundAndWhereThereIsNoneNoneIsFound()
    {
        // From DESIGN.md 4.18 and common practice: at most 5 % false verdicts; at 30 % and 300 clicks at least 80 % found.
        var rates = new Dictionary<(int Clicks, int Percent), double>();
        foreach (var (monthly, percent) in new[] { (100, 0), (300, 0), (1_000, 0), (300, 10), (1_000, 10), (300, 30), (300, -30), (1_000, 30), (1_000, -30) })
        {
            var (found, wrong, tried, covered) = (0, 0, 0, 0);
            for (var seed = 0; seed < 6; seed++)
            {
                var draw = new Random((seed * 1_000) + monthly + percent);
                const int pages = 60, changedPages = 20, day = 300;
                var clicks = Site(draw, pages, 340, p => monthly * (p < changedPages ? 1 : 0.3 + draw.NextDouble() * 3), (p, d) => p < changedPages && d >= day ? 1 + (percent / 100.0) : 1);
                var changed = Enumerable.Range(0, changedPages).ToHashSet();
                for (var page = 0; page < changedPages; page++)
                {
                    var effect = ChangeEffect.Of(clicks, page, day, changed);
                    tried++;
                    found += effect.Verdict == (percent > 0 ? EffectVerdict.Helped : EffectVerdict.Hurt) ? 1 : 0;
                    wrong += effect.Verdict is EffectVerdict.Helped && percent <= 0 || effect.Verdict is EffectVerdict.Hurt && percent >= 0 ? 1 : 0;
                    // What was planted, of what would have been.
                    var planted = effect.Expected * percent / 100;
                    covered += effect.Low <= planted && planted <= effect.High ? 1 : 0;
                }
            }

            output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"effect of {percent} % at {monthly} clicks a month: {100.0 * found / tried:0} % found, {100.0 * wrong / tried:0.0} % wrong, {100.0 * covered / tried:0} % of intervals hold what was planted ({tried} changes)"));
            rates[(monthly, percent)] = percent == 0 ? (double)wrong / tried : (double)found / tried;
            Assert.True((double)wrong / tried <= 0.05, $"{monthly} {percent}: {wrong} of {tried} wrong");
        }

        Assert.True(rates[(300, 30)] >= 0.8 && rates[(300, -30)] >= 0.8 && rates[(1_000, 30)] >= 0.95);
    }

    [Fact]
    public void FadingPagesAreFoundAndSeasonsAreNot()
    {
        var (right, found, planted) = (0, 0, 0);
        for (var seed = 0; seed < 8; seed++)
        {
            var draw = new Random(seed);
            const int pages = 120, fading = 12, day = 430;
            // Twelve pages lose four tenths; another twelve have a season of their own, and the whole site falls by a fifth over the year.
            var clicks = Site(draw, pages, 470, p => 150 + (draw.NextDouble() * 600), (p, d) => (p < fading && d >= day ? 0.6 : 1) * (1 - (0.2 * d / 470)), p => p is >= fading and < 2 * fading ? 0.8 : 0.3);
            var told = Fading.Of(clicks, First);
            (right, found, planted) = (right + told.Count(f => f.Page < fading), found + told.Count, planted + fading);
            Assert.All(told.Where(f => f.Page < fading), f => Assert.InRange(f.Since.DayNumber, First.AddDays(day - 60).DayNumber, First.AddDays(day + 28).DayNumber));
            Assert.Equal(told, Fading.Of(clicks, First));
        }

        output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"fading pages: recall {(double)right / planted:0.00} ({planted} planted), precision {(double)right / found:0.00} ({found} found)"));
        Assert.True(right >= 0.9 * planted && right >= 0.9 * found, $"{right} of {planted}, {found} found");
    }

    [Fact]
    public void WithoutTimeOrClicksNothingIsSaid()
    {
        long[][] clicks = [.. Enumerable.Range(0, 10).Select(p => Enumerable.Repeat(p == 0 ? 0L : 5L, 100).ToArray())];
        ChangeEffect Of(int page, int day, params int[] changed) => ChangeEffect.Of(clicks, page, day, changed.ToHashSet());
        Assert.Equal(EffectVerdict.TooEarly, Of(1, 90).Verdict);
        Assert.Equal(EffectVerdict.TooLittleData, Of(0, 70).Verdict);
        Assert.Equal(EffectVerdict.TooLittleData, Of(1, 20).Verdict);
        // Where all others changed as well there is nothing to compare with.
        Assert.Equal(EffectVerdict.TooLittleData, Of(1, 70, 1, 2, 3, 4, 5, 6, 7, 8, 9).Verdict);
        Assert.Equal((EffectVerdict.NoEffect, 0.0), (Of(1, 70, 1).Verdict, Math.Round(Of(1, 70, 1).Clicks, 6)));
        Assert.Empty(Fading.Of([], First));
        Assert.Empty(Fading.Of([new long[40]], First));
        Assert.Null(Fading.SpansOf(55));
        Assert.Equal((0, 28), Fading.SpansOf(56));
        Assert.Equal((0, 364), Fading.SpansOf(392));
    }

    /// <summary>Clicks by page and day: a level, a season, weekends, what is planted, and Poisson's chance.</summary>
    private static long[][] Site(Random draw, int pages, int days, Func<int, double> monthly, Func<int, int, double> planted, Func<int, double>? season = null) =>
    [
        .. Enumerable.Range(0, pages).Select(p => (Page: p, Level: monthly(p) / 28)).ToList().Select(p => Enumerable.Range(0, days).Select(d =>
            Poisson(draw, p.Level * planted(p.Page, d) * (1 + ((season?.Invoke(p.Page) ?? 0.3) * Math.Sin(2 * Math.PI * d / 364))) * (d % 7 > 4 ? 0.7 : 1.12))).ToArray()),
    ];

    private static long Poisson(Random draw, double mean)
    {
        // Knuth's product of uniform numbers (The Art of Computer Programming, volume 2).
        var (limit, product, count) = (Math.Exp(-mean), draw.NextDouble(), 0L);
        while (product > limit)
        {
            product *= draw.NextDouble();
            count++;
        }

        return count;
    }
}
