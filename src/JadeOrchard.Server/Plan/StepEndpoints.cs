using System.Globalization;
using JadeOrchard.Core.Plan;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Plan;

/// <summary>Which steps are wanted.</summary>
/// <param name="StepStatus">Only these; null for those that are not live or dropped.</param>
/// <param name="AnyStatus">All of them.</param>
/// <param name="Kind">Only those of this kind.</param>
/// <param name="Owner">Only those of this person; empty for those of nobody.</param>
/// <param name="TopicId">Only those of this topic.</param>
/// <param name="PageId">Only those on this page.</param>
/// <param name="DueBefore">Only those that are due on this day or before.</param>
public sealed record StepFilter(
    StepStatus? StepStatus = null, bool? AnyStatus = null, StepKind? Kind = null, string? Owner = null, TopicId? TopicId = null, PageId? PageId = null, DateOnly? DueBefore = null)
{
    /// <param name="rows">Steps in their order.</param>
    /// <param name="search">Text that must be in page, title, clusters, owner or note.</param>
    internal IEnumerable<StepRow> Of(IEnumerable<StepRow> rows, string? search)
    {
        var wanted = search?.Trim() ?? "";
        bool Has(string? text) => text?.Contains(wanted, StringComparison.OrdinalIgnoreCase) == true;
        return rows.Where(s =>
            (StepStatus is { } status ? s.Status == status : AnyStatus == true || s.Status is not (Core.Plan.StepStatus.Live or Core.Plan.StepStatus.Dropped))
            && (Kind is null || s.Kind == Kind || s.Parts.Any(p => p.Kind == Kind))
            && (Owner is null || s.Owner.Equals(Owner.Trim(), StringComparison.OrdinalIgnoreCase))
            && (TopicId is null || s.TopicId == TopicId)
            && (PageId is null || s.PageId == PageId)
            && (DueBefore is null || s.Due <= DueBefore)
            && (wanted.Length == 0 || Has(s.Url) || Has(s.Title) || Has(s.Owner) || Has(s.Note) || Has(s.TopicName) || s.Clusters.Any(c => Has(c.Name) || Has(c.Primary)) || s.Parts.Any(p => Has(p.Says))));
    }
}

/// <summary>Part of the steps, with the tally of all that the filter lets through.</summary>
/// <param name="Tally">What is at stake is their gain: clicks a month, for prioritising.</param>
/// <param name="Late">Steps that end after their due date.</param>
/// <param name="NotVerified">Steps that are done, and of which a scan did not find everything.</param>
/// <param name="ToCheck">Steps that are done and not live yet.</param>
/// <param name="WithoutStep">Accepted findings and planned pages for which there is no step yet.</param>
public sealed record StepPage(IReadOnlyList<StepRow> Rows, ListTally Tally, double Hours, int Late, int NotVerified, int ToCheck, int WithoutStep);

/// <summary>A step that explains itself.</summary>
/// <param name="Why">The findings that ask for it.</param>
/// <param name="WhyHere">Why it is in this place, a sentence each.</param>
/// <param name="Before">Steps that come before it.</param>
/// <param name="After">Steps that wait for it.</param>
/// <param name="Proof">What will show that it is done, for each of its parts.</param>
/// <param name="Links">For a page that is to be written: pages that should link to it, and that it should link to.</param>
/// <param name="Entries">What was said and changed, newest first.</param>
public sealed record StepDetail(
    StepRow Step, IReadOnlyList<FindingRow> Why, IReadOnlyList<string> WhyHere, IReadOnlyList<StepName> Before, IReadOnlyList<StepName> After, IReadOnlyList<string> Proof,
    IReadOnlyList<MissingLinkRow> Links, IReadOnlyList<StepEntry> Entries);

/// <summary>A step, named.</summary>
public sealed record StepName(StepId Id, string What, string Url);

/// <summary>Adds a step.</summary>
/// <param name="PageId">The page to work on.</param>
/// <param name="OtherPageId">The page it leads to, is merged with or links to; needed for those kinds.</param>
/// <param name="Note">What is to be done, in the planner's words.</param>
public sealed record AddStepRequest(StepKind Kind, PageId PageId, PageId? OtherPageId = null, string? Note = null);

