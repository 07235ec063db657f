using System.Globalization;
using System.Text;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Plan;
using JadeOrchard.Server.Findings;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Plan;

namespace JadeOrchard.Server.Plan;

/// <summary>Progress, on a page that can be printed, saved or pasted elsewhere.</summary>
public static class ReportEndpoints
{
    /// <summary>A period where none is asked for.</summary>
    private const int UsualDays = 28;

    public static void MapPlanReport(this RouteGroupBuilder api)
    {
        // Without days it is about the last four weeks.
        api.MapGet("/plan/report.html", (DateOnly? from, DateOnly? to, TopicId[]? topicId, bool? save, Project project) => Answer(project, from, to, topicId, report =>
                save == true
                    ? TypedResults.File(Encoding.UTF8.GetBytes(Html(report)), "text/html; charset=utf-8", "progress.html")
                    : Microsoft.AspNetCore.Http.Results.Content(Html(report), "text/html; charset=utf-8")))
            .ExcludeFromDescription();

        api.MapGet("/plan/report.md", (DateOnly? from, DateOnly? to, TopicId[]? topicId, Project project) => Answer(project, from, to, topicId, report =>
                TypedResults.File(Encoding.UTF8.GetBytes(Markdown(report)), "text/markdown; charset=utf-8", "progress.md")))
            .ExcludeFromDescription();
    }

    private static IResult Answer(Project project, DateOnly? from, DateOnly? to, TopicId[]? topicIds, Func<Report, IResult> written)
    {
        var last = to ?? DateOnly.FromDateTime(project.Now.UtcDateTime);
        var first = from ?? last.AddDays(-UsualDays);
        return first > last
            ? Problems.Invalid("from", string.Create(CultureInfo.InvariantCulture, $"The period begins on {first:d MMMM yyyy}, after it ends on {last:d MMMM yyyy}."))
            : written(Report.Load(project, first, last, topicIds));
    }

    /// <summary>What a report tells.</summary>
    /// <param name="ThenDay">The first day of the period, or the first one after it that is known; null where nothing is.</param>
    /// <param name="Then">Coverage at the end of that day.</param>
    /// <param name="Now">Coverage at the end of the period.</param>
    /// <param name="Chosen">What the topics are called that it is limited to; none for all.</param>
    private sealed record Report(
        ProjectProfile Project, DateOnly From, DateOnly To, DateOnly? ThenDay, IReadOnlyList<CoverageShare> Then, IReadOnlyList<CoverageShare> Now, IReadOnlyList<string> Chosen, IReadOnlyList<ReportTopic> Topics,
        IReadOnlyList<StepRow> Done, IReadOnlyList<StepRow> Due, IReadOnlyList<StepRow> Waiting, IReadOnlyList<PlanStep> Decided)
    {
        public static Report Load(Server.Project project, DateOnly first, DateOnly last, TopicId[]? topicIds) => project.Read(session =>
        {
            var topics = topicIds is { Length: > 0 } ? topicIds.ToHashSet() : null;
            var rows = PlanBoard.Of(project, session).Rows.Where(s => topics is null || (s.TopicId is { } t && topics.Contains(t))).ToList();
            var days = ClusterStore.CoverageDays(session).Select(c => c.Day).Distinct().Order().ToList();
            DateOnly? thenDay = days.Count == 0 ? null : days.LastOrDefault(d => d <= first, days[0]);
            DateOnly? nowDay = days.Count == 0 ? null : days.LastOrDefault(d => d <= last, days[0]);
            var none = Enumerable.Empty<(TopicId? Topic, CoverageShare Share)>().ToLookup(c => c.Topic, c => c.Share);
            var then = thenDay is { } t ? ClusterStore.CoverageOn(session, t) : none;
            var now = nowDay is { } n ? ClusterStore.CoverageOn(session, n) : none;
            List<CoverageShare> Sum(ILookup<TopicId?, CoverageShare> shares) =>
                [.. shares.Where(s => topics is null || (s.Key is { } id && topics.Contains(id))).SelectMany(s => s).GroupBy(s => s.Coverage).OrderBy(s => s.Key).Select(s => new CoverageShare(s.Key, s.Sum(c => c.Clusters), s.Sum(c => c.Demand)))];
            bool Within(string? at) => at is not null && DateOnly.FromDateTime(DateTime.Parse(at, CultureInfo.InvariantCulture, DateTimeStyles.RoundtripKind)) is var day && day >= first && day <= last;
            List<TopicProgress> progress = [.. PlanStore.ByTopic(session).Where(p => topics is null || topics.Contains(p.Id))];
            return new Report(
                ProjectStore.Get(session), first, last, thenDay, Sum(then), Sum(now), topics is null ? [] : [.. progress.Select(p => p.Name)],
                [.. progress.Select(p => new ReportTopic(p, ReportTopic.Parts(then[p.Id]), ReportTopic.Parts(now[p.Id]) ?? (p.Covered, p.Planned, p.Open)))],
                [.. rows.Where(s => s.Status is StepStatus.Done or StepStatus.Live && Within(s.DoneAt))],
                [.. rows.Where(s => s.Status.IsOpen() && s.Due <= last).OrderBy(s => s.Due)],
                [.. rows.Where(s => s.Place is not null || (s.Status == StepStatus.Done && s.Parts.Any(p => p.IsFound == false)))],
                [.. PlanStore.Steps(session).Where(s => Within(s.DecidedAt) && (topics is null || (s.ClusterId is { } id && ClusterStore.Find(session, id)?.TopicId is { } topic && topics.Contains(topic))))]);
        });

        /// <summary>Whom it is about and from when to when, in one line.</summary>
        public string Heading => string.Create(CultureInfo.InvariantCulture,
            $"{Project.Host}, {From:d MMMM yyyy} to {To:d MMMM yyyy}{(Chosen.Count > 0 ? $", {string.Join(", ", Chosen)}" : "")}. Demand is searches a month, estimated; gains are for prioritising, not a forecast.");

        public IEnumerable<IGrouping<string, StepRow>> ByOwner => Waiting.GroupBy(s => s.Owner.Length == 0 ? "nobody yet" : s.Owner).OrderByDescending(g => g.Sum(s => s.Hours));
    }

