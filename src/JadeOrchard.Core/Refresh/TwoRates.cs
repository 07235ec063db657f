namespace JadeOrchard.Core.Refresh;

/// <summary>Compares the rates of two Poisson counts by the exact conditional test (Przyborowski and Wilenski, Biometrika 31, 1940).</summary>
public static class TwoRates
{
    /// <summary>Counts above this are compared by the normal approximation of the binomial with a continuity correction, which is exact to four digits there.</summary>
    private const long MostExact = 1_000_000;

    /// <param name="now">What was counted now.</param>
    /// <param name="before">What was counted before.</param>
    /// <param name="ratio">How many times as much is expected now as before where nothing changed: exposure, season, the course of the site. More than 0.</param>
    /// <returns>
    /// The probability of so few now, or fewer, given the sum of both: the lower tail of the binomial distribution with <paramref name="now"/> + <paramref name="before"/> trials
    /// and probability ratio / (1 + ratio). 1 where both are 0.
    /// </returns>
    public static double Fewer(long now, long before, double ratio)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(now);
        ArgumentOutOfRangeException.ThrowIfNegative(before);
        if (ratio is not (> 0 and < double.PositiveInfinity))
            throw new ArgumentOutOfRangeException(nameof(ratio), "The ratio must be more than 0.");
        var trials = now + before;
        var p = ratio / (1 + ratio);
        if (trials > MostExact)
            return Normal((now + 0.5 - (trials * p)) / Math.Sqrt(trials * p * (1 - p)));
        return LowerTail(now, trials, p);
    }

    /// <returns>The probability of at most <paramref name="count"/> successes.</returns>
    internal static double LowerTail(long count, long trials, double p)
    {
        if (count >= trials)
            return 1;
        // Summed from the greatest term down, on the smaller side, so that nothing is lost.
        var fromBelow = count <= trials * p;
        var (k, step) = fromBelow ? (count, -1) : (count + 1, 1);
        var term = Math.Exp(LogTerm(k, trials, p));
        var sum = 0.0;
        while (term > 0 && k >= 0 && k <= trials)
        {
            sum += term;
            var next = term * (step < 0 ? k * (1 - p) / ((trials - k + 1) * p) : (trials - k) * p / ((k + 1) * (1 - p)));
            if (next < sum * 1e-17)
                break;
            (term, k) = (next, k + step);
        }

        return Math.Clamp(fromBelow ? sum : 1 - sum, 0, 1);
    }

    private static double LogTerm(long k, long n, double p) => LogChoose(n, k) + (k * Math.Log(p)) + ((n - k) * Math.Log(1 - p));

    private static double LogChoose(long n, long k) => LogFactorial(n) - LogFactorial(k) - LogFactorial(n - k);

    /// <summary>Stirling's series (Abramowitz and Stegun 6.1.41), exact to 13 digits; small numbers are multiplied.</summary>
    private static double LogFactorial(long n)
    {
        if (n < 2)
            return 0;
        var (shift, x) = (0.0, n + 1.0);
        while (x < 16)
            shift -= Math.Log(x++);
        var square = 1 / (x * x);
        return shift + ((x - 0.5) * Math.Log(x)) - x + (0.5 * Math.Log(2 * Math.PI)) + ((1.0 / 12 - (square * (1.0 / 360 - (square * (1.0 / 1_260 - (square / 1_680)))))) / x);
    }

    /// <summary>The normal distribution function, by the complementary error function (Numerical approximation of W. J. Cody, 1969, as in Press et al., erfc with Chebyshev fit; relative error below 1.2e-7).</summary>
    internal static double Normal(double z) => 0.5 * ErrorFunctionComplement(-z / Math.Sqrt(2));

    private static double ErrorFunctionComplement(double x)
    {
        var t = 1 / (1 + (0.5 * Math.Abs(x)));
        var fit = t * Math.Exp((-x * x) - 1.26551223 + (t * (1.00002368 + (t * (0.37409196 + (t * (0.09678418 + (t * (-0.18628806 + (t * (0.27886807
            + (t * (-1.13520398 + (t * (1.48851587 + (t * (-0.82215223 + (t * 0.17087277))))))))))))))))));
        return x >= 0 ? fit : 2 - fit;
    }
}
