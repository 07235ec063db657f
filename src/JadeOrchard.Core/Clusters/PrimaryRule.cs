using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>The default linking rule: clusters form around the keywords that matter most.</summary>
/// <remarks>
/// Keywords are taken by volume, highest first. The first without a cluster becomes a primary and gathers every free
/// keyword that overlaps it by the minimum. Then each secondary keyword goes to the primary that it overlaps most
/// (ties: rank-biased overlap, then the primary's volume, then its normal form), so that it does not matter who came
/// first among near equals. O(pairs).
/// </remarks>
public static class PrimaryRule
{
    /// <summary>Differences below this are rounding, not rank.</summary>
    private const double SameRankBiasedOverlap = 1e-9;

    /// <param name="order">Keywords in keyword order.</param>
    /// <param name="ranks">The place of each keyword in that order.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    /// <param name="links">Pairs that overlap by the minimum or more.</param>
    /// <returns>For each keyword its primary; a primary is its own.</returns>
    internal static int[] PrimaryOfEach(int[] order, int[] ranks, ResultLists lists, OverlapLinks links)
    {
        const int free = -1;
        var primaryOf = new int[order.Length];
        Array.Fill(primaryOf, free);
        foreach (var keyword in order)
        {
            if (primaryOf[keyword] != free)
                continue;
            primaryOf[keyword] = keyword;
            foreach (var (neighbour, _) in links.Of(keyword))
            {
                if (primaryOf[neighbour] == free)
                    primaryOf[neighbour] = keyword;
            }
        }

        var settled = (int[])primaryOf.Clone();
        foreach (var keyword in order)
        {
            if (primaryOf[keyword] != keyword)
                settled[keyword] = BestPrimary(keyword, primaryOf, ranks, lists, links);
        }

        return settled;
    }

    private static int BestPrimary(int keyword, int[] primaryOf, int[] ranks, ResultLists lists, OverlapLinks links)
    {
        int best = -1, bestCount = 0;
        double bestRbo = -1;
        foreach (var (candidate, count) in links.Of(keyword))
        {
            if (primaryOf[candidate] != candidate || count < bestCount)
                continue;
            // Only ties need the rankings compared.
            var rbo = count > bestCount ? -1 : RankBiasedOverlap.Extrapolated(lists.Urls(keyword), lists.Urls(candidate));
            if (count == bestCount)
            {
                if (bestRbo < 0)
                    bestRbo = RankBiasedOverlap.Extrapolated(lists.Urls(keyword), lists.Urls(best));
                if (rbo < bestRbo - SameRankBiasedOverlap)
                    continue;
                if (rbo <= bestRbo + SameRankBiasedOverlap && ranks[candidate] > ranks[best])
                    continue;
            }

            (best, bestCount, bestRbo) = (candidate, count, rbo);
        }

        return best;
    }
}
