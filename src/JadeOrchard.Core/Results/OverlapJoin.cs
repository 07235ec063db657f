namespace JadeOrchard.Core.Results;

/// <summary>All pairs of keywords whose result lists overlap by at least a minimum, found exactly by an <see cref="OverlapIndex"/>.</summary>
/// <remarks>Memory: that of the index, 4 bytes a keyword and thread, up to 36 bytes a pair found.</remarks>
public static class OverlapJoin
{
    /// <summary>Keywords that a thread takes at a time.</summary>
    private const int Block = 512;

    private const int ShortHand = 16;

    /// <inheritdoc cref="Pairs(ResultLists, int, out JoinCounts)"/>
    public static OverlapPair[] Pairs(ResultLists lists, int minOverlap) => Pairs(lists, minOverlap, out _);

    /// <param name="lists">Result lists, already cut at the compared depth.</param>
    /// <param name="minOverlap">m, at least 1.</param>
    /// <param name="counts">What it took.</param>
    /// <returns>Every pair with overlap ≥ m once, ordered by A, then B.</returns>
    public static OverlapPair[] Pairs(ResultLists lists, int minOverlap, out JoinCounts counts) =>
        Pairs(new OverlapIndex(lists, minOverlap), long.MaxValue, out counts)!;

    /// <param name="index">Of the lists, with the minimum overlap.</param>
    /// <param name="most">How many pairs there may be.</param>
    /// <param name="counts">What it took.</param>
    /// <returns>As above; null where there are more.</returns>
    public static OverlapPair[]? Pairs(OverlapIndex index, long most, out JoinCounts counts)
    {
        var blocks = (index.Size + Block - 1) / Block;
        var found = new OverlapPair[blocks][];
        var total = default(JoinCounts);
        var next = -1;
        var count = 0L;
        Parallel.For(0, Math.Clamp(blocks / 4, 1, Environment.ProcessorCount), _ =>
        {
            var scratch = new OverlapIndex.Scratch(index);
            var pairs = new List<OverlapPair>();
            for (int block; (block = Interlocked.Increment(ref next)) < blocks && Interlocked.Read(ref count) <= most;)
            {
                pairs.Clear();
                for (var place = block * Block; place < Math.Min(index.Size, (block + 1) * Block) && pairs.Count <= most; place++)
                {
                    var keyword = index.Later(place, scratch);
                    foreach (var (other, overlap) in scratch.Found)
                        pairs.Add(keyword < other ? new(keyword, other, overlap) : new(other, keyword, overlap));
                }

                found[block] = [.. pairs];
                Interlocked.Add(ref count, pairs.Count);
            }

            lock (found)
                total += scratch.Counts;
        });
        counts = total;
        return count > most ? null : Ordered(found, index.Size);
    }

    /// <summary>By A, then B: pairs are dealt out by A, and each hand is sorted.</summary>
    private static OverlapPair[] Ordered(OverlapPair[][] found, int keywordCount)
    {
        var ends = new int[keywordCount + 1];
        foreach (var part in found)
        {
            foreach (var pair in part)
                ends[pair.A + 1]++;
        }

        for (var keyword = 0; keyword < keywordCount; keyword++)
            ends[keyword + 1] += ends[keyword];
        var starts = ends.AsSpan(0, keywordCount).ToArray();
        var pairs = new OverlapPair[ends[^1]];
        for (var part = 0; part < found.Length; part++)
        {
            foreach (var pair in found[part])
                pairs[starts[pair.A]++] = pair;
            found[part] = [];
        }

        for (var keyword = 0; keyword < keywordCount; keyword++)
        {
            var hand = pairs.AsSpan(ends[keyword]..ends[keyword + 1]);
            if (hand.Length > ShortHand)
                hand.Sort((a, b) => a.B.CompareTo(b.B));
            else
                SortShort(hand);
        }

        return pairs;
    }

    /// <summary>By insertion: most keywords have few partners, and calls would cost more than the sorting.</summary>
    private static void SortShort(Span<OverlapPair> hand)
    {
        for (var i = 1; i < hand.Length; i++)
        {
            var pair = hand[i];
            var at = i;
            for (; at > 0 && hand[at - 1].B > pair.B; at--)
                hand[at] = hand[at - 1];
            hand[at] = pair;
        }
    }
}
