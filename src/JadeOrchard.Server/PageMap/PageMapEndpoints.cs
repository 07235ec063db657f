using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Site;
using JadeOrchard.Server.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Site;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.PageMap;

/// <summary>A cluster at the mapping desk: which pages could serve it, with the facts.</summary>
/// <param name="ProposedUrl">For a new page, as the site writes its addresses.</param>
/// <param name="ProposedTitle">For a new page, from the primary keyword.</param>
/// <param name="ProposedForm">For a new page, by the intent.</param>
/// <param name="Rivals">The strongest pages of others, by the clicks that the cluster's searches bring them.</param>
/// <param name="PerformanceDays">How many days of search performance count; 0 where none was brought.</param>
public sealed record MappingView(
    ClusterRow Cluster, IReadOnlyList<CandidateView> Candidates, string ProposedUrl, string ProposedTitle, PageForm ProposedForm, IReadOnlyList<RivalView> Rivals, int PerformanceDays);

/// <summary>A page that could serve the cluster.</summary>
/// <param name="Standings">What is known of it for keywords of the cluster, those of most volume first; keywords for which nothing is are left out.</param>
/// <param name="SeenFor">Keywords of the cluster in whose result list it stands.</param>
/// <param name="Clicks">From the cluster's queries, within the days that count.</param>
/// <param name="NotMentioned">Keywords of the cluster with a word that the page's known text does not have.</param>
/// <param name="IsRead">Its main text was read; otherwise only title, headings and address are known.</param>
/// <param name="Caution">What its kind of page has against the cluster's intent; null where nothing.</param>
public sealed record CandidateView(
    PageCandidate Page, IReadOnlyList<CandidateStanding> Standings, int SeenFor, int Keywords, long Clicks, long Impressions, IReadOnlyList<string> NotMentioned,
    int NotMentionedCount, bool IsRead, long? Words, string? Caution);

/// <summary>What is known of a candidate for one keyword.</summary>
/// <param name="Position">In the newest result list; 0 where it is not in it.</param>
/// <param name="Clicks">Within the days that count; null where it was not shown.</param>
/// <param name="AveragePosition">In search performance; null where it was not shown.</param>
public sealed record CandidateStanding(string Keyword, long? Volume, int Position, long? Clicks, long? Impressions, double? AveragePosition);

/// <summary>A page of another site.</summary>
public sealed record RivalView(string Url, double Clicks, int SeenFor);

/// <summary>Gives a cluster an existing page, or one that is planned already.</summary>
/// <param name="Version">That of the cluster as it was shown; null not to look whether it was changed meanwhile.</param>
/// <param name="PageVersion">That of the page as it was shown; likewise.</param>
public sealed record AssignRequest(PageId PageId, string? Version = null, string? PageVersion = null);

/// <summary>Plans a new page for a cluster.</summary>
/// <param name="Form">What kind of page; null for the one that the intent proposes.</param>
/// <param name="TopicId">The topic it belongs to; null for the cluster's.</param>
/// <param name="Version">That of the cluster as it was shown; null not to look whether it was changed meanwhile.</param>
public sealed record PlanPageRequest(string Url, string? WorkingTitle, PageForm? Form = null, TopicId? TopicId = null, string? Version = null);

/// <summary>Says that a cluster is to have no page.</summary>
/// <param name="Version">That of the cluster as it was shown; null not to look whether it was changed meanwhile.</param>
public sealed record DeclineClusterRequest(string Reason, string? Version = null);

/// <summary>Accepts clear suggestions.</summary>
/// <param name="ClusterIds">Which; null for all of them.</param>
public sealed record AcceptClearRequest(IReadOnlyList<ClusterId>? ClusterIds = null);

/// <summary>How many clusters were given their clear page.</summary>
public sealed record AcceptedView(int Clusters);

/// <summary>The page map: each cluster gets one page.</summary>
public static class PageMapEndpoints
{
    private const int RivalsShown = 5;
    private const int KeywordsShown = 8;

