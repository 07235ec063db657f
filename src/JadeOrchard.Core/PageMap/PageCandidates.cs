using System.Collections.Concurrent;
using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.PageMap;

/// <summary>Which pages of the site could serve a cluster, by all evidence there is.</summary>
/// <remarks>Safe to use from several threads at once.</remarks>
public sealed class PageCandidates
{
    /// <summary>Candidates kept for each cluster.</summary>
    public const int Kept = 8;

    private readonly IReadOnlyList<Keyword> _keywords;
    private readonly ResultLists _lists;
    private readonly IReadOnlyList<SitePage> _pages;
    private readonly int[] _pageOfUrl;
    private readonly SiteText _site;
    private readonly TextEvidence _text;
    private readonly ConcurrentBag<double[]> _idle = [];
    private readonly SearchPerformance _performance;
    private readonly ClickCurve _curve;

    /// <param name="keywords">The keywords that clusters speak of.</param>
    /// <param name="lists">Result lists as far as they were captured.</param>
    /// <param name="pages">Existing pages of the site; those that aren't indexable are no candidates.</param>
    /// <param name="pageOfUrl">For each URL of the lists the page of the site, or -1.</param>
    /// <param name="text">The words of the pages.</param>
    /// <param name="performance">The site's search performance.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    public PageCandidates(
        IReadOnlyList<Keyword> keywords, ResultLists lists, IReadOnlyList<SitePage> pages, int[] pageOfUrl, SiteText text, SearchPerformance performance, ClickCurve curve)
    {
        (_keywords, _lists, _pages, _pageOfUrl, _site, _performance, _curve) = (keywords, lists, pages, pageOfUrl, text, performance, curve);
        _text = new TextEvidence(text);
    }

    /// <returns>The strongest pages, strongest first.</returns>
    public ImmutableArray<PageEvidence> Of(Cluster cluster)
    {
        if (!_idle.TryTake(out var weights))
            weights = new double[_keywords.Count];
        var pages = Ranked(cluster, weights);
        _idle.Add(weights);
        return pages;
    }

    private ImmutableArray<PageEvidence> Ranked(Cluster cluster, double[] weights)
    {
        ClusterResults.Weigh(cluster, _keywords, weights);
        var results = ResultsEvidence.Of(cluster, weights, _lists, _pageOfUrl, _curve);
        var visits = PerformanceEvidence.Of(cluster, _performance);
        var terms = ClusterTerms.Of(cluster, weights, _site.StemsOf);
        var strongest = new StrongestPages(_pages);
        var seen = new HashSet<int>([.. results?.Keys.AsEnumerable() ?? [], .. visits?.Keys.AsEnumerable() ?? []]);
        foreach (var page in seen)
        {
            if (_pages[page].IsListed)
                strongest.Add(page, results?.GetValueOrDefault(page), visits?.GetValueOrDefault(page), _site.IsKnown(page) ? _text.Of(page, cluster, weights) : null);
        }

        // Pages that neither rank nor are visited for it count by their text alone. One that mentions it in passing cannot be suggested, and must not push out one that can.
        double? none = results is null ? null : 0, nobody = visits is null ? null : 0;
        var whole = PageEvidence.StrengthOf(none, nobody, 1);
        foreach (var page in _site.NamedFor(terms, PageEvidence.IsNamed))
        {
            if (_pages[page].IsListed && !seen.Contains(page) && _text.Of(page, cluster, weights) is > 0 and var share && share * whole >= strongest.Least)
                strongest.Add(page, none, nobody, _site.IsKnown(page) ? share : null);
        }

        return [.. strongest.Ranked.Select(e => e with { Named = _site.Named(e.Page, terms) })];
    }

    /// <summary>Keeps the strongest of many pages; a common word stands on most pages of a site.</summary>
    private sealed class StrongestPages(IReadOnlyList<SitePage> pages)
    {
        private readonly List<PageEvidence> _ranked = new(Kept + 1);

        public ImmutableArray<PageEvidence> Ranked => [.. _ranked];

        /// <summary>The strength that a page needs to be kept, about: as good as equal is looked at.</summary>
        public double Least { get; private set; }

        public void Add(int page, double? results, double? performance, double? text)
        {
            var evidence = new PageEvidence(page, results, performance, text);
            var place = _ranked.Count;
            while (place > 0 && IsStronger(evidence, _ranked[place - 1]))
                place--;
            if (place >= Kept)
                return;
            _ranked.Insert(place, evidence);
            if (_ranked.Count > Kept)
                _ranked.RemoveAt(Kept);
            if (_ranked.Count == Kept)
                Least = _ranked[^1].Strength * (1 - 1e-9);
        }

        private bool IsStronger(PageEvidence a, PageEvidence b) => a.Strength != b.Strength
            ? a.Strength > b.Strength
            : string.CompareOrdinal(pages[a.Page].Url, pages[b.Page].Url) < 0;
    }
}
