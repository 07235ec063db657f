using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <returns>The keywords that overlap a keyword by the minimum or more, in any order; read before the next are asked for.</returns>
internal delegate ReadOnlySpan<Neighbour> Neighbours(int keyword);

/// <summary>Overlap pairs as neighbourhoods: for each keyword those that it overlaps, and by how much.</summary>
public sealed class OverlapLinks
{
    private readonly int[] _starts;
    private readonly Neighbour[] _neighbours;

    /// <param name="keywordCount">Number of keywords.</param>
    /// <param name="pairs">Each pair once.</param>
    /// <param name="minOverlap">Pairs that overlap less are passed over.</param>
    public OverlapLinks(int keywordCount, ReadOnlySpan<OverlapPair> pairs, int minOverlap)
    {
        _starts = new int[keywordCount + 1];
        foreach (var pair in pairs)
        {
            if (pair.Count < minOverlap)
                continue;
            _starts[pair.A + 1]++;
            _starts[pair.B + 1]++;
        }

        for (var i = 0; i < keywordCount; i++)
            _starts[i + 1] += _starts[i];
        var next = _starts.AsSpan(0, keywordCount).ToArray();
        _neighbours = new Neighbour[_starts[^1]];
        foreach (var pair in pairs)
        {
            if (pair.Count < minOverlap)
                continue;
            _neighbours[next[pair.A]++] = new Neighbour(pair.B, pair.Count);
            _neighbours[next[pair.B]++] = new Neighbour(pair.A, pair.Count);
        }
    }

    public int Count => _starts.Length - 1;

    /// <returns>The keywords that overlap this one by the minimum or more, with their overlap.</returns>
    public ReadOnlySpan<Neighbour> Of(int keyword) =>
        _neighbours.AsSpan(_starts[keyword].._starts[keyword + 1]);
}