    public static void MapPageMap(this RouteGroupBuilder api)
    {
        api.MapGet("/page-map/{clusterId:long}", Results<Ok<MappingView>, ProblemHttpResult> (ClusterId clusterId, Project project) =>
                project.Read<Results<Ok<MappingView>, ProblemHttpResult>>((session, snapshot) => ClusterStore.Find(session, clusterId) is { } cluster
                    ? TypedResults.Ok(View(session, snapshot, cluster))
                    : NoCluster(clusterId)))
            .WithName("mapping");

        api.MapPut("/page-map/{clusterId:long}", Results<Ok<ClusterRow>, ProblemHttpResult> (ClusterId clusterId, AssignRequest request, Project project) =>
                Change(project, clusterId, "Assign a page", request.Version, session =>
                {
                    if (PageStore.Find(session, request.PageId) is not { } page)
                        return Problems.Invalid("pageId", $"There is no page {request.PageId}.");
                    Project.RefuseStale(session, Thing.Page(page.Id), page.Version, request.PageVersion);
                    PageMapStore.Assign(session, clusterId, request.PageId, project.Now);
                    return null;
                }))
            .WithName("assignPage");

        api.MapPost("/page-map/{clusterId:long}/planned", Results<Ok<ClusterRow>, ProblemHttpResult> (ClusterId clusterId, PlanPageRequest request, Project project) =>
                PlanPage(project, clusterId, request))
            .WithName("planPage");

        api.MapPost("/page-map/{clusterId:long}/decline", Results<Ok<ClusterRow>, ProblemHttpResult> (ClusterId clusterId, DeclineClusterRequest request, Project project) =>
                Change(project, clusterId, "Decline a cluster", request.Version, session =>
                {
                    if (string.IsNullOrWhiteSpace(request.Reason))
                        return Problems.Invalid("reason", "Say why it is to have no page, so that it can be understood later.");
                    PageMapStore.Decline(session, clusterId, request.Reason.Trim(), project.Now);
                    return null;
                }))
            .WithName("declineCluster");

        api.MapDelete("/page-map/{clusterId:long}", Results<Ok<ClusterRow>, ProblemHttpResult> (ClusterId clusterId, string? version, Project project) =>
                Change(project, clusterId, "Unassign a page", version, session =>
                {
                    PageMapStore.Unassign(session, clusterId);
                    return null;
                }))
            .WithName("clearPage");

        api.MapGet("/page-map/clear", (Project project) => project.Read(session => PageMapStore.ClearSuggestions(session, 0))).WithName("clearSuggestions");

        api.MapPost("/page-map/accept-clear", (AcceptClearRequest? request, Project project) => TypedResults.Ok(new AcceptedView(AcceptClear(project, 0, request?.ClusterIds))))
            .WithName("acceptClear");

        api.MapGet("/page-map/progress", (Project project) => project.Read(ClusterStore.ByCoverage))
            .WithName("mappingProgress");
    }

    /// <summary>Gives undecided clusters their clear page. One undoable step.</summary>
    /// <param name="project">The project.</param>
    /// <param name="minDemand">Only clusters with this demand or more.</param>
    /// <param name="clusterIds">Only these; null for all.</param>
    /// <returns>How many.</returns>
    public static int AcceptClear(Project project, long minDemand = 0, IReadOnlyList<ClusterId>? clusterIds = null) => project.Change<int>("Accept clear pages", session =>
    {
        var wanted = clusterIds?.ToHashSet();
        var clear = PageMapStore.ClearSuggestions(session, minDemand).Where(s => wanted?.Contains(s.ClusterId) != false).ToList();
        foreach (var suggestion in clear)
            PageMapStore.Assign(session, suggestion.ClusterId, suggestion.PageId, project.Now);
        return clear.Count;
    }).Value;

    private static Results<Ok<ClusterRow>, ProblemHttpResult> PlanPage(Project project, ClusterId clusterId, PlanPageRequest request) =>
        Change(project, clusterId, "Plan a page", request.Version, session =>
        {
            var site = new OwnSite(ProjectStore.Get(session).Host);
            var url = AbsoluteUrl(site, request.Url);
            if (!UrlIdentity.TryOf(url, UrlFolds.All, out var identity))
                return Problems.Invalid("url", $"'{request.Url}' is no address. Write a path such as /guides/first-kayak, or a whole address.");
            if (site.Host.Length > 0 && !site.Owns(identity))
                return Problems.Invalid("url", $"'{request.Url}' is not on {site}. Write a path such as /guides/first-kayak.");
            if (PageStore.FindByIdentity(session, identity) is { } there)
            {
                return Problems.Invalid("url", there.Kind == PageKind.Existing
                    ? $"{there.Url} exists already. Choose it from the pages, or write another address."
                    : $"{there.Url} is planned already. Choose it from the pages, or write another address.");
            }

            if (request.TopicId is { } topic && TopicStore.Find(session, topic) is null)
                return Problems.Invalid("topicId", $"There is no topic {topic}.");
            var cluster = ClusterStore.Find(session, clusterId)!;
            var page = PageStore.Plan(
                session, identity, url, string.IsNullOrWhiteSpace(request.WorkingTitle) ? null : request.WorkingTitle.Trim(), request.Form ?? FormFor(cluster.Intent), request.TopicId ?? cluster.TopicId);
            PageMapStore.Assign(session, clusterId, page, project.Now);
            PlanSteps.AddPlanned(session, [(page, clusterId)], project.Now);
            return null;
        });

    /// <summary>Plans the page that is proposed for a cluster.</summary>
    public static void PlanProposed(Project project, ClusterId clusterId)
    {
        var view = project.Read((session, snapshot) => View(session, snapshot, ClusterStore.Find(session, clusterId)!));
        PlanPage(project, clusterId, new PlanPageRequest(view.ProposedUrl, view.ProposedTitle, view.ProposedForm));
    }

