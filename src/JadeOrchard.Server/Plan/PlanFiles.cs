using System.Globalization;
using System.Text;
using System.Text.Json;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Plan;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Plan;

namespace JadeOrchard.Server.Plan;

/// <summary>The plan as files: for spreadsheets, programs, calendars and web servers.</summary>
public static class PlanFiles
{
    /// <summary>The columns of steps in files; the first names the step when its row comes back.</summary>
    private static readonly OutputColumn[] StepColumns =
    [
        new("Step", 7), new("Place", 7), new("What", 16), new("Page", 46), new("Title", 34), new("To do", 56), new("Clusters", 30), new("Primary keywords", 30), new("Topic", 22),
        new("Demand per month (estimate)", 14), new("Gain, clicks per month", 12), new("Because", 46), new("Hours", 8), new("Owner", 16), new("Due", 12), new("Week", 12), new("Status", 14), new("Found", 40), new("Note", 30),
    ];

    private static readonly OutputColumn[] WeekColumns = [new("Week", 12), new("Person", 16), new("Step", 7), new("What", 16), new("Page", 46), new("Hours", 8), new("Gain, clicks per month", 12), new("Due", 12), new("Late", 8)];

    private static readonly OutputColumn[] KeywordColumns =
    [
        new("Page", 46), new("State", 11), new("Cluster", 30), new("Keyword", 34), new("Role", 11), new("Volume per month (estimate)", 14), new("Difficulty", 10), new("Topic", 22),
    ];

    private static readonly JsonSerializerOptions Readable = new(JsonSerializerDefaults.Web) { WriteIndented = true, Converters = { new System.Text.Json.Serialization.JsonStringEnumConverter(JsonNamingPolicy.CamelCase) } };

