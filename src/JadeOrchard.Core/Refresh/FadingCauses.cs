using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Refresh;

/// <summary>How a query took part in what a page lost.</summary>
/// <param name="Query">Its index.</param>
public sealed record QueryShift(int Query, QuerySpan Before, QuerySpan Now, ClickShift Shift);

/// <summary>Through which queries a page lost clicks, and by what: the parts add up to the change (DESIGN.md 4.18).</summary>
/// <param name="Queries">The greatest loss first.</param>
/// <param name="Sum">Of all of them.</param>
public sealed record FadingCauses(IReadOnlyList<QueryShift> Queries, ClickShift Sum)
{
    /// <summary>No share of clicks is nothing, so that a part of it can be told.</summary>
    private const double LeastShare = 1e-6;

    /// <param name="daily">Search performance, with the days that <see cref="Fading.SpansOf"/> asks for.</param>
    /// <param name="page">Index of the page.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    public static FadingCauses Of(DailyPerformance daily, int page, ClickCurve curve)
    {
        if (Fading.SpansOf(daily.Days) is not var (then, now))
            return new FadingCauses([], default);
        var (old, current) = (daily.First.AddDays(then), daily.First.AddDays(now));
        var shifts = new List<QueryShift>();
        for (var pair = daily.PairsOf(page).Start.Value; pair < daily.PairsOf(page).End.Value; pair++)
        {
            var (before, after) = (daily.Sum(pair, old, old.AddDays(Fading.Days - 1)), daily.Sum(pair, current, current.AddDays(Fading.Days - 1)));
            if (before.Impressions > 0 || after.Impressions > 0)
                shifts.Add(new QueryShift(daily.QueryOf(pair), before, after, ClickShift.Of(before, after, p => Math.Max(LeastShare, curve.At(p)))));
        }

        return new FadingCauses([.. shifts.OrderBy(s => s.Shift.Total).ThenBy(s => s.Query)], ClickShift.Sum(shifts.Select(s => s.Shift)));
    }
}
