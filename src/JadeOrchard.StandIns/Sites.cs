using System.Globalization;
using System.IO.Compression;
using System.Net;
using System.Text;

namespace JadeOrchard.StandIns;

/// <summary>The sites of the invented world, told apart by the Host header: pages, robots.txt, sitemaps, and what real sites have besides.</summary>
public sealed class Sites(World world, SiteChanges changes)
{
    private const int PagesOfSitemap = 120;
    private static readonly TimeSpan SlowPage = TimeSpan.FromSeconds(2);

    /// <summary>A redirect of two steps, a canonical that points elsewhere, a noindex page, a slow page, and one that is not there.</summary>
    private static readonly string[] Oddities = ["/old-dry-suits", "/dry-suits-print", "/thank-you", "/film-archive", "/spring-sale-2019"];

    private readonly ILookup<string, WorldPage> _pages = world.Generated.Corpus.ToLookup(p => Bare(p.Host));
    private readonly ILookup<int, WorldPage> _ownOfTopic = world.Generated.Corpus
        .Where(p => p.Own is not null && p.Subject >= 0).ToLookup(p => world.Generated.Subjects[p.Subject].Topic);

    /// <summary>True where the host is one of the invented world.</summary>
    public bool Has(string host) => _pages.Contains(Bare(host));

    public async Task Answer(HttpContext context)
    {
        var host = Bare(context.Request.Host.Host);
        var path = context.Request.Path.Value ?? "/";
        var isOwn = host == world.Scenario.Site.Host;
        var root = "https://" + _pages[host].First().Host;
        if (context.Request.Host.Host != new Uri(root).Host)
        {
            Redirect(context, root + path, permanent: true);
            return;
        }

        if (isOwn && changes.Of(path).LastOrDefault(c => c.RedirectTo is not null) is { } moved)
        {
            Redirect(context, root + moved.RedirectTo, permanent: true);
            return;
        }

        switch (path)
        {
            case "/robots.txt":
                await Write(context, "text/plain", $"User-agent: *\nDisallow: /basket\nDisallow: /account\n\nSitemap: {root}/sitemap.xml\n");
                return;
            case "/sitemap.xml":
                await Write(context, "application/xml", SitemapIndex(host, root));
                return;
            case "/old-dry-suits" when isOwn:
                Redirect(context, "/suits", permanent: true);
                return;
            case "/suits" when isOwn:
                Redirect(context, root + "/dry-suits", permanent: false);
                return;
            case "/dry-suits-print" when isOwn:
                await Write(context, "text/html", Html(world.PageOf[(host, "/dry-suits")], root, canonical: root + "/dry-suits"));
                return;
            case "/thank-you" when isOwn:
                await Write(context, "text/html", "<!doctype html><html lang=\"en\"><head><title>Thank you for your order</title><meta name=\"robots\" content=\"noindex, follow\"></head><body><h1>Thank you</h1><p>We pack it today.</p></body></html>");
                return;
            case "/film-archive" when isOwn:
                await Task.Delay(SlowPage, context.RequestAborted);
                await Write(context, "text/html", "<!doctype html><html lang=\"en\"><head><title>The film archive</title></head><body><main><h1>The film archive</h1><p>Forty years of paddling on film, slow to load as ever.</p></main></body></html>");
                return;
        }

        if (path.StartsWith("/sitemap-", StringComparison.Ordinal) && SitemapOf(host, root, path) is { } sitemap)
        {
            if (!path.EndsWith(".gz", StringComparison.Ordinal))
            {
                await Write(context, "application/xml", sitemap);
                return;
            }

            context.Response.ContentType = "application/gzip";
            await using var zip = new GZipStream(context.Response.Body, CompressionLevel.Fastest);
            await zip.WriteAsync(Encoding.UTF8.GetBytes(sitemap));
            return;
        }

        if (world.PageOf.TryGetValue((host, path + context.Request.QueryString.Value), out var page) || world.PageOf.TryGetValue((host, path.TrimEnd('/')), out page))
        {
            await Write(context, "text/html", Html(page, root, page.Own is { IsListed: false } ? page.Of?.Url : null));
            return;
        }

        if (isOwn && changes.Of(path) is [.., { } made] told && (told.LastOrDefault(c => c.Title is not null) ?? made).Title is { } title)
        {
            await Write(context, "text/html", $"<!doctype html><html lang=\"{world.Scenario.Site.Language}\"><head><title>{Safe(title)}</title></head><body><nav><a href=\"/\">Home</a></nav><main><h1>{Safe(title)}</h1>{Added(path)}</main></body></html>");
            return;
        }

        if (path == "/")
        {
            await Write(context, "text/html", $"<!doctype html><html lang=\"en\"><head><title>{WebUtility.HtmlEncode(Phrases.RivalName(host.Split('.')[0]))}</title></head><body><main><h1>{WebUtility.HtmlEncode(Phrases.RivalName(host.Split('.')[0]))}</h1>{string.Concat(_pages[host].Take(40).Select(Link))}</main></body></html>");
            return;
        }

        context.Response.StatusCode = StatusCodes.Status404NotFound;
        await Write(context, "text/html", "<!doctype html><html lang=\"en\"><head><title>Not found</title></head><body><h1>There is no such page</h1></body></html>");
    }

