using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Overview;
using JadeOrchard.Storage.Site;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Overview;

/// <summary>What a place is.</summary>
public enum PlaceKind
{
    Page,
    Cluster,
    Topic,
    Keyword,
}

/// <summary>Something to go to.</summary>
/// <param name="Id">Its id among those of its kind.</param>
/// <param name="Detail">What tells it from others of the name.</param>
public sealed record PlaceView(PlaceKind Kind, string Id, string Name, string Detail);

/// <summary>Going anywhere by a few letters, and what is worth knowing of each list.</summary>
public static class PlacesEndpoints
{
    /// <summary>Of each kind.</summary>
    private const int MostPlaces = 6;

    public static void MapPlaces(this RouteGroupBuilder api)
    {
        api.MapGet("/places", IReadOnlyList<PlaceView> (string search, Project project) => project.Read(session => Places(session, search.Trim()))).WithName("places");
        api.MapGet("/keywords/summary", (Project project) => project.Read(SummaryStore.Keywords)).WithName("keywordsSummary");
        api.MapGet("/pages/summary", (Project project) => project.Read(SummaryStore.Pages)).WithName("pagesSummary");
        api.MapGet("/clusters/summary", (Project project) => project.Read(SummaryStore.Clusters)).WithName("clustersSummary");
        api.MapGet("/page-map/summary", (Project project) => project.Read(SummaryStore.PageMap)).WithName("pageMapSummary");
        api.MapGet("/findings/summary", (Project project) => project.Read(SummaryStore.Findings)).WithName("findingsSummary");
        api.MapGet("/briefs/summary", (Project project) => project.Read(SummaryStore.Briefs)).WithName("briefsSummary");
    }

    /// <summary>What is called like that, those of most demand first within each kind.</summary>
    private static IReadOnlyList<PlaceView> Places(Session session, string search)
    {
        if (search.Length == 0)
            return [];
        var query = new ListQuery(search, Limit: MostPlaces);
        return
        [
            .. ClusterStore.List(session, query, new ClusterFilter()).Rows.Select(c => new PlaceView(PlaceKind.Cluster, c.Id.ToString(), c.Name, c.PageUrl ?? "no page")),
            .. PageStore.List(session, query, new PageFilter()).Rows.Select(p => new PlaceView(PlaceKind.Page, p.Id.ToString(), p.Url, p.Title ?? "")),
            .. TopicStore.List(session, query).Rows.Select(t => new PlaceView(PlaceKind.Topic, t.Id.ToString(), t.Name, $"{t.Clusters} {(t.Clusters == 1 ? "cluster" : "clusters")}")),
            .. KeywordStore.List(session, query, new KeywordFilter()).Rows.Select(k => new PlaceView(PlaceKind.Keyword, k.Id.ToString(), k.Phrase, k.ClusterName ?? "")),
        ];
    }
}
