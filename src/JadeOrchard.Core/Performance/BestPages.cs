using System.Collections.Immutable;

namespace JadeOrchard.Core.Performance;

/// <summary>Which page of the site stood best for a query as time went on.</summary>
public static class BestPages
{
    /// <summary>Impressions that the best page of a week needs to be told apart from chance (from memory).</summary>
    public const long FewestImpressions = 3;

    /// <summary>Positions by which it must be ahead of the next, for the same reason.</summary>
    public const double ClearLead = 0.5;

    /// <param name="rows">What pages got on days, in any order.</param>
    /// <returns>For each week, from Monday, the page with the best average position; weeks in which chance might tell are left out.</returns>
    public static ImmutableArray<BestPage> ByWeek(IEnumerable<(DateOnly Day, int Page, long Impressions, double Position)> rows) =>
    [
        .. rows.Where(r => r.Impressions > 0)
            .GroupBy(r => r.Day.AddDays(-(((int)r.Day.DayOfWeek + 6) % 7)))
            .OrderBy(week => week.Key)
            .Select(week => (Week: week.Key, Pages: week.GroupBy(r => r.Page)
                .Select(p => (Page: p.Key, Impressions: p.Sum(r => r.Impressions), Position: p.Sum(r => r.Position * r.Impressions) / p.Sum(r => r.Impressions)))
                .OrderBy(p => p.Position).ThenBy(p => p.Page)
                .ToList()))
            .Where(week => week.Pages[0].Impressions >= FewestImpressions && (week.Pages.Count == 1 || week.Pages[1].Position - week.Pages[0].Position >= ClearLead))
            .Select(week => new BestPage(week.Week, week.Pages[0].Page)),
    ];

    /// <returns>How often the best page is another than the one before it.</returns>
    public static int Changes(ImmutableArray<BestPage> bests)
    {
        var changes = 0;
        for (var i = 1; i < bests.Length; i++)
            changes += bests[i].Page == bests[i - 1].Page ? 0 : 1;
        return changes;
    }
}
