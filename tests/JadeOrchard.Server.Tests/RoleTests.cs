using System.Net.Http.Headers;
using System.Text.Json;
using System.Text.RegularExpressions;
using JadeOrchard.Storage.Team;

namespace JadeOrchard.Server.Tests;

/// <summary>A project with briefs of two writers, and a client of each role.</summary>
public sealed class RoleProject : IAsyncLifetime
{
    public TeamApplication App { get; } = new();

    public Dictionary<string, TeamClient> Clients { get; } = [];

    /// <summary>Of the writer's brief, and of another one's.</summary>
    public long Mine { get; private set; }

    public long Others { get; private set; }

    public async Task InitializeAsync()
    {
        Clients["nobody"] = App.Elsewhere();
        Clients["writer"] = await App.SignedIn("Wim", Role.Writer);
        Clients["reader"] = await App.SignedIn("Rea", Role.Reader);
        var planner = Clients["planner"] = await App.SignedIn("Ada", Role.Planner);
        Assert.Equal(204, (await planner.Send(HttpMethod.Put, "/api/project", new { name = "Fenwater", host = "fenwater.example", country = "gb", language = "en", brandTerms = Array.Empty<string>() })).Status);
        await Import(planner, "keywords", "keyword,volume\nkayak dry suit,1000\nhow to roll a kayak,800\n");
        await Import(planner, "results", "keyword,position,url,title\n" + string.Concat(Enumerable.Range(1, 6).Select(i => $"kayak dry suit,{i},https://a{i}.example/,T\nhow to roll a kayak,{i},https://b{i}.example/,T\n")));
        var (_, job) = await planner.Send(HttpMethod.Post, "/api/clusters/regroup", new { depth = 10, minOverlap = 4, rule = "primary" });
        await Ended(planner, job);
        var clusters = Rows((await planner.Get("/api/clusters")).Body).Select(c => Id(c)).ToArray();
        var ids = (await planner.Send(HttpMethod.Post, "/api/briefs", new { clusterIds = clusters })).Body.GetProperty("ids").EnumerateArray().Select(i => i.GetInt64()).ToList();
        (Mine, Others) = (ids[0], ids[1]);
        await planner.Send(HttpMethod.Put, $"/api/briefs/{Mine}", new { writer = "wim" });
        await planner.Send(HttpMethod.Put, $"/api/briefs/{Others}", new { writer = "Xenia" });
    }

    public Task DisposeAsync()
    {
        foreach (var client in Clients.Values)
            client.Dispose();
        App.Dispose();
        return Task.CompletedTask;
    }

    private static async Task Import(TeamClient client, string kind, string rows)
    {
        using var content = new StringContent(rows);
        content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        using var answer = await client.Answer(HttpMethod.Post, $"/api/uploads?fileName={kind}.csv", content);
        var upload = JsonSerializer.Deserialize<JsonElement>(await answer.Content.ReadAsStringAsync());
        var (_, job) = await client.Send(HttpMethod.Post, "/api/imports", new { uploadId = Text(upload, "uploadId"), fileName = $"{kind}.csv", kind, columns = upload.GetProperty("columns").GetProperty(kind) });
        await Ended(client, job);
    }

    private static async Task Ended(TeamClient client, JsonElement job)
    {
        for (var i = 0; i < 200; i++)
        {
            if (Text((await client.Get($"/api/jobs/{Id(job)}")).Body, "state") == "done")
                return;
            await Task.Delay(50);
        }

        throw new TimeoutException("The job did not end.");
    }
}

/// <summary>
/// Each role against each endpoint. The endpoints come from the OpenAPI document. A second list says who may use each, so that the test
/// fails when one is added or opened by accident.
/// </summary>
public sealed partial class RoleTests(RoleProject project) : IClassFixture<RoleProject>
{
    private static readonly string[] Roles = ["nobody", "writer", "reader", "planner"];

    /// <summary>Endpoints that are not as their method says: what is read is for readers and planners, what is changed for planners.</summary>
    private static readonly Dictionary<string, string> Exceptions = new()
    {
        ["session"] = "nobody writer reader planner",
        ["signIn"] = "nobody writer reader planner",
        ["signOut"] = "writer reader planner",
        ["changePassword"] = "writer reader planner",
        ["myBriefs"] = "writer reader planner",
        ["brief"] = "writer reader planner",
        ["checkText"] = "writer reader planner",
        ["keepText"] = "writer reader planner",
        ["team"] = "planner",
        ["exportProject"] = "planner",
        ["backupFile"] = "planner",
        ["keywordTally"] = "reader planner",
        ["estimateCapture"] = "reader planner",
        ["estimateStages"] = "reader planner",
        ["checkPage"] = "reader planner",
    };

