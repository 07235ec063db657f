using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Site;
using JadeOrchard.Server.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Findings;

/// <summary>A conflict with its pages side by side.</summary>
/// <param name="Pages">The page that should stand there first.</param>
/// <param name="PageCount">How many pages it has; the first are given.</param>
/// <param name="Signs">By what it shows itself, in one sentence each.</param>
/// <param name="Shared">Queries for which two or more of them stand or were shown, those of most volume or impressions first.</param>
/// <param name="Weeks">Clicks and positions week by week for the cluster's queries; for all queries where it is about pages alone.</param>
/// <param name="Step">What was decided; null where nothing was.</param>
public sealed record ConflictView(
    FindingRow Finding, IReadOnlyList<ConflictPage> Pages, int PageCount, IReadOnlyList<string> Signs, IReadOnlyList<ConflictQuery> Shared, int SharedCount,
    IReadOnlyList<PerformanceWeek> Weeks, PlanStep? Step, int PerformanceDays);

/// <summary>One page of a conflict.</summary>
/// <param name="Only">Queries for which this page alone stands or was shown.</param>
/// <param name="Clicks">Within the days that count, for all queries.</param>
public sealed record ConflictPage(
    PageRow Page, IReadOnlyList<ClusterRow> Clusters, IReadOnlyList<ConflictQuery> Only, int OnlyCount, long Clicks, long Impressions, double EstimatedClicks);

/// <summary>What the pages of a conflict have of a query, in the order of the pages.</summary>
/// <param name="KeywordId">Null where the query is no keyword.</param>
/// <param name="Positions">In the newest result list; 0 where the page is not in it.</param>
public sealed record ConflictQuery(
    string Query, KeywordId? KeywordId, long? Volume, IReadOnlyList<int> Positions, IReadOnlyList<long> Clicks, IReadOnlyList<long> Impressions, IReadOnlyList<double?> AveragePositions);

/// <summary>What is decided of a conflict.</summary>
public enum ConflictDecision
{
    Redirect,
    Merge,
    NewTarget,
    Canonical,
    Link,

    /// <summary>Both pages are wanted as they are: they raise nothing any more.</summary>
    Deliberate,

    /// <summary>It is left as it is, for a reason.</summary>
    Leave,
}

/// <summary>Decides a conflict.</summary>
/// <param name="KeepPageId">The page that is kept, stays the target, or is linked to; null for the finding's own page.</param>
/// <param name="Note">Needed, as the reason, where it is deliberate or left as it is.</param>
/// <param name="Version">That of the finding as it was shown; null not to look whether it was changed meanwhile.</param>
public sealed record ConflictRequest(ConflictDecision Decision, PageId? KeepPageId = null, string? Note = null, string? Version = null);

/// <summary>Conflicts between pages of the site, one at a time.</summary>
public static class ConflictEndpoints
{
    private const int QueriesShown = 40;
    private const int QueriesRead = 2_000;

    /// <summary>Pages side by side; more do not fit on a screen.</summary>
    private const int PagesShown = 6;

    /// <summary>Pages of which all pairs can be declared deliberate at once.</summary>
    private const int MostDeliberate = 12;

