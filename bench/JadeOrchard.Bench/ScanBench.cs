using System.Diagnostics;
using System.Net;
using JadeOrchard.Formats.Site;
using JadeOrchard.Server;
using JadeOrchard.Server.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;

namespace JadeOrchard.Bench;

/// <summary>Scans a site of pages on loopback in full, beside the bare fetching and reading of the same pages.</summary>
internal static class ScanBench
{
    private const int Pages = 3_000;
    private const int AtOnce = 4;

    public static async Task Run(string folder)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.ConfigureKestrel(kestrel => kestrel.Listen(IPAddress.Loopback, 0));
        await using var site = builder.Build();
        site.Run(Answer);
        await site.StartAsync();
        var address = site.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First();

        using var http = new HttpClient();
        var clock = Stopwatch.StartNew();
        await Parallel.ForEachAsync(Enumerable.Range(0, Pages), new ParallelOptions { MaxDegreeOfParallelism = AtOnce }, async (page, stop) =>
        {
            var url = new Uri($"{address}/p/{page}");
            HtmlPage.Read(await http.GetByteArrayAsync(url, stop), "utf-8", url, stop);
        });
        var bare = clock.Elapsed.TotalSeconds;

        using var database = Database.Open(Path.Combine(folder, "scan.db"));
        var project = new Project(database, TimeProvider.System, NullLogger<Project>.Instance);
        project.Change(null, (WriteSession session) =>
        {
            ProjectStore.Save(session, new ProjectProfile("Bench", "127.0.0.1", "GB", "en", []));
            ProjectStore.SaveSettings(session, new ProjectSettings
            {
                Scan = new ScanSettings(address + "/", AllowPrivate: true, RatePerSecond: 1_000, AtOnce: AtOnce, MaxPages: 100_000, Depth: ScanDepth.Full),
            });
        });
        var job = project.Change<JobRow>(null, session => JobStore.Find(session, JobStore.Add(session, ScanJob.Name, "Scan", "{}", project.Now))!).Value!;
        clock.Restart();
        var says = await new ScanJob(project, Microsoft.Extensions.Logging.Abstractions.NullLogger<ScanJob>.Instance).RunAsync(job, _ => { }, CancellationToken.None);
        Console.WriteLine($"full scan of {Pages:N0} pages: {clock.Elapsed.TotalSeconds:0.0} s, {clock.Elapsed.TotalSeconds / bare:0.00} times the bare fetching and reading ({says})");
    }

    private static async Task Answer(HttpContext context)
    {
        var path = context.Request.Path.Value!;
        context.Response.ContentType = path.EndsWith(".xml", StringComparison.Ordinal) ? "application/xml" : "text/html; charset=utf-8";
        if (path == "/robots.txt")
            context.Response.StatusCode = 404;
        else if (path == "/sitemap.xml")
            await context.Response.WriteAsync($"<urlset>{string.Concat(Enumerable.Range(0, Pages).Select(p => $"<url><loc>http://{context.Request.Host}/p/{p}</loc></url>"))}</urlset>");
        else
        {
            var links = string.Concat(Enumerable.Range(0, 60).Select(i => $"<li><a href=\"/p/{(path.Length * 977 + (i * 131)) % Pages}\">page {i}</a></li>"));
            await context.Response.WriteAsync($"<!doctype html><title>{path}</title><main><h1>{path}</h1>{string.Concat(Enumerable.Repeat("<h2>Part</h2><p>Words about paddling on cold water, with prices and pictures.</p>", 60))}<ul>{links}</ul></main>");
        }
    }
}