    private string SitemapIndex(string host, string root)
    {
        var files = Files(host).Select((_, i) => $"  <sitemap><loc>{root}{FileName(i)}</loc></sitemap>");
        return $"<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<sitemapindex xmlns=\"http://www.sitemaps.org/schemas/sitemap/0.9\">\n{string.Join('\n', files)}\n</sitemapindex>\n";
    }

    private string? SitemapOf(string host, string root, string path)
    {
        var files = Files(host);
        var at = Enumerable.Range(0, files.Count).FirstOrDefault(i => FileName(i) == path, -1);
        if (at < 0)
            return null;
        var urls = files[at].Select(p => p.Url);
        if (at == 0 && host == world.Scenario.Site.Host)
            urls = urls.Concat(Oddities.Concat(changes.Paths.Where(p => !world.PageOf.ContainsKey((host, p)))).Select(p => root + p)).Where(u => !changes.Of(u[root.Length..]).Any(c => c.RedirectTo is not null));
        var body = new StringBuilder("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<urlset xmlns=\"http://www.sitemaps.org/schemas/sitemap/0.9\">\n");
        foreach (var url in urls)
            body.Append(CultureInfo.InvariantCulture, $"  <url><loc>{WebUtility.HtmlEncode(url)}</loc></url>\n");
        return body.Append("</urlset>\n").ToString();
    }

    private List<WorldPage[]> Files(string host) => [.. _pages[host].Chunk(PagesOfSitemap)];

    /// <summary>The second file of each site is gzipped.</summary>
    private static string FileName(int file) => $"/sitemap-{file + 1}.xml{(file == 1 ? ".gz" : "")}";

    private string Html(WorldPage page, string root, string? canonical)
    {
        var text = world.Texts.Of(page);
        var html = new StringBuilder();
        var told = page.Own is null ? [] : changes.Of(page.Path);
        var title = told.LastOrDefault(c => c.Title is not null)?.Title;
        canonical = told.LastOrDefault(c => c.Canonical is not null)?.Canonical is { } named ? root + named : canonical;
        var site = page.Own is null ? Phrases.RivalName(Bare(page.Host).Split('.')[0]) : world.Scenario.Site.Name;
        html.Append(CultureInfo.InvariantCulture, $"""
            <!doctype html>
            <html lang="{page.Own?.Language ?? "en"}">
            <head>
              <meta charset="utf-8">
              <title>{Safe(title ?? page.Title)}</title>
              {(told.LastOrDefault(c => c.NoIndex is not null) is { NoIndex: true } ? "<meta name=\"robots\" content=\"noindex\">" : "")}
              <meta name="description" content="{Safe(told.LastOrDefault(c => c.Description is not null)?.Description ?? text.Description)}">
              <link rel="canonical" href="{Safe(canonical ?? page.Url)}">
              {(page.Own?.Versions is not { } version ? "" : $"<link rel=\"alternate\" hreflang=\"{(page.Of is null ? world.Scenario.Versions.Language : world.Scenario.Site.Language)}\" href=\"{Safe(version)}\">")}
              <script type="application/ld+json">{"{"}"@context": "https://schema.org", "@type": "WebPage", "datePublished": "{text.Published:yyyy-MM-dd}", "dateModified": "{(page.Own is null ? null : world.ChangedOn(page.Path)) ?? text.Modified:yyyy-MM-dd}"{"}"}</script>
            </head>
            <body>
              <header><a href="/">{Safe(site)}</a></header>
              <nav>{Navigation(page)}</nav>
              <main>
                <h1>{Safe(title ?? page.Own?.H1 ?? page.Title)}</h1>
                {Added(page.Own is null ? "" : page.Path)}
                <p>{Safe(text.Opening)}</p>

            """);
        var (image, sources) = (0, new Dictionary<string, string>(text.Sources, StringComparer.Ordinal));
        foreach (var (section, at) in text.Sections.Select((s, i) => (s, i)))
        {
            // A picture above every fourth section.
            if (at % 4 == 0 && image < text.Images.Count)
            {
                html.Append(CultureInfo.InvariantCulture, $"    <p><img src=\"/images/{Safe(page.Path.Trim('/').Replace('/', '-'))}-{image + 1}.jpg\" alt=\"{Safe(text.Images[image])}\"></p>\n");
                image++;
            }

            html.Append(CultureInfo.InvariantCulture, $"    <h{section.Level}>{Safe(section.Heading)}</h{section.Level}>\n{string.Concat(section.Text.Split('\n').Select(p => $"    <p>{Sourced(p, sources)}</p>\n"))}");
            if (section.Table is { } table)
                html.Append("    <table>\n").Append(string.Concat(table.Select((row, i) => $"      <tr>{string.Concat(row.Select(c => i == 0 ? $"<th>{Safe(c)}</th>" : $"<td>{Safe(c)}</td>"))}</tr>\n"))).Append("    </table>\n");
        }

        if (page.Own is not null && page.Subject >= 0)
        {
            html.Append("    <h3>Read on</h3>\n    <ul>\n");
            foreach (var other in _ownOfTopic[world.Generated.Subjects[page.Subject].Topic].Where(p => p != page && !world.Generated.Unlinked.Contains((page.Url, p.Url)) && !world.Scenario.Orphans.Contains(p.Path)))
                html.Append(CultureInfo.InvariantCulture, $"      <li>{Link(other)}</li>\n");
            html.Append("    </ul>\n");
        }

        foreach (var guise in page.Own is null ? [] : _pages[Bare(page.Host)].Where(p => p.Of == page && p.Own?.Language == page.Own.Language))
            html.Append(CultureInfo.InvariantCulture, $"    <p>{Link(guise)}</p>\n");
        if (page.Own is null)
        {
            // What every page of a site has besides.
            html.Append(CultureInfo.InvariantCulture, $"    <aside>\n    <h2>Letters from {Safe(site)}</h2>\n    <p>One letter a month with trips, tests and what is new in the shop. You can leave at any time.</p>\n");
            html.Append("    <h2>Read next</h2>\n    <ul>\n").Append(string.Concat(_pages[Bare(page.Host)].Where(p => p != page).Take(4).Select(p => $"      <li>{Link(p)}</li>\n"))).Append("    </ul>\n    </aside>\n");
            html.Append("    <dialog open><p>We use cookies to count visits. Nothing is passed on.</p></dialog>\n");
        }

        html.Append(CultureInfo.InvariantCulture, $"  </main>\n  <footer><p>{Safe(site)}, {Safe(root)}</p>");
        foreach (var below in page.Own is null ? [] : Below(page))
            html.Append(Link(below)).Append(' ');
        return html.Append("</footer>\n</body>\n</html>\n").ToString();
    }

