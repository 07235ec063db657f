namespace JadeOrchard.Core.Clusters;

/// <summary>Complete linkage: within a cluster every pair overlaps by the minimum.</summary>
/// <remarks>
/// Agglomerative (Sørensen 1948): the two groups whose least overlapping pair overlaps most are joined first, as long
/// as that is the minimum or more; ties by keyword order of the groups' first keywords. Only groups that are linked
/// are looked at, so the cost follows the pairs: O(pairs · log pairs) times the mean number of joins.
/// </remarks>
public static class EveryPairRule
{
    /// <param name="order">Keywords in keyword order.</param>
    /// <param name="ranks">The place of each keyword in that order.</param>
    /// <param name="links">Pairs that overlap by the minimum or more.</param>
    /// <returns>For each keyword its primary; a primary is its own.</returns>
    internal static int[] PrimaryOfEach(int[] order, int[] ranks, OverlapLinks links)
    {
        // A group bears the rank of its first keyword; it lives as long as its entry here.
        var linkage = new Dictionary<int, int>?[order.Length];
        var queue = new PriorityQueue<(int A, int B, int Count), (int, int, int)>();
        for (var rank = 0; rank < order.Length; rank++)
        {
            linkage[rank] = [];
            foreach (var (neighbour, count) in links.Of(order[rank]))
            {
                linkage[rank]![ranks[neighbour]] = count;
                if (rank < ranks[neighbour])
                    queue.Enqueue((rank, ranks[neighbour], count), (-count, rank, ranks[neighbour]));
            }
        }

        var groupOf = Enumerable.Range(0, order.Length).ToArray();
        while (queue.TryDequeue(out var pair, out _))
        {
            var (a, b, count) = pair;
            if (linkage[a] is not { } ofA || linkage[b] is not { } ofB || !ofA.TryGetValue(b, out var current) || current != count)
                continue;
            groupOf[b] = a;
            linkage[b] = null;
            ofA.Remove(b);
            foreach (var (other, withA) in ofA.ToArray())
            {
                var ofOther = linkage[other]!;
                if (!ofB.TryGetValue(other, out var withB))
                {
                    ofA.Remove(other);
                    ofOther.Remove(a);
                    continue;
                }

                var least = Math.Min(withA, withB);
                ofA[other] = least;
                ofOther[a] = least;
                if (least != withA)
                    queue.Enqueue((Math.Min(a, other), Math.Max(a, other), least), (-least, Math.Min(a, other), Math.Max(a, other)));
            }

            foreach (var other in ofB.Keys)
            {
                if (other != a)
                    linkage[other]?.Remove(b);
            }
        }

        var primaryOf = new int[order.Length];
        for (var rank = 0; rank < order.Length; rank++)
        {
            groupOf[rank] = groupOf[groupOf[rank]];
            primaryOf[order[rank]] = order[groupOf[rank]];
        }

        return primaryOf;
    }
}
