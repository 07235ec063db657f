using System.Collections.Concurrent;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>What a minimum overlap and a linking rule would make of the keywords.</summary>
/// <param name="MinOverlap">m.</param>
/// <param name="Clusters">Clusters, single keywords included where they are wanted.</param>
/// <param name="Singletons">Captured keywords that stand alone, or in fewer than a cluster must have.</param>
/// <param name="SingletonShare">These ÷ captured keywords, 0 to 1.</param>
/// <param name="Largest">Keywords of the largest cluster.</param>
/// <param name="Cohesion">Mean cohesion of the clusters of two or more; null where there is none.</param>
/// <param name="DemandInClusters">Searches per month of the keywords in clusters of two or more.</param>
public sealed record SensitivityRow(int MinOverlap, LinkingRule Rule, int Clusters, int Singletons, double SingletonShare, int Largest, double? Cohesion, long DemandInClusters)
{
    /// <param name="clustering">Made by the rule with the minimum.</param>
    /// <param name="keywords">For their volumes.</param>
    /// <param name="lists">Cut at <paramref name="depth"/>.</param>
    /// <param name="depth">Compared positions.</param>
    /// <param name="minOverlap">m.</param>
    /// <param name="rule">How it was made.</param>
    /// <param name="smallest">Keywords that a cluster must have.</param>
    public static SensitivityRow Of(Clustering clustering, IReadOnlyList<Keyword> keywords, ResultLists lists, int depth, int minOverlap, LinkingRule rule, int smallest = 1)
    {
        var several = clustering.Clusters.Where(c => c.Members.Length >= Math.Max(2, smallest)).ToList();
        var captured = clustering.Clusters.Sum(c => c.Members.Length);
        var singletons = captured - several.Sum(c => c.Members.Length);
        return new SensitivityRow(
            minOverlap,
            rule,
            smallest < 2 ? clustering.Clusters.Length : several.Count,
            singletons,
            captured == 0 ? 0 : (double)singletons / captured,
            clustering.AtLeast(smallest).Clusters.Select(c => c.Members.Length).DefaultIfEmpty().Max(),
            ClusterQuality.Cohesions(several, lists, depth).Average(),
            several.Sum(c => c.Members.Sum(m => keywords[m].Volume ?? 0)));
    }
}

/// <summary>The clusterings that each minimum overlap gives, so that it is chosen, not guessed; from one join. Safe to use from several threads.</summary>
public sealed class Sensitivity
{
    public const int MostOverlap = 10;

    /// <summary>How many clusterings are kept: computing one again costs less than holding them all.</summary>
    private const int MostKept = 6;

    private readonly IReadOnlyList<Keyword> _keywords;
    private readonly ResultLists _lists;
    private readonly OverlapPairs _pairs;
    private readonly int[] _order;
    private readonly List<((int, LinkingRule) Key, Lazy<Clustering> Clustering)> _kept = [];
    private readonly ConcurrentDictionary<(int, LinkingRule, int), SensitivityRow> _rows = [];

    /// <param name="keywords">No normal form twice.</param>
    /// <param name="lists">Their result lists, cut at the depth of <paramref name="pairs"/>.</param>
    /// <param name="pairs">Of these lists; minimums below what is held are joined again when they are asked for.</param>
    /// <param name="order">The keywords in keyword order, where it is known.</param>
    public Sensitivity(IReadOnlyList<Keyword> keywords, ResultLists lists, OverlapPairs pairs, int[]? order = null)
    {
        (_keywords, _lists, _pairs, _order) = (keywords, lists, pairs, order ?? KeywordOrder.Of(keywords));
        _captured = new Lazy<int>(() => Enumerable.Range(0, lists.Count).Count(lists.IsCaptured));
    }

    /// <param name="minOverlap">1 to the depth.</param>
    /// <param name="rule">The linking rule.</param>
    public Clustering At(int minOverlap, LinkingRule rule)
    {
        Lazy<Clustering> wanted;
        lock (_kept)
        {
            var at = _kept.FindIndex(k => k.Key == (minOverlap, rule));
            wanted = at >= 0 ? _kept[at].Clustering : new Lazy<Clustering>(() =>
                minOverlap >= LeastHeld ? Clustering.Of(_order, _lists, _pairs.All, rule, minOverlap) : Clustering.Of(_order, _lists, new OverlapIndex(_lists, minOverlap), rule, _pairs));
            if (at >= 0)
                _kept.RemoveAt(at);
            // The one used last comes last, and the first goes.
            _kept.Add(((minOverlap, rule), wanted));
            if (_kept.Count > MostKept)
                _kept.RemoveAt(0);
        }

        return wanted.Value;
    }

    /// <summary>As above, where clusters are to hold; not kept.</summary>
    public Clustering At(int minOverlap, LinkingRule rule, PreviousClusters? previous) =>
        previous is null ? At(minOverlap, rule)
        : minOverlap >= LeastHeld ? Clustering.Of(_order, _lists, _pairs.All, rule, minOverlap, previous)
        : Clustering.Of(_order, _lists, new OverlapIndex(_lists, minOverlap), rule, _pairs, previous);

    /// <summary>For m from 1 to 10, or to the depth where that is less.</summary>
    /// <param name="rule">The linking rule.</param>
    /// <param name="smallest">Keywords that a cluster must have.</param>
    public IReadOnlyList<SensitivityRow> Rows(LinkingRule rule, int smallest = 1)
    {
        Parallel.For(1, Minimums + 1, m => Row(m, rule, smallest));
        return RowsSoFar(rule, smallest);
    }

    /// <summary>As <see cref="Rows"/>, those alone that were asked for already.</summary>
    public IReadOnlyList<SensitivityRow> RowsSoFar(LinkingRule rule, int smallest = 1) =>
        [.. Enumerable.Range(1, Minimums).Select(m => _rows.GetValueOrDefault((m, rule, smallest))).OfType<SensitivityRow>()];

    /// <param name="minOverlap">1 to the depth.</param>
    /// <param name="rule">The linking rule.</param>
    /// <param name="smallest">Keywords that a cluster must have.</param>
    public SensitivityRow Row(int minOverlap, LinkingRule rule, int smallest = 1) =>
        _rows.GetOrAdd((minOverlap, rule, smallest), _ => SensitivityRow.Of(At(minOverlap, rule), _keywords, _lists, _pairs.Depth, minOverlap, rule, smallest));

    /// <returns>Whether a row was asked for already.</returns>
    public bool HasRow(int minOverlap, LinkingRule rule, int smallest = 1) => _rows.ContainsKey((minOverlap, rule, smallest));

    /// <summary>How many keywords have a result list.</summary>
    public int Captured => _captured.Value;

    private readonly Lazy<int> _captured;

    /// <summary>The least minimum whose pairs are held.</summary>
    public int LeastHeld => _pairs.Least;

    /// <summary>The table goes up to this.</summary>
    public int Minimums => Math.Min(MostOverlap, _pairs.Depth);

    /// <summary>Lets go of the clusterings; they can be asked for again.</summary>
    public void LetGo()
    {
        lock (_kept)
            _kept.Clear();
    }
}
