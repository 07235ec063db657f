using System.Collections.Immutable;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Refresh;

/// <summary>How often something is searched for month by month, which way that goes, and when it peaks (DESIGN.md 4.19).</summary>
/// <param name="Newest">The first day of the newest month.</param>
/// <param name="Volumes">Oldest first.</param>
/// <param name="IsCounted">They are the site's own impressions; else estimated searches.</param>
/// <param name="Direction">Of the series without its season.</param>
/// <param name="Tau">Kendall's rank correlation with time, −1 to 1.</param>
/// <param name="Peaks">Months of the year, 1 to 12.</param>
public sealed record Season(DateOnly Newest, ImmutableArray<long> Volumes, bool IsCounted, Direction Direction, double Tau, ImmutableArray<int> Peaks)
{
    public static Season Of(MonthlyVolumes months, bool isCounted)
    {
        var trend = Trend.Deseasonalised([.. months.Volumes.Select(v => (double)v)], months.Newest.AddMonths(1 - months.Volumes.Length).Month);
        return new Season(months.Newest, months.Volumes, isCounted, trend.Direction, trend.Tau, months.PeakMonths());
    }

    /// <summary>Peaks as bits: 1 for January, 2 for February, 4 for March.</summary>
    public int PeakBits() => Peaks.Aggregate(0, (bits, month) => bits | BitOf(month));

    /// <param name="month">1 to 12.</param>
    public static int BitOf(int month) => 1 << (month - 1);

    /// <returns>The months of some bits, ascending.</returns>
    public static ImmutableArray<int> MonthsOf(int bits) => [.. Enumerable.Range(1, 12).Where(m => (bits & BitOf(m)) != 0)];
}
