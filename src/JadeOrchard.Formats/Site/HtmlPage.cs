using System.Globalization;
using System.Text;
using System.Text.Json;
using AngleSharp.Dom;
using AngleSharp.Html.Parser;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Formats.Site;

/// <summary>Reads the HTML of a page, however broken (HTML Living Standard, section 13.2).</summary>
public static class HtmlPage
{
    /// <summary>HTML beyond this is not read.</summary>
    public const int MostBytes = 5 << 20;

    private const int MostLinks = 5_000;
    private const int MostText = 400_000;
    private const int MostHeadings = 200;
    private const int MostNested = 1_500;

    /// <summary>Elements without an end tag, or with one that may be left out (HTML Living Standard, 13.1.2).</summary>
    private static readonly HashSet<string> MayStayOpen = new(StringComparer.OrdinalIgnoreCase)
    {
        "area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "track", "wbr", "param", "keygen", "command", "frame", "p", "li", "dt", "dd", "tr", "td", "th", "tbody",
        "thead", "tfoot", "option", "optgroup", "colgroup", "rp", "rt", "html", "head", "body", "path", "circle", "rect", "use", "line", "polygon", "polyline", "ellipse", "stop",
    };

    private static readonly HashSet<string> Furniture = new(StringComparer.OrdinalIgnoreCase)
        { "script", "style", "noscript", "template", "svg", "nav", "header", "footer", "aside", "form", "iframe", "select", "button", "dialog" };

    private static readonly HashSet<string> Blocks = new(StringComparer.OrdinalIgnoreCase)
        { "p", "div", "li", "br", "tr", "td", "th", "h1", "h2", "h3", "h4", "h5", "h6", "section", "article", "dd", "dt", "pre", "blockquote", "figcaption", "option", "summary" };

    static HtmlPage() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <param name="bytes">The body.</param>
    /// <param name="charset">As the Content-Type header names it; null where it does not.</param>
    /// <param name="url">The page's own address, against which links are resolved.</param>
    public static PageContent Read(byte[] bytes, string? charset, Uri url)
    {
        var span = bytes.AsSpan(0, Math.Min(bytes.Length, MostBytes));
        var html = EncodingOf(span, charset).GetString(span);
        using var document = new HtmlParser(new HtmlParserOptions { IsScripting = false }).ParseDocument(html[..SafeLength(html)]);
        return Read(document, url);
    }

    /// <summary>
    /// How much of a document is nested no deeper than any honest page; building a tree takes time that grows with the
    /// square of its depth. Only elements count that must be closed.
    /// </summary>
    private static int SafeLength(string html)
    {
        var depth = 0;
        var at = 0;
        while ((at = html.IndexOf('<', at)) >= 0 && at + 1 < html.Length)
        {
            var closes = html[at + 1] == '/';
            var start = at + (closes ? 2 : 1);
            var end = start;
            while (end < html.Length && end - start < 12 && char.IsAsciiLetterOrDigit(html[end]))
                end++;
            if (end > start && !MayStayOpen.GetAlternateLookup<ReadOnlySpan<char>>().Contains(html.AsSpan(start, end - start)))
            {
                depth = closes ? Math.Max(0, depth - 1) : depth + 1;
                if (depth > MostNested)
                    return at;
            }

            at = Math.Max(end, at + 1);
        }

        return html.Length;
    }

