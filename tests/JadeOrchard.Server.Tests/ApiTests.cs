using System.Net;
using System.Text.Json;
using MiniExcelLibs;

namespace JadeOrchard.Server.Tests;

public sealed class ApiTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task FromThreeFilesToThePlan()
    {
        await _app.BringProject();
        Assert.Equal("3 clusters.", (await _app.Regroup()).GetProperty("message").GetString());
        var clusters = Rows(await _app.Get("/api/clusters"));
        Assert.Equal(["kayak dry suit", "kayak paddle", "how to roll a kayak"], clusters.Select(c => Text(c, "name")));
        Assert.Equal([1600, 1200, 800], clusters.Select(c => c.GetProperty("demand").GetInt32()));
        Assert.Equal("clear", Text(clusters[1], "verdict"));

        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/page-map/{Id(clusters[0])}", new { pageId = clusters[0].GetProperty("suggestedPageId").GetInt64() })).Status);
        var (status, planned) = await _app.Send(HttpMethod.Post, $"/api/page-map/{Id(clusters[2])}/planned", new { url = "/skills/rolling", workingTitle = "How to roll a kayak" });
        Assert.Equal((200, "planned", "https://fenwater.example/skills/rolling"), (status, Text(planned, "mark"), Text(planned, "pageUrl")));

        var findings = Rows(await _app.Get("/api/findings"));
        Assert.Equal(["conflict"], findings.Select(f => Text(f, "kind")));
        // What has a planned page waits for it.
        Assert.Equal("uncovered", Text(Rows(await _app.Get("/api/findings?state=waiting")).Single(), "kind"));

        var plan = await _app.Http.GetByteArrayAsync("/api/plan.xlsx");
        var rows = MiniExcel.Query(new MemoryStream(plan), useHeaderRow: true).Cast<IDictionary<string, object>>().ToList();
        Assert.Equal(3, rows.Count);
        var suits = rows.Single(r => (string)r["Cluster"] == "kayak dry suit");
        Assert.Equal(("https://www.fenwater.example/dry-suits", "existing", "dry suit for kayaking", 1600d),
            (suits["Page"], suits["State"], suits["Secondary keywords"], suits["Demand per month (estimate)"]));
        Assert.StartsWith("Conflict: https://www.fenwater.example/dry-suits and https://", (string)suits["Findings"], StringComparison.Ordinal);
        Assert.Equal("planned", rows.Single(r => (string)r["Cluster"] == "how to roll a kayak")["State"]);
        var csv = await _app.Http.GetStringAsync("/api/plan.csv");
        Assert.Equal(4, csv.Split("\r\n").Count(l => l.Contains(",existing,", StringComparison.Ordinal) || l.Contains(",planned,", StringComparison.Ordinal) || l.Contains(",no page,", StringComparison.Ordinal)) + 1);
    }

    [Fact]
    public async Task RejectedRowsAreListedAndGoodOnesGoIn()
    {
        var job = await _app.Import("keywords", "keyword,volume\nkayak,5\ncanoe,lots\n\"=cmd\",7\n");
        Assert.Equal("2 new keywords, 0 updated; 1 row rejected.", Text(job, "message"));
        var id = Id(job);
        var rejected = (await _app.Get($"/api/imports/{id}/rejected"))[0];
        Assert.Equal((3, "volume", "Is not a whole number.", "lots"),
            (rejected.GetProperty("line").GetInt32(), Text(rejected, "column"), Text(rejected, "reason"), Text(rejected, "value")));
        Assert.Contains("3,volume,Is not a whole number.,lots", await _app.Http.GetStringAsync($"/api/imports/{id}/rejected.csv"), StringComparison.Ordinal);
        Assert.Contains("'=cmd", await _app.Http.GetStringAsync("/api/keywords.csv"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task RegroupingKeepsPagesAndIsUndoneInOneStep()
    {
        await _app.BringProject();
        await _app.Regroup();
        await _app.Send(HttpMethod.Post, "/api/page-map/accept-clear");
        var before = Rows(await _app.Get("/api/clusters"));
        await _app.Regroup(minOverlap: 5, rule: "everyPair");
        var after = Rows(await _app.Get("/api/clusters"));
        Assert.Equal(4, after.Count);
        Assert.Equal(before.Select(c => (Id(c), Text(c, "pageUrl"))), after.Where(c => before.Any(b => Id(b) == Id(c))).Select(c => (Id(c), Text(c, "pageUrl"))));
        Assert.Equal("Regroup", Text((await _app.Send(HttpMethod.Post, "/api/undo")).Body, "label"));
        Assert.Equal(before.Select(c => c.GetRawText()), Rows(await _app.Get("/api/clusters")).Select(c => c.GetRawText()));
        Assert.Equal(4, (await _app.Get("/api/project")).GetProperty("grouping").GetProperty("minOverlap").GetInt32());
    }

    /// <summary>What is said before a grouping is what the grouping then does.</summary>
    [Theory]
    [InlineData(5, "everyPair")]
    [InlineData(2, "chain")]
    [InlineData(6, "primary")]
    public async Task ThePreviewForetellsTheGrouping(int minOverlap, string rule)
    {
        await _app.BringProject();
        Assert.Equal(JsonValueKind.Null, (await _app.Get("/api/clusters/preview?depth=10&minOverlap=4&rule=primary")).GetProperty("changes").ValueKind);
        await _app.Regroup();
        var same = (await _app.Get("/api/clusters/preview?depth=10&minOverlap=4&rule=primary")).GetProperty("changes");
        Assert.Equal((3, 0, 1d), (same.GetProperty("kept").GetInt32(), same.GetProperty("moved").GetInt32(), same.GetProperty("adjustedRandIndex").GetDouble()));

        var before = Rows(await _app.Get("/api/clusters")).Select(c => Id(c)).ToList();
        var groupingPreview = await _app.Get($"/api/clusters/preview?depth=10&minOverlap={minOverlap}&rule={rule}");
        Assert.NotEmpty(groupingPreview.GetProperty("advice").EnumerateArray());
        Assert.Equal(10, groupingPreview.GetProperty("rows").GetArrayLength());
        var row = groupingPreview.GetProperty("rows").EnumerateArray().Single(r => r.GetProperty("minOverlap").GetInt32() == minOverlap);
        await _app.Regroup(minOverlap: minOverlap, rule: rule);
        var after = Rows(await _app.Get("/api/clusters"));
        Assert.Equal((after.Count, after.Max(c => c.GetProperty("size").GetInt32())), (row.GetProperty("clusters").GetInt32(), row.GetProperty("largest").GetInt32()));
        var changes = groupingPreview.GetProperty("changes");
        Assert.Equal(
            (after.Count(c => !before.Contains(Id(c))), before.Count(b => after.All(c => Id(c) != b))),
            (changes.GetProperty("new").GetInt32(), changes.GetProperty("gone").GetInt32()));
        Assert.Equal(400, (await _app.Send(HttpMethod.Get, $"/api/clusters/preview?depth=3&minOverlap=4&rule={rule}")).Status);
    }

    [Fact]
    public async Task HandWorkIsUndoneStepByStepAndSurvivesARegrouping()
    {
        await _app.BringProject();
        await _app.Regroup();
        var before = Rows(await _app.Get("/api/clusters"));
        var (suits, paddles) = (Id(before[0]), Id(before[1]));
        var members = (await _app.Get($"/api/clusters/{suits}")).GetProperty("members").EnumerateArray().ToList();
        var second = members[1].GetProperty("keywordId").GetInt64();

        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/clusters/{suits}", new { name = "Dry suits" })).Status);
        Assert.Equal(Text(members[1], "phrase"), Text((await _app.Send(HttpMethod.Put, $"/api/clusters/{suits}", new { primaryKeywordId = second })).Body, "primary"));
        var (status, problem) = await _app.Send(HttpMethod.Put, $"/api/clusters/{paddles}", new { name = "not kept", primaryKeywordId = second });
        Assert.Equal((400, "primaryKeywordId"), (status, Text(problem, "field")));
        Assert.Equal("kayak paddle", Text((await _app.Get($"/api/clusters/{paddles}")).GetProperty("cluster"), "name"));

        var moved = (await _app.Send(HttpMethod.Post, "/api/clusters/move", new { keywordIds = new[] { second }, toClusterId = paddles })).Body;
        Assert.Equal("1 of 1 keyword shares no result with its primary 'kayak paddle'.", Text(moved, "warning"));
        var split = (await _app.Send(HttpMethod.Post, "/api/clusters/move", new { keywordIds = new[] { second } })).Body;
        var alone = (await _app.Get($"/api/clusters/{Id(split, "clusterId")}")).GetProperty("cluster");
        Assert.Equal((1, Text(members[1], "phrase")), (alone.GetProperty("size").GetInt32(), Text(alone, "name")));
        await _app.Send(HttpMethod.Put, $"/api/clusters/{paddles}", new { isLocked = true });

        // What was split off shares 5 results with its old cluster, and stays apart all the same.
        await _app.Regroup();
        var after = Rows(await _app.Get("/api/clusters"));
        Assert.Equal(4, after.Count);
        Assert.Equal("Dry suits", Text(after.Single(c => Id(c) == suits), "name"));
        Assert.True(after.Single(c => Id(c) == paddles).GetProperty("isLocked").GetBoolean());
        Assert.Equal(1, after.Single(c => Id(c) == Id(split, "clusterId")).GetProperty("size").GetInt32());

        var labels = new List<string>();
        for (var i = 0; i < 6; i++)
            labels.Add(Text((await _app.Send(HttpMethod.Post, "/api/undo")).Body, "label"));
        Assert.Equal(["Regroup", "Lock a cluster", "Split off keywords", "Move keywords", "Choose the primary", "Rename a cluster"], labels);
        Assert.Equal(before.Select(c => c.GetRawText()), Rows(await _app.Get("/api/clusters")).Select(c => c.GetRawText()));
    }

    [Fact]
    public async Task ClustersThatShareNothingAreMergedWithAWarning()
    {
        await _app.BringProject();
        await _app.Regroup();
        var before = Rows(await _app.Get("/api/clusters"));
        var together = await _app.Get($"/api/clusters/{Id(before[0])}/with/{Id(before[2])}");
        Assert.Equal((0, 0), (together.GetProperty("primariesShare").GetInt32(), together.GetProperty("sharedUrlCount").GetInt32()));
        var (status, merged) = await _app.Send(HttpMethod.Post, $"/api/clusters/{Id(before[0])}/merge/{Id(before[2])}");
        Assert.Equal(200, status);
        Assert.StartsWith("They share nothing", Text(merged, "warning"), StringComparison.Ordinal);
        var after = Rows(await _app.Get("/api/clusters"));
        Assert.Equal(before.Count - 1, after.Count);
        var both = after.Single(c => Id(c) == Id(before[0]));
        Assert.Equal(before[0].GetProperty("demand").GetInt32() + before[2].GetProperty("demand").GetInt32(), both.GetProperty("demand").GetInt32());
        Assert.True(both.GetProperty("cohesion").GetDouble() < before[0].GetProperty("cohesion").GetDouble());
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(before.Select(c => c.GetRawText()), Rows(await _app.Get("/api/clusters")).Select(c => c.GetRawText()));
        Assert.Equal(404, (await _app.Send(HttpMethod.Post, $"/api/clusters/{Id(before[0])}/merge/99")).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/clusters/move", new { keywordIds = new[] { 999_999 }, toClusterId = Id(before[0]) })).Status);
    }

    [Fact]
    public async Task AMemberSaysHowWellItFits()
    {
        await _app.BringProject();
        await _app.Regroup();
        var cluster = Rows(await _app.Get("/api/clusters"))[0];
        Assert.Equal(0, cluster.GetProperty("weakMembers").GetInt32());
        // Two members that share 5 of 10 with each other and nothing with others: (1 - 0.5) / 1.
        Assert.All((await _app.Get($"/api/clusters/{Id(cluster)}")).GetProperty("members").EnumerateArray(), m => Assert.Equal(0.5, m.GetProperty("fit").GetDouble(), 9));
    }

    [Fact]
    public async Task AFindingIsDismissedWithAReasonAndStaysSo()
    {
        await _app.BringProject();
        await _app.Regroup();
        var key = Text(Rows(await _app.Get("/api/findings?kind=conflict"))[0], "key");
        var (status, problem) = await _app.Send(HttpMethod.Put, $"/api/findings/{key}", new { state = "dismissed", reason = " " });
        Assert.Equal((400, "/problems/invalid", "reason"), (status, Text(problem, "type"), Text(problem, "field")));
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/findings/{key}", new { state = "dismissed", reason = "both are wanted" })).Status);
        await _app.Regroup();
        var finding = (await _app.Get($"/api/findings/{key}")).GetProperty("finding");
        Assert.Equal(("dismissed", "both are wanted"), (Text(finding, "state"), Text(finding, "reason")));
        Assert.Equal("dismissed", Text(await Undone(key), "state"));   // the second grouping
        Assert.Equal("open", Text(await Undone(key), "state"));

        async Task<JsonElement> Undone(string finding)
        {
            await _app.Send(HttpMethod.Post, "/api/undo");
            return (await _app.Get($"/api/findings/{finding}")).GetProperty("finding");
        }
    }

    [Fact]
    public async Task TheResultGridAndTheCandidatesShowTheFacts()
    {
        await _app.BringProject();
        await _app.Regroup();
        var cluster = Rows(await _app.Get("/api/clusters"))[0];
        var detail = await _app.Get($"/api/clusters/{Id(cluster)}");
        var first = detail.GetProperty("grid").GetProperty("rows").EnumerateArray().First();
        Assert.Equal(("a1.example", 2, false), (Text(first, "url"), first.GetProperty("shared").GetInt32(), first.GetProperty("isOwn").GetBoolean()));
        Assert.Equal([1, 2], first.GetProperty("positions").EnumerateArray().Select(p => p.GetInt32()));
        Assert.Equal(5, detail.GetProperty("least").GetInt32());
        var candidate = (await _app.Get($"/api/page-map/{Id(cluster)}")).GetProperty("candidates")[0];
        Assert.Equal(2, candidate.GetProperty("keywords").GetInt32());
        Assert.Equal("https://www.fenwater.example/dry-suits", Text(candidate.GetProperty("page"), "url"));
    }

    [Theory]
    [InlineData("GET", "/api/clusters/99", 404)]
    [InlineData("GET", "/api/no-such-thing", 404)]
    [InlineData("GET", "/api/clusters?limit=many", 400)]
    [InlineData("GET", "/api/findings?kind=nonsense", 400)]
    [InlineData("POST", "/api/imports", 400)]
    [InlineData("PUT", "/api/page-map/1", 404)]
    public async Task ErrorsAreProblemDetails(string method, string path, int expected)   // RFC 9457
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path);
        if (method != "GET")
            request.Content = new StringContent(method == "PUT" ? """{"pageId":1}""" : """{"uploadId":5}""", new System.Net.Http.Headers.MediaTypeHeaderValue("application/json"));
        var answer = await _app.Http.SendAsync(request);
        Assert.Equal(expected, (int)answer.StatusCode);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType?.MediaType);
    }

    [Fact]
    public async Task PagesOfOtherSitesInTheSameBrowserAreRefused()
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/undo");
        request.Headers.Add("Sec-Fetch-Site", "cross-site");
        Assert.Equal(HttpStatusCode.Forbidden, (await _app.Http.SendAsync(request)).StatusCode);
        using var rebound = new HttpRequestMessage(HttpMethod.Get, "/api/project");
        rebound.Headers.Host = "evil.example";
        Assert.Equal(HttpStatusCode.Forbidden, (await _app.Http.SendAsync(rebound)).StatusCode);
    }

    [Fact]
    public async Task SettingsThatMakeNoSenseAreRefusedByField()
    {
        foreach (var (host, country, field) in new[] { ("kayak", "GB", "host"), ("", "GB", "host"), ("f.example", "Britain", "country") })
        {
            var (status, problem) = await _app.Send(HttpMethod.Put, "/api/project", new { name = "", host, country, language = "en", brandTerms = Array.Empty<string>() });
            Assert.Equal((400, field), (status, Text(problem, "field")));
        }

        Assert.Equal(409, (await _app.Send(HttpMethod.Post, "/api/clusters/regroup", new { depth = 10, minOverlap = 4, rule = "primary" })).Status);
    }

    [Fact]
    public async Task APageIsNotPlannedWhereOneIs()
    {
        await _app.BringProject();
        await _app.Regroup();
        foreach (var (url, says) in new[] { ("/guide/", "exists already"), ("https://other.example/x", "is not on"), ("not an address", "is no address") })
        {
            var (status, problem) = await _app.Send(HttpMethod.Post, "/api/page-map/1/planned", new { url, workingTitle = "x" });
            Assert.Equal((400, "url"), (status, Text(problem, "field")));
            Assert.Contains(says, Text(problem, "detail"), StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task AJobThatARestartInterruptedIsBegunAgain()
    {
        var data = Directory.CreateTempSubdirectory("jade-restart-").FullName;
        try
        {
            long id;
            using (var first = new Application(data, keepsData: true))
            {
                var job = await first.Import("keywords", "keyword,volume\nkayak,5\n");
                id = Id(job);
                // As a kill leaves it: nothing committed, the file still there, the job under way.
                var upload = await first.Upload("again.csv", "keyword,volume\ncanoe,6\n");
                using var database = JadeOrchard.Storage.Database.Open(Path.Combine(first.Folder, "project.db"));
                database.Change(null, s => s.Execute(
                    """
                    delete from import;
                    update job set state = 'running', step_id = null, arguments = json_set(arguments, '$.UploadId', @upload);
                    """,
                    ("upload", upload.GetProperty("uploadId").GetString())));
            }

            using var second = new Application(data, keepsData: true);
            await second.Ended(await second.Get($"/api/jobs/{id}"));
            Assert.Equal(["canoe", "kayak"], Rows(await second.Get("/api/keywords")).Select(k => Text(k, "phrase")));
        }
        finally
        {
            Directory.Delete(data, recursive: true);
        }
    }

    [Fact]
    public async Task TheOpenApiDocumentIsThatOfTheBuild()
    {
        var served = await _app.Get("/api/openapi.json");
        var built = JsonSerializer.Deserialize<JsonElement>(await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "api.json")));
        Assert.Equal(
            built.GetProperty("paths").EnumerateObject().Select(p => p.Name).Order(StringComparer.Ordinal),
            served.GetProperty("paths").EnumerateObject().Select(p => p.Name).Order(StringComparer.Ordinal));
    }
}
