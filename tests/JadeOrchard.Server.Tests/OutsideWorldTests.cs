using System.Text.Json;
using JadeOrchard.Server.Results;

namespace JadeOrchard.Server.Tests;

/// <summary>From nothing but a domain and a seed phrase to captured results, over HTTP against the stand-ins.</summary>
[Collection(nameof(Outside))]
public sealed class OutsideWorldTests(Outside outside) : IAsyncLifetime, IDisposable
{
    private readonly Application _app = new(services: outside.Address);

    public async Task InitializeAsync()
    {
        await outside.Tell(null, "none");
        foreach (var service in new[] { "search", "suggestions", "research", "rankings", "performance", "drafting" })
            Assert.Equal(204, (await _app.Send(HttpMethod.Put, $"/api/services/{service}", new { address = outside.Address, key = Outside.Key })).Status);
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/project", new { name = "Fenwater", host = "fenwater.example", country = "GB", language = "en", brandTerms = Array.Empty<string>() })).Status);
    }

    public Task DisposeAsync() => Task.CompletedTask;

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task DraftsAreAskedForPaidOnceAndWaitToBeAccepted()
    {
        await _app.BringProject();
        await _app.Regroup();
        var cluster = Rows(await _app.Get("/api/clusters?search=suit"))[0].GetProperty("id").GetInt64();
        var id = (await _app.Send(HttpMethod.Post, "/api/briefs", new { clusterIds = new[] { cluster } })).Body.GetProperty("ids")[0].GetInt64();
        Assert.Equal(0.01, (await _app.Get($"/api/briefs/{id}")).GetProperty("drafting").GetProperty("price").GetDouble());
        foreach (var kind in new[] { "title", "description", "outline", "introduction", "answer", "section" })
        {
            var (status, drafted) = await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/draft", new { kind, @for = kind is "answer" or "section" ? "Sizes" : null });
            Assert.True(status == 200, $"{kind}: {drafted}");
            Assert.NotEmpty(drafted.GetProperty("texts").EnumerateArray());
            Assert.All(drafted.GetProperty("texts").EnumerateArray(), t => Assert.False(t.GetProperty("isAccepted").GetBoolean()));
        }

        // What nobody accepted is in no file.
        var written = (await _app.Get($"/api/briefs/{id}")).GetProperty("edits").GetProperty("written").EnumerateArray().Where(w => Text(w, "kind") == "introduction").Select(w => Text(w, "text")).ToList();
        Assert.DoesNotContain(written[0], await _app.Http.GetStringAsync($"/api/briefs/{id}/brief.html"), StringComparison.Ordinal);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/draft", new { kind = "poem" })).Status);

        // Without the service all else works, and what is missing is said.
        await outside.Tell("draft", "broken");
        var (failed, problem) = await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/draft", new { kind = "title" });
        Assert.Equal(409, failed);
        Assert.Contains("drafting service", Text(problem, "detail"), StringComparison.Ordinal);
        await _app.Send(HttpMethod.Put, "/api/services/drafting", new { address = "" });
        Assert.Equal(JsonValueKind.Null, (await _app.Get($"/api/briefs/{id}")).GetProperty("drafting").ValueKind);
    }

    [Fact]
    public async Task ListsAreCapturedAgainByScheduleAsFarAsTheBudgetGoes()
    {
        await _app.BringProject();
        Assert.Equal(JsonValueKind.Null, (await _app.Get("/api/captures/schedule")).GetProperty("nextOn").ValueKind);
        object With(int days, double budget) => new
        {
            depth = 10,
            pricePerRequest = 0.5,
            currency = "EUR",
            ratePerSecond = 100,
            atOnce = 2,
            freshDays = 30,
            recaptureDays = days,
            recaptureListId = (long?)null,
            monthlyBudget = budget,
        };
        Assert.Equal(400, (await _app.Send(HttpMethod.Put, "/api/settings/capture", With(-1, 1))).Status);
        // Imported lists of an old day are due; the budget is enough for two of them.
        await _app.Sql("update result_list set captured_on = 700000; update keyword set captured_on = 700000 where captured_on is not null");
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/capture", With(7, 1.2))).Status);
        var due = await _app.Get("/api/captures/schedule");
        Assert.True(due.GetProperty("lists").GetInt64() > 2);
        Assert.Equal(due.GetProperty("lists").GetInt64() * 0.5, due.GetProperty("cost").GetDouble(), 6);
        _app.Service<RecaptureSchedule>().Look();
        await _app.Ended((await Captures())[0].GetProperty("job"));
        var ran = await _app.Get("/api/captures/schedule");
        Assert.Contains("2 of", Text(ran, "says"), StringComparison.Ordinal);
        Assert.Equal(1.0, ran.GetProperty("spentThisMonth").GetDouble(), 6);
        // Nothing more on the same day, however often it looks; runs that were missed are one, for which the budget is used up.
        _app.Service<RecaptureSchedule>().Look();
        Assert.Single(await Captures());
        await _app.Sql("update recapture set ran_on = '2020-01-01'");
        _app.Service<RecaptureSchedule>().Look();
        Assert.Contains("used up", Text(await _app.Get("/api/captures/schedule"), "says"), StringComparison.Ordinal);
        Assert.Single(await Captures());

        async Task<JsonElement[]> Captures() => [.. (await _app.Get("/api/captures")).EnumerateArray()];
    }