    public static void MapConflicts(this RouteGroupBuilder api)
    {
        api.MapGet("/conflicts/{key}", Results<Ok<ConflictView>, ProblemHttpResult> (string key, Project project) =>
                project.Read<Results<Ok<ConflictView>, ProblemHttpResult>>((session, snapshot) => FindingStore.Find(session, key) is { } finding
                    ? TypedResults.Ok(View(session, snapshot, finding))
                    : FindingEndpoints.NoFinding(key)))
            .WithName("conflict");

        api.MapPost("/conflicts/{key}/decision", Results<Ok<FindingRow>, ProblemHttpResult> (string key, ConflictRequest request, Project project) =>
            {
                var note = request.Note?.Trim() ?? "";
                if (request.Decision is ConflictDecision.Deliberate or ConflictDecision.Leave && note.Length == 0)
                    return Problems.Invalid("note", "Say why it is left as it is, so that it can be understood later.");
                if (note.Length > 2_000)
                    return Problems.Invalid("note", "A note may have 2,000 characters.");
                return FindingEndpoints.Changed(project, key, "Decide a conflict", request.Version, session => Decide(session, project, FindingStore.Find(session, key)!, request, note));
            })
            .WithName("decideConflict");

        api.MapDelete("/conflicts/{key}/decision", Results<Ok<FindingRow>, ProblemHttpResult> (string key, string? version, Project project) =>
                FindingEndpoints.Changed(project, key, "Retract a decision", version, session =>
                {
                    PlanSteps.TakeBack(session, [key]);
                    foreach (var (page, other) in Pairs(FindingStore.PagesOf(session, key, MostDeliberate)))
                        FindingDecisions.UndeclarePair(session, page, other);
                    FindingDecisions.Decide(session, [key], FindingState.Open, "", project.Now);
                    return null;
                }))
            .WithName("takeDecisionBack");

        api.MapGet("/deliberate-pairs", (Project project) => project.Read(FindingDecisions.DeliberatePairs)).WithName("deliberatePairs");

        api.MapDelete("/deliberate-pairs/{pageId:long}/{otherPageId:long}", Results<NoContent, ProblemHttpResult> (PageId pageId, PageId otherPageId, Project project) =>
                project.Change("Undeclare a deliberate pair", session => FindingDecisions.UndeclarePair(session, pageId, otherPageId)
                    ? null
                    : Problems.NotFound($"Pages {pageId} and {otherPageId} are not declared deliberate.")) is { } problem ? problem : TypedResults.NoContent())
            .WithName("takePairBack");
    }

    private static ProblemHttpResult? Decide(WriteSession session, Project project, FindingRow finding, ConflictRequest request, string note)
    {
        var key = finding.Key;
        var pages = FindingStore.PagesOf(session, key);
        if (request.KeepPageId is { } wanted && pages.All(p => p.Id != wanted))
            return Problems.Invalid("keepPageId", "The page that is kept must be one of those of this finding.");
        PageId? keep = request.KeepPageId ?? (pages is [var first, ..] ? first.Id : null);
        List<PageId> others = [.. pages.Select(p => p.Id).Where(p => p != keep)];
        switch (request.Decision)
        {
            case ConflictDecision.Leave:
                PlanSteps.TakeBack(session, [key]);
                FindingDecisions.Decide(session, [key], FindingState.Dismissed, note, project.Now);
                break;
            case ConflictDecision.Deliberate:
                if (others.Count is 0 or >= MostDeliberate)
                    return Problems.Invalid("decision", $"Two to {MostDeliberate} pages can be declared deliberate; leave this finding as it is instead.");
                PlanSteps.TakeBack(session, [key]);
                foreach (var (page, other) in Pairs(pages))
                    FindingDecisions.DeclarePair(session, page, other, note, project.Now);
                break;
            default:
                if (others.Count == 0 && request.Decision is not (ConflictDecision.NewTarget or ConflictDecision.Link))
                    return Problems.Invalid("decision", "This finding is about one page; there is nothing to redirect, merge or make canonical.");
                StepStore.TakeBack(session, [key]);
                PlanStore.Decide(session, finding, Enum.Parse<Remedy>(request.Decision.ToString()), keep, others, note, project.Now);
                FindingDecisions.Decide(session, [key], FindingState.Accepted, "", project.Now);
                PlanSteps.AddDecided(session, [key], project.Now);
                break;
        }

        return null;
    }

    private static IEnumerable<(PageId, PageId)> Pairs(IReadOnlyList<FindingPage> pages) => pages.SelectMany((a, i) => pages.Skip(i + 1).Select(b => (a.Id, b.Id)));

