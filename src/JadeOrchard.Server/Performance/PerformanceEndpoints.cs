using System.Text.Json;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Refresh;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Performance;

namespace JadeOrchard.Server.Performance;

/// <summary>Which search performance there is, and whether it is being read.</summary>
/// <param name="Newest">The last time it was read from the service; null where it never was.</param>
public sealed record PerformanceView(PerformanceSummary Summary, DateOnly ProposedFrom, DateOnly ProposedTo, JobView? Newest);

/// <summary>The click curve with what it was fitted to.</summary>
/// <param name="Used">The share of clicks at positions 1 to 20, as everything here reckons.</param>
/// <param name="ByHand">The same of the default, or as the planner wrote it.</param>
/// <param name="Queries">Queries of the site's search performance, brand queries left out.</param>
/// <param name="FewestQueries">From which it is fitted, with <paramref name="FewestClicks"/>.</param>
/// <param name="Supports">For each of the first positions what its share rests on.</param>
/// <param name="Seen">What queries at about each position got.</param>
public sealed record CurveView(
    bool IsFitted, CurveSettings Settings, IReadOnlyList<double> Used, IReadOnlyList<double> ByHand, IReadOnlyList<double> DefaultValues, int Queries, int FewestQueries, long Clicks,
    int FewestClicks, IReadOnlyList<SeenShare> Seen, IReadOnlyList<CurveSupport> Supports);

/// <summary>Search performance and the click curve.</summary>
public static class PerformanceEndpoints
{
    private const int PositionsShown = 20;

    public static void MapPerformance(this RouteGroupBuilder api)
    {
        api.MapGet("/performance", (Project project, JobRunner runner) => project.Read(session =>
            {
                var to = DateOnly.FromDateTime(project.Now.UtcDateTime);
                var summary = PerformanceStore.Summary(session);
                // The latest days were preliminary when they were read.
                var from = summary.LastDay is { } last ? last.AddDays(1 - RefreshPage.PreliminaryDays) : to.AddMonths(-PerformanceRange.Months);
                return new PerformanceView(
                    summary, from > to ? to : from, to, JobStore.Newest(session, PerformanceJob.Name, 1).Select(j => runner.View(j)).FirstOrDefault());
            }))
            .WithName("performance");

        api.MapPost("/performance", Results<Accepted<JobView>, ProblemHttpResult> (PerformanceRange request, Project project, JobRunner runner) =>
            {
                if (request.Fault(DateOnly.FromDateTime(project.Now.UtcDateTime)) is { } fault)
                    return Problems.Invalid(fault.Field, fault.Says);
                if (project.Read(ProjectStore.Get).Host.Length == 0)
                    return Problems.Conflict("Say first which site the project is about; its search performance is asked for by that.");
                return JobEndpoints.Accepted(Start(request, runner));
            })
            .WithName("readPerformance");

        api.MapGet("/curve", (Project project) => project.Read(session =>
            {
                var settings = ProjectStore.Settings(session).Curve;
                var fit = ProjectSnapshot.CurveOf(session);
                return new CurveView(
                    fit.IsFitted && settings.IsFitted, settings, Shares(fit.Curve), Shares(settings.ByHand()), ClickCurve.DefaultValues, fit.Queries, CurveFit.FewestQueries, fit.Clicks, CurveFit.FewestClicks,
                    [.. fit.Seen.Where(s => s.Position <= PositionsShown)], fit.Supports);
            }))
            .WithName("curve");
    }

    /// <returns>The job that reads it.</returns>
    public static JobView Start(PerformanceRange range, JobRunner runner) => runner.Add(PerformanceJob.Name, "Search performance", JsonSerializer.Serialize(range));

    private static List<double> Shares(ClickCurve curve) => [.. Enumerable.Range(1, PositionsShown).Select(p => curve.At(p))];
}
