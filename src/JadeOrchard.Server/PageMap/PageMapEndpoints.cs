using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.PageMap;

/// <summary>A cluster at the mapping desk: which pages could stand for it, with the facts.</summary>
/// <param name="ProposedUrl">For a new page, from the primary keyword.</param>
/// <param name="ProposedTitle">For a new page, from the primary keyword.</param>
/// <param name="Rivals">The strongest pages of others, by the clicks that the cluster's searches bring them.</param>
public sealed record MappingView(
    ClusterRow Cluster, IReadOnlyList<CandidateView> Candidates, string ProposedUrl, string ProposedTitle, IReadOnlyList<RivalView> Rivals);

/// <summary>A page that could stand for the cluster.</summary>
/// <param name="SeenFor">Keywords of the cluster in whose result list it stands, most searched first.</param>
/// <param name="NotMentioned">Keywords of the cluster with a word that the page's known text does not have.</param>
public sealed record CandidateView(PageCandidate Page, IReadOnlyList<CandidateStanding> SeenFor, int Keywords, IReadOnlyList<string> NotMentioned);

/// <summary>Where a candidate stands.</summary>
public sealed record CandidateStanding(string Keyword, long? Volume, int Position);

/// <summary>A page of another site.</summary>
public sealed record RivalView(string Url, double Clicks, int SeenFor);

/// <summary>Gives a cluster an existing page, or one that is planned already.</summary>
public sealed record AssignRequest(long PageId);

/// <summary>Plans a new page for a cluster.</summary>
public sealed record PlanPageRequest(string Url, string? WorkingTitle);

/// <summary>How many clusters were given their clear page.</summary>
public sealed record AcceptedView(int Clusters);

/// <summary>The page map: each cluster gets one page.</summary>
public static class PageMapEndpoints
{
    private const int RivalsShown = 5;
    private const int KeywordsShown = 8;

    public static void MapPageMap(this RouteGroupBuilder api)
    {
        api.MapGet("/page-map/{clusterId:long}", Results<Ok<MappingView>, ProblemHttpResult> (long clusterId, Orchard orchard) =>
                orchard.Read<Results<Ok<MappingView>, ProblemHttpResult>>((session, snapshot) => ClusterStore.Find(session, clusterId) is { } cluster
                    ? TypedResults.Ok(View(session, snapshot, cluster))
                    : NoCluster(clusterId)))
            .WithName("mapping");

        api.MapPut("/page-map/{clusterId:long}", Results<Ok<ClusterRow>, ProblemHttpResult> (long clusterId, AssignRequest request, Orchard orchard) =>
                Change(orchard, clusterId, "Assign a page", session =>
                {
                    if (PageStore.Find(session, request.PageId) is null)
                        return Problems.Invalid("pageId", $"There is no page {request.PageId}.");
                    PageMapStore.Assign(session, clusterId, request.PageId, orchard.Now);
                    return null;
                }))
            .WithName("assignPage");

        api.MapPost("/page-map/{clusterId:long}/planned", Results<Ok<ClusterRow>, ProblemHttpResult> (long clusterId, PlanPageRequest request, Orchard orchard) =>
                PlanPage(orchard, clusterId, request))
            .WithName("planPage");

        api.MapDelete("/page-map/{clusterId:long}", Results<Ok<ClusterRow>, ProblemHttpResult> (long clusterId, Orchard orchard) =>
                Change(orchard, clusterId, "Take a page away", session =>
                {
                    PageMapStore.Clear(session, clusterId);
                    return null;
                }))
            .WithName("clearPage");

        api.MapPost("/page-map/accept-clear", (Orchard orchard) => TypedResults.Ok(new AcceptedView(AcceptClear(orchard))))
            .WithName("acceptClear");
    }

    /// <summary>Gives every undecided cluster its clear page. One undoable step.</summary>
    /// <param name="orchard">The project.</param>
    /// <param name="minDemand">Only clusters with this demand or more.</param>
    /// <returns>How many.</returns>
    public static int AcceptClear(Orchard orchard, long minDemand = 0) => orchard.Database.Write(
        session =>
        {
            var clear = PageMapStore.ClearSuggestions(session, minDemand);
            foreach (var (cluster, page) in clear)
                PageMapStore.Assign(session, cluster, page, orchard.Now);
            orchard.AfterDecision(session, orchard.Snapshot(session));
            return clear.Count;
        },
        "Accept all clear pages");

    private static Results<Ok<ClusterRow>, ProblemHttpResult> PlanPage(Orchard orchard, long clusterId, PlanPageRequest request) =>
        Change(orchard, clusterId, "Plan a page", session =>
        {
            var site = new OwnSite(ProjectStore.Get(session).Host);
            var url = AbsoluteUrl(site, request.Url);
            if (!UrlIdentity.TryOf(url, UrlFolds.All, out var identity))
                return Problems.Invalid("url", $"'{request.Url}' is no address. Write a path such as /guides/first-kayak, or a whole address.");
            if (site.Host.Length > 0 && !site.Owns(UrlIdentity.HostOf(identity)))
                return Problems.Invalid("url", $"'{request.Url}' is not on {site.Host}. Write a path such as /guides/first-kayak.");
            if (PageStore.FindByIdentity(session, identity) is { } there)
            {
                return Problems.Invalid("url", there.Kind == PageKind.Existing
                    ? $"{there.Url} exists already. Choose it from the pages, or write another address."
                    : $"{there.Url} is planned already. Choose it from the pages, or write another address.");
            }

            var page = PageStore.Plan(session, identity, url, string.IsNullOrWhiteSpace(request.WorkingTitle) ? null : request.WorkingTitle.Trim());
            PageMapStore.Assign(session, clusterId, page, orchard.Now);
            return null;
        });