    public static void MapPlanFiles(this RouteGroupBuilder api)
    {
        api.MapGet("/plan/steps.csv", ([AsParameters] Listing listing, [AsParameters] StepFilter filter, Project project) =>
                Listing.Csv("steps.csv", [.. StepColumns.Select(c => c.Name)], Chosen(listing, filter, project).Select(StepLine)))
            .ExcludeFromDescription();

        api.MapGet("/plan/steps.xlsx", ([AsParameters] Listing listing, [AsParameters] StepFilter filter, Project project) =>
            {
                var rows = Chosen(listing, filter, project);
                var stream = new MemoryStream();
                WorkbookOutput.Write(stream,
                [
                    new OutputSheet("Steps", StepColumns, rows.Select(StepLine)),
                    new OutputSheet("Roadmap", WeekColumns, rows.Where(s => s.First is not null).OrderBy(s => s.First).ThenBy(s => s.Worker, StringComparer.Ordinal).ThenBy(s => s.Place).Select(s => new object?[]
                    {
                        s.First, s.Worker, s.Id.Value, s.What, s.Url, s.Hours, Math.Round(s.Gain, 1), s.Due, s.IsLate ? "late" : null,
                    })),
                    new OutputSheet("Keywords by page", KeywordColumns, project.Read(session => PlanStore.Keywords(session)).Select(k => new object?[]
                    {
                        k.PageUrl, k.IsPlanned ? "planned" : "existing", k.Cluster, k.Phrase, k.IsExpected ? "expected" : k.IsPrimary ? "primary" : "secondary", k.Volume, k.Difficulty, k.Topic,
                    })),
                ]);
                stream.Position = 0;
                return TypedResults.File(stream, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "plan.xlsx");
            })
            .ExcludeFromDescription();

        api.MapGet("/plan/steps.json", ([AsParameters] Listing listing, [AsParameters] StepFilter filter, Project project) =>
                TypedResults.File(JsonSerializer.SerializeToUtf8Bytes(Chosen(listing, filter, project), Readable), "application/json; charset=utf-8", "steps.json"))
            .ExcludeFromDescription();

        api.MapGet("/plan/steps.md", ([AsParameters] Listing listing, [AsParameters] StepFilter filter, Project project) =>
                TypedResults.File(Encoding.UTF8.GetBytes(Markdown(Chosen(listing, filter, project))), "text/markdown; charset=utf-8", "steps.md"))
            .ExcludeFromDescription();

        api.MapGet("/plan/steps.ics", ([AsParameters] Listing listing, [AsParameters] StepFilter filter, Project project) =>
            {
                var profile = project.Read(ProjectStore.Get);
                var rows = Chosen(listing, filter with { AnyStatus = filter.StepStatus is null ? true : filter.AnyStatus }, project).Where(s => s.Due is not null);
                return TypedResults.File(Encoding.UTF8.GetBytes(StepCalendar.Write($"{profile.Name}: plan", rows.Select(s => new CalendarStep(
                    $"step-{s.Id}@{profile.Host.Split(',')[0]}", s.Due!.Value, $"{SentenceCase(s.What)} {ShortUrl.Of(s.Url, profile.Host)}", string.Join('\n', Lines(s)), s.Url, s.Owner, s.Status == StepStatus.Dropped,
                    DateTimeOffset.Parse(s.CheckedAt ?? s.DoneAt ?? s.MadeAt, CultureInfo.InvariantCulture))))), "text/calendar; charset=utf-8", "plan.ics");
            })
            .ExcludeFromDescription();

        api.MapGet("/plan/redirects.{format}", Results<FileContentHttpResult, ProblemHttpResult> (string format, Project project) =>
            {
                RedirectFormat? kind = format switch { "csv" => RedirectFormat.Csv, "apache" => RedirectFormat.Apache, "nginx" => RedirectFormat.Nginx, _ => null };
                if (kind is null)
                    return Problems.Invalid("format", $"'{format}' is not a format for redirects. Use csv, apache or nginx.");
                var resolved = RedirectFile.Resolve([.. Parts(project, StepKind.Redirect).Where(p => p.Part.OtherUrl is not null).DistinctBy(p => p.Step.Url).Select(p => new Redirect(p.Step.Url, p.Part.OtherUrl!, 301))]);
                if (resolved.Loops is [var loop, ..])
                    return Problems.Conflict($"Redirects of the plan lead in a circle: {string.Join(" → ", loop.Append(loop[0]))}. Drop one of these steps.");
                var stream = new MemoryStream();
                RedirectFile.Write(stream, resolved.All, kind.Value);
                return TypedResults.File(stream.ToArray(), kind == RedirectFormat.Csv ? "text/csv; charset=utf-8" : "text/plain; charset=utf-8", kind switch { RedirectFormat.Csv => "redirects.csv", RedirectFormat.Apache => "redirects-apache.conf", _ => "redirects-nginx.conf" });
            })
            .ExcludeFromDescription();

        api.MapGet("/plan/canonicals.csv", (Project project) => Listing.Csv("canonicals.csv", ["page", "canonical"], Parts(project, StepKind.Canonical).Select(p => new object?[] { p.Step.Url, p.Part.OtherUrl })))
            .ExcludeFromDescription();

        api.MapGet("/plan/titles.csv", (Project project) => Listing.Csv(
                "titles.csv", ["page", "what", "title_now", "primary_keywords"],
                Chosen(new Listing(null, null, null, null, null), new StepFilter(), project).Where(s => s.Parts.Any(p => p.Kind is StepKind.Retitle or StepKind.Write or StepKind.Refresh))
                    .Select(s => new object?[] { s.Url, s.What, s.Title, string.Join(" | ", s.Clusters.Select(c => c.Primary)) })))
            .ExcludeFromDescription();

        api.MapGet("/plan/links.csv", (Project project) => Listing.Csv(
                "links.csv", ["source", "target", "words", "because"], Parts(project, StepKind.Link).Select(p => new object?[] { p.Step.Url, p.Part.OtherUrl, p.Words, p.Part.Because })))
            .ExcludeFromDescription();
    }

