using System.Net.Http.Json;
using System.Text.Json;
using JadeOrchard.Storage;
using JadeOrchard.Tests;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Server.Tests;

/// <summary>Several projects side by side: made, duplicated, put away, deleted, backed up and taken along.</summary>
public sealed class ProjectsTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    private async Task<JsonElement> Create(string name, string host = "fenwater.example", string country = "GB", string language = "en", object? more = null)
    {
        var (status, made) = await _app.Send(HttpMethod.Post, "/api/projects", more ?? new { name, host, country, language });
        Assert.True(status == 201, made.ToString());
        return made;
    }

    private Task<(int Status, JsonElement Body)> Do(HttpMethod method, string path, object? body = null) => _app.Send(method, "/api/projects/" + path, body);

    private async Task<JsonElement[]> All(string state = "active") => [.. (await _app.Get("/api/projects")).EnumerateArray().Where(p => Text(p, "state") == state)];

    private async Task<string> Ids(string state = "active") => string.Join(' ', (await All(state)).Select(p => Text(p, "id")));

    private Task Paste(string project, string text) => _app.Send(HttpMethod.Post, $"/p/{project}/api/keywords/paste", new { text });

    private async Task<int> Keywords(string project) => (await _app.Get($"/p/{project}/api/keywords")).GetProperty("tally").GetProperty("rows").GetInt32();

    private static async Task Refused(Task<(int Status, JsonElement Body)> request, int status, string says)
    {
        var (got, problem) = await request;
        Assert.True(got == status, $"{got} {problem}");
        Assert.Contains(says, Text(problem, "detail"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task ProjectsKnowNothingOfEachOther()
    {
        var one = Text(await Create("Kayaks"), "id");
        var other = Text(await Create("Canoes", "canoe.example", "DE", "de"), "id");
        Assert.Equal(("kayaks", "canoes"), (one, other));
        await Paste(one, "dry suit\nkayak paddle");
        await Paste(other, "kanu");
        Assert.Equal((2, 1), (await Keywords(one), await Keywords(other)));
        Assert.Equal("canoe.example", Text((await _app.Get($"/p/{other}/api/project")).GetProperty("project"), "host"));
        // Undo goes back in the project that it is asked of.
        await _app.Send(HttpMethod.Post, $"/p/{one}/api/undo");
        Assert.Equal((0, 1), (await Keywords(one), await Keywords(other)));
        Assert.Equal("canoes kayaks project", await Ids());
        var kayaks = (await All()).Single(p => Text(p, "id") == one);
        Assert.Equal(("Kayaks", "GB", "en"), (Text(kayaks, "name"), Text(kayaks, "country"), Text(kayaks, "language")));
        var canoes = (await All()).Single(p => Text(p, "id") == other);
        Assert.Equal(("keywords", "1 keyword", 1), (Text(canoes, "stage"), Text(canoes, "stageSays"), canoes.GetProperty("keywords").GetInt32()));
    }

    [Fact]
    public async Task WhereThereAreSeveralARequestSaysWhichIsMeant()
    {
        Assert.Equal(0, (await _app.Get("/api/keywords")).GetProperty("tally").GetProperty("rows").GetInt32());
        await Create("Kayaks");
        await Refused(_app.Send(HttpMethod.Get, "/api/keywords"), 404, "There are several projects. Name one in the address: /p/kayaks/api/keywords.");
        await Refused(_app.Send(HttpMethod.Get, "/p/nothing/api/keywords"), 404, "There is no project “nothing” that is worked on.");
        await Refused(_app.Send(HttpMethod.Get, "/p/..%2Fproject/api/keywords"), 404, "There is no project");
        Assert.Equal(200, (await _app.Send(HttpMethod.Get, "/api/words")).Status);
        Assert.Equal(200, (await _app.Send(HttpMethod.Get, "/api/openapi.json")).Status);
    }

    [Fact]
    public async Task PagesAreAtTheAddressOfTheirProject()
    {
        using var client = _app.Client(followsRedirects: false);
        async Task<string?> To(string path) => (await client.GetAsync(path)).Headers.Location?.ToString();
        Assert.Equal("/p/project/keywords?id=3", await To("/keywords?id=3"));
        Assert.Equal("/p/project/", await To("/"));
        Assert.Null(await To("/projects"));
        await Create("Kayaks");
        Assert.Equal("/projects", await To("/keywords?id=3"));
        Assert.Equal("/projects", await To("/p/nothing/keywords"));
        Assert.Null(await To("/p/kayaks/keywords"));
    }

    [Theory]
    [InlineData("Kajaks für Zürich", "", "kajaks-fur-zurich")]
    [InlineData("../../etc", "", "etc")]
    [InlineData("カヤック", "kayak.example", "kayak-example")]
    [InlineData("", "http://shop.example/a/b", "shop-example")]
    [InlineData("a very long name that goes on and on and on for ever", "", "a-very-long-name-that-goes-on-and-on-and")]
    public async Task ANameOnDiskIsMadeOfTheName(string name, string host, string id)
    {
        Assert.Equal(id, Text(await Create(name, host.Length > 0 ? host : "fenwater.example"), "id"));
        Assert.Equal(id + "-2", Text(await Create(name, host.Length > 0 ? host : "fenwater.example"), "id"));
        Assert.True(Directory.Exists(Path.Combine(_app.Data, "projects", id)));
    }

    [Fact]
    public async Task ADuplicateGoesItsOwnWay()
    {
        await _app.BringProject();
        await _app.Regroup();
        await _app.Send(HttpMethod.Put, "/api/services/search", new { address = "http://search.example", header = "X-Key", key = "k" });
        var (status, copy) = await Do(HttpMethod.Post, "project/duplicate", new { name = "Like it", withData = true });
        Assert.Equal((201, "like-it", "Like it"), (status, Text(copy, "id"), Text(copy, "name")));
        var clusters = await _app.Get("/p/project/api/clusters");
        Assert.Equal(clusters.ToString(), (await _app.Get("/p/like-it/api/clusters")).ToString());
        Assert.NotEqual(0, clusters.GetProperty("tally").GetProperty("rows").GetInt32());
        await Paste("like-it", "one more");
        Assert.Equal(await Keywords("project") + 1, await Keywords("like-it"));
        Assert.NotEqual(Identity("project"), Identity("like-it"));
        var services = await _app.Get("/p/like-it/api/services");
        Assert.True(services.EnumerateArray().Single(s => Text(s, "name") == "search").GetProperty("hasKey").GetBoolean());
    }

    [Fact]
    public async Task ADuplicateWithoutDataHasTheSettings()
    {
        await _app.BringProject();
        await _app.Send(HttpMethod.Put, "/api/settings/brands", new[] { "Otherbrand" });
        await _app.Send(HttpMethod.Put, "/api/services/search", new { address = "http://search.example", header = "X-Key", key = "k" });
        var (status, copy) = await Do(HttpMethod.Post, "project/duplicate", new { name = "Without", withData = false });
        Assert.Equal((201, "fenwater.example"), (status, Text(copy, "host")));
        Assert.Equal(0, await Keywords("without"));
        Assert.Equal(["Otherbrand"], (await _app.Get("/p/without/api/settings")).GetProperty("otherBrands").EnumerateArray().Select(b => b.GetString()));
        var service = (await _app.Get("/p/without/api/services")).EnumerateArray().Single(s => Text(s, "name") == "search");
        Assert.Equal(("http://search.example", false), (Text(service, "address"), service.GetProperty("hasKey").GetBoolean()));
        Assert.NotEqual(Identity("project"), Identity("without"));
    }

    [Fact]
    public async Task SettingsAreCopiedByPartAndCanBeUndone()
    {
        await Create("Target");
        await _app.Send(HttpMethod.Put, "/p/project/api/settings/brands", new[] { "Otherbrand" });
        await _app.Send(HttpMethod.Put, "/p/project/api/settings/tracking", new[] { "vid" });
        await _app.Send(HttpMethod.Put, "/p/project/api/settings/intents", new[] { new { name = "hire", intent = "transactional", words = new[] { "hire" } } });
        await _app.Send(HttpMethod.Put, "/p/project/api/services/search", new { address = "http://search.example", header = "X-Key", key = "k" });
        await _app.Send(HttpMethod.Put, "/p/target/api/settings/brands", new[] { "Own" });
        var before = (await _app.Get("/p/target/api/settings")).ToString();
        Assert.Equal(204, (await Do(HttpMethod.Post, "target/settings", new { from = "project", parts = new[] { "ignoreLists", "services" } })).Status);
        var after = await _app.Get("/p/target/api/settings");
        Assert.Equal(["Own", "Otherbrand"], after.GetProperty("otherBrands").EnumerateArray().Select(b => b.GetString()));
        Assert.Equal(["vid"], after.GetProperty("trackingParameters").EnumerateArray().Select(b => b.GetString()));
        Assert.False(after.GetProperty("areOwnRules").GetBoolean());
        var service = (await _app.Get("/p/target/api/services")).EnumerateArray().Single(s => Text(s, "name") == "search");
        Assert.Equal(("http://search.example", false), (Text(service, "address"), service.GetProperty("hasKey").GetBoolean()));
        Assert.Equal(204, (await Do(HttpMethod.Post, "target/settings", new { from = "project", parts = new[] { "intents" } })).Status);
        Assert.True((await _app.Get("/p/target/api/settings")).GetProperty("areOwnRules").GetBoolean());
        await _app.Send(HttpMethod.Post, "/p/target/api/undo");
        await _app.Send(HttpMethod.Post, "/p/target/api/undo");
        Assert.Equal(before, (await _app.Get("/p/target/api/settings")).ToString());
        await Refused(Do(HttpMethod.Post, "target/settings", new { from = "nothing", parts = new[] { "intents" } }), 400, "There is no project “nothing”");
        await Refused(Do(HttpMethod.Post, "target/settings", new { from = "target", parts = new[] { "intents" } }), 400, "another project");
        await Refused(Do(HttpMethod.Post, "target/settings", new { from = "project", parts = Array.Empty<string>() }), 400, "Choose what to copy");
        // A new project has them from the start.
        await Create("", more: new { name = "Third", host = "fenwater.example", country = "GB", language = "en", settingsOf = "project", parts = new[] { "ignoreLists" } });
        Assert.Equal(["Otherbrand"], (await _app.Get("/p/third/api/settings")).GetProperty("otherBrands").EnumerateArray().Select(b => b.GetString()));
    }

    [Fact]
    public async Task WhatIsArchivedRestsUntilItIsTakenBack()
    {
        await Create("Kayaks");
        await Paste("kayaks", "dry suit");
        var (status, entry) = await Do(HttpMethod.Post, "kayaks/archive");
        Assert.Equal((200, "archived", "Kayaks"), (status, Text(entry, "state"), Text(entry, "name")));
        Assert.Equal(("project", "kayaks"), (await Ids(), await Ids("archived")));
        await Refused(_app.Send(HttpMethod.Get, "/p/kayaks/api/keywords"), 404, "no project “kayaks” that is worked on");
        await Refused(Do(HttpMethod.Post, "kayaks/archive"), 409, "put away already");
        // Its name is taken, and what is about one that is not worked on is refused.
        Assert.Equal("kayaks-2", Text(await Create("Kayaks"), "id"));
        await Refused(Do(HttpMethod.Post, "kayaks/settings", new { from = "project", parts = new[] { "effort" } }), 409, "Take it back first");
        Assert.Equal(200, (await Do(HttpMethod.Post, "kayaks/take-back")).Status);
        Assert.Equal(1, await Keywords("kayaks"));
    }

    [Fact]
    public async Task WhatIsDeletedIsInTheTrashForThirtyDays()
    {
        await Create("Kayaks");
        await Paste("kayaks", "dry suit");
        Assert.Equal(204, (await Do(HttpMethod.Delete, "kayaks")).Status);
        var trash = Assert.Single(await All("deleted"));
        Assert.Equal(TimeSpan.FromDays(30), trash.GetProperty("goneAt").GetDateTime() - trash.GetProperty("deletedAt").GetDateTime());
        // Meanwhile there can be another of its name.
        await Create("Kayaks");
        var (status, back) = await Do(HttpMethod.Post, $"{Text(trash, "id")}/take-back");
        Assert.Equal((200, "kayaks-2", 1), (status, Text(back, "id"), await Keywords("kayaks-2")));
        await Do(HttpMethod.Delete, "kayaks-2");
        var again = Text(Assert.Single(await All("deleted")), "id");
        Assert.Equal(204, (await Do(HttpMethod.Delete, again)).Status);
        Assert.Empty(await All("deleted"));
        await Refused(Do(HttpMethod.Delete, again), 404, "There is no project");
        Assert.Empty(Directory.GetDirectories(Path.Combine(_app.Data, "trash")));
    }

    [Fact]
    public async Task TheTrashLetsGoAfterThirtyDays()
    {
        var trash = Directory.CreateDirectory(Path.Combine(_app.Data, "trash")).FullName;
        string Put(int days)
        {
            var folder = Directory.CreateDirectory(Path.Combine(trash, $"old~{DateTime.UtcNow.AddDays(-days).ToString("yyyyMMdd'T'HHmmss'Z'", System.Globalization.CultureInfo.InvariantCulture)}")).FullName;
            EmptyProject.In(folder);
            return folder;
        }

        var (young, old) = (Put(29), Put(31));
        Assert.Single(await All("deleted"));
        Assert.Equal((true, false), (Directory.Exists(young), Directory.Exists(old)));
    }

    [Fact]
    public async Task AProjectGoesOutAsOneFileAndComesInElsewhere()
    {
        await _app.BringProject();
        await _app.Regroup();
        await _app.Send(HttpMethod.Put, "/api/services/search", new { address = "http://search.example", header = "X-Key", key = "secret-of-the-search-service" });
        var answer = await _app.Http.GetAsync("/api/projects/project/file");
        Assert.Equal("application/vnd.sqlite3", answer.Content.Headers.ContentType?.MediaType);
        Assert.StartsWith("project-", answer.Content.Headers.ContentDisposition?.FileName, StringComparison.Ordinal);
        var file = await answer.Content.ReadAsByteArrayAsync();
        Assert.DoesNotContain("secret-of-the-search-service", System.Text.Encoding.Latin1.GetString(file), StringComparison.Ordinal);
        using var elsewhere = new Application();
        var made = await Import(elsewhere, file, "?name=Brought");
        Assert.Equal(("brought", "Brought", "fenwater.example"), (Text(made, "id"), Text(made, "name"), Text(made, "host")));
        Assert.Equal((await _app.Get("/api/clusters")).ToString(), (await elsewhere.Get("/p/brought/api/clusters")).ToString());
        // A second time it is another project, with a name of its own on disk.
        Assert.Equal("fenwater", Text(await Import(elsewhere, file, ""), "id"));
        Assert.Empty(Directory.GetFiles(Path.Combine(elsewhere.Data, "trash")));
        Assert.Empty(Directory.GetFiles(Path.Combine(_app.Data, "trash")));
    }

    private static async Task<JsonElement> Import(Application app, byte[] file, string query, int expected = 201)
    {
        using var content = new ByteArrayContent(file);
        content.Headers.ContentType = new("application/octet-stream");
        var answer = await app.Http.PostAsync("/api/projects/import" + query, content);
        var body = await answer.Content.ReadFromJsonAsync<JsonElement>();
        Assert.True((int)answer.StatusCode == expected, body.ToString());
        return body;
    }

    [Fact]
    public async Task WhatIsNoProjectIsNotTakenIn()
    {
        Assert.Contains("no file of a project", Text(await Import(_app, "keyword,volume"u8.ToArray(), "", 400), "detail"), StringComparison.Ordinal);
        Assert.Contains("no file of a project", Text(await Import(_app, [], "", 400), "detail"), StringComparison.Ordinal);
        var sound = await _app.Http.GetByteArrayAsync("/api/projects/project/file");
        Assert.Contains("damaged", Text(await Import(_app, sound[..(sound.Length / 3)], "", 400), "detail"), StringComparison.Ordinal);
        Assert.Equal("project", await Ids());
        Assert.Single(Directory.GetDirectories(Path.Combine(_app.Data, "projects")));
        Assert.Empty(Directory.GetFiles(Path.Combine(_app.Data, "trash")));
    }

    [Fact]
    public async Task ABackupIsRestoredWhileTheProgramRuns()
    {
        await _app.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "dry suit" });
        var (status, backup) = await Do(HttpMethod.Post, "project/backups");
        Assert.Equal((201, "manual"), (status, Text(backup, "kind")));
        await _app.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "paddle\nkayak" });
        var (restored, view) = await Do(HttpMethod.Post, $"project/backups/{Text(backup, "name")}/restore");
        Assert.Equal(200, restored);
        Assert.Equal(1, await Keywords("project"));
        await Do(HttpMethod.Post, $"project/backups/{Text(view.GetProperty("before"), "name")}/restore");
        Assert.Equal(3, await Keywords("project"));
        // It goes on from there.
        await _app.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "one more" });
        Assert.Equal(4, await Keywords("project"));
        Assert.Equal("restore restore manual", string.Join(' ', (await _app.Get("/api/projects/project/backups")).EnumerateArray().Select(b => Text(b, "kind"))));
        var file = await _app.Http.GetByteArrayAsync($"/api/projects/project/backups/{Text(backup, "name")}");
        Assert.Equal("SQLite format 3", System.Text.Encoding.ASCII.GetString(file[..15]));
        Assert.Equal(204, (await Do(HttpMethod.Delete, $"project/backups/{Text(backup, "name")}")).Status);
        await Refused(Do(HttpMethod.Post, $"project/backups/{Text(backup, "name")}/restore"), 404, "There is no backup");
        await Refused(Do(HttpMethod.Post, "project/backups/..%2Fproject.db/restore"), 404, "There is no backup");
    }

    [Fact]
    public async Task ABackupIsRestoredOverADamagedFile()
    {
        string backup;
        using (var first = new Application(_app.Data + "-damaged", keepsData: true))
        {
            await first.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "dry suit" });
            backup = Text((await first.Send(HttpMethod.Post, "/api/projects/project/backups")).Body, "name");
        }

        var folder = Path.Combine(_app.Data + "-damaged", "projects", "project");
        foreach (var file in Directory.GetFiles(folder))
            File.WriteAllText(file, "what a broken disk left");
        using var app = new Application(_app.Data + "-damaged");
        await Refused(app.Send(HttpMethod.Get, "/api/keywords"), 507, "The list of projects offers its backups.");
        Assert.Contains("damaged", Text((await app.Get("/api/projects"))[0], "fault"), StringComparison.Ordinal);
        var (status, view) = await app.Send(HttpMethod.Post, $"/api/projects/project/backups/{backup}/restore");
        Assert.True(status == 200, view.ToString());
        Assert.Equal("damaged", Text(view.GetProperty("before"), "kind"));
        Assert.Equal(1, (await app.Get("/api/keywords")).GetProperty("tally").GetProperty("rows").GetInt32());
        Assert.Equal(JsonValueKind.Null, (await app.Get("/api/projects"))[0].GetProperty("fault").ValueKind);
    }

    /// <summary>A project that is worked on, listened to and backed up at the same time as it is put away and taken back loses nothing.</summary>
    [Fact]
    public async Task WhoeverListensIsToldThatTheProjectIsClosed()
    {
        await Create("Kayaks");
        using var listening = await _app.Http.GetAsync("/p/kayaks/api/jobs/events", HttpCompletionOption.ResponseHeadersRead);
        Assert.True(listening.IsSuccessStatusCode);
        var since = Environment.TickCount64;
        Assert.Equal(200, (await Do(HttpMethod.Post, "kayaks/archive")).Status);
        Assert.True(Environment.TickCount64 - since < 20_000);
    }

    /// <summary>Somebody who takes too long keeps it from being closed, and then it works as before.</summary>
    [Fact]
    public async Task AProjectThatCannotBeClosedStaysOpen()
    {
        using (var visit = (await _app.Projects.Enter("project", CancellationToken.None))!)
        {
            await Assert.ThrowsAsync<TimeoutException>(() => visit.Open.Close(TimeSpan.FromMilliseconds(50)));
            using var later = (await _app.Projects.Enter("project", CancellationToken.None))!;
            Assert.Same(visit.Open, later.Open);
            Assert.False(later.Closing.IsCancellationRequested);
        }

        Assert.Equal(0, await Keywords("project"));
        using var listening = await _app.Http.GetAsync("/p/project/api/jobs/events", HttpCompletionOption.ResponseHeadersRead);
        using var reader = new StreamReader(await listening.Content.ReadAsStreamAsync());
        Assert.StartsWith("event: jobs", await reader.ReadLineAsync(), StringComparison.Ordinal);
        Assert.Equal(200, (await Do(HttpMethod.Post, "project/archive")).Status);
    }

    /// <summary>Earlier versions kept the one project in the data folder itself.</summary>
    [Fact]
    public async Task AProjectOfAnEarlierVersionMovesIntoItsFolder()
    {
        var data = Directory.CreateTempSubdirectory("jade-former-").FullName;
        EmptyProject.In(data);
        using (var connection = new SqliteConnection($"Data Source={Path.Combine(data, "project.db")};Pooling=False"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "update project set name = 'as it was'";
            command.ExecuteNonQuery();
        }

        Directory.CreateDirectory(Path.Combine(data, "uploads"));
        await File.WriteAllTextAsync(Path.Combine(data, "uploads", "x.upload"), "x");
        using var app = new Application(data);
        Assert.Equal("as it was", Text((await app.Get("/api/project")).GetProperty("project"), "name"));
        Assert.Equal("project", Text((await app.Get("/api/projects"))[0], "id"));
        Assert.False(File.Exists(Path.Combine(data, "project.db")));
    }

    private string Identity(string project)
    {
        using var database = Database.Open(Path.Combine(_app.Data, "projects", project, "project.db"));
        return database.Read(ProjectStore.Identity);
    }
}