    private static readonly JsonElement Paths = JsonDocument.Parse(File.ReadAllText(SourceTree.Path("web/api.json"))).RootElement.GetProperty("paths");

    /// <summary>Method, path and name of each endpoint.</summary>
    public static TheoryData<string, string, string> Endpoints
    {
        get
        {
            var all = new TheoryData<string, string, string>();
            foreach (var path in Paths.EnumerateObject())
            {
                foreach (var method in path.Value.EnumerateObject())
                    all.Add(method.Name.ToUpperInvariant(), path.Name, Text(method.Value, "operationId"));
            }

            return all;
        }
    }

    private static string[] MayUse(string method, string name) => (Exceptions.GetValueOrDefault(name) ?? (method == "GET" ? "reader planner" : "planner")).Split(' ');

    /// <summary>Who may not is refused before anything of the request is looked at; who may is answered, with whatever there is to say of an empty request.</summary>
    [Theory]
    [MemberData(nameof(Endpoints))]
    public async Task EachRoleReachesWhatItMay(string method, string path, string name)
    {
        var may = MayUse(method, name);
        // Of what is not there, so that nothing is changed, but for briefs, of which writers reach only those that are there.
        var filled = Regex.Replace(path, @"\{(\w+)\}", m => path.StartsWith("/api/briefs/{id}", StringComparison.Ordinal) && m.Groups[1].Value == "id" && method != "DELETE" ? $"{project.Mine}" : m.Groups[1].Value is "key" or "project" or "backup" or "name" or "day" ? "none" : "987654");
        foreach (var role in Roles)
        {
            // Signing out or changing the password would end the session of the tests after this.
            if (may.Contains(role) && name is "signOut" or "signIn")
                continue;
            using var content = method is "POST" or "PUT" ? new StringContent("[") : null;
            if (content is not null)
                content.Headers.ContentType = new MediaTypeHeaderValue("application/json");
            using var answer = await project.Clients[role].Answer(new HttpMethod(method), filled, content);
            // What was done before stays as the other tests expect it.
            if (name is "undo" or "redo" && answer.IsSuccessStatusCode)
                await project.Clients[role].Send(HttpMethod.Post, name == "undo" ? "/api/redo" : "/api/undo");
            var status = (int)answer.StatusCode;
            var type = answer.Content.Headers.ContentType?.MediaType == "application/problem+json" ? Text(JsonSerializer.Deserialize<JsonElement>(await answer.Content.ReadAsStringAsync()), "type") : "";
            if (may.Contains(role))
                Assert.True(status is not (401 or 403) && type != "/problems/token", $"{role} may {method} {path}, and got {status} {type}");
            else
                Assert.True((status, type) == (role == "nobody" ? (401, "/problems/sign-in") : (403, "/problems/role")), $"{role} may not {method} {path}, and got {status} {type}");
        }
    }

    [Fact]
    public void EachExceptionIsAnEndpoint() => Assert.Empty(Exceptions.Keys.Except(Endpoints.Select(e => (string)e[2])));

    /// <summary>What the document leaves out, such as files and events, is for readers; briefs as files are their writers' too.</summary>
    [Fact]
    public async Task WhatTheDocumentLeavesOutIsForReaders()
    {
        var described = Endpoints.Select(e => $"{e[0]} {Bare((string)e[1])}").ToHashSet(StringComparer.Ordinal);
        var left = project.App.Endpoints.Where(e => e.Path.StartsWith("/api/", StringComparison.Ordinal) && !described.Contains($"{e.Method} {Bare(e.Path)}")).ToList();
        Assert.True(left.Count > 25);
        foreach (var (method, path) in left)
        {
            Assert.Equal("GET", method);
            foreach (var role in Roles)
            {
                using var answer = await project.Clients[role].Answer(HttpMethod.Get, Parameter().Replace(path, m => m.Value.StartsWith("{id", StringComparison.Ordinal) ? $"{project.Mine}" : "md"));
                var isAllowed = role is "reader" or "planner" || (role == "writer" && path.Contains("/brief.", StringComparison.Ordinal));
                var status = (int)answer.StatusCode;
                Assert.True(isAllowed ? status is not (401 or 403) : status == (role == "nobody" ? 401 : 403), $"{role} {path}: {status}");
            }
        }
    }

