namespace JadeOrchard.Server.Tests;

/// <summary>Changes that are refused, undone, made in two windows at once, or broken off.</summary>
public sealed class ChangeTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Theory]
    [InlineData("PUT", "page-map/999", "{\"pageId\":1}", 404)]
    [InlineData("POST", "clusters/1/merge/999", null, 404)]
    [InlineData("PUT", "clusters/1", "{\"primaryKeywordId\":999}", 400)]
    [InlineData("PUT", "findings/none", "{\"state\":\"dismissed\",\"reason\":\"x\"}", 404)]
    [InlineData("POST", "page-map/1/decline", "{\"reason\":\" \"}", 400)]
    [InlineData("POST", "topics/move", "{\"clusterIds\":[0]}", 404)]
    [InlineData("POST", "keywords/merge", "{\"keepId\":1,\"ids\":[0]}", 404)]
    public async Task ARefusedRequestLeavesRedoAsItIs(string method, string path, string? body, int expected)
    {
        await _app.BringProject();
        await _app.Regroup();
        await Rename(await AnyCluster(), "Suits");
        await _app.Send(HttpMethod.Post, "/api/undo");
        var before = Contents.Of(_app.Folder);
        var (status, _) = await _app.Send(new HttpMethod(method), "/api/" + path, body is null ? null : System.Text.Json.JsonSerializer.Deserialize<object>(body));
        Assert.Equal(expected, status);
        Contents.AreSame(before, Contents.Of(_app.Folder), "refused");
        Assert.Equal("Rename a cluster", Text((await _app.Send(HttpMethod.Post, "/api/redo")).Body, "label"));
    }

    [Fact]
    public async Task UndoingARenameOpensNothingThatWasResolved()
    {
        await _app.BringProject();
        await _app.Regroup();
        var key = Text(Rows(await _app.Get("/api/findings"))[0], "key");
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/findings/{Uri.EscapeDataString(key)}", new { state = "resolved", reason = "" })).Status);
        await Rename(await AnyCluster(), "Suits");
        Assert.Equal("resolved", await StateOf(key));
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal("resolved", await StateOf(key));
        await _app.Send(HttpMethod.Post, "/api/redo");
        Assert.Equal("resolved", await StateOf(key));
        // Newer results, in which the cause is still there, do open it.
        await _app.Import("results", "keyword,position,url,title\nnot captured,1,https://c1.example/,T\n");
        Assert.Equal("open", await StateOf(key));
    }

    [Fact]
    public async Task OfTwoWindowsTheLaterIsToldWhatTheOtherDid()
    {
        await _app.BringProject();
        await _app.Regroup();
        var cluster = Rows(await _app.Get("/api/clusters"))[0];
        var page = Rows(await _app.Get("/api/pages"))[0];
        var finding = Rows(await _app.Get("/api/findings"))[0];
        var key = Uri.EscapeDataString(Text(finding, "key"));

        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/clusters/{Id(cluster)}", new { name = "First", version = Text(cluster, "version") })).Status);
        await Stale(HttpMethod.Put, $"clusters/{Id(cluster)}", new { name = "Second", version = Text(cluster, "version") }, "Rename a cluster");
        Assert.Equal("First", Text((await _app.Get($"/api/clusters/{Id(cluster)}")).GetProperty("cluster"), "name"));
        await Stale(HttpMethod.Put, $"page-map/{Id(cluster)}", new { pageId = Id(page), version = Text(cluster, "version") }, "Rename a cluster");

        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/findings/{key}", new { state = "dismissed", reason = "fine", version = Text(finding, "version") })).Status);
        await Stale(HttpMethod.Put, $"findings/{key}", new { state = "accepted", reason = "", version = Text(finding, "version") }, "Decide a finding");
        Assert.Equal("dismissed", await StateOf(Text(finding, "key")));

        // With the version of now it goes through, and without one nothing is looked at.
        var now = (await _app.Get($"/api/clusters/{Id(cluster)}")).GetProperty("cluster");
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/clusters/{Id(cluster)}", new { name = "Third", version = Text(now, "version") })).Status);
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/clusters/{Id(cluster)}", new { name = "Fourth" })).Status);
    }

    [Fact]
    public async Task AJobThatTheDatabaseStopsClosesItsStepAndCanBeResumed()
    {
        await _app.BringProject();
        await _app.Sql("create trigger no_more before insert on result_list when (select count(*) from result_list) >= 5 begin select raise(abort, 'the disk is full'); end");
        var rows = "keyword,position,url,title\n" + string.Concat(Enumerable.Range(0, 3_000).Select(i => $"keyword {i},1,https://a{i}.example/,T\n"));
        var job = await _app.Import("results", rows);
        Assert.Equal("failed", Text(job, "state"));
        Assert.NotEqual("", Text(job, "message"));
        Assert.DoesNotContain("   at ", Text(job, "message"), StringComparison.Ordinal);

        // Its step is closed, so the newest can be undone, whichever it is.
        var (status, undone) = await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.True(status == 200, undone.ToString());
        await _app.Send(HttpMethod.Post, "/api/redo");

        // What it says of itself is what happens when it is asked to go on.
        await _app.Sql("drop trigger no_more");
        var resumed = await _app.Send(HttpMethod.Post, $"/api/jobs/{Id(job)}/resume");
        Assert.Equal(job.GetProperty("canResume").GetBoolean() ? 202 : 409, resumed.Status);
        if (resumed.Status == 202)
        {
            Assert.Equal("done", Text(await _app.Ended(resumed.Body), "state"));
            Assert.True((await _app.Get("/api/keywords?limit=1")).GetProperty("tally").GetProperty("rows").GetInt64() > 3_000);
        }

        // And the lane goes on with the next.
        Assert.Equal("done", Text(await _app.Import("keywords", "keyword,volume\nkayak rack,10\n"), "state"));
    }

    private async Task Stale(HttpMethod method, string path, object body, string otherChange)
    {
        var (status, problem) = await _app.Send(method, "/api/" + path, body);
        Assert.Equal((409, "/problems/stale"), (status, Text(problem, "type")));
        Assert.Contains(otherChange, Text(problem, "detail"), StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>What is kept in memory is forgotten then, and loaded again for whichever change comes next.</summary>
    [Fact]
    public async Task AnyChangeCanFollowOneThatBrokeOff()
    {
        await _app.BringProject();
        await _app.Regroup();
        var clusters = Rows(await _app.Get("/api/clusters"));
        var page = Id(Rows(await _app.Get("/api/pages"))[0]);
        await _app.Sql("create trigger broken before update of size on cluster begin select raise(abort, 'broken'); end");
        Assert.Equal(500, (await _app.Send(HttpMethod.Post, $"/api/clusters/{Id(clusters[0])}/merge/{Id(clusters[1])}")).Status);
        await _app.Sql("drop trigger broken");
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/page-map/{Id(clusters[2])}", new { pageId = page })).Status);
    }

    [Fact]
    public async Task JobsThatWaitForEachOtherAreListedOldestFirst()
    {
        await _app.BringProject();
        var jobs = new List<System.Text.Json.JsonElement>();
        var most = 0;
        for (var i = 0; i < 12; i++)
        {
            jobs.Add((await _app.Send(HttpMethod.Post, "/api/clusters/regroup", new { depth = 10, minOverlap = 2 + (i % 5), rule = "primary" })).Body);
            var active = (await _app.Get("/api/jobs/active")).EnumerateArray().Select(j => Id(j)).ToList();
            Assert.Equal(active.Order(), active);
            most = Math.Max(most, active.Count);
        }

        Assert.True(most > 1, "No two jobs waited at once.");
        foreach (var job in jobs)
            await _app.Ended(job);
    }

    private async Task<long> AnyCluster() => Id(Rows(await _app.Get("/api/clusters"))[0]);

    private async Task Rename(long cluster, string name) => Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/clusters/{cluster}", new { name })).Status);

    private async Task<string> StateOf(string key) => Text(Rows(await _app.Get("/api/findings?anyState=true&limit=500")).Single(f => Text(f, "key") == key), "state");
}
