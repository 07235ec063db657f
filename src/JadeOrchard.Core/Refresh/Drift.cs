namespace JadeOrchard.Core.Refresh;

/// <summary>How many results two keywords share, when they were grouped and now.</summary>
/// <param name="Group">What the pair tells of: a cluster, or two clusters.</param>
/// <param name="Keyword">The keyword that is compared with the primary of the group.</param>
public readonly record struct SharedThenAndNow<TGroup, TKeyword>(TGroup Group, TKeyword Keyword, int Then, int Now);

/// <summary>A cluster that drifted apart, or two that drifted together.</summary>
/// <param name="Keywords">Those that crossed the minimum overlap since the grouping.</param>
/// <param name="Pairs">How many were compared.</param>
/// <param name="P">Probability of this many or more by chance, at the rate of all others; adjusted for all tests.</param>
public sealed record Drifted<TGroup, TKeyword>(TGroup Group, IReadOnlyList<TKeyword> Keywords, int Pairs, double P);

/// <summary>
/// Results change from capture to capture, so some pairs cross the minimum anyway. A group is flagged when more of its pairs did than the rate of all others explains:
/// upper tail of the binomial distribution, false discovery rate 5 % (Benjamini and Hochberg 1995).
/// </summary>
public static class Drift
{
    /// <param name="pairs">Members with the primary of their cluster.</param>
    /// <param name="minOverlap">Results that two keywords of a cluster share at least.</param>
    /// <returns>Clusters whose members shared the minimum with their primary when they were grouped, and do not any more; the least likely first.</returns>
    public static IReadOnlyList<Drifted<TGroup, TKeyword>> Apart<TGroup, TKeyword>(IEnumerable<SharedThenAndNow<TGroup, TKeyword>> pairs, int minOverlap) where TGroup : notnull =>
        Flagged(pairs.Where(p => p.Then >= minOverlap), p => p.Now < minOverlap);

    /// <param name="pairs">Members of one cluster with the primary of another.</param>
    /// <param name="minOverlap">As above.</param>
    /// <returns>Clusters of which members share the minimum with each other's primary now, and did not when they were grouped.</returns>
    public static IReadOnlyList<Drifted<TGroup, TKeyword>> Together<TGroup, TKeyword>(IEnumerable<SharedThenAndNow<TGroup, TKeyword>> pairs, int minOverlap) where TGroup : notnull =>
        Flagged(pairs.Where(p => p.Then < minOverlap), p => p.Now >= minOverlap);

    private static List<Drifted<TGroup, TKeyword>> Flagged<TGroup, TKeyword>(IEnumerable<SharedThenAndNow<TGroup, TKeyword>> pairs, Func<SharedThenAndNow<TGroup, TKeyword>, bool> hasCrossed) where TGroup : notnull
    {
        var groups = pairs.GroupBy(p => p.Group).Select(g => (g.Key, Pairs: g.Count(), Crossed: g.Where(hasCrossed).Select(p => p.Keyword).ToList())).ToList();
        var (all, crossed) = (groups.Sum(g => g.Pairs), groups.Sum(g => g.Crossed.Count));
        // The rate of all others, with one of each added so that it is never 0 or 1.
        var tests = groups.Where(g => g.Crossed.Count > 0).Select(g => (g.Key, g.Pairs, g.Crossed, P: Tail(g.Crossed.Count, g.Pairs, (crossed - g.Crossed.Count + 1.0) / (all - g.Pairs + 2)))).ToList();
        var adjusted = FalseDiscoveries.Adjusted([.. tests.Select(t => t.P)]);
        return [.. tests.Zip(adjusted).Where(t => t.Second <= FalseDiscoveries.Usual).OrderBy(t => t.Second).Select(t => new Drifted<TGroup, TKeyword>(t.First.Key, t.First.Crossed, t.First.Pairs, t.Second))];
    }

    /// <returns>The probability of <paramref name="count"/> or more of <paramref name="of"/> at a rate.</returns>
    internal static double Tail(int count, int of, double rate) => TwoRates.Fewer(of - count, count, (1 - rate) / rate);
}
