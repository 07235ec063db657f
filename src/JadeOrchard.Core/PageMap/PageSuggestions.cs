using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

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

    /// <param name="clusters">The clusters, in the keyword order of their primaries.</param>
    /// <param name="keywords">Their keywords.</param>
    /// <param name="pages">The pages of the site.</param>
    /// <param name="evidence">Which pages could serve a cluster.</param>
    /// <returns>One for each cluster, see <see cref="SuggestionTable"/>.</returns>
    public static ImmutableArray<ClusterSuggestion> For(IReadOnlyList<Cluster> clusters, IReadOnlyList<Keyword> keywords, IReadOnlyList<SitePage> pages, PageCandidates evidence)
    {
        var table = new ClusterTable(KeywordOrder.Ranks(KeywordOrder.Of(keywords)));
        table.Apply([.. clusters.Select(c => (table.NewSlot(), (Cluster?)c))]);
        var suggestions = new SuggestionTable(table, keywords, pages, evidence);
        suggestions.Rebuild();
        return
        [
            .. clusters.Select((_, c) =>
            {
                var found = suggestions.Of(c);
                return new ClusterSuggestion(suggestions.Looked[c], found.Page, found.Verdict, found.LostTo);
            }),
        ];
    }

    /// <summary>
    /// The page that is meant for a cluster where another is suggested because it stands or is visited: by title, H1 and address it is about the
    /// cluster, and the suggested one is not. Null where there is none.
    /// </summary>
    /// <param name="candidates">The strongest pages, strongest first.</param>
    /// <param name="suggested">The suggested page.</param>
    /// <param name="isTaken">True for a page that serves another cluster.</param>
    public static int? Meant(IReadOnlyList<CandidateStrength> candidates, int suggested, Func<int, bool> isTaken)
    {
        var named = candidates.Where(e => e.Page == suggested).Select(e => e.Named).DefaultIfEmpty(1).First();
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
    /// <param name="candidates">The strongest pages, strongest first.</param>
    /// <param name="suggested">The suggested page; null for none.</param>
    public static int? Counted(IReadOnlyList<CandidateStrength> candidates, int? suggested)
    {
        if (candidates.Count == 0 || candidates[0] is not { Strength: >= ClearStrength, IsSeen: true } strongest)
            return suggested;
        var strength = candidates.Where(e => e.Page == suggested).Select(e => e.Strength).FirstOrDefault();
        return strongest.Strength - strength >= ClearLead ? strongest.Page : suggested;
    }

    /// <summary>How a cluster counts as long as nothing is decided.</summary>
    /// <param name="candidates">The strongest pages, strongest first.</param>
    /// <param name="suggested">The suggested page; null for none.</param>
    /// <param name="isTaken">True for a page that serves, or is suggested for, some cluster.</param>
    public static Findings.MappedPage Undecided(IReadOnlyList<CandidateStrength> candidates, int? suggested, Func<int, bool> isTaken)
    {
        var counted = Counted(candidates, suggested);
        return new(counted, IsDecided: false, IsPlanned: false, Meant: counted is { } page ? Meant(candidates, page, isTaken) : null);
    }

    /// <returns>Whether a suggested page is clear: strong, ahead of the next, and no other is meant.</returns>
    internal static bool IsClear(IReadOnlyList<CandidateStrength> candidates, int page, double strength, Func<int, bool> isTaken)
    {
        var next = candidates.Where(e => e.Page != page).Select(e => e.Strength).DefaultIfEmpty(0).Max();
        return strength >= ClearStrength && strength - next >= ClearLead && Meant(candidates, page, isTaken) is null;
    }
}
