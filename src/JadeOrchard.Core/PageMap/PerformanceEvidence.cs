using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Performance;

namespace JadeOrchard.Core.PageMap;

/// <summary>How far the site's own visitors from a cluster's searches come to a page.</summary>
/// <remarks>
/// The page's share of the clicks of the cluster's queries, of their impressions where there are fewer than
/// <see cref="FewClicks"/> clicks, times n / (n + damping), n being all of those: half is believed of <see cref="ClicksBelieved"/> clicks or
/// <see cref="ImpressionsBelieved"/> impressions, whatever the demand. The numbers are from memory.
/// </remarks>
public static class PerformanceEvidence
{
    /// <summary>With fewer clicks impressions tell more.</summary>
    public const long FewClicks = 10;

    /// <summary>Clicks of which half is believed.</summary>
    public const double ClicksBelieved = 20;

    /// <summary>Impressions of which half is believed, where there are few clicks.</summary>
    public const double ImpressionsBelieved = 200;

    /// <param name="cluster">The cluster.</param>
    /// <param name="performance">The site's search performance.</param>
    /// <returns>For each page its share, above 0 and below 1; null where no query of the cluster was seen.</returns>
    public static Dictionary<int, double>? Of(Cluster cluster, SearchPerformance performance)
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
        var damping = byClicks ? ClicksBelieved : ImpressionsBelieved;
        return pages
            .Select(p => (p.Key, Part: byClicks ? p.Value.Clicks : p.Value.Impressions))
            .Where(p => p.Part > 0)
            .ToDictionary(p => p.Key, p => p.Part / (all + damping));
    }
}
