using JadeOrchard.Core.Performance;

namespace JadeOrchard.Core.Refresh;

/// <summary>A page in a period, with all its queries.</summary>
/// <param name="Page">Its index.</param>
/// <param name="Now">All clicks and impressions, those of anonymised queries too.</param>
/// <param name="Before">In the period that is compared with; null where nothing is known of it.</param>
/// <param name="AnonymousClicks">Clicks of queries that the source keeps to itself.</param>
public readonly record struct PageNumbers(int Page, QuerySpan Now, QuerySpan? Before, long AnonymousClicks)
{
    /// <param name="daily">Search performance.</param>
    /// <param name="page">Index of the page.</param>
    /// <param name="period">The days.</param>
    /// <param name="isAnonymous">Whether a query has no words.</param>
    public static PageNumbers Of(DailyPerformance daily, int page, QueryPeriod period, Func<int, bool> isAnonymous)
    {
        var (now, before, anonymous) = (default(Sums), default(Sums), 0L);
        for (var pair = daily.PairsOf(page).Start.Value; pair < daily.PairsOf(page).End.Value; pair++)
        {
            var span = daily.Sum(pair, period.From, period.To);
            now = now.With(span);
            if (isAnonymous(daily.QueryOf(pair)))
                anonymous += span.Clicks;
            if (period is { BeforeFrom: { } from, BeforeTo: { } to })
                before = before.With(daily.Sum(pair, from, to));
        }

        return new PageNumbers(page, now.Span, period.BeforeFrom is null ? null : before.Span, anonymous);
    }

    private readonly record struct Sums(long Clicks, long Impressions, double Weighted)
    {
        public QuerySpan Span => new(Clicks, Impressions, Impressions == 0 ? 0 : Weighted / Impressions);

        public Sums With(QuerySpan span) => new(Clicks + span.Clicks, Impressions + span.Impressions, Weighted + (span.Position * span.Impressions));
    }
}
