namespace JadeOrchard.Core.Briefs;

/// <summary>How long a text should be, by the ranking pages' main texts (DESIGN.md 4.16).</summary>
/// <param name="Words">Their median, rounded to 50; at least 50.</param>
/// <param name="Low">Their lower quartile.</param>
/// <param name="High">Their upper quartile.</param>
/// <param name="Pages">How many were counted.</param>
public sealed record WordTarget(int Words, int Low, int High, int Pages)
{
    private const int Step = 50;

    /// <returns>Null where no page was read; pages without text are not counted.</returns>
    public static WordTarget? Of(IEnumerable<int> words)
    {
        int[] sorted = [.. words.Where(w => w > 0).Order()];
        return sorted.Length == 0 ? null : new WordTarget(
            Math.Max(Step, (int)Math.Round(Quantile(sorted, 0.5) / Step, MidpointRounding.AwayFromZero) * Step), (int)Math.Round(Quantile(sorted, 0.25)), (int)Math.Round(Quantile(sorted, 0.75)), sorted.Length);
    }

    /// <summary>By linear interpolation between neighbours (type 7 of Hyndman and Fan, "Sample quantiles in statistical packages", 1996).</summary>
    internal static double Quantile(IReadOnlyList<int> sorted, double share)
    {
        var at = share * (sorted.Count - 1);
        var below = (int)Math.Floor(at);
        return below + 1 >= sorted.Count ? sorted[^1] : sorted[below] + ((at - below) * (sorted[below + 1] - sorted[below]));
    }
}
