using System.Collections.Immutable;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Performance;

/// <summary>What one query got at its average position.</summary>
public readonly record struct QueryFigures(double Position, long Clicks, long Impressions);

/// <summary>What the query of a normal form got.</summary>
public readonly record struct FormFigures(string NormalForm, QueryFigures Figures);

/// <summary>The click curve that the site's own search performance shows.</summary>
/// <remarks>
/// Isotonic regression, non-increasing in the average position, weighted by impressions: pool adjacent violators (Barlow,
/// Bartholomew, Bremner and Brunk, "Statistical Inference under Order Restrictions", 1972). Beyond the positions that were
/// seen the curve given as the default goes on, scaled so that it joins.
/// </remarks>
/// <param name="Curve">Fitted, or the default where there are too few queries.</param>
/// <param name="Queries">Queries with impressions, brand queries left out.</param>
/// <param name="Seen">What was seen, gathered by whole positions, for the picture.</param>
public sealed record CurveFit(ClickCurve Curve, int Queries, ImmutableArray<SeenShare> Seen)
{
    /// <summary>Query rows from which a curve is fitted.</summary>
    public const int FewestQueries = 500;

    public bool IsFitted => Queries >= FewestQueries;

    /// <param name="rows">One for each query, brand queries left out, in any order.</param>
    /// <param name="otherwise">The curve where there are too few, and beyond the positions that were seen.</param>
    public static CurveFit Of(IEnumerable<QueryFigures> rows, ClickCurve otherwise)
    {
        var seen = rows.Where(r => r.Impressions > 0 && r.Position >= 1).ToList();
        var shares = seen.GroupBy(r => (int)Math.Round(r.Position, MidpointRounding.AwayFromZero))
            .OrderBy(g => g.Key)
            .Select(g => new SeenShare(g.Key, g.Count(), g.Sum(r => r.Clicks), g.Sum(r => r.Impressions)));
        return new CurveFit(
            seen.Count >= FewestQueries ? Joined(Fit([.. seen.Select(r => (r.Position, (double)r.Clicks / r.Impressions, (double)r.Impressions))]), otherwise) : otherwise,
            seen.Count,
            [.. shares]);
    }

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

    private static ClickCurve Joined(ImmutableArray<CurvePoint> fitted, ClickCurve otherwise)
    {
        var (first, last) = (fitted[0], fitted[^1]);
        IEnumerable<CurvePoint> Scaled(IEnumerable<CurvePoint> points, CurvePoint at) => points
            .Select(p => p with { Share = Math.Min(1, p.Share * (otherwise.At(at.Position) > 0 ? at.Share / otherwise.At(at.Position) : 1)) });
        return ClickCurve.Through(
            Scaled(otherwise.Points.Where(p => p.Position < first.Position), first)
                .Concat(fitted)
                .Concat(Scaled(otherwise.Points.Where(p => p.Position > last.Position), last)));
    }
}

/// <summary>What queries at about one position got.</summary>
public sealed record SeenShare(int Position, int Queries, long Clicks, long Impressions);
