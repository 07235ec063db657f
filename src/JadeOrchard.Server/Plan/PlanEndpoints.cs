using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Findings;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Plan;

/// <summary>The plan, on screen and as files.</summary>
public static class PlanEndpoints
{
    private static readonly OutputColumn[] Columns =
    [
        new("Page", 46), new("State", 11), new("Working title", 36), new("Cluster", 30), new("Primary keyword", 30), new("Secondary keywords", 60),
        new("Keywords", 10), new("Demand per month (estimate)", 14), new("Mean difficulty", 11), new("Intent", 14), new("Findings", 44),
        new("To do", 44),
        new("Clicks at stake per month (estimate)", 16),
    ];

    public static void MapPlan(this RouteGroupBuilder api)
    {
        api.MapSteps();
        api.MapRoadmap();
        api.MapLinks();
        api.MapPlanFiles();
        api.MapPlanReport();
        api.MapPlanImport();
        api.MapGet("/plan", ([AsParameters] Listing listing, [AsParameters] ClusterFilter filter, Project project) =>
                project.Read(session => PlanStore.List(session, listing.ToQuery(), filter)))
            .WithName("plan");

        api.MapGet("/plan.csv", ([AsParameters] Listing listing, [AsParameters] ClusterFilter filter, Project project) =>
                Listing.Csv("plan.csv", [.. Columns.Select(c => c.Name)], Rows(listing, filter, project)))
            .ExcludeFromDescription();

        api.MapGet("/plan.xlsx", ([AsParameters] Listing listing, [AsParameters] ClusterFilter filter, Project project) =>
                Listing.Xlsx("plan.xlsx", "Plan", Columns, Rows(listing, filter, project)))
            .ExcludeFromDescription();
    }

    private static IEnumerable<object?[]> Rows(Listing listing, ClusterFilter filter, Project project) =>
        project.Read(session => PlanStore.List(session, listing.ToExport(), filter)).Rows.Select(item => new object?[]
        {
            item.Cluster.PageUrl,
            item.Cluster.PageKind switch { PageKind.Existing => "existing", PageKind.Planned => "planned", _ => "no page" },
            item.Cluster.PageTitle,
            item.Cluster.Name,
            item.Cluster.Primary,
            string.Join('\n', item.Secondary),
            item.Cluster.Size,
            item.Cluster.Demand,
            item.Cluster.MeanDifficulty is { } difficulty ? Math.Round(difficulty, 1) : null,
            item.Cluster.Intent?.ToString().ToLowerInvariant(),
            string.Join('\n', item.Findings.Select(FindingEndpoints.Line)),
            string.Join('\n', item.Steps.Select(Says)),
            Math.Round(item.Cluster.AtStake, 1),
        });

    private static string Says(PlanStep step) =>
        $"{step.RemedyName}: {string.Join(", ", step.OtherPages.Select(p => p.Url).Prepend(step.PageUrl))}{(step.Note.Length == 0 ? "" : $" ({step.Note})")}";
}
