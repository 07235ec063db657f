using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Findings;

/// <summary>What findings are computed from. Keywords by normal form and pages by identity, since their order decides between equals.</summary>
/// <remarks>A copy made by "with" shares what is kept: it is to be made before anything is asked.</remarks>
/// <param name="Keywords">All keywords.</param>
/// <param name="Lists">Their result lists as far as they were captured.</param>
/// <param name="Clusters">The clusters.</param>
/// <param name="Map">The page of each cluster, in the order of <paramref name="Clusters"/>.</param>
/// <param name="PageOfUrl">For each URL of the lists the page of the site, or -1.</param>
/// <param name="UrlIdentities">The identity of each URL, which decides between equals.</param>
/// <param name="Settings">How the clusters were made.</param>
/// <param name="Brands">Queries for the site itself, which raise nothing.</param>
public sealed record SiteFacts(
    IReadOnlyList<Keyword> Keywords,
    ResultLists Lists,
    IReadOnlyList<Cluster> Clusters,
    IReadOnlyList<MappedPage> Map,
    int[] PageOfUrl,
    IReadOnlyList<string> UrlIdentities,
    ClusterSettings Settings,
    BrandTerms Brands)
{
    /// <summary>Positions that count as being seen: the first two pages of results (common practice).</summary>
    public const int SeenDepth = 20;

    private readonly ConcurrentDictionary<int, int?> _strongest = new();
    private Dictionary<int, HashSet<int>>? _clustersOfPage;
    private readonly Dictionary<int, int> _meant = [];
    private Dictionary<int, double>? _clicks;
    private ImmutableArray<TwinGroup>? _twins;
    private bool? _hasHosts;
    private bool? _isMostlyRead;
    private StrongBox<Medians>? _medians;

    /// <summary>The share of clicks at each position.</summary>
    public ClickCurve Curve { get; init; } = ClickCurve.Default;

    /// <summary>The site's search performance.</summary>
    public SearchPerformance Performance { get; init; } = SearchPerformance.None;

    /// <summary>The existing pages of the site.</summary>
    public IReadOnlyList<SitePage> Pages { get; init; } = [];

    /// <summary>The words of the pages; null where none were read.</summary>
    public SiteText? Text { get; init; }

    /// <summary>The stems of each page's title and H1, for twins.</summary>
    public PageTitles Titles { get; init; } = PageTitles.Unknown;

    /// <summary>Links between the pages.</summary>
    public SiteLinks Links { get; init; } = SiteLinks.Unknown;

    /// <summary>For each cluster the pillar of its topic; -1 where it is the pillar itself or in no topic. Empty without topics.</summary>
    public IReadOnlyList<int> PillarOf { get; init; } = [];

    /// <summary>Pairs of pages that the planner declared deliberate, the smaller index first.</summary>
    public IReadOnlySet<(int, int)> DeliberatePairs { get; init; } = ImmutableHashSet<(int, int)>.Empty;

    /// <summary>For keywords that were captured several times the best page of the site at each capture, oldest first; captures without one left out.</summary>
    public IReadOnlyDictionary<int, ImmutableArray<BestPage>> Captures { get; init; } = ImmutableDictionary<int, ImmutableArray<BestPage>>.Empty;

    private int[]? _variantOf;

    /// <returns>The page of which a page is another guise, see <see cref="PageVariants.Of"/>; itself where it is none.</returns>
    internal int VariantOf(int page) => (_variantOf ??= PageVariants.Of(Pages))[page];

    /// <summary>Tells the keywords that ask something.</summary>
    public Questions Questions { get; init; } = Questions.Of("en");

    /// <summary>For each page that fades the clicks a month that it lost beyond the site's course.</summary>
    public IReadOnlyDictionary<int, double> LostClicks { get; init; } = ImmutableDictionary<int, double>.Empty;

    /// <summary>The main text of most listed pages was read, so that it can be told what stands nowhere on the site.</summary>
    internal bool IsMostlyRead => _isMostlyRead ??= Text is { } text && Pages.Count(p => p.IsListed) is > 0 and var listed
        && Enumerable.Range(0, Pages.Count).Count(p => Pages[p].IsListed && text.IsRead(p)) >= OpenQuestion.ReadShare * listed;

    /// <returns>The captured keywords of a cluster that are no brand queries.</returns>
    public IEnumerable<int> SearchesOf(Cluster cluster) => QueriesOf(cluster).Where(Lists.IsCaptured);

    /// <returns>The keywords of a cluster that are no brand queries, captured or not.</returns>
    public IEnumerable<int> QueriesOf(Cluster cluster) => cluster.Members.Where(k => !Brands.IsBrandQuery(Keywords[k].NormalForm));

    /// <summary>For each cluster its place among equals: that of its primary in keyword order. By index where it is not given.</summary>
    public Func<int, int> OrderOf { get; init; } = c => c;

    /// <summary>For each cluster the URLs of its representative result list, best first.</summary>
    internal Func<int, int[]> RepresentativeOf { get; set; } = _ => [];

    /// <summary>Pages that are nearly the same; these follow from the pages alone.</summary>
    internal ImmutableArray<TwinGroup> Twins => _twins ??= [.. Findings.Twins.Find(this)];

    /// <returns>The folder of a page: the first part of its path, "/" for pages without one; with the host before it where the site has several.</returns>
    internal string FolderOf(int page)
    {
        _hasHosts ??= Pages.Select(p => HostOf(p.Url)).Distinct(StringComparer.Ordinal).Skip(1).Any();
        var path = Uri.TryCreate(Pages[page].Url, UriKind.Absolute, out var address) ? address.AbsolutePath : "/";
        var end = path.IndexOf('/', 1);
        return (_hasHosts.Value ? HostOf(Pages[page].Url) : "") + (end < 0 || path.Trim('/').Length == end - 1 ? "/" : path[..(end + 1)]);

        static string HostOf(string url) => Uri.TryCreate(url, UriKind.Absolute, out var address) ? address.Host : "";
    }

    /// <returns>The pages of the site that are seen for a keyword, best first.</returns>
    public ImmutableArray<Standing> StandingsOf(int keyword) =>
        ResultsEvidence.Standings(keyword, Lists, PageOfUrl) is var standings && (standings.IsEmpty || standings[^1].Position <= SeenDepth)
            ? standings
            : [.. standings.Where(s => s.Position <= SeenDepth)];

    /// <returns>The pages of the site that are or were seen for a keyword: in results, in search performance, at earlier captures.</returns>
    internal IEnumerable<int> PagesSeenFor(int keyword)
    {
        foreach (var (page, _) in StandingsOf(keyword))
            yield return page;
        foreach (var figures in Performance.Of(keyword).ToArray())
            yield return figures.Page;
        foreach (var best in Performance.Weeks(keyword))
            yield return best.Page;
        if (Captures.TryGetValue(keyword, out var captures))
        {
            foreach (var best in captures)
                yield return best.Page;
        }
    }

    /// <returns>Where a page ranks for a keyword; 0 where it is not seen.</returns>
    public int PositionOf(int keyword, int? page) => page is { } p ? StandingsOf(keyword).FirstOrDefault(s => s.Page == p).Position : 0;

    /// <returns>Clicks per month that a keyword brings at a position.</returns>
    public double Clicks(int keyword, int position) => VolumeOf(keyword) * Curve.At(position);

    /// <returns>A keyword with its unknown volume and difficulty filled in.</returns>
    internal Keyword Weighed(int keyword) => Assumed.Fill(Keywords[keyword]);

    /// <returns>Searches per month of a keyword, the median where they are unknown.</returns>
    private long VolumeOf(int keyword) => Keywords[keyword].Volume ?? Assumed.Volume;

    private Medians Assumed => (_medians ??= new StrongBox<Medians>(Medians.Of(Keywords))).Value;

    /// <returns>The clusters whose page this is.</returns>
    public ImmutableArray<int> ClustersOf(int page) => Pagemap().TryGetValue(page, out var clusters) ? [.. clusters.OrderBy(OrderOf)] : [];

    /// <returns>Whether a page is the one that is meant for a cluster of which nothing is decided.</returns>
    internal bool IsMeant(int page)
    {
        Pagemap();
        return _meant.GetValueOrDefault(page) > 0;
    }

    /// <summary>Forgets which page each cluster has.</summary>
    internal void ForgetClusters()
    {
        _clustersOfPage = [];
        _meant.Clear();
        _strongest.Clear();
    }

    /// <summary>Forgets which page is strongest in a cluster, whose keywords are others now.</summary>
    internal void ForgetStrongest(int cluster) => _strongest.TryRemove(cluster, out _);

    /// <summary>Takes a cluster from its page.</summary>
    internal void Unmap(int cluster, MappedPage map)
    {
        if (map.Page is { } page)
            Pagemap().GetValueOrDefault(page)?.Remove(cluster);
        if (map.Meant is { } meant)
            _meant[meant] = _meant.GetValueOrDefault(meant) - 1;
    }

    /// <summary>Gives a cluster to its page.</summary>
    internal void Remap(int cluster, MappedPage map)
    {
        if (map.Page is { } page)
        {
            if (!Pagemap().TryGetValue(page, out var clusters))
                Pagemap()[page] = clusters = [];
            clusters.Add(cluster);
        }

        if (map.Meant is { } meant)
            _meant[meant] = _meant.GetValueOrDefault(meant) + 1;
    }

    private Dictionary<int, HashSet<int>> Pagemap()
    {
        if (_clustersOfPage is null)
        {
            _clustersOfPage = [];
            for (var c = 0; c < Map.Count; c++)
                Remap(c, Map[c]);
        }

        return _clustersOfPage;
    }

    /// <returns>Searches per month of a cluster.</returns>
    public long Demand(int cluster) => Clusters[cluster].Members.Sum(VolumeOf);

    /// <summary>What each page of the site gets from the searches of a cluster, estimated from the results.</summary>
    public Dictionary<int, double> ClicksByPage(Cluster cluster)
    {
        var clicks = new Dictionary<int, double>();
        foreach (var keyword in SearchesOf(cluster))
        {
            foreach (var (page, position) in StandingsOf(keyword))
                clicks[page] = clicks.GetValueOrDefault(page) + Clicks(keyword, position);
        }

        return clicks;
    }

    /// <summary>Clicks per month of a page from all searches but those for the brand, estimated from the results.</summary>
    public double EstimatedClicks(int page)
    {
        if (_clicks is null)
        {
            _clicks = [];
            for (var keyword = 0; keyword < Keywords.Count; keyword++)
            {
                if (!Lists.IsCaptured(keyword) || Brands.IsBrandQuery(Keywords[keyword].NormalForm))
                    continue;
                foreach (var (p, position) in StandingsOf(keyword))
                    _clicks[p] = _clicks.GetValueOrDefault(p) + Clicks(keyword, position);
            }
        }

        return _clicks.GetValueOrDefault(page);
    }

    /// <summary>What each page of the site got in search performance from the searches of a cluster; pages further down than <see cref="SeenDepth"/> left out.</summary>
    public Dictionary<int, Visits> VisitsByPage(Cluster cluster)
    {
        var visits = new Dictionary<int, Visits>();
        foreach (var keyword in QueriesOf(cluster))
        {
            foreach (var figures in Performance.Of(keyword))
            {
                if (figures.Position > SeenDepth)
                    continue;
                var (clicks, impressions) = visits.GetValueOrDefault(figures.Page);
                visits[figures.Page] = new Visits(clicks + figures.Clicks, impressions + figures.Impressions);
            }
        }

        return visits;
    }

    /// <summary>
    /// A page that is in another's way in a cluster stands there by design where it has a cluster of its own in which it gets more than any
    /// other page of the site: so a pillar and its support, each at its own searches, raise nothing.
    /// </summary>
    public bool IsAtHomeElsewhere(int page, int here)
    {
        foreach (var home in ClustersOf(page))
        {
            if (home != here && StrongestIn(home) == page)
                return true;
        }

        return false;
    }

    /// <returns>The page with most clicks from a cluster by its results, by search performance where it is in none; null where neither tells.</returns>
    public int? StrongestIn(int cluster)
    {
        if (_strongest.TryGetValue(cluster, out var known))
            return known;
        var clicks = ClicksByPage(Clusters[cluster]);
        int? strongest = clicks.Count > 0 ? Most(clicks) : null;
        if (strongest is null && VisitsByPage(Clusters[cluster]) is { Count: > 0 } visits)
            strongest = Most(visits);
        return _strongest[cluster] = strongest;
    }

    /// <returns>The page with the greatest value, the smaller index among equals.</returns>
    internal static int Most<T>(Dictionary<int, T> values) => values.OrderByDescending(v => v.Value).ThenBy(v => v.Key).First().Key;
}

/// <summary>The page of a cluster as far as it is known.</summary>
/// <param name="Page">Index of an existing page, assigned or suggested; null where there is none, or it is planned.</param>
/// <param name="IsDecided">The planner assigned it, existing or planned; otherwise it is the suggestion.</param>
/// <param name="IsPlanned">The cluster has a planned page.</param>
/// <param name="IsDeclined">The planner does not want a page for it.</param>
/// <param name="Meant">Where nothing is decided: the page that is about the cluster though another is suggested, see <see cref="PageSuggestions.Meant"/>; null for none.</param>
public readonly record struct MappedPage(int? Page, bool IsDecided, bool IsPlanned, bool IsDeclined = false, int? Meant = null)
{
    /// <summary>Nothing is decided, and a page is suggested.</summary>
    public bool IsSuggested => Page is not null && !IsDecided;
}
