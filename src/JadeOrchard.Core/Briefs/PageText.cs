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

    /// <summary>A page of which only the text is known.</summary>
    public static PageText Of(string url, string? title, IReadOnlyList<string> headings, string text) =>
        new(url, title, null, [.. headings.Take(1)], [.. headings.Skip(1).Select(h => new PageHeading(2, h))], text.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries), []);

    /// <summary>The number of words of the paragraphs.</summary>
    public int Words => Paragraphs.Sum(p => Keywords.KeywordWords.Split(Keywords.KeywordWords.Padded(p)).Length);
}

/// <summary>A heading below the main one.</summary>
/// <param name="Level">2 or 3.</param>
/// <param name="Text">As it is written.</param>
public readonly record struct PageHeading(int Level, string Text)
{
    /// <returns>The headings of one level as pages keep them, separated by " | "; none for null.</returns>
    public static IEnumerable<PageHeading> Of(string? joined, int level) =>
        (joined ?? "").Split(" | ", StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Select(h => new PageHeading(level, h));
}
