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

    /// <summary>The share of a cluster's words that the page meant for it has in title, H1 and address (from memory).</summary>
    public const double MeantShare = 0.55;

    /// <summary>The suggested page has at most this part of them.</summary>
    public const double MeantLead = 0.7;

    /// <param name="clusters">The clusters.</param>
    /// <param name="evidence">Which pages could stand for a cluster.</param>
    /// <returns>One for each cluster. The total strength is the greatest there can be (<see cref="Assignment"/>).</returns>
    public static ImmutableArray<ClusterSuggestion> For(IReadOnlyList<Cluster> clusters, PageCandidates evidence)
    {
        var candidates = clusters.AsParallel().AsOrdered().WithDegreeOfParallelism(Environment.ProcessorCount).Select(evidence.Of).ToArray();
        var assigned = Assignment.Best(
            evidence.PageCount,
            [.. candidates.Select(c => (IReadOnlyList<(int, double)>)
                [.. c.Where(IsPossible).Select(e => (e.Page, e.Strength))])]);
        var clusterOfPage = new Dictionary<int, int>();
        for (var c = 0; c < assigned.Length; c++)
        {
            if (assigned[c] >= 0)
                clusterOfPage[assigned[c]] = c;
        }

        return [.. candidates.Select((ranked, c) => Judged(ranked, assigned[c], clusterOfPage))];
    }

    /// <summary>
    /// The page that is meant for a cluster where another is suggested because it stands or is visited: by title, H1 and address it is about the
    /// cluster, and the suggested one is not. Null where there is none.
    /// </summary>
    /// <param name="candidates">As <see cref="PageCandidates.Of"/> gives them.</param>
    /// <param name="suggested">The suggested page.</param>
    /// <param name="isTaken">True for a page that serves another cluster.</param>
    public static int? Meant(ImmutableArray<PageEvidence> candidates, int suggested, Func<int, bool> isTaken)
    {
        var named = candidates.FirstOrDefault(e => e.Page == suggested)?.Named ?? 1;
        return candidates
            .Where(e => e.Page != suggested && e.Named >= MeantShare && named <= MeantLead * e.Named && !isTaken(e.Page))
            .OrderByDescending(e => e.Named).ThenByDescending(e => e.Strength).ThenBy(e => e.Page)
            .Select(e => (int?)e.Page)
            .FirstOrDefault();
    }

    /// <summary>
    /// The page that a cluster counts with as long as nothing is decided: the suggested one. Where a far stronger page was suggested for another cluster,
    /// and stands or is visited for this one too, that one serves both, and the second best would raise what nobody would do.
    /// </summary>
    /// <param name="candidates">As <see cref="PageCandidates.Of"/> gives them.</param>
    /// <param name="suggested">The suggested page; null for none.</param>
    public static int? Counted(ImmutableArray<PageEvidence> candidates, int? suggested)
    {
        if (candidates.FirstOrDefault() is not { Strength: >= ClearStrength } strongest || !(strongest.Results > 0 || strongest.Performance > 0))
            return suggested;
        var strength = candidates.FirstOrDefault(e => e.Page == suggested)?.Strength ?? 0;
        return strongest.Strength - strength >= ClearLead ? strongest.Page : suggested;
    }

    /// <summary>How a cluster counts as long as nothing is decided.</summary>
    /// <param name="candidates">As <see cref="PageCandidates.Of"/> gives them.</param>
    /// <param name="suggested">The suggested page; null for none.</param>
    /// <param name="isTaken">True for a page that serves, or is suggested for, some cluster.</param>
    public static Findings.MappedPage Undecided(ImmutableArray<PageEvidence> candidates, int? suggested, Func<int, bool> isTaken)
    {
        var counted = Counted(candidates, suggested);
        return new(counted, IsDecided: false, IsPlanned: false, Meant: counted is { } page ? Meant(candidates, page, isTaken) : null);
    }

    private static bool IsPossible(PageEvidence evidence) => evidence.Strength >= DoubtfulStrength && evidence.IsCandidate;

    private static ClusterSuggestion Judged(
        ImmutableArray<PageEvidence> ranked, int page, Dictionary<int, int> clusterOfPage)
    {
        var strongest = ranked.FirstOrDefault();
        int? lostTo = strongest is not null && strongest.Page != page && IsPossible(strongest)
            && clusterOfPage.TryGetValue(strongest.Page, out var winner) ? winner : null;
        if (page < 0)
            return new ClusterSuggestion(ranked, null, Verdict.None, lostTo);
        var chosen = ranked.First(e => e.Page == page);
        var next = ranked.Where(e => e.Page != page).Select(e => e.Strength).DefaultIfEmpty(0).Max();
        var clear = chosen.Strength >= ClearStrength && chosen.Strength - next >= ClearLead && Meant(ranked, page, clusterOfPage.ContainsKey) is null;
        return new ClusterSuggestion(ranked, page, clear ? Verdict.Clear : Verdict.Doubtful, lostTo);
    }
}