    [Fact]
    public async Task RivalsPagesAreAskedWhatTheyStandForAndOursDoesNot()
    {
        await _app.Import("pages", "url,title\nhttps://www.fenwater.example/dry-suits,Dry suits\n");
        await _app.Import("keywords", "keyword,volume\nkayak dry suit,1000\n");
        var keyword = Rows(await _app.Get("/api/keywords"))[0].GetProperty("id").GetInt64();
        await _app.Ended((await _app.Send(HttpMethod.Post, "/api/captures", new { selection = new { ids = new[] { keyword } } })).Body);
        await _app.Regroup();
        var cluster = Rows(await _app.Get("/api/clusters"))[0].GetProperty("id").GetInt64();
        var page = Rows(await _app.Get("/api/pages?search=/dry-suits")).First(p => Text(p, "url").EndsWith("/dry-suits", StringComparison.Ordinal)).GetProperty("id").GetInt64();
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/page-map/{cluster}", new { pageId = page })).Status);
        var (status, rivals) = await _app.Send(HttpMethod.Post, $"/api/refresh/pages/{page}/rival-keywords");
        Assert.Equal(200, status);
        Assert.Equal(3, rivals.GetProperty("pages").GetArrayLength());
        var found = rivals.GetProperty("keywords").EnumerateArray().ToList();
        Assert.NotEmpty(found);
        Assert.DoesNotContain(found, k => Text(k, "phrase") == "kayak dry suit");
        Assert.All(found, k => Assert.InRange(k.GetProperty("position").GetInt32(), 1, 20));
        await outside.Tell("rankings", "broken");
        Assert.Equal(409, (await _app.Send(HttpMethod.Post, $"/api/refresh/pages/{page}/rival-keywords")).Status);
    }

    [Fact]
    public async Task SearchPerformanceThatIsRefusedOrLacksDaysSaysSo()
    {
        var days = new { from = "2026-10-14", to = "2026-11-10" };
        foreach (var trouble in new[] { "unauthorized", "denied" })
        {
            await outside.Tell("performance", trouble);
            await _app.Ended((await _app.Send(HttpMethod.Post, "/api/performance", days)).Body);
            var refused = await _app.Get("/api/refresh/state");
            Assert.Equal("denied", Text(refused, "kind"));
            Assert.Contains("key", Text(refused, "says"), StringComparison.Ordinal);
        }

        await outside.Tell("performance", "partial");
        await _app.Ended((await _app.Send(HttpMethod.Post, "/api/performance", days)).Body);
        var partial = await _app.Get("/api/refresh/state");
        // Three of the planted days are in these four weeks.
        Assert.Equal(("partial", 3), (Text(partial, "kind"), partial.GetProperty("missingDays").GetInt32()));
        await outside.Tell("performance", "none");
        await _app.Ended((await _app.Send(HttpMethod.Post, "/api/performance", days)).Body);
        Assert.Equal("ready", Text(await _app.Get("/api/refresh/state"), "kind"));
    }

