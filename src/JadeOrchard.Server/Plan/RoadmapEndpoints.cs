using System.Collections.Immutable;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Results;
using JadeOrchard.Storage;

namespace JadeOrchard.Server.Plan;

/// <summary>The roadmap: steps week by week.</summary>
/// <param name="Weeks">The Mondays, from this week on.</param>
/// <param name="Bars">Steps that have a place.</param>
/// <param name="NotFitting">Steps that do not fit before the end, in their order.</param>
/// <param name="Displaced">Steps that dates of others pushed back.</param>
/// <param name="Gains">What is gained with the steps that ended by each week.</param>
/// <param name="Load">Hours that are taken of each person, by week.</param>
public sealed record RoadmapView(
    IReadOnlyList<DateOnly> Weeks, IReadOnlyList<RoadmapBar> Bars, IReadOnlyList<RoadmapBar> NotFitting, IReadOnlyList<DisplacedView> Displaced, IReadOnlyList<GainOfWeek> Gains, IReadOnlyList<PersonLoad> Load, DateOnly? Until);

/// <summary>A step as the roadmap draws it; <see cref="StepRow"/> says what its fields are.</summary>
public sealed record RoadmapBar(
    StepId Id, string What, string Url, StepStatus Status, string StatusName, string? TopicName, double Gain, double Hours, string Owner, DateOnly? Due, DateOnly? Week, DateOnly? First, DateOnly? Last, string? Worker,
    bool IsLate, string Version)
{
    internal static RoadmapBar Of(StepRow s) => new(s.Id, s.What, s.Url, s.Status, s.StatusName, s.TopicName, s.Gain, s.Hours, s.Owner, s.Due, s.Week, s.First, s.Last, s.Worker, s.IsLate, s.Version);
}

/// <summary>A step that dates of others push back.</summary>
/// <param name="Weeks">How many weeks later; 0 where it does not fit any more.</param>
public sealed record DisplacedView(StepId StepId, string Url, string What, int Weeks);

/// <summary>Clicks a month that are gained by the end of a week.</summary>
/// <param name="Low">Where pages come to position 5 instead of 3.</param>
/// <param name="High">Where they come to position 2.</param>
public sealed record GainOfWeek(DateOnly Week, double Low, double Expected, double High);

/// <summary>A person's hours.</summary>
/// <param name="Hours">Taken, week by week.</param>
/// <param name="Free">There, week by week.</param>
public sealed record PersonLoad(string Name, IReadOnlyList<double> Hours, IReadOnlyList<double> Free);

/// <summary>Who works on the plan, and how long steps take, as the settings have it.</summary>
public sealed record PlanSettingsView(IReadOnlyList<Person> People, IReadOnlyList<EffortRow> Effort, bool IsUsualEffort, DateOnly? Until, double TeamHours, IReadOnlyList<StepKindView> Kinds, IReadOnlyList<StepStatusView> Statuses);

/// <summary>A kind of step and what it is called.</summary>
public sealed record StepKindView(StepKind Kind, string Name);

/// <summary>A status and what it is called.</summary>
public sealed record StepStatusView(StepStatus Status, string Name);

/// <summary>The plan over time, and the people behind it.</summary>
public static class RoadmapEndpoints
{
    /// <summary>The positions of the low and the high gain, on either side of <see cref="ClickCurve.TargetPosition"/>.</summary>
    private const int LowPosition = 5, HighPosition = 2;

    /// <summary>Weeks that are drawn at least.</summary>
    private const int FewestWeeks = 8;

