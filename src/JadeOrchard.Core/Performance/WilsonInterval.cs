namespace JadeOrchard.Core.Performance;

/// <summary>The bounds of a share observed in a number of cases.</summary>
/// <remarks>
/// Wilson, "Probable inference, the law of succession, and statistical inference", Journal of the American Statistical
/// Association 22, 1927: (p + z²/2n ± z √(p(1−p)/n + z²/4n²)) / (1 + z²/n).
/// </remarks>
public static class WilsonInterval
{
    /// <summary>The 97.5 % quantile of the normal distribution, for 95 % of confidence.</summary>
    public const double Z95 = 1.959963984540054;

    /// <param name="successes">0 to <paramref name="trials"/>.</param>
    /// <param name="trials">Without any, nothing is known: 0 to 1.</param>
    /// <param name="z">Quantile of the normal distribution.</param>
    public static (double Lower, double Upper) Of(long successes, long trials, double z = Z95)
    {
        if (trials <= 0)
            return (0, 1);
        double n = trials, p = successes / n, square = z * z;
        var middle = p + (square / (2 * n));
        var width = z * Math.Sqrt((p * (1 - p) / n) + (square / (4 * n * n)));
        var scale = 1 + (square / n);
        return (Math.Max(0, (middle - width) / scale), Math.Min(1, (middle + width) / scale));
    }
}
