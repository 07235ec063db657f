namespace JadeOrchard.Core.Keywords;

/// <summary>The order in which rules go through keywords: volume, highest first; ties by normal form, ordinal.</summary>
/// <remarks>Total, so that no rule depends on the order of rows. An unknown volume counts as the median of those that are known.</remarks>
public static class KeywordOrder
{
    /// <param name="keywords">No normal form twice.</param>
    /// <returns>Indexes into <paramref name="keywords"/>, first in order first. O(n log n).</returns>
    public static int[] Of(IReadOnlyList<Keyword> keywords)
    {
        // Numbers are sorted much faster than texts are compared, so only those of the same volume are.
        var (order, volumes) = (new int[keywords.Count], new long[keywords.Count]);
        var unknown = keywords.Any(k => k.Volume is null) ? Medians.Of(keywords).Volume : 0;
        for (var i = 0; i < order.Length; i++)
            (order[i], volumes[i]) = (i, -(keywords[i].Volume ?? unknown));
        Array.Sort(volumes, order);
        for (var (from, to) = (0, 0); from < order.Length; from = to)
        {
            while (to < order.Length && volumes[to] == volumes[from])
                to++;
            order.AsSpan(from..to).Sort((a, b) => string.CompareOrdinal(keywords[a].NormalForm, keywords[b].NormalForm));
        }

        return order;
    }

    /// <returns>Below 0 where the first keyword comes before the second.</returns>
    public static int Compare(long volume, string normalForm, long otherVolume, string otherNormalForm)
    {
        var byVolume = otherVolume.CompareTo(volume);
        return byVolume != 0 ? byVolume : string.CompareOrdinal(normalForm, otherNormalForm);
    }

    /// <param name="order">As returned by <see cref="Of"/>.</param>
    /// <returns>The place of each keyword in that order, 0 for the first.</returns>
    public static int[] Ranks(ReadOnlySpan<int> order)
    {
        var ranks = new int[order.Length];
        for (var i = 0; i < order.Length; i++)
            ranks[order[i]] = i;
        return ranks;
    }
}
