using System.Collections.Immutable;

namespace JadeOrchard.Core.Plan;

/// <summary>Hours that a kind of step takes for a page of some length.</summary>
/// <param name="Kind">What is done.</param>
/// <param name="UpTo">Words of the page that it counts for at most; null for any number.</param>
/// <param name="Hours">More than 0.</param>
public sealed record EffortRow(StepKind Kind, int? UpTo, double Hours);

/// <summary>The hours that steps take, by kind and words of the page.</summary>
public sealed class EffortTable
{
    /// <summary>Words of a page that is not written yet, as long as nothing tells (from memory).</summary>
    public const int WordsOfNewPage = 1_200;

    private readonly ILookup<StepKind, EffortRow> _rows;

    /// <param name="rows">In any order; a kind without a row takes an hour.</param>
    public EffortTable(IEnumerable<EffortRow> rows) => _rows = rows.OrderBy(r => r.UpTo ?? int.MaxValue).ToLookup(r => r.Kind);

    /// <summary>From memory; meant to be edited.</summary>
    public static ImmutableArray<EffortRow> DefaultRows { get; } =
    [
        new(StepKind.Write, 600, 4), new(StepKind.Write, 1_200, 6), new(StepKind.Write, 2_000, 9), new(StepKind.Write, null, 14),
        new(StepKind.Refresh, 600, 2), new(StepKind.Refresh, 1_200, 3), new(StepKind.Refresh, 2_000, 5), new(StepKind.Refresh, null, 7),
        new(StepKind.Merge, 600, 2), new(StepKind.Merge, 1_200, 3), new(StepKind.Merge, 2_000, 5), new(StepKind.Merge, null, 8),
        new(StepKind.Redirect, null, 0.25), new(StepKind.Canonical, null, 0.25), new(StepKind.Retitle, null, 0.5), new(StepKind.Link, null, 0.25),
        new(StepKind.RemoveFromIndex, null, 0.25), new(StepKind.LeaveOut, null, 0.1),
    ];

    /// <summary>The hours as long as nobody changed them.</summary>
    public static EffortTable Default { get; } = new(DefaultRows);

    /// <returns>What is wrong with rows that a planner set; null where nothing is.</returns>
    public static string? Fault(IReadOnlyList<EffortRow> rows) =>
        rows.Any(r => r.Hours is not (> 0 and <= 1_000)) ? "Hours must be more than 0 and at most 1,000."
        : rows.Any(r => r.UpTo is < 1) ? "Words must be at least 1."
        : rows.GroupBy(r => (r.Kind, r.UpTo)).FirstOrDefault(g => g.Count() > 1) is { } twice ? $"There are two rows for “{StepText.Name(twice.Key.Kind)}” up to the same number of words."
        : null;

    /// <param name="kind">What is done.</param>
    /// <param name="words">Words of the page; null where nobody knows.</param>
    /// <returns>Hours.</returns>
    public double Of(StepKind kind, long? words)
    {
        var count = words ?? WordsOfNewPage;
        EffortRow? last = null;
        foreach (var row in _rows[kind])
        {
            last = row;
            if (row.UpTo is null || count <= row.UpTo)
                break;
        }

        return last?.Hours ?? 1;
    }

    /// <param name="parts">What is done to a page.</param>
    /// <param name="words">Words of the page; null where nobody knows.</param>
    /// <returns>Hours of all together: a page that is written, refreshed or merged gets its title and its links with that.</returns>
    public double Of(IEnumerable<StepKind> parts, long? words)
    {
        var counts = parts.CountBy(p => p).ToDictionary();
        var isWritten = counts.Keys.Any(k => k is StepKind.Write or StepKind.Refresh or StepKind.Merge);
        return counts.Sum(c => c.Key switch
        {
            StepKind.Write or StepKind.Refresh => Of(c.Key, words),
            StepKind.Retitle or StepKind.Link when isWritten => 0,
            _ => c.Value * Of(c.Key, words),
        });
    }
}
