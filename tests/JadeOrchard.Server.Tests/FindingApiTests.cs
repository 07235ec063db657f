using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.Json;
using JadeOrchard.Formats.Tables;
using JadeOrchard.StandIns;
using Microsoft.AspNetCore.Builder;

namespace JadeOrchard.Server.Tests;

/// <summary>Search performance, the mapping desk, findings and conflicts, over HTTP.</summary>
public sealed class FindingApiTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task AnyPhraseFindsItsPageWithoutBeingCaptured()
    {
        await _app.BringProject();
        await _app.Import("performance", "query,page,date,clicks,impressions,position\nwarm on the water,https://www.fenwater.example/guide,2026-10-01,40,400,3\n");
        async Task<System.Text.Json.JsonElement> Which(string phrase) => await _app.Get($"/api/which?phrase={Uri.EscapeDataString(phrase)}");
        var paddles = await Which("Paddles for a kayak");
        Assert.Equal("https://www.fenwater.example/paddles", paddles.GetProperty("pages")[0].GetProperty("url").GetString());
        Assert.Equal(System.Text.Json.JsonValueKind.Null, paddles.GetProperty("cluster").ValueKind);
        var warm = (await Which("warm on the water")).GetProperty("pages")[0];
        Assert.Equal("https://www.fenwater.example/guide", warm.GetProperty("url").GetString());
        Assert.Contains("40 clicks of 400 impressions, average position 3", warm.GetProperty("facts").EnumerateArray().Select(f => f.GetString()));
        Assert.Equal(0, (await Which("tent pegs")).GetProperty("pages").GetArrayLength());
        Assert.Equal(400, (await _app.Send(HttpMethod.Get, "/api/which?phrase=%20")).Status);
    }

    [Fact]
    public async Task SearchPerformanceComesInOnceAndCountsAsEvidence()
    {
        await _app.BringProject();
        await _app.Regroup();
        Assert.Equal(0, (await _app.Get("/api/performance")).GetProperty("summary").GetProperty("rows").GetInt64());
        var suits = Id(Rows(await _app.Get("/api/clusters?search=suit")).Single());
        Assert.All(Candidates(await _app.Get($"/api/page-map/{suits}")), c => Assert.Equal(JsonValueKind.Null, c.GetProperty("page").GetProperty("performance").ValueKind));

        Assert.Equal("41 rows of search performance; 1 row rejected.", Text(await _app.Import("performance", Performance()), "message"));
        var summary = (await _app.Get("/api/performance")).GetProperty("summary");
        Assert.Equal((41, 1, 20, "2026-10-01", "2026-10-20"), (summary.GetProperty("rows").GetInt64(), summary.GetProperty("queries").GetInt64(), summary.GetProperty("days").GetInt64(), Text(summary, "firstDay"), Text(summary, "lastDay")));
        Assert.Equal((20 * 4) + (19 * 3) + 7, summary.GetProperty("clicks").GetInt64());

        var guide = Candidates(await _app.Get($"/api/page-map/{suits}")).Single(c => Text(c.GetProperty("page"), "url").EndsWith("/guide", StringComparison.Ordinal));
        Assert.Equal((64, 400), (guide.GetProperty("clicks").GetInt64(), guide.GetProperty("impressions").GetInt64()));
        Assert.True(guide.GetProperty("page").GetProperty("performance").GetDouble() > 0);
        var split = Rows(await _app.Get("/api/findings?sign=splitTraffic")).Single();
        Assert.Equal(["https://www.fenwater.example/dry-suits", "https://www.fenwater.example/guide"], split.GetProperty("pages").EnumerateArray().Select(p => Text(p, "url")));
        Assert.Equal(("conflict", "/dry-suits and /guide", "traffic splits, both rank"), (Text(split, "kind"), Text(split, "subject"), Text(split, "says")));
        var sign = (await _app.Get($"/api/findings/{Text(split, "key")}")).GetProperty("signs").EnumerateArray().Single(x => Text(x, "kind") == "splitTraffic");
        Assert.Equal(64 * (365.25 / 12) / 20, sign.GetProperty("atStake").GetDouble(), 6);
        Assert.True(split.GetProperty("atStake").GetDouble() >= sign.GetProperty("atStake").GetDouble());
        var page = await _app.Get($"/api/pages/{Id(split.GetProperty("pages")[1])}");
        Assert.Equal(("kayak dry suit", 2), (Text(page.GetProperty("queries")[0], "query"), page.GetProperty("queries")[0].GetProperty("pagesShown").GetInt32()));

        // The same file again replaces what it says; undo takes both back, redo brings them again.
        await _app.Import("performance", Performance());
        Assert.Equal(split.GetRawText(), Rows(await _app.Get("/api/findings?sign=splitTraffic")).Single().GetRawText());
        await Undo();
        Assert.Single(Rows(await _app.Get("/api/findings?sign=splitTraffic")));
        await Undo();
        Assert.Empty(Rows(await _app.Get("/api/findings?sign=splitTraffic")));
        Assert.Equal(0, (await _app.Get("/api/performance")).GetProperty("summary").GetProperty("clicks").GetInt64());
        await _app.Send(HttpMethod.Post, "/api/redo");
        Assert.Single(Rows(await _app.Get("/api/findings?sign=splitTraffic")));

        static IEnumerable<JsonElement> Candidates(JsonElement mapping) => mapping.GetProperty("candidates").EnumerateArray();
    }

    [Fact]
    public async Task AConflictIsDecidedWaitsAndIsResolvedByNewData()
    {
        await _app.BringProject();
        await _app.Regroup();
        await _app.Import("performance", Performance());
        var rivals = Rows(await _app.Get("/api/findings?kind=conflict")).Single();
        var key = Text(rivals, "key");
        var view = await _app.Get($"/api/conflicts/{key}");
        Assert.Equal(2, view.GetProperty("pages").GetArrayLength());
        Assert.Equal(["dry suit for kayaking", "kayak dry suit"], view.GetProperty("shared").EnumerateArray().Select(q => Text(q, "query")).Order());
        Assert.Equal(2, view.GetProperty("signs").GetArrayLength());
        Assert.Equal(["2026-09-28", "2026-10-05", "2026-10-12", "2026-10-19"], view.GetProperty("weeks").EnumerateArray().Select(w => Text(w, "week")).Distinct());

        Assert.Equal(404, (await _app.Send(HttpMethod.Post, "/api/conflicts/none:1/decision", new { decision = "merge" })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/conflicts/{key}/decision", new { decision = "merge", keepPageId = 999_999 })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/conflicts/{key}/decision", new { decision = "leave", note = " " })).Status);
        var keep = Id(rivals.GetProperty("pages")[0]);
        var decided = (await _app.Send(HttpMethod.Post, $"/api/conflicts/{key}/decision", new { decision = "redirect", keepPageId = keep, note = "in spring" })).Body;
        Assert.Equal(("accepted", "redirect"), (Text(decided, "state"), Text(decided, "remedy")));
        var steps = (await _app.Get("/api/plan")).GetProperty("rows").EnumerateArray().SelectMany(r => r.GetProperty("steps").EnumerateArray()).ToList();
        Assert.Equal((key, "in spring", true), (Text(steps.Single(), "findingKey"), Text(steps[0], "note"), steps[0].GetProperty("waits").GetBoolean()));

        // Newer results without the guide, and search performance without it: the cause has gone.
        await _app.Import("results", Results("2030-01-01", "https://www.fenwater.example/dry-suits"));
        Assert.Equal("accepted", Text((await _app.Get($"/api/findings/{key}")).GetProperty("finding"), "state"));
        await _app.Import("performance", "query,page,date,clicks,impressions,position\nkayak dry suit,https://www.fenwater.example/dry-suits,2027-10-20,4,30,3\n");
        Assert.Equal("resolved", Text((await _app.Get($"/api/findings/{key}")).GetProperty("finding"), "state"));
        Assert.False((await _app.Get($"/api/findings/{key}")).GetProperty("step").GetProperty("waits").GetBoolean());
        // It comes back, and so does the finding.
        await _app.Import("results", Results("2030-02-01", "https://www.fenwater.example/dry-suits", "https://fenwater.example/guide"));
        Assert.Equal("open", Text((await _app.Get($"/api/findings/{key}")).GetProperty("finding"), "state"));

        var back = (await _app.Send(HttpMethod.Delete, $"/api/conflicts/{key}/decision")).Body;
        Assert.Equal(("open", JsonValueKind.Null), (Text(back, "state"), back.GetProperty("remedy").ValueKind));
    }

    [Fact]
    public async Task APageThatLeadsToAnotherStandsForIt()
    {
        await _app.BringProject();
        await _app.Regroup();
        Assert.Single(Rows(await _app.Get("/api/findings?kind=conflict")));
        await using var site = await Outside.Site(app => app.Run(context => context.Request.Path.Value switch
        {
            "/guide" => Redirect(context, "/dry-suits"),
            "/dry-suits" or "/paddles" => Outside.Html(context, $"<html><head><title>Dry suits for kayaking</title></head><body><main><h1>Dry suits</h1><p>All of them.</p><a href=\"/guide\">guide</a><a href=\"/paddles\">paddles</a><a href=\"/dry-suits\">suits</a></main></body></html>"),
            "/" => Outside.Html(context, "<html><head><title>Home</title></head><body><a href=\"/guide\">guide</a> <a href=\"/paddles\">paddles</a></body></html>"),
            _ => NotFound(context),
        }));
        await Scan(Outside.AddressOf(site));
        Assert.Equal("redirects", Text(Rows(await _app.Get("/api/pages?search=/guide")).Single(), "indexable"));
        Assert.Empty(Rows(await _app.Get("/api/findings?kind=conflict")));
        Assert.Equal("resolved", Text(Rows(await _app.Get("/api/findings?kind=conflict&anyState=true")).Single(), "state"));
        // Two pages have the same title now, and the scan saw who links to whom.
        Assert.Single(Rows(await _app.Get("/api/findings?kind=twins")));

        static Task Redirect(Microsoft.AspNetCore.Http.HttpContext context, string to)
        {
            context.Response.Redirect(to, permanent: true);
            return Task.CompletedTask;
        }

        static Task NotFound(Microsoft.AspNetCore.Http.HttpContext context)
        {
            context.Response.StatusCode = 404;
            return Task.CompletedTask;
        }
    }

    [Fact]
    public async Task ADeliberatePairIsSilentUntilItIsTakenBack()
    {
        await _app.BringProject();
        await _app.Regroup();
        await _app.Import("performance", Performance());
        var rivals = Rows(await _app.Get("/api/findings?kind=conflict")).Single();
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/conflicts/{Text(rivals, "key")}/decision", new { decision = "deliberate" })).Status);
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, $"/api/conflicts/{Text(rivals, "key")}/decision", new { decision = "deliberate", note = "a guide and its shop page" })).Status);
        Assert.Empty(Rows(await _app.Get("/api/findings?kind=conflict")));
        var pair = (await _app.Get("/api/deliberate-pairs"))[0];
        Assert.Equal("a guide and its shop page", Text(pair, "reason"));
        Assert.Equal(204, (await _app.Send(HttpMethod.Delete, $"/api/deliberate-pairs/{Id(pair, "otherPageId")}/{Id(pair, "pageId")}")).Status);
        Assert.Single(Rows(await _app.Get("/api/findings?kind=conflict")));
        await Undo();
        Assert.Empty(Rows(await _app.Get("/api/findings?kind=conflict")));
        await Undo();
        Assert.Single(Rows(await _app.Get("/api/findings?kind=conflict")));
    }

    [Fact]
    public async Task SeveralFindingsAreDecidedAssignedAndNotedAtOnce()
    {
        await _app.BringProject();
        await _app.Regroup();
        var all = Rows(await _app.Get("/api/findings"));
        Assert.True(all.Count >= 2);
        var some = new { keys = all.Take(1).Select(f => Text(f, "key")).Append("gone:1").ToArray() };
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/findings/decide", new { selection = some })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/findings/decide", new { selection = some, state = "dismissed" })).Status);
        Assert.Equal(1, (await _app.Send(HttpMethod.Post, "/api/findings/decide", new { selection = some, state = "accepted", assignee = " Ida ", note = "by May" })).Body.GetProperty("findings").GetInt32());
        Assert.Equal(["Ida"], (await _app.Get("/api/findings/assignees")).EnumerateArray().Select(n => n.GetString()));
        Assert.All(Rows(await _app.Get("/api/findings?assignee=ida")), f => Assert.Equal(("accepted", "by May"), (Text(f, "state"), Text(f, "note"))));
        Assert.Equal(all.Count - 1, Rows(await _app.Get("/api/findings?assignee=")).Count);
        // All that a filter lets through.
        var rest = new { filter = new { state = "open", anyState = false } };
        Assert.Equal(all.Count - 1, (await _app.Send(HttpMethod.Post, "/api/findings/decide", new { selection = rest, state = "dismissed", reason = "not now" })).Body.GetProperty("findings").GetInt32());
        Assert.Single(Rows(await _app.Get("/api/findings")));
        await Undo();
        await Undo();
        Assert.Equal(all.Select(f => f.GetRawText()), Rows(await _app.Get("/api/findings")).Select(f => f.GetRawText()));
    }

    [Fact]
    public async Task FindingsAreGatheredExportedAndSummedUp()
    {
        await _app.BringProject();
        await _app.Regroup();
        var all = await _app.Get("/api/findings");
        var kinds = (await _app.Get("/api/findings/by-kind")).EnumerateArray().ToList();
        Assert.Equal(["conflict", "uncovered"], kinds.Select(k => Text(k, "kind")));
        Assert.Equal(Rows(all).Count, kinds.Sum(k => k.GetProperty("count").GetInt32()));
        Assert.Equal(all.GetProperty("tally").GetProperty("atStake").GetDouble(), kinds.Sum(k => k.GetProperty("atStake").GetDouble()), 6);
        Assert.All(kinds, k => Assert.Equal(Rows(_app.Get($"/api/findings?kind={Text(k, "kind")}&limit=3").Result).Select(f => f.GetRawText()), k.GetProperty("first").EnumerateArray().Select(f => f.GetRawText())));
        var topics = (await _app.Get("/api/findings/bundles?by=topic")).EnumerateArray().ToList();
        Assert.Equal(Rows(all).Count, topics.Sum(b => b.GetProperty("count").GetInt32()));
        Assert.Equal(all.GetProperty("tally").GetProperty("atStake").GetDouble(), topics.Sum(b => b.GetProperty("atStake").GetDouble()), 6);
        Assert.Equal(["https://www.fenwater.example/dry-suits", "https://www.fenwater.example/guide"], (await _app.Get("/api/findings/bundles?by=page&kind=conflict")).EnumerateArray().Select(b => Text(b, "name")).Order());

        var roll = topics.Single(b => Text(b, "name") == "how to roll a kayak");
        Assert.All(Rows(await _app.Get($"/api/findings?topicId={Text(roll, "key")}")), f => Assert.Equal("how to roll a kayak", Text(f, "clusterName")));
        // No page and absent are about the same clicks, which count once.
        Assert.Equal(800 * 0.11 * 0.95, roll.GetProperty("atStake").GetDouble(), 6);

        var uncovered = await _app.Get($"/api/findings/{Text(Rows(await _app.Get("/api/findings?kind=uncovered")).Single(), "key")}");
        Assert.Equal(["noPage", "absent"], uncovered.GetProperty("signs").EnumerateArray().Select(x => Text(x, "kind")));
        Assert.Equal(["c1.example", "c2.example"], uncovered.GetProperty("rivals").EnumerateArray().Take(2).Select(r => Text(r, "url")));

        var csv = await _app.Http.GetStringAsync("/api/findings.csv?kind=uncovered");
        Assert.StartsWith("Finding,State,Signs,", csv, StringComparison.Ordinal);
        Assert.Contains("Uncovered,open,\"no page, absent from 1 list\",how to roll a kayak", csv, StringComparison.Ordinal);
        using var workbook = TableFile.Open(new MemoryStream(await _app.Http.GetByteArrayAsync("/api/findings.xlsx")));
        Assert.Equal(Rows(all).Count, workbook.Rows().Count());

        await _app.Send(HttpMethod.Put, "/api/project", new { name = "<b>Fen</b>", host = "fenwater.example", country = "gb", language = "en", brandTerms = Array.Empty<string>() });
        var answer = await _app.Http.GetAsync("/api/summary.html");
        Assert.Equal("text/html", answer.Content.Headers.ContentType!.MediaType);
        var html = await answer.Content.ReadAsStringAsync();
        Assert.Contains("&lt;b&gt;Fen&lt;/b&gt;", html, StringComparison.Ordinal);
        Assert.Contains("<td>◩ contested</td><td class=\"num\">–</td><td class=\"num\">44.4 %</td><td class=\"num\">1,600</td>", html, StringComparison.Ordinal);
        Assert.Contains("<h2>Uncovered</h2>", html, StringComparison.Ordinal);
        Assert.Equal("attachment", (await _app.Http.GetAsync("/api/summary.html?save=true")).Content.Headers.ContentDisposition!.DispositionType);
    }

    [Fact]
    public async Task ClustersAreMappedPlannedAndDeclined()
    {
        await _app.BringProject();
        await _app.Regroup();
        var clear = (await _app.Get("/api/page-map/clear")).EnumerateArray().ToList();
        Assert.NotEmpty(clear);
        Assert.Equal(1, (await _app.Send(HttpMethod.Post, "/api/page-map/accept-clear", new { clusterIds = new[] { Id(clear[0], "clusterId") } })).Body.GetProperty("clusters").GetInt32());
        Assert.Equal(clear.Count - 1, (await _app.Get("/api/page-map/clear")).GetArrayLength());

        var roll = Rows(await _app.Get("/api/clusters?search=roll")).Single();
        var mapping = await _app.Get($"/api/page-map/{Id(roll)}");
        Assert.Equal(("/how-to-roll-a-kayak", "How to roll a kayak"), (Text(mapping, "proposedUrl"), Text(mapping, "proposedTitle")));
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/page-map/{Id(roll)}/planned", new { url = "/roll", topicId = 999_999 })).Status);
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, $"/api/page-map/{Id(roll)}/planned", new { url = "/roll", workingTitle = "Rolling", form = "guide" })).Status);
        var planned = Rows(await _app.Get("/api/pages?kind=planned")).Single();
        Assert.Equal(("guide", "how to roll a kayak"), (Text(planned, "form"), Text(planned, "topicName")));
        Assert.Equal(["contested", "planned", "uncovered"], Parts(await _app.Get("/api/page-map/progress")).Select(p => p.Part).Order());
        // A page with that address is found: it is not planned any more, and keeps its cluster.
        await _app.Import("pages", "url,title\nhttps://fenwater.example/roll/,How to roll\n");
        Assert.Equal(("existing", "https://fenwater.example/roll/"), (Text(Rows(await _app.Get("/api/clusters?search=roll")).Single(), "pageKind"), Text(Rows(await _app.Get("/api/clusters?search=roll")).Single(), "pageUrl")));

        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/page-map/{Id(roll)}/decline", new { reason = "" })).Status);
        var declined = (await _app.Send(HttpMethod.Post, $"/api/page-map/{Id(roll)}/decline", new { reason = "no lessons" })).Body;
        Assert.Equal(("no lessons", JsonValueKind.Null), (Text(declined, "declined"), declined.GetProperty("pageId").ValueKind));
        Assert.DoesNotContain(Rows(await _app.Get("/api/clusters?decided=false")), c => Id(c) == Id(roll));
        Assert.Empty(Rows(await _app.Get($"/api/findings?clusterId={Id(roll)}")));
        Assert.Contains(("declined", 800L), Parts(await _app.Get("/api/page-map/progress")));
        await Undo();
        Assert.Equal("existing", Text(Rows(await _app.Get("/api/clusters?search=roll")).Single(), "pageKind"));

        static List<(string Part, long Demand)> Parts(JsonElement rows) => [.. rows.EnumerateArray().Select(r => (Text(r, "coverage"), r.GetProperty("demand").GetInt64()))];
    }

    [Fact]
    public async Task WhatAPageNeverSaysIsToldWithItsDemand()
    {
        await _app.BringProject();
        await _app.Import("pages", "url,title,text\nhttps://fenwater.example/paddles,Paddles,Paddles of ash and cherry\n");
        await _app.Regroup();
        Assert.Empty(Rows(await _app.Get("/api/findings?sign=missingOnPage")));
        var paddles = Rows(await _app.Get("/api/clusters?search=paddle")).Single();
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/page-map/{Id(paddles)}", new { pageId = paddles.GetProperty("suggestedPageId").GetInt64() })).Status);
        var missing = Rows(await _app.Get("/api/findings?sign=missingOnPage")).Single();
        Assert.Equal("pageGap", Text(missing, "kind"));
        Assert.Equal(300 * 0.9 * (0.11 - 0.08), missing.GetProperty("atStake").GetDouble(), 6);
        var detail = await _app.Get($"/api/findings/{Text(missing, "key")}");
        var term = detail.GetProperty("terms").EnumerateArray().Single();
        Assert.Equal(("kayak", 1200, 2), (Text(term, "word"), term.GetProperty("demand").GetInt32(), term.GetProperty("keywords").GetInt32()));
        Assert.Equal(["kayak", "kayak"], detail.GetProperty("signs").EnumerateArray().Single().GetProperty("words").EnumerateArray().Select(w => w.GetString()));
        Assert.Equal(["b1.example", "b2.example"], detail.GetProperty("rivals").EnumerateArray().Take(2).Select(r => Text(r, "url")).Order());
        // With the word on the page nothing is missing.
        await _app.Import("pages", "url,title,text\nhttps://fenwater.example/paddles,Paddles,Paddles for a kayak\n");
        Assert.Empty(Rows(await _app.Get("/api/findings?sign=missingOnPage")));
    }

    [Fact]
    public async Task TheCurveIsWrittenByHandAndRefusedWhereItCannotBe()
    {
        await _app.BringProject();
        await _app.Regroup();
        var before = Rows(await _app.Get("/api/findings?kind=uncovered")).Single().GetProperty("atStake").GetDouble();
        Assert.Equal(400, (await _app.Send(HttpMethod.Put, "/api/settings/curve", new { values = new[] { 0.1, 0.2 }, isFitted = true })).Status);
        double[] values = [0.4, 0.3, 0.22, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.02, 0];
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/curve", new { values, isFitted = true })).Status);
        Assert.Equal(2 * before, Rows(await _app.Get("/api/findings?kind=uncovered")).Single().GetProperty("atStake").GetDouble(), 6);
        var curve = await _app.Get("/api/curve");
        Assert.Equal((false, 0.22), (curve.GetProperty("isFitted").GetBoolean(), curve.GetProperty("used")[2].GetDouble()));
    }

    [Fact]
    public async Task TheCommandLineGivesTheAnswersOfTheInterface()
    {
        using var made = new World(Scenario.Read(Path.Combine(AppContext.BaseDirectory, "scenario.json")), 7);
        var world = made.Generated;
        var folder = Path.Combine(_app.Data, "files");
        DemoFiles.Write(made, folder);
        WritePerformance(made, Path.Combine(folder, "performance.csv"));
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/project", new { name = "Fenwater", host = "fenwater.example", country = "gb", language = "en", brandTerms = Array.Empty<string>() })).Status);
        // The rows come in another order, which must make no difference.
        foreach (var kind in new[] { "pages", "keywords", "results", "performance" })
            Assert.Equal("done", Text(await _app.Import(kind, Shuffled(Path.Combine(folder, kind + ".csv"))), "state"));
        await _app.Regroup();

        Jade(folder, "findings");
        Jade(folder, "map");
        var said = Read(Path.Combine(folder, "findings.out.csv")).Select(f => $"{f[0].Replace("-", "", StringComparison.Ordinal)} {f[3]} {f[4]} {f[6]} {f[7]}").Order(StringComparer.Ordinal).ToList();
        var found = new List<JsonElement>();
        for (var offset = 0; found.Count == offset; offset += 500)
            found.AddRange(Rows(await _app.Get($"/api/findings?anyState=true&limit=500&offset={offset}")));
        // Topics and links are known to the application alone.
        Assert.Equal(
            said,
            found.Where(f => Text(f, "kind") != "missingLinks").Select(f => $"{Text(f, "kind").ToLowerInvariant()} {f.GetProperty("keyword").GetString()} {First(f)} {Rounded(f, "atStake", 1)} {Rounded(f, "confidence", 2)}").Order(StringComparer.Ordinal));
        Assert.Contains(found, f => Signs(f).Contains("pageSwap"));
        Assert.Contains(found, f => Signs(f).Contains("splitTraffic"));

        var mapped = Read(Path.Combine(folder, "map.out.csv")).ToDictionary(m => m[1], m => (m[2], m[4]));
        var clusters = Rows(await _app.Get("/api/clusters?limit=500"));
        Assert.Equal(mapped.Count, clusters.Count);
        Assert.All(clusters, c => Assert.Equal((c.GetProperty("suggestedUrl").GetString() ?? "", Text(c, "verdict")), mapped[Text(c, "primary")]));

        static string Rounded(JsonElement finding, string property, int digits) => Math.Round(finding.GetProperty(property).GetDouble(), digits).ToString(CultureInfo.InvariantCulture);
        static string First(JsonElement finding) => finding.GetProperty("pages").EnumerateArray().Select(p => Text(p, "url")).FirstOrDefault("");
        static List<string?> Signs(JsonElement finding) => [.. finding.GetProperty("signs").EnumerateArray().Select(x => x.GetString())];
    }

    private static void WritePerformance(World world, string path)
    {
        using var stream = File.Create(path);
        var last = world.Scenario.CapturedOn.AddDays(-2);
        TableOutput.WriteCsv(stream, ["query", "page", "date", "clicks", "impressions", "position"], world.Performance(last.AddDays(-100), last).Select(p => new object?[]
        {
            p.Standing.Keyword.Phrase, p.Standing.Url, p.Day.ToString("yyyy-MM-dd", null), p.Clicks, p.Impressions, Math.Round(p.Position, 2),
        }), forSpreadsheets: false);
    }

    private static void Jade(string folder, string command)
    {
        string[] arguments = [Path.Combine(AppContext.BaseDirectory, "jade.dll"), command, "--keywords", "keywords.csv", "--results", "results.csv", "--pages", "pages.csv", "--performance", "performance.csv",
            "--site", "fenwater.example", "--out", command + ".out.csv"];
        using var process = Process.Start(new ProcessStartInfo("dotnet", arguments) { WorkingDirectory = folder, RedirectStandardOutput = true, RedirectStandardError = true })!;
        var error = process.StandardError.ReadToEndAsync();
        process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, error.Result);
    }

    private static string Shuffled(string path)
    {
        using var file = DelimitedFile.Open(path);
        var rows = file.Rows().Select(r => r.Row.Value!).ToArray();
        new Random(3).Shuffle(rows);
        using var shuffled = new MemoryStream();
        TableOutput.WriteCsv(shuffled, [.. file.Header], rows, forSpreadsheets: false);
        return System.Text.Encoding.UTF8.GetString(shuffled.ToArray());
    }

    private static List<string[]> Read(string path)
    {
        using var file = DelimitedFile.Open(path);
        return [.. file.Rows().Select(r => r.Row.Value!)];
    }

    /// <summary>Twenty days of two pages for one query, one of them with two rows that count once and a row of another site.</summary>
    private static string Performance()
    {
        var rows = new StringBuilder("query,page,date,clicks,impressions,position\n");
        for (var day = 1; day <= 20; day++)
        {
            rows.AppendLine(CultureInfo.InvariantCulture, $"kayak dry suit,https://www.fenwater.example/dry-suits,2026-10-{day:00},4,30,3");
            rows.AppendLine(CultureInfo.InvariantCulture, $"Kayak Dry Suit,https://fenwater.example/guide,2026-10-{day:00},3,20,7");
        }

        return rows + "Kayak Dry Suit,https://fenwater.example/guide,2026-10-20,7,20,7\nkayak dry suit,https://rival.example/,2026-10-20,7,20,7\nno keyword,https://fenwater.example/guide,2026-10-20,0,0,0\n";
    }

    private static string Results(string day, params string[] own)
    {
        var rows = new StringBuilder("keyword,position,url,title,snippet,captured_at\n");
        foreach (var keyword in new[] { "kayak dry suit", "dry suit for kayaking" })
        {
            string[] urls = ["https://a1.example/", "https://a2.example/", "https://a3.example/", "https://a4.example/", .. own];
            for (var i = 0; i < urls.Length; i++)
                rows.AppendLine(CultureInfo.InvariantCulture, $"{keyword},{i + 1},{urls[i]},T,,{day}");
        }

        return rows.ToString();
    }

    private async Task Undo() => Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/undo")).Status);

    private async Task Scan(string address)
    {
        var settings = (await _app.Get("/api/settings")).GetProperty("scan").EnumerateObject().ToDictionary(p => p.Name, p => (object)p.Value);
        (settings["depth"], settings["ratePerSecond"], settings["gateway"], settings["gatewayFor"], settings["allowPrivate"], settings["findBy"]) = ("full", 500, address, "example", true, "links");
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/scan", settings)).Status);
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/scans");
        Assert.Equal(202, status);
        Assert.Equal("done", Text(await _app.Ended(job), "state"));
    }
}
