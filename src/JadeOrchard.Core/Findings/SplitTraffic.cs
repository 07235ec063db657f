using JadeOrchard.Core.Performance;

namespace JadeOrchard.Core.Findings;

/// <summary>A query's impressions go to several pages of the site.</summary>
/// <remarks>
/// The effective number of pages is 1/HHI, the Herfindahl–Hirschman index HHI being the sum of the squared shares (Hirschman,
/// "The Paternity of an Index", American Economic Review 54, 1964). A query is split where that is 1.5 or more and two pages or more have a tenth
/// each. Pages further down than <see cref="SiteFacts.SeenDepth"/> and queries with few impressions do not count. One finding for each
/// page beside the one that should stand there; silent as <see cref="RivalsInResults"/> is. At stake: the clicks per month that the other
/// page got, counted. Cost: one pass over the cluster's queries.
/// </remarks>
public static class SplitTraffic
{
    /// <summary>Pages between which the impressions of a split query go, at least.</summary>
    public const double FewestPages = 1.5;

    /// <summary>The share of the impressions that a page needs to count.</summary>
    public const double LeastShare = 0.1;

    /// <summary>Impressions of a query, within the days that count, from which shares mean something (from memory).</summary>
    public const long FewestImpressions = 20;

    /// <summary>1 / Σ share².</summary>
    /// <param name="impressions">Of each page; not all 0.</param>
    public static double EffectivePages(IEnumerable<long> impressions)
    {
        double sum = 0, squares = 0;
        foreach (var count in impressions)
        {
            sum += count;
            squares += (double)count * count;
        }

        return sum * sum / squares;
    }

    public static IEnumerable<Sign> Find(SiteFacts site, int cluster)
    {
        if (!site.Performance.IsKnown)
            yield break;
        var split = site.QueriesOf(site.Clusters[cluster]).Select(k => (Keyword: k, Pages: Split(site.Performance.Of(k)))).Where(s => s.Pages.Count > 0).ToList();
        if (split.Count == 0)
            yield break;
        var visits = site.VisitsByPage(site.Clusters[cluster]);
        var page = site.Map[cluster].Page is { } mapped && visits.ContainsKey(mapped) ? mapped : SiteFacts.Most(visits);
        foreach (var other in split.SelectMany(s => s.Pages).Select(p => p.Page).Where(p => p != page).Distinct().Order())
        {
            if (visits[page] >= visits[other] && site.IsAtHomeElsewhere(other, cluster))
                continue;
            var facts = split
                .Where(s => s.Pages.Any(p => p.Page == other) && s.Pages.Any(p => p.Page == page))
                .Select(s =>
                {
                    var (mine, its) = (s.Pages.First(p => p.Page == page), s.Pages.First(p => p.Page == other));
                    var all = s.Pages.Sum(p => p.Impressions);
                    return new SignFact(
                        s.Keyword, mine.Position, its.Position, site.Performance.Monthly(its.Clicks), (double)its.Impressions / all, EffectivePages(s.Pages.Select(p => p.Impressions)));
                })
                .InOrder();
            if (facts.Length > 0)
                yield return Sign.Of(SignKind.SplitTraffic, cluster, page, other, facts);
        }
    }

    /// <returns>The pages between which a query is split; none where it is not.</returns>
    private static List<PageFigures> Split(ReadOnlySpan<PageFigures> figures)
    {
        if (figures.Length < 2)
            return [];
        var seen = figures.ToArray().Where(f => f.Position <= SiteFacts.SeenDepth && f.Impressions > 0).ToList();
        var all = seen.Sum(f => f.Impressions);
        if (all < FewestImpressions || EffectivePages(seen.Select(f => f.Impressions)) < FewestPages)
            return [];
        var split = seen.Where(f => f.Impressions >= LeastShare * all).ToList();
        return split.Count < 2 ? [] : split;
    }
}
