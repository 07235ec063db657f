namespace JadeOrchard.Core.Results;

/// <summary>All pairs of keywords that overlap by a minimum: one join for every setting that compares as much or less.</summary>
/// <remarks>12 bytes a pair.</remarks>
public sealed class OverlapPairs
{
    /// <summary>Fewer shared results than this are hardly ever asked for, and many pairs share them.</summary>
    private const int UsualLeast = 2;

    private readonly ResultLists _lists;
    private readonly OverlapPair[] _pairs;

    private OverlapPairs(ResultLists lists, int depth, int least, OverlapPair[] pairs) => (_lists, Depth, Least, _pairs) = (lists, depth, least, pairs);

    /// <summary>Compared positions.</summary>
    public int Depth { get; }

    /// <summary>The least overlap of which all pairs are held; more than the depth where there were too many of any.</summary>
    public int Least { get; }

    /// <summary>By A, then B.</summary>
    public ReadOnlySpan<OverlapPair> All => _pairs;

    /// <param name="lists">Cut at <paramref name="depth"/>.</param>
    /// <param name="depth">Compared positions.</param>
    /// <param name="most">How many pairs are held.</param>
    /// <param name="wanted">The least overlap that is asked for; 2 where that can be held too, more where it cannot.</param>
    public static OverlapPairs Of(ResultLists lists, int depth, long most, int wanted = 1)
    {
        wanted = Math.Clamp(wanted, 1, depth);
        foreach (var least in Enumerable.Range(wanted, depth - wanted + 1).Prepend(Math.Min(wanted, UsualLeast)).Distinct())
        {
            if (OverlapJoin.Pairs(new OverlapIndex(lists, least), most, out _) is { } pairs)
                return new OverlapPairs(lists, depth, least, pairs);
        }

        return new OverlapPairs(lists, depth, depth + 1, []);
    }

    /// <summary>The pairs that are left where less is compared.</summary>
    /// <param name="lists">The same lists, some of whose results are left out.</param>
    /// <param name="depth">Compared positions, no more than before.</param>
    public OverlapPairs Within(ResultLists lists, int depth)
    {
        if (lists == _lists)
            return this;
        var left = new OverlapPair[Environment.ProcessorCount][];
        Parallel.For(0, left.Length, part =>
        {
            var pairs = new List<OverlapPair>();
            foreach (var pair in _pairs.AsSpan((int)((long)_pairs.Length * part / left.Length)..(int)((long)_pairs.Length * (part + 1) / left.Length)))
            {
                var a = lists.Urls(pair.A);
                var b = lists.Urls(pair.B);
                // Lists that are as long as they were are the same.
                var count = a.Length == _lists.Urls(pair.A).Length && b.Length == _lists.Urls(pair.B).Length ? pair.Count
                    : Math.Min(a.Length, b.Length) < Least ? 0
                    : Overlap.Count(a, b);
                if (count >= Least)
                    pairs.Add(pair with { Count = count });
            }

            left[part] = [.. pairs];
        });
        return new OverlapPairs(lists, depth, Least, [.. left.SelectMany(p => p)]);
    }
}