    private static Results<Ok<ClusterRow>, ProblemHttpResult> Change(Project project, ClusterId clusterId, string label, string? version, Func<WriteSession, ProblemHttpResult?> change) =>
        project.Change(label, session =>
        {
            if (ClusterStore.Find(session, clusterId) is not { } now)
                return NoCluster(clusterId);
            Project.RefuseStale(session, Thing.Cluster(clusterId), now.Version, version);
            return change(session);
        }) is { } refusal
            ? refusal
            : TypedResults.Ok(project.Read(session => ClusterStore.Find(session, clusterId))!);

    private static ProblemHttpResult NoCluster(ClusterId id) => Problems.NotFound($"There is no cluster {id}. It may have gone in a re-grouping.");

    private static string AbsoluteUrl(OwnSite site, string given)
    {
        var text = given.Trim();
        return text.StartsWith('/') && site.Host.Length > 0 ? site.UrlOf(text) : text;
    }

    private static MappingView View(Session session, ProjectSnapshot snapshot, ClusterRow cluster)
    {
        var primary = snapshot.IndexOfKeyword[cluster.PrimaryKeywordId];
        var members = ClusterStore.Members(session, cluster.Id).Select(id => snapshot.IndexOfKeyword[id]).OrderByDescending(k => k == primary).ThenBy(k => snapshot.Ranks[k]).ToList();
        var text = snapshot.Text(session);
        var site = new OwnSite(ProjectStore.Get(session).Host);
        var kin = cluster.TopicId is null ? [] : ClusterStore.List(session, new ListQuery(Limit: int.MaxValue), new ClusterFilter(TopicId: cluster.TopicId)).Rows
            .Where(c => c.PageKind == PageKind.Existing && c.Intent == cluster.Intent).Select(c => c.PageUrl!).ToList();
        return new MappingView(
            cluster,
            [.. PageMapStore.Candidates(session, cluster.Id).Select(c => Candidate(snapshot, text, members, c, cluster.Intent))],
            snapshot.Habits.PathFor(snapshot.Keywords[primary].NormalForm, cluster.Intent, kin, path => UrlIdentity.TryOf(AbsoluteUrl(site, path), UrlFolds.All, out var identity) && PageStore.FindByIdentity(session, identity) is not null),
            snapshot.Habits.TitleFor(snapshot.Keywords[primary].Phrase),
            FormFor(cluster.Intent),
            Rivals(snapshot, members),
            snapshot.Performance.Days);
    }

    private static CandidateView Candidate(ProjectSnapshot snapshot, SiteText text, List<int> members, PageCandidate candidate, Intent? intent)
    {
        var page = snapshot.IndexOfPage[candidate.PageId];
        var known = members
            .Select(k =>
            {
                var position = ResultsEvidence.Standings(k, snapshot.Lists, snapshot.PageOfUrl).FirstOrDefault(s => s.Page == page).Position;
                var figures = snapshot.Performance.Of(k).ToArray().FirstOrDefault(f => f.Page == page);
                var isShown = figures.Impressions > 0;
                return new CandidateStanding(
                    snapshot.Keywords[k].Phrase, snapshot.Keywords[k].Volume, position, isShown ? figures.Clicks : null, isShown ? figures.Impressions : null, isShown ? figures.Position : null);
            })
            .Where(s => s.Position > 0 || s.Impressions is not null)
            .ToList();
        var notMentioned = text.IsKnown(page) ? members.Where(k => !text.Mentions(page, k)).ToList() : [];
        var purpose = PagePurpose.Of(snapshot.Pages[page]);
        return new CandidateView(
            candidate,
            [.. known.Take(KeywordsShown)],
            known.Count(s => s.Position > 0),
            members.Count,
            known.Sum(s => s.Clicks ?? 0),
            known.Sum(s => s.Impressions ?? 0),
            [.. notMentioned.Take(KeywordsShown).Select(k => snapshot.Keywords[k].Phrase)],
            notMentioned.Count,
            text.IsRead(page),
            snapshot.Pages[page].Words,
            PagePurpose.IsMismatch(purpose, intent) ? $"By its address or title it is a page for {Name(purpose)} searches; this cluster is {Name(intent)}." : null);
    }

    private static string Name(Intent? intent) => intent?.ToString().ToLowerInvariant() ?? "";

    /// <summary>What kind of page answers an intent (common practice).</summary>
    private static PageForm FormFor(Intent? intent) => intent switch
    {
        Intent.Informational => PageForm.Guide,
        Intent.Commercial => PageForm.Comparison,
        Intent.Transactional => PageForm.Category,
        _ => PageForm.Other,
    };

    /// <returns>The pages of others that get most clicks from some keywords, estimated.</returns>
    internal static List<RivalView> Rivals(ProjectSnapshot snapshot, IReadOnlyCollection<int> members) =>
    [
        .. snapshot.Rivals(members, RivalsShown)
            .Select(r => new RivalView(snapshot.UrlIdentities[r.Url].Replace("https://", "", StringComparison.Ordinal), r.Clicks, r.SeenFor)),
    ];
}
