namespace JadeOrchard.Core.Briefs;

/// <summary>How far two shares are from being the same by chance.</summary>
public static class LogLikelihood
{
    /// <summary>G² of a 2 × 2 table: −2 log λ for two binomials (Dunning, "Accurate methods for the statistics of surprise and coincidence", 1993).</summary>
    /// <param name="k1">Successes of the first.</param>
    /// <param name="n1">Trials of the first.</param>
    /// <param name="k2">Successes of the second.</param>
    /// <param name="n2">Trials of the second.</param>
    /// <returns>From 0; the greater, the less it is chance.</returns>
    public static double G2(long k1, long n1, long k2, long n2)
    {
        var (rows, columns, all) = ((double)n1 + n2, (double)k1 + k2, (double)n1 + n2);
        if (n1 == 0 || n2 == 0 || columns == 0 || columns == rows)
            return 0;
        double Cell(double observed, double row, double column) => observed == 0 ? 0 : observed * Math.Log(observed * all / (row * column));
        var g2 = 2 * (Cell(k1, n1, columns) + Cell(n1 - k1, n1, all - columns) + Cell(k2, n2, columns) + Cell(n2 - k2, n2, all - columns));
        return Math.Max(0, g2);
    }
}
