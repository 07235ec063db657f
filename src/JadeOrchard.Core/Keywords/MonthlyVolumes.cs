using System.Collections.Immutable;
using System.Globalization;

namespace JadeOrchard.Core.Keywords;

/// <summary>Searches in each of the last months.</summary>
/// <param name="Newest">The first day of the newest month.</param>
/// <param name="Volumes">Oldest first, <see cref="Fewest"/> to <see cref="Most"/> of them.</param>
public sealed record MonthlyVolumes(DateOnly Newest, ImmutableArray<long> Volumes)
{
    /// <summary>A year, so that each month of the year is there.</summary>
    public const int Fewest = 12;

    /// <summary>Older ones say little of today.</summary>
    public const int Most = 48;

    /// <summary>A month is a peak from this many times the mean of the year (DESIGN.md 4.19).</summary>
    public const double PeakFactor = 1.5;

    /// <summary>Work is due this long before a peak begins (common practice: 6 to 8 weeks).</summary>
    public const int WeeksBefore = 8;

    /// <summary>With less time there is no use in hurrying for this year's peak (common practice: 6 to 8 weeks).</summary>
    private const int FewestWeeksBefore = 6;

    /// <summary>Reads volumes as they are written in files: "120|140|90", the newest last.</summary>
    /// <param name="text">The numbers.</param>
    /// <param name="today">The newest is of the last month that was over on this day.</param>
    /// <returns>Null where it is no such list; of more than <see cref="Most"/>, the newest.</returns>
    public static MonthlyVolumes? Parse(string text, DateOnly today)
    {
        var parts = text.Split('|', StringSplitOptions.TrimEntries);
        var volumes = ImmutableArray.CreateBuilder<long>(parts.Length);
        foreach (var part in parts)
        {
            if (!long.TryParse(part, NumberStyles.None, CultureInfo.InvariantCulture, out var volume) || volume > Keyword.MostCounted)
                return null;
            volumes.Add(volume);
        }

        return Of(volumes, today);
    }

    /// <param name="volumes">Oldest first.</param>
    /// <param name="today">The newest is of the last month that was over on this day.</param>
    /// <returns>Null where there are too few, or one is below 0.</returns>
    public static MonthlyVolumes? Of(IReadOnlyList<long> volumes, DateOnly today) =>
        volumes.Count < Fewest || volumes.Any(v => v is < 0 or > Keyword.MostCounted) ? null
            : new MonthlyVolumes(new DateOnly(today.Year, today.Month, 1).AddMonths(-1), [.. volumes.Skip(volumes.Count - Most)]);

    /// <summary>What <see cref="ToString"/> wrote.</summary>
    public static MonthlyVolumes Stored(string text)
    {
        var parts = text.Split('|');
        return new MonthlyVolumes(
            DateOnly.ParseExact(parts[0], "yyyy-MM", CultureInfo.InvariantCulture), [.. parts.Skip(1).Select(p => long.Parse(p, CultureInfo.InvariantCulture))]);
    }

    /// <summary>"2026-10|120|140|90": the newest month, then the numbers, oldest first.</summary>
    public override string ToString() => $"{Newest.ToString("yyyy-MM", CultureInfo.InvariantCulture)}|{Numbers}";

    /// <summary>"120|140|90", as files have it.</summary>
    public string Numbers => string.Join('|', Volumes.Select(v => v.ToString(CultureInfo.InvariantCulture)));

    /// <summary>Several keywords together, over the months that all of them have.</summary>
    /// <returns>Null where these are less than <see cref="Fewest"/>.</returns>
    public static MonthlyVolumes? Sum(IReadOnlyCollection<MonthlyVolumes> several)
    {
        if (several.Count == 0)
            return null;
        var newest = several.Min(m => m.Newest);
        var oldest = several.Max(m => m.Newest.AddMonths(1 - m.Volumes.Length));
        var months = Months(oldest, newest) + 1;
        if (months < Fewest)
            return null;
        return new MonthlyVolumes(newest, [.. Enumerable.Range(0, months).Select(i => several.Sum(m => m.Volumes[Months(m.Newest.AddMonths(1 - m.Volumes.Length), oldest) + i]))]);
    }

    /// <summary>Months of the year, 1 to 12, whose mean is at least <see cref="PeakFactor"/> times the year's (DESIGN.md 4.19).</summary>
    public ImmutableArray<int> PeakMonths()
    {
        var means = Enumerable.Range(0, Volumes.Length).GroupBy(i => Newest.AddMonths(i + 1 - Volumes.Length).Month, i => Volumes[i]).ToDictionary(g => g.Key, g => g.Average());
        var year = means.Values.Average();
        return year <= 0 ? [] : [.. means.Where(m => m.Value >= PeakFactor * year).Select(m => m.Key).Order()];
    }

    /// <summary>When work has to be done so that it is found when it is searched for.</summary>
    /// <param name="peaks">Months of the year, 1 to 12.</param>
    /// <param name="today">The day on which it is planned.</param>
    /// <returns>When the next peak begins that can still be reached, and <see cref="WeeksBefore"/> weeks before, but not before today; null without peaks.</returns>
    public static (DateOnly Peak, DateOnly Due)? NextPeak(IReadOnlyCollection<int> peaks, DateOnly today)
    {
        // A peak of several months begins with the first of them.
        var begins = peaks.Where(m => !peaks.Contains(m == 1 ? 12 : m - 1)).ToList();
        if (begins.Count == 0)
            return null;
        var peak = begins.SelectMany(m => new[] { new DateOnly(today.Year, m, 1), new DateOnly(today.Year + 1, m, 1), new DateOnly(today.Year + 2, m, 1) })
            .Where(d => d.AddDays(-7 * FewestWeeksBefore) >= today).Min();
        var due = peak.AddDays(-7 * WeeksBefore);
        return (peak, due < today ? today : due);
    }

    public bool Equals(MonthlyVolumes? other) => other is not null && Newest == other.Newest && Volumes.SequenceEqual(other.Volumes);

    public override int GetHashCode() => HashCode.Combine(Newest, Volumes.Length, Volumes[^1]);

    private static int Months(DateOnly from, DateOnly to) => ((to.Year - from.Year) * 12) + to.Month - from.Month;
}
