namespace JadeOrchard.Core.Refresh;

/// <summary>Whether a change of a page helped.</summary>
public enum EffectVerdict
{
    /// <summary>Fewer than <see cref="ChangeEffect.FewestDays"/> days have passed.</summary>
    TooEarly,

    /// <summary>Fewer than <see cref="ChangeEffect.FewestClicks"/> clicks, or too few pages to compare with.</summary>
    TooLittleData,

    NoEffect,
    Helped,
    Hurt,
}

/// <summary>What a change did to the clicks of a page.</summary>
/// <param name="Clicks">Clicks more than it would have got without the change, in the days after it.</param>
/// <param name="Low">The lower end of the 95 % interval of <paramref name="Clicks"/>.</param>
/// <param name="High">The upper end.</param>
/// <param name="Expected">Clicks that it would have got.</param>
/// <param name="Days">Days after the change that count, at most <see cref="Fading.Days"/>.</param>
/// <param name="Controls">Unchanged pages that it is compared with.</param>
public sealed record ChangeEffect(EffectVerdict Verdict, double Clicks, double Low, double High, double Expected, int Days, int Controls)
{
    public const int FewestDays = 14, FewestClicks = 30;

    /// <summary>Days before the change by which pages are weighted (DESIGN.md 4.18).</summary>
    public const int DaysBefore = 56;

    /// <summary>Pages with a like course that are weighted at most, and pages that are asked what chance does.</summary>
    private const int MostControls = 20, MostPlacebos = 200;

    private const int FewestControls = 3;

    /// <summary>Standard deviations of the interval: 96 % of a normal distribution, as the spread is estimated from a few dozen pages and no more than 5 % of verdicts are to be false.</summary>
    private const double Deviations = 2.054;

    /// <summary>
    /// Difference in differences against a weighted sum of pages that did not change: the weights are not negative and fitted on the days before (Abadie, Diamond and Hainmueller, Journal of
    /// the American Statistical Association 105, 2010). The interval comes from the same comparison for pages that did not change, by how far they miss in units of chance.
    /// </summary>
    /// <param name="clicks">For each page its clicks by day, all from the same first day on.</param>
    /// <param name="page">The page that changed.</param>
    /// <param name="day">The day of the change, by index; the days from it on are after it.</param>
    /// <param name="changed">Pages that changed within the days that count, this one too; they are no measure.</param>
    public static ChangeEffect Of(IReadOnlyList<long[]> clicks, int page, int day, IReadOnlySet<int> changed)
    {
        var after = Math.Min(Fading.Days, clicks[page].Length - day);
        var none = new ChangeEffect(EffectVerdict.TooEarly, 0, 0, 0, 0, Math.Max(0, after), 0);
        if (after < FewestDays)
            return none;
        var beforeSum = Sum(clicks[page], Math.Max(0, day - Fading.Days), Math.Min(Fading.Days, day));
        if (day < DaysBefore || beforeSum + Sum(clicks[page], day, after) < FewestClicks)
            return none with { Verdict = EffectVerdict.TooLittleData };
        int[] unchanged = [.. Enumerable.Range(0, clicks.Count).Where(p => p != page && !changed.Contains(p) && Sum(clicks[p], day - DaysBefore, DaysBefore) >= FewestClicks)];
        if (unchanged.Length < FewestControls)
            return none with { Verdict = EffectVerdict.TooLittleData, Controls = unchanged.Length };
        var series = unchanged.Append(page).ToDictionary(p => p, p => Enumerable.Range(day - DaysBefore, DaysBefore + after).Select(d => (double)clicks[p][d]).ToArray());
        var (miss, expected, controls) = Missed(series, page, unchanged, after);
        // The most like in size tell best what chance does, and it is told in units of the chance of their own counts.
        var misses = unchanged.OrderBy(p => Math.Abs(Math.Log((1 + Total(series[p])) / (1 + Total(series[page]))))).ThenBy(p => p).Take(MostPlacebos)
            .Select(p => Missed(series, p, [.. unchanged.Where(o => o != p)], after) is var (m, e, _) ? Math.Abs(m) / Chance(e) : 0).ToList();
        // With few pages the interval is no narrower than chance alone.
        var spread = Math.Sqrt(misses.Sum(m => m * m) / misses.Count) * (1 + (1.0 / misses.Count));
        var width = Deviations * Math.Max(1, spread) * Chance(expected + (Math.Max(0, miss) / 4));
        var verdict = miss - width > 0 ? EffectVerdict.Helped : miss + width < 0 ? EffectVerdict.Hurt : EffectVerdict.NoEffect;
        return new ChangeEffect(verdict, miss, miss - width, miss + width, expected, after, controls);
    }

    /// <returns>By how much the days after miss what the others say, how much that is, and how many others were weighted.</returns>
    private static (double Miss, double Expected, int Controls) Missed(Dictionary<int, double[]> series, int page, int[] others, int after)
    {
        var own = series[page];
        var before = Smoothed(own.AsSpan(0, DaysBefore));
        int[] alike = [.. others.OrderByDescending(o => Correlation(before, Smoothed(series[o].AsSpan(0, DaysBefore)))).ThenBy(o => o).Take(MostControls)];
        var weights = LeastSquares.NonNegative([.. alike.Select(o => series[o][..DaysBefore])], own[..DaysBefore]);
        double Said(int start, int days) => Enumerable.Range(start, days).Sum(d => Enumerable.Range(0, alike.Length).Sum(i => weights[i] * series[alike[i]][d]));
        // What the weights miss before the change, they would go on missing.
        var offset = (own[..DaysBefore].Sum() - Said(0, DaysBefore)) / DaysBefore * after;
        var expected = Math.Max(0, Said(DaysBefore, after) + offset);
        return (own[DaysBefore..].Sum() - expected, expected, weights.Count(w => w > 0));
    }

    /// <summary>The standard deviation of a count and of what it is compared with, a count of about the same size.</summary>
    private static double Chance(double expected) => Math.Sqrt(Math.Max(1, expected));

    private static double Total(double[] series) => series.AsSpan(0, DaysBefore).ToArray().Sum();

    /// <summary>Sums of weeks, in which a course shows through the noise of days.</summary>
    private static double[] Smoothed(ReadOnlySpan<double> days)
    {
        var weeks = new double[days.Length / 7];
        for (var d = 0; d < weeks.Length * 7; d++)
            weeks[d / 7] += days[d];
        return weeks;
    }

    private static double Correlation(double[] a, double[] b)
    {
        var (meanA, meanB) = (a.Average(), b.Average());
        var (ab, aa, bb) = (0.0, 0.0, 0.0);
        for (var i = 0; i < a.Length; i++)
            (ab, aa, bb) = (ab + ((a[i] - meanA) * (b[i] - meanB)), aa + ((a[i] - meanA) * (a[i] - meanA)), bb + ((b[i] - meanB) * (b[i] - meanB)));
        return aa > 0 && bb > 0 ? ab / Math.Sqrt(aa * bb) : 0;
    }

    private static long Sum(long[] clicks, int start, int days)
    {
        var sum = 0L;
        for (var d = start; d < start + days; d++)
            sum += clicks[d];
        return sum;
    }
}