/// <summary>Changes steps.</summary>
/// <param name="Ids">The steps; null for those of the filter.</param>
/// <param name="Version">Of the one step that is changed, as it was shown; null not to look whether it was changed meanwhile.</param>
public sealed record ChangeStepsRequest(
    IReadOnlyList<StepId>? Ids = null, StepFilter? Filter = null, string? Search = null, StepStatus? Status = null, string? Reason = null, string? Owner = null, string? Due = null, string? Week = null,
    double? Hours = null, string? Note = null, string? Version = null);

/// <summary>How many steps were changed or added.</summary>
public sealed record ChangedSteps(int Steps);

/// <summary>Says something of a step.</summary>
public sealed record CommentRequest(string Says);

/// <summary>Checks a part off.</summary>
public sealed record CheckPartRequest(bool IsDone);

/// <summary>The steps of the plan.</summary>
public static class StepEndpoints
{
    private const int LongestText = 2_000;
    private const int LongestName = 200;

    public static void MapSteps(this RouteGroupBuilder api)
    {
        api.MapGet("/plan/steps", ([AsParameters] Listing listing, [AsParameters] StepFilter filter, Project project) => project.Read(session =>
            {
                var query = listing.ToQuery();
                var rows = Sorted(filter.Of(PlanBoard.Of(project, session).Rows, query.Search), query).ToList();
                var (findings, pages) = StepStore.Unplanned(session);
                return new StepPage(
                    [.. rows.Skip(query.Offset).Take(query.Limit)],
                    new ListTally(rows.Count, 0, rows.SelectMany(s => s.Clusters).DistinctBy(c => c.Id).Sum(c => c.Demand), null, rows.Sum(s => s.Gain), 0, query.PlaceOf(rows, s => $"{s.Id}")),
                    rows.Sum(s => s.Hours), rows.Count(s => s.IsLate), rows.Count(s => s.Status == StepStatus.Done && s.Parts.Any(p => p.IsFound == false)), rows.Count(s => s.Status == StepStatus.Done),
                    findings.Count + pages.Count);
            }))
            .WithName("steps");

        api.MapGet("/plan/steps/{id:long}", Results<Ok<StepDetail>, ProblemHttpResult> (StepId id, Project project) =>
                project.Read<Results<Ok<StepDetail>, ProblemHttpResult>>(session => Detail(project, session, id) is { } detail ? TypedResults.Ok(detail) : NoStep(id)))
            .WithName("step");

        api.MapPost("/plan/steps", Results<Ok<StepRow>, ProblemHttpResult> (AddStepRequest request, Project project) =>
            {
                StepId added = default;
                if (project.Change("Add a step", session =>
                {
                    if (Fault(session, request) is { } fault)
                        return fault;
                    added = StepStore.Add(session, [new NewPart(request.Kind, request.PageId, request.OtherPageId, Says: request.Note?.Trim() ?? "")], project.Now)[0];
                    PlanSteps.KeepWhatWas(session);
                    return null;
                }) is { } refusal)
                {
                    return refusal;
                }

                return TypedResults.Ok(project.Read(session => PlanBoard.Of(project, session).Rows.Single(s => s.Id == added)));
            })
            .WithName("addStep");

        api.MapPost("/plan/steps/change", Results<Ok<ChangedSteps>, ProblemHttpResult> (ChangeStepsRequest request, Project project) =>
            {
                if (Fault(request) is { } fault)
                    return fault;
                return project.Change<ChangedSteps>(LabelOf(request), session =>
                {
                    var ids = request.Ids ?? [.. (request.Filter ?? new StepFilter()).Of(PlanBoard.Of(project, session).Rows, request.Search).Select(s => s.Id)];
                    if (ids is [var only] && request.Version is { } version)
                    {
                        if (StepStore.Find(session, only) is not { } now)
                            return NoStep(only);
                        Project.RefuseStale(session, Thing.Step(only), RowVersions.Of(now), version);
                    }

                    var week = request.Week is { Length: > 0 } day ? Roadmap.MondayOf(Day(day)!.Value).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) : request.Week;
                    return new ChangedSteps(StepStore.Change(
                        session, ids, new StepChange(request.Status, request.Status == StepStatus.Dropped ? request.Reason?.Trim() : null, request.Owner, request.Due, week, request.Hours, request.Note?.Trim()), project.Now));
                }).ToOk();
            })
            .WithName("changeSteps");

