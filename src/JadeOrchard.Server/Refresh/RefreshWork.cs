using System.Globalization;
using System.Text.Json;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;
using JadeOrchard.Server.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Refresh;

/// <summary>A query on a page, by their ids.</summary>
public sealed record QueryItem(PageId PageId, int QueryId);

/// <summary>What is to be done for queries on their pages.</summary>
/// <param name="Period">The days by which they are described.</param>
public sealed record QueryWorkRequest(QueryWork Work, IReadOnlyList<QueryItem> Items, PeriodChoice? Period = null);

/// <summary>Calls queries irrelevant, or takes that back.</summary>
/// <param name="Everywhere">On all pages, not only on these.</param>
public sealed record IrrelevantRequest(IReadOnlyList<QueryItem> Items, bool IsIrrelevant = true, bool Everywhere = false);

/// <summary>Queries that become keywords.</summary>
/// <param name="Items">These; null for all that the filter lets through.</param>
public sealed record QueryKeywordsRequest(IReadOnlyList<QueryItem>? Items = null, QueryFilter? Filter = null, string? Search = null, PeriodChoice? Period = null);

/// <summary>What was done.</summary>
/// <param name="Queries">How many queries it was about.</param>
/// <param name="Steps">Steps of the plan that have them; none where it is no work.</param>
/// <param name="New">Keywords that are new.</param>
public sealed record QueryWorkDone(int Queries, IReadOnlyList<StepId> Steps, long New);

/// <summary>What a planner does with queries: work on their pages, keywords, and leaving them alone.</summary>
public static class RefreshWork
{
    /// <summary>More at once are no decision of a planner.</summary>
    private const int MostItems = 2_000;

