using System.Net;
using System.Text.RegularExpressions;

namespace JadeOrchard.Server.Tests;

/// <summary>The guide as the program serves it: every link and picture of it leads somewhere.</summary>
public sealed partial class GuideTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [GeneratedRegex("""(?:href|src)="(/[^"]*)" """, RegexOptions.IgnorePatternWhitespace)]
    private static partial Regex Address();

    [Fact]
    public async Task EveryLinkLeadsSomewhere()
    {
        var (seen, waiting) = (new Dictionary<string, string>(StringComparer.Ordinal), new Queue<string>(["/guide"]));
        while (waiting.TryDequeue(out var path))
        {
            if (seen.ContainsKey(path))
                continue;
            var answer = await _app.Http.GetAsync(path);
            Assert.True(answer.StatusCode == HttpStatusCode.OK, $"{path}: {(int)answer.StatusCode}");
            seen[path] = answer.Content.Headers.ContentType?.MediaType == "text/html" ? await answer.Content.ReadAsStringAsync() : "";
            foreach (var next in Address().Matches(seen[path]).Select(m => WebUtility.HtmlDecode(m.Groups[1].Value).Split('#')[0]).Where(a => a.StartsWith("/guide", StringComparison.Ordinal)))
                waiting.Enqueue(next);
        }

        // All pages of the folder are reached, and pictures with them.
        foreach (var file in Directory.GetFiles(SourceTree.Path("docs/guide"), "*.md").Select(f => Path.GetFileNameWithoutExtension(f)).Where(f => f != "README"))
            Assert.Contains($"/guide/{file}", seen.Keys);
        Assert.Contains("/guide/pictures/clusters.png", seen.Keys);
        Assert.Contains("/guide/services.json", seen.Keys);
        // Links to a section name one that is there.
        foreach (var (path, html) in seen)
        {
            foreach (var parts in Address().Matches(html).Select(m => m.Groups[1].Value.Split('#')).Where(p => p.Length == 2))
                Assert.True(seen[parts[0]].Contains($"id=\"{parts[1]}\"", StringComparison.Ordinal), $"{path} links to #{parts[1]} of {parts[0]}");
        }
    }

    [Fact]
    public async Task SectionsAreToldForThePalette()
    {
        var entries = (await _app.Get("/api/guide")).EnumerateArray().ToList();
        Assert.Contains(entries, e => (Text(e, "page"), Text(e, "heading"), Text(e, "address")) == ("Your first hour", "", "/guide/first-hour"));
        Assert.Contains(entries, e => (Text(e, "page"), Text(e, "heading"), Text(e, "address")) == ("How it computes", "Clicks by position", "/guide/how-it-computes#clicks-by-position"));
        foreach (var entry in entries)
            Assert.Equal(HttpStatusCode.OK, (await _app.Http.GetAsync(Text(entry, "address"))).StatusCode);
    }

    [Fact]
    public async Task WhatIsNotThereIsSaid()
    {
        var answer = await _app.Http.GetAsync("/guide/nothing%3Cb%3E");
        Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
        Assert.Contains("There is no page “nothing&lt;b&gt;”", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await _app.Http.GetAsync("/guide/pictures/..%2Fabout.md")).StatusCode);
    }
}
