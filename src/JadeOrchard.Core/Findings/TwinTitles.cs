namespace JadeOrchard.Core.Findings;

/// <summary>Cannibalization: the titles or main headings of two pages are near duplicates.</summary>
/// <remarks>
/// The Jaccard index of their sets of stems, |A ∩ B| / |A ∪ B| (Jaccard 1912), is 0.8 or more. All such pairs are found exactly, by the prefix
/// filter of Bayardo, Ma and Srikant (WWW 2007): two sets that alike share one of the rarest stems of each. At stake: the clicks of the weaker page, counted
/// where search performance tells, else estimated. Cost: the pages that share a rare stem.
/// </remarks>
public static class TwinTitles
{
    /// <summary>How alike twins are at least.</summary>
    public const double Alike = 0.8;

    public static IEnumerable<Finding> Find(SiteFacts site)
    {
        var alike = new SortedDictionary<(int, int), double>();
        foreach (var sets in new[] { site.Titles.Titles, site.Titles.H1s })
        {
            foreach (var (a, b, share) in Pairs(sets, site.Titles.StemCount))
                alike[(a, b)] = Math.Max(share, alike.GetValueOrDefault((a, b)));
        }

        foreach (var ((a, b), share) in alike)
        {
            var (page, other) = ClicksOf(site, a) >= ClicksOf(site, b) ? (a, b) : (b, a);
            var atStake = ClicksOf(site, other);
            yield return new Finding(FindingKind.TwinTitles, null, null, page, other, atStake, [new FindingFact(null, 0, 0, atStake, share)]);
        }
    }

    /// <param name="sets">Numbers from 0, each once, ascending; an empty set is like none.</param>
    /// <param name="numbers">One more than the greatest number.</param>
    /// <returns>The pairs that are alike, the smaller index first, with their Jaccard index.</returns>
    public static IEnumerable<(int A, int B, double Share)> Pairs(IReadOnlyList<int[]> sets, int numbers)
    {
        var frequency = new int[numbers];
        foreach (var set in sets)
        {
            foreach (var number in set)
                frequency[number]++;
        }

        var postings = new Dictionary<int, List<int>>();
        for (var b = 0; b < sets.Count; b++)
        {
            var rarest = sets[b].OrderBy(n => frequency[n]).ThenBy(n => n).Take(sets[b].Length - (int)Math.Ceiling((Alike * sets[b].Length) - 1e-9) + 1).ToArray();
            var met = new HashSet<int>();
            foreach (var number in rarest)
            {
                if (!postings.TryGetValue(number, out var with))
                    postings[number] = with = [];
                foreach (var a in with)
                    met.Add(a);
                with.Add(b);
            }

            foreach (var a in met.Order())
            {
                var common = sets[a].Intersect(sets[b]).Count();
                var share = (double)common / (sets[a].Length + sets[b].Length - common);
                if (share >= Alike)
                    yield return (a, b, share);
            }
        }
    }

    private static double ClicksOf(SiteFacts site, int page) =>
        site.Performance.IsKnown ? site.Performance.Monthly(site.Performance.ClicksOf(page)) : site.EstimatedClicks(page);
}
