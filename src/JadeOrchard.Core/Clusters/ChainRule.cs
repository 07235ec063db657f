namespace JadeOrchard.Core.Clusters;

/// <summary>Single linkage: the connected components of the pairs that overlap by the minimum.</summary>
/// <remarks>Primary is the first of each component in keyword order. Sneath (1957); O(keywords + pairs).</remarks>
public static class ChainRule
{
    /// <param name="order">Keywords in keyword order.</param>
    /// <param name="neighbours">Who overlaps whom.</param>
    /// <returns>For each keyword its primary; a primary is its own.</returns>
    internal static int[] PrimaryOfEach(int[] order, Neighbours neighbours)
    {
        var primaryOf = new int[order.Length];
        Array.Fill(primaryOf, -1);
        var open = new Stack<int>();
        foreach (var primary in order)
        {
            if (primaryOf[primary] >= 0)
                continue;
            primaryOf[primary] = primary;
            open.Push(primary);
            while (open.TryPop(out var keyword))
            {
                foreach (var (neighbour, _) in neighbours(keyword))
                {
                    if (primaryOf[neighbour] >= 0)
                        continue;
                    primaryOf[neighbour] = primary;
                    open.Push(neighbour);
                }
            }
        }

        return primaryOf;
    }
}
