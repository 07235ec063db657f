using System.Collections.Immutable;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Performance;

/// <summary>What one query got at its average position.</summary>
public readonly record struct QueryFigures(double Position, long Clicks, long Impressions);

/// <summary>What the query of a normal form got.</summary>
public readonly record struct FormFigures(string NormalForm, QueryFigures Figures);

/// <summary>The click curve that the site's own search performance shows.</summary>
/// <remarks>
/// Each whole position has the mean of a beta distribution: the default's share as the prior, worth <see cref="PriorImpressions"/> impressions, and the
/// clicks of its queries (beta-binomial; Gelman et al., "Bayesian Data Analysis", 3rd edition 2013, section 2.4). So the default gives way as data come in. A
/// query weighs what it was shown, at most the 95th percentile of all, and less where it alone would move the share of its position by more
/// than <see cref="MostInfluence"/>. Then isotonic regression, non-increasing, by weight: pool adjacent violators (Barlow, Bartholomew, Bremner and
/// Brunk, "Statistical Inference under Order Restrictions", 1972). Beyond the positions that are fitted the default goes on, no higher than the last of them.
/// </remarks>
/// <param name="Curve">Fitted, or the default where there is too little.</param>
/// <param name="Queries">Queries with impressions, brand queries left out.</param>
/// <param name="Clicks">Their clicks.</param>
/// <param name="Seen">What was seen, gathered by whole positions, for the picture.</param>
/// <param name="Supports">For each of the positions 1 to <see cref="Positions"/> what its share rests on.</param>
public sealed record CurveFit(ClickCurve Curve, int Queries, long Clicks, ImmutableArray<SeenShare> Seen, ImmutableArray<CurveSupport> Supports)
{
    /// <summary>Queries from which a curve is fitted.</summary>
    public const int FewestQueries = 100;

    /// <summary>Clicks from which a curve is fitted.</summary>
    public const int FewestClicks = 200;

    /// <summary>Positions that are fitted one by one.</summary>
    public const int Positions = 20;

    /// <summary>Impressions that the default is worth at each position (from memory).</summary>
    public const double PriorImpressions = 300;

    /// <summary>A query moves the share of its position by no more than this part; a little less than the tenth that is promised, since pooling moves others with it.</summary>
    public const double MostInfluence = 0.08;

    private const double CappedAt = 0.95;

    public bool IsFitted => Queries >= FewestQueries && Clicks >= FewestClicks;

    /// <param name="rows">One for each query, brand queries left out, in any order.</param>
    /// <param name="otherwise">The curve where there is too little, towards which it is shrunk, and beyond the positions that are fitted.</param>
    public static CurveFit Of(IEnumerable<QueryFigures> rows, ClickCurve otherwise)
    {
        var seen = rows.Where(r => r.Impressions > 0 && r.Position >= 1).ToList();
        var shares = seen.GroupBy(r => WholePosition(r.Position))
            .OrderBy(g => g.Key)
            .Select(g => new SeenShare(g.Key, g.Count(), g.Sum(r => r.Clicks), g.Sum(r => r.Impressions)));
        var supports = Enumerable.Range(1, Positions).Select(p => new CurveSupport(p, otherwise.At(p), 0, 1)).ToArray();
        var fit = new CurveFit(otherwise, seen.Count, seen.Sum(r => r.Clicks), [.. shares], [.. supports]);
        if (!fit.IsFitted)
            return fit;
        var cap = Percentile([.. seen.Select(r => r.Impressions).Order()], CappedAt);
        var weights = new double[Positions];
        foreach (var at in seen.GroupBy(r => WholePosition(r.Position)).Where(g => g.Key <= Positions))
        {
            var (share, weight) = Shrunk([.. at.Select(r => (Math.Min(1, (double)r.Clicks / r.Impressions), (double)Math.Min(r.Impressions, cap))).Order()], otherwise.At(at.Key));
            supports[at.Key - 1] = new CurveSupport(at.Key, share, at.Count(), PriorImpressions / (PriorImpressions + weight));
            weights[at.Key - 1] = weight;
        }

        var fitted = ClickCurve.Through(Fit([.. supports.Select(s => ((double)s.Position, s.Share, PriorImpressions + weights[s.Position - 1]))]));
        var last = fitted.At(Positions);
        return fit with
        {
            Curve = ClickCurve.Through(Enumerable.Range(1, Positions).Select(p => new CurvePoint(p, fitted.At(p)))
                .Concat(otherwise.Points.Where(p => p.Position > Positions).Select(p => p with { Share = Math.Min(p.Share, last) }))),
            Supports = [.. supports.Select(s => s with { Share = fitted.At(s.Position) })],
        };
    }

