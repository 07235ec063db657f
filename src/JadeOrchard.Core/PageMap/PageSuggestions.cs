using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
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

    /// <summary>Candidates kept for each cluster.</summary>
    public const int Kept = 8;

    /// <param name="clusters">The clusters.</param>
    /// <param name="keywords">The keywords that they speak of.</param>
    /// <param name="lists">Result lists as far as they were captured.</param>
    /// <param name="pages">Existing pages of the site.</param>
    /// <param name="pageOfUrl">For each URL of the lists the page of the site, or -1.</param>
    /// <param name="analysis">For the language of the project.</param>
    /// <returns>One for each cluster. The total strength is the greatest there can be (<see cref="Assignment"/>).</returns>
    public static ImmutableArray<ClusterSuggestion> For(
        IReadOnlyList<Cluster> clusters,
        IReadOnlyList<Keyword> keywords,
        ResultLists lists,
        IReadOnlyList<SitePage> pages,
        int[] pageOfUrl,
        TextAnalysis analysis)
    {
        var weights = ClusterResults.SearchWeights(clusters, keywords);
        var text = new TextEvidence(pages, analysis);
        var stems = new IReadOnlyList<string>?[keywords.Count];
        IReadOnlyList<string> StemsOf(int keyword) => stems[keyword] ??= analysis.Stems(keywords[keyword].NormalForm);

        var mentioned = new List<(int Page, double Share)>();
        var candidates = clusters.Select(cluster =>
        {
            var results = ResultsEvidence.Of(cluster, weights, lists, pageOfUrl);
            text.Of(ClusterTerms.Of(cluster, weights, StemsOf), mentioned);
            var strongest = new StrongestPages(pages);
            foreach (var (page, share) in mentioned)
                strongest.Add(page, results.Remove(page, out var standing) ? standing : 0, text.IsKnown(page) ? share : null);
            foreach (var (page, standing) in results)
                strongest.Add(page, standing, text.IsKnown(page) ? 0 : null);
            return strongest.Ranked;
        }).ToArray();

        var assigned = Assignment.Best(
            pages.Count,
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

    /// <summary>Keeps the strongest of many pages; a common word stands on most pages of a site.</summary>
    private sealed class StrongestPages(IReadOnlyList<SitePage> pages)
    {
        private readonly List<PageEvidence> _ranked = new(Kept + 1);

        public ImmutableArray<PageEvidence> Ranked => [.. _ranked];

        public void Add(int page, double results, double? text)
        {
            var evidence = new PageEvidence(page, results, text);
            var place = _ranked.Count;
            while (place > 0 && IsStronger(evidence, _ranked[place - 1]))
                place--;
            if (place >= Kept)
                return;
            _ranked.Insert(place, evidence);
            if (_ranked.Count > Kept)
                _ranked.RemoveAt(Kept);
        }

        private bool IsStronger(PageEvidence a, PageEvidence b) => a.Strength != b.Strength
            ? a.Strength > b.Strength
            : string.CompareOrdinal(pages[a.Page].Url, pages[b.Page].Url) < 0;
    }
}
