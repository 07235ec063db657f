using System.Runtime.InteropServices;

namespace JadeOrchard.Core.Performance;

/// <summary>What a page got for a query on a day; 28 bytes, in memory as in the database.</summary>
/// <param name="Day">Number of the day, see <see cref="DateOnly.DayNumber"/>.</param>
/// <param name="Clicks">At most <paramref name="Impressions"/>.</param>
/// <param name="Impressions">From 0.</param>
/// <param name="Weighted">Sum of position times impressions.</param>
[StructLayout(LayoutKind.Sequential, Pack = 4)]
public readonly record struct DayFigures(int Day, long Clicks, long Impressions, double Weighted)
{
    /// <returns>The days as bytes, little-endian.</returns>
    public static byte[] Packed(ReadOnlySpan<DayFigures> days) => MemoryMarshal.AsBytes(days).ToArray();

    /// <returns>The days of some bytes, see <see cref="Packed"/>.</returns>
    public static ReadOnlySpan<DayFigures> Unpacked(byte[] bytes) => MemoryMarshal.Cast<byte, DayFigures>(bytes);

    /// <returns>This and another count of the same day together.</returns>
    public DayFigures Plus(DayFigures other) => new(Day, Clicks + other.Clicks, Impressions + other.Impressions, Weighted + other.Weighted);

    /// <param name="days">Ascending.</param>
    /// <param name="from">Number of the first day that counts.</param>
    /// <param name="to">Number of the last day that counts.</param>
    public static ReadOnlySpan<DayFigures> Between(ReadOnlySpan<DayFigures> days, int from, int to) => days[FirstFrom(days, from)..FirstFrom(days, to + 1)];

    private static int FirstFrom(ReadOnlySpan<DayFigures> days, int day)
    {
        int low = 0, high = days.Length;
        while (low < high)
        {
            var middle = (low + high) >> 1;
            if (days[middle].Day < day)
                low = middle + 1;
            else
                high = middle;
        }

        return low;
    }

    /// <returns>What was got on some days together.</returns>
    public static QuerySpan Sum(ReadOnlySpan<DayFigures> days)
    {
        var (clicks, impressions, weighted) = (0L, 0L, 0.0);
        foreach (var day in days)
            (clicks, impressions, weighted) = (clicks + day.Clicks, impressions + day.Impressions, weighted + day.Weighted);
        return new QuerySpan(clicks, impressions, impressions == 0 ? 0 : weighted / impressions);
    }
}
