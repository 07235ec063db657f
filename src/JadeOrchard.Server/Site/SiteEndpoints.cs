using JadeOrchard.Core.PageMap;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Site;

/// <summary>A page with its clusters and findings, its earlier titles, the pages that link to it and the queries it was shown for.</summary>
public sealed record PageDetail(
    PageRow Page, IReadOnlyList<ClusterRow> Clusters, IReadOnlyList<FindingRow> Findings, IReadOnlyList<PageStanding> Standings, IReadOnlyList<PageTitleRow> Titles,
    IReadOnlyList<PageLinkRow> LinksTo, IReadOnlyList<QueryRow> Queries, int PerformanceDays);

/// <summary>A keyword for which a page is in the results.</summary>
public sealed record PageStanding(KeywordId KeywordId, string Keyword, long? Volume, int Position);

/// <summary>The pages of the site.</summary>
public static class SiteEndpoints
{
    private const int StandingsShown = 50;
    private const int LinksShown = 50;

    public static void MapSite(this RouteGroupBuilder api)
    {
        api.MapGet("/pages", ([AsParameters] Listing listing, [AsParameters] PageFilter filter, Project project) =>
                project.Read(session => PageStore.List(session, listing.ToQuery(), filter)))
            .WithName("pages");

        api.MapGet("/pages.csv", ([AsParameters] Listing listing, [AsParameters] PageFilter filter, Project project) => Listing.Csv(
                "pages.csv",
                ["url", "kind", "title", "h1", "description", "words", "h2", "h3", "status", "indexable", "canonical", "redirects_to", "published_on", "modified_on", "first_seen_at", "gone_since", "links_in",
                    "cluster", "demand", "seen_for", "clicks_estimated", "open_findings"],
                project.Read(session => PageStore.List(session, listing.ToExport(), filter)).Rows.Select(p => new object?[]
                {
                    p.Url, p.Kind.ToString().ToLowerInvariant(), p.Title, p.H1, p.Description, p.Words, p.H2, p.H3, p.Status, p.Indexable, p.Canonical, p.RedirectsTo,
                    p.PublishedOn, p.ModifiedOn, p.FirstSeenAt, p.GoneSince, p.LinksIn, p.ClusterName, p.Demand, p.SeenFor, Math.Round(p.Clicks, 1), p.OpenFindings,
                })))
            .ExcludeFromDescription();

        api.MapGet("/pages/{id:long}", Results<Ok<PageDetail>, ProblemHttpResult> (PageId id, Project project) => project.Read<Results<Ok<PageDetail>, ProblemHttpResult>>((session, snapshot) =>
            {
                if (PageStore.Find(session, id) is not { } page)
                    return Problems.NotFound($"There is no page {id}.");
                return TypedResults.Ok(new PageDetail(
                    page,
                    ClusterStore.List(session, new ListQuery(), new ClusterFilter(PageId: id)).Rows,
                    FindingStore.List(session, new ListQuery(), new FindingFilter(PageId: id)).Rows,
                    Standings(snapshot, id),
                    ScanStore.Titles(session, id),
                    ScanStore.LinksTo(session, id, LinksShown),
                    PerformanceStore.OfPage(session, id, StandingsShown),
                    snapshot.Performance.Days));
            }))
            .WithName("page");
    }

    private static List<PageStanding> Standings(ProjectSnapshot snapshot, PageId pageId)
    {
        if (!snapshot.IndexOfPage.TryGetValue(pageId, out var page))
            return [];
        var standings = new List<PageStanding>();
        foreach (var k in snapshot.KeywordsOf(page))
        {
            var position = ResultsEvidence.Standings(k, snapshot.Lists, snapshot.PageOfUrl).FirstOrDefault(s => s.Page == page).Position;
            if (position > 0)
                standings.Add(new PageStanding(snapshot.KeywordIds[k], snapshot.Keywords[k].Phrase, snapshot.Keywords[k].Volume, position));
        }

        return [.. standings.OrderByDescending(s => s.Volume ?? 0).ThenBy(s => s.Keyword, StringComparer.Ordinal).Take(StandingsShown)];
    }
}
