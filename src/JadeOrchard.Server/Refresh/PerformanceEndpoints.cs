using System.Text.Json;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Core.Results;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Refresh;

/// <summary>Which search performance there is, and whether it is being read.</summary>
/// <param name="Newest">The last time it was read from the service; null where it never was.</param>
public sealed record PerformanceView(PerformanceSummary Summary, DateOnly ProposedFrom, DateOnly ProposedTo, JobView? Newest);

/// <summary>The click curve with what it was fitted to.</summary>
/// <param name="Used">The share of clicks at positions 1 to 20, as everything here reckons.</param>
/// <param name="ByHand">The same of the default, or as the planner wrote it.</param>
/// <param name="Queries">Queries of the site's search performance, brand queries left out.</param>
/// <param name="FewestQueries">From which it is fitted.</param>
/// <param name="Seen">What queries at about each position got.</param>
public sealed record CurveView(
    bool IsFitted, CurveSettings Settings, IReadOnlyList<double> Used, IReadOnlyList<double> ByHand, IReadOnlyList<double> DefaultValues, int Queries, int FewestQueries, IReadOnlyList<SeenShare> Seen);

/// <summary>Search performance and the click curve.</summary>
public static class PerformanceEndpoints
{
    private const int PositionsShown = 20;

    public static void MapPerformance(this RouteGroupBuilder api)
    {
        api.MapGet("/performance", (Orchard orchard, JobRunner runner) => orchard.Database.Read(session =>
            {
                var to = DateOnly.FromDateTime(orchard.Now.UtcDateTime);
                var summary = PerformanceStore.Summary(session);
                var from = summary.LastDay is { } last ? last.AddDays(1) : to.AddMonths(-PerformanceRange.Months);
                return new PerformanceView(
                    summary, from > to ? to : from, to, JobStore.Newest(session, PerformanceJob.Name, 1).Select(j => JobEndpoints.View(j, runner)).FirstOrDefault());
            }))
            .WithName("performance");

        api.MapPost("/performance", Results<Accepted<JobView>, ProblemHttpResult> (PerformanceRange request, Orchard orchard, JobRunner runner) =>
            {
                if (request.Fault(DateOnly.FromDateTime(orchard.Now.UtcDateTime)) is { } fault)
                    return Problems.Invalid(fault.Field, fault.Says);
                if (orchard.Database.Read(ProjectStore.Get).Host.Length == 0)
                    return Problems.Conflict("Say first which site the project is about; its search performance is asked for by that.");
                var id = Start(request, runner);
                return TypedResults.Accepted($"/api/jobs/{id}", JobEndpoints.View(orchard.Database.Read(session => JobStore.Find(session, id))!, runner));
            })
            .WithName("readPerformance");

        api.MapGet("/curve", (Orchard orchard) => orchard.Database.Read(session =>
            {
                var settings = ProjectStore.Settings(session).Curve;
                var fit = ProjectSnapshot.CurveOf(session);
                return new CurveView(
                    fit.IsFitted && settings.IsFitted, settings, Shares(fit.Curve), Shares(settings.ByHand()), ClickCurve.DefaultValues, fit.Queries, CurveFit.FewestQueries,
                    [.. fit.Seen.Where(s => s.Position <= PositionsShown)]);
            }))
            .WithName("curve");
    }

    /// <returns>Id of the job that reads it.</returns>
    public static long Start(PerformanceRange range, JobRunner runner) => runner.Add(PerformanceJob.Name, "Search performance", JsonSerializer.Serialize(range));

    private static List<double> Shares(ClickCurve curve) => [.. Enumerable.Range(1, PositionsShown).Select(p => curve.At(p))];
}