        api.MapPost("/plan/steps/{id:long}/comments", Results<Ok<ChangedSteps>, ProblemHttpResult> (StepId id, CommentRequest request, Project project) =>
            {
                var says = request.Says.Trim();
                if (says.Length is 0 or > LongestText)
                    return Problems.Invalid("says", $"A comment has 1 to {LongestText:N0} characters.");
                return project.Change<ChangedSteps>("Comment on a step", session =>
                {
                    if (StepStore.Find(session, id) is null)
                        return NoStep(id);
                    StepStore.Comment(session, id, says, project.Now);
                    return new ChangedSteps(1);
                }).ToOk();
            })
            .WithName("commentOnStep");

        api.MapPut("/plan/parts/{id:long}", Results<NoContent, ProblemHttpResult> (StepPartId id, CheckPartRequest request, Project project) =>
                ChangePart(project, id, request.IsDone ? "Check a part off" : "Take a check back", session => StepStore.Check(session, id, request.IsDone)))
            .WithName("checkPart");

        api.MapDelete("/plan/parts/{id:long}", Results<NoContent, ProblemHttpResult> (StepPartId id, Project project) =>
                ChangePart(project, id, "Remove a part of a step", session => StepStore.Remove(session, id)))
            .WithName("removePart");

        api.MapPost("/plan/steps/from-decisions", (Project project) => project.Change<ChangedSteps>("Add steps for what is decided", session =>
            {
                var (findings, pages) = StepStore.Unplanned(session);
                return new ChangedSteps(PlanSteps.AddPlanned(session, pages, project.Now).Concat(PlanSteps.AddDecided(session, findings, project.Now)).Distinct().Count());
            }).ToOk())
            .WithName("addDecidedSteps");

        api.MapPost("/plan/check", Results<Accepted<JobView>, ProblemHttpResult> (Project project, JobRunner runner) =>
            {
                var done = project.Read(session => StepStore.All(session).Where(s => s.Status == StepStatus.Done).ToList());
                var urls = done.SelectMany(s => s.Parts.Select(p => p.OtherUrl).Prepend(s.PageUrl)).OfType<string>().Distinct(StringComparer.Ordinal).ToList();
                if (urls.Count == 0)
                    return Problems.Conflict("No step is done and waits to be checked. Mark a step done first.");
                if (project.Read(session => Storage.Jobs.JobStore.Newest(session, ScanJob.Name, 1).Any(j => j.State is Storage.Jobs.JobState.Waiting or Storage.Jobs.JobState.Running)))
                    return Problems.Conflict("A scan is under way, and checks the plan when it ends.");
                return JobEndpoints.Accepted(runner.Add(
                    ScanJob.Name, $"Check {urls.Count.ToString("N0", CultureInfo.InvariantCulture)} {(urls.Count == 1 ? "page" : "pages")} of the plan", System.Text.Json.JsonSerializer.Serialize(new ScanJob.ScanArguments(urls, done.Any(s => s.Parts.Any(p => p.Kind == StepKind.Write))))));
            })
            .WithName("checkPlan");