    [GeneratedRegex(@"\{[^}]*\}")]
    private static partial Regex Parameter();

    private static string Bare(string path) => Parameter().Replace(path, "{}");

    /// <summary>The document covers all that the program serves, so that none is left out of the table above.</summary>
    [Fact]
    public async Task TheDocumentIsThatOfThisProgram()
    {
        var (_, served) = await project.Clients["reader"].Get("/api/openapi.json");
        string[] Of(JsonElement paths) => [.. paths.EnumerateObject().SelectMany(p => p.Value.EnumerateObject().Select(m => $"{m.Name} {p.Name}")).Order(StringComparer.Ordinal)];
        Assert.Equal(Of(served.GetProperty("paths")), Of(Paths));
        Assert.True(Of(Paths).Length > 150);
    }

    [Fact]
    public async Task AWriterReachesTheirOwnBriefsAlone()
    {
        var wim = project.Clients["writer"];
        var mine = Assert.Single((await wim.Get("/api/my-briefs")).Body.EnumerateArray());
        Assert.Equal((project.Mine, "Fenwater", $"/p/project/my-briefs/{project.Mine}"), (Id(mine), Text(mine, "projectName"), Text(mine, "page")));
        Assert.Equal(200, (await wim.Get($"/api/briefs/{project.Mine}")).Status);
        Assert.Equal(200, (await wim.Send(HttpMethod.Post, $"/api/briefs/{project.Mine}/check", new { text = "# Kayak dry suit" })).Status);
        // Another's brief is to them as one that is not there.
        foreach (var id in new[] { project.Others, 987_654 })
        {
            foreach (var (method, path) in new[] { (HttpMethod.Get, ""), (HttpMethod.Post, "/check"), (HttpMethod.Post, "/texts"), (HttpMethod.Get, "/brief.md") })
            {
                var (status, problem) = await wim.Send(method, $"/api/briefs/{id}{path}", method == HttpMethod.Post ? new { text = "x" } : null);
                Assert.Equal((404, $"There is no brief {id}."), (status, Text(problem, "detail")));
            }

            using var page = await wim.Answer(HttpMethod.Get, $"/p/project/my-briefs/{id}");
            Assert.Equal(404, (int)page.StatusCode);
        }

        Assert.Empty((await project.Clients["reader"].Get("/api/my-briefs")).Body.EnumerateArray());
    }

    [Fact]
    public async Task AWriterReadsChecksAndHandsIn()
    {
        var (wim, ada) = (project.Clients["writer"], project.Clients["planner"]);
        await ada.Send(HttpMethod.Put, $"/api/briefs/{project.Mine}", new { state = "sent" });
        var path = $"/my-briefs/{project.Mine}";
        using var page = await wim.Answer(HttpMethod.Get, path);
        var html = await page.Content.ReadAsStringAsync();
        Assert.Contains("Hand in", html, StringComparison.Ordinal);
        var token = System.Net.WebUtility.HtmlDecode(html.Split("name=\"token\" value=\"")[1].Split('"')[0]);
        // The header is not needed where the form has the token.
        (var header, wim.Token) = (wim.Token, null);
        try
        {
            Assert.Equal(400, (await Post([])).Status);
            var (status, says) = await Post(new() { ["token"] = token, ["text"] = "# Kayak dry suit\n\nA dry suit keeps water out." });
            Assert.Equal(200, status);
            Assert.DoesNotContain("Handed in", says, StringComparison.Ordinal);
            Assert.Empty((await ada.Get($"/api/briefs/{project.Mine}")).Body.GetProperty("texts").EnumerateArray());
            (status, says) = await Post(new() { ["token"] = token, ["text"] = "# Kayak dry suit\n\nA dry suit keeps water out.", ["hand-in"] = "yes" });
            Assert.Contains("Handed in", says, StringComparison.Ordinal);
        }
        finally
        {
            wim.Token = header;
        }

        var brief = (await ada.Get($"/api/briefs/{project.Mine}")).Body;
        Assert.Equal("Wim", Text(Assert.Single(brief.GetProperty("texts").EnumerateArray()), "author"));
        Assert.Equal("returned", Text(brief.GetProperty("row"), "state"));
        Assert.Equal("Wim", Text(brief.GetProperty("history")[0], "author"));

        async Task<(int Status, string Html)> Post(Dictionary<string, string> fields)
        {
            using var form = new FormUrlEncodedContent(fields);
            using var answer = await wim.Answer(HttpMethod.Post, path, form);
            return ((int)answer.StatusCode, await answer.Content.ReadAsStringAsync());
        }
    }

