using System.IO.Compression;
using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>Briefs over HTTP: made, edited, updated, written, and drafts checked against them.</summary>
public sealed class BriefApiTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task ABriefIsMadeEditedAndUndone()
    {
        var (id, cluster) = await Make();
        var view = await _app.Get($"/api/briefs/{id}");
        Assert.Equal("kayak dry suit", Text(view.GetProperty("row"), "primary"));
        Assert.Equal("draft", Text(view.GetProperty("row"), "state"));
        var edits = new
        {
            title = "Dry suits that fit",
            words = 800,
            outline = new[] { new { level = 2, heading = "Sizes", keywords = new[] { "dry suit for kayaking" }, questions = Array.Empty<string>(), terms = Array.Empty<string>() } },
        };
        Assert.Equal(204, (await Change(id, new { edits, writer = "Ada", due = "2026-12-11", state = "ready", version = Text(view, "version") })).Status);
        var changed = await _app.Get($"/api/briefs/{id}");
        Assert.Equal(("Dry suits that fit", "Ada", "2026-12-11", "ready", 800, 3), (
            Text(changed.GetProperty("brief").GetProperty("titles")[0], "text"), Text(changed.GetProperty("row"), "writer"), Text(changed.GetProperty("row"), "due"), Text(changed.GetProperty("row"), "state"),
            changed.GetProperty("row").GetProperty("words").GetInt32(), changed.GetProperty("row").GetProperty("changes").GetInt32()));
        // Somebody else was faster.
        Assert.Equal(409, (await Change(id, new { writer = "Bob", version = Text(view, "version") })).Status);
        // Newer facts leave what the planner made of it.
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/briefs", new { clusterIds = new[] { cluster } })).Status);
        Assert.Equal("Dry suits that fit", Text((await _app.Get($"/api/briefs/{id}")).GetProperty("brief").GetProperty("titles")[0], "text"));
        await _app.Send(HttpMethod.Post, "/api/undo");
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(0, (await _app.Get($"/api/briefs/{id}")).GetProperty("row").GetProperty("changes").GetInt32());
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(0, (await _app.Get("/api/briefs")).GetArrayLength());
        await _app.Send(HttpMethod.Post, "/api/redo");
        Assert.Equal("0 of 1 sent", Text((await _app.Get("/api/project")).GetProperty("track").EnumerateArray().Single(t => Text(t, "stage") == "briefs"), "says"));
        Assert.Equal(204, (await _app.Send(HttpMethod.Delete, $"/api/briefs/{id}")).Status);
        Assert.Equal(404, (await _app.Send(HttpMethod.Get, $"/api/briefs/{id}")).Status);
    }

    [Fact]
    public async Task WhatCannotBeIsRefused()
    {
        var (id, _) = await Make();
        foreach (var body in new object[]
        {
            new { due = "soon" }, new { state = "lost" }, new { edits = new { words = 3 } }, new { edits = new { title = " " } },
            new { edits = new { outline = new[] { new { level = 1, heading = "x", keywords = Array.Empty<string>(), questions = Array.Empty<string>(), terms = Array.Empty<string>() } } } },
        })
        {
            Assert.Equal(400, (await Change(id, body)).Status);
        }

        Assert.Equal(404, (await _app.Send(HttpMethod.Post, "/api/briefs", new { clusterIds = new[] { 99_999 } })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/briefs", new { clusterIds = Array.Empty<int>() })).Status);
        Assert.Equal(404, (await _app.Send(HttpMethod.Post, "/api/clusters/99999/read-ranking")).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Get, $"/api/briefs/{id}/brief.pdf")).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/check", new { })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/check", new { fileName = "x.docx", content = "not base 64" })).Status);
        Assert.Equal(404, (await _app.Send(HttpMethod.Post, "/api/briefs/99999/check", new { text = "x" })).Status);
    }

    [Fact]
    public async Task BriefsAreFilesOneByOneOrTogether()
    {
        var (id, _) = await Make();
        foreach (var format in new[] { "docx", "xlsx", "html", "md", "json" })
            Assert.True((await _app.Http.GetByteArrayAsync($"/api/briefs/{id}/brief.{format}")).Length > 500);
        using var zip = new ZipArchive(new MemoryStream(await _app.Http.GetByteArrayAsync("/api/briefs.zip?format=md")));
        Assert.Equal($"brief-kayak-dry-suit-{id}.md", Assert.Single(zip.Entries).Name);
    }

    [Fact]
    public async Task ADraftIsToldWhatItHasAndWhatItLacks()
    {
        var (id, _) = await Make();
        var (_, told) = await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/check", new { text = "# Kayak dry suit\n\n### Fit\n\nA kayak dry suit keeps you dry.\n" });
        Assert.Equal(7, told.GetProperty("words").GetInt32());
        var keywords = told.GetProperty("keywords").EnumerateArray().ToDictionary(k => Text(k, "phrase"), k => k.GetProperty("places").EnumerateArray().Select(p => Text(p, "place")).ToList());
        Assert.Equal(["h1", "opening", "body"], keywords["kayak dry suit"]);
        Assert.Contains(told.GetProperty("faults").EnumerateArray(), f => f.GetString()!.Contains("without a second one", StringComparison.Ordinal));
        var file = Convert.ToBase64String("<main><h1>Paddles</h1><p>Text.</p></main>"u8.ToArray());
        var (_, other) = await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/check", new { fileName = "draft.html", content = file });
        Assert.All(other.GetProperty("keywords").EnumerateArray(), k => Assert.Equal(0, k.GetProperty("places").GetArrayLength()));
    }

    private async Task<(long Id, long Cluster)> Make()
    {
        await _app.BringProject();
        await _app.Regroup();
        var cluster = (await _app.Get("/api/clusters?search=suit")).GetProperty("rows")[0].GetProperty("id").GetInt64();
        var (status, made) = await _app.Send(HttpMethod.Post, "/api/briefs", new { clusterIds = new[] { cluster } });
        Assert.Equal(200, status);
        return (made.GetProperty("ids")[0].GetInt64(), cluster);
    }

    private Task<(int Status, JsonElement Body)> Change(long id, object change) => _app.Send(HttpMethod.Put, $"/api/briefs/{id}", change);

    private static string Text(JsonElement row, string name) => row.GetProperty(name).GetString()!;
}
