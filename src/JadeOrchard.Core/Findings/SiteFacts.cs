using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Findings;

/// <summary>What findings are computed from.</summary>
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

    private readonly Dictionary<int, ImmutableArray<Standing>> _standings = [];
    private Dictionary<int, ImmutableArray<int>>? _clustersOfPage;

    /// <returns>The captured keywords of a cluster that are no brand queries.</returns>
    public IEnumerable<int> SearchesOf(Cluster cluster) =>
        cluster.Members.Where(k => Lists.IsCaptured(k) && !Brands.IsBrandQuery(Keywords[k].NormalForm));

    /// <returns>The pages of the site that are seen for a keyword, best first.</returns>
    public ImmutableArray<Standing> StandingsOf(int keyword)
    {
        if (!_standings.TryGetValue(keyword, out var standings))
            _standings[keyword] = standings = [.. ResultsEvidence.Standings(keyword, Lists, PageOfUrl).Where(s => s.Position <= SeenDepth)];
        return standings;
    }

    /// <returns>Clicks per month that a keyword brings at a position.</returns>
    public double Clicks(int keyword, int position) => (Keywords[keyword].Volume ?? 0) * ClickCurve.At(position);

    /// <returns>The clusters whose page this is.</returns>
    public ImmutableArray<int> ClustersOf(int page)
    {
        _clustersOfPage ??= Enumerable.Range(0, Map.Count)
            .Where(c => Map[c].Page is not null)
            .GroupBy(c => Map[c].Page!.Value)
            .ToDictionary(g => g.Key, g => g.ToImmutableArray());
        return _clustersOfPage.GetValueOrDefault(page, []);
    }

    /// <returns>For each page that is seen for a cluster's searches: the clicks that it gets there.</returns>
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
}

/// <summary>The page of a cluster as far as it is known.</summary>
/// <param name="Page">Index of an existing page, assigned or suggested; null where there is none, or it is planned.</param>
/// <param name="IsDecided">The planner assigned it, existing or planned; otherwise it is the suggestion.</param>
/// <param name="IsPlanned">The cluster has a planned page.</param>
public readonly record struct MappedPage(int? Page, bool IsDecided, bool IsPlanned)
{
    /// <summary>Nothing decided and nothing suggested.</summary>
    public bool IsMissing => Page is null && !IsPlanned;
}
