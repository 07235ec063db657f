using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Core.Topics;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Results;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server;

/// <summary>Keywords, result lists, existing pages and search performance in memory, as the rules want them: by index. Never changed once it is made.</summary>
/// <remarks>At 100,000 keywords and 1,000,000 results about 100 MB, most of it the URLs' identities.</remarks>
public sealed class ProjectSnapshot
{
    private readonly Lock _lock = new();
    private readonly string _language;
    private readonly PageIndex _pageOfIdentity;
    private readonly bool[] _isRead;

    private ProjectSnapshot(
        long version, IReadOnlyList<KeywordId> keywordIds, IReadOnlyList<Keyword> keywords, ResultLists lists, IReadOnlyList<string> urlIdentities,
        IReadOnlyList<PageId> pageIds, IReadOnlyList<SitePage> pages, int[] pageOfUrl, PageIndex pageOfIdentity, bool[] isRead, string language)
    {
        Version = version;
        KeywordIds = keywordIds;
        Keywords = keywords;
        Lists = lists;
        UrlIdentities = urlIdentities;
        PageIds = pageIds;
        Pages = pages;
        PageOfUrl = pageOfUrl;
        _pageOfIdentity = pageOfIdentity;
        _isRead = isRead;
        _language = language;
        _order = new Lazy<int[]>(() => KeywordOrder.Of(keywords));
        _ranks = new Lazy<int[]>(() => KeywordOrder.Ranks(Order));
        _keywordsOfPages = new Lazy<List<int>[]>(MadeKeywordsOfPages);
        IndexOfKeyword = Indexes(keywordIds);
        IndexOfPage = Indexes(pageIds);
    }

    /// <summary>The version of the data of which it is an image.</summary>
    public long Version { get; }

    public IReadOnlyList<KeywordId> KeywordIds { get; }

    public IReadOnlyList<Keyword> Keywords { get; }

    public ResultLists Lists { get; }

    public IReadOnlyList<string> UrlIdentities { get; }

    /// <summary>For each URL its host, made when it is first asked for.</summary>
    public string[] UrlHosts => _urlHosts ??= HostsOf(UrlIdentities);

    private string[]? _urlHosts;

    /// <summary>The keywords in keyword order; made when it is first asked for.</summary>
    public int[] Order => _order.Value;

    private readonly Lazy<int[]> _order;

    /// <summary>For each keyword its place in keyword order; made when it is first asked for.</summary>
    public int[] Ranks => _ranks.Value;

    private readonly Lazy<int[]> _ranks;

    private List<int>[] MadeKeywordsOfPages()
    {
        var keywords = new List<int>[Pages.Count];
        for (var page = 0; page < keywords.Length; page++)
            keywords[page] = [];
        for (var keyword = 0; keyword < Keywords.Count; keyword++)
        {
            foreach (var url in Lists.Urls(keyword))
                Add(PageOfUrl[url], keyword);
            foreach (var figures in Performance.Of(keyword))
                Add(figures.Page, keyword);
        }

        return keywords;

        void Add(int page, int keyword)
        {
            if (page >= 0 && (keywords[page].Count == 0 || keywords[page][^1] != keyword))
                keywords[page].Add(keyword);
        }
    }

    /// <summary>The lists as a grouping compares them; kept for the last settings, so that the same lists tell that nothing changed.</summary>
    public ResultLists Compared(ClusterSettings settings)
    {
        var key = $"{settings.Depth} {settings.PerHost} {string.Join('\n', settings.LeftOutHosts)}";
        if (_compared is not { } kept || kept.Item1 != key)
            _compared = kept = Tuple.Create(key, settings.Compared(Lists, UrlIdentities));
        return kept.Item2;
    }

    /// <summary>The site's search performance, within the days that count.</summary>
    public SearchPerformance Performance { get; private init; } = SearchPerformance.None;

    /// <summary>The click curve of the project, as its settings say.</summary>
    public ClickCurve Curve { get; private init; } = ClickCurve.Default;

    private OwnSite Own { get; init; } = new(null);

