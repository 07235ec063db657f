using System.Text;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Wordprocessing;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Site;
using JadeOrchard.Formats.Tables;
using Markdig;

namespace JadeOrchard.Formats.Briefs;

/// <summary>Reads a text from a file: HTML, Markdown (CommonMark), a word processor's DOCX (ECMA-376), or plain text.</summary>
public static class DraftFile
{
    /// <summary>The largest file that is read.</summary>
    public const long MostBytes = 20 << 20;

    private const long MostCharactersOfPart = 20 << 20;

    private static readonly MarkdownPipeline Markdown = new MarkdownPipelineBuilder().UsePipeTables().UseYamlFrontMatter().Build();

    /// <summary>The endings of file names that can be read.</summary>
    public static IReadOnlyList<string> Extensions { get; } = [".html", ".htm", ".md", ".markdown", ".docx", ".txt"];

    /// <exception cref="TableFormatException">It is of another kind, too large, or damaged.</exception>
    public static PageText Read(string path)
    {
        if (new FileInfo(path).Length > MostBytes)
            throw new TableFormatException($"{Path.GetFileName(path)} is larger than {MostBytes >> 20} MB.");
        return Read(File.ReadAllBytes(path), Path.GetFileName(path));
    }

    /// <param name="bytes">The file.</param>
    /// <param name="fileName">Its ending tells what it is.</param>
    /// <exception cref="TableFormatException">It is of another kind, or damaged.</exception>
    public static PageText Read(byte[] bytes, string fileName)
    {
        try
        {
            return Path.GetExtension(fileName).ToLowerInvariant() switch
            {
                ".html" or ".htm" or ".xhtml" => HtmlPage.ReadText(bytes, null, null),
                ".md" or ".markdown" => OfMarkdown(TextOf(bytes)),
                ".docx" => OfDocx(bytes),
                ".txt" or ".text" or "" => OfPlainText(TextOf(bytes)),
                var other => throw new TableFormatException($"{fileName}: files that end with “{other}” cannot be read as a text. Bring {string.Join(", ", Extensions)}."),
            };
        }
        catch (UnreadablePageException e)
        {
            throw new TableFormatException($"{fileName} {e.Message}.");
        }
        catch (Exception e) when (e is OpenXmlPackageException or InvalidDataException or FileFormatException or System.Xml.XmlException)
        {
            throw new TableFormatException($"{fileName} is damaged, or no document of a word processor.");
        }
    }

    /// <summary>A text that was pasted: as Markdown where it has headings of it, else as plain text.</summary>
    public static PageText OfPasted(string text) => text.Split('\n').Any(l => l.StartsWith("# ", StringComparison.Ordinal) || l.StartsWith("## ", StringComparison.Ordinal)) ? OfMarkdown(text) : OfPlainText(text);

    private static PageText OfMarkdown(string text) => HtmlPage.ReadText(Encoding.UTF8.GetBytes($"<main>{Markdig.Markdown.ToHtml(text, Markdown)}</main>"), "utf-8", null) with { Markdown = text.Trim() };

    private static PageText OfPlainText(string text) => new(null, null, null, [], [], [.. text.Split('\n').Select(l => l.Trim()).Where(l => l.Length > 0)], []) { Markdown = text.Trim() };

    private static PageText OfDocx(byte[] bytes)
    {
        using var stream = new MemoryStream(bytes);
        using var document = WordprocessingDocument.Open(stream, isEditable: false, new OpenSettings { MaxCharactersInPart = MostCharactersOfPart });
        var (h1, h2, paragraphs, alts, links) = (new List<string>(), new List<PageHeading>(), new List<string>(), new List<string>(), new List<PageLink>());
        var markdown = new StringBuilder();
        var title = document.PackageProperties.Title is { } given && given.Trim().Length > 0 ? given.Trim() : null;
        if (document.MainDocumentPart?.Document?.Body is { } body)
        {
            var styles = document.MainDocumentPart.StyleDefinitionsPart?.Styles?.Elements<Style>().Where(s => s.StyleId?.Value is not null).DistinctBy(s => s.StyleId!.Value!)
                .ToDictionary(s => s.StyleId!.Value!, s => s.StyleName?.Val?.Value ?? s.StyleId!.Value!, StringComparer.Ordinal) ?? [];
            foreach (var paragraph in body.Descendants<Paragraph>())
            {
                var text = string.Join(' ', string.Concat(paragraph.Descendants().Select(TextIn)).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
                if (text.Length == 0)
                    continue;
                foreach (var link in paragraph.Descendants<Hyperlink>())
                {
                    if (link.Id?.Value is { } relation && document.MainDocumentPart.HyperlinkRelationships.FirstOrDefault(r => r.Id == relation)?.Uri is { IsAbsoluteUri: true } to)
                        links.Add(new PageLink(to.AbsoluteUri, link.InnerText));
                }

                var style = paragraph.ParagraphProperties?.ParagraphStyleId?.Val?.Value is { } id ? styles.GetValueOrDefault(id, id).ToLowerInvariant() : "";
                switch (style)
                {
                    case "title" or "heading 1" or "heading1":
                        h1.Add(text);
                        markdown.Append("# ");
                        break;
                    case "heading 2" or "heading2":
                        h2.Add(new PageHeading(2, text));
                        markdown.Append("## ");
                        break;
                    case "heading 3" or "heading3":
                        h2.Add(new PageHeading(3, text));
                        markdown.Append("### ");
                        break;
                    default:
                        paragraphs.Add(text);
                        break;
                }

                markdown.Append(text).Append("\n\n");
            }

            alts.AddRange(body.Descendants<DocumentFormat.OpenXml.Drawing.Wordprocessing.DocProperties>().Select(p => p.Description?.Value?.Trim() ?? "").Where(d => d.Length > 0).Distinct(StringComparer.Ordinal));
        }

        return new PageText(null, title, null, h1, h2, paragraphs, alts) { Links = links, Markdown = markdown.ToString().Trim() };
    }

    private static string TextIn(DocumentFormat.OpenXml.OpenXmlElement element) => element switch
    {
        Text text => text.Text,
        TabChar or Break or CarriageReturn => " ",
        NoBreakHyphen => "-",
        _ => "",
    };

    /// <summary>UTF-8, or UTF-16 where a byte order mark says so.</summary>
    private static string TextOf(byte[] bytes)
    {
        using var reader = new StreamReader(new MemoryStream(bytes), Encoding.UTF8, detectEncodingFromByteOrderMarks: true);
        return reader.ReadToEnd();
    }
}
