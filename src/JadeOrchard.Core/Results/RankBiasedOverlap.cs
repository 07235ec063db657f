namespace JadeOrchard.Core.Results;

/// <summary>Rank-biased overlap, extrapolated: how alike two rankings are, the top counting most.</summary>
/// <remarks>
/// Webber, Moffat and Zobel, "A similarity measure for indefinite rankings", ACM TOIS 28(4), 2010, equation 32:
/// with lists of lengths s ≤ l, X_d the overlap of the first d of each, and p the persistence,
/// RBO_ext = (1−p)/p · ( Σ_{d=1..l} X_d/d·p^d + Σ_{d=s+1..l} X_s(d−s)/(s·d)·p^d ) + ( (X_l−X_s)/l + X_s/s )·p^l.
/// </remarks>
public static class RankBiasedOverlap
{
    /// <summary>The persistence used wherever none is given.</summary>
    public const double DefaultPersistence = 0.9;

    /// <param name="a">URL indexes, best first, no one twice.</param>
    /// <param name="b">As <paramref name="a"/>.</param>
    /// <param name="persistence">p, above 0 and below 1.</param>
    /// <returns>0 (nothing shared) to 1 (same ranking); 0 where a list is empty.</returns>
    public static double Extrapolated(ReadOnlySpan<int> a, ReadOnlySpan<int> b, double persistence = DefaultPersistence)
    {
        var shorter = a.Length <= b.Length ? a : b;
        var longer = a.Length <= b.Length ? b : a;
        int s = shorter.Length, l = longer.Length;
        if (s == 0)
            return 0;

        double sum = 0, weight = 1;
        int shared = 0, sharedAtS = 0;
        for (var d = 1; d <= l; d++)
        {
            weight *= persistence;
            var newcomer = longer[d - 1];
            if (d <= s)
            {
                var other = shorter[d - 1];
                if (other == newcomer)
                    shared++;
                else
                {
                    if (shorter[..d].Contains(newcomer))
                        shared++;
                    if (longer[..d].Contains(other))
                        shared++;
                }

                sharedAtS = shared;
            }
            else if (shorter.Contains(newcomer))
                shared++;

            sum += (double)shared / d * weight;
            if (d > s)
                sum += (double)sharedAtS * (d - s) / ((double)s * d) * weight;
        }

        return ((1 - persistence) / persistence * sum)
            + ((((double)(shared - sharedAtS) / l) + ((double)sharedAtS / s)) * weight);
    }
}