    [Fact]
    public async Task FromADomainAndASeedToCapturedResultsReadyToGroup()
    {
        var scan = await Scan(depth: "full");
        Assert.Matches("^2.. addresses read, found by sitemaps; 2 passed over; 2.. new.$", Text(scan, "message"));
        var pages = Rows(await _app.Get("/api/pages?limit=500"));
        var suits = pages.Single(p => Text(p, "url") == "https://www.fenwater.example/dry-suits");
        Assert.Equal(("Dry suits for kayaking | Fenwater", "Dry suits for kayaking", "yes"), (Text(suits, "title"), Text(suits, "h1"), Text(suits, "indexable")));
        Assert.True(suits.GetProperty("words").GetInt32() > 50 && suits.GetProperty("linksIn").GetInt32() >= 3);
        string State(string path) => Text(pages.Single(p => Text(p, "url") == "https://www.fenwater.example" + path), "indexable");
        Assert.Equal(("redirects", "canonical elsewhere", "noindex", "yes"), (State("/old-dry-suits"), State("/dry-suits-print"), State("/thank-you"), State("/film-archive")));

        Assert.Equal("done", Text(await Gather("ideas", seeds: ["dry suit"], related: true), "state"));
        Assert.Equal("done", Text(await Gather("suggestions", seeds: ["can you * in a kayak"]), "state"));
        var keywords = Rows(await _app.Get("/api/keywords?limit=500"));
        Assert.Contains(keywords, k => Text(k, "phrase") == "kayak dry suit" && k.GetProperty("volume").GetInt32() > 0);
        Assert.Contains(keywords, k => Text(k, "phrase") == "can you sleep in a kayak" && k.GetProperty("volume").ValueKind == JsonValueKind.Null);

        var (status, list) = await _app.Send(HttpMethod.Post, "/api/lists", new { name = "Suits", selection = new { filter = new { wordsIn = "dry suit", minVolume = 50 } } });
        Assert.Equal(200, status);
        var selection = new { filter = new { listId = list.GetProperty("id").GetInt64() } };
        var estimate = (await _app.Send(HttpMethod.Post, "/api/captures/estimate", new { selection })).Body;
        var count = list.GetProperty("keywords").GetInt32();
        Assert.Equal((count, Math.Round(count * 0.002, 6)), (estimate.GetProperty("toAsk").GetInt32(), Math.Round(estimate.GetProperty("cost").GetDouble(), 6)));
        var capture = await Capture(selection);
        Assert.Equal($"{count} result lists captured.", Text(capture, "message"));
        Assert.Equal(0, (await _app.Send(HttpMethod.Post, "/api/captures/estimate", new { selection })).Body.GetProperty("toAsk").GetInt32());
        Assert.Equal(409, (await _app.Send(HttpMethod.Post, "/api/captures", new { selection })).Status);

        var view = await _app.Get($"/api/keywords/{keywords.Single(k => Text(k, "phrase") == "kayak dry suit").GetProperty("id").GetInt64()}/results");
        Assert.Equal(10, view.GetProperty("results").GetArrayLength());
        Assert.NotEmpty(view.GetProperty("questions").EnumerateArray());
        Assert.Equal("done", Text(await Gather("results", questions: true, related: true), "state"));
        Assert.Equal("done", Text(await _app.Regroup(), "state"));
        Assert.NotEmpty(Rows(await _app.Get("/api/clusters")));

        // What rivals' pages on the topic have in their headings, read from the rivals themselves.
        var topic = Rows(await _app.Get("/api/topics"))[0].GetProperty("id").GetInt64();
        var before = await _app.Get($"/api/topics/{topic}/ideas");
        Assert.True(before.GetProperty("ranking").GetInt32() > 10 && before.GetProperty("read").GetInt32() == 0);
        var (accepted, job) = await _app.Send(HttpMethod.Post, $"/api/topics/{topic}/read");
        Assert.Equal(202, accepted);
        Assert.Equal("done", Text(await _app.Ended(job), "state"));
        var ideas = await _app.Get($"/api/topics/{topic}/ideas");
        Assert.Equal(ideas.GetProperty("ranking").GetInt32(), ideas.GetProperty("read").GetInt32());
        Assert.All(ideas.GetProperty("ideas").EnumerateArray(), i => Assert.True(i.GetProperty("sites").GetInt32() >= 2 && i.GetProperty("examples").GetArrayLength() > 0));
        Assert.NotEmpty(ideas.GetProperty("ideas").EnumerateArray());
    }

