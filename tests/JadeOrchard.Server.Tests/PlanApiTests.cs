using System.IO.Compression;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;

namespace JadeOrchard.Server.Tests;

/// <summary>From decisions to steps, people, files and back, over HTTP.</summary>
public sealed class PlanApiTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task DecisionsBecomeStepsAndGoWithThem()
    {
        await Project();
        var conflict = Rows(await _app.Get("/api/findings?kind=conflict")).Single();
        var key = Text(conflict, "key");
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, $"/api/conflicts/{key}/decision", new { decision = "merge" })).Status);
        var steps = Rows(await _app.Get("/api/plan/steps"));
        Assert.Equal(["merge /dry-suits", "redirect /guide"], steps.Select(Named).Order(StringComparer.Ordinal));
        Assert.All(steps, s => Assert.Equal(key, Text(s.GetProperty("parts")[0], "findingKey")));
        // The text is brought over first.
        Assert.Equal("merge", Text(steps[0], "what"));
        var redirect = await _app.Get($"/api/plan/steps/{Id(steps[1])}");
        Assert.Equal("merge", Text(redirect.GetProperty("before")[0], "what"));
        Assert.Equal("The address redirects to https://www.fenwater.example/dry-suits.", redirect.GetProperty("proof")[0].GetString());
        Assert.Contains("which it needs", string.Join(' ', redirect.GetProperty("whyHere").EnumerateArray().Select(w => w.GetString())), StringComparison.Ordinal);

        // Another remedy takes the place of the first, and none takes the steps away; undo brings them back.
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, $"/api/conflicts/{key}/decision", new { decision = "canonical" })).Status);
        Assert.Equal(["canonical /guide"], Rows(await _app.Get("/api/plan/steps")).Select(Named));
        Assert.Equal(200, (await _app.Send(HttpMethod.Delete, $"/api/conflicts/{key}/decision")).Status);
        Assert.Empty(Rows(await _app.Get("/api/plan/steps")));
        await _app.Send(HttpMethod.Post, "/api/undo");
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(2, Rows(await _app.Get("/api/plan/steps")).Count);
        Assert.Equal("2 steps, 0 live", Text((await _app.Get("/api/project")).GetProperty("track").EnumerateArray().Single(t => Text(t, "stage") == "plan"), "says"));
    }

    [Fact]
    public async Task APlannedPageIsAStepWithItsGainAndGoesWithThePage()
    {
        await Project();
        var roll = Id(Rows(await _app.Get("/api/clusters?search=roll")).Single());
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, $"/api/page-map/{roll}/planned", new { url = "/guides/roll", workingTitle = "How to roll" })).Status);
        var step = Rows(await _app.Get("/api/plan/steps?kind=write")).Single();
        // 800 × 0.11 × (1 − 5/100), from the default curve.
        Assert.Equal(83.6, step.GetProperty("gain").GetDouble(), 6);
        Assert.Equal("800 searches, from nowhere to 3rd, difficulty 5: about 84 clicks a month", Text(step, "gainSays"));
        Assert.Equal((6, "how to roll a kayak", true), (step.GetProperty("hours").GetDouble(), Text(step.GetProperty("clusters")[0], "primary"), step.GetProperty("isPlanned").GetBoolean()));
        Assert.Equal(200, (await _app.Send(HttpMethod.Delete, $"/api/page-map/{roll}")).Status);
        Assert.Empty(Rows(await _app.Get("/api/plan/steps")));
    }

    [Fact]
    public async Task StepsAreChangedOneByOneAndInBulkAndKeepTheirHistory()
    {
        await Project();
        var steps = await Steps();
        var id = Id(steps[0]);
        Assert.Equal(200, (await Change(new { ids = new[] { id }, owner = "Ada", due = "2026-12-31", hours = 4, note = "soon" })).Status);
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, $"/api/plan/steps/{id}/comments", new { says = "Looks good." })).Status);
        var detail = await _app.Get($"/api/plan/steps/{id}");
        var step = detail.GetProperty("step");
        Assert.Equal(("Ada", "2026-12-31", 4, true, "soon"), (Text(step, "owner"), Text(step, "due"), step.GetProperty("hours").GetDouble(), step.GetProperty("hoursByHand").GetBoolean(), Text(step, "note")));
        Assert.Equal(["Looks good.", "owner: none → Ada; due: none → 2026-12-31; hours: none → 4; note: none → soon"], detail.GetProperty("entries").EnumerateArray().Select(e => Text(e, "says")));
        Assert.Contains("Ada", (await _app.Get("/api/plan/owners")).EnumerateArray().Select(o => o.GetString()));

        // All that a filter lets through; a stale version is refused.
        Assert.Equal(steps.Count, (await Change(new { status = "inProgress" })).Body.GetProperty("steps").GetInt32());
        Assert.Equal(409, (await Change(new { ids = new[] { id }, status = "done", version = Text(step, "version") })).Status);
        Assert.Equal(200, (await Change(new { ids = new[] { id }, status = "dropped", reason = "not wanted" })).Status);
        Assert.Equal(steps.Count - 1, Rows(await _app.Get("/api/plan/steps")).Count);
        Assert.Equal("not wanted", Text(Rows(await _app.Get("/api/plan/steps?stepStatus=dropped")).Single(), "reason"));
        Assert.Equal(["Ada"], Rows(await _app.Get("/api/plan/steps?anyStatus=true&owner=ada")).Select(s => Text(s, "owner")));

        var part = Rows(await _app.Get("/api/plan/steps"))[0].GetProperty("parts")[0];
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, $"/api/plan/parts/{Id(part)}", new { isDone = true })).Status);
        Assert.True(Rows(await _app.Get("/api/plan/steps"))[0].GetProperty("parts")[0].GetProperty("isDone").GetBoolean());
        Assert.Equal(204, (await _app.Send(HttpMethod.Delete, $"/api/plan/parts/{Id(part)}")).Status);
        Assert.Equal(404, (await _app.Send(HttpMethod.Delete, $"/api/plan/parts/{Id(part)}")).Status);
    }

    [Fact]
    public async Task WhatCannotBeIsRefusedWithItsReason()
    {
        await Project();
        var id = Id((await Steps())[0]);
        var page = Id(Rows(await _app.Get("/api/pages"))[0]);
        foreach (var (body, field) in new (object, string)[]
        {
            (new { ids = new[] { id } }, "status"), (new { ids = new[] { id }, status = "live" }, "status"), (new { ids = new[] { id }, status = "dropped" }, "reason"), (new { ids = new[] { id }, due = "soon" }, "due"),
            (new { ids = new[] { id }, hours = 5_000 }, "hours"), (new { ids = new[] { id }, owner = new string('x', 201) }, "owner"), (new { ids = new[] { id }, week = "2026-13-01" }, "week"),
        })
        {
            var (status, problem) = await Change(body);
            Assert.Equal((400, field), (status, Text(problem, "field")));
        }

        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/plan/steps", new { kind = "redirect", pageId = page })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/plan/steps", new { kind = "redirect", pageId = page, otherPageId = page })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/plan/steps", new { kind = "write", pageId = page })).Status);
        Assert.Equal(404, (await _app.Send(HttpMethod.Post, "/api/plan/steps", new { kind = "refresh", pageId = 99_999 })).Status);
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/plan/steps", new { kind = "removeFromIndex", pageId = page, note = "thin" })).Status);
        Assert.Equal(404, (await _app.Send(HttpMethod.Get, "/api/plan/steps/99999")).Status);
        Assert.Equal(409, (await _app.Send(HttpMethod.Post, "/api/plan/check")).Status);
        foreach (var settings in new object[] { new { people = new[] { new { name = "", hoursPerWeek = 5, daysOff = Array.Empty<string>() } } }, new { people = new[] { new { name = "Ada", hoursPerWeek = 500, daysOff = Array.Empty<string>() } } }, new { effort = new[] { new { kind = "write", hours = 0 } } } })
            Assert.Equal(400, (await _app.Send(HttpMethod.Put, "/api/plan/settings", settings)).Status);
    }

    [Fact]
    public async Task TheRoadmapFillsThePeoplesWeeks()
    {
        await Project();
        var steps = await Steps();
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/plan/settings", new { people = new[] { new { name = "Ada", hoursPerWeek = 3.0, daysOff = Array.Empty<string>() } } })).Status);
        var roadmap = await _app.Get("/api/plan/roadmap");
        var bars = roadmap.GetProperty("bars").EnumerateArray().ToList();
        Assert.Equal(steps.Count, bars.Count + roadmap.GetProperty("notFitting").GetArrayLength());
        Assert.All(bars, b => Assert.Equal("Ada", Text(b, "worker")));
        Assert.All(bars.Where(b => Text(b, "first") == Text(b, "last")).GroupBy(b => Text(b, "first")), w => Assert.True(w.Sum(b => b.GetProperty("hours").GetDouble()) <= 3));
        var gains = roadmap.GetProperty("gains").EnumerateArray().ToList();
        Assert.Equal(bars.Sum(b => b.GetProperty("gain").GetDouble()), gains[^1].GetProperty("expected").GetDouble(), 6);
        Assert.All(gains, g => Assert.True(g.GetProperty("low").GetDouble() <= g.GetProperty("expected").GetDouble() && g.GetProperty("expected").GetDouble() <= g.GetProperty("high").GetDouble()));
        // A week that a planner chose stays.
        var first = DateOnly.ParseExact(Text(bars[0], "first"), "yyyy-MM-dd", null);
        await Change(new { ids = new[] { Id(bars[0]) }, week = first.AddDays(21).ToString("yyyy-MM-dd", null) });
        Assert.Equal(first.AddDays(21).ToString("yyyy-MM-dd", null), Text((await _app.Get($"/api/plan/steps/{Id(bars[0])}")).GetProperty("step"), "first"));
        // A roadmap that has ended holds nothing.
        await _app.Send(HttpMethod.Put, "/api/plan/settings", new { until = "2020-01-01" });
        Assert.Equal(0, (await _app.Get("/api/plan/roadmap")).GetProperty("bars").GetArrayLength());
    }

    [Fact]
    public async Task ASeasonSaysByWhenAStepIsToBeDone()
    {
        await Project();
        var roll = Id(Rows(await _app.Get("/api/clusters?search=roll")).Single());
        await _app.Send(HttpMethod.Post, $"/api/page-map/{roll}/planned", new { url = "/guides/roll", workingTitle = "How to roll" });
        var step = Rows(await _app.Get("/api/plan/steps?kind=write")).Single();
        Assert.Equal(JsonValueKind.Null, step.GetProperty("season").ValueKind);
        // It is searched for in the month after the next four.
        var peak = new DateOnly(DateTime.UtcNow.Year, DateTime.UtcNow.Month, 1).AddMonths(5);
        var months = string.Join('|', Enumerable.Range(0, 12).Select(i => new DateOnly(DateTime.UtcNow.Year, DateTime.UtcNow.Month, 1).AddMonths(i - 12).Month == peak.Month ? 900 : 100));
        await _app.Import("keywords", $"keyword,monthly_volumes\n{Text(step.GetProperty("clusters")[0], "primary")},{months}\n");
        var detail = await _app.Get($"/api/plan/steps/{Id(step)}");
        var season = detail.GetProperty("step").GetProperty("season");
        Assert.Equal((peak.ToString("yyyy-MM-dd", null), peak.AddDays(-56).ToString("yyyy-MM-dd", null)), (Text(season, "peak"), Text(season, "due")));
        Assert.Contains(detail.GetProperty("whyHere").EnumerateArray(), w => w.GetString()!.Contains("is searched for most from", StringComparison.Ordinal));
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(JsonValueKind.Null, (await _app.Get($"/api/plan/steps/{Id(step)}")).GetProperty("step").GetProperty("season").ValueKind);
    }

    [Fact]
    public async Task ATeamsSpreadsheetComesBack()
    {
        await Project();
        var steps = await Steps();
        await Change(new { ids = new[] { Id(steps[0]) }, due = "2026-12-31" });
        var csv = await _app.Http.GetStringAsync("/api/plan/steps.csv");
        Assert.StartsWith("Step,Place,What,Page,", csv.TrimStart('\uFEFF'), StringComparison.Ordinal);
        var table = $"Step,Status,Owner,Due\n{Id(steps[0])},done,Ada,2026-12-24\n{Id(steps[1])},to do,,\n999,done,,\n{Id(steps[1])},done,,\n{(steps.Count > 2 ? $"{Id(steps[2])},nearly,,\n" : "")}";
        var upload = Text(await _app.Upload("steps.csv", table), "uploadId");
        var (status, preview) = await _app.Send(HttpMethod.Post, "/api/plan/import", new { uploadId = upload });
        Assert.Equal(200, status);
        Assert.Equal("status: to do → done; owner: none → Ada; due: 2026-12-31 → 2026-12-24", Text(preview.GetProperty("changes")[0], "says"));
        Assert.Equal((1, 1), (preview.GetProperty("changes").GetArrayLength(), preview.GetProperty("same").GetInt32()));
        Assert.Equal("There is no such step.", Text(preview.GetProperty("rejected")[0], "reason"));
        var rejected = Lines(await _app.Http.GetStringAsync($"/api/plan/import/rejected.csv?uploadId={upload}"));
        Assert.Equal(preview.GetProperty("rejected").GetArrayLength() + 1, rejected.Count);
        Assert.Contains(rejected, l => l.EndsWith("There is no such step.,999", StringComparison.Ordinal));
        Assert.Equal("to do", Text((await _app.Get($"/api/plan/steps/{Id(steps[0])}")).GetProperty("step"), "statusName"));
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/plan/import", new { uploadId = upload, apply = true })).Status);
        Assert.Equal("done", Text((await _app.Get($"/api/plan/steps/{Id(steps[0])}")).GetProperty("step"), "status"));
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(("toDo", "2026-12-31"), (Text((await _app.Get($"/api/plan/steps/{Id(steps[0])}")).GetProperty("step"), "status"), Text((await _app.Get($"/api/plan/steps/{Id(steps[0])}")).GetProperty("step"), "due")));
        var other = Text(await _app.Upload("x.csv", "a,b\n1,2\n"), "uploadId");
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/plan/import", new { uploadId = other })).Status);

        // The exported workbook changes nothing when it comes back as it went.
        var workbook = await _app.Http.GetByteArrayAsync("/api/plan/steps.xlsx");
        using var content = new ByteArrayContent(workbook);
        content.Headers.ContentType = new("application/octet-stream");
        var brought = JsonSerializer.Deserialize<JsonElement>(await (await _app.Http.PostAsync("/api/uploads?fileName=plan.xlsx", content)).Content.ReadAsStringAsync());
        var same = (await _app.Send(HttpMethod.Post, "/api/plan/import", new { uploadId = Text(brought, "uploadId") })).Body;
        Assert.Equal((0, 0, steps.Count), (same.GetProperty("changes").GetArrayLength(), same.GetProperty("rejected").GetArrayLength(), same.GetProperty("same").GetInt32()));
    }

    [Fact]
    public async Task FilesHoldWhatIsShown()
    {
        await Project();
        var steps = await Steps();
        await Change(new { ids = new[] { Id(steps[0]) }, due = "2026-12-31" });
        var calendar = await _app.Http.GetStringAsync("/api/plan/steps.ics");
        Assert.Contains($"UID:step-{Id(steps[0])}@fenwater.example", calendar, StringComparison.Ordinal);
        Assert.Contains("https://www.fenwater.example/guide,https://www.fenwater.example/dry-suits,301", await _app.Http.GetStringAsync("/api/plan/redirects.csv"), StringComparison.Ordinal);
        Assert.Contains("RewriteRule \"^/?guide$\"", await _app.Http.GetStringAsync("/api/plan/redirects.apache"), StringComparison.Ordinal);
        Assert.Contains("location = \"/guide\"", await _app.Http.GetStringAsync("/api/plan/redirects.nginx"), StringComparison.Ordinal);
        Assert.Equal(400, (await _app.Send(HttpMethod.Get, "/api/plan/redirects.iis")).Status);
        Assert.Equal(steps.Count, JsonSerializer.Deserialize<JsonElement>(await _app.Http.GetStringAsync("/api/plan/steps.json")).GetArrayLength());
        Assert.Contains("- [ ] Redirect it to https://www.fenwater.example/dry-suits", await _app.Http.GetStringAsync("/api/plan/steps.md"), StringComparison.Ordinal);
        Assert.Single(Lines(await _app.Http.GetStringAsync("/api/plan/steps.csv?kind=merge")).Skip(1), l => l.Contains("merge", StringComparison.Ordinal));
        using (var book = new ZipArchive(new MemoryStream(await _app.Http.GetByteArrayAsync("/api/plan/steps.xlsx"))))
        using (var reader = new StreamReader(book.GetEntry("xl/workbook.xml")!.Open()))
            Assert.Equal(3, (await reader.ReadToEndAsync()).Split("<x:sheet ").Length - 1);
        var report = await _app.Http.GetStringAsync("/api/plan/report.html");
        Assert.Contains("<h2>By topic</h2>", report, StringComparison.Ordinal);
        Assert.DoesNotContain("<script", report, StringComparison.OrdinalIgnoreCase);
        Assert.DoesNotContain("href=", report, StringComparison.OrdinalIgnoreCase);
        var markdown = await _app.Http.GetStringAsync("/api/plan/report.md");
        Assert.Contains("| nobody yet |", markdown, StringComparison.Ordinal);
        Assert.Equal(400, (await _app.Send(HttpMethod.Get, "/api/plan/report.md?from=2026-12-02&to=2026-12-01")).Status);

        // Demand by topic then and now; topics that were not chosen are left out.
        var topics = Rows(await _app.Get("/api/topics"));
        Assert.Equal(topics.Count, TopicLines(markdown).Count);
        var (topic, line) = (topics[0], TopicLines(await _app.Http.GetStringAsync($"/api/plan/report.md?topicId={Id(topics[0])}")).Single());
        Assert.StartsWith($"| {Text(topic, "name")} |", line, StringComparison.Ordinal);
        var cells = line.Split('|', StringSplitOptions.TrimEntries);
        Assert.Equal(cells[2], (Cell(3) + Cell(5) + Cell(7)).ToString("N0", null));
        Assert.Equal(cells[2], (Cell(4) + Cell(6) + Cell(8)).ToString("N0", null));
        long Cell(int at) => long.Parse(cells[at], System.Globalization.NumberStyles.AllowThousands, null);

        static List<string> TopicLines(string report) => [.. report.Split('\n').SkipWhile(l => l != "## By topic").Skip(4).TakeWhile(l => l.StartsWith('|'))];
    }

    [Fact]
    public async Task WhatIsDoneIsLookedForAndGoesLiveOrSaysWhyNot()
    {
        var pages = new Dictionary<string, string>
        {
            ["/"] = "<title>Home</title><main><h1>Home</h1><a href=/suits>Suits</a> <a href=/guide>Guide</a> <a href=/paddles>Paddles</a> <a href=/boots>Boots</a></main>",
            ["/boots"] = "<title>Boots</title><main><h1>Boots</h1></main>",
            ["/suits"] = "<title>Dry suits</title><main><h1>Dry suits</h1><p>Dry suits keep paddlers warm all year.</p></main>",
            ["/guide"] = "<title>Suit guide</title><main><h1>Guide</h1><p>Seals of latex want powder before every single trip.</p></main>",
            ["/paddles"] = "<title>Paddles</title><main><h1>Paddles</h1><p>Paddles of carbon. Wear a dry suit in winter.</p></main>",
        };
        var redirects = new Dictionary<string, string>();
        await using var site = await Outside.Site(app => app.Run(context =>
        {
            var path = context.Request.Path.Value!;
            if (redirects.TryGetValue(path, out var to))
                context.Response.Redirect(to, permanent: true);
            else if (pages.TryGetValue(path, out var html))
                return Outside.Html(context, html);
            else
                context.Response.StatusCode = 404;
            return Task.CompletedTask;
        }));
        var root = Outside.AddressOf(site).Replace("127.0.0.1", "localhost", StringComparison.Ordinal);
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/project", new { name = "", host = root + "/", country = "GB", language = "en", brandTerms = Array.Empty<string>() })).Status);
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/scan", new { startUrl = root + "/", gateway = "", gatewayFor = "example", allowPrivate = true, ratePerSecond = 900, atOnce = 4, maxPages = 50, depth = "full", findBy = "links" })).Status);
        await Job("/api/scans");
        var known = Rows(await _app.Get("/api/pages")).ToDictionary(p => new Uri(Text(p, "url")).AbsolutePath, Id);
        async Task<long> Add(string kind, string page, string? other = null) =>
            Id((await _app.Send(HttpMethod.Post, "/api/plan/steps", new { kind, pageId = known[page], otherPageId = other is null ? (long?)null : known[other] })).Body);
        await _app.Sql("update page set kind = 'planned', scanned_at = null where url like '%/boots'");
        var (merge, redirect, link, retitle, write) = (await Add("merge", "/suits", "/guide"), await Add("redirect", "/guide", "/suits"), await Add("link", "/paddles", "/suits"), await Add("retitle", "/"), await Add("write", "/boots"));
        Assert.Equal(200, (await Change(new { ids = new[] { merge, redirect, link, retitle, write }, status = "done" })).Status);

        // Some of it was really done.
        pages["/suits"] = "<title>Dry suits</title><main><h1>Dry suits</h1><p>Dry suits keep paddlers warm all year. Seals of latex want powder before every single trip.</p></main>";
        redirects["/guide"] = "/suits";
        pages["/"] = pages["/"].Replace("<title>Home", "<title>Kayaks and suits", StringComparison.Ordinal).Replace("<h1>Home", "<h1>Kayaks", StringComparison.Ordinal);
        // What is new has to be in the sitemap too.
        pages["/sitemap.xml"] = $"<urlset xmlns='http://www.sitemaps.org/schemas/sitemap/0.9'><url><loc>{root}/suits</loc></url></urlset>";
        var check = await Job("/api/plan/check");
        Assert.Equal("done", Text(check, "state"));
        async Task<string> Status(long id)
        {
            for (var i = 0; i < 100; i++)
            {
                var step = (await _app.Get($"/api/plan/steps/{id}")).GetProperty("step");
                if (step.GetProperty("checkedAt").ValueKind != JsonValueKind.Null)
                    return $"{Text(step, "statusName")}: {Text(step.GetProperty("parts")[0], "found")}";
                await Task.Delay(50);
            }

            return "not checked";
        }

        async Task Goes(long step, string live)
        {
            for (var i = 0; i < 100 && (await Status(step)).StartsWith("done", StringComparison.Ordinal); i++)
                await Task.Delay(50);
            Assert.StartsWith(live, await Status(step), StringComparison.Ordinal);
        }

        Assert.Equal("live: all 1 passages are there", await Status(merge));
        Assert.Equal($"live: redirects with status 301 to {root}/suits", await Status(redirect));
        Assert.Equal("live: the title is “Kayaks and suits” now", await Status(retitle));
        Assert.Equal($"done, not verified: it does not link to {root}/suits", await Status(link));

        Assert.Equal("done, not verified: the page is there, but in no sitemap", await Status(write));

        pages["/sitemap.xml"] = pages["/sitemap.xml"].Replace("/suits", "/boots", StringComparison.Ordinal);
        await Job("/api/plan/check");
        await Goes(write, "live: the page is there and in the sitemap");

        // The next scan finds the rest.
        pages["/paddles"] = pages["/paddles"].Replace("a dry suit", "a <a href=/suits>dry suit</a>", StringComparison.Ordinal);
        await Job("/api/scans");
        await Goes(link, "live: it links to");
        Assert.Contains("status: done → live, as a scan found", (await _app.Get($"/api/plan/steps/{link}")).GetProperty("entries").EnumerateArray().Select(e => Text(e, "says")));
    }

    [Fact]
    public async Task LinksThatAreMissingComeWithTheirPassageAndBecomeSteps()
    {
        await Project();
        foreach (var cluster in Rows(await _app.Get("/api/clusters")))
        {
            var page = Text(cluster, "name").Contains("suit", StringComparison.Ordinal) ? "dry-suits" : "paddles";
            if (!Text(cluster, "name").Contains("roll", StringComparison.Ordinal))
                await _app.Send(HttpMethod.Put, $"/api/page-map/{Id(cluster)}", new { pageId = Id(Rows(await _app.Get($"/api/pages?search={page}"))[0]) });
        }

        var ids = Rows(await _app.Get("/api/clusters")).Where(c => !Text(c, "name").Contains("roll", StringComparison.Ordinal)).Select(Id).ToList();
        await _app.Send(HttpMethod.Post, "/api/topics/move", new { clusterIds = ids });
        // Nothing can be said of links that nobody read.
        Assert.Equal((0, 2), ((await _app.Get("/api/plan/links")).GetProperty("count").GetInt32(), (await _app.Get("/api/plan/links")).GetProperty("notRead").GetInt32()));
        await _app.Sql("""
            insert into page_content (content_id, text) values (901, 'Wear a kayak dry suit.'), (902, 'A kayak paddle is light.');
            insert into page_link (content_id, place, to_identity, anchor) values (901, 1, 'https://fenwater.example/x', 'x'), (902, 1, 'https://fenwater.example/x', 'x');
            update page set content_id = 901 where url like '%/paddles'; update page set content_id = 902 where url like '%/dry-suits';
            """);
        var missing = await _app.Get("/api/plan/links");
        var rows = Rows(missing);
        Assert.Equal(2, missing.GetProperty("count").GetInt32());
        Assert.Equal(["kayak dry suit", "kayak paddle"], rows.Select(r => Text(r, "words")).Order(StringComparer.Ordinal));
        Assert.Equal(2, (await _app.Send(HttpMethod.Post, "/api/plan/links", new { })).Body.GetProperty("steps").GetInt32());
        Assert.All(Rows(await _app.Get("/api/plan/links")), r => Assert.True(r.GetProperty("hasStep").GetBoolean()));
        Assert.Contains(Rows(await _app.Get("/api/plan/steps?kind=link")), s => Text(s.GetProperty("parts")[0], "says").EndsWith("on “kayak dry suit”", StringComparison.Ordinal));
    }

    private async Task Project()
    {
        await _app.BringProject();
        await _app.Regroup();
        var suits = Id(Rows(await _app.Get("/api/clusters?search=suit")).Single());
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/page-map/{suits}", new { pageId = Id(Rows(await _app.Get("/api/pages?search=dry-suits")).Single()) })).Status);
    }

    /// <summary>Steps of a conflict and of a planned page.</summary>
    private async Task<List<JsonElement>> Steps()
    {
        var conflict = Rows(await _app.Get("/api/findings?kind=conflict")).Single();
        await _app.Send(HttpMethod.Post, $"/api/conflicts/{Text(conflict, "key")}/decision", new { decision = "merge" });
        var roll = Id(Rows(await _app.Get("/api/clusters?search=roll")).Single());
        await _app.Send(HttpMethod.Post, $"/api/page-map/{roll}/planned", new { url = "/guides/roll" });
        return Rows(await _app.Get("/api/plan/steps"));
    }

    private Task<(int Status, JsonElement Body)> Change(object change) => _app.Send(HttpMethod.Post, "/api/plan/steps/change", change);

    private async Task<JsonElement> Job(string path)
    {
        var (status, job) = await _app.Send(HttpMethod.Post, path);
        Assert.Equal(202, status);
        return await _app.Ended(job);
    }

    private static string Named(JsonElement step) => $"{Text(step, "what")} {new Uri(Text(step, "url")).AbsolutePath}";

    private static List<string> Lines(string text) => [.. text.Split("\r\n", StringSplitOptions.RemoveEmptyEntries)];

    private static List<JsonElement> Rows(JsonElement page) => [.. page.GetProperty("rows").EnumerateArray()];

    private static long Id(JsonElement row) => row.GetProperty("id").GetInt64();

    private static string Text(JsonElement row, string name) => row.GetProperty(name).GetString()!;
}