    private static ConflictView View(Session session, ProjectSnapshot snapshot, FindingRow finding)
    {
        List<PageId> pageIds = [.. FindingStore.PagesOf(session, finding.Key, PagesShown).Select(p => p.Id)];
        var queries = Queries(session, snapshot, pageIds);
        bool Has(ConflictQuery query, int page) => query.Positions[page] > 0 || query.Impressions[page] > 0;
        int[] all = [.. Enumerable.Range(0, pageIds.Count)];
        var shared = queries.Where(q => all.Count(p => Has(q, p)) > 1).ToList();
        var pages = pageIds.Select((id, p) =>
        {
            var only = queries.Where(q => Has(q, p) && all.All(o => o == p || !Has(q, o))).ToList();
            var index = snapshot.IndexOfPage.TryGetValue(id, out var known) ? known : -1;
            var page = PageStore.Find(session, id)!;
            return new ConflictPage(
                page,
                ClusterStore.List(session, new ListQuery(), new ClusterFilter(PageId: id)).Rows,
                [.. only.Take(QueriesShown)],
                only.Count,
                index < 0 ? 0 : snapshot.Performance.ClicksOf(index),
                index < 0 ? 0 : snapshot.Performance.ImpressionsOf(index),
                page.Clicks);
        });
        var host = ProjectStore.Get(session).Host;
        var signs = FindingStore.SignsOf(session, finding.Key, PagesShown).Select(s => FindingText.Sentence(new SaidSign(
            s.Kind, s.Page is null ? null : ShortUrl.Of(s.Page.Url, host), [.. s.Others.Select(o => ShortUrl.Of(o.Url, host))], s.OtherClusterName, s.Facts.Count))).Distinct(StringComparer.Ordinal);
        return new ConflictView(
            finding,
            [.. pages],
            (int)finding.PageCount,
            [.. signs],
            [.. shared.Take(QueriesShown)],
            shared.Count,
            PerformanceStore.Weeks(session, pageIds, finding.ClusterId),
            PlanStore.StepFor(session, finding.Key),
            snapshot.Performance.Days);
    }

    private static List<ConflictQuery> Queries(Session session, ProjectSnapshot snapshot, List<PageId> pageIds)
    {
        var pages = pageIds.Select(id => snapshot.IndexOfPage.TryGetValue(id, out var page) ? page : -1).ToArray();
        var queries = new List<ConflictQuery>();
        var known = new HashSet<string>(StringComparer.Ordinal);
        foreach (var k in pages.SelectMany(snapshot.KeywordsOf).Distinct().Order())
        {
            var standings = ResultsEvidence.Standings(k, snapshot.Lists, snapshot.PageOfUrl);
            int[] positions = [.. pages.Select(page => standings.FirstOrDefault(s => s.Page == page).Position)];
            var figures = snapshot.Performance.Of(k).ToArray().Where(f => Array.IndexOf(pages, f.Page) >= 0).ToList();
            if (figures.Count == 0 && positions.All(p => p == 0))
                continue;
            Core.Performance.PageFigures? Of(int p) => figures.Where(f => f.Page == pages[p]).Select(f => (Core.Performance.PageFigures?)f).FirstOrDefault();
            known.Add(snapshot.Keywords[k].NormalForm);
            queries.Add(new ConflictQuery(
                snapshot.Keywords[k].Phrase, snapshot.KeywordIds[k], snapshot.Keywords[k].Volume, positions,
                [.. pages.Select((_, p) => Of(p)?.Clicks ?? 0)], [.. pages.Select((_, p) => Of(p)?.Impressions ?? 0)], [.. pages.Select((_, p) => Of(p)?.Position)]));
        }

        // Queries that are no keywords.
        var others = pageIds.SelectMany((id, p) => PerformanceStore.OfPage(session, id, QueriesRead).Where(q => q.KeywordId is null && q.Query.Length > 0).Select(q => (Page: p, Query: q)))
            .GroupBy(q => KeywordNormalForm.Of(q.Query.Query)).Where(g => !known.Contains(g.Key));
        foreach (var other in others)
        {
            QueryRow? Of(int p) => other.Where(o => o.Page == p).Select(o => o.Query).FirstOrDefault();
            queries.Add(new ConflictQuery(
                other.First().Query.Query, null, null, [.. pages.Select(_ => 0)],
                [.. pages.Select((_, p) => Of(p)?.Clicks ?? 0)], [.. pages.Select((_, p) => Of(p)?.Impressions ?? 0)], [.. pages.Select((_, p) => Of(p)?.Position)]));
        }

        return [.. queries.OrderByDescending(q => q.Impressions.Sum()).ThenByDescending(q => q.Volume ?? 0).ThenBy(q => q.Query, StringComparer.Ordinal)];
    }
}