        api.MapGet("/plan/owners", (Project project) => project.Read(session =>
                StepStore.Owners(session).Concat(ProjectStore.Settings(session).Plan.People?.Select(p => p.Name) ?? []).Distinct(StringComparer.OrdinalIgnoreCase).Order(StringComparer.OrdinalIgnoreCase).ToList()))
            .WithName("owners");
    }

    /// <returns>The day on which work goes on: today, or Monday on a weekend.</returns>
    internal static DateOnly Today(Project project)
    {
        var today = DateOnly.FromDateTime(project.Now.UtcDateTime);
        return today.DayOfWeek switch { DayOfWeek.Saturday => today.AddDays(2), DayOfWeek.Sunday => today.AddDays(1), _ => today };
    }

    internal static ProblemHttpResult NoStep(StepId id) => Problems.NotFound($"There is no step {id}. It may have gone with its finding or its planned page.");

    /// <returns>The steps as they are asked for: in their own order unless a column says otherwise.</returns>
    internal static IEnumerable<StepRow> Sorted(IEnumerable<StepRow> rows, ListQuery query)
    {
        IEnumerable<StepRow> By<T>(Func<StepRow, T> key) => query.Descending ? rows.OrderByDescending(key) : rows.OrderBy(key);
        return query.Sort switch
        {
            "what" => By(s => s.Kind),
            "page" => query.Descending ? rows.OrderByDescending(s => s.Url, StringComparer.Ordinal) : rows.OrderBy(s => s.Url, StringComparer.Ordinal),
            "gain" => By(s => s.Gain),
            "hours" => By(s => s.Hours),
            "demand" => By(s => s.Demand),
            "owner" => query.Descending ? rows.OrderByDescending(s => s.Owner, StringComparer.OrdinalIgnoreCase) : rows.OrderBy(s => s.Owner.Length == 0).ThenBy(s => s.Owner, StringComparer.OrdinalIgnoreCase),
            "due" => query.Descending ? rows.OrderByDescending(s => s.Due) : rows.OrderBy(s => s.Due ?? DateOnly.MaxValue),
            "week" => query.Descending ? rows.OrderByDescending(s => s.First) : rows.OrderBy(s => s.First ?? DateOnly.MaxValue),
            "status" => By(s => s.Status),
            _ => query.Descending ? rows.Reverse() : rows,
        };
    }

    internal static DateOnly? Day(string text) => DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day : null;

    internal static ProblemHttpResult? Fault(ChangeStepsRequest request) =>
        request is { Status: null, Owner: null, Due: null, Week: null, Hours: null, Note: null } ? Problems.Invalid("status", "Say what is to be changed: status, owner, due date, week, hours or note.")
        : request.Status == StepStatus.Live ? Problems.Invalid("status", "A step goes live by itself, when a scan finds on the site what was to be done. Mark it done.")
        : request.Status == StepStatus.Dropped && string.IsNullOrWhiteSpace(request.Reason) ? Problems.Invalid("reason", "Say why it is dropped, so that it can be understood later.")
        : request.Reason?.Length > LongestText ? Problems.Invalid("reason", $"A reason may have {LongestText:N0} characters.")
        : request.Note?.Length > LongestText ? Problems.Invalid("note", $"A note may have {LongestText:N0} characters.")
        : request.Owner?.Length > LongestName ? Problems.Invalid("owner", $"A name may have {LongestName} characters.")
        : request.Hours is > 1_000 or double.NaN ? Problems.Invalid("hours", "Hours must be at most 1,000; 0 for those of the table.")
        : request.Due is { Length: > 0 } due && Day(due) is null ? Problems.Invalid("due", $"'{due}' is not a date. Write it like 2026-11-30.")
        : request.Week is { Length: > 0 } week && Day(week) is null ? Problems.Invalid("week", $"'{week}' is not a date. Write it like 2026-11-30.")
        : null;

    private static ProblemHttpResult? Fault(Session session, AddStepRequest request)
    {
        if (PageStore.Find(session, request.PageId) is not { } page)
            return Problems.NotFound($"There is no page {request.PageId}.");
        var needsOther = request.Kind is StepKind.Merge or StepKind.Redirect or StepKind.Canonical or StepKind.Link;
        return needsOther && request.OtherPageId is null ? Problems.Invalid("otherPageId", $"Choose the other page: {StepText.Says(request.Kind, "…")}.")
            : request.OtherPageId is { } other && PageStore.Find(session, other) is null ? Problems.NotFound($"There is no page {other}.")
            : request.OtherPageId == request.PageId ? Problems.Invalid("otherPageId", "The other page must be another one.")
            : request.Kind == StepKind.Write && page.Kind == PageKind.Existing ? Problems.Invalid("kind", $"{page.Url} exists already. Refresh it instead.")
            : request.Note?.Length > LongestText ? Problems.Invalid("note", $"A note may have {LongestText:N0} characters.")
            : null;
    }

    private static string LabelOf(ChangeStepsRequest request)
    {
        var what = request.Status is { } status ? $"Mark {(request.Ids?.Count == 1 ? "a step" : "steps")} {StepText.Name(status)}" : request.Owner is not null ? "Assign steps" : "Change steps";
        return what;
    }

    private static Results<NoContent, ProblemHttpResult> ChangePart(Project project, StepPartId id, string label, Action<WriteSession> change)
    {
        if (project.Change(label, session =>
        {
            if (!StepStore.HasPart(session, id))
                return Problems.NotFound($"There is no part {id}. It may have gone with its finding.");
            change(session);
            return null;
        }) is { } refusal)
        {
            return refusal;
        }

        return TypedResults.NoContent();
    }

    private static StepDetail? Detail(Project project, Session session, StepId id)
    {
        var board = PlanBoard.Of(project, session);
        if (board.Rows.FirstOrDefault(s => s.Id == id) is not { } step)
            return null;
        StepName Named(StepId other) => board.Rows.Single(s => s.Id == other) is var row ? new StepName(row.Id, row.What, row.Url) : default!;
        List<StepName> before = [.. board.Before.Where(b => b.Then == id).Select(b => Named(b.First))];
        return new StepDetail(
            step,
            [.. step.Parts.Select(p => p.FindingKey).OfType<string>().Distinct(StringComparer.Ordinal).Select(key => FindingStore.Find(session, key)).OfType<FindingRow>()],
            WhyHere(step, board, before),
            before,
            [.. board.Before.Where(b => b.First == id).Select(b => Named(b.Then))],
            [.. step.Parts.Select(p => Proof(p.Kind, p.OtherUrl)).Distinct(StringComparer.Ordinal)],
            step.IsPlanned ? LinkEndpoints.Rows(session, LinkEndpoints.Missing(session, null, step.PageId).Links) : [],
            StepStore.Entries(session, id));
    }

    private static List<string> WhyHere(StepRow step, PlanBoard board, List<StepName> before)
    {
        if (step.Place is not { } place)
            return [$"It is {step.StatusName}, and has no place in the order any more."];
        var says = new List<string>
        {
            string.Create(CultureInfo.InvariantCulture, $"{place:N0} of {board.Rows.Count(r => r.Place is not null):N0}: about {step.Gain:N0} clicks a month for {step.Hours:0.##} {(step.Hours == 1 ? "hour" : "hours")}, {step.Gain / step.Hours:N0} for an hour."),
        };
        if (before.Count > 0)
            says.Add($"After {string.Join(" and ", before.Select(b => $"“{b.What} {b.Url}”"))}, which it needs.");
        if (step.Due is { } due)
            says.Add($"Its due date, {due.ToString("d MMMM yyyy", CultureInfo.InvariantCulture)}, stays where it is{(step.IsLate ? ", and there are not enough hours before it" : "")}.");
        if (step.Season is { } season)
        {
            says.Add(string.Create(CultureInfo.InvariantCulture,
                $"“{season.Cluster}” is searched for most from {season.Peak:MMMM yyyy}; to be found then, it is to be done by {season.Due:d MMMM yyyy}{(step.Due is not null ? ", but its due date counts" : "")}."));
        }

        if (step.Week is not null)
            says.Add("Its week was chosen by a planner.");
        says.Add(step.First is { } first
            ? $"{step.Worker} has the hours for it in the week of {first.ToString("d MMMM yyyy", CultureInfo.InvariantCulture)}."
            : "It does not fit into anybody’s hours before the roadmap ends.");
        return says;
    }

    private static string Proof(StepKind kind, string? other) => kind switch
    {
        StepKind.Write => "A scan finds the page, with its planned title as title or heading, and in the sitemap.",
        StepKind.Refresh => "The next scan no longer raises what its findings say.",
        StepKind.Merge => $"The passages that only {other} had are on the page, or listed as lost.",
        StepKind.Redirect => $"The address redirects to {other}.",
        StepKind.Canonical => $"The page names {other} as its canonical.",
        StepKind.Retitle => "The title and the heading are other ones than now.",
        StepKind.Link => $"The page links to {other}.",
        StepKind.RemoveFromIndex => "The page says noindex, or is gone (404 or 410).",
        _ => "Nothing is to be seen on the site.",
    };
}