    [Fact]
    public async Task EverythingIsAStepThatCanBeUndone()
    {
        await Scan();
        await Gather("ideas", seeds: ["roof rack"]);
        await Capture(new { filter = new { minVolume = 50 } });
        var before = Rows(await _app.Get("/api/keywords?limit=500")).Select(k => k.GetRawText()).ToList();
        var labels = (await _app.Get("/api/history")).EnumerateArray().Select(s => Text(s, "label")).ToList();
        Assert.Equal(["Ideas for “roof rack”", "Scan of the site", "Change how the site is scanned", "Change site and market"], labels.Skip(1));
        Assert.Matches("^Capture of [0-9]+ result lists$", labels[0]);
        foreach (var label in labels)
            Assert.Equal(label, Text((await _app.Send(HttpMethod.Post, "/api/undo")).Body, "label"));
        var project = await _app.Get("/api/project");
        Assert.Equal("", project.GetProperty("project").GetProperty("host").GetString());
        Assert.Empty(Rows(await _app.Get("/api/keywords")));
        Assert.Empty(Rows(await _app.Get("/api/pages")));
        foreach (var label in labels.AsEnumerable().Reverse())
            Assert.Equal(label, Text((await _app.Send(HttpMethod.Post, "/api/redo")).Body, "label"));
        Assert.Equal(before, Rows(await _app.Get("/api/keywords?limit=500")).Select(k => k.GetRawText()));
    }

    [Fact]
    public async Task ABusyServiceIsAskedAgainWhenItSaysSo()
    {
        await Gather("ideas", seeds: ["trolley"]);
        await outside.Tell("search", "tooMany", times: 3, retryAfter: 1);
        var began = DateTime.UtcNow;
        var capture = await Capture(new { filter = new { minVolume = 200 } });
        Assert.Matches("^[0-9]+ result lists captured.$", Text(capture, "message"));
        Assert.True(DateTime.UtcNow - began > TimeSpan.FromSeconds(0.9), "Retry-After was not waited for.");
    }

    [Fact]
    public async Task ABrokenServicePausesTheCaptureAndResumingAsksForNothingTwice()
    {
        await Gather("ideas", seeds: ["paddle"]);
        var selection = new { filter = new { minVolume = 100 } };
        var before = await outside.Counts("search");
        await outside.Tell("search", "broken");
        var capture = await Capture(selection);
        Assert.Equal("paused", Text(capture, "state"));
        Assert.StartsWith("Paused: The search service failed 4 times in a row (The search service answered with status 500.).", Text(capture, "message"), StringComparison.Ordinal);
        Assert.True(capture.GetProperty("canResume").GetBoolean());
        await outside.Tell("search", "none");
        Assert.Equal(202, (await _app.Send(HttpMethod.Post, $"/api/jobs/{Id(capture)}/resume")).Status);
        capture = await _app.Ended(capture);
        Assert.Equal("done", Text(capture, "state"));
        var captured = (await _app.Get("/api/captures"))[0].GetProperty("counts").GetProperty("captured").GetInt64();
        Assert.Equal(captured, (await outside.Counts("search")).Answered - before.Answered);
        Assert.Equal(0, (await _app.Get("/api/captures"))[0].GetProperty("counts").GetProperty("failed").GetInt64());
    }

    [Theory]
    [InlineData("garbage", "is not what its contract says")]
    [InlineData("hang", "did not answer within")]
    public async Task AnswersThatAreNoneAreToldInWordsAndNothingIsHalfApplied(string trouble, string says)
    {
        await outside.Tell("research", trouble);
        var gather = await Gather("ideas", seeds: ["seat"]);
        Assert.Equal("failed", Text(gather, "state"));
        Assert.Contains(says, Text(gather, "message"), StringComparison.Ordinal);
        Assert.Empty(Rows(await _app.Get("/api/keywords")));
        await outside.Tell("research", "none");
        Assert.Equal("done", Text(await Gather("ideas", seeds: ["seat"]), "state"));
    }

    [Fact]
    public async Task ASlowServiceIsStoppedAndGoneOnWith()
    {
        await Gather("ideas", seeds: ["canoe"]);
        await outside.Tell("search", "slow", milliseconds: 400);
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/captures", new { selection = new { filter = new { minVolume = 100 } } });
        Assert.Equal(202, status);
        while ((await _app.Get("/api/captures"))[0].GetProperty("counts").GetProperty("captured").GetInt64() == 0)
            await Task.Delay(50);
        await _app.Send(HttpMethod.Post, $"/api/jobs/{Id(job)}/stop");
        job = await _app.Ended(job);
        Assert.Equal("stopped", Text(job, "state"));
        Assert.Matches("^Stopped. [0-9]+ of [0-9]+ are done and kept; nothing is asked for twice. It can go on from there.$", Text(job, "message"));
        var kept = Rows(await _app.Get("/api/keywords?limit=500&capture=captured")).Count;
        Assert.True(kept > 0);
        await outside.Tell("search", "none");
        await _app.Send(HttpMethod.Post, $"/api/jobs/{Id(job)}/resume");
        Assert.Equal("done", Text(await _app.Ended(job), "state"));
    }

