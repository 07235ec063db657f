using System.Collections.Immutable;
using JadeOrchard.Core.Performance;

namespace JadeOrchard.Core.Findings;

/// <summary>The site's best-ranking page for searches of a cluster alternates between captures or weeks.</summary>
/// <remarks>
/// Alternates: it changes away and back, twice or more; one change for good is a replacement. Two pages at equal positions change places by chance as
/// well, so the changes must be more than in 99 % of the orders in which the same captures and weeks could have come (a permutation test, Good,
/// "Permutation, Parametric and Bootstrap Tests of Hypotheses", 2005; all keywords of the cluster change order together, since what moves one of them
/// mostly moves the others). Silent as <see cref="RivalsInResults"/> is. At stake: the clicks that go to the page which is not the cluster's: counted where search performance tells,
/// else what the keyword brings at the best position now, by the share of captures at which it was best.
/// Cost: one pass over the cluster's queries.
/// </remarks>
public static class PageSwap
{
    /// <summary>Changes of the best page, at least.</summary>
    public const int FewestChanges = 2;

    /// <summary>Orders that are tried.</summary>
    private const int Orders = 999;

    /// <summary>The share of orders with as many changes that chance may bring about.</summary>
    private const double Level = 0.01;

    public static IEnumerable<Sign> Find(SiteFacts site, int cluster)
    {
        var swaps = site.QueriesOf(site.Clusters[cluster])
            .SelectMany(k => new[]
            {
                (Keyword: k, Bests: site.Captures.TryGetValue(k, out var captures) ? captures : []),
                (Keyword: k, Bests: site.Performance.Weeks(k)),
            })
            .Select(s => (s.Keyword, s.Bests, Pages: Alternating(s.Bests)))
            .Where(s => s.Pages is not null)
            .Select(s => (s.Keyword, s.Bests, Pages: s.Pages!.Value))
            .ToList();
        foreach (var pair in swaps.GroupBy(s => s.Pages).OrderBy(g => g.Key))
        {
            var (a, b) = pair.Key;
            var mapped = site.Map[cluster].Page;
            var (page, other) = mapped == b || (mapped != a && pair.Sum(s => s.Bests.Count(x => x.Page == b)) > pair.Sum(s => s.Bests.Count(x => x.Page == a))) ? (b, a) : (a, b);
            if ((site.StrongestIn(cluster) == page && site.IsAtHomeElsewhere(other, cluster)) || !IsMoreThanChance([.. pair.Select(s => s.Bests)], a, b))
                continue;
            // A keyword that swaps both in captures and in weeks counts once, by the longer series.
            var facts = pair.GroupBy(s => s.Keyword).Select(g => g.MaxBy(s => s.Bests.Length))
                .Select(s => Fact(site, s.Keyword, s.Bests, page, other))
                .InOrder();
            yield return Sign.Of(SignKind.PageSwap, cluster, page, other, facts);
        }
    }

    private static SignFact Fact(SiteFacts site, int keyword, ImmutableArray<BestPage> bests, int page, int other)
    {
        PageFigures Of(int which) => site.Performance.Of(keyword).ToArray().FirstOrDefault(f => f.Page == which);
        var share = (double)bests.Count(b => b.Page == other) / bests.Length;
        var (mine, its) = (Of(page), Of(other));
        var best = site.StandingsOf(keyword).Select(s => s.Position).DefaultIfEmpty(0).Min();
        return new SignFact(
            keyword,
            mine.Impressions > 0 ? mine.Position : site.PositionOf(keyword, page),
            its.Impressions > 0 ? its.Position : site.PositionOf(keyword, other),
            its.Impressions > 0 ? site.Performance.Monthly(its.Clicks) : site.Clicks(keyword, best) * share,
            share,
            BestPages.Changes(bests));
    }

    /// <returns>The two pages that were best most often, the smaller index first; null where none alternate.</returns>
    private static (int, int)? Alternating(ImmutableArray<BestPage> bests)
    {
        if (bests.Length < FewestChanges + 1 || BestPages.Changes(bests) < FewestChanges)
            return null;
        var often = bests.GroupBy(b => b.Page).Select(g => (Page: g.Key, Times: g.Count())).OrderByDescending(g => g.Times).ThenBy(g => g.Page).Take(2).ToList();
        if (often.Count < 2)
            return null;
        var between = bests.Where(b => b.Page == often[0].Page || b.Page == often[1].Page).ToImmutableArray();
        return BestPages.Changes(between) < FewestChanges ? null : (Math.Min(often[0].Page, often[1].Page), Math.Max(often[0].Page, often[1].Page));
    }

    /// <summary>Tells whether two pages alternate more often than chance would have it.</summary>
    /// <param name="series">For keywords, by capture or by week, the best page each time.</param>
    /// <param name="a">One page.</param>
    /// <param name="b">The other; further pages are passed over.</param>
    public static bool IsMoreThanChance(IReadOnlyList<ImmutableArray<BestPage>> series, int a, int b)
    {
        DateOnly[] days = [.. series.SelectMany(s => s).Select(x => x.Day).Distinct().Order()];
        var place = days.Select((day, i) => (day, i)).ToDictionary(d => d.day, d => d.i);
        // For each series the page at each place: 0 or 1, and -1 where neither was best.
        var sides = series.Select(bests =>
        {
            var at = new sbyte[days.Length];
            Array.Fill(at, (sbyte)-1);
            foreach (var best in bests.Where(x => x.Page == a || x.Page == b))
                at[place[best.Day]] = (sbyte)(best.Page == a ? 0 : 1);
            return at;
        }).ToList();
        int[] order = [.. Enumerable.Range(0, days.Length)];
        var seen = Changes();
        var random = new Random(days.Length);
        var (asMany, most) = (0, (int)Math.Ceiling(Level * (Orders + 1)) - 2);
        for (var i = 0; i < Orders && asMany <= most; i++)
        {
            random.Shuffle(order);
            asMany += Changes() >= seen ? 1 : 0;
        }

        return asMany <= most;

        int Changes()
        {
            var changes = 0;
            foreach (var at in sides)
            {
                var last = -1;
                foreach (var day in order)
                {
                    if (at[day] < 0)
                        continue;
                    changes += last >= 0 && last != at[day] ? 1 : 0;
                    last = at[day];
                }
            }

            return changes;
        }
    }
}
