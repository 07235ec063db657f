namespace JadeOrchard.Core.Clusters;

/// <summary>Complete linkage: within a cluster every pair overlaps by the minimum.</summary>
/// <remarks>
/// Agglomerative (Sørensen 1948): the two groups whose least overlapping pair overlaps most are joined first, as long as that is the minimum or more;
/// ties by keyword order of the groups' first keywords. Overlaps are whole numbers, so this goes level by level, from the longest list down to
/// the minimum. At a level joining only takes links away, so that each group in turn is joined with all that it may be, and no pair has to be
/// kept: memory is a few numbers a keyword, time that of the neighbourhoods, once a level.
/// </remarks>
public static class EveryPairRule
{
    /// <param name="order">Keywords in keyword order.</param>
    /// <param name="ranks">The place of each keyword in that order.</param>
    /// <param name="levels">The greatest overlap there can be, and the minimum.</param>
    /// <param name="neighboursAt">For a level, what gives the keywords that overlap by that much or more; others are passed over.</param>
    /// <returns>For each keyword its primary; a primary is its own.</returns>
    internal static int[] PrimaryOfEach(int[] order, int[] ranks, (int Most, int Least) levels, Func<int, Neighbours> neighboursAt)
    {
        // A group bears the rank of its first keyword. Its keywords are chained from the first to the last; it has a size as long as it lives.
        var (next, last, sizes, groupOf) = (new int[order.Length], new int[order.Length], new int[order.Length], new int[order.Length]);
        for (var rank = 0; rank < order.Length; rank++)
            (next[order[rank]], last[rank], sizes[rank], groupOf[order[rank]]) = (-1, order[rank], 1, rank);
        var (links, linksOfOther) = (new int[order.Length], new int[order.Length]);
        var (met, metByOther, candidates) = (new List<int>(), new List<int>(), new List<int>());
        for (var level = levels.Most; level >= levels.Least; level--)
        {
            var neighbours = neighboursAt(level);
            for (var a = 0; a < order.Length; a++)
            {
                if (sizes[a] == 0)
                    continue;
                Count(a, a, links, met);
                if (met.Count == 0)
                    continue;
                candidates.Clear();
                foreach (var group in met)
                {
                    if (links[group] == sizes[a] * sizes[group])
                        candidates.Add(group);
                }

                Clear(links, met);
                candidates.Sort();
                for (var i = 0; i < candidates.Count; i++)
                {
                    var b = candidates[i];
                    if (i + 1 < candidates.Count)
                    {
                        Count(b, a, linksOfOther, metByOther);
                        candidates.RemoveAll(g => g > b && linksOfOther[g] != sizes[b] * sizes[g]);
                        Clear(linksOfOther, metByOther);
                    }

                    for (var keyword = order[b]; keyword >= 0; keyword = next[keyword])
                        groupOf[keyword] = a;
                    next[last[a]] = order[b];
                    last[a] = last[b];
                    sizes[a] += sizes[b];
                    sizes[b] = 0;
                }
            }

            // How many pairs of keywords link a group with each of those after another one.
            void Count(int of, int after, int[] counts, List<int> touched)
            {
                for (var keyword = order[of]; keyword >= 0; keyword = next[keyword])
                {
                    foreach (var (neighbour, count) in neighbours(keyword))
                    {
                        var group = groupOf[neighbour];
                        if (count < level || group <= after)
                            continue;
                        if (counts[group]++ == 0)
                            touched.Add(group);
                    }
                }
            }
        }

        return [.. groupOf.Select(group => order[group])];

        static void Clear(int[] counts, List<int> touched)
        {
            foreach (var group in touched)
                counts[group] = 0;
            touched.Clear();
        }
    }
}
