namespace JadeOrchard.Core.Results;

/// <summary>How many URLs two result lists share.</summary>
/// <remarks>
/// The basis of every cluster: searches that return the same pages can be won by the same page
/// (common practice: 3 or 4 shared of the first 10). This plain count is also the oracle of the join's tests.
/// </remarks>
public static class Overlap
{
    /// <param name="a">URL indexes, no one twice, already cut at the depth; any order.</param>
    /// <param name="b">As <paramref name="a"/>.</param>
    /// <returns>|a ∩ b|. An empty list overlaps nothing.</returns>
    public static int Count(ReadOnlySpan<int> a, ReadOnlySpan<int> b)
    {
        var shared = 0;
        foreach (var url in a)
        {
            if (b.Contains(url))
                shared++;
        }

        return shared;
    }
}
