using System.Net;
using System.Reflection;
using System.Text;
using JadeOrchard.Formats.Guide;
using JadeOrchard.Server.Findings;

namespace JadeOrchard.Server.Guide;

/// <summary>A section of the guide.</summary>
/// <param name="Page">Title of its page.</param>
/// <param name="Heading">Empty for the page as a whole.</param>
/// <param name="Address">Where it is read.</param>
public sealed record GuideEntry(string Page, string Heading, string Address);

/// <summary>The guide, which is a part of the program: it is read offline, and is always that of this version.</summary>
public static class GuideEndpoints
{
    public const string Path = "/guide";

    private const string Prefix = "Guide/";

    /// <summary>In the order of the guide's first page; what else it leads to comes after that.</summary>
    private static readonly string[] Order =
    [
        "README", "first-hour", "site", "keywords", "results", "clusters", "page-map", "findings", "plan", "briefs", "refresh", "projects", "team", "how-it-computes", "keyboard", "files-and-services", "command-line", "administrators", "developers",
        "words", "promises", "services", "about", "contributing", "front-end",
    ];

    private static readonly Lazy<IReadOnlyDictionary<string, GuidePage>> Pages = new(() => Order.ToDictionary(name => name, name => GuidePage.Of(Text(name + ".md"), file => AddressOf(name, file)), StringComparer.Ordinal));

    public static void MapGuide(this RouteGroupBuilder api) => api.MapGet("/guide", () =>
            Order.SelectMany(name => Pages.Value[name].Sections.Select(s => new GuideEntry(Pages.Value[name].Title, s.Anchor.Length == 0 ? "" : s.Heading, s.Anchor.Length == 0 ? PathOf(name) : $"{PathOf(name)}#{s.Anchor}"))))
        .WithName("guide");

    public static void MapGuidePages(this WebApplication app)
    {
        app.MapGet(Path, () => Page("README")).ExcludeFromDescription();
        app.MapGet(Path + "/{name}", (string name) => Page(name)).ExcludeFromDescription();
        app.MapGet(Path + "/pictures/{name}", (string name) => Open("pictures/" + name) is { } picture ? TypedResults.Stream(picture, "image/png") : (IResult)TypedResults.NotFound()).ExcludeFromDescription();
        app.MapGet(Path + "/services.json", () => TypedResults.Stream(Open("services.json")!, "application/json")).ExcludeFromDescription();
    }

    private static string PathOf(string name) => name == "README" ? Path : $"{Path}/{name}";

    private static IResult Page(string name)
    {
        if (!Pages.Value.TryGetValue(name, out var page))
            return Microsoft.AspNetCore.Http.Results.Content(Html("Not found", $"<h1>There is no page “{WebUtility.HtmlEncode(name)}”</h1><p><a href=\"{Path}\">The guide</a> tells what there is.</p>"), "text/html; charset=utf-8", Encoding.UTF8, StatusCodes.Status404NotFound);
        return Microsoft.AspNetCore.Http.Results.Content(Html(page.Title, page.Html, name), "text/html; charset=utf-8");
    }

    /// <summary>Links between files of the source tree become links between pages.</summary>
    private static string AddressOf(string from, string file) => file switch
    {
        _ when file.EndsWith(".png", StringComparison.Ordinal) => $"{Path}/pictures/{file[(file.LastIndexOf('/') + 1)..]}",
        _ when file.EndsWith("services.json", StringComparison.Ordinal) => $"{Path}/services.json",
        "../../README.md" => $"{Path}/about",
        _ when file.EndsWith("CONTRIBUTING.md", StringComparison.Ordinal) => $"{Path}/contributing",
        _ when file.EndsWith("web/README.md", StringComparison.Ordinal) => $"{Path}/front-end",
        "docs/guide/README.md" or "README.md" => Path,
        _ => $"{Path}/{file[(file.LastIndexOf('/') + 1)..].Replace(".md", "", StringComparison.Ordinal)}",
    };

    private static string Html(string title, string body, string? name = null)
    {
        var menu = new StringBuilder();
        foreach (var other in Order.TakeWhile(o => o != "words").Skip(1))
        {
            menu.Append(System.Globalization.CultureInfo.InvariantCulture, $"<li><a href=\"{PathOf(other)}\"{(other == name ? " aria-current=\"page\"" : "")}>{WebUtility.HtmlEncode(Pages.Value[other].Title)}</a></li>");
        }

        return $$"""
            <!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>{{WebUtility.HtmlEncode(title)}} · Jade Orchard</title>
            {{SummaryEndpoints.Style}}
            <style>
            body { max-width: 1080px; display: grid; grid-template-columns: 200px minmax(0, 1fr); gap: 40px; margin: 28px auto; }
            nav ul { list-style: none; padding: 0; margin: 0; position: sticky; top: 24px; } nav li { margin: 5px 0; } a { color: #146b55; }
            nav a { text-decoration: none; } nav a[aria-current] { font-weight: 600; color: #22302b; }
            main { max-width: 760px; } main h1 { margin-top: 0; } main img { width: 100%; border: 1px solid #dcdccf; } pre { background: #f3f2ea; padding: 10px 12px; overflow: auto; } code { font-size: 13px; }
            @media (max-width: 760px) { body { grid-template-columns: 1fr; } nav ul { position: static; } }
            @media print { nav { display: none; } body { display: block; } }
            </style></head><body><nav aria-label="Guide"><ul><li><a href="/">Jade Orchard</a></li><li><a href="{{Path}}"{{(name == "README" ? " aria-current=\"page\"" : "")}}>Guide</a></li>{{menu}}</ul></nav><main>
            {{body}}
            </main></body></html>
            """;
    }

    private static Stream? Open(string name) => Assembly.GetExecutingAssembly().GetManifestResourceStream(Prefix + name);

    private static string Text(string name)
    {
        using var reader = new StreamReader(Open(name) ?? throw new InvalidOperationException($"The guide lacks {name}."));
        return reader.ReadToEnd();
    }
}
