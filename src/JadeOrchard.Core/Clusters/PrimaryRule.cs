using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>The default linking rule: clusters form around the keywords that matter most.</summary>
/// <remarks>
/// Keywords are taken by volume, highest first. The first without a cluster becomes a primary and gathers every free
/// keyword that overlaps it by the minimum. Then each secondary keyword goes to the primary that it overlaps most
/// (ties: rank-biased overlap, then the primary's volume, then its normal form), so that it does not matter who came
/// first among near equals. Only the neighbourhoods of the primaries are gone through: every primary that a keyword
/// overlaps is one of those that it is a neighbour of, and primaries do not overlap each other.
/// </remarks>
public static class PrimaryRule
{
    /// <summary>Differences below this are rounding, not rank.</summary>
    private const double SameRankBiasedOverlap = 1e-9;

    /// <param name="order">Keywords in keyword order.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    /// <param name="neighbours">Who overlaps whom.</param>
    /// <returns>For each keyword its primary; a primary is its own.</returns>
    internal static int[] PrimaryOfEach(int[] order, ResultLists lists, Neighbours neighbours)
    {
        const int free = -1;
        var best = new int[order.Length];
        var overlaps = new int[order.Length];
        var similarities = new double[order.Length];
        Array.Fill(best, free);
        foreach (var primary in order)
        {
            if (best[primary] != free)
                continue;
            best[primary] = primary;
            foreach (var (keyword, overlap) in neighbours(primary))
            {
                // Primaries come in keyword order, so that among equals the first stays.
                if (best[keyword] == free || overlap > overlaps[keyword])
                    (best[keyword], overlaps[keyword], similarities[keyword]) = (primary, overlap, double.NaN);
                else if (overlap == overlaps[keyword])
                    SettleTie(keyword, primary);
            }
        }

        return best;

        // Only ties need the rankings compared.
        void SettleTie(int keyword, int primary)
        {
            if (double.IsNaN(similarities[keyword]))
                similarities[keyword] = RankBiasedOverlap.Extrapolated(lists.Urls(keyword), lists.Urls(best[keyword]));
            var similarity = RankBiasedOverlap.Extrapolated(lists.Urls(keyword), lists.Urls(primary));
            if (similarity > similarities[keyword] + SameRankBiasedOverlap)
                (best[keyword], similarities[keyword]) = (primary, similarity);
        }
    }
}
