using System.Text.Json.Serialization;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Briefs;

/// <summary>A page or a draft as far as it is read for words.</summary>
/// <param name="Url">Its address; null for a draft that has none.</param>
/// <param name="Title">The title element; null where there is none.</param>
/// <param name="Description">The meta description; null where there is none.</param>
/// <param name="H1">Main headings.</param>
/// <param name="H2">Second and third headings, in order.</param>
/// <param name="Paragraphs">The main text without its headings and without the site's furniture, block by block.</param>
/// <param name="Alts">What the images show, as their descriptions say.</param>
public sealed record PageText(
    string? Url, string? Title, string? Description, IReadOnlyList<string> H1, IReadOnlyList<PageHeading> H2, IReadOnlyList<string> Paragraphs, IReadOnlyList<string> Alts)
{
    /// <summary>Words that count as the opening (DESIGN.md 4.14).</summary>
    public const int OpeningWords = 100;

    /// <summary>What else is on it; null where that was not read.</summary>
    public PageFacts? Facts { get; init; }

    /// <summary>The links of its main text, in order; kept with no page.</summary>
    [JsonIgnore]
    public IReadOnlyList<PageLink> Links { get; init; } = [];

    /// <summary>Its main text as Markdown, to be edited; null where it was not read so, and kept with no page.</summary>
    [JsonIgnore]
    public string? Markdown { get; init; }

    /// <summary>A page of which only the text is known.</summary>
    public static PageText Of(string url, string? title, IReadOnlyList<string> headings, string text) =>
        new(url, title, null, [.. headings.Take(1)], [.. headings.Skip(1).Select(h => new PageHeading(2, h))], text.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries), []);

    /// <summary>The number of words of the paragraphs.</summary>
    public int Words => Paragraphs.Sum(p => Keywords.KeywordWords.Split(Keywords.KeywordWords.Padded(p)).Length);
}

/// <summary>What is on a page beside its words.</summary>
/// <param name="Keywords">The meta keywords; null where there are none.</param>
/// <param name="Tables">In the main text, as the images; null where nobody counted.</param>
/// <param name="LinksWithin">Links to pages of its own site; null where nobody counted.</param>
/// <param name="LinksOut">Addresses of other sites that it links to, each once, in order; null where nobody looked.</param>
/// <param name="PublishedOn">As the page says; null where it does not.</param>
/// <param name="ModifiedOn">As the page says; null where it does not.</param>
/// <param name="LinksIn">Pages of its own site that link to it; null where nobody looked, as with pages of others.</param>
public sealed record PageFacts(string? Keywords, int? Tables, int? Images, int? LinksWithin, IReadOnlyList<string>? LinksOut, DateOnly? PublishedOn, DateOnly? ModifiedOn, int? LinksIn = null)
{
    /// <summary>Addresses of other sites that are kept.</summary>
    public const int MostLinksOut = 50;

    /// <summary>The day of the last change that the page tells of; null where it tells of none.</summary>
    public DateOnly? LastChange => ModifiedOn ?? PublishedOn;
}

/// <summary>A heading below the main one.</summary>
/// <param name="Level">2 or 3.</param>
/// <param name="Text">As it is written.</param>
public sealed record PageHeading(int Level, string Text)
{
    /// <returns>The headings of one level as pages keep them, separated by " | "; none for null.</returns>
    public static IEnumerable<PageHeading> Of(string? joined, int level) =>
        (joined ?? "").Split(" | ", StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Select(h => new PageHeading(level, h));
}
