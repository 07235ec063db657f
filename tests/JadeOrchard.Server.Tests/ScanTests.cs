using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;

namespace JadeOrchard.Server.Tests;

/// <summary>Scans of sites on loopback, honest and hostile.</summary>
public sealed class ScanTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task ASiteWithoutASitemapIsReadByItsLinks()
    {
        const int count = 400;
        await using var site = await Outside.Site(app => app.Run(async context =>
        {
            var path = context.Request.Path.Value!;
            if (path == "/robots.txt")
            {
                await context.Response.WriteAsync("User-agent: JadeOrchard\nDisallow: /private\n");
                return;
            }

            var number = path == "/" ? 0 : int.TryParse(path[3..], out var n) && path.StartsWith("/p/", StringComparison.Ordinal) ? n : -1;
            if (number < 0 || number >= count)
            {
                context.Response.StatusCode = 404;
                return;
            }

            await Outside.Html(context, $"<title>Title {number} &amp; more</title><h1>Heading {number}<a href=\"#h\">¶</a></h1><h2>A</h2><h2>B</h2><p>Some words here.</p>"
                + $"<a href=\"/p/{(2 * number) + 1}\">next {number}</a><a href=\"/p/{(2 * number) + 2}#part\">after</a><a href=\"/private\">no</a><a href=\"/file.pdf\">pdf</a><a href=\"https://elsewhere.example/\">away</a>");
        }));
        var scan = await Scan(Outside.AddressOf(site));
        Assert.Equal("done", Text(scan, "state"));
        var pages = Rows(await _app.Get("/api/pages?limit=500"));
        Assert.Equal(count, pages.Count);
        Assert.All(pages, p =>
        {
            var number = Text(p, "url").EndsWith('/') ? 0 : int.Parse(Text(p, "url").Split('/')[^1], null);
            Assert.Equal(($"Title {number} & more", $"Heading {number}", "A | B"), (Text(p, "title"), Text(p, "h1"), Text(p, "h2")));
            Assert.Equal(number == 0 ? 0 : 1, p.GetProperty("linksIn").GetInt32());
        });
        var unread = await _app.Get($"/api/scans/{scan.GetProperty("id").GetInt64()}/unread");
        Assert.Equal("robots.txt asks not to read it", Text(Assert.Single(unread.EnumerateArray()), "note"));
    }

    [Fact]
    public async Task AConnectionThatBreaksIsTriedAgainAndOneThatAlwaysBreaksIsSaidToBe()
    {
        var asked = 0;
        await using var site = await Outside.Site(app => app.Run(async context =>
        {
            var path = context.Request.Path.Value!;
            if (path == "/broken" || (path == "/shaky" && ++asked <= 2))
                context.Abort();
            else
                await Outside.Html(context, $"<title>Page {path}</title><a href=\"/shaky\">one</a><a href=\"/broken\">two</a>");
        }));
        var scan = await Scan(Outside.AddressOf(site));
        Assert.Equal(("done", 3), (Text(scan, "state"), asked));
        Assert.Contains("Page /shaky", Rows(await _app.Get("/api/pages")).Select(p => Text(p, "title")));
        var unread = await _app.Get($"/api/scans/{scan.GetProperty("id").GetInt64()}/unread");
        Assert.Equal("broke off in the middle of its answer", Text(Assert.Single(unread.EnumerateArray()), "note"));
    }

    [Fact]
    public async Task PrivateAddressesAreRefusedUnlessTheProjectAllowsThem()
    {
        await using var site = await Outside.Site(app => app.Run(context => Outside.Html(context, "<title>Home</title>")));
        var scan = await Scan(Outside.AddressOf(site), allowPrivate: false);
        Assert.Equal("failed", Text(scan, "state"));
        Assert.Contains("is at 127.0.0.1, a private or loopback address, which the scan settings do not allow", Text(scan, "message"), StringComparison.Ordinal);
        Assert.Empty(Rows(await _app.Get("/api/pages")));
    }

    [Fact]
    public async Task AGatewayThatIsDownIsNamedAsTheCause()
    {
        await using var site = await Outside.Site(app => app.Run(context => Outside.Html(context, "<title>Home</title>")));
        var gateway = Outside.AddressOf(site);
        await site.StopAsync();
        await Settings("fenwater.example", allowPrivate: true, gateway);
        var scan = await _app.Ended((await _app.Send(HttpMethod.Post, "/api/scans")).Body);
        Assert.Equal("failed", Text(scan, "state"));
        Assert.Contains($"The scan gateway {gateway}", Text(scan, "message"), StringComparison.Ordinal);
        Assert.Contains("See that the gateway is r", Text(scan, "message"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task UndoAndRedoOfFullScansBringBackEverythingThatWasRead()
    {
        const int count = 30;
        var version = 1;
        await using var site = await Outside.Site(app => app.Run(async context =>
        {
            var path = context.Request.Path.Value!;
            var number = path == "/" ? 0 : int.TryParse(path[1..], out var n) ? n : count;
            if (number >= count || (version == 2 && number == count - 1))
            {
                context.Response.StatusCode = 404;
                return;
            }

            await Outside.Html(context, $"<title>Title {number} of {version}</title><h1>Subject</h1><p>Text {number} {(number % 2 == 0 ? version : 0)} on the water.</p>"
                + string.Concat(Enumerable.Range(1, 4).Select(i => $"<a href=\"/{(number * 2) + i}\">Link {i} of {version}</a>")));
        }));
        await Settings(Outside.AddressOf(site), allowPrivate: true);
        async Task Read() => Assert.Equal("done", Text(await _app.Ended((await _app.Send(HttpMethod.Post, "/api/scans")).Body), "state"));
        async Task Replay(string way) => Assert.StartsWith("Scan", Text((await _app.Send(HttpMethod.Post, "/api/" + way)).Body, "label"), StringComparison.Ordinal);
        var none = Contents.Of(_app.Folder);
        await Read();
        var first = Contents.Of(_app.Folder, withRetained: true);
        Assert.All(new[] { "page", "page_content", "page_title", "page_link", "page_stems" }, table => Assert.True(first[table].Count >= count, table));
        await Replay("undo");
        Contents.AreSame(none, Contents.Of(_app.Folder), "undone");
        await Replay("redo");
        Contents.AreSame(first, Contents.Of(_app.Folder, withRetained: true), "redone");

        version = 2;
        await Read();
        var second = Contents.Of(_app.Folder, withRetained: true);
        await Replay("undo");
        var back = Contents.Of(_app.Folder, withRetained: true);
        Contents.AreSame(Contents.WithoutRetained(first), Contents.WithoutRetained(back), "the second undone");
        // What the first read is all there, with what the second read in case it is redone.
        Assert.All(first, table => Assert.Empty(table.Value.Except(back[table.Key])));
        await Replay("undo");
        await Replay("redo");
        await Replay("redo");
        Contents.AreSame(second, Contents.Of(_app.Folder, withRetained: true), "both redone");
    }

    [Fact]
    public async Task AScanWhoseConsequencesCannotBeStoredClosesItsStepAllTheSame()
    {
        await using var site = await Outside.Site(app => app.Run(context => Outside.Html(context, "<title>Home</title><p>Some words on the water.</p>")));
        await _app.Sql("create trigger no_stems before insert on page_stems begin select raise(abort, 'the disk is full'); end");
        Assert.Equal("failed", Text(await Scan(Outside.AddressOf(site)), "state"));
        await _app.Sql("drop trigger no_stems");
        var (status, undone) = await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.True(status == 200 && Text(undone, "label").EndsWith(", failed", StringComparison.Ordinal), undone.ToString());
        Assert.Equal("done", Text(await Scan(Outside.AddressOf(site)), "state"));
    }

    [Fact]
    public async Task HostilePagesDoNoHarm()
    {
        await using var site = await Outside.Site(app => app.Run(async context =>
        {
            switch (context.Request.Path.Value)
            {
                case "/":
                    await Outside.Html(context, string.Concat(new[] { "loop", "away", "deep", "huge", "gone", "broken", "empty", "text", "bad", "utf7", "half", "flood" }.Select(p => $"<a href='/{p}'>{p}</a>"))
                        + "<a href='http://[::1'>x</a><a href='javascript:alert(1)'>x</a><title>Start</title>");
                    break;
                case "/loop":
                    context.Response.Redirect("/loop?" + context.Request.QueryString.Value + "x");
                    break;
                case "/away":
                    context.Response.Redirect("http://169.254.169.254/secret");
                    break;
                case "/deep":
                    await Outside.Html(context, "<title>Deep</title>" + string.Concat(Enumerable.Repeat("<div>", 100_000)));
                    break;
                case "/huge":
                    context.Response.ContentType = "text/html";
                    await context.Response.WriteAsync("<title>Huge</title>");
                    var blank = Encoding.UTF8.GetBytes(new string(' ', 1 << 20));
                    for (var i = 0; i < 8 && !context.RequestAborted.IsCancellationRequested; i++)
                        await context.Response.Body.WriteAsync(blank);
                    break;
                case "/broken":
                    context.Response.ContentLength = 1_000;
                    context.Response.ContentType = "text/html";
                    await context.Response.WriteAsync("<title>half");
                    context.Abort();
                    break;
                case "/empty":
                    await Outside.Html(context, "");
                    break;
                case "/text":
                    context.Response.ContentType = "text/plain";
                    await context.Response.WriteAsync("<title>no page</title>");
                    break;
                case "/bad":
                    context.Response.StatusCode = 500;
                    break;
                case "/utf7":
                    context.Response.ContentType = "text/html";
                    await context.Response.WriteAsync("<meta charset=\"utf-7\"><title>Seven</title>");
                    break;
                case "/half":
                    await Outside.Html(context, """<title>Half</title><script type="application/ld+json">{"datePublished":"\ud800","dateModified":"2025-01-02"}</script>""");
                    break;
                case "/flood":
                    await Outside.Html(context, "<title>Flood</title>" + string.Concat(Enumerable.Repeat("<p>word</p>", 100_000)) + string.Concat(Enumerable.Range(0, 200_000).Select(i => $"<p id={i}>")));
                    break;
                case "/robots.txt":
                    await context.Response.Body.WriteAsync(new byte[] { 0xFF, 0xFE, 0, 0xD8 });
                    break;
                case "/sitemap.xml":
                    context.Response.ContentType = "application/xml";
                    await context.Response.WriteAsync("<!DOCTYPE x [<!ENTITY a SYSTEM 'file:///etc/passwd'>]><urlset><url><loc>&a;</loc></url></urlset>");
                    break;
                default:
                    context.Response.StatusCode = 404;
                    break;
            }
        }));
        var scan = await Scan(Outside.AddressOf(site));
        Assert.True(Text(scan, "state") == "done", scan.ToString());
        var pages = Rows(await _app.Get("/api/pages?limit=100")).ToDictionary(p => new Uri(Text(p, "url")).AbsolutePath);
        Assert.Equal("Deep", Text(pages["/deep"], "title"));
        Assert.Equal("Huge", Text(pages["/huge"], "title"));
        Assert.Equal(("Seven", "Half", "Flood"), (Text(pages["/utf7"], "title"), Text(pages["/half"], "title"), Text(pages["/flood"], "title")));
        Assert.Equal("status 500", Text(pages["/bad"], "indexable"));
        Assert.Equal(JsonValueKind.Null, pages["/empty"].GetProperty("title").ValueKind);
        Assert.DoesNotContain("/text", pages.Keys);
        var unread = (await _app.Get($"/api/scans/{scan.GetProperty("id").GetInt64()}/unread")).EnumerateArray().ToDictionary(u => new Uri(Text(u, "url")).AbsolutePath, u => Text(u, "note"));
        Assert.Equal("redirects more than 5 times", unread["/loop"]);
        Assert.Contains("not HTML", unread["/text"], StringComparison.Ordinal);
        Assert.True(unread.ContainsKey("/broken"));
        // The redirect to another site is told, and not followed.
        Assert.Equal("http://169.254.169.254/secret", Text(pages["/away"], "redirectsTo"));
    }

    [Fact]
    public async Task AScanIsStoppedGoneOnWithAndRepeated()
    {
        var version = 1;
        await using var site = await Outside.Site(app => app.Run(async context =>
        {
            var path = context.Request.Path.Value!;
            if (path == "/sitemap.xml")
            {
                var root = $"http://{context.Request.Host}";
                await context.Response.WriteAsync($"<urlset>{string.Concat(Enumerable.Range(0, 40).Select(i => $"<url><loc>{root}/p{i}</loc></url>"))}<url><loc>https://elsewhere.example/</loc></url></urlset>");
                return;
            }

            if (path == "/robots.txt" || (version == 2 && path == "/p7"))
            {
                context.Response.StatusCode = 404;
                return;
            }

            await Task.Delay(30);
            await Outside.Html(context, $"<title>{path}{(version == 2 && path == "/p3" ? " new" : "")}</title>");
        }));
        await Settings(Outside.AddressOf(site), allowPrivate: true);
        var job = (await _app.Send(HttpMethod.Post, "/api/scans")).Body;
        while ((await _app.Get("/api/scans"))[0].GetProperty("counts").GetProperty("done").GetInt64() < 3)
            await Task.Delay(20);
        await _app.Send(HttpMethod.Post, $"/api/jobs/{job.GetProperty("id").GetInt64()}/stop");
        job = await _app.Ended(job);
        Assert.Equal("stopped", Text(job, "state"));
        Assert.InRange(Rows(await _app.Get("/api/pages?limit=100")).Count, 3, 40);
        await _app.Send(HttpMethod.Post, $"/api/jobs/{job.GetProperty("id").GetInt64()}/resume");
        job = await _app.Ended(job);
        Assert.Equal("done", Text(job, "state"));
        Assert.Equal(41, Rows(await _app.Get("/api/pages?limit=100")).Count);
        Assert.Contains("of other sites", (await _app.Get("/api/scans"))[0].GetProperty("scan").GetProperty("notes").GetString(), StringComparison.Ordinal);

        version = 2;
        job = await _app.Ended((await _app.Send(HttpMethod.Post, "/api/scans")).Body);
        var changes = (await _app.Get($"/api/scans/{job.GetProperty("id").GetInt64()}/changes")).EnumerateArray().Select(c => (Text(c, "kind"), new Uri(Text(c, "url")).AbsolutePath)).ToList();
        Assert.Equal([("gone", "/p7"), ("title", "/p3")], changes);
    }

    private async Task Settings(string address, bool allowPrivate, string? gateway = null)
    {
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/project", new { name = "", host = address, country = "GB", language = "en", brandTerms = Array.Empty<string>() })).Status);
        var settings = (await _app.Get("/api/settings")).GetProperty("scan").EnumerateObject().ToDictionary(p => p.Name, p => (object)p.Value);
        settings["allowPrivate"] = allowPrivate;
        settings["ratePerSecond"] = 1000;
        settings["depth"] = "full";
        if (gateway is not null)
            (settings["gateway"], settings["gatewayFor"]) = (gateway, "example");
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/scan", settings)).Status);
    }

    private async Task<JsonElement> Scan(string address, bool allowPrivate = true)
    {
        await Settings(address, allowPrivate);
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/scans");
        Assert.Equal(202, status);
        return await _app.Ended(job);
    }
}
