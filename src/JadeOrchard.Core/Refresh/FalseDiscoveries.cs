namespace JadeOrchard.Core.Refresh;

/// <summary>Bounds the share of false ones among many findings (Benjamini and Hochberg, Journal of the Royal Statistical Society B 57, 1995).</summary>
public static class FalseDiscoveries
{
    /// <summary>The share of false ones that is accepted (DESIGN.md 4.18).</summary>
    public const double Usual = 0.05;

    /// <param name="probabilities">Of what was seen, where there is nothing, for each of all tests that were made.</param>
    /// <returns>For each test its adjusted probability: it is a finding where that is at most the accepted share.</returns>
    public static double[] Adjusted(IReadOnlyList<double> probabilities)
    {
        int[] order = [.. Enumerable.Range(0, probabilities.Count).OrderBy(i => probabilities[i]).ThenBy(i => i)];
        var adjusted = new double[order.Length];
        var least = 1.0;
        for (var rank = order.Length; rank >= 1; rank--)
        {
            least = Math.Min(least, probabilities[order[rank - 1]] * order.Length / rank);
            adjusted[order[rank - 1]] = least;
        }

        return adjusted;
    }
}
