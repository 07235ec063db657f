using System.Globalization;
using System.Net;
using System.Text;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Plan;

namespace JadeOrchard.Server.Findings;

/// <summary>Where the site stood and stands, on a page that can be printed or saved.</summary>
public static class SummaryEndpoints
{
    private const int FindingsShown = 8;

    /// <summary>The look of pages that are printed or saved, which are complete in themselves.</summary>
    internal const string Style =
        """
        <style>
        body { font: 14px/1.5 system-ui, sans-serif; color: #22302b; max-width: 860px; margin: 32px auto; padding: 0 24px; }
        h1, h2 { font-family: Georgia, serif; font-weight: 600; }
        h1 { font-size: 28px; margin-bottom: 0; }
        h2 { font-size: 19px; margin: 28px 0 6px; }
        table { border-collapse: collapse; width: 100%; }
        th, td { text-align: left; padding: 4px 8px 4px 0; border-bottom: 1px solid #dcdccf; vertical-align: top; }
        .num { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap; }
        .bar { display: flex; height: 18px; border: 1px solid #22302b; margin: 4px 0 10px; }
        .bar span { border-right: 1px solid #22302b; }
        .covered { background: #2f7d62; } .planned { background: #a8cdb9; } .contested { background: #c4704f; } .uncovered { background: #fff; } .declined { background: #dcdccf; }
        .quiet { color: #5c6a63; }
        @media print { body { margin: 0; max-width: none; } }
        </style>
        """;

    private static readonly Coverage[] Parts = [Coverage.Covered, Coverage.Planned, Coverage.Contested, Coverage.Uncovered, Coverage.Declined];

    public static void MapSummary(this RouteGroupBuilder api)
    {
        api.MapGet("/coverage", (Project project) => project.Read(ClusterStore.CoverageDays)).WithName("coverage");

        // Without a day it is compared with the first one there is.
        api.MapGet("/summary.html", (DateOnly? before, bool? save, Project project) =>
            {
                var html = project.Read(session => Html(session, before, DateOnly.FromDateTime(project.Now.UtcDateTime)));
                return save == true
                    ? TypedResults.File(Encoding.UTF8.GetBytes(html), "text/html; charset=utf-8", "summary.html")
                    : Microsoft.AspNetCore.Http.Results.Content(html, "text/html; charset=utf-8");
            })
            .ExcludeFromDescription();
    }

