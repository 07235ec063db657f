using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>The default linking rule: clusters form around the keywords that matter most.</summary>
/// <remarks>
/// Keywords are taken by volume, highest first. The first without a cluster becomes a primary and gathers every free
/// keyword that overlaps it by the minimum. Then each secondary keyword goes to the primary that it overlaps most
/// (ties: rank-biased overlap, then the primary's volume, then its normal form), so that it does not matter who came
/// first among near equals. Only the neighbourhoods of the primaries are gone through: every primary that a keyword
/// overlaps is one of those that it is a neighbour of, and primaries do not overlap each other. With clusters that are to hold, see
/// <see cref="PreviousClusters"/>.
/// </remarks>
public static class PrimaryRule
{
    /// <summary>Differences below this are rounding, not rank.</summary>
    private const double SameRankBiasedOverlap = 1e-9;

    /// <param name="order">Keywords in keyword order.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    /// <param name="neighbours">Who overlaps whom.</param>
    /// <returns>For each keyword its primary, a primary being its own; and the bridges of the clusters that follow.</returns>
    internal static (int[] PrimaryOf, Bridges Bridges) PrimaryOfEach(int[] order, ResultLists lists, Neighbours neighbours)
    {
        const int free = -1;
        var best = new int[order.Length];
        var overlaps = new int[order.Length];
        var similarities = new double[order.Length];
        // Of the other primaries the one that is overlapped most, by the number of its cluster.
        var (other, otherOverlaps) = (new int[order.Length], new int[order.Length]);
        var numbers = new int[order.Length];
        var count = 0;
        Array.Fill(best, free);
        Array.Fill(other, -1);
        foreach (var primary in order)
        {
            if (best[primary] != free)
                continue;
            best[primary] = primary;
            if (lists.IsCaptured(primary))
                numbers[primary] = count++;
            foreach (var (keyword, overlap) in neighbours(primary))
            {
                // Primaries come in keyword order, so that among equals the first stays.
                if (best[keyword] == free)
                    (best[keyword], overlaps[keyword], similarities[keyword]) = (primary, overlap, double.NaN);
                else if (overlap > overlaps[keyword])
                {
                    Pass(keyword, best[keyword], overlaps[keyword]);
                    (best[keyword], overlaps[keyword], similarities[keyword]) = (primary, overlap, double.NaN);
                }
                else if (overlap == overlaps[keyword])
                    SettleTie(keyword, primary);
                else
                    Pass(keyword, primary, overlap);
            }
        }

        return (best, new Bridges(other, otherOverlaps));

        void Pass(int keyword, int primary, int overlap)
        {
            if (overlap > otherOverlaps[keyword] || (overlap == otherOverlaps[keyword] && numbers[primary] < other[keyword]))
                (other[keyword], otherOverlaps[keyword]) = (numbers[primary], overlap);
        }

        // Only ties need the rankings compared.
        void SettleTie(int keyword, int primary)
        {
            if (double.IsNaN(similarities[keyword]))
                similarities[keyword] = RankBiasedOverlap.Extrapolated(lists.Urls(keyword), lists.Urls(best[keyword]));
            var similarity = RankBiasedOverlap.Extrapolated(lists.Urls(keyword), lists.Urls(primary));
            if (similarity > similarities[keyword] + SameRankBiasedOverlap)
                (primary, best[keyword], similarities[keyword]) = (best[keyword], primary, similarity);
            Pass(keyword, primary, overlaps[keyword]);
        }
    }

    /// <summary>As above, where clusters are to hold.</summary>
    /// <param name="order">Keywords in keyword order.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    /// <param name="neighbours">Who overlaps whom.</param>
    /// <param name="minOverlap">m.</param>
    /// <param name="previous">What is to hold.</param>
    /// <returns>For each keyword its primary; and the keywords that would be elsewhere if nothing held them, in keyword order.</returns>
    internal static (int[] PrimaryOf, int[] HeldBack) PrimaryOfEach(int[] order, ResultLists lists, Neighbours neighbours, int minOverlap, PreviousClusters previous)
    {
        const int free = -1;
        var standIns = previous.StandIns(order, lists.IsCaptured);
        var isPrimary = new bool[order.Length];
        var isStandIn = new bool[order.Length];
        foreach (var keyword in standIns.Where(k => k >= 0))
            isStandIn[keyword] = true;
        foreach (var keyword in order.Where(k => isStandIn[k]))
        {
            var givesWay = false;
            foreach (var (other, overlap) in neighbours(keyword))
                givesWay |= isPrimary[other] && overlap >= minOverlap + previous.Margin;
            isPrimary[keyword] = !givesWay;
        }

        int[] best = new int[order.Length], overlaps = new int[order.Length], held = new int[order.Length], own = new int[order.Length], most = new int[order.Length];
        var similarities = new double[order.Length];
        Array.Fill(best, free);
        Array.Fill(held, free);
        foreach (var keyword in order)
        {
            if (previous.ClusterOf[keyword] is not (var cluster and >= 0) || standIns[cluster] is not (var primary and >= 0) || !isPrimary[primary] || !lists.IsCaptured(keyword))
                continue;
            own[keyword] = Overlap.Count(lists.Urls(keyword), lists.Urls(primary));
            if (keyword != primary && own[keyword] < Math.Max(1, minOverlap - previous.Margin))
                continue;
            // Another one must share the margin more to be ahead of this.
            (held[keyword], best[keyword], overlaps[keyword]) = (primary, primary, keyword == primary ? int.MaxValue : own[keyword] + previous.Margin - 1);
        }

        foreach (var primary in order.Where(k => isPrimary[k]).Concat(order.Where(k => !isPrimary[k])))
        {
            if (best[primary] != free && !isPrimary[primary])
                continue;
            best[primary] = primary;
            foreach (var (keyword, overlap) in neighbours(primary))
            {
                if (isPrimary[keyword] || held[keyword] == primary || best[keyword] == keyword)
                    continue;
                most[keyword] = Math.Max(most[keyword], overlap);
                if (best[keyword] == free || overlap > overlaps[keyword])
                    (best[keyword], overlaps[keyword], similarities[keyword]) = (primary, overlap, double.NaN);
                else if (overlap == overlaps[keyword] && best[keyword] != held[keyword])
                {
                    if (double.IsNaN(similarities[keyword]))
                        similarities[keyword] = RankBiasedOverlap.Extrapolated(lists.Urls(keyword), lists.Urls(best[keyword]));
                    var similarity = RankBiasedOverlap.Extrapolated(lists.Urls(keyword), lists.Urls(primary));
                    if (similarity > similarities[keyword] + SameRankBiasedOverlap)
                        (best[keyword], similarities[keyword]) = (primary, similarity);
                }
            }
        }

        return (best, [.. order.Where(k => held[k] != free && held[k] != k && best[k] == held[k] && (most[k] > own[k] || own[k] < minOverlap))]);
    }
}