    /// <returns>The pages of others that get most clicks from some keywords, see <see cref="RankingRivals"/>.</returns>
    public IReadOnlyList<RankingRival> Rivals(IReadOnlyCollection<int> keywords, int most) => RankingRivals.Of(
        keywords, Keywords, Lists, Curve, UrlIdentities, url => PageOfUrl[url] >= 0 || Own.Owns(UrlIdentities[url]), most);

    /// <returns>The keywords in whose lists a page stands or for which it was shown, ascending.</returns>
    /// <param name="page">Index of the page; none are known for -1.</param>
    public IReadOnlyList<int> KeywordsOf(int page) => page < 0 ? [] : _keywordsOfPages.Value[page];

    private readonly Lazy<List<int>[]> _keywordsOfPages;

    /// <summary>How the site writes addresses and titles; made when it is first asked for.</summary>
    public UrlHabits Habits => _habits ??= UrlHabits.Of(Pages);

    private UrlHabits? _habits;

    /// <summary>The words of the pages; made when they are first asked for.</summary>
    /// <param name="session">Sees the data of which this is an image.</param>
    public SiteText Text(Session session)
    {
        lock (_lock)
        {
            if (_text is not null)
                return _text;
            using var analysis = new TextAnalysis(_language);
            var stems = PageStore.Stems(session).Select(s => (Page: IndexOfPage.GetValueOrDefault(s.PageId, -1), s.Stems)).Where(s => s.Page >= 0);
            return _text = new SiteText(Pages, stems, Keywords, analysis, _language);
        }
    }

    private SiteText? _text;

    /// <summary>As <see cref="Text"/>, for other keywords; not kept.</summary>
    /// <param name="session">Sees the data of which this is an image.</param>
    /// <param name="keywords">Whose words count.</param>
    /// <param name="analysis">For the language of the project.</param>
    public SiteText TextFor(Session session, IReadOnlyList<Keyword> keywords, TextAnalysis analysis) => new(
        Pages, PageStore.Stems(session).Select(s => (Page: IndexOfPage.GetValueOrDefault(s.PageId, -1), s.Stems)).Where(s => s.Page >= 0), keywords, analysis, _language);

    /// <returns>The page that an address leads to, by its identity; -1 where it is none of the site's.</returns>
    public int PageOf(string identity) => _pageOfIdentity.Of(identity);

    /// <summary>What findings are computed from, but for clusters and their pages. For the writer alone.</summary>
    /// <param name="session">Sees the data of which this is an image.</param>
    /// <param name="clusters">The clusters; the writer changes them afterwards.</param>
    /// <param name="map">Their pages; likewise.</param>
    /// <param name="settings">How the clusters were made.</param>
    public SiteFacts Facts(Session session, IReadOnlyList<Cluster> clusters, IReadOnlyList<MappedPage> map, ClusterSettings settings)
    {
        using var analysis = new TextAnalysis(_language);
        var brands = ProjectStore.Brands(session);
        var links = new List<int>?[Pages.Count];
        for (var p = 0; p < links.Length; p++)
            links[p] = _isRead[p] ? [] : null;
        ScanStore.EachLink(session, (page, to) =>
        {
            if (IndexOfPage.TryGetValue(page, out var from) && _pageOfIdentity.Of(to) is var target and >= 0)
                links[from]?.Add(target);
        });
        return new SiteFacts(Keywords, Lists, clusters, map, PageOfUrl, UrlIdentities, settings, brands)
        {
            Curve = Curve,
            Performance = Performance,
            Pages = Pages,
            Text = Text(session),
            Titles = PageTitles.Of(Pages, brands, analysis),
            Links = new SiteLinks(links),
            Captures = ResultStore.BestOwnPages(session)
                .Where(c => IndexOfKeyword.ContainsKey(c.KeywordId) && _pageOfIdentity.Of(c.PageIdentity) >= 0)
                .GroupBy(c => IndexOfKeyword[c.KeywordId])
                .ToDictionary(g => g.Key, g => g.Select(c => new BestPage(c.Day, _pageOfIdentity.Of(c.PageIdentity))).ToImmutableArray()),
            Questions = new Questions(ProjectStore.Questions(session), _language),
            LostClicks = FadingStore.All(session).Where(f => IndexOfPage.ContainsKey(f.PageId)).ToDictionary(f => IndexOfPage[f.PageId], f => f.Lost),
        };
    }

