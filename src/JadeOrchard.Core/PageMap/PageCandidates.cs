using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.PageMap;

/// <summary>Which pages of the site could stand for a cluster, by all evidence there is.</summary>
/// <remarks>
/// What was worked out for a cluster is kept for as long as it has the same keywords, so that after a change by hand only
/// what changed is worked out again. Safe to use from several threads, one after another.
/// </remarks>
public sealed class PageCandidates
{
    /// <summary>Candidates kept for each cluster.</summary>
    public const int Kept = 8;

    private readonly Lock _lock = new();
    private readonly IReadOnlyList<Keyword> _keywords;
    private readonly ResultLists _lists;
    private readonly IReadOnlyList<SitePage> _pages;
    private readonly int[] _pageOfUrl;
    private readonly TextAnalysis _analysis;
    private readonly TextEvidence _text;
    private readonly IReadOnlyList<string>?[] _stems;
    private readonly double[] _weights;
    private readonly List<(int Page, double Share)> _mentioned = [];
    private readonly Dictionary<int, (ImmutableArray<int> Members, ImmutableArray<PageEvidence> Pages)> _known = [];

    /// <param name="keywords">The keywords that clusters speak of.</param>
    /// <param name="lists">Result lists as far as they were captured.</param>
    /// <param name="pages">Existing pages of the site.</param>
    /// <param name="pageOfUrl">For each URL of the lists the page of the site, or -1.</param>
    /// <param name="analysis">For the language of the project; used by nobody else meanwhile.</param>
    public PageCandidates(IReadOnlyList<Keyword> keywords, ResultLists lists, IReadOnlyList<SitePage> pages, int[] pageOfUrl, TextAnalysis analysis)
    {
        (_keywords, _lists, _pages, _pageOfUrl, _analysis) = (keywords, lists, pages, pageOfUrl, analysis);
        _text = new TextEvidence(pages, analysis);
        _stems = new IReadOnlyList<string>?[keywords.Count];
        _weights = new double[keywords.Count];
    }

    public int PageCount => _pages.Count;

    /// <returns>The strongest pages, strongest first.</returns>
    public ImmutableArray<PageEvidence> Of(Cluster cluster)
    {
        lock (_lock)
        {
            if (_known.TryGetValue(cluster.Primary, out var known) && known.Members.AsSpan().SequenceEqual(cluster.Members.AsSpan()))
                return known.Pages;
            ClusterResults.Weigh(cluster, _keywords, _weights);
            var results = ResultsEvidence.Of(cluster, _weights, _lists, _pageOfUrl);
            _text.Of(ClusterTerms.Of(cluster, _weights, StemsOf), _mentioned);
            var strongest = new StrongestPages(_pages);
            foreach (var (page, share) in _mentioned)
                strongest.Add(page, results.Remove(page, out var standing) ? standing : 0, _text.IsKnown(page) ? share : null);
            foreach (var (page, standing) in results)
                strongest.Add(page, standing, _text.IsKnown(page) ? 0 : null);
            _known[cluster.Primary] = (cluster.Members, strongest.Ranked);
            return strongest.Ranked;
        }
    }

    private IReadOnlyList<string> StemsOf(int keyword) => _stems[keyword] ??= _analysis.Stems(_keywords[keyword].NormalForm);

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
