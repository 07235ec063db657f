namespace JadeOrchard.Core.Refresh;

/// <summary>Which way a series goes.</summary>
public enum Direction
{
    Level,
    Rising,
    Falling,
}

/// <summary>Tells whether a series rises or falls, by the test of Mann (Econometrica 13, 1945) and Kendall (Rank Correlation Methods, 1975), without its season.</summary>
/// <param name="S">The pairs in order less the pairs out of order.</param>
/// <param name="Tau">Kendall's rank correlation with time, with ties counted (tau b).</param>
/// <param name="P">Of so much or more where there is no trend; two-sided, by the normal approximation with ties and a continuity correction.</param>
public sealed record Trend(long S, double Tau, double P)
{
    /// <summary>Below this probability there is a trend (common practice).</summary>
    public const double Significant = 0.05;

    /// <summary>Fewer values tell nothing (DESIGN.md 4.19: 12 to 48 months).</summary>
    public const int FewestValues = 8;

    public Direction Direction => P >= Significant ? Direction.Level : S > 0 ? Direction.Rising : Direction.Falling;

    /// <param name="values">In the order of time.</param>
    public static Trend Of(IReadOnlyList<double> values)
    {
        var n = values.Count;
        long s = 0;
        for (var i = 0; i < n; i++)
        {
            for (var j = i + 1; j < n; j++)
                s += Math.Sign(values[j].CompareTo(values[i]));
        }

        var ties = values.GroupBy(v => v).Select(g => (double)g.Count()).Where(c => c > 1).ToList();
        var pairs = n * (n - 1) / 2.0;
        var tied = ties.Sum(t => t * (t - 1) / 2);
        var variance = ((n * (n - 1.0) * ((2 * n) + 5)) - ties.Sum(t => t * (t - 1) * ((2 * t) + 5))) / 18;
        var tau = pairs > tied ? s / Math.Sqrt(pairs * (pairs - tied)) : 0;
        if (n < FewestValues || variance <= 0)
            return new Trend(s, tau, 1);
        var z = (Math.Abs(s) - (s == 0 ? 0 : 1)) / Math.Sqrt(variance);
        return new Trend(s, tau, Math.Min(1, 2 * TwoRates.Normal(-z)));
    }

    /// <param name="months">By month, oldest first, without gaps; at least 12, of which a whole number of years is the season's.</param>
    /// <param name="firstMonth">The month of the first value, 1 to 12.</param>
    /// <returns>The trend of what is left when each month is divided by its share of a year: the mean of its ratios to the centred mean of 12 months. With less than two years the season cannot be told from the trend, and the series is taken as it is.</returns>
    public static Trend Deseasonalised(IReadOnlyList<double> months, int firstMonth) => Of(WithoutSeason(months, firstMonth));

    /// <returns>The series without its season, see <see cref="Deseasonalised"/>.</returns>
    public static IReadOnlyList<double> WithoutSeason(IReadOnlyList<double> months, int firstMonth)
    {
        if (months.Count < 24)
            return months;
        var ratios = new List<double>[12];
        for (var m = 0; m < 12; m++)
            ratios[m] = [];
        for (var i = 6; i + 6 < months.Count; i++)
        {
            // A centred mean over 13 months, the ends by half.
            var mean = (((months[i - 6] + months[i + 6]) / 2) + Enumerable.Range(i - 5, 11).Sum(k => months[k])) / 12;
            if (mean > 0)
                ratios[(firstMonth - 1 + i) % 12].Add(months[i] / mean);
        }

        var factors = ratios.Select(r => r.Count == 0 ? 1 : r.Average()).ToArray();
        var level = factors.Average();
        return [.. months.Select((v, i) => factors[(firstMonth - 1 + i) % 12] is > 0 and var f ? v * level / f : v)];
    }
}