    /// <summary>Steps to do, in Markdown: a checkbox for each part.</summary>
    internal static string Markdown(IEnumerable<StepRow> rows)
    {
        var text = new StringBuilder();
        foreach (var step in rows)
        {
            text.Append(CultureInfo.InvariantCulture, $"## {SentenceCase(step.What)}: {Plain(step.Url)}\n\n");
            text.Append(string.Join("  \n", Lines(step).Skip(1 + step.Parts.Count).Select(Plain))).Append("\n\n");
            foreach (var part in step.Parts)
                text.Append(CultureInfo.InvariantCulture, $"- [{(part.IsDone ? 'x' : ' ')}] {Plain(part.Says)}{(part.Because.Length == 0 ? "" : $" ({Plain(part.Because)})")}\n");
            text.Append('\n');
        }

        return text.ToString();
    }

    /// <summary>Text in which nothing is Markdown (CommonMark 0.31, 2.4).</summary>
    internal static string Plain(string text) => string.Concat(text.ReplaceLineEndings(" ").Select(c => @"\`*_[]<>#|~".Contains(c, StringComparison.Ordinal) ? "\\" + c : c.ToString()));

    internal static string SentenceCase(string words) => char.ToUpperInvariant(words[0]) + words[1..];

    /// <summary>A step in a few lines: what, each part, then numbers and people.</summary>
    private static List<string> Lines(StepRow step)
    {
        var lines = new List<string> { $"{SentenceCase(step.What)} {step.Url}" };
        lines.AddRange(step.Parts.Select(p => p.Says));
        if (step.Clusters.Count > 0)
            lines.Add($"Clusters: {string.Join(", ", step.Clusters.Select(c => c.Name))}");
        lines.Add(string.Create(CultureInfo.InvariantCulture, $"About {step.Gain:N0} clicks a month, {step.Hours:0.##} hours, {step.StatusName}{(step.Owner.Length == 0 ? "" : $", {step.Owner}")}{(step.Due is { } due ? $", due {due:yyyy-MM-dd}" : "")}"));
        if (step.Note.Length > 0)
            lines.Add(step.Note);
        return lines;
    }

    private static object?[] StepLine(StepRow s) =>
    [
        s.Id.Value, s.Place, s.What, s.Url, s.Title, string.Join('\n', s.Parts.Select(p => p.Says)), string.Join('\n', s.Clusters.Select(c => c.Name)), string.Join('\n', s.Clusters.Select(c => c.Primary)), s.TopicName, s.Demand,
        Math.Round(s.Gain, 1), string.Join('\n', s.Parts.Select(p => p.Because).Append(s.GainSays ?? "").Where(t => t.Length > 0).Distinct(StringComparer.Ordinal)), s.Hours, s.Owner.Length == 0 ? null : s.Owner, s.Due, s.First,
        s.StatusName, string.Join('\n', s.Parts.Select(p => p.Found).Where(f => f.Length > 0)), s.Note.Length == 0 ? null : s.Note,
    ];

    private static IReadOnlyList<StepRow> Chosen(Listing listing, StepFilter filter, Project project) => project.Read<IReadOnlyList<StepRow>>((session, snapshot) =>
        [.. StepEndpoints.Sorted(filter.Of(PlanBoard.Of(project, session).Rows, listing.Search), listing.ToExport())]);

    private static List<(StepRow Step, StepPartView Part, string Words)> Parts(Project project, StepKind kind) => project.Read((session, snapshot) =>
    {
        var words = StepStore.All(session).SelectMany(s => s.Parts).ToDictionary(p => p.Id, p => p.Words);
        return PlanBoard.Of(project, session).Rows.Where(s => s.Status != StepStatus.Dropped)
            .SelectMany(s => s.Parts.Where(p => p.Kind == kind).Select(p => (s, p, words[p.Id]))).ToList();
    });
}