    /// <summary>The share of one position, shrunk towards the default, so that no query moves it by more than <see cref="MostInfluence"/>.</summary>
    /// <param name="queries">Share of clicks and weight of each, in order.</param>
    /// <param name="prior">The default's share, above 0.</param>
    /// <returns>The share, and the weight that the queries have after all.</returns>
    public static (double Share, double Weight) Shrunk((double Share, double Weight)[] queries, double prior)
    {
        // Without a query its position has the share of the others: what a query adds to that is bounded, and so is its weight. Each pass starts from weights
        // that are no greater than before, so that it comes to an end.
        double[] weights = [.. queries.Select(q => q.Weight)];
        for (var pass = 0; pass < 20; pass++)
        {
            var weight = PriorImpressions + weights.Sum();
            var clicks = (PriorImpressions * prior) + queries.Select((q, i) => q.Share * weights[i]).Sum();
            var changed = false;
            for (var i = 0; i < queries.Length; i++)
            {
                var (others, rest) = (clicks - (queries[i].Share * weights[i]), weight - weights[i]);
                var without = others / rest;
                var bound = MostInfluence * without;
                var off = Math.Abs(queries[i].Share - without);
                // w·|x − m| / (rest + w) ≤ bound
                if (off <= bound || weights[i] <= bound * rest / (off - bound) * (1 + 1e-9))
                    continue;
                weights[i] = bound * rest / (off - bound);
                changed = true;
            }

            if (!changed)
                break;
        }

        return (((PriorImpressions * prior) + queries.Select((q, i) => q.Share * weights[i]).Sum()) / (PriorImpressions + weights.Sum()), weights.Sum());
    }

    private static int WholePosition(double position) => (int)Math.Round(position, MidpointRounding.AwayFromZero);

    /// <returns>The smallest value that a share of all are not above.</returns>
    private static long Percentile(long[] ascending, double share) => ascending[Math.Max(0, (int)Math.Ceiling(share * ascending.Length) - 1)];

    /// <summary>Weighted isotonic regression, non-increasing.</summary>
    /// <param name="observed">Position, share and weight (above 0), in any order.</param>
    /// <returns>The first and last position of each level, ascending.</returns>
    public static ImmutableArray<CurvePoint> Fit(IReadOnlyList<(double Position, double Share, double Weight)> observed)
    {
        // Blocks of positions that share a level; one that is above the block before it is pooled with that.
        var blocks = new List<(double First, double Last, double Sum, double Weight)>();
        // Summed in one order, so that rounding does not decide between levels that are the same.
        foreach (var same in observed.OrderBy(o => o.Position).ThenBy(o => o.Share).ThenBy(o => o.Weight).GroupBy(o => o.Position))
        {
            var block = (First: same.Key, Last: same.Key, Sum: same.Sum(o => o.Share * o.Weight), Weight: same.Sum(o => o.Weight));
            while (blocks.Count > 0 && blocks[^1].Sum / blocks[^1].Weight <= block.Sum / block.Weight)
            {
                var before = blocks[^1];
                blocks.RemoveAt(blocks.Count - 1);
                block = (before.First, block.Last, before.Sum + block.Sum, before.Weight + block.Weight);
            }

            blocks.Add(block);
        }

        return [.. blocks.SelectMany(b => b.First == b.Last
            ? new[] { new CurvePoint(b.First, b.Sum / b.Weight) }
            : [new CurvePoint(b.First, b.Sum / b.Weight), new CurvePoint(b.Last, b.Sum / b.Weight)])];
    }
}

/// <summary>What the share of a position rests on.</summary>
/// <param name="Share">Of clicks, 0 to 1.</param>
/// <param name="Queries">Queries at about this position.</param>
/// <param name="WeightOfDefault">How much of it is the default, 0 to 1.</param>
public sealed record CurveSupport(int Position, double Share, int Queries, double WeightOfDefault);

/// <summary>What queries at about one position got.</summary>
public sealed record SeenShare(int Position, int Queries, long Clicks, long Impressions);