    /// <summary>Plans the page that is proposed for a cluster.</summary>
    public static void PlanProposed(Orchard orchard, long clusterId)
    {
        var view = orchard.Read((session, snapshot) => View(session, snapshot, ClusterStore.Find(session, clusterId)!));
        PlanPage(orchard, clusterId, new PlanPageRequest(view.ProposedUrl, view.ProposedTitle));
    }

    private static Results<Ok<ClusterRow>, ProblemHttpResult> Change(Orchard orchard, long clusterId, string label, Func<Session, ProblemHttpResult?> change) =>
        orchard.Database.Write<Results<Ok<ClusterRow>, ProblemHttpResult>>(
            session =>
            {
                if (ClusterStore.Find(session, clusterId) is not { } before)
                    return NoCluster(clusterId);
                if (change(session) is { } problem)
                    return problem;
                orchard.AfterDecision(session, orchard.Snapshot(session));
                return TypedResults.Ok(ClusterStore.Find(session, clusterId) ?? before);
            },
            label);

    private static ProblemHttpResult NoCluster(long id) => Problems.NotFound($"There is no cluster {id}. It may have gone in a re-grouping.");

    private static string AbsoluteUrl(OwnSite site, string given)
    {
        var text = given.Trim();
        return text.StartsWith('/') && site.Host.Length > 0 ? $"https://{site.Host}{text}" : text;
    }

    private static MappingView View(Session session, ProjectSnapshot snapshot, ClusterRow cluster)
    {
        var (ids, clusters) = Orchard.Clusters(session, snapshot);
        var members = clusters[ids.ToList().IndexOf(cluster.Id)].Members;
        var project = ProjectStore.Get(session);
        using var analysis = new Core.Keywords.TextAnalysis(project.Language);
        var candidates = PageMapStore.Candidates(session, cluster.Id).Select(c =>
        {
            var page = snapshot.IndexOfPage[c.PageId];
            var seen = members
                .Select(k => (Keyword: k, Standing: ResultsEvidence.Standings(k, snapshot.Lists, snapshot.PageOfUrl).FirstOrDefault(s => s.Page == page)))
                .Where(s => s.Standing.Position > 0)
                .ToList();
            var text = snapshot.Pages[page];
            var words = new[] { text.Title, text.H1, text.Description, text.H2, TextEvidence.PathWords(text.Url) }.SelectMany(analysis.Stems).ToHashSet(StringComparer.Ordinal);
            return new CandidateView(
                c,
                [.. seen.Take(KeywordsShown).Select(s => new CandidateStanding(snapshot.Keywords[s.Keyword].Phrase, snapshot.Keywords[s.Keyword].Volume, s.Standing.Position))],
                seen.Count,
                [.. members.Where(k => !analysis.Stems(snapshot.Keywords[k].NormalForm).All(words.Contains)).Take(KeywordsShown).Select(k => snapshot.Keywords[k].Phrase)]);
        });
        var slug = Slug(snapshot.Keywords[members[0]].NormalForm);
        return new MappingView(
            cluster,
            [.. candidates],
            slug.Length == 0 ? "/" : "/" + slug,
            Sentence(snapshot.Keywords[members[0]].Phrase),
            Rivals(snapshot, members));
    }

    private static List<RivalView> Rivals(ProjectSnapshot snapshot, IReadOnlyList<int> members)
    {
        var rivals = new Dictionary<int, (double Clicks, int SeenFor)>();
        foreach (var keyword in members)
        {
            var urls = snapshot.Lists.Urls(keyword);
            for (var i = 0; i < urls.Length; i++)
            {
                if (snapshot.PageOfUrl[urls[i]] >= 0)
                    continue;
                var (clicks, seen) = rivals.GetValueOrDefault(urls[i]);
                rivals[urls[i]] = (clicks + ((snapshot.Keywords[keyword].Volume ?? 0) * ClickCurve.At(snapshot.Lists.Positions(keyword)[i])), seen + 1);
            }
        }

        return [.. rivals
            .OrderByDescending(r => r.Value.Clicks)
            .ThenBy(r => snapshot.UrlIdentities[r.Key], StringComparer.Ordinal)
            .Take(RivalsShown)
            .Select(r => new RivalView(snapshot.UrlIdentities[r.Key].Replace("https://", "", StringComparison.Ordinal), r.Value.Clicks, r.Value.SeenFor))];
    }

    private static string Slug(string phrase) =>
        string.Join('-', new string([.. phrase.Select(c => char.IsLetterOrDigit(c) ? c : ' ')]).Split(' ', StringSplitOptions.RemoveEmptyEntries));

    private static string Sentence(string phrase) => phrase.Length == 0 ? phrase : char.ToUpperInvariant(phrase[0]) + phrase[1..];
}
