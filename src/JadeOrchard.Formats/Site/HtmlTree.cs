using System.Globalization;
using System.Text;
using System.Text.Json;
using AngleSharp.Dom;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Formats.Site;

/// <summary>Finds the parts of a page in its tree, in time that grows with the size of the tree and no faster.</summary>
internal sealed class HtmlTree(IDocument document, Effort effort)
{
    private const int MostMetas = 500;
    private const int MostLinks = 5_000;
    private const int MostText = 400_000;
    private const int MostHeadings = 200;
    private const int MostVersions = 100;
    private const int MostImages = 500;
    private static readonly Uri NoAddress = new("http://draft.invalid/");

    /// <summary>A text of a few words does not stand among more elements than this.</summary>
    private const int MostNodesOfText = 2_000;

    private static readonly HashSet<string> Furniture = new(StringComparer.OrdinalIgnoreCase)
        { "script", "style", "noscript", "template", "svg", "nav", "header", "footer", "aside", "form", "iframe", "select", "button", "dialog" };

    private static readonly HashSet<string> Headings = new(StringComparer.OrdinalIgnoreCase) { "h1", "h2", "h3" };

    private static readonly HashSet<string> Blocks = new(StringComparer.OrdinalIgnoreCase)
        { "p", "div", "li", "br", "tr", "td", "th", "h1", "h2", "h3", "h4", "h5", "h6", "section", "article", "dd", "dt", "pre", "blockquote", "figcaption", "option", "summary" };

    private readonly List<string> _h1 = [];
    private IElement? _main;
    private string? _keywords;

