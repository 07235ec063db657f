using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using JadeOrchard.StandIns;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;

namespace JadeOrchard.Server.Tests;

/// <summary>The stand-ins, started once for all tests that reach the outside world, over HTTP on loopback.</summary>
public sealed class Outside : IAsyncLifetime
{
    public const string Key = "key-of-the-tests";

    private readonly WebApplication _app = StandIn.Build(["--scenario", Path.Combine(AppContext.BaseDirectory, "scenario.json"), "--port", "0", "--key", Key]);

    public string Address { get; private set; } = "";

    public HttpClient Http { get; } = new();

    public async Task InitializeAsync()
    {
        await _app.StartAsync();
        Address = AddressOf(_app);
        Http.BaseAddress = new Uri(Address);
        // Rankings are found out once, by searching for everything; no test is to wait for that.
        using var warm = new HttpRequestMessage(HttpMethod.Get, "rankings?host=fenwater.example&country=GB&language=en");
        warm.Headers.Add("X-Api-Key", Key);
        (await Http.SendAsync(warm)).EnsureSuccessStatusCode();
    }

    public async Task DisposeAsync()
    {
        Http.Dispose();
        await _app.StopAsync();
        await _app.DisposeAsync();
    }

    public async Task Tell(string? service, string trouble, int? times = null, int? milliseconds = null, int? retryAfter = null) =>
        Assert.Equal(HttpStatusCode.NoContent, (await Http.PostAsJsonAsync("control", new { service, trouble, times, milliseconds, retryAfter })).StatusCode);

    /// <returns>How often a service was asked, and how often it worked.</returns>
    public async Task<(long Requests, long Answered)> Counts(string service)
    {
        var counts = await Http.GetFromJsonAsync<JsonElement>("control");
        var row = counts.EnumerateArray().Single(c => c.GetProperty("service").GetString() == service);
        return (row.GetProperty("requests").GetInt64(), row.GetProperty("answered").GetInt64());
    }

    public static string AddressOf(WebApplication app) => app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First();

    /// <summary>A site of its own on loopback.</summary>
    public static async Task<WebApplication> Site(Action<IApplicationBuilder> configure)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.WebHost.ConfigureKestrel(kestrel => kestrel.Listen(IPAddress.Loopback, 0));
        var app = builder.Build();
        configure(app);
        await app.StartAsync();
        return app;
    }

    public static Task Html(HttpContext context, string html)
    {
        context.Response.ContentType = "text/html; charset=utf-8";
        return context.Response.WriteAsync(html);
    }
}

[CollectionDefinition(nameof(Outside), DisableParallelization = true)]
public sealed class WithOutside : ICollectionFixture<Outside>;