    /// <summary>A paragraph in which the first mention of what has a source is linked to it.</summary>
    private static string Sourced(string text, Dictionary<string, string> sources)
    {
        foreach (var (words, url) in sources)
        {
            var at = text.IndexOf(words, StringComparison.OrdinalIgnoreCase);
            if (at < 0)
                continue;
            sources.Remove(words);
            return $"{Safe(text[..at])}<a href=\"{Safe(url)}\">{Safe(text[at..(at + words.Length)])}</a>{Safe(text[(at + words.Length)..])}";
        }

        return Safe(text);
    }

    /// <summary>The paragraphs and links that changes add to a page.</summary>
    private string Added(string path) => string.Concat(changes.Of(path).Select(c =>
        (c.Heading is { } heading ? $"<h2>{Safe(heading)}</h2>" : "") + (c.Text is { } text ? $"<p>{Safe(text)}</p>" : "") + (c.LinkTo is { } to ? $"<p>See also <a href=\"{Safe(to)}\">{Safe(c.LinkWords ?? to)}</a>.</p>" : "")));

    /// <summary>The pages that an index page lists: the home page those right below it, "/guides" all that begin with "/guides/".</summary>
    private IEnumerable<WorldPage> Below(WorldPage index) => _pages[world.Scenario.Site.Host].Where(p =>
        p != index && !world.Scenario.Orphans.Contains(p.Path) && !world.Generated.Unlinked.Contains((index.Url, p.Url))
        && (index.Path == "/" ? p.Path.LastIndexOf('/') == 0 || !_pages[world.Scenario.Site.Host].Any(i => i.Path == FolderOf(p.Path)) : FolderOf(p.Path) == index.Path));

    private static string FolderOf(string path) => path[..Math.Max(0, path.LastIndexOf('/'))];

    private static string Navigation(WorldPage page) => page.Own is null
        ? "<a href=\"/\">Home</a>"
        : string.Concat(new[] { ("/sea-kayaks", "Sea kayaks"), ("/guides", "Guides"), ("/skills", "Skills"), ("/magazine", "Magazine"), ("/boats", "Boats"), ("/about", "About us"), ("/contact", "Contact"), ("/delivery", "Delivery") }
            .Select(l => $"<a href=\"{l.Item1}\">{l.Item2}</a> "));

    private static string Link(WorldPage page) => $"<a href=\"{Safe(page.Path)}\">{Safe(page.Own?.H1 ?? page.Title)}</a>";

    private static string Safe(string text) => WebUtility.HtmlEncode(text);

    private static string Bare(string host) => host.StartsWith("www.", StringComparison.OrdinalIgnoreCase) ? host[4..].ToLowerInvariant() : host.ToLowerInvariant();

    private static void Redirect(HttpContext context, string to, bool permanent)
    {
        context.Response.StatusCode = permanent ? StatusCodes.Status301MovedPermanently : StatusCodes.Status302Found;
        context.Response.Headers.Location = to;
    }

    private static Task Write(HttpContext context, string type, string body)
    {
        context.Response.ContentType = type + "; charset=utf-8";
        return context.Response.WriteAsync(body);
    }
}
