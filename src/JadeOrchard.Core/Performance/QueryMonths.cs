using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Performance;

/// <summary>How often the site was shown for its queries, month by month: real counts that tell a season where no estimates are known.</summary>
public static class QueryMonths
{
    /// <summary>With fewer impressions a month on average, chance is greater than the season.</summary>
    private const int FewestAMonth = 10;

    /// <param name="daily">Search performance.</param>
    /// <param name="wanted">Which queries are looked at, by index.</param>
    /// <returns>The whole months of queries with enough impressions, by the index of the query; none where fewer than a year is known, or a day in it is missing.</returns>
    public static IReadOnlyDictionary<int, MonthlyVolumes> Of(DailyPerformance daily, Func<int, bool> wanted)
    {
        var found = new Dictionary<int, MonthlyVolumes>();
        if (daily.Days == 0)
            return found;
        var first = daily.First.Day == 1 ? daily.First : new DateOnly(daily.First.Year, daily.First.Month, 1).AddMonths(1);
        var end = daily.Last.AddDays(1) is { Day: 1 } next ? next : new DateOnly(daily.Last.Year, daily.Last.Month, 1);
        var months = ((end.Year - first.Year) * 12) + end.Month - first.Month;
        if (months < MonthlyVolumes.Fewest || Enumerable.Range(first.DayNumber, end.DayNumber - first.DayNumber).Any(d => !daily.HasDay(DateOnly.FromDayNumber(d))))
            return found;
        (months, first) = months > MonthlyVolumes.Most ? (MonthlyVolumes.Most, end.AddMonths(-MonthlyVolumes.Most)) : (months, first);
        var monthOf = new int[end.DayNumber - first.DayNumber];
        for (var day = 0; day < monthOf.Length; day++)
            monthOf[day] = first.AddDays(day) is var date ? ((date.Year - first.Year) * 12) + date.Month - first.Month : 0;
        var sums = new Dictionary<int, long[]>();
        for (var pair = 0; pair < daily.PairCount; pair++)
        {
            var query = daily.QueryOf(pair);
            if (!wanted(query))
                continue;
            if (!sums.TryGetValue(query, out var own))
                sums[query] = own = new long[months];
            foreach (var day in DayFigures.Between(daily.DaysOf(pair), first.DayNumber, end.DayNumber - 1))
                own[monthOf[day.Day - first.DayNumber]] += day.Impressions;
        }

        foreach (var (query, own) in sums)
        {
            if (own.Sum() >= (long)FewestAMonth * months)
                found[query] = new MonthlyVolumes(end.AddMonths(-1), [.. own]);
        }

        return found;
    }
}
