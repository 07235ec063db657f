using System.Collections.Immutable;

namespace JadeOrchard.Core.Briefs;

/// <summary>Few sets that cover much.</summary>
public static class MaximumCoverage
{
    /// <summary>
    /// Repeatedly takes the set that adds the most weight: at least 1 − 1/e of the best that this many sets can cover (Nemhauser, Wolsey and Fisher, "An analysis of approximations for
    /// maximizing submodular set functions", 1978). Time: sets × elements for each that is taken.
    /// </summary>
    /// <param name="sets">For each set its elements.</param>
    /// <param name="weights">Of the elements, from 0.</param>
    /// <param name="most">Sets to take.</param>
    /// <param name="fits">Whether a set can be taken with those that were taken before; null for any.</param>
    /// <returns>The sets in the order in which they were taken; of equal ones the first; none that adds nothing.</returns>
    public static ImmutableArray<int> Greedy(IReadOnlyList<IReadOnlyCollection<int>> sets, IReadOnlyList<double> weights, int most, Func<IReadOnlyList<int>, int, bool>? fits = null)
    {
        var (covered, taken) = (new HashSet<int>(), new List<int>());
        while (taken.Count < most)
        {
            var (best, gain) = (-1, 0.0);
            for (var i = 0; i < sets.Count; i++)
            {
                var adds = sets[i].Where(e => !covered.Contains(e)).Distinct().Sum(e => weights[e]);
                if (adds > gain && !taken.Contains(i) && fits?.Invoke(taken, i) != false)
                    (best, gain) = (i, adds);
            }

            if (best < 0)
                break;
            taken.Add(best);
            covered.UnionWith(sets[best]);
        }

        return [.. taken];
    }
}