    // One reference, so that readers beside each other never see half of it.
    private Tuple<string, ResultLists>? _compared;

    public IReadOnlyList<PageId> PageIds { get; }

    public IReadOnlyList<SitePage> Pages { get; }

    /// <summary>For each URL its page, or -1.</summary>
    public int[] PageOfUrl { get; }

    public IReadOnlyDictionary<KeywordId, int> IndexOfKeyword { get; }

    public IReadOnlyDictionary<PageId, int> IndexOfPage { get; }

    public static ProjectSnapshot Load(Session session)
    {
        var version = ProjectStore.ImageVersion(session);
        var (keywordIds, keywords) = KeywordStore.All(session);
        // Half of the work goes to another core, unless the project was changed before that began to read.
        var beside = session.ReadBeside(other => ProjectStore.ImageVersion(other) == version ? SiteParts.Load(other, keywordIds) : null);
        var (lists, identities) = ResultStore.Newest(session, keywordIds);
        var (existing, pageOfIdentity, performance, curve) = beside?.GetAwaiter().GetResult() ?? SiteParts.Load(session, keywordIds);
        int[] pageOfUrl = [.. identities.Select(i => pageOfIdentity.Of(i))];
        var project = ProjectStore.Get(session);
        return new ProjectSnapshot(
            version, keywordIds, keywords, lists, identities, [.. existing.Select(p => p.Id)], SiteLanguages.Listed([.. existing.Select(p => p.Page)], project.Language), pageOfUrl, pageOfIdentity,
            [.. existing.Select(p => p.IsRead)], project.Language)
        {
            Performance = performance,
            Curve = curve,
            Own = new OwnSite(project.Host),
        };
    }

    /// <summary>Finds pages by what addresses are compared by, without the parameters that the project drops.</summary>
    private sealed class PageIndex(Dictionary<string, int> pages, TrackingParameters tracking)
    {
        /// <returns>-1 where there is none.</returns>
        public int Of(string identity) => pages.TryGetValue(identity, out var page) && (tracking.IsEmpty || !identity.Contains('?', StringComparison.Ordinal)) ? page
            : tracking.IsEmpty ? -1
            : pages.GetValueOrDefault(tracking.Fold(identity), -1);
    }

    /// <summary>Pages and search performance.</summary>
    private sealed record SiteParts(IReadOnlyList<ExistingPage> Pages, PageIndex PageOfIdentity, SearchPerformance Performance, ClickCurve Curve)
    {
        public static SiteParts Load(Session session, IReadOnlyList<KeywordId> keywordIds)
        {
            var pages = PageStore.Existing(session);
            var pageOfIdentity = new PageIndex(PagesByIdentity(pages, ProjectStore.Get(session).Language), ProjectStore.Tracking(session));
            return new SiteParts(pages, pageOfIdentity, PerformanceOf(session, keywordIds, pageOfIdentity, pages.Count), CurveOf(session).Curve);
        }
    }

    /// <summary>The click curve as the settings want it, and what it was fitted to.</summary>
    public static CurveFit CurveOf(Session session)
    {
        var settings = ProjectStore.Settings(session).Curve;
        var brands = ProjectStore.Brands(session);
        var fit = CurveFit.Of(PerformanceStore.QueryFigures(session).Where(q => !brands.IsBrandQuery(q.NormalForm)).Select(q => q.Figures), settings.ByHand());
        return settings.IsFitted ? fit : fit with { Curve = settings.ByHand() };
    }

