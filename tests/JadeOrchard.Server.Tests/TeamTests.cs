using System.Net;
using System.Net.Http.Headers;
using System.Text.Json;
using JadeOrchard.Storage.Team;

namespace JadeOrchard.Server.Tests;

/// <summary>Signing in, and what others see of changes, over real connections.</summary>
public sealed class TeamTests : IDisposable
{
    private readonly TeamApplication _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task OnTheMachineItselfNobodySignsIn()
    {
        using var here = _app.OnMachine();
        Assert.Equal(200, (await here.Get("/api/project")).Status);
        Assert.False((await here.Get("/api/session")).Body.GetProperty("hasSignIn").GetBoolean());
        Assert.Equal(200, (await here.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "kayak" })).Status);
        Assert.Equal(409, (await here.Send(HttpMethod.Post, "/api/session", new { name = "Ada", password = "x" })).Status);
        Assert.Equal("", Text((await here.Get("/api/history")).Body[0], "author"));
    }

    /// <summary>A proxy on the machine that passes on to the wrong port would let everybody in.</summary>
    [Theory]
    [InlineData("X-Forwarded-For", "198.51.100.7")]
    [InlineData("Forwarded", "for=198.51.100.7")]
    [InlineData("Via", "1.1 proxy")]
    public async Task WhatAProxyPassesOnIsRefusedOnTheLoopbackPort(string header, string value)
    {
        using var here = _app.OnMachine();
        here.Headers[header] = value;
        var (status, problem) = await here.Get("/api/project");
        Assert.Equal((403, "/problems/proxy"), (status, Text(problem, "type")));
        Assert.Contains("--listen", Text(problem, "detail"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task WhoHasNotSignedInReachesNothing()
    {
        using var nobody = _app.Elsewhere();
        foreach (var path in new[] { "/api/project", "/p/project/api/keywords", "/api/projects", "/p/none/api/keywords", "/api/nothing", "/api/openapi.json", "/api/jobs/events", "/api/team" })
        {
            var (status, problem) = await nobody.Get(path);
            Assert.True((status, Text(problem, "type")) == (401, "/problems/sign-in"), path);
        }

        Assert.Equal(401, (await nobody.Send(HttpMethod.Post, "/api/undo")).Status);
        var session = (await nobody.Get("/api/session")).Body;
        Assert.True(session.GetProperty("hasSignIn").GetBoolean());
        Assert.Equal(JsonValueKind.Null, session.GetProperty("user").ValueKind);
        // Pages neither lead to a project nor tell which there are: one that there is answers as one that there is not.
        foreach (var path in new[] { "/", "/keywords", "/p/project/", "/p/none/", "/projects", "/p/project/my-briefs/1" })
        {
            using var answer = await nobody.Answer(HttpMethod.Get, path);
            Assert.True(answer.Headers.Location is null, path);
            Assert.Equal((await nobody.Answer(HttpMethod.Get, "/p/none/")).StatusCode, answer.StatusCode);
        }
    }

    /// <summary>However an address is written, it leads either to the front end, which holds nothing of a project, or is refused.</summary>
    [Theory]
    [InlineData("//api/project")]
    [InlineData("/p/project//api/project")]
    [InlineData("/./api/project")]
    [InlineData("/API/project")]
    [InlineData("/%61pi/project")]
    [InlineData("/p/project/api%2fproject")]
    [InlineData("/api;x/project")]
    [InlineData("/brief/../api/project")]
    [InlineData("/guide/../api/project")]
    [InlineData("/assets/..%2fapi/project")]
    [InlineData("/p/project/brief/%2e%2e/api/project")]
    [InlineData("/index.html/api/project")]
    [InlineData("/api/project.json")]
    [InlineData("/P/project/api/project")]
    [InlineData("/MY-BRIEFS/1")]
    [InlineData("/p/project/my-briefs/1.html")]
    public async Task NoWayOfWritingAnAddressLeadsAroundSigningIn(string path)
    {
        using var ada = await _app.SignedIn("Ada", Role.Planner);
        Assert.Equal(204, (await ada.Send(HttpMethod.Put, "/api/project", new { name = "Secret plans", host = "fenwater.example", country = "gb", language = "en", brandTerms = Array.Empty<string>() })).Status);
        using var nobody = new HttpClient(new SocketsHttpHandler { AllowAutoRedirect = false });
        var address = new Uri(_app.TeamAddress.GetLeftPart(UriPartial.Authority) + path, new UriCreationOptions { DangerousDisablePathAndQueryCanonicalization = true });
        using var answer = await nobody.GetAsync(address);
        Assert.DoesNotContain("Secret plans", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Null(answer.Headers.Location);
        Assert.True(answer.Content.Headers.ContentType?.MediaType is not "application/json", path);
    }

    [Fact]
    public async Task ASessionIsACookieThatScriptsAndOtherSitesDoNotGet()
    {
        using var ada = await _app.SignedIn("Ada", Role.Planner);
        foreach (var part in new[] { "secure", "httponly", "samesite=lax", "path=/" })
            Assert.Contains(part, ada.SetCookies["jade-session"].Split("; ").Select(p => p.ToLowerInvariant()));
        foreach (var part in new[] { "secure", "httponly", "samesite=strict" })
            Assert.Contains(part, ada.SetCookies["jade-token"].Split("; ").Select(p => p.ToLowerInvariant()));
        var (_, session) = await ada.Get("/api/session");
        Assert.Equal(("Ada", "planner"), (Text(session.GetProperty("user"), "name"), Text(session.GetProperty("user"), "role")));
        Assert.Equal(200, (await ada.Get("/api/project")).Status);
        // A cookie that somebody else has is no session of this program.
        ada.Cookies["jade-session"] = ada.Cookies["jade-session"][..^4] + "AAAA";
        Assert.Equal(401, (await ada.Get("/api/project")).Status);
    }

    [Fact]
    public async Task AfterSigningOutTheCookieIsWorthNothing()
    {
        using var ada = await _app.SignedIn("Ada", Role.Planner);
        using var thief = _app.Elsewhere();
        foreach (var (name, value) in ada.Cookies)
            thief.Cookies[name] = value;
        thief.Token = ada.Token;
        Assert.Equal(200, (await thief.Get("/api/project")).Status);
        Assert.Equal(204, (await ada.Send(HttpMethod.Delete, "/api/session")).Status);
        Assert.False(ada.Cookies.ContainsKey("jade-session"));
        Assert.Equal(401, (await thief.Get("/api/project")).Status);
    }

    [Fact]
    public async Task AnotherPasswordOrRoleEndsSessions()
    {
        using var ada = await _app.SignedIn("Ada", Role.Planner);
        using var bo = await _app.SignedIn("Bo", Role.Reader);
        var users = (await ada.Get("/api/team")).Body.GetProperty("users").EnumerateArray().ToDictionary(u => Text(u, "name"), u => Id(u));
        Assert.Equal(200, (await bo.Get("/api/project")).Status);
        Assert.Equal(204, (await ada.Send(HttpMethod.Put, $"/api/team/{users["Bo"]}", new { role = "writer" })).Status);
        Assert.Equal(401, (await bo.Get("/api/project")).Status);
        Assert.Equal(200, (await bo.SignIn("bo", TeamApplication.Password)).Status);
        Assert.Equal(403, (await bo.Get("/api/project")).Status);
        // Bo chooses a password: other sessions end, this one goes on.
        using var other = _app.Elsewhere();
        Assert.Equal(200, (await other.SignIn("BO", TeamApplication.Password)).Status);
        Assert.Equal(400, (await bo.Send(HttpMethod.Put, "/api/session/password", new { current = "wrong", password = "another four words" })).Status);
        var (status, session) = await bo.Send(HttpMethod.Put, "/api/session/password", new { current = TeamApplication.Password, password = "another four words" });
        Assert.Equal(200, status);
        bo.Token = Text(session, "token");
        Assert.Equal(200, (await bo.Get("/api/my-briefs")).Status);
        Assert.Equal(401, (await other.Get("/api/my-briefs")).Status);
        Assert.Equal(401, (await other.SignIn("Bo", TeamApplication.Password)).Status);
        Assert.Equal(204, (await ada.Send(HttpMethod.Delete, $"/api/team/{users["Bo"]}")).Status);
        Assert.Equal(401, (await bo.Get("/api/my-briefs")).Status);
        Assert.Equal(404, (await ada.Send(HttpMethod.Delete, $"/api/team/{users["Bo"]}")).Status);
    }

    [Fact]
    public async Task TheLastPlannerStays()
    {
        using var ada = await _app.SignedIn("Ada", Role.Planner);
        var id = Id((await ada.Get("/api/team")).Body.GetProperty("users")[0]);
        Assert.Equal(409, (await ada.Send(HttpMethod.Delete, $"/api/team/{id}")).Status);
        Assert.Equal(409, (await ada.Send(HttpMethod.Put, $"/api/team/{id}", new { role = "reader" })).Status);
        // Nor is half of a change made where the other half is refused.
        Assert.Equal(409, (await ada.Send(HttpMethod.Put, $"/api/team/{id}", new { role = "reader", password = "another four words" })).Status);
        Assert.Equal(200, (await ada.Get("/api/team")).Status);
        Assert.NotNull(_app.Team.Verify("Ada", TeamApplication.Password));
        var (status, problem) = await ada.Send(HttpMethod.Post, "/api/team", new { name = "ADA", role = "reader", password = "four words and more" });
        Assert.Equal((400, "name"), (status, Text(problem, "field")));
        Assert.Equal(400, (await ada.Send(HttpMethod.Post, "/api/team", new { name = "Cy", role = "reader", password = "short" })).Status);
        Assert.Equal(201, (await ada.Send(HttpMethod.Post, "/api/team", new { name = "Cy", role = "planner", password = "four words and more" })).Status);
        Assert.Equal(204, (await ada.Send(HttpMethod.Put, $"/api/team/{id}", new { role = "reader" })).Status);
    }

    [Fact]
    public async Task AChangeWithoutTheTokenIsRefused()
    {
        using var ada = await _app.SignedIn("Ada", Role.Planner);
        var token = ada.Token;
        foreach (var wrong in new[] { null, "", "nonsense", token![..^3] + "AAA" })
        {
            ada.Token = wrong;
            var (status, problem) = await ada.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "kayak" });
            Assert.Equal((400, "/problems/token"), (status, Text(problem, "type")));
        }

        // Another's token is not enough either.
        using var bo = await _app.SignedIn("Bo", Role.Planner);
        ada.Token = bo.Token;
        Assert.Equal(400, (await ada.Send(HttpMethod.Post, "/api/undo")).Status);
        ada.Token = token;
        Assert.Equal(0, (await ada.Get("/api/keywords")).Body.GetProperty("tally").GetProperty("rows").GetInt64());
        Assert.Equal(200, (await ada.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "kayak" })).Status);
        // A page of another site is refused before that.
        ada.Headers["Origin"] = "https://evil.example";
        Assert.Equal(403, (await ada.Send(HttpMethod.Post, "/api/undo")).Status);
        ada.Headers["Origin"] = $"https://{_app.TeamAddress.Authority}";
        Assert.Equal(200, (await ada.Send(HttpMethod.Post, "/api/undo")).Status);
    }

    [Fact]
    public async Task WhoGuessesPasswordsHasToWait()
    {
        _app.Team.Add("Ada", Role.Planner, TeamApplication.Password);
        using var guesser = _app.Elsewhere();
        for (var i = 0; i < 5; i++)
        {
            var (wrong, problem) = await guesser.SignIn(i % 2 == 0 ? "Ada" : "ada ", $"guess {i}");
            Assert.Equal((401, "The name or the password is wrong."), (wrong, Text(problem, "detail")));
        }

        using var answer = await guesser.Answer(HttpMethod.Post, "/api/session", System.Net.Http.Json.JsonContent.Create(new { name = "Ada", password = TeamApplication.Password }));
        Assert.Equal(HttpStatusCode.TooManyRequests, answer.StatusCode);
        Assert.InRange(answer.Headers.RetryAfter!.Delta!.Value.TotalSeconds, 1, 60);
        // From elsewhere Ada herself still can.
        using var ada = _app.Elsewhere();
        ada.Headers["X-Forwarded-For"] = "203.0.113.9";
        Assert.Equal(200, (await ada.SignIn("Ada", TeamApplication.Password)).Status);
        // What the guesser says of where requests come from beyond the proxy changes nothing.
        guesser.Headers["X-Forwarded-For"] = "203.0.113.77, 198.51.100.7";
        Assert.Equal(429, (await guesser.SignIn("Ada", TeamApplication.Password)).Status);
    }

    [Fact]
    public async Task ForwardedHeadersCountOnlyFromNamedProxies()
    {
        using var app = new TeamApplication(proxy: "203.0.113.1");
        app.Team.Add("Ada", Role.Planner, TeamApplication.Password);
        using var ada = app.Elsewhere();
        ada.Headers["Origin"] = $"https://{app.TeamAddress.Authority}";
        var (status, problem) = await ada.SignIn("Ada", TeamApplication.Password);
        Assert.Equal(403, status);
        Assert.Contains("--proxy", Text(problem, "detail"), StringComparison.Ordinal);
        // Addresses that anybody can claim do not get around the wait.
        ada.Headers.Remove("Origin");
        for (var i = 0; i < 5; i++)
        {
            ada.Headers["X-Forwarded-For"] = $"198.51.100.{i}";
            Assert.Equal(401, (await ada.SignIn("Ada", "guess")).Status);
        }

        ada.Headers["X-Forwarded-For"] = "198.51.100.99";
        Assert.Equal(429, (await ada.SignIn("Ada", TeamApplication.Password)).Status);
    }

    /// <summary>Browsers take what comes from their own machine for secure (W3C Secure Contexts, 3.1), so that it can be tried without a proxy.</summary>
    [Fact]
    public async Task FromTheMachineItselfSigningInTakesNoHttps()
    {
        _app.Team.Add("Ada", Role.Planner, TeamApplication.Password);
        using var ada = _app.Elsewhere();
        ada.Headers.Clear();
        Assert.Equal(200, (await ada.SignIn("Ada", TeamApplication.Password)).Status);
        Assert.Contains("secure", ada.SetCookies["jade-session"], StringComparison.OrdinalIgnoreCase);
        Assert.Equal(200, (await ada.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "kayak" })).Status);
    }

    [Fact]
    public async Task WithoutHttpsNobodySignsInFromElsewhere()
    {
        _app.Team.Add("Ada", Role.Planner, TeamApplication.Password);
        using var ada = _app.Elsewhere();
        ada.Headers["X-Forwarded-Proto"] = "http";
        var (status, problem) = await ada.SignIn("Ada", TeamApplication.Password);
        Assert.Equal(409, status);
        Assert.Contains("HTTPS", Text(problem, "detail"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task HistorySaysWhoMadeEachChangeAndWhoUndidIt()
    {
        using var ada = await _app.SignedIn("Ada", Role.Planner);
        using var bo = await _app.SignedIn("Bo", Role.Planner);
        await ada.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "kayak" });
        await bo.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "paddle" });
        Assert.Equal("Bo", Text((await ada.Get("/api/project")).Body, "undoAuthor"));
        await ada.Send(HttpMethod.Post, "/api/undo");
        var history = (await ada.Get("/api/history")).Body.EnumerateArray().Select(h => (Text(h, "author"), Text(h, "replayedBy"), h.GetProperty("isUndone").GetBoolean())).ToList();
        Assert.Equal([("Bo", "Ada", true), ("Ada", "", false)], history);
        var view = (await bo.Get("/api/project")).Body;
        Assert.Equal(("Ada", "Bo"), (Text(view, "undoAuthor"), Text(view, "redoAuthor")));
        // A job is its author's, and so is its step, though nobody's request makes it.
        var (_, upload) = await Upload(ada, "keyword,volume\ndry suit,10\n");
        var (_, job) = await ada.Send(HttpMethod.Post, "/api/imports", new { uploadId = Text(upload, "uploadId"), fileName = "list.csv", kind = "keywords", columns = upload.GetProperty("columns").GetProperty("keywords") });
        Assert.Equal("Ada", Text(job, "author"));
        for (var i = 0; i < 200 && Text((await bo.Get($"/api/jobs/{Id(job)}")).Body, "state") != "done"; i++)
            await Task.Delay(50);
        Assert.Equal("Ada", Text((await bo.Get("/api/history")).Body[0], "author"));
    }

    /// <summary>What somebody changes, others are told: what it touched, what it is called, and by whom.</summary>
    [Fact]
    public async Task OthersAreToldOfAChange()
    {
        using var ada = await _app.SignedIn("Ada", Role.Planner);
        using var bo = await _app.SignedIn("Bo", Role.Reader);
        using var events = await bo.Answer(HttpMethod.Get, "/api/jobs/events");
        Assert.Equal("text/event-stream", events.Content.Headers.ContentType!.MediaType);
        using var reader = new StreamReader(await events.Content.ReadAsStreamAsync());
        Assert.Equal("jobs", (await Next(reader)).Event);
        ada.Headers["Jade-Window"] = "a1";
        await ada.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "kayak" });
        var told = await Change(reader);
        Assert.Equal(("Ada", "a1"), (Text(told, "author"), Text(told, "window")));
        Assert.Contains("keywords", told.GetProperty("areas").EnumerateArray().Select(a => a.GetString()));
        var label = Text((await ada.Get("/api/history")).Body[0], "label");
        Assert.Equal(label, Text(told, "says"));
        await ada.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal($"Undone: {label}", Text(await Change(reader), "says"));
        // What is refused or only asked is no change, so that the next news is of what comes after it.
        Assert.Equal(400, (await ada.Send(HttpMethod.Put, "/api/project", new { name = "x", host = "no host", country = "gb", language = "en", brandTerms = Array.Empty<string>() })).Status);
        await ada.Send(HttpMethod.Post, "/api/keywords/tally", new { });
        await ada.Send(HttpMethod.Post, "/api/redo");
        Assert.Equal($"Redone: {label}", Text(await Change(reader), "says"));
    }

    /// <summary>Whoever may no longer sign in hears no more.</summary>
    [Fact]
    public async Task ARemovedUserIsToldNothingMore()
    {
        using var ada = await _app.SignedIn("Ada", Role.Planner);
        using var bo = await _app.SignedIn("Bo", Role.Reader);
        using var events = await bo.Answer(HttpMethod.Get, "/api/jobs/events");
        using var reader = new StreamReader(await events.Content.ReadAsStreamAsync());
        await Next(reader);
        _app.Team.Remove(_app.Team.Named("Bo")!.Id);
        await ada.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "kayak" });
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        var rest = await reader.ReadToEndAsync(patience.Token);
        Assert.DoesNotContain("Ada", rest, StringComparison.Ordinal);
    }

    private static async Task<JsonElement> Change(StreamReader reader)
    {
        for (; ; )
        {
            if (await Next(reader) is ("change", var data))
                return data;
        }
    }

    /// <summary>The next event of a stream (WHATWG HTML, 9.2.6).</summary>
    private static async Task<(string Event, JsonElement Data)> Next(StreamReader reader)
    {
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        var (name, data) = ("", "");
        for (; ; )
        {
            var line = await reader.ReadLineAsync(patience.Token) ?? throw new EndOfStreamException();
            if (line.StartsWith("event:", StringComparison.Ordinal))
                name = line[6..].Trim();
            else if (line.StartsWith("data:", StringComparison.Ordinal))
                data += line[5..];
            else if (line.Length == 0 && name.Length > 0)
                return (name, JsonSerializer.Deserialize<JsonElement>(data));
        }
    }

    private static async Task<(int, JsonElement)> Upload(TeamClient client, string text)
    {
        using var content = new StringContent(text);
        content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        using var answer = await client.Answer(HttpMethod.Post, "/api/uploads?fileName=list.csv", content);
        return ((int)answer.StatusCode, JsonSerializer.Deserialize<JsonElement>(await answer.Content.ReadAsStringAsync()));
    }
}
