using System.Collections.Immutable;

namespace JadeOrchard.Core.Results;

/// <summary>The expected share of clicks at each position.</summary>
/// <remarks>Between its points a curve is a straight line, before the first and after the last one it stays level.</remarks>
public sealed class ClickCurve
{
    /// <summary>The position that a page made for a cluster is expected to reach.</summary>
    public const int TargetPosition = 3;

    /// <summary>How many values describe a curve that a planner enters: positions 1 to 10, 11 to 20, further down.</summary>
    public const int ValueCount = 12;

    /// <summary>The values of <see cref="Default"/>. From memory, common practice; meant to be edited.</summary>
    public static readonly ImmutableArray<double> DefaultValues = [0.28, 0.15, 0.11, 0.08, 0.065, 0.05, 0.04, 0.032, 0.027, 0.023, 0.01, 0.003];

    private const int WholePositions = 101;
    private readonly double[] _whole;

    private ClickCurve(ImmutableArray<CurvePoint> points)
    {
        Points = points;
        _whole = [.. Enumerable.Range(0, WholePositions).Select(p => p == 0 ? 0 : At((double)p))];
    }

    /// <summary>The curve as long as the site's own search performance tells no better.</summary>
    public static ClickCurve Default { get; } = Of(DefaultValues);

    /// <summary>By position, from the best.</summary>
    public ImmutableArray<CurvePoint> Points { get; }

    /// <param name="values">Shares of positions 1 to 10, of all from 11 to 20, and further down: see <see cref="ValueCount"/>.</param>
    public static ClickCurve Of(IReadOnlyList<double> values) => new(
    [
        .. values.Take(10).Select((share, i) => new CurvePoint(i + 1, share)),
        new CurvePoint(11, values[10]), new CurvePoint(20, values[10]), new CurvePoint(21, values[11]),
    ]);

    /// <param name="points">At least one, positions ascending.</param>
    public static ClickCurve Through(IEnumerable<CurvePoint> points) => new([.. points]);

    /// <returns>What is wrong with values that a planner entered; null where nothing is.</returns>
    public static string? Fault(IReadOnlyList<double> values) =>
        values.Count != ValueCount ? $"A curve has {ValueCount} values: positions 1 to 10, 11 to 20, and further down."
        : values.Any(v => v is not (>= 0 and <= 1)) ? "Each share of clicks must be from 0 to 1."
        : values.Zip(values.Skip(1)).Any(v => v.Second > v.First) ? "A position further down cannot get a greater share of clicks than the one above it."
        : null;

    /// <param name="position">From 1; 0 or less means that the page is not in the list.</param>
    /// <returns>0 to 1.</returns>
    public double At(int position) => position < 1 ? 0 : _whole[Math.Min(position, WholePositions - 1)];

    /// <param name="position">An average; 0 or less means that the page was not seen.</param>
    /// <returns>0 to 1.</returns>
    public double At(double position)
    {
        if (position <= 0)
            return 0;
        var after = 0;
        while (after < Points.Length && Points[after].Position < position)
            after++;
        if (after == 0)
            return Points[0].Share;
        if (after == Points.Length)
            return Points[^1].Share;
        var (a, b) = (Points[after - 1], Points[after]);
        return a.Share + ((b.Share - a.Share) * (position - a.Position) / (b.Position - a.Position));
    }
}

/// <summary>A point of a curve.</summary>
/// <param name="Position">From 1.</param>
/// <param name="Share">Clicks per search or per impression, 0 to 1.</param>
public readonly record struct CurvePoint(double Position, double Share);
