using System.Text;
using AngleSharp.Html.Parser;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Formats.Site;

/// <summary>Reads the HTML of a page, however broken (HTML Living Standard, section 13.2).</summary>
public static class HtmlPage
{
    /// <summary>HTML beyond this is not read.</summary>
    public const int MostBytes = 5 << 20;

    private const int MostNested = 600;
    private const int MostTags = 200_000;

    /// <summary>Elements without an end tag, or with one that may be left out (HTML Living Standard, 13.1.2).</summary>
    private static readonly HashSet<string> MayStayOpen = new(StringComparer.OrdinalIgnoreCase)
    {
        "area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "track", "wbr", "param", "keygen", "command", "frame", "p", "li", "dt", "dd", "tr", "td", "th", "tbody",
        "thead", "tfoot", "option", "optgroup", "colgroup", "rp", "rt", "html", "head", "body", "path", "circle", "rect", "use", "line", "polygon", "polyline", "ellipse", "stop",
    };

    static HtmlPage() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <param name="bytes">The body.</param>
    /// <param name="charset">As the Content-Type header names it; null where it does not.</param>
    /// <param name="url">The page's own address, against which links are resolved.</param>
    /// <param name="stop">Ends it soon.</param>
    /// <exception cref="UnreadablePageException">It cannot be read within bounds that any honest page keeps.</exception>
    public static PageContent Read(byte[] bytes, string? charset, Uri url, CancellationToken stop = default) => Read(bytes, charset, tree => tree.Read(url), stop);

    /// <summary>The page for its words.</summary>
    /// <param name="bytes">The body.</param>
    /// <param name="charset">As the Content-Type header names it; null where it does not.</param>
    /// <param name="url">The page's own address; null for a draft that has none.</param>
    /// <param name="stop">Ends it soon.</param>
    /// <exception cref="UnreadablePageException">It cannot be read within bounds that any honest page keeps.</exception>
    public static PageText ReadText(byte[] bytes, string? charset, Uri? url, CancellationToken stop = default) => Read(bytes, charset, tree => tree.ReadText(url), stop);

    private static T Read<T>(byte[] bytes, string? charset, Func<HtmlTree, T> read, CancellationToken stop)
    {
        var span = bytes.AsSpan(0, Math.Min(bytes.Length, MostBytes));
        var html = EncodingOf(span, charset).GetString(span);
        var effort = new Effort(stop);
        var parser = new HtmlParser(new HtmlParserOptions { IsScripting = false, OnCreated = (_, _) => effort.Spend() });
        try
        {
            using var document = parser.ParseDocument(html[..SafeLength(html)]);
            return read(new HtmlTree(document, effort));
        }
        catch (Exception e) when (e is not (OperationCanceledException or UnreadablePageException))
        {
            throw new UnreadablePageException("holds something that cannot be read", e);
        }
    }

    /// <summary>
    /// How much of a document has no more tags, and is nested no deeper, than any honest page; building a tree takes time that grows with the
    /// square of its depth. For that only elements count that must be closed.
    /// </summary>
    private static int SafeLength(string html)
    {
        var (depth, tags) = (0, 0);
        var at = 0;
        while ((at = html.IndexOf('<', at)) >= 0 && at + 1 < html.Length)
        {
            if (++tags > MostTags)
                return at;
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
        catch (Exception e) when (e is ArgumentException or NotSupportedException)
        {
            // Not known, or known and not allowed, as UTF-7 is.
            return null;
        }
    }
}
