namespace JadeOrchard.Core.Clusters;

/// <summary>How much result lists change on their own, and what that alone does to clusters.</summary>
/// <param name="Keywords">Keywords that were captured twice.</param>
/// <param name="Kept">Mean share of the results that stayed, 0 to 1.</param>
/// <param name="Length">Mean length of their lists.</param>
/// <param name="Movable">The share of grouped keywords that could change their cluster through that alone, 0 to 1.</param>
public readonly record struct Noise(int Keywords, double Kept, double Length, double Movable)
{
    /// <summary>Days between two captures that count as repeated.</summary>
    public const int Days = 60;

    /// <param name="kept">For each keyword that was captured twice: results that both lists share, and the length of the longer one.</param>
    /// <returns>The number of keywords, and the mean share and length.</returns>
    public static Noise Of(IReadOnlyCollection<(int Shared, int Length)> kept) => kept.Count == 0
        ? new Noise(0, 1, 0, 0)
        : new Noise(kept.Count, kept.Average(k => k.Length == 0 ? 1 : (double)k.Shared / k.Length), kept.Average(k => k.Length), 0);

    /// <summary>What this noise would do to a grouping.</summary>
    /// <remarks>
    /// A result that two lists share is shared still after both were captured again with probability kept². So an overlap of n varies by about n(1 − kept²), and a
    /// keyword moves where its overlap with its own primary falls behind that with another one, or below the minimum: normal approximation of the difference
    /// of two binomial counts, corrected for continuity (textbook; as an estimate "about").
    /// </remarks>
    /// <param name="clustering">The grouping, by the primary rule.</param>
    /// <param name="margins">Of its keywords, see <see cref="Margins.All"/>.</param>
    /// <param name="minOverlap">m.</param>
    public Noise On(Clustering clustering, IReadOnlyList<Margin?> margins, int minOverlap)
    {
        var grouped = clustering.Clusters.Sum(c => c.Members.Length);
        if (grouped == 0 || Kept >= 1)
            return this with { Movable = 0 };
        var lost = 1 - (Kept * Kept);
        var moved = 0.0;
        foreach (var margin in margins)
        {
            if (margin is not { Own: var own, Other: var other })
                continue;
            var leaves = Normal((minOverlap - 0.5 - own) / Math.Sqrt(Math.Max(own, 1) * lost));
            var goes = other == 0 ? 0 : Normal((other - own - 0.5) / Math.Sqrt((own + other) * lost)) * Normal((other - minOverlap + 0.5) / Math.Sqrt(other * lost));
            moved += 1 - ((1 - leaves) * (1 - goes));
        }

        return this with { Movable = moved / grouped };
    }

    /// <summary>"Two captures of 310 keywords share 8.6 of 10 results; that alone could move about 9 % of the keywords."</summary>
    public string Says => Keywords == 0
        ? "No keyword was captured twice, so how much results change on their own is not known."
        : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"Two captures of {Keywords:N0} keyword{(Keywords == 1 ? "" : "s")} share {Kept * Length:0.0} of {Length:0.#} results; that alone could move about {100 * Movable:0} % of the keywords.");

    /// <summary>The distribution function of the standard normal distribution; Abramowitz and Stegun 1964, 7.1.26, to 1.5e-7.</summary>
    private static double Normal(double x)
    {
        var t = 1 / (1 + (0.3275911 * Math.Abs(x) / Math.Sqrt(2)));
        var erf = 1 - (((((((((1.061405429 * t) - 1.453152027) * t) + 1.421413741) * t) - 0.284496736) * t) + 0.254829592) * t * Math.Exp(-x * x / 2));
        return x < 0 ? (1 - erf) / 2 : (1 + erf) / 2;
    }
}
