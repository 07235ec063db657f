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

    /// <summary>As above with a minimum of one, where a URL joins all keywords that have it: O(results), however many pairs these are.</summary>
    internal static int[] PrimaryOfEach(int[] order, Results.ResultLists lists)
    {
        // Keywords by their place in keyword order; each leads to an earlier one of its component, the first to itself.
        var (first, firstOfUrl) = (new int[order.Length], new Dictionary<int, int>());
        for (var place = 0; place < order.Length; place++)
        {
            first[place] = place;
            foreach (var url in lists.Urls(order[place]))
            {
                if (!firstOfUrl.TryAdd(url, place))
                    Join(firstOfUrl[url], place);
            }
        }

        var primaryOf = new int[order.Length];
        for (var place = 0; place < order.Length; place++)
            primaryOf[order[place]] = order[Find(place)];
        return primaryOf;

        int Find(int place)
        {
            while (first[place] != place)
                place = first[place] = first[first[place]];
            return place;
        }

        void Join(int a, int b)
        {
            (a, b) = (Find(a), Find(b));
            first[Math.Max(a, b)] = Math.Min(a, b);
        }
    }
}