    public static void MapRoadmap(this RouteGroupBuilder api)
    {
        api.MapGet("/plan/roadmap", ([AsParameters] StepFilter filter, string? search, Project project) =>
                project.Read((session, snapshot) => View(PlanBoard.Of(project, session), filter, search, StepEndpoints.Today(project), ProjectStore.Settings(session).Plan.Until, snapshot.Curve)))
            .WithName("roadmap");

        api.MapGet("/plan/settings", (Project project) => project.Read(session =>
            {
                var plan = ProjectStore.Settings(session).Plan;
                return new PlanSettingsView(
                    plan.People ?? [], plan.Effort ?? EffortTable.DefaultRows, plan.Effort is null, plan.Until, PlanSettings.TeamHours,
                    [.. Enum.GetValues<StepKind>().Select(k => new StepKindView(k, StepText.Name(k)))], [.. Enum.GetValues<StepStatus>().Select(s => new StepStatusView(s, StepText.Name(s)))]);
            }))
            .WithName("planSettings");

        api.MapPut("/plan/settings", Results<NoContent, ProblemHttpResult> (PlanSettings request, Project project) =>
            {
                if (request.Fault() is { } fault)
                    return Problems.Invalid(fault.Field, fault.Says);
                project.Change("Change people and effort", (WriteSession session) => ProjectStore.SaveSettings(session, ProjectStore.Settings(session) with
                {
                    Plan = request with { People = request.People is { Count: > 0 } people ? [.. people.Select(p => p with { Name = p.Name.Trim() })] : null },
                }));
                return TypedResults.NoContent();
            })
            .WithName("savePlanSettings");
    }

    internal static RoadmapView View(PlanBoard board, StepFilter filter, string? search, DateOnly today, DateOnly? until, ClickCurve curve)
    {
        List<StepRow> open = [.. filter.Of(board.Rows, search).Where(s => s.Place is not null)];
        List<StepRow> bars = [.. open.Where(s => s.First is not null)];
        var monday = Roadmap.MondayOf(today);
        var last = bars.Select(s => s.Last!.Value).DefaultIfEmpty(monday).Max();
        if (until is { } end && end > last)
            last = Roadmap.MondayOf(end);
        var first = bars.Select(s => s.First!.Value).Append(monday).Min();
        ImmutableArray<DateOnly> weeks = [.. Enumerable.Range(0, Math.Max(FewestWeeks, ((last.DayNumber - first.DayNumber) / 7) + 1)).Select(w => first.AddDays(7 * w))];
        var ended = bars.GroupBy(s => s.Last!.Value).ToDictionary(g => g.Key, g => g.Sum(s => s.Gain));
        var target = curve.At(ClickCurve.TargetPosition);
        double Share(int position) => target > 0 ? curve.At(position) / target : 1;
        var (gains, sum) = (new List<GainOfWeek>(), 0.0);
        foreach (var week in weeks)
        {
            sum += ended.GetValueOrDefault(week);
            gains.Add(new GainOfWeek(week, sum * Share(LowPosition), sum, sum * Share(HighPosition)));
        }

        var loads = board.People.Select(person =>
        {
            var taken = new double[weeks.Length];
            foreach (var step in board.Rows.Where(s => s.Worker == person.Name && s.First is not null))
            {
                var left = step.Hours;
                for (var w = (step.First!.Value.DayNumber - first.DayNumber) / 7; w < weeks.Length && weeks[Math.Max(0, w)] <= step.Last!.Value; w++)
                {
                    if (w < 0)
                        continue;
                    var here = step.First == step.Last ? left : Math.Min(left, Math.Max(0, person.HoursIn(weeks[w]) - taken[w]));
                    taken[w] += here;
                    left -= here;
                }
            }

            return new PersonLoad(person.Name, taken, [.. weeks.Select(person.HoursIn)]);
        });
        return new RoadmapView(
            weeks, [.. bars.Select(RoadmapBar.Of)], [.. open.Where(s => s.First is null).Select(RoadmapBar.Of)],
            [.. board.Roadmap.Displaced.Select(d => new DisplacedView(board.Rows[d.Step].Id, board.Rows[d.Step].Url, board.Rows[d.Step].What, d.Weeks))], gains, [.. loads], until);
    }
}