    [Fact]
    public async Task AWritersBriefsOfAllProjectsAreInOneList()
    {
        var (wim, ada) = (project.Clients["writer"], project.Clients["planner"]);
        var (status, copy) = await ada.Send(HttpMethod.Post, "/api/projects/project/duplicate", new { name = "Another market", withData = true });
        Assert.Equal(201, status);
        var id = Text(copy, "id");
        try
        {
            var briefs = (await wim.Get("/api/my-briefs")).Body.EnumerateArray().ToList();
            Assert.Equal(["project", id], briefs.Select(b => Text(b, "project")).OrderByDescending(p => p == "project"));
            Assert.Contains("Another market", briefs.Select(b => Text(b, "projectName")));
            foreach (var brief in briefs)
            {
                using var page = await wim.Answer(HttpMethod.Get, Text(brief, "page"));
                Assert.Equal(200, (int)page.StatusCode);
            }

            // What is put away is not worked on.
            Assert.Equal(200, (await ada.Send(HttpMethod.Post, $"/api/projects/{id}/archive")).Status);
            Assert.Equal("project", Text(Assert.Single((await wim.Get("/api/my-briefs")).Body.EnumerateArray()), "project"));
        }
        finally
        {
            await ada.Send(HttpMethod.Delete, $"/api/projects/{id}");
        }
    }

    /// <summary>The histories of a step and a brief name their authors, and so does a step's comment.</summary>
    [Fact]
    public async Task HistoriesOfStepsAndBriefsNameTheirAuthors()
    {
        var ada = project.Clients["planner"];
        var cluster = Id(Rows((await ada.Get("/api/clusters")).Body)[0]);
        Assert.Equal(200, (await ada.Send(HttpMethod.Post, $"/api/page-map/{cluster}/planned", new { url = "/suits", workingTitle = "Suits" })).Status);
        var step = Id(Rows((await ada.Get("/api/plan/steps")).Body)[0]);
        await ada.Send(HttpMethod.Post, $"/api/plan/steps/{step}/comments", new { says = "needs a picture" });
        var entries = (await ada.Get($"/api/plan/steps/{step}")).Body.GetProperty("entries").EnumerateArray().ToList();
        Assert.NotEmpty(entries);
        Assert.All(entries, e => Assert.Equal("Ada", Text(e, "author")));
        Assert.All((await ada.Get($"/api/briefs/{project.Others}")).Body.GetProperty("history").EnumerateArray(), e => Assert.Equal("Ada", Text(e, "author")));
    }

    [Fact]
    public async Task ALinkForAWriterNeedsNoSignIn()
    {
        var ada = project.Clients["planner"];
        Assert.Equal(204, (await ada.Send(HttpMethod.Put, $"/api/briefs/{project.Others}/link", new { days = 3 })).Status);
        var link = (await ada.Get($"/api/briefs/{project.Others}")).Body.GetProperty("link");
        Assert.False(link.GetProperty("isLocal").GetBoolean());
        var nobody = project.Clients["nobody"];
        using var page = await nobody.Answer(HttpMethod.Get, Text(link, "path"));
        Assert.Equal(200, (int)page.StatusCode);
        Assert.DoesNotContain("Hand in", await page.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        using var form = new FormUrlEncodedContent(new Dictionary<string, string> { ["text"] = "# Rolling", ["hand-in"] = "yes" });
        using var check = await nobody.Answer(HttpMethod.Post, Text(link, "path"), form);
        Assert.Equal(200, (int)check.StatusCode);
        Assert.Empty((await ada.Get($"/api/briefs/{project.Others}")).Body.GetProperty("texts").EnumerateArray());
        using var none = await nobody.Answer(HttpMethod.Get, "/brief/none");
        Assert.Equal(404, (int)none.StatusCode);
    }
}