    /// <summary>
    /// The page that each identity leads to: one that redirects or names another as its canonical leads to that one, and one that is gone
    /// to none (-1). A version in another language leads to the one in the project's.
    /// </summary>
    private static Dictionary<string, int> PagesByIdentity(IReadOnlyList<ExistingPage> pages, string language)
    {
        var listed = SiteLanguages.Listed([.. pages.Select(p => p.Page)], language);
        const int longest = 5;
        var index = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var p = 0; p < pages.Count; p++)
            index[pages[p].Identity] = p;
        var standsFor = new Dictionary<string, int>(index, StringComparer.Ordinal);
        for (var p = 0; p < pages.Count; p++)
        {
            var at = p;
            for (var step = 0; step < longest && pages[at].StandsFor is { } to && UrlIdentity.TryOf(to, UrlFolds.All, out var identity) && index.TryGetValue(identity, out var next) && next != at; step++)
                at = next;
            // Its own language's version is listed, and this is not.
            if (!listed[at].IsListed && pages[at].Page is { IsListed: true, Versions: { } versions })
            {
                at = versions.Split(' ').Select(v => UrlIdentity.TryOf(v, UrlFolds.All, out var version) ? index.GetValueOrDefault(version, -1) : -1)
                    .FirstOrDefault(v => v >= 0 && listed[v].IsListed, at);
            }

            standsFor[pages[p].Identity] = pages[at].IsGone ? -1 : at;
        }

        return standsFor;
    }

    private static SearchPerformance PerformanceOf(Session session, IReadOnlyList<KeywordId> keywordIds, PageIndex pageOfIdentity, int pages)
    {
        var days = PerformanceStore.Days(session);
        if (days == 0)
            return SearchPerformance.None;
        var keywords = PerformanceStore.KeywordsOfQueries(session);
        var index = Indexes(keywordIds);
        var builder = new SearchPerformance.Builder();
        // Addresses of the same page, and merged variants of a keyword, are summed.
        var sums = new Dictionary<(int Keyword, int Page), (long Clicks, long Impressions, double Weighted)>();
        PerformanceStore.EachPair(session, pair =>
        {
            if (pageOfIdentity.Of(pair.PageIdentity) is not (>= 0 and var page))
                return;
            foreach (var keyword in keywords[pair.QueryId].Select(id => index.GetValueOrDefault(id, -1)).DefaultIfEmpty(-1))
            {
                if (keyword < 0)
                {
                    builder.Add(-1, new PageFigures(page, pair.Clicks, pair.Impressions, pair.Position));
                    continue;
                }

                var (clicks, impressions, weighted) = sums.GetValueOrDefault((keyword, page));
                sums[(keyword, page)] = (clicks + pair.Clicks, impressions + pair.Impressions, weighted + (pair.Position * pair.Impressions));
            }
        });
        foreach (var ((keyword, page), sum) in sums)
            builder.Add(keyword, new PageFigures(page, sum.Clicks, sum.Impressions, sum.Weighted / sum.Impressions));
        foreach (var weeks in PerformanceStore.BestByWeek(session).Where(w => pageOfIdentity.Of(w.PageIdentity) >= 0).GroupBy(w => w.QueryId))
        {
            foreach (var keyword in keywords[weeks.Key].Where(index.ContainsKey))
                builder.AddWeeks(index[keyword], [.. weeks.Select(w => new BestPage(w.Week, pageOfIdentity.Of(w.PageIdentity)))]);
        }

        return builder.Build(keywordIds.Count, pages, days);
    }

    /// <summary>Hosts are few and URLs many, so equal hosts are one string.</summary>
    private static string[] HostsOf(IReadOnlyList<string> identities)
    {
        var known = new Dictionary<string, string>(StringComparer.Ordinal);
        return [.. identities.Select(identity =>
        {
            var host = UrlIdentity.HostOf(identity);
            return known.TryGetValue(host, out var same) ? same : known[host] = host;
        })];
    }

    private static Dictionary<TId, int> Indexes<TId>(IReadOnlyList<TId> ids)
        where TId : struct, IId<TId>
    {
        var indexes = new Dictionary<TId, int>(ids.Count);
        for (var i = 0; i < ids.Count; i++)
            indexes[ids[i]] = i;
        return indexes;
    }
}
