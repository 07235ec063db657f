using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>How far a keyword stands from the next best cluster.</summary>
/// <param name="Own">Results that it shares with the primary of its cluster.</param>
/// <param name="Other">The most that it shares with the primary of another one.</param>
/// <param name="OtherCluster">Which that is, of several the first; -1 where it shares nothing with any.</param>
public readonly record struct Margin(int Own, int Other, int OtherCluster)
{
    /// <summary>How many more results it shares with its own.</summary>
    public int Value => Own - Other;

    /// <summary>A single result decides.</summary>
    public bool IsUnsettled => Value <= 1;
}

/// <summary>The margins of keywords over all clusters, counted exactly.</summary>
/// <remarks>Cost: for each URL the lists that have it times the primaries whose list has it. 4 bytes a URL and a result of a primary.</remarks>
public sealed class Margins
{
    private readonly IReadOnlyList<int> _primaries;
    private readonly ResultLists _lists;
    private readonly int[] _starts;
    private readonly int[] _holders;

    /// <param name="primaries">By cluster.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    public Margins(IReadOnlyList<int> primaries, ResultLists lists)
    {
        (_primaries, _lists) = (primaries, lists);
        _starts = new int[lists.UrlCount + 1];
        foreach (var primary in primaries)
        {
            foreach (var url in lists.Urls(primary))
                _starts[url + 1]++;
        }

        for (var url = 0; url < lists.UrlCount; url++)
            _starts[url + 1] += _starts[url];
        _holders = new int[_starts[^1]];
        var next = _starts.AsSpan(0, lists.UrlCount).ToArray();
        for (var c = 0; c < primaries.Count; c++)
        {
            foreach (var url in lists.Urls(primaries[c]))
                _holders[next[url]++] = c;
        }
    }

    /// <returns>For each of some keywords of one cluster its margin; null for a primary, which is what the others are measured by.</returns>
    public Margin?[] Of(int cluster, IReadOnlyList<int> keywords) => Of(cluster, keywords, new int[_primaries.Count]);

    /// <returns>For each keyword of a grouping its margin; null for primaries and for keywords without a cluster.</returns>
    public static Margin?[] All(Clustering clustering, ResultLists lists)
    {
        var clusters = clustering.Clusters;
        var all = new Margins([.. clusters.Select(c => c.Primary)], lists);
        var margins = new Margin?[lists.Count];
        Parallel.For(0, clusters.Length, () => new int[clusters.Length], (c, _, counts) =>
        {
            var members = clusters[c].Members;
            var of = all.Of(c, members, counts);
            for (var i = 0; i < of.Length; i++)
                margins[members[i]] = of[i];
            return counts;
        }, _ => { });
        return margins;
    }

    private Margin?[] Of(int cluster, IReadOnlyList<int> keywords, int[] counts)
    {
        var margins = new Margin?[keywords.Count];
        for (var i = 0; i < margins.Length; i++)
        {
            var keyword = keywords[i];
            if (keyword == _primaries[cluster])
                continue;
            foreach (var url in _lists.Urls(keyword))
            {
                foreach (var holder in _holders.AsSpan(_starts[url].._starts[url + 1]))
                    counts[holder]++;
            }

            var own = counts[cluster];
            counts[cluster] = 0;
            var (other, of) = (0, -1);
            foreach (var url in _lists.Urls(keyword))
            {
                foreach (var holder in _holders.AsSpan(_starts[url].._starts[url + 1]))
                {
                    if (counts[holder] > other || (counts[holder] == other && other > 0 && holder < of))
                        (other, of) = (counts[holder], holder);
                    counts[holder] = 0;
                }
            }

            margins[i] = new Margin(own, other, of);
        }

        return margins;
    }
}
