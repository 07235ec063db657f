using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;

namespace JadeOrchard.Core.PageMap;

/// <summary>Suggests a page for every cluster at once, each page for one cluster at most.</summary>
public static class PageSuggestions
{
    /// <summary>Strength from which a page that is ahead is clear.</summary>
    public const double ClearStrength = 25;

    /// <summary>By how much a clear page is ahead of the next.</summary>
    public const double ClearLead = 10;

    /// <summary>Strength below which a page is none.</summary>
    public const double DoubtfulStrength = 10;

    /// <param name="clusters">The clusters.</param>
    /// <param name="evidence">Which pages could stand for a cluster.</param>
    /// <returns>One for each cluster. The total strength is the greatest there can be (<see cref="Assignment"/>).</returns>
    public static ImmutableArray<ClusterSuggestion> For(IReadOnlyList<Cluster> clusters, PageCandidates evidence)
    {
        var candidates = clusters.Select(evidence.Of).ToArray();
        var assigned = Assignment.Best(
            evidence.PageCount,
            [.. candidates.Select(c => (IReadOnlyList<(int, double)>)
                [.. c.Where(e => e.Strength >= DoubtfulStrength).Select(e => (e.Page, e.Strength))])]);
        var clusterOfPage = new Dictionary<int, int>();
        for (var c = 0; c < assigned.Length; c++)
        {
            if (assigned[c] >= 0)
                clusterOfPage[assigned[c]] = c;
        }

        return [.. candidates.Select((ranked, c) => Judged(ranked, assigned[c], clusterOfPage))];
    }

    private static ClusterSuggestion Judged(
        ImmutableArray<PageEvidence> ranked, int page, Dictionary<int, int> clusterOfPage)
    {
        var strongest = ranked.FirstOrDefault();
        int? lostTo = strongest is not null && strongest.Page != page && strongest.Strength >= DoubtfulStrength
            && clusterOfPage.TryGetValue(strongest.Page, out var winner) ? winner : null;
        if (page < 0)
            return new ClusterSuggestion(ranked, null, Verdict.None, lostTo);
        var chosen = ranked.First(e => e.Page == page);
        var next = ranked.Where(e => e.Page != page).Select(e => e.Strength).DefaultIfEmpty(0).Max();
        var clear = chosen.Strength >= ClearStrength && chosen.Strength - next >= ClearLead;
        return new ClusterSuggestion(ranked, page, clear ? Verdict.Clear : Verdict.Doubtful, lostTo);
    }
}
