using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Refresh;

/// <summary>The days that are looked at, and those that they are compared with.</summary>
/// <param name="From">The first day.</param>
/// <param name="To">The last day, which counts.</param>
/// <param name="BeforeFrom">The first day of as many days that are compared with; null where nothing is known of them.</param>
public readonly record struct QueryPeriod(DateOnly From, DateOnly To, DateOnly? BeforeFrom)
{
    public int Days => To.DayNumber - From.DayNumber + 1;

    /// <summary>The last day that is compared with.</summary>
    public DateOnly? BeforeTo => BeforeFrom?.AddDays(Days - 1);

    /// <param name="first">The first day of which anything is known.</param>
    /// <param name="from">The first day of the period.</param>
    /// <param name="to">Its last.</param>
    /// <param name="yearBefore">Compared with the same days a year before (364 days, so that weekdays meet their like), else with the days just before.</param>
    public static QueryPeriod Of(DateOnly first, DateOnly from, DateOnly to, bool yearBefore)
    {
        var before = from.DayNumber - (yearBefore ? Fading.Year : to.DayNumber - from.DayNumber + 1);
        return new QueryPeriod(from, to, before >= first.DayNumber ? DateOnly.FromDayNumber(before) : null);
    }
}

/// <summary>What marks need to know of queries and pages beside their numbers, by index.</summary>
public sealed class QueryFacts
{
    /// <summary>How often the page of a pair mentions its query; null where its text is not known.</summary>
    public required Func<int, int?> Mentions { get; init; }

    /// <summary>Queries that are about a brand, or that have no words: these have no marks.</summary>
    public required Func<int, bool> IsBrand { get; init; }

    public required Func<int, bool> IsQuestion { get; init; }

    /// <summary>Queries without words: all those that the source keeps to itself. They are no rows.</summary>
    public required Func<int, bool> IsAnonymous { get; init; }
}

/// <summary>A query on a page in a period.</summary>
/// <param name="Pair">Index of the pair, see <see cref="DailyPerformance"/>.</param>
/// <param name="Before">In the period that is compared with; null where nothing is known of it.</param>
/// <param name="Expected">Clicks that its position earns.</param>
/// <param name="AtStake">Clicks in the period that could be won.</param>
/// <param name="IsSilent">It has no marks, as it is about a brand or its page is too new to judge.</param>
public readonly record struct MarkedQuery(int Pair, QuerySpan Now, QuerySpan? Before, int? Mentions, double Expected, double AtStake, QueryMark Marks, bool IsSilent)
{
    /// <summary>With what changes more often than search performance does.</summary>
    /// <param name="isIrrelevant">The planner called it irrelevant: nothing else is said of it then.</param>
    /// <param name="isOfOtherPage">It is another page's.</param>
    public MarkedQuery With(bool isIrrelevant, bool isOfOtherPage) =>
        isIrrelevant ? this with { Marks = QueryMark.Irrelevant, AtStake = 0 }
        : isOfOtherPage && !IsSilent ? this with { Marks = Marks | QueryMark.OtherPage }
        : this;
}

/// <summary>All queries of all pages in a period, with their marks (DESIGN.md 4.17).</summary>
public static class QueryTable
{
    /// <param name="daily">Search performance.</param>
    /// <param name="period">The days.</param>
    /// <param name="facts">What else marks need.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    /// <returns>The pairs with impressions in the period, ordered by page, then by query. Brand queries and those of pages that are too new have no marks, and nothing is at stake.</returns>
    public static MarkedQuery[] Of(DailyPerformance daily, QueryPeriod period, QueryFacts facts, ClickCurve curve)
    {
        var pages = new MarkedQuery[daily.PageCount][];
        var (known, knownBefore) = (KnownDays(daily, period.From, period.Days), period.BeforeFrom is { } from ? KnownDays(daily, from, period.Days) : 0);
        // Where a day is missing, nothing fell: rates are compared, not sums.
        period = knownBefore == 0 ? period with { BeforeFrom = null } : period;
        var exposure = known == 0 || knownBefore == 0 ? 1 : (double)known / knownBefore;
        Parallel.For(0, daily.PageCount, page => pages[page] = [.. OfPage(daily, page, period, facts, curve, exposure)]);
        return [.. pages.SelectMany(p => p)];
    }

    /// <returns>True where a page was shown for the first time less than a month before a day, though performance is known from before.</returns>
    public static bool IsTooNew(DailyPerformance daily, int page, DateOnly last) => daily.FirstDayOf(page) is { } first
        && last.DayNumber - first.DayNumber < QueryMarks.NewDays && first.DayNumber - daily.First.DayNumber >= QueryMarks.NewDays;

    /// <returns>Days of a span of which anything is known.</returns>
    public static int KnownDays(DailyPerformance daily, DateOnly from, int days) => Enumerable.Range(0, days).Count(d => daily.HasDay(from.AddDays(d)));

    private static IEnumerable<MarkedQuery> OfPage(DailyPerformance daily, int page, QueryPeriod period, QueryFacts facts, ClickCurve curve, double exposure)
    {
        var (start, end) = (daily.PairsOf(page).Start.Value, daily.PairsOf(page).End.Value);
        var isTooNew = start < end && IsTooNew(daily, page, period.To);
        for (var pair = start; pair < end; pair++)
        {
            var query = daily.QueryOf(pair);
            var now = daily.Sum(pair, period.From, period.To);
            if (now.Impressions == 0 || facts.IsAnonymous(query))
                continue;
            QuerySpan? before = period is { BeforeFrom: { } from, BeforeTo: { } to } ? daily.Sum(pair, from, to) : null;
            var mentions = facts.Mentions(pair);
            var isSilent = isTooNew || facts.IsBrand(query);
            var marks = isSilent ? QueryMark.None : QueryMarks.Of(now, before, mentions, facts.IsQuestion(query), isOfOtherPage: false, curve, exposure);
            yield return new MarkedQuery(pair, now, before, mentions, now.Impressions * curve.At(now.Position), isSilent ? 0 : QueryMarks.AtStake(now, curve), marks, isSilent);
        }
    }
}
