using Markdig;
using Markdig.Renderers.Html;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace JadeOrchard.Formats.Guide;

/// <summary>A section of a guide.</summary>
/// <param name="Heading">As plain text.</param>
/// <param name="Anchor">Its id on the page; empty for the page itself.</param>
public sealed record GuideSection(string Heading, string Anchor);

/// <summary>A page of the guide, written in Markdown (CommonMark with tables).</summary>
/// <param name="Title">Its first heading.</param>
/// <param name="Sections">The page itself and the headings below it.</param>
/// <param name="Html">What is in the body.</param>
public sealed record GuidePage(string Title, IReadOnlyList<GuideSection> Sections, string Html)
{
    private static readonly MarkdownPipeline Pipeline = new MarkdownPipelineBuilder().UsePipeTables().UseAutoIdentifiers(Markdig.Extensions.AutoIdentifiers.AutoIdentifierOptions.GitHub).DisableHtml().Build();

    /// <param name="markdown">The page.</param>
    /// <param name="link">Where a link or a picture of it leads; given as it is written, without what comes after "#".</param>
    public static GuidePage Of(string markdown, Func<string, string> link)
    {
        var document = Markdown.Parse(markdown, Pipeline);
        foreach (var inline in document.Descendants<LinkInline>().Where(l => l.Url is { Length: > 0 } url && !url.Contains("://", StringComparison.Ordinal) && url[0] != '#'))
        {
            var parts = inline.Url!.Split('#', 2);
            inline.Url = link(parts[0]) + (parts.Length > 1 ? "#" + parts[1] : "");
        }

        var headings = document.Descendants<HeadingBlock>().Where(h => h.Level <= 2).Select(h => new GuideSection(TextOf(h.Inline), h.Level == 1 ? "" : h.TryGetAttributes()?.Id ?? "")).ToList();
        return new GuidePage(headings.FirstOrDefault()?.Heading ?? "", headings, document.ToHtml(Pipeline));
    }

    private static string TextOf(ContainerInline? inline) => string.Concat((inline?.Descendants() ?? []).Select(i => i switch
    {
        LiteralInline literal => literal.Content.ToString(),
        CodeInline code => code.Content,
        _ => "",
    }));
}
