using System.Collections.Immutable;
using JadeOrchard.Core.Performance;

namespace JadeOrchard.Core.Findings;

/// <summary>Cannibalization: the site's best-ranking page for a keyword alternates between captures or weeks.</summary>
/// <remarks>
/// Alternates: it changes away and back, twice or more; one change for good is a replacement. In weeks of search
/// performance both pages must have been best in two at least, which chance does not bring about. Silent as
/// <see cref="RivalsInResults"/> is. At stake: the clicks that go to the page which is not the cluster's: counted where search performance tells,
/// else what the keyword brings at the best position now, by the share of captures at which it was best.
/// Cost: one pass over the cluster's queries.
/// </remarks>
public static class PageSwap
{
    /// <summary>Changes of the best page, at least.</summary>
    public const int FewestChanges = 2;

    private const int FewestWeeks = 2;

    public static IEnumerable<Finding> Find(SiteFacts site, int cluster)
    {
        var swaps = site.QueriesOf(site.Clusters[cluster])
            .SelectMany(k => new[]
            {
                (Keyword: k, Bests: site.Captures.TryGetValue(k, out var captures) ? captures : [], Least: 1),
                (Keyword: k, Bests: site.Performance.Weeks(k), Least: FewestWeeks),
            })
            .Select(s => (s.Keyword, s.Bests, Pages: Alternating(s.Bests, s.Least)))
            .Where(s => s.Pages is not null)
            .Select(s => (s.Keyword, s.Bests, Pages: s.Pages!.Value))
            .ToList();
        foreach (var pair in swaps.GroupBy(s => s.Pages).OrderBy(g => g.Key))
        {
            var (a, b) = pair.Key;
            var mapped = site.Map[cluster].Page;
            var (page, other) = mapped == b || (mapped != a && pair.Sum(s => s.Bests.Count(x => x.Page == b)) > pair.Sum(s => s.Bests.Count(x => x.Page == a))) ? (b, a) : (a, b);
            if (site.StrongestIn(cluster) == page && site.IsAtHomeElsewhere(other, cluster))
                continue;
            // A keyword that swaps both in captures and in weeks counts once, by the longer series.
            var facts = pair.GroupBy(s => s.Keyword).Select(g => g.MaxBy(s => s.Bests.Length))
                .Select(s => Fact(site, s.Keyword, s.Bests, page, other))
                .InOrder();
            yield return Finding.Of(FindingKind.PageSwap, cluster, page, other, facts);
        }
    }

    private static FindingFact Fact(SiteFacts site, int keyword, ImmutableArray<BestPage> bests, int page, int other)
    {
        PageFigures Of(int which) => site.Performance.Of(keyword).ToArray().FirstOrDefault(f => f.Page == which);
        var share = (double)bests.Count(b => b.Page == other) / bests.Length;
        var (mine, its) = (Of(page), Of(other));
        var best = site.StandingsOf(keyword).Select(s => s.Position).DefaultIfEmpty(0).Min();
        return new FindingFact(
            keyword,
            mine.Impressions > 0 ? mine.Position : site.PositionOf(keyword, page),
            its.Impressions > 0 ? its.Position : site.PositionOf(keyword, other),
            its.Impressions > 0 ? site.Performance.Monthly(its.Clicks) : site.Clicks(keyword, best) * share,
            share,
            BestPages.Changes(bests));
    }

    /// <returns>The two pages that were best most often, the smaller index first; null where none alternate.</returns>
    private static (int, int)? Alternating(ImmutableArray<BestPage> bests, int least)
    {
        if (bests.Length < FewestChanges + 1 || BestPages.Changes(bests) < FewestChanges)
            return null;
        var often = bests.GroupBy(b => b.Page).Select(g => (Page: g.Key, Times: g.Count())).OrderByDescending(g => g.Times).ThenBy(g => g.Page).Take(2).ToList();
        if (often.Count < 2 || often[1].Times < least)
            return null;
        var between = bests.Where(b => b.Page == often[0].Page || b.Page == often[1].Page).ToImmutableArray();
        return BestPages.Changes(between) < FewestChanges ? null : (Math.Min(often[0].Page, often[1].Page), Math.Max(often[0].Page, often[1].Page));
    }
}
