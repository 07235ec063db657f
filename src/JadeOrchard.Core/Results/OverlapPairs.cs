namespace JadeOrchard.Core.Results;

/// <summary>All pairs of keywords that overlap by a minimum: one join for every setting that compares as much or less.</summary>
/// <remarks>12 bytes a pair.</remarks>
public sealed class OverlapPairs
{
    /// <summary>Pairs that share fewer results are many, and hardly ever asked for.</summary>
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
        var (starts, gone) = LeftOut(lists);
        var counts = new int[_pairs.Length];
        var parts = new int[Environment.ProcessorCount + 1];
        Range Part(int part) => (int)((long)_pairs.Length * part / (parts.Length - 1))..(int)((long)_pairs.Length * (part + 1) / (parts.Length - 1));
        Parallel.For(0, parts.Length - 1, part =>
        {
            for (var (i, end) = (Part(part).Start.Value, Part(part).End.Value); i < end; i++)
            {
                counts[i] = CountOf(_pairs[i]);
                parts[part + 1] += counts[i] >= Least ? 1 : 0;
            }
        });
        for (var part = 1; part < parts.Length; part++)
            parts[part] += parts[part - 1];
        var pairs = new OverlapPair[parts[^1]];
        Parallel.For(0, parts.Length - 1, part =>
        {
            var at = parts[part];
            for (var (i, end) = (Part(part).Start.Value, Part(part).End.Value); i < end; i++)
            {
                if (counts[i] >= Least)
                    pairs[at++] = _pairs[i] with { Count = counts[i] };
            }
        });
        return new OverlapPairs(lists, depth, Least, pairs);

        // What both had is counted already, so that only what was left out is looked for: mostly little.
        int CountOf(OverlapPair pair)
        {
            var (a, b, count) = pair;
            foreach (var url in gone.AsSpan(starts[a]..starts[a + 1]))
                count -= _lists.Urls(b).Contains(url) ? 1 : 0;
            foreach (var url in gone.AsSpan(starts[b]..starts[b + 1]))
                count -= lists.Urls(a).Contains(url) ? 1 : 0;
            return count;
        }
    }

    /// <summary>The results of each keyword that its list no longer has.</summary>
    private (int[] Starts, int[] Urls) LeftOut(ResultLists lists)
    {
        var starts = new int[lists.Count + 1];
        for (var keyword = 0; keyword < lists.Count; keyword++)
            starts[keyword + 1] = starts[keyword] + _lists.Urls(keyword).Length - lists.Urls(keyword).Length;
        var urls = new int[starts[^1]];
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            var at = starts[keyword];
            if (at == starts[keyword + 1])
                continue;
            var left = lists.Urls(keyword);
            foreach (var url in _lists.Urls(keyword))
            {
                if (left.Length > 0 && left[0] == url)
                    left = left[1..];
                else
                    urls[at++] = url;
            }
        }

        return (starts, urls);
    }
}
