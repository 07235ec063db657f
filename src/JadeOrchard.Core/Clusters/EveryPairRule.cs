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
        // A group bears the rank of its first keyword, and has members as long as it lives.
        var members = new List<int>?[order.Length];
        var groupOf = new int[order.Length];
        for (var rank = 0; rank < order.Length; rank++)
            (members[rank], groupOf[order[rank]]) = ([order[rank]], rank);
        var (links, linksOfOther) = (new int[order.Length], new int[order.Length]);
        var (met, metByOther) = (new List<int>(), new List<int>());
        for (var level = levels.Most; level >= levels.Least; level--)
        {
            var neighbours = neighboursAt(level);
            for (var a = 0; a < order.Length; a++)
            {
                if (members[a] is not { } ofA)
                    continue;
                Count(ofA, a, links, met);
                var candidates = met.Where(g => links[g] == ofA.Count * members[g]!.Count).Order().ToList();
                Clear(links, met);
                for (var i = 0; i < candidates.Count; i++)
                {
                    var b = candidates[i];
                    var ofB = members[b]!;
                    if (i + 1 < candidates.Count)
                    {
                        Count(ofB, a, linksOfOther, metByOther);
                        candidates.RemoveAll(g => g > b && linksOfOther[g] != ofB.Count * members[g]!.Count);
                        Clear(linksOfOther, metByOther);
                    }

                    members[b] = null;
                    ofA.AddRange(ofB);
                    foreach (var keyword in ofB)
                        groupOf[keyword] = a;
                }
            }

            // How many pairs of keywords link a group with each of those after another one.
            void Count(List<int> keywords, int after, int[] counts, List<int> touched)
            {
                foreach (var keyword in keywords)
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
