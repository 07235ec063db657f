using JadeOrchard.Core.Performance;

namespace JadeOrchard.Core.Refresh;

/// <summary>Why clicks changed from one span to another: the parts add up to the change.</summary>
/// <param name="ByPosition">By the share of clicks that the positions earn.</param>
/// <param name="BySearches">By how often the page was shown.</param>
/// <param name="ByClickRate">By how the clicks compare with what the positions earn.</param>
public readonly record struct ClickShift(double ByPosition, double BySearches, double ByClickRate)
{
    /// <summary>The change as a whole.</summary>
    public double Total => ByPosition + BySearches + ByClickRate;

    /// <summary>
    /// The change of one query: clicks are impressions times the share at the position times what the page gets of that share. Each factor counts for its mean contribution over all
    /// orders in which the three could have changed (Shapley, "A value for n-person games", 1953). A query that was not shown in one of the spans changed by its searches alone.
    /// </summary>
    /// <param name="before">The earlier span.</param>
    /// <param name="now">The later one.</param>
    /// <param name="share">The share of clicks that a position earns, more than 0.</param>
    public static ClickShift Of(QuerySpan before, QuerySpan now, Func<double, double> share)
    {
        if (before.Impressions == 0 || now.Impressions == 0)
            return new ClickShift(0, now.Clicks - before.Clicks, 0);
        double[] old = [share(before.Position), before.Impressions, 0], current = [share(now.Position), now.Impressions, 0];
        (old[2], current[2]) = (before.Clicks / (old[0] * old[1]), now.Clicks / (current[0] * current[1]));
        var parts = new double[3];
        for (var factor = 0; factor < 3; factor++)
        {
            var (a, b) = ((factor + 1) % 3, (factor + 2) % 3);
            var change = current[factor] - old[factor];
            // First, last, and in the middle after either of the others.
            parts[factor] = change * ((old[a] * old[b] / 3) + (current[a] * current[b] / 3) + (((current[a] * old[b]) + (old[a] * current[b])) / 6));
        }

        return new ClickShift(parts[0], parts[1], parts[2]);
    }

    /// <returns>The sum of some changes.</returns>
    public static ClickShift Sum(IEnumerable<ClickShift> shifts) => shifts.Aggregate(default(ClickShift), (a, b) => new ClickShift(a.ByPosition + b.ByPosition, a.BySearches + b.BySearches, a.ByClickRate + b.ByClickRate));
}