    private static PageContent Read(AngleSharp.Html.Dom.IHtmlDocument document, Uri url)
    {
        var metas = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        string? title = null, canonical = null, published = null, modified = null;
        var (h1, h2, h3) = (new List<string>(), new List<string>(), new List<string>());
        var anchors = new List<(string Href, IElement Element)>();
        var scripts = new List<string>();
        IElement? main = null;
        var longestArticle = (Element: (IElement?)null, Count: 0);
        var baseUrl = url;
        var hasBase = false;
        foreach (var element in Elements(document))
        {
            switch (element.LocalName)
            {
                case "title" when title is null && element.NamespaceUri?.EndsWith("xhtml", StringComparison.Ordinal) == true:
                    title = TextOf(element);
                    break;
                case "meta":
                    var name = element.GetAttribute("name") ?? element.GetAttribute("property") ?? element.GetAttribute("itemprop");
                    if (name is not null && element.GetAttribute("content") is { } content)
                        metas.TryAdd(name.Trim(), content);
                    break;
                case "base" when !hasBase && element.GetAttribute("href") is { } href && Uri.TryCreate(url, href.Trim(), out var based) && based.Scheme is "http" or "https":
                    (baseUrl, hasBase) = (based, true);
                    break;
                case "link" when canonical is null && element.GetAttribute("rel") is { } rel && rel.Split(' ').Contains("canonical", StringComparer.OrdinalIgnoreCase):
                    canonical = element.GetAttribute("href");
                    break;
                case "h1":
                    AddHeading(h1, element);
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
        var text = TextOf(main ?? longestArticle.Element ?? document.Body, MostText, withoutFurniture: true);
        return new PageContent(
            title,
            Collapsed(metas.GetValueOrDefault("description")),
            canonical is not null && Absolute(baseUrl, canonical) is { } absolute ? absolute : null,
            metas.TryGetValue("robots", out var robots) ? robots.ToLowerInvariant().Trim() : null,
            h1.Count > 0 ? h1[0] : null,
            h2.Count > 0 ? string.Join(" | ", h2) : null,
            h3.Count > 0 ? string.Join(" | ", h3) : null,
            text ?? "",
            text is null ? 0 : CountWords(text),
            [.. Links(anchors, baseUrl, url)],
            Day(metas.GetValueOrDefault("article:published_time") ?? metas.GetValueOrDefault("datePublished") ?? published ?? metas.GetValueOrDefault("date")),
            Day(metas.GetValueOrDefault("article:modified_time") ?? metas.GetValueOrDefault("dateModified") ?? modified ?? metas.GetValueOrDefault("og:updated_time")));
    }

    private static IEnumerable<PageLink> Links(List<(string Href, IElement Element)> anchors, Uri baseUrl, Uri own)
    {
        foreach (var (href, element) in anchors)
        {
            if (href.Length == 0 || href[0] == '#' || Absolute(baseUrl, href) is not { } absolute)
                continue;
            var hash = absolute.IndexOf('#', StringComparison.Ordinal);
            var target = hash < 0 ? absolute : absolute[..hash];
            if (hash >= 0 && target == own.GetLeftPart(UriPartial.Query))
                continue;
            yield return new PageLink(target, TextOf(element, 300) ?? Collapsed(element.QuerySelector("img")?.GetAttribute("alt")) ?? "");
        }
    }

    private static string? Absolute(Uri baseUrl, string href) =>
        Uri.TryCreate(baseUrl, href.Trim(), out var absolute) && absolute.Scheme is "http" or "https" && absolute.AbsoluteUri.Length <= 2_000 ? absolute.AbsoluteUri : null;

    /// <summary>A heading without the link to itself that documentation sites put behind it ("¶", "#").</summary>
    private static void AddHeading(List<string> headings, IElement element)
    {
        if (headings.Count < MostHeadings && TextOf(element, 500, withoutPermalinks: true) is { } text)
            headings.Add(text);
    }

    /// <summary>All elements in document order, without recursion: nesting may be as deep as an attacker likes.</summary>
    private static IEnumerable<IElement> Elements(IDocument document)
    {
        INode? node = document.DocumentElement;
        var depth = 0;
        while (node is not null)
        {
            if (node is IElement element)
                yield return element;
            if (node.FirstChild is { } child)
            {
                node = child;
                depth++;
                continue;
            }

            while (node is not null && node.NextSibling is null && depth > 0)
            {
                node = node.Parent;
                depth--;
            }

            node = depth == 0 ? null : node?.NextSibling;
        }
    }

    /// <returns>The text below an element, white space collapsed; null where there is none.</returns>
    private static string? TextOf(INode? root, int most = 2_000, bool withoutFurniture = false, bool withoutPermalinks = false)
    {
        if (root is null)
            return null;
        var text = new StringBuilder();
        var node = root.FirstChild;
        while (node is not null && text.Length < most)
        {
            var element = node as IElement;
            var skip = element is not null
                && ((withoutFurniture && Furniture.Contains(element.LocalName))
                    || element.LocalName is "script" or "style" or "template"
                    || (withoutPermalinks && element.LocalName == "a" && IsPermalink(element)));
            if (element is not null && Blocks.Contains(element.LocalName))
                text.Append(' ');
            if (node is IText data)
                Append(text, data.Data, most);
            if (!skip && node.FirstChild is { } child)
            {
                node = child;
                continue;
            }

            while (node is not null && node != root && node.NextSibling is null)
            {
                node = node.Parent;
                if (node is IElement left && Blocks.Contains(left.LocalName))
                    text.Append(' ');
            }

            node = node is null || node == root ? null : node.NextSibling;
        }

        return Collapsed(text.ToString());
    }

    private static void Append(StringBuilder text, string data, int most) =>
        text.Append(data.AsSpan(0, Math.Min(data.Length, Math.Max(0, most - text.Length))));

    private static bool IsPermalink(IElement element) =>
        element.GetAttribute("href") is ['#', ..] && element.TextContent.Length <= 3 && !element.TextContent.Any(char.IsLetterOrDigit);

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

    /// <summary>schema.org dates in JSON-LD, wherever they stand in it.</summary>
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
        catch (JsonException)
        {
            // What is no JSON says no date.
        }
    }

    private static DateOnly? Day(string? text) =>
        DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var time) && time.Year is > 1990 and < 2200
            ? DateOnly.FromDateTime(time.UtcDateTime)
            : null;

    /// <summary>By byte order mark, then the header, then the document's own word in its first 1,024 bytes, else UTF-8 (13.2.3.2).</summary>
    private static Encoding EncodingOf(ReadOnlySpan<byte> bytes, string? charset)
    {
        Encoding? marked = bytes is [0xEF, 0xBB, 0xBF, ..] ? Encoding.UTF8 : bytes is [0xFF, 0xFE, ..] ? Encoding.Unicode : bytes is [0xFE, 0xFF, ..] ? Encoding.BigEndianUnicode : null;
        if ((marked ?? EncodingNamed(charset)) is { } known)
            return known;
        var head = Encoding.Latin1.GetString(bytes[..Math.Min(bytes.Length, 1_024)]);
        var at = head.IndexOf("charset", StringComparison.OrdinalIgnoreCase);
        if (at < 0)
            return Encoding.UTF8;
        var name = head[(at + 7)..].TrimStart(' ', '=', '"', '\'').Split(' ', '"', '\'', '>', ';', '/')[0];
        // A document that can be read so far is in no UTF-16, whatever it says.
        return EncodingNamed(name) is { } said && !said.WebName.StartsWith("utf-16", StringComparison.OrdinalIgnoreCase) ? said : Encoding.UTF8;
    }

    private static Encoding? EncodingNamed(string? charset)
    {
        try
        {
            return string.IsNullOrWhiteSpace(charset) ? null : Encoding.GetEncoding(charset.Trim().Trim('"', '\''));
        }
        catch (ArgumentException)
        {
            return null;
        }
    }
}
