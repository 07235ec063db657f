using System.IO.Compression;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;

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
        Assert.Equal(0, (await _app.Get("/api/briefs")).GetProperty("tally").GetProperty("rows").GetInt64());
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
        async Task<JsonElement> Check(object body) => (await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/check", body)).Body.GetProperty("facts");
        var told = await Check(new { text = "# Kayak dry suit\n\n### Fit\n\nA kayak dry suit keeps you dry. It weighs 1,450 g since 2024.\n", title = new string('w', 90), description = "" });
        Assert.Equal(14, told.GetProperty("words").GetInt32());
        Assert.Equal(["h1", "opening", "body"], Places(told)["kayak dry suit"]);
        Assert.Contains(told.GetProperty("faults").EnumerateArray(), f => f.GetString()!.Contains("without a second one", StringComparison.Ordinal));
        Assert.Equal("It weighs 1,450 g since 2024.", Assert.Single(told.GetProperty("claims").EnumerateArray()).GetString());
        var line = Assert.Single(told.GetProperty("lines").EnumerateArray());
        Assert.Equal(new string('w', 90), Text(line, "shown").TrimEnd('…') + Text(line, "rest"));
        var file = Convert.ToBase64String("<title>Paddles</title><main><h1>Paddles</h1><p>Text with a <a href='https://a.example/x'>link</a>.</p></main>"u8.ToArray());
        var (_, other) = await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/check", new { fileName = "draft.html", content = file });
        Assert.All(Places(other.GetProperty("facts")), k => Assert.Empty(k.Value));
        // What was brought can be edited and checked again.
        Assert.Equal(("# Paddles\n\nText with a [link](https://a.example/x).", "Paddles", "draft.html"), (Text(other, "text"), Text(other, "title"), Text(other, "name")));

        static Dictionary<string, List<string>> Places(JsonElement facts) =>
            facts.GetProperty("keywords").EnumerateArray().ToDictionary(k => Text(k, "phrase"), k => k.GetProperty("places").EnumerateArray().Select(p => Text(p, "place")).ToList());
    }

    [Fact]
    public async Task APageIsReadAndComparedAndItsRepeatedSentencesAreNamed()
    {
        var (id, cluster) = await Make();
        const string said = "Latex seals keep the water out for years when they are powdered before every single trip.";
        await using var site = await Outside.Site(app => app.Run(context => Outside.Html(context, $"<title>Dry suits</title><main><h1>Dry suits</h1><p>{said} A kayak dry suit is warm.</p></main>")));
        var root = Outside.AddressOf(site);
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/scan", new { startUrl = "", gateway = "", gatewayFor = "example", allowPrivate = true, ratePerSecond = 900, atOnce = 4, maxPages = 50, depth = "full", findBy = "links" })).Status);
        await _app.Sql($"insert into page_content (content_id, text) values (901, '{said}'); update page set content_id = 901 where url like '%/paddles'");
        var (status, checkedPage) = await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/check", new { url = root + "/dry-suits" });
        Assert.Equal(200, status);
        var repeated = Assert.Single(checkedPage.GetProperty("facts").GetProperty("repeated").EnumerateArray());
        Assert.Equal((said, true), (Text(repeated, "text"), Text(repeated, "url").EndsWith("/paddles", StringComparison.Ordinal)));
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/check", new { url = "ftp://x.example" })).Status);

        // A page without a cluster has nothing to be compared with; with one its brief is made for the occasion.
        var page = (await _app.Get("/api/pages?search=dry-suits")).GetProperty("rows")[0].GetProperty("id").GetInt64();
        Assert.Equal(409, (await _app.Send(HttpMethod.Post, $"/api/pages/{page}/check", new { text = "x" })).Status);
        await _app.Send(HttpMethod.Delete, $"/api/briefs/{id}");
        await _app.Send(HttpMethod.Put, $"/api/page-map/{cluster}", new { pageId = page });
        var (_, onTheFly) = await _app.Send(HttpMethod.Post, $"/api/pages/{page}/check", new { text = "A kayak dry suit." });
        Assert.Equal(("kayak dry suit", JsonValueKind.Null), (Text(onTheFly, "primary"), onTheFly.GetProperty("briefId").ValueKind));
        Assert.Equal(404, (await _app.Send(HttpMethod.Post, "/api/pages/99999/check", new { text = "x" })).Status);
    }

    [Fact]
    public async Task VersionsOfATextAreKeptAndCompared()
    {
        var (id, _) = await Make();
        await Change(id, new { state = "sent" });
        async Task<long> Keep(string text) => (await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/texts", new { text, name = "draft.md", title = "T", description = "" })).Body.GetProperty("id").GetInt64();
        var (first, second) = (await Keep("# Suits\n\nOne sentence stays. Another goes."), await Keep("# Suits\n\nOne sentence stays. A third comes."));
        var differences = await _app.Get($"/api/briefs/texts/{second}/differences?from={first}");
        Assert.Equal(["A third comes."], differences.GetProperty("added").EnumerateArray().Select(s => s.GetString()!));
        Assert.Equal(["Another goes."], differences.GetProperty("removed").EnumerateArray().Select(s => s.GetString()!));
        var view = await _app.Get($"/api/briefs/{id}");
        Assert.Equal(("returned", 2), (Text(view.GetProperty("row"), "state"), view.GetProperty("texts").GetArrayLength()));
        Assert.Contains("sent → returned", view.GetProperty("history").EnumerateArray().Select(h => Text(h, "says")));
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(404, (await _app.Send(HttpMethod.Get, $"/api/briefs/texts/{second}")).Status);
        Assert.Equal(404, (await _app.Send(HttpMethod.Get, $"/api/briefs/texts/{first}/differences?from=99999")).Status);
    }

    [Fact]
    public async Task AWriterSeesOneBriefByALinkAndNothingElse()
    {
        var (id, _) = await Make();
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, $"/api/briefs/{id}/link", new { days = 30 })).Status);
        var link = (await _app.Get($"/api/briefs/{id}")).GetProperty("link");
        var path = Text(link, "path");
        Assert.True(link.GetProperty("isLocal").GetBoolean());
        // 128 bits in base64url without padding (RFC 4648, section 5) are 22 characters.
        Assert.Matches("^/brief/[A-Za-z0-9_-]{22}$", path);
        using var page = await _app.Http.GetAsync(new Uri(path, UriKind.Relative));
        var html = await page.Content.ReadAsStringAsync();
        Assert.Contains("kayak dry suit", html, StringComparison.Ordinal);
        Assert.DoesNotContain("<script", html, StringComparison.OrdinalIgnoreCase);
        Assert.Contains("form-action 'self'", string.Concat(page.Headers.GetValues("Content-Security-Policy")), StringComparison.Ordinal);
        using var form = new FormUrlEncodedContent(new Dictionary<string, string> { ["text"] = "# Suits\n\nA kayak dry suit <b>is</b> warm.", ["title"] = "<i>Suits</i>", ["description"] = "" });
        var told = await (await _app.Http.PostAsync(new Uri(path, UriKind.Relative), form)).Content.ReadAsStringAsync();
        Assert.Contains("<td>kayak dry suit</td><td>", told, StringComparison.Ordinal);
        Assert.Contains("value=\"&lt;i&gt;Suits&lt;/i&gt;\"", told, StringComparison.Ordinal);
        Assert.DoesNotContain("<i>Suits", told, StringComparison.Ordinal);

        // Another link takes the place of the first; taken back, none works, and undo does not bring it back.
        await _app.Send(HttpMethod.Put, $"/api/briefs/{id}/link", new { days = 1 });
        Assert.Equal(404, (int)(await _app.Http.GetAsync(new Uri(path, UriKind.Relative))).StatusCode);
        var second = Text((await _app.Get($"/api/briefs/{id}")).GetProperty("link"), "path");
        await _app.Send(HttpMethod.Delete, $"/api/briefs/{id}/link");
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(404, (int)(await _app.Http.GetAsync(new Uri(second, UriKind.Relative))).StatusCode);
        Assert.Equal(400, (await _app.Send(HttpMethod.Put, $"/api/briefs/{id}/link", new { days = 0 })).Status);
        await _app.Sql("insert into brief_link (token, brief_id, made_at, expires_at) values ('old', 1, '2020-01-01T00:00:00Z', '2020-02-01T00:00:00Z')");
        Assert.Equal(404, (int)(await _app.Http.GetAsync(new Uri("/brief/old", UriKind.Relative))).StatusCode);
    }


    [Fact]
    public async Task KeywordsTermsHeadingsAndNotesAreThePlanners()
    {
        var (id, cluster) = await Make();
        Assert.Equal(204, (await Change(id, new { edits = new { without = new[] { "dry suit for kayaking" }, with = new[] { new { phrase = "Kayak Paddle" }, new { phrase = "zzz unknown" } } } })).Status);
        var view = await _app.Get($"/api/briefs/{id}");
        var keywords = view.GetProperty("brief").GetProperty("keywords").EnumerateArray().ToList();
        Assert.DoesNotContain("dry suit for kayaking", keywords.Select(k => Text(k, "phrase")));
        Assert.Equal(["dry suit for kayaking"], view.GetProperty("takenOut").EnumerateArray().Select(k => k.GetString()!));
        Assert.Equal(JsonValueKind.Number, keywords.Single(k => Text(k, "phrase") == "kayak paddle").GetProperty("volume").ValueKind);
        Assert.Equal(JsonValueKind.Null, keywords[^1].GetProperty("volume").ValueKind);
        Assert.EndsWith("kayak paddle, zzz unknown", Text(view.GetProperty("brief"), "tags"), StringComparison.Ordinal);

        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/briefs", new { notes = "Warm and plain.", ignoredTerms = new[] { "kit " }, patterns = new[] { new { text = "{primary}!", intent = (string?)null } }, pricePerDraft = 0.02 })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Put, "/api/settings/briefs", new { notes = "", patterns = new[] { new { text = "nothing", intent = (string?)null } } })).Status);
        Assert.Equal(204, (await _app.Send(HttpMethod.Post, $"/api/briefs/{id}/ignore-term", new { term = "neck seal" })).Status);
        Assert.Equal(["kit", "neck seal"], (await _app.Get("/api/settings")).GetProperty("briefs").GetProperty("ignoredTerms").EnumerateArray().Select(t => t.GetString()!));
        view = await _app.Get($"/api/briefs/{id}");
        Assert.Equal("Warm and plain.", Text(view, "projectNotes"));
        Assert.Equal("Kayak dry suit!", Text(view.GetProperty("brief").GetProperty("titles")[0], "text"));
        Assert.Contains("Warm and plain.", await _app.Http.GetStringAsync($"/api/briefs/{id}/brief.md"), StringComparison.Ordinal);
        Assert.Equal(200, (await _app.Send(HttpMethod.Get, $"/api/briefs/{id}/terms")).Status);

        Assert.Equal(404, (await _app.Send(HttpMethod.Post, "/api/clusters/99999/headings", new { heading = "Sizes" })).Status);
        await _app.Send(HttpMethod.Post, "/api/topics/move", new { clusterIds = new[] { cluster } });
        Assert.Equal(204, (await _app.Send(HttpMethod.Post, $"/api/clusters/{cluster}/headings", new { heading = " Sizes " })).Status);
        view = await _app.Get($"/api/briefs/{id}");
        Assert.Equal(["Sizes"], view.GetProperty("savedHeadings").EnumerateArray().Select(h => h.GetString()!));
        Assert.Equal(204, (await _app.Send(HttpMethod.Delete, $"/api/topics/{view.GetProperty("topicId").GetInt64()}/headings?heading=Sizes")).Status);
        Assert.Equal(id, (await _app.Get($"/api/clusters/{cluster}/brief")).GetProperty("id").GetInt64());
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