    /// <summary>A topic then and now.</summary>
    private sealed record ReportTopic(TopicProgress Progress, (long Covered, long Planned, long Open)? Then, (long Covered, long Planned, long Open) Now)
    {
        /// <returns>The demand that is covered, planned and open; null where nothing is known of the topic on that day.</returns>
        public static (long Covered, long Planned, long Open)? Parts(IEnumerable<CoverageShare> shares)
        {
            var of = shares.ToDictionary(s => s.Coverage, s => s.Demand);
            return of.Count == 0 ? null : (of.GetValueOrDefault(Coverage.Covered), of.GetValueOrDefault(Coverage.Planned), of.GetValueOrDefault(Coverage.Uncovered) + of.GetValueOrDefault(Coverage.Contested));
        }

        public object?[] Cells => [Progress.Name, Progress.Demand, Then?.Covered, Now.Covered, Then?.Planned, Now.Planned, Then?.Open, Now.Open, Progress.StepsToDo, Progress.StepsDone];
    }

    private static string Html(Report r)
    {
        var html = new StringBuilder();
        string Safe(string text) => SummaryEndpoints.Safe(text);
        html.Append(CultureInfo.InvariantCulture, $$"""
            <!doctype html>
            <html lang="en">
            <head>
            <meta charset="utf-8">
            <title>{{Safe(r.Project.Name)}}: progress</title>
            {{SummaryEndpoints.Style}}
            </head>
            <body>
            <h1>{{Safe(r.Project.Name)}}: progress</h1>
            <p class="quiet">{{Safe(r.Heading)}}</p>

            """);
        if (r.Now.Count > 0)
        {
            html.Append("<h2>Share of demand</h2>\n");
            if (r.ThenDay is { } day)
                html.Append(CultureInfo.InvariantCulture, $"<div class=\"quiet\">{day:d MMMM yyyy}</div>{SummaryEndpoints.Bar(r.Then)}");
            html.Append("<div class=\"quiet\">").Append(r.To.ToString("d MMMM yyyy", CultureInfo.InvariantCulture)).Append("</div>").Append(SummaryEndpoints.Bar(r.Now));
            html.Append("<p class=\"quiet\">From the left: ").Append(string.Join(", ", SummaryEndpoints.FromTheLeft(r.Now).Select(c => string.Create(CultureInfo.InvariantCulture, $"{SummaryEndpoints.Name(c.Coverage)} {c.Demand:N0}")))).Append("</p>\n");
        }

        Table("By topic", ["Topic", "#Demand", "#Covered then", "#Covered now", "#Planned then", "#Planned now", "#Open then", "#Open now", "#Steps to do", "#Steps done"], r.Topics.Select(t => t.Cells));
        Table("Done", ["Step", "Page", "Status", "#Gain", "Found"], r.Done.Select(s => new object?[] { PlanFiles.SentenceCase(s.What), s.Url, s.StatusName, s.Gain, string.Join("; ", s.Parts.Select(p => p.Found).Where(f => f.Length > 0)) }));
        Table("Due", ["Step", "Page", "Due", "Owner", "#Hours"], r.Due.Select(s => new object?[] { PlanFiles.SentenceCase(s.What), s.Url, s.Due, s.Owner.Length == 0 ? "nobody yet" : s.Owner, s.Hours }));
        Table("Decided", ["What", "Pages", "Why"], r.Decided.Select(d => new object?[] { PlanFiles.SentenceCase(d.RemedyName), string.Join("\n", d.OtherPages.Select(p => p.Url).Prepend(d.PageUrl ?? "")), d.Note }));
        Table("Waiting", ["For whom", "#Steps", "#Hours", "#Gain", "Next"], r.ByOwner.Select(g => new object?[] { g.Key, g.Count(), g.Sum(s => s.Hours), g.Sum(s => s.Gain), $"{PlanFiles.SentenceCase(g.First().What)} {g.First().Url}" }));
        return html.Append("</body>\n</html>\n").ToString();

        void Table(string heading, string[] columns, IEnumerable<object?[]> rows)
        {
            html.Append(CultureInfo.InvariantCulture, $"<h2>{heading}</h2>\n");
            var any = false;
            foreach (var row in rows)
            {
                if (!any)
                    html.Append("<table><thead><tr>").Append(string.Concat(columns.Select(c => c[0] == '#' ? $"<th class=\"num\">{c[1..]}</th>" : $"<th>{c}</th>"))).Append("</tr></thead><tbody>\n");
                any = true;
                html.Append("<tr>").Append(string.Concat(row.Zip(columns).Select(c => $"<td{(c.Second[0] == '#' ? " class=\"num\"" : "")}>{Safe(Text(c.First)).ReplaceLineEndings("<br>")}</td>"))).Append("</tr>\n");
            }

            html.Append(any ? "</tbody></table>\n" : "<p class=\"quiet\">Nothing in this period.</p>\n");
        }
    }

    private static string Markdown(Report r)
    {
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"# {PlanFiles.Plain(r.Project.Name)}: progress\n\n{PlanFiles.Plain(r.Heading)}\n\n");
        Table("Share of demand", ["Coverage", "Then", "Now"], r.Now.Select(c => new object?[] { SummaryEndpoints.Name(c.Coverage), r.Then.FirstOrDefault(t => t.Coverage == c.Coverage)?.Demand, c.Demand }));
        Table("By topic", ["Topic", "Demand", "Covered then", "Covered now", "Planned then", "Planned now", "Open then", "Open now", "Steps to do", "Steps done"], r.Topics.Select(t => t.Cells));
        Table("Done", ["Step", "Page", "Status", "Gain"], r.Done.Select(s => new object?[] { s.What, s.Url, s.StatusName, s.Gain }));
        Table("Due", ["Step", "Page", "Due", "Owner", "Hours"], r.Due.Select(s => new object?[] { s.What, s.Url, s.Due, s.Owner, s.Hours }));
        Table("Decided", ["What", "Pages", "Why"], r.Decided.Select(d => new object?[] { d.RemedyName, string.Join(", ", d.OtherPages.Select(p => p.Url).Prepend(d.PageUrl ?? "")), d.Note }));
        Table("Waiting", ["For whom", "Steps", "Hours", "Gain"], r.ByOwner.Select(g => new object?[] { g.Key, g.Count(), g.Sum(s => s.Hours), g.Sum(s => s.Gain) }));
        return text.ToString();

        void Table(string heading, string[] columns, IEnumerable<object?[]> rows)
        {
            text.Append(CultureInfo.InvariantCulture, $"## {heading}\n\n");
            var lines = rows.Select(row => $"| {string.Join(" | ", row.Select(c => PlanFiles.Plain(Text(c))))} |\n").ToList();
            text.Append(lines.Count == 0 ? "Nothing in this period.\n\n" : $"| {string.Join(" | ", columns)} |\n|{string.Concat(columns.Select(_ => "---|"))}\n{string.Concat(lines)}\n");
        }
    }

    private static string Text(object? value) => value switch
    {
        null => "–",
        DateOnly day => day.ToString("d MMMM yyyy", CultureInfo.InvariantCulture),
        double number => number.ToString("#,0.##", CultureInfo.InvariantCulture),
        IFormattable number => number.ToString("N0", CultureInfo.InvariantCulture),
        _ => value.ToString() ?? "",
    };
}
