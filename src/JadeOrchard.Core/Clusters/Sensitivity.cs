using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>What a minimum overlap and a linking rule would make of the keywords.</summary>
/// <param name="MinOverlap">m.</param>
/// <param name="Clusters">Clusters, single keywords included.</param>
/// <param name="Singletons">Clusters of a single keyword.</param>
/// <param name="Largest">Keywords of the largest cluster.</param>
/// <param name="Cohesion">Mean cohesion of the clusters of two or more; null where there is none.</param>
/// <param name="DemandInClusters">Searches per month of the keywords in clusters of two or more.</param>
public sealed record SensitivityRow(int MinOverlap, LinkingRule Rule, int Clusters, int Singletons, int Largest, double? Cohesion, long DemandInClusters)
{
    /// <summary>Clusters of a single keyword ÷ captured keywords, 0 to 1.</summary>
    public double SingletonShare { get; init; }

    /// <param name="clustering">Made by the rule with the minimum.</param>
    /// <param name="keywords">For their volumes.</param>
    /// <param name="lists">Cut at <paramref name="depth"/>.</param>
    /// <param name="depth">Compared positions.</param>
    /// <param name="minOverlap">m.</param>
    /// <param name="rule">How it was made.</param>
    public static SensitivityRow Of(Clustering clustering, IReadOnlyList<Keyword> keywords, ResultLists lists, int depth, int minOverlap, LinkingRule rule)
    {
        var several = clustering.Clusters.Where(c => c.Members.Length > 1).ToList();
        var captured = clustering.Clusters.Sum(c => c.Members.Length);
        var singletons = clustering.Clusters.Length - several.Count;
        return new SensitivityRow(
            minOverlap,
            rule,
            clustering.Clusters.Length,
            singletons,
            clustering.Clusters.Select(c => c.Members.Length).DefaultIfEmpty().Max(),
            several.Count == 0 ? null : several.Average(c => ClusterQuality.Cohesion(c.Members, lists, depth)!.Value),
            several.Sum(c => c.Members.Sum(m => keywords[m].Volume ?? 0)))
        {
            SingletonShare = captured == 0 ? 0 : (double)singletons / captured,
        };
    }
}

/// <summary>The clusterings that each minimum overlap gives, so that it is chosen, not guessed; from one join.</summary>
public sealed class Sensitivity
{
    public const int MostOverlap = 10;

    private readonly IReadOnlyList<Keyword> _keywords;
    private readonly ResultLists _lists;
    private readonly int _depth;
    private readonly int[] _order;
    private readonly OverlapPair[] _pairs = [];
    private readonly int _leastOfPairs;
    private readonly Dictionary<(int, LinkingRule), Clustering?> _clusterings = [];

    /// <param name="keywords">No normal form twice.</param>
    /// <param name="lists">Their result lists, cut at <paramref name="depth"/>.</param>
    /// <param name="depth">Compared positions.</param>
    /// <param name="mostPairs">How many pairs are held, 12 bytes each.</param>
    public Sensitivity(IReadOnlyList<Keyword> keywords, ResultLists lists, int depth, long mostPairs = 20_000_000)
    {
        (_keywords, _lists, _depth) = (keywords, lists, depth);
        _order = KeywordOrder.Of(keywords);
        // What overlaps more is among what overlaps less, so one join serves all minimums that it can hold the pairs of.
        for (_leastOfPairs = 1; _leastOfPairs <= depth; _leastOfPairs++)
        {
            if (OverlapJoin.Pairs(new OverlapIndex(lists, _leastOfPairs), mostPairs, out _) is { } pairs)
            {
                _pairs = pairs;
                break;
            }
        }
    }

    /// <param name="minOverlap">1 to the depth.</param>
    /// <param name="rule">The linking rule.</param>
    /// <returns>Null where the rule needs more pairs than are held.</returns>
    public Clustering? At(int minOverlap, LinkingRule rule)
    {
        if (_clusterings.TryGetValue((minOverlap, rule), out var known))
            return known;
        return _clusterings[(minOverlap, rule)] =
            minOverlap >= _leastOfPairs ? Clustering.Of(_order, _lists, minOverlap == _leastOfPairs ? _pairs : Array.FindAll(_pairs, p => p.Count >= minOverlap), rule)
            : rule == LinkingRule.EveryPair ? null
            : Clustering.Of(_order, _lists, new OverlapIndex(_lists, minOverlap), rule);
    }

    /// <summary>For m from 1 to 10, or to the depth where that is less; without those that need more pairs than are held.</summary>
    public IReadOnlyList<SensitivityRow> Rows(LinkingRule rule) =>
    [
        .. Enumerable.Range(1, Math.Min(MostOverlap, _depth)).Select(m => At(m, rule) is { } clustering ? SensitivityRow.Of(clustering, _keywords, _lists, _depth, m, rule) : null)
            .OfType<SensitivityRow>(),
    ];
}