    /// <summary>The page for its words: its main text block by block, without headings.</summary>
    /// <param name="url">The page's own address; null for a draft that has none.</param>
    public PageText ReadText(Uri? url)
    {
        var content = Read(url ?? NoAddress);
        var (paragraphs, headings, alts, links) = (new List<string>(), new List<PageHeading>(), new List<string>(), new List<PageLink>());
        var (block, marked, markdown) = (new StringBuilder(), new StringBuilder(), new StringBuilder());
        var (tables, images, start) = (0, 0, "");
        var open = new Stack<(string Href, int At)>();
        foreach (var (node, isEnd) in _main is null ? [] : Below(_main, n => n is IElement e && (Furniture.Contains(e.LocalName) || Headings.Contains(e.LocalName))))
        {
            if (node is IText data)
            {
                Append(block, data.Data, MostText);
                Append(marked, data.Data, MostText);
            }

            if (node is not IElement element)
                continue;
            if (Blocks.Contains(element.LocalName))
            {
                EndBlock();
                start = element.LocalName == "li" && !isEnd ? "- " : "";
            }

            if (element.LocalName == "a" && isEnd && open.TryPop(out var link))
            {
                var words = Collapsed(block.ToString(Math.Min(link.At, block.Length), block.Length - Math.Min(link.At, block.Length))) ?? "";
                if (links.Count < MostLinks)
                    links.Add(new PageLink(link.Href, words));
                marked.Append(CultureInfo.InvariantCulture, $"]({link.Href})");
            }

            if (isEnd)
                continue;
            switch (element.LocalName)
            {
                case "a" when element.HasChildNodes && element.GetAttribute("href") is { Length: > 0 } href && href[0] != '#' && Absolute(url ?? NoAddress, href) is { } absolute:
                    open.Push((absolute, block.Length));
                    marked.Append('[');
                    break;
                case "h1" when TextOf(element, 500, withoutPermalinks: true) is { } heading:
                    markdown.Append(CultureInfo.InvariantCulture, $"# {heading}\n\n");
                    break;
                case "h2" or "h3" when headings.Count < MostHeadings && TextOf(element, 500, withoutPermalinks: true) is { } heading:
                    headings.Add(new PageHeading(element.LocalName == "h2" ? 2 : 3, heading));
                    markdown.Append(CultureInfo.InvariantCulture, $"{(element.LocalName == "h2" ? "##" : "###")} {heading}\n\n");
                    break;
                case "table":
                    tables++;
                    break;
                case "img":
                    images++;
                    if (alts.Count < MostImages && Collapsed(element.GetAttribute("alt")) is { } alt)
                    {
                        alts.Add(alt);
                        marked.Append(CultureInfo.InvariantCulture, $"![{alt}]({element.GetAttribute("src")})");
                    }

                    break;
            }
        }

        EndBlock();
        var host = url is null ? null : UrlIdentity.HostOf(url.AbsoluteUri);
        var outside = links.Where(l => UrlIdentity.HostOf(l.Url) != host).Select(l => l.Url).Distinct(StringComparer.Ordinal).ToList();
        return new PageText(content.Canonical ?? url?.AbsoluteUri, content.Title, content.Description, _h1, headings, paragraphs, alts.Distinct(StringComparer.Ordinal).ToList())
        {
            Facts = new PageFacts(_keywords, tables, images, links.Count(l => UrlIdentity.HostOf(l.Url) == host), [.. outside.Take(PageFacts.MostLinksOut)], content.PublishedOn, content.ModifiedOn),
            Links = links,
            Markdown = markdown.ToString().Trim(),
        };

        void EndBlock()
        {
            if (Collapsed(block.ToString()) is { } text)
                paragraphs.Add(text);
            if (Collapsed(marked.ToString()) is { } withLinks && markdown.Length < MostText)
                markdown.Append(start).Append(withLinks).Append(start.Length > 0 ? "\n" : "\n\n");
            block.Clear();
            marked.Clear();
            // A link over several blocks begins where the last one does.
            if (open.Count > 0)
                open = new Stack<(string, int)>(open.Reverse().Select(l => (l.Href, 0)));
        }
    }

    /// <param name="url">The page's own address, against which links are resolved.</param>
    public PageContent Read(Uri url)
    {
        var metas = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        string? title = null, canonical = null, published = null, modified = null, language = null;
        var versions = new List<string>();
        var (h2, h3) = (new List<string>(), new List<string>());
        var anchors = new List<(string Href, IElement Element)>();
        var scripts = new List<string>();
        IElement? main = null;
        var longestArticle = (Element: (IElement?)null, Count: 0);
        var baseUrl = url;
        var hasBase = false;
        foreach (var (node, isEnd) in Below(document))
        {
            if (isEnd || node is not IElement element)
                continue;
            switch (element.LocalName)
            {
                case "title" when title is null && element.NamespaceUri?.EndsWith("xhtml", StringComparison.Ordinal) == true:
                    title = TextOf(element);
                    break;
                case "meta":
                    var name = element.GetAttribute("name") ?? element.GetAttribute("property") ?? element.GetAttribute("itemprop");
                    if (name is not null && metas.Count < MostMetas && element.GetAttribute("content") is { } content)
                        metas.TryAdd(name.Trim(), content);
                    break;
                case "base" when !hasBase && element.GetAttribute("href") is { } href && Uri.TryCreate(url, href.Trim(), out var based) && based.Scheme is "http" or "https":
                    (baseUrl, hasBase) = (based, true);
                    break;
                case "html":
                    language ??= Cut(element.GetAttribute("lang")?.Trim(), 35);
                    break;
                // HTML Living Standard, link type "alternate": with a language it is another version of the page.
                case "link" when versions.Count < MostVersions && element.HasAttribute("hreflang") && element.GetAttribute("rel")?.Contains("alternate", StringComparison.OrdinalIgnoreCase) == true
                    && element.GetAttribute("href") is { } version:
                    versions.Add(version);
                    break;
                case "link" when canonical is null && element.GetAttribute("rel") is { } rel && rel.Split(' ').Contains("canonical", StringComparer.OrdinalIgnoreCase):
                    canonical = element.GetAttribute("href");
                    break;
                case "h1":
                    AddHeading(_h1, element);
                    break;
                case "h2":
                    AddHeading(h2, element);
                    break;
                case "h3":
                    AddHeading(h3, element);
                    break;
                case "a" when anchors.Count < MostLinks && element.GetAttribute("href") is { } href:
                    anchors.Add((href.Trim(), element));
                    break;
                case "main":
                    main ??= element;
                    break;
                case "article":
                    if (element.ChildElementCount > longestArticle.Count || longestArticle.Element is null)
                        longestArticle = (element, element.ChildElementCount);
                    break;
                case "time" when element.HasAttribute("pubdate") || element.GetAttribute("itemprop") == "datePublished":
                    published ??= element.GetAttribute("datetime");
                    break;
                case "time" when element.GetAttribute("itemprop") == "dateModified":
                    modified ??= element.GetAttribute("datetime");
                    break;
                case "script" when element.GetAttribute("type") == "application/ld+json":
                    scripts.Add(element.TextContent);
                    break;
                default:
                    if (main is null && element.GetAttribute("role") == "main")
                        main = element;
                    break;
            }
        }

        foreach (var script in scripts)
            ReadDates(script, ref published, ref modified);
        _keywords = Cut(Collapsed(metas.GetValueOrDefault("keywords")), 500);
        _main = main ?? longestArticle.Element ?? document.Body;
        var text = TextOf(_main, MostText, int.MaxValue, withoutFurniture: true);
        return new PageContent(
            title,
            Cut(Collapsed(metas.GetValueOrDefault("description")), 2_000),
            canonical is not null && Absolute(baseUrl, canonical) is { } absolute ? absolute : null,
            metas.TryGetValue("robots", out var robots) ? Cut(robots.ToLowerInvariant().Trim(), 200) : null,
            _h1.Count > 0 ? _h1[0] : null,
            h2.Count > 0 ? string.Join(" | ", h2) : null,
            h3.Count > 0 ? string.Join(" | ", h3) : null,
            text ?? "",
            text is null ? 0 : CountWords(text),
            [.. Links(anchors, baseUrl, url)],
            Day(metas.GetValueOrDefault("article:published_time") ?? metas.GetValueOrDefault("datePublished") ?? published ?? metas.GetValueOrDefault("date")),
            Day(metas.GetValueOrDefault("article:modified_time") ?? metas.GetValueOrDefault("dateModified") ?? modified ?? metas.GetValueOrDefault("og:updated_time")),
            string.IsNullOrEmpty(language) ? null : language,
            versions.Select(v => Absolute(baseUrl, v)).OfType<string>().Distinct().ToList() is { Count: > 0 } absolutes ? string.Join(' ', absolutes) : null);
    }

    private string? AltIn(IElement anchor) =>
        Below(anchor).Take(MostNodesOfText).Select(n => n.Node).OfType<IElement>().FirstOrDefault(e => e.LocalName == "img")?.GetAttribute("alt");

    private IEnumerable<PageLink> Links(List<(string Href, IElement Element)> anchors, Uri baseUrl, Uri own)
    {
        foreach (var (href, element) in anchors)
        {
            if (href.Length == 0 || href[0] == '#' || Absolute(baseUrl, href) is not { } absolute)
                continue;
            var hash = absolute.IndexOf('#', StringComparison.Ordinal);
            var target = hash < 0 ? absolute : absolute[..hash];
            if (hash >= 0 && target == own.GetLeftPart(UriPartial.Query))
                continue;
            yield return new PageLink(target, TextOf(element, 300) ?? Collapsed(AltIn(element)) ?? "");
        }
    }

    private static string? Absolute(Uri baseUrl, string href) =>
        Uri.TryCreate(baseUrl, href.Trim(), out var absolute) && absolute.Scheme is "http" or "https" && absolute.AbsoluteUri.Length <= UrlIdentity.MostLength ? absolute.AbsoluteUri : null;

    /// <summary>A heading without the link to itself that documentation sites put behind it ("¶", "#").</summary>
    private void AddHeading(List<string> headings, IElement element)
    {
        if (headings.Count < MostHeadings && TextOf(element, 500, withoutPermalinks: true) is { } text)
            headings.Add(text);
    }

    /// <summary>What is below a node, in document order, with the end of each that is not left out; without recursion, as nesting may be deep.</summary>
    /// <remarks>A sibling is taken by its place: to look for the one after a node takes as long as there are nodes before it.</remarks>
    private IEnumerable<(INode Node, bool IsEnd)> Below(INode root, Func<INode, bool>? leavesOut = null)
    {
        var open = new Stack<(INode Node, int Next)>([(root, 0)]);
        while (open.TryPop(out var at))
        {
            if (at.Next == at.Node.ChildNodes.Length)
            {
                if (at.Node != root)
                    yield return (at.Node, true);
                continue;
            }

            effort.Spend();
            var child = at.Node.ChildNodes[at.Next];
            open.Push((at.Node, at.Next + 1));
            yield return (child, false);
            if (child.HasChildNodes && leavesOut?.Invoke(child) != true)
                open.Push((child, 0));
        }
    }

    /// <returns>The text below an element, white space collapsed; null where there is none.</returns>
    private string? TextOf(INode? root, int most = 2_000, int mostNodes = MostNodesOfText, bool withoutFurniture = false, bool withoutPermalinks = false)
    {
        if (root is null)
            return null;
        var text = new StringBuilder();
        var nodes = 0;
        foreach (var (node, _) in Below(root, node => node is IElement element
            && ((withoutFurniture && Furniture.Contains(element.LocalName))
                || element.LocalName is "script" or "style" or "template"
                || (withoutPermalinks && element.LocalName == "a" && IsPermalink(element)))))
        {
            if (node is IElement element && Blocks.Contains(element.LocalName))
                text.Append(' ');
            else if (node is IText data)
                Append(text, data.Data, most);
            if (text.Length >= most || ++nodes >= mostNodes)
                break;
        }

        return Collapsed(text.ToString());
    }

    private static void Append(StringBuilder text, string data, int most) =>
        text.Append(data.AsSpan(0, Math.Min(data.Length, Math.Max(0, most - text.Length))));

    private bool IsPermalink(IElement element) =>
        element.GetAttribute("href") is ['#', ..] && (TextOf(element, 8) ?? "") is { Length: <= 3 } text && !text.Any(char.IsLetterOrDigit);

    private static string? Cut(string? text, int most) => text is null || text.Length <= most ? text : text[..most];

    private static string? Collapsed(string? text)
    {
        if (text is null)
            return null;
        var collapsed = string.Join(' ', text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).Replace("\0", "", StringComparison.Ordinal);
        return collapsed.Length == 0 ? null : collapsed;
    }

    private static int CountWords(string text)
    {
        var words = 0;
        foreach (var range in text.AsSpan().Split(' '))
        {
            foreach (var c in text.AsSpan()[range])
            {
                if (char.IsLetterOrDigit(c))
                {
                    words++;
                    break;
                }
            }
        }

        return words;
    }

    /// <summary>schema.org dates anywhere in JSON-LD.</summary>
    private static void ReadDates(string json, ref string? published, ref string? modified)
    {
        try
        {
            using var document = JsonDocument.Parse(json, new JsonDocumentOptions { MaxDepth = 32, CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true });
            var open = new Stack<JsonElement>([document.RootElement]);
            while (open.TryPop(out var element))
            {
                if (element.ValueKind == JsonValueKind.Array)
                {
                    foreach (var item in element.EnumerateArray())
                        open.Push(item);
                }
                else if (element.ValueKind == JsonValueKind.Object)
                {
                    foreach (var property in element.EnumerateObject())
                    {
                        if (property.Value.ValueKind == JsonValueKind.String && property.NameEquals("datePublished"))
                            published ??= property.Value.GetString();
                        else if (property.Value.ValueKind == JsonValueKind.String && property.NameEquals("dateModified"))
                            modified ??= property.Value.GetString();
                        else if (property.Value.ValueKind is JsonValueKind.Object or JsonValueKind.Array)
                            open.Push(property.Value);
                    }
                }
            }
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            // What is no JSON, or has half a character in it, says no date.
        }
    }

    private static DateOnly? Day(string? text) =>
        DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var time) && time.Year is > 1990 and < 2200
            ? DateOnly.FromDateTime(time.UtcDateTime)
            : null;
}