    [Fact]
    public async Task KeysGoToTheServiceAndNowhereElse()
    {
        var answers = await _app.Http.GetStringAsync("/api/services") + await _app.Http.GetStringAsync("/api/settings") + await _app.Http.GetStringAsync("/api/history");
        Assert.DoesNotContain(Outside.Key, answers, StringComparison.Ordinal);
        Assert.Contains("\"hasKey\":true", answers, StringComparison.Ordinal);
        await _app.Send(HttpMethod.Put, "/api/services/research", new { address = outside.Address, key = "wrong" });
        var gather = await Gather("ideas", seeds: ["kayak"]);
        Assert.Equal(("failed", "The research service refuses the key. Correct it under “Services” on the Site screen. Nothing was changed."), (Text(gather, "state"), Text(gather, "message")));
        await _app.Send(HttpMethod.Put, "/api/services/research", new { address = "" });
        Assert.StartsWith("No address is given for the research service.", Text(await Gather("ideas", seeds: ["kayak"]), "message"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task SitesAreComparedAndGapsTakenInWithTheirSource()
    {
        await Gather("rankings", seeds: ["saltwayboats.example"], add: false);
        await Gather("rankings", seeds: ["fenwater.example"], add: false);
        Assert.Empty(Rows(await _app.Get("/api/keywords")));
        var gaps = await _app.Get("/api/compare?rivals=saltwayboats.example&depth=10&limit=500");
        var total = gaps.GetProperty("total").GetInt32();
        Assert.True(total > 20);
        Assert.All(gaps.GetProperty("rows").EnumerateArray(), g =>
        {
            var rival = g.GetProperty("rivals")[0].GetProperty("position").GetInt32();
            Assert.InRange(rival, 1, 10);
            Assert.True(g.GetProperty("ownPosition").ValueKind == JsonValueKind.Null || g.GetProperty("ownPosition").GetInt32() - rival >= 10);
        });
        var first = Text(gaps.GetProperty("rows")[0], "normalForm");
        var (status, added) = await _app.Send(HttpMethod.Post, "/api/compare/add", new { rivals = "saltwayboats.example", depth = 10, normalForms = new[] { first } });
        Assert.Equal((200, 1), (status, added.GetProperty("count").GetInt32()));
        var keyword = Assert.Single(Rows(await _app.Get("/api/keywords")));
        Assert.True(keyword.GetProperty("volume").GetInt32() > 0);
        var source = (await _app.Get($"/api/keywords/{Id(keyword)}")).GetProperty("sources")[0];
        Assert.Equal(("rankings", "saltwayboats.example"), (Text(source, "kind"), Text(source, "label")));
        var pages = await _app.Get("/api/compare/pages?rivals=saltwayboats.example&depth=10");
        Assert.True(pages[0].GetProperty("keywords").GetInt32() >= pages[1].GetProperty("keywords").GetInt32());
    }

    [Fact]
    public async Task SearchPerformanceIsCountedAndNoVolume()
    {
        Assert.Equal("done", Text(await Gather("performance"), "state"));
        var keyword = Rows(await _app.Get("/api/keywords?limit=500&search=kayak%20dry%20suit")).Single(k => Text(k, "phrase") == "kayak dry suit");
        Assert.Equal(JsonValueKind.Null, keyword.GetProperty("volume").ValueKind);
        var said = (await _app.Get($"/api/keywords/{Id(keyword)}")).GetProperty("sources")[0];
        Assert.True(said.GetProperty("impressions").GetInt64() > said.GetProperty("clicks").GetInt64());
    }

    private async Task<JsonElement> Scan(string depth = "light")
    {
        var scan = (await _app.Get("/api/settings")).GetProperty("scan");
        var settings = scan.EnumerateObject().ToDictionary(p => p.Name, p => (object)p.Value);
        settings["depth"] = depth;
        settings["ratePerSecond"] = 500;
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/scan", settings)).Status);
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/scans");
        Assert.Equal(202, status);
        return await _app.Ended(job);
    }

    private async Task<JsonElement> Gather(string from, string[]? seeds = null, bool related = false, bool questions = false, bool add = true)
    {
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/keywords/gather", new { from, seeds, related, questions, add, selection = new { } });
        Assert.Equal(202, status);
        return await _app.Ended(job);
    }

    private async Task<JsonElement> Capture(object selection)
    {
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/captures", new { selection });
        Assert.True(status == 202, job.ToString());
        return await _app.Ended(job);
    }
}