    public static void MapRefreshWork(this RouteGroupBuilder api)
    {
        api.MapPost("/refresh/work", Results<Ok<QueryWorkDone>, ProblemHttpResult> (QueryWorkRequest request, Project project, QueryImages images) =>
            {
                var read = project.Read((session, snapshot) => Chosen(request.Items, images.Board(session, snapshot, request.Period ?? new PeriodChoice())));
                if (read.Refusal is not null)
                    return read.Refusal;
                return project.Change<QueryWorkDone>($"{WorkLabel(request.Work)} {Counted(read.Rows.Count)}", session =>
                {
                    var steps = StepStore.Add(session, Parts(session, read.Rows, request.Work), project.Now);
                    PlanSteps.KeepWhatWas(session);
                    return new QueryWorkDone(read.Rows.Count, steps, 0);
                }).ToOk();
            })
            .WithName("addQueryWork");

        api.MapPost("/refresh/irrelevant", Results<Ok<QueryWorkDone>, ProblemHttpResult> (IrrelevantRequest request, Project project, QueryImages images) =>
            {
                var read = project.Read((session, snapshot) => Chosen(request.Items, images.Board(session, snapshot, new PeriodChoice(Days: 366 * 5))));
                if (read.Refusal is not null)
                    return read.Refusal;
                return project.Change<QueryWorkDone>($"{(request.IsIrrelevant ? "Ignore" : "No longer ignore")} {Counted(read.Rows.Count)}", session =>
                {
                    foreach (var row in read.Rows)
                    {
                        if (request.IsIrrelevant)
                            IrrelevantStore.Add(session, row.Form, request.Everywhere ? null : row.View.PageId, project.Now);
                        else
                            IrrelevantStore.Remove(session, row.Form, row.View.PageId);
                    }

                    return new QueryWorkDone(read.Rows.Count, [], 0);
                }).ToOk();
            })
            .WithName("ignoreQueries");

        api.MapPost("/refresh/keywords", Results<Ok<QueryWorkDone>, ProblemHttpResult> (QueryKeywordsRequest request, Project project, QueryImages images) =>
            {
                if (request.Filter?.Fault() is { } fault)
                    return Problems.Invalid(fault.Field, fault.Says);
                var queries = project.Read((session, snapshot) =>
                {
                    if (images.Board(session, snapshot, request.Period ?? new PeriodChoice(Days: Core.Performance.SearchPerformance.WindowDays)) is not { } board)
                        return [];
                    var asked = request.Items?.Select(i => i.QueryId).ToHashSet();
                    var rows = asked is null ? (request.Filter ?? new QueryFilter()).Of(board, request.Search, StepEndpoints.Today(project)) : [.. board.Rows.Where(r => asked.Contains(board.Image.Daily.QueryOf(r.Pair)))];
                    // A keyword has what the query got on all its pages.
                    return rows.GroupBy(r => board.Image.Daily.QueryOf(r.Pair)).Select(g => (Phrase: board.Image.Phrases[g.Key], Form: board.Image.Forms[g.Key], Clicks: g.Sum(r => r.Now.Clicks), Impressions: g.Sum(r => r.Now.Impressions),
                        Position: g.Sum(r => r.Now.Position * r.Now.Impressions) / g.Sum(r => r.Now.Impressions))).ToList();
                });
                if (queries.Count == 0)
                    return Problems.Conflict("No query fits, so that there is nothing to add. Choose a longer period or fewer conditions.");
                return project.Change<QueryWorkDone>($"Add {Counted(queries.Count)} to the keywords", session =>
                {
                    var before = KeywordStore.Count(session);
                    using (var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.Performance, ProjectStore.Get(session).Host, project.Now), project.Now))
                    {
                        foreach (var query in queries)
                            writer.Write(new Keyword(query.Phrase, query.Form), new QueryPerformance(query.Clicks, query.Impressions, query.Position));
                        writer.Finish();
                    }

                    return new QueryWorkDone(queries.Count, [], KeywordStore.Count(session) - before);
                }).ToOk();
            })
            .WithName("queriesToKeywords");
    }

    private static string WorkLabel(QueryWork work) => work switch
    {
        QueryWork.Mention => "Mention",
        QueryWork.Answer => "Answer",
        QueryWork.Section => "Sections for",
        QueryWork.Title => "New titles for",
        _ => "New descriptions for",
    };

    private static string Counted(int queries) => $"{queries.ToString("N0", CultureInfo.InvariantCulture)} {(queries == 1 ? "query" : "queries")}";

    /// <returns>The rows, or why they are refused.</returns>
    private static (ProblemHttpResult? Refusal, List<(QueryView View, string Form)> Rows) Chosen(IReadOnlyList<QueryItem> items, QueryBoard? board)
    {
        var rows = new List<(QueryView, string)>();
        if (items.Count is 0 or > MostItems)
            return (Problems.Invalid("items", items.Count == 0 ? "Choose at least one query." : $"Choose at most {MostItems} queries at once."), rows);
        if (board is null)
            return (Problems.Conflict("There is no search performance. Read or import it on the Site screen."), rows);
        var asked = items.ToHashSet();
        foreach (var row in board.Rows)
        {
            var item = new QueryItem(board.PageIdOf(row), board.Image.Daily.QueryOf(row.Pair));
            if (asked.Remove(item))
                rows.Add((QueryView.Of(board, row), board.Image.Forms[item.QueryId]));
        }

        return (asked.Count == 0 ? null : Problems.NotFound($"{Counted(asked.Count)} of these {(asked.Count == 1 ? "is" : "are")} not shown in the period. Read the list again."), rows);
    }

    private static List<NewPart> Parts(Session session, IReadOnlyList<(QueryView View, string Form)> rows, QueryWork work)
    {
        var language = ProjectStore.Get(session).Language;
        using var analysis = new TextAnalysis(language);
        var parts = new List<NewPart>();
        foreach (var page in rows.GroupBy(r => r.View.PageId))
        {
            var placement = work is QueryWork.Mention or QueryWork.Answer && BriefStore.OwnText(session, page.Key) is { } text ? new Placement(text, [], analysis, language) : null;
            var description = work == QueryWork.Description ? JsonSerializer.Serialize(new[] { PageStore.Find(session, page.Key)?.Description ?? "" }) : null;
            foreach (var (view, form) in page)
            {
                var closest = placement?.Closest(form);
                parts.Add(new NewPart(
                    QueryWorkText.KindOf(work), page.Key, ClusterId: view.IsHome ? view.ClusterId : null, Says: QueryWorkText.Because(view.Now.Impressions, view.Now.Position, view.Now.ClickRate, view.ExpectedRate, view.Mentions, work, closest),
                    AtStake: view.AtStake, Before: description, Query: view.Query, Work: work));
            }
        }

        return parts;
    }
}
