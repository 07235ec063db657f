using System.Text.Json;
using JadeOrchard.StandIns;

namespace JadeOrchard.Server.Tests;

/// <summary>Capturing in stages over HTTP, against the stand-in of the search service.</summary>
[Collection(nameof(Outside))]
public sealed class StagedCaptureApiTests(Outside outside) : IAsyncLifetime, IDisposable
{
    private const int Keywords = 420;
    private readonly Application _app = new(services: outside.Address);

    public async Task InitializeAsync()
    {
        await outside.Tell(null, "none");
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/services/search", new { address = outside.Address, key = Outside.Key })).Status);
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/project", new { name = "Fenwater", host = "fenwater.example", country = "GB", language = "en", brandTerms = Array.Empty<string>() })).Status);
        var settings = new { depth = 10, pricePerRequest = 0.002, currency = "EUR", ratePerSecond = 1_000, atOnce = 4, freshDays = 30, recaptureDays = 0, recaptureListId = (long?)null, monthlyBudget = 10 };
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/capture", settings)).Status);
        var world = Generator.Make(Scenario.Read(Path.Combine(AppContext.BaseDirectory, "scenario.json")));
        await _app.Import("keywords", "keyword,volume\n" + string.Concat(world.Keywords.Take(Keywords).Select(k => $"{k.Phrase},{k.Volume}\n")));
    }

    public Task DisposeAsync() => Task.CompletedTask;

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task WhatIsCertainIsExpectedAuditedAndNotPaidFor()
    {
        Assert.Equal(JsonValueKind.Null, (await Stages()).GetProperty("capture").ValueKind);
        var likely = (await _app.Send(HttpMethod.Post, "/api/captures/estimate/stages", new { selection = new { }, certainty = 0.9 })).Body;
        // What is captured is right for sure, the others as often as they are certain.
        var (lists, open) = (Long(likely, "lists"), Long(likely, "open"));
        Assert.Equal((Keywords, (lists + (0.9 * (open - lists))) / open), (open, likely.GetProperty("same").GetDouble()));
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/captures/estimate/stages", new { selection = new { }, certainty = 0.4 })).Status);
        Assert.InRange(likely.GetProperty("lists").GetInt64(), 40, Keywords);
        Assert.Equal(likely.GetProperty("lists").GetInt64() * 0.002, likely.GetProperty("cost").GetDouble(), 6);
        foreach (var certainty in new[] { 0.49, 1 })
            Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/captures", new { selection = new { }, certainty })).Status);

        var before = await outside.Counts("search");
        var job = await _app.Ended(await Begin(0.95));
        Assert.Equal("done", Text(job, "state"));
        var stages = await Stages();
        var capture = stages.GetProperty("capture");
        var (captured, expected, unknown) = (Long(stages, "captured"), Long(stages, "expected"), Long(stages, "unknown"));
        Assert.Equal((Keywords, "done"), (captured + expected + unknown, Text(capture, "phase")));
        Assert.True(expected >= 0.15 * Keywords, $"{expected} expected: {stages}");
        // Each list is paid for once; what is expected is not.
        Assert.Equal(captured, (await outside.Counts("search")).Answered - before.Answered);
        Assert.Equal(expected * 0.002, capture.GetProperty("saved").GetDouble(), 6);
        Assert.InRange(capture.GetProperty("same").GetDouble(), 0.9 * (captured + expected) / Keywords, (double)(captured + expected) / Keywords);
        var audit = capture.GetProperty("audit");
        Assert.True(Long(audit, "audited") >= 25 && Long(audit, "right") >= 0.85 * Long(audit, "audited"), audit.ToString());
        Assert.Contains($"The audit found {Long(audit, "right")} of {Long(audit, "audited")} right", Text(job, "message"), StringComparison.Ordinal);
        var batches = capture.GetProperty("batches").EnumerateArray().ToList();
        Assert.All(batches.Zip(batches.Skip(1)), b => Assert.True(Long(b.First, "captured") <= Long(b.Second, "captured")));

        // They are marked as such, with what speaks for them, and can be captured like others.
        var rows = (await _app.Get($"/api/captures/{Long(job, "id")}/expected")).EnumerateArray().ToList();
        Assert.Equal(expected, rows.Count);
        Assert.All(rows, r => Assert.True(r.GetProperty("certainty").GetDouble() >= 0.9 && r.GetProperty("supports").GetArrayLength() > 0));
        var one = (await _app.Get($"/api/keywords/{Long(rows[0], "id")}/results")).GetProperty("expected");
        Assert.Equal((Text(rows[0], "phrase"), rows[0].GetProperty("supports").GetArrayLength()), (Text(one, "phrase"), one.GetProperty("supports").GetArrayLength()));
        Assert.Equal(expected, Long((await _app.Get("/api/keywords?capture=expected&limit=1")).GetProperty("tally"), "rows"));
        Assert.Equal("expected", Text(Rows(await _app.Get("/api/keywords?capture=expected&limit=1"))[0], "capture"));
        Assert.Equal(unknown, Long((await _app.Get("/api/keywords?capture=none&limit=1")).GetProperty("tally"), "rows"));
        await _app.Ended((await _app.Send(HttpMethod.Post, "/api/captures", new { selection = new { filter = new { capture = "expected" } } })).Body);
        Assert.Equal(0, Long(await Stages(), "expected"));

        // With everything captured there is nothing to do in stages.
        Assert.Equal(409, (await _app.Send(HttpMethod.Post, "/api/captures", new { selection = new { filter = new { capture = "captured" } }, certainty = 0.95 })).Status);
    }

