namespace JadeOrchard.Core.Refresh;

/// <summary>A page that loses clicks.</summary>
/// <param name="Page">Its index.</param>
/// <param name="Since">The first day of the week from which on it gets less.</param>
/// <param name="Before">Clicks in the span that is compared with.</param>
/// <param name="Now">Clicks in the last days.</param>
/// <param name="Course">How many times as many clicks all other pages of the site get now as then.</param>
/// <param name="P">Of so few clicks or fewer by chance, adjusted for all pages that were tested.</param>
public sealed record FadingPage(int Page, DateOnly Since, long Before, long Now, double Course, double P);

/// <summary>Finds the pages that fade: beyond the course of the site and beyond chance, with few false ones among them (DESIGN.md 4.18).</summary>
public static class Fading
{
    /// <summary>Days that are compared.</summary>
    public const int Days = 28;

    /// <summary>A year of whole weeks, so that weekdays meet their like.</summary>
    public const int Year = 364;

    /// <summary>Weeks in which the beginning is looked for.</summary>
    private const int Weeks = 26;

    /// <param name="clicks">For each page its clicks by day, all from the same first day on and of the same length.</param>
    /// <param name="first">The first day.</param>
    /// <returns>Those that fade, the greatest loss first. Compared with the same days a year before where these are known, else with the days before; none where neither is.</returns>
    public static IReadOnlyList<FadingPage> Of(IReadOnlyList<long[]> clicks, DateOnly first)
    {
        if (SpansOf(clicks.Count == 0 ? 0 : clicks[0].Length) is not var (then, now))
            return [];
        var sums = clicks.Select(c => (Before: Sum(c, then), Now: Sum(c, now))).ToList();
        var (allBefore, allNow) = (sums.Sum(s => s.Before), sums.Sum(s => s.Now));
        // A page that never got clicks cannot lose any, and is no test.
        int[] tested = [.. Enumerable.Range(0, clicks.Count).Where(p => sums[p].Before > 0)];
        double CourseOf(int page) => allBefore - sums[page].Before is > 0 and var others ? (double)(allNow - sums[page].Now) / others : 1;
        var adjusted = FalseDiscoveries.Adjusted([.. tested.Select(p => CourseOf(p) > 0 ? TwoRates.Fewer(sums[p].Now, sums[p].Before, CourseOf(p)) : 1)]);
        var total = TotalOf(clicks);
        return
        [
            .. tested.Select((page, i) => (page, P: adjusted[i])).Where(t => t.P <= FalseDiscoveries.Usual)
                .Select(t => new FadingPage(t.page, Since(clicks[t.page], total, first), sums[t.page].Before, sums[t.page].Now, CourseOf(t.page), t.P))
                .OrderByDescending(f => (f.Before * f.Course) - f.Now).ThenBy(f => f.Page),
        ];
    }

    /// <returns>The first days of the span that is compared with and of the last one; null where there are too few days.</returns>
    public static (int Then, int Now)? SpansOf(int days)
    {
        var now = days - Days;
        return now - Year >= 0 ? (now - Year, now) : now - Days >= 0 ? (now - Days, now) : null;
    }

    /// <summary>The week at which a step down explains the page's share of the site's clicks best, by the likelihood of two Poisson rates.</summary>
    private static DateOnly Since(long[] clicks, long[] total, DateOnly first)
    {
        var weeks = Math.Min(Weeks, clicks.Length / 7);
        var start = clicks.Length - (weeks * 7);
        var own = Enumerable.Range(0, weeks).Select(w => (double)Sum(clicks, start + (w * 7), 7)).ToArray();
        var site = Enumerable.Range(0, weeks).Select(w => (double)Sum(total, start + (w * 7), 7)).ToArray();
        var (best, at) = (double.NegativeInfinity, weeks - 1);
        for (var week = 1; week < weeks; week++)
        {
            var (before, after) = (LogLikelihood(own[..week].Sum(), site[..week].Sum()), LogLikelihood(own[week..].Sum(), site[week..].Sum()));
            // Only a step down is the beginning of a loss.
            if (own[week..].Sum() * site[..week].Sum() < own[..week].Sum() * site[week..].Sum() && before + after > best)
                (best, at) = (before + after, week);
        }

        return first.AddDays(start + (at * 7));
    }

    private static double LogLikelihood(double clicks, double exposure) => clicks > 0 && exposure > 0 ? (clicks * Math.Log(clicks / exposure)) - clicks : 0;

    private static long[] TotalOf(IReadOnlyList<long[]> clicks)
    {
        var total = new long[clicks[0].Length];
        foreach (var page in clicks)
        {
            for (var day = 0; day < total.Length; day++)
                total[day] += page[day];
        }

        return total;
    }

    private static long Sum(long[] clicks, int start) => Sum(clicks, start, Days);

    private static long Sum(long[] clicks, int start, int days)
    {
        var sum = 0L;
        for (var day = start; day < start + days; day++)
            sum += clicks[day];
        return sum;
    }
}
