using System.Net.Http.Json;
using System.Text.Json;
using JadeOrchard.Storage.Team;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace JadeOrchard.Server.Tests;

/// <summary>The real application with an address for a team, over real connections: the loopback port, and the one where everybody signs in, behind a proxy with TLS.</summary>
public sealed class TeamApplication : IDisposable
{
    public const string Password = "four words and some";

    private readonly WebApplicationFactory<Program> _factory;
    private readonly int _port = ServerProcess.FreePort();

    /// <param name="proxy">Whose word is taken; ours comes from 127.0.0.1.</param>
    public TeamApplication(string proxy = "127.0.0.1")
    {
        Data = Directory.CreateTempSubdirectory("jade-team-").FullName;
        JadeOrchard.Tests.EmptyProject.In(Directory.CreateDirectory(Path.Combine(Data, "projects", "project")).FullName);
        var teamPort = ServerProcess.FreePort();
        _factory = new WebApplicationFactory<Program>().WithWebHostBuilder(host => host
            .UseSetting("data", Data)
            .UseSetting("port", $"{_port}")
            .UseSetting("listen", "127.0.0.1")
            .UseSetting("listen-port", $"{teamPort}")
            .UseSetting("proxy", proxy));
        _factory.UseKestrel();
        _factory.StartServer();
        TeamAddress = new Uri($"http://127.0.0.1:{teamPort}");
        Team = new TeamStore(Data, TimeProvider.System);
    }

    public string Data { get; }

    public TeamStore Team { get; }

    /// <summary>Where the team signs in.</summary>
    public Uri TeamAddress { get; }

    /// <summary>All that is served: method and path.</summary>
    public IEnumerable<(string Method, string Path)> Endpoints => _factory.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
        .SelectMany(e => (e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? []).Select(m => (m, "/" + e.RoutePattern.RawText!.TrimStart('/'))));

    /// <summary>Somebody at the machine itself, where nobody signs in.</summary>
    public TeamClient OnMachine() => new(new Uri($"http://localhost:{_port}"), isBehindProxy: false);

    /// <summary>Somebody elsewhere, who has not signed in.</summary>
    public TeamClient Elsewhere() => new(TeamAddress, isBehindProxy: true);

    /// <summary>Adds a user, who signs in.</summary>
    public async Task<TeamClient> SignedIn(string name, Role role)
    {
        Team.Add(name, role, Password);
        var client = Elsewhere();
        var (status, body) = await client.SignIn(name, Password);
        Assert.True(status == 200, body.ToString());
        return client;
    }

    public void Dispose()
    {
        _factory.Dispose();
        for (var i = 0; ; i++)
        {
            try
            {
                Directory.Delete(Data, recursive: true);
                return;
            }
            catch (IOException) when (i < 50)
            {
                // A project that was just being opened beside the requests is closed a moment later.
                Thread.Sleep(100);
            }
        }
    }
}

/// <summary>A browser as far as it matters: it keeps cookies, and sends the token with each change.</summary>
public sealed class TeamClient(Uri address, bool isBehindProxy) : IDisposable
{
    private readonly HttpClient _http = new(new SocketsHttpHandler { UseCookies = false, AllowAutoRedirect = false }) { BaseAddress = address };

    /// <summary>Name and value of each.</summary>
    public Dictionary<string, string> Cookies { get; } = [];

    /// <summary>All that was said of each cookie when it was set.</summary>
    public Dictionary<string, string> SetCookies { get; } = [];

    public string? Token { get; set; }

    /// <summary>Sent with each request.</summary>
    public Dictionary<string, string> Headers { get; } = isBehindProxy ? new() { ["X-Forwarded-Proto"] = "https", ["X-Forwarded-For"] = "198.51.100.7" } : [];

    public void Dispose() => _http.Dispose();

    public async Task<(int Status, JsonElement Body)> SignIn(string name, string password)
    {
        var (status, body) = await Send(HttpMethod.Post, "/api/session", new { name, password });
        if (status == 200)
            Token = body.GetProperty("token").GetString();
        return (status, body);
    }

    public Task<(int Status, JsonElement Body)> Get(string path) => Send(HttpMethod.Get, path);

    public async Task<(int Status, JsonElement Body)> Send(HttpMethod method, string path, object? body = null)
    {
        using var answer = await Answer(method, path, body is null ? null : JsonContent.Create(body));
        var text = await answer.Content.ReadAsStringAsync();
        return ((int)answer.StatusCode, answer.Content.Headers.ContentType?.MediaType?.EndsWith("json", StringComparison.Ordinal) == true ? JsonSerializer.Deserialize<JsonElement>(text) : default);
    }

    /// <summary>The answer as it is; long ones are not waited for.</summary>
    public async Task<HttpResponseMessage> Answer(HttpMethod method, string path, HttpContent? content = null)
    {
        using var request = new HttpRequestMessage(method, path) { Content = content };
        foreach (var (name, value) in Headers)
            request.Headers.Add(name, value);
        if (Cookies.Count > 0)
            request.Headers.Add("Cookie", string.Join("; ", Cookies.Select(c => $"{c.Key}={c.Value}")));
        if (Token is not null && method != HttpMethod.Get)
            request.Headers.Add("Jade-Token", Token);
        var answer = await _http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead);
        foreach (var set in answer.Headers.TryGetValues("Set-Cookie", out var all) ? all : [])
        {
            var (name, rest) = (set[..set.IndexOf('=', StringComparison.Ordinal)], set[(set.IndexOf('=', StringComparison.Ordinal) + 1)..]);
            SetCookies[name] = set;
            if (rest.StartsWith(';'))
                Cookies.Remove(name);
            else
                Cookies[name] = rest.Split(';')[0];
        }

        return answer;
    }
}