    [Fact]
    public async Task ItCanBeStoppedUsedAndGoesOn()
    {
        await outside.Tell("search", "slow", milliseconds: 20);
        var job = await Begin(0.95);
        while ((await Counts()).Done < 60)
            await Task.Delay(20);
        await _app.Send(HttpMethod.Post, $"/api/jobs/{Long(job, "id")}/stop");
        job = await _app.Ended(job);
        Assert.Equal("stopped", Text(job, "state"));
        var stopped = await Stages();
        Assert.True(Long(stopped, "captured") is >= 60 and < 300);
        await _app.Regroup();
        Assert.NotEmpty(Rows(await _app.Get("/api/clusters")));
        await outside.Tell("search", "none");
        Assert.Equal(202, (await _app.Send(HttpMethod.Post, $"/api/jobs/{Long(job, "id")}/resume")).Status);
        Assert.Equal("done", Text(await _app.Ended(job), "state"));
        var done = await Stages();
        Assert.True(Long(done, "captured") > Long(stopped, "captured"));
        Assert.True(Long(done, "expected") > 0 && done.GetProperty("capture").GetProperty("audit").ValueKind == JsonValueKind.Object);
    }

    [Fact]
    public async Task WhatIsExpectedIsInClustersMarkedAndMovesWhereItsResultsPutIt()
    {
        await _app.Ended(await Begin(0.95));
        await _app.Regroup();
        var expected = Long(await Stages(), "expected");
        var clusters = Rows(await _app.Get("/api/clusters?limit=500"));
        Assert.Equal(expected, clusters.Sum(c => Long(c, "expected")));
        var some = clusters.MaxBy(c => Long(c, "expected"));
        var detail = await _app.Get($"/api/clusters/{Long(some, "id")}");
        var (members, those) = (detail.GetProperty("members").EnumerateArray().ToList(), detail.GetProperty("expected").EnumerateArray().ToList());
        Assert.Equal((Long(some, "size"), Long(some, "expected")), (members.Count, those.Count));
        static long Volume(JsonElement k) => k.GetProperty("volume").ValueKind == JsonValueKind.Null ? 0 : Long(k, "volume");
        Assert.Equal(members.Concat(those).Sum(Volume), Long(some, "demand"));
        var phrases = members.Select(m => Text(m, "phrase")).ToHashSet();
        Assert.All(those, k => Assert.Contains(k.GetProperty("supports").EnumerateArray(), s => phrases.Contains(s.GetString()!)));
        // Also in the topics, in the table of keywords and in what goes out as files; evidence are captured ones alone.
        Assert.Equal(expected, Rows(await _app.Get("/api/topics?limit=500")).Sum(t => Long(t, "expected")));
        var row = (await _app.Get($"/api/keywords/{Long(those[0], "id")}")).GetProperty("keyword");
        Assert.Equal(("expected", Long(some, "id")), (Text(row, "capture"), Long(row, "clusterId")));
        Assert.Equal(members.Count + those.Count, Long((await _app.Get($"/api/keywords?clusterId={Long(some, "id")}&limit=1")).GetProperty("tally"), "rows"));
        Assert.Contains($",{members.Count},{those.Count},{Long(some, "demand")},", await _app.Http.GetStringAsync("/api/clusters.csv"), StringComparison.Ordinal);
        Assert.Equal(members.Count, detail.GetProperty("grid").GetProperty("columns").GetArrayLength() + Long(detail.GetProperty("grid"), "hiddenColumns"));

        // They go with what speaks for them, and do not come back where they were declined.
        var other = clusters.First(c => Long(c, "id") != Long(some, "id"));
        await _app.Send(HttpMethod.Post, $"/api/clusters/{Long(other, "id")}/merge/{Long(some, "id")}");
        Assert.Equal(Long(some, "expected") + Long(other, "expected"), Long((await _app.Get($"/api/clusters/{Long(other, "id")}")).GetProperty("cluster"), "expected"));
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/undo")).Status);
        await _app.Send(HttpMethod.Post, "/api/keywords/decline", new { selection = new { ids = new[] { Long(those[0], "id") } }, reason = "not ours" });
        Assert.Equal(Long(some, "expected") - 1, Long((await _app.Get($"/api/clusters/{Long(some, "id")}")).GetProperty("cluster"), "expected"));
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/undo")).Status);
        Assert.Equal(Long(some, "expected"), Long((await _app.Get($"/api/clusters/{Long(some, "id")}")).GetProperty("cluster"), "expected"));

        // Results come: one as was expected, one that belongs elsewhere, one that belongs nowhere.
        var two = clusters.Where(c => Long(c, "expected") > 0 && Long(c, "id") != Long(some, "id")).MaxBy(c => Long(c, "expected"));
        var (stays, moves, leaves) = (those[0], those[1], those[2]);
        var rows = new[] { (Text(stays, "phrase"), some), (Text(moves, "phrase"), two) }.ToList();
        var csv = "keyword,position,url\n";
        foreach (var (phrase, cluster) in rows)
        {
            var urls = (await _app.Get($"/api/keywords/{Long(cluster, "primaryKeywordId")}/results")).GetProperty("results").EnumerateArray().Select(r => Text(r, "url"));
            csv += string.Concat(urls.Select((url, i) => $"{phrase},{i + 1},{url}\n"));
        }

        csv += string.Concat(Enumerable.Range(1, 10).Select(i => $"{Text(leaves, "phrase")},{i},https://nowhere{i}.example/\n"));
        await _app.Import("results", csv);
        Assert.Equal(Long(some, "id"), Long((await _app.Get($"/api/keywords/{Long(stays, "id")}")).GetProperty("keyword"), "clusterId"));
        Assert.Equal(Long(two, "id"), Long((await _app.Get($"/api/keywords/{Long(moves, "id")}")).GetProperty("keyword"), "clusterId"));
        Assert.Equal(JsonValueKind.Null, (await _app.Get($"/api/keywords/{Long(leaves, "id")}")).GetProperty("keyword").GetProperty("clusterId").ValueKind);
        var label = Text((await _app.Get("/api/history"))[0], "label");
        Assert.Equal(
            $"Place expected keywords by their results: 1 in the cluster that was expected, 1 moved to another ({Text(moves, "phrase")}: from {Text(some, "name")} to {Text(two, "name")}), 1 in none", label);
        // A locked cluster takes nothing in by itself: what fits it waits as a new keyword, and is not put into the next best.
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/clusters/{Long(some, "id")}", new { isLocked = true })).Status);
        await _app.Import("results", csv.Replace(Text(stays, "phrase"), Text(those[3], "phrase"), StringComparison.Ordinal));
        Assert.Equal(JsonValueKind.Null, (await _app.Get($"/api/keywords/{Long(those[3], "id")}")).GetProperty("keyword").GetProperty("clusterId").ValueKind);
        Assert.Contains((await _app.Get("/api/clusters/new-keywords")).GetProperty("rows").EnumerateArray(), n => Text(n, "phrase") == Text(those[3], "phrase") && n.GetProperty("isOffered").GetBoolean());
        for (var i = 0; i < 2; i++)
            Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/undo")).Status);
        Assert.Equal(Long(some, "expected") - 3, Long((await _app.Get($"/api/clusters/{Long(some, "id")}")).GetProperty("cluster"), "expected"));
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/undo")).Status);
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/undo")).Status);
        Assert.Equal(Long(some, "expected"), Long((await _app.Get($"/api/clusters/{Long(some, "id")}")).GetProperty("cluster"), "expected"));
    }

    private async Task<JsonElement> Begin(double certainty)
    {
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/captures", new { selection = new { }, certainty });
        Assert.True(status == 202, job.ToString());
        return job;
    }

    private Task<JsonElement> Stages() => _app.Get("/api/captures/stages");

    private async Task<(long Done, long Total)> Counts()
    {
        var counts = (await _app.Get("/api/captures"))[0].GetProperty("counts");
        return (Long(counts, "done"), Long(counts, "total"));
    }

    private static long Long(JsonElement of, string name) => of.GetProperty(name).GetInt64();
}
