namespace JadeOrchard.Core.Findings;

/// <summary>What is at stake in a finding, as far as it matters for sums.</summary>
/// <param name="Matter">What it is about: findings about the same matter are about the same clicks.</param>
/// <param name="IsWaiting">See <see cref="FindingStates.IsWaiting"/>.</param>
/// <param name="AtStake">Clicks per month.</param>
/// <param name="Key">Decides between equals, the smaller first.</param>
public readonly record struct Stake(string Matter, bool IsWaiting, double AtStake, string Key);

/// <summary>What findings add to sums of what is at stake, so that no click is counted twice.</summary>
public static class CountedStakes
{
    /// <param name="stakes">All that are about some matters.</param>
    /// <returns>For each what it adds: the largest of those that wait, and of those that do not, counts for all about its matter; the others add nothing.</returns>
    public static double[] Of(IReadOnlyList<Stake> stakes)
    {
        var largest = new Dictionary<(string, bool), int>();
        for (var i = 0; i < stakes.Count; i++)
        {
            var stake = stakes[i];
            ref var best = ref System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(largest, (stake.Matter, stake.IsWaiting), out var isKnown);
            if (!isKnown || IsBefore(stake, stakes[best]))
                best = i;
        }

        var counted = new double[stakes.Count];
        foreach (var i in largest.Values)
            counted[i] = stakes[i].AtStake;
        return counted;
    }

    private static bool IsBefore(Stake a, Stake b) => a.AtStake > b.AtStake || (a.AtStake >= b.AtStake && string.CompareOrdinal(a.Key, b.Key) < 0);
}
