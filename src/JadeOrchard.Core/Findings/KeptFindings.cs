using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Findings;

/// <summary>The findings of a site, kept so that after a change by hand only what it touches is worked out again.</summary>
/// <remarks>
/// What is found in one cluster follows from its keywords, its page, and whether other pages that are seen for it are at home elsewhere; as long
/// as these are the same, so is what was found. To be used with one set of keywords, result lists, pages and search performance alone, by one thread at a time.
/// </remarks>
public sealed class KeptFindings
{
    private static readonly Func<SiteFacts, int, IEnumerable<Finding>>[] OfCluster =
    [
        RivalsInResults.Find,
        SplitTraffic.Find,
        PageSwap.Find,
        WrongPageRanks.Find,
        NoPage.Find,
        Absent.Find,
        MissingOnPage.Find,
        OpenQuestion.Find,
    ];

    private static readonly Func<SiteFacts, ResultLists, IEnumerable<Finding>>[] OfClusterPairs =
    [
        SharedTarget.Find,
        MixedTarget.Find,
    ];

    private static readonly Func<SiteFacts, IEnumerable<Finding>>[] OfSite =
    [
        UnlinkedSupport.Find,
        Orphan.Find,
        Targetless.Find,
    ];

    private readonly Dictionary<int, Kept> _kept = [];
    private IReadOnlyList<Cluster>? _listed;
    private ResultLists? _lists;
    private ImmutableArray<Finding> _twins;

    /// <summary>How many clusters were looked at anew the last time.</summary>
    public int Anew { get; private set; }

    /// <returns>Most at stake first; ties by kind, then the order of clusters and pages.</returns>
    public ImmutableArray<Finding> In(SiteFacts site)
    {
        Anew = 0;
        var lists = ListsOf(site);
        if (_twins.IsDefault)
            _twins = [.. TwinTitles.Find(site)];
        return
        [
            .. Enumerable.Range(0, site.Clusters.Count).SelectMany(c => FoundIn(site, c))
                .Concat(OfClusterPairs.SelectMany(find => find(site, lists)))
                .Concat(_twins)
                .Concat(OfSite.SelectMany(find => find(site)))
                .Where(f => !IsDeliberate(site, f))
                .OrderByDescending(f => Math.Round(f.AtStake, 6))
                .ThenBy(f => f.Kind)
                .ThenBy(f => f.Cluster)
                .ThenBy(f => f.Page)
                .ThenBy(f => f.OtherPage)
                .ThenBy(f => f.OtherCluster),
        ];
    }

    private IEnumerable<Finding> FoundIn(SiteFacts site, int cluster)
    {
        var (members, map) = (site.Clusters[cluster].Members, site.Map[cluster]);
        var primary = site.Clusters[cluster].Primary;
        if (!_kept.TryGetValue(primary, out var kept) || !kept.Members.AsSpan().SequenceEqual(members.AsSpan()))
            kept = null;
        var seen = kept?.Seen ?? SeenIn(site, site.Clusters[cluster]);
        var atHome = seen.Where(p => site.IsAtHomeElsewhere(p, cluster)).ToImmutableArray();
        if (kept is null || kept.Map != map || !kept.AtHome.AsSpan().SequenceEqual(atHome.AsSpan()))
        {
            Anew++;
            _kept[primary] = kept = new Kept(members, map, seen, atHome, [.. OfCluster.SelectMany(find => find(site, cluster))]);
        }

        return kept.Findings.Select(f => f.Cluster == cluster ? f : f with { Cluster = cluster });
    }

    private static ImmutableArray<int> SeenIn(SiteFacts site, Cluster cluster) =>
        [.. site.ClicksByPage(cluster).Keys.Union(site.VisitsByPage(cluster).Keys).Order()];

    /// <summary>The result list that stands for each cluster.</summary>
    private ResultLists ListsOf(SiteFacts site)
    {
        if (_lists is null || !_listed!.SequenceEqual(site.Clusters))
        {
            _listed = [.. site.Clusters];
            _lists = ClusterResults.Of(
                site.Clusters, ClusterResults.SearchWeights(site.Clusters, site.Keywords), site.Settings.Compared(site.Lists, site.UrlIdentities), site.Settings.Depth, site.UrlIdentities);
        }

        return _lists;
    }

    private static bool IsDeliberate(SiteFacts site, Finding finding) =>
        finding.Kind.IsCannibalization() && finding is { Page: { } a, OtherPage: { } b } && site.DeliberatePairs.Contains((Math.Min(a, b), Math.Max(a, b)));

    private sealed record Kept(ImmutableArray<int> Members, MappedPage Map, ImmutableArray<int> Seen, ImmutableArray<int> AtHome, ImmutableArray<Finding> Findings);
}
