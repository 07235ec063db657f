using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.PageMap;

/// <summary>How far the site's own visitors from a cluster's searches come to a page.</summary>
/// <remarks>
/// The page's share of the clicks of the cluster's queries, of their impressions where there are fewer than
/// <see cref="FewClicks"/> clicks, times n / (n + damping), n being all of those. Little is measured by the demand: half is believed where
/// the site gets what the cluster would bring at the target position, but never of fewer than <see cref="LeastDamping"/>. So a page that
/// gets all of the few clicks the site has from a much searched cluster is not thereby its page. The numbers are from memory.
/// </remarks>
public static class PerformanceEvidence
{
    /// <summary>With fewer clicks impressions tell more.</summary>
    public const long FewClicks = 10;

    /// <summary>Clicks, or impressions, of which half is believed at most.</summary>
    public const double LeastDamping = 5;

    /// <param name="cluster">The cluster.</param>
    /// <param name="keywords">All keywords.</param>
    /// <param name="performance">The site's search performance.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    /// <returns>For each page its share, above 0 and below 1; null where no query of the cluster was seen.</returns>
    public static Dictionary<int, double>? Of(Cluster cluster, IReadOnlyList<Keyword> keywords, SearchPerformance performance, ClickCurve curve)
    {
        long clicks = 0, impressions = 0;
        var pages = new Dictionary<int, Visits>();
        foreach (var keyword in cluster.Members)
        {
            foreach (var figures in performance.Of(keyword))
            {
                clicks += figures.Clicks;
                impressions += figures.Impressions;
                var (c, i) = pages.GetValueOrDefault(figures.Page);
                pages[figures.Page] = new Visits(c + figures.Clicks, i + figures.Impressions);
            }
        }

        if (impressions == 0)
            return null;
        var byClicks = clicks >= FewClicks;
        var all = byClicks ? clicks : impressions;
        var searches = cluster.Members.Sum(k => (double)(keywords[k].Volume ?? 0)) / performance.Monthly(1);
        var damping = Math.Max(LeastDamping, byClicks ? searches * curve.At(ClickCurve.TargetPosition) : searches);
        return pages
            .Select(p => (p.Key, Part: byClicks ? p.Value.Clicks : p.Value.Impressions))
            .Where(p => p.Part > 0)
            .ToDictionary(p => p.Key, p => p.Part / (all + damping));
    }
}
