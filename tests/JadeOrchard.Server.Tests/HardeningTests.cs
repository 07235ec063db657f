using System.Collections.Concurrent;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;

namespace JadeOrchard.Server.Tests;

/// <summary>What other sites, wrong requests and old keys cannot do.</summary>
public sealed class HardeningTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Theory]
    [InlineData("Origin", "https://elsewhere.example", "POST", "/api/undo")]
    [InlineData("Origin", "http://localhost:1", "POST", "/api/undo")]
    [InlineData("Origin", "null", "PUT", "/api/project")]
    [InlineData("Sec-Fetch-Site", "cross-site", "GET", "/favicon.svg")]
    [InlineData("Sec-Fetch-Site", "same-site", "GET", "/api/project")]
    [InlineData("Host", "elsewhere.example", "GET", "/api/project")]
    public async Task OtherSitesAreRefused(string header, string value, string method, string path)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path);
        request.Headers.TryAddWithoutValidation(header, value);
        var answer = await _app.Http.SendAsync(request);
        Assert.Equal(HttpStatusCode.Forbidden, answer.StatusCode);
        Assert.Equal("/problems/foreign", (await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("type").GetString());
    }

    [Fact]
    public async Task OurOwnPagesAreAnswered()
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/undo");
        request.Headers.TryAddWithoutValidation("Origin", "http://localhost");
        Assert.Equal(HttpStatusCode.OK, (await _app.Http.SendAsync(request)).StatusCode);
        var answer = await _app.Http.GetAsync("/api/project");
        Assert.Equal("no-store", answer.Headers.CacheControl!.ToString());
        Assert.Contains("form-action 'self'; base-uri 'none'", answer.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
        Assert.Equal("same-origin", answer.Headers.GetValues("Cross-Origin-Resource-Policy").Single());
    }

    [Theory]
    [InlineData("GET", "/api/pages?limit=abc", null, 400, "'abc' is no value that limit can have.")]
    [InlineData("GET", "/api/findings?kind=2", null, 400, "'2' is no value that kind can have.")]
    [InlineData("GET", "/api/findings?kind=conflict,uncovered", null, 400, "'conflict,uncovered' is no value that kind can have.")]
    [InlineData("GET", "/api/findings?kind=nothing", null, 400, "is no value that kind can have.")]
    [InlineData("PUT", "/api/services/2", "{\"address\":\"\"}", 404, "There is no service 2.")]
    [InlineData("POST", "/api/clusters/regroup", "{\"depth\":10,\"minOverlap\":4,\"rule\":1}", 400, "The value of rule is of the wrong kind.")]
    [InlineData("POST", "/api/clusters/regroup", "{\"depth\":\"ten\"}", 400, "The value of depth is of the wrong kind.")]
    [InlineData("POST", "/api/clusters/regroup", "{", 400, "The body is no proper JSON")]
    [InlineData("POST", "/api/clusters/regroup", "", 400, "The request has no body.")]
    [InlineData("POST", "/api/keywords/paste", "{}", 400, "The body lacks text.")]
    [InlineData("POST", "/api/uploads", "x", 400, "fileName is missing.")]
    [InlineData("GET", "/api/nothing", null, 404, "There is nothing at this address")]
    [InlineData("DELETE", "/api/project", null, 405, "does not take this method")]
    public async Task WhatIsWrongIsSaid(string method, string path, string? body, int status, string says)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path);
        if (body is { Length: > 0 })
            request.Content = new StringContent(body, Encoding.UTF8, path.EndsWith("uploads", StringComparison.Ordinal) ? "application/octet-stream" : "application/json");
        await Says(request, status, says);
    }

    [Theory]
    [InlineData("/api/clusters/regroup")]
    [InlineData("/api/uploads?fileName=a.csv")]
    public async Task AWrongContentTypeIsSaid(string path)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, path) { Content = new StringContent("x", Encoding.UTF8, "text/plain") };
        await Says(request, 415, "Send a body as application/json, and a file as application/octet-stream");
    }

    [Fact]
    public async Task AKeyGoesToNoOtherHostAndLeavesNoTrace()
    {
        const string key = "key-that-nobody-is-to-find";
        async Task<bool> HasKeyAfter(object service)
        {
            Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/services/search", service)).Status);
            return (await _app.Get("/api/services")).EnumerateArray().Single(s => s.GetProperty("name").GetString() == "search").GetProperty("hasKey").GetBoolean();
        }

        Assert.True(await HasKeyAfter(new { address = "http://search.example/v1", key }));
        Assert.True(await HasKeyAfter(new { address = "http://search.example/v2" }));
        Assert.Contains(key, Stored(), StringComparison.Ordinal);
        foreach (var elsewhere in new[] { "https://search.example/v2", "http://other.example/v2", "http://search.example:81/v2" })
        {
            Assert.False(await HasKeyAfter(new { address = elsewhere }));
            Assert.DoesNotContain(key, Stored(), StringComparison.Ordinal);
            Assert.True(await HasKeyAfter(new { address = "http://search.example/v2", key }));
        }

        Assert.False(await HasKeyAfter(new { address = "http://search.example/v2", key = "" }));
        Assert.DoesNotContain(key, Stored(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task UploadsGoWithTheirJob()
    {
        string data;
        string[] Uploads() => Directory.GetFiles(Path.Combine(data, "projects", "project", "uploads"));
        using (var app = new Application(keepsData: true))
        {
            data = app.Data;
            await app.Import("keywords", "keyword\nkayak\n");
            for (var i = 0; i < 200 && Uploads().Length > 0; i++)
                await Task.Delay(20);
            Assert.Empty(Uploads());
            await app.Upload("left.csv", "keyword\npaddle\n");
            Assert.Single(Uploads());
        }

        using var again = new Application(data);
        for (var i = 0; i < 200 && Uploads().Length > 0; i++)
            await Task.Delay(20);
        Assert.Empty(Uploads());
    }

    [Fact]
    public async Task AServiceThatAlwaysHasMoreIsLeftAtAMillionRowsAMonth()
    {
        // By question, since one that takes long is asked again.
        var asked = new ConcurrentDictionary<string, bool>();
        await using var service = await Outside.Site(app => app.Run(context =>
        {
            asked.TryAdd(context.Request.QueryString.Value!, true);
            return context.Response.WriteAsJsonAsync(new
            {
                rows = new[] { new { query = "kayak", page = "https://www.fenwater.example/", day = "2026-10-05", clicks = 1, impressions = 2, position = 3.5 } },
                more = true,
            });
        }));
        await _app.Send(HttpMethod.Put, "/api/project", new { name = "", host = "fenwater.example", country = "GB", language = "en", brandTerms = Array.Empty<string>() });
        await _app.Send(HttpMethod.Put, "/api/services/performance", new { address = Outside.AddressOf(service) });
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/performance", new { from = "2026-09-01", to = "2026-10-31" });
        Assert.True(status == 202, job.ToString());
        job = await _app.Ended(job);
        Assert.Equal(("done", 200), (job.GetProperty("state").GetString(), asked.Count));
        Assert.Contains("of 2 months only the first 1,000,000 rows were read", job.GetProperty("message").GetString(), StringComparison.Ordinal);
    }

    private async Task Says(HttpRequestMessage request, int status, string says)
    {
        var answer = await _app.Http.SendAsync(request);
        var text = await answer.Content.ReadAsStringAsync();
        Assert.True((int)answer.StatusCode == status, $"{(int)answer.StatusCode} {text}");
        var problem = JsonSerializer.Deserialize<JsonElement>(text);
        Assert.StartsWith("/problems/", problem.GetProperty("type").GetString(), StringComparison.Ordinal);
        Assert.Contains(says, problem.GetProperty("detail").GetString(), StringComparison.Ordinal);
    }

    private string Stored()
    {
        var text = new StringBuilder();
        foreach (var file in Directory.GetFiles(_app.Folder, "project.db*"))
        {
            using var stream = new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);
            using var reader = new StreamReader(stream, Encoding.Latin1);
            text.Append(reader.ReadToEnd());
        }

        return text.ToString();
    }
}