    private static string Html(Session session, DateOnly? wanted, DateOnly today)
    {
        var project = ProjectStore.Get(session);
        var kept = ClusterStore.CoverageDays(session);
        var days = kept.Select(c => c.Day).Distinct().Order().ToList();
        DateOnly? before = days.Count == 0 ? null : wanted is { } day ? days.LastOrDefault(d => d <= day, days[0]) : days[0];
        before = before == today ? null : before;
        var now = ClusterStore.ByCoverage(session);
        var then = kept.Where(c => c.Day == before).Select(c => new CoverageShare(c.Coverage, c.Clusters, c.Demand)).ToList();
        var html = new StringBuilder();
        html.Append(CultureInfo.InvariantCulture, $$"""
            <!doctype html>
            <html lang="en">
            <head>
            <meta charset="utf-8">
            <title>{{Safe(project.Name)}}: where the site stands</title>
            {{Style}}
            </head>
            <body>
            <h1>{{Safe(project.Name)}}: where the site stands</h1>
            <p class="quiet">{{Safe(project.Host)}}, {{Safe(project.Country)}}, {{today:d MMMM yyyy}}. Demand is searches a month, estimated; clicks at stake order the work, they are no forecast.</p>

            """);
        html.Append("<h2>Share of demand</h2>\n");
        if (now.Count == 0)
            html.Append("<p>Keywords are not grouped yet, so nothing can be said of demand.</p>\n");
        else
        {
            if (before is { } first)
                html.Append(CultureInfo.InvariantCulture, $"<div class=\"quiet\">before, {first:d MMMM yyyy}</div>{Bar(then)}");
            html.Append("<div class=\"quiet\">now</div>").Append(Bar(now));
            html.Append("<table><thead><tr><th></th><th class=\"num\">Before</th><th class=\"num\">Now</th><th class=\"num\">Demand now</th><th class=\"num\">Clusters now</th></tr></thead><tbody>\n");
            foreach (var part in Parts)
            {
                var row = now.FirstOrDefault(c => c.Coverage == part);
                html.Append(CultureInfo.InvariantCulture,
                    $"<tr><td>{part.Sign()} {Name(part)}</td><td class=\"num\">{Percent(then, part)}</td><td class=\"num\">{Percent(now, part)}</td><td class=\"num\">{row?.Demand ?? 0:N0}</td><td class=\"num\">{row?.Clusters ?? 0:N0}</td></tr>\n");
            }

            html.Append("</tbody></table>\n");
        }

        if (PerformanceStore.Summary(session) is { Days: > 0 } performance)
        {
            html.Append(CultureInfo.InvariantCulture,
                $"<p>Search performance of {performance.Days} days to {performance.LastDay:d MMMM yyyy}: {performance.Clicks:N0} clicks, {performance.Impressions:N0} impressions, {performance.Queries:N0} queries. These are counted, not estimated.</p>\n");
        }

        foreach (var kind in Enum.GetValues<FindingKind>())
        {
            var page = FindingStore.List(session, new ListQuery(Limit: FindingsShown), new FindingFilter(kind));
            if (page.Tally.Rows == 0)
                continue;
            html.Append(CultureInfo.InvariantCulture, $"<h2>{FindingText.Heading(kind)}</h2>\n<p>{page.Tally.Rows:N0} open or accepted, about {page.Tally.AtStake:N0} clicks a month at stake.</p>\n");
            html.Append("<table><thead><tr><th>Finding</th><th>Cluster</th><th>State</th><th class=\"num\">At stake</th></tr></thead><tbody>\n");
            foreach (var f in page.Rows)
                html.Append(CultureInfo.InvariantCulture, $"<tr><td>{Safe(FindingEndpoints.Line(f))}</td><td>{Safe(f.ClusterName ?? "")}</td><td>{f.State.ToString().ToLowerInvariant()}</td><td class=\"num\">{f.AtStake:N0}</td></tr>\n");
            html.Append("</tbody></table>\n");
            if (page.Tally.Rows > page.Rows.Count)
                html.Append(CultureInfo.InvariantCulture, $"<p class=\"quiet\">and {page.Tally.Rows - page.Rows.Count:N0} more</p>\n");
        }

        var steps = PlanStore.Steps(session);
        if (steps.Count > 0)
        {
            html.Append("<h2>Decided</h2>\n<table><tbody>\n");
            foreach (var step in steps)
                html.Append(CultureInfo.InvariantCulture, $"<tr><td>{Safe(step.RemedyName)}</td><td>{Safe(string.Join("\n", step.OtherPages.Select(p => p.Url).Prepend(step.PageUrl ?? ""))).ReplaceLineEndings("<br>")}</td><td>{Safe(step.Note)}</td><td>{(step.Waits ? "waits for the next scan or data" : "done")}</td></tr>\n");
            html.Append("</tbody></table>\n");
        }

        return html.Append("</body>\n</html>\n").ToString();
    }

    /// <summary>In the order of the bar's parts.</summary>
    internal static IEnumerable<CoverageShare> FromTheLeft(IReadOnlyList<CoverageShare> rows) => rows.OrderBy(r => Array.IndexOf(Parts, r.Coverage));

    internal static string Bar(IReadOnlyList<CoverageShare> rows)
    {
        var all = rows.Sum(r => r.Demand);
        return all == 0 ? "" : "<div class=\"bar\">" + string.Concat(Parts.Select(p => (p, Demand: rows.Where(r => r.Coverage == p).Sum(r => r.Demand))).Where(p => p.Demand > 0).Select(p =>
            string.Create(CultureInfo.InvariantCulture, $"<span class=\"{Name(p.p)}\" style=\"width:{100.0 * p.Demand / all:0.0}%\" title=\"{Name(p.p)}\"></span>"))) + "</div>\n";
    }

    private static string Percent(IReadOnlyList<CoverageShare> rows, Coverage part)
    {
        var all = rows.Sum(r => r.Demand);
        return all == 0 ? "–" : string.Create(CultureInfo.InvariantCulture, $"{100.0 * rows.Where(r => r.Coverage == part).Sum(r => r.Demand) / all:0.0} %");
    }

    internal static string Name(Coverage coverage) => coverage.ToString().ToLowerInvariant();

    internal static string Safe(string text) => WebUtility.HtmlEncode(text);
}
