namespace JadeOrchard.Core.Site;

/// <summary>A project works in its own language: pages of the site in another one are no pages for its searches.</summary>
public static class SiteLanguages
{
    /// <summary>The share of pages with a language that must have the project's. Many sites say "en" on every page, whatever language they are in; then nothing follows from it.</summary>
    private const double LeastOwn = 0.5;

    /// <param name="pages">All pages of the site.</param>
    /// <param name="language">Of the project, two letters, ISO 639-1.</param>
    /// <returns>The same pages; those in another language are not listed.</returns>
    public static IReadOnlyList<SitePage> Listed(IReadOnlyList<SitePage> pages, string language)
    {
        int known = 0, own = 0;
        foreach (var page in pages)
        {
            known += page.Language is null ? 0 : 1;
            own += Is(page.Language, language) ? 1 : 0;
        }

        return known == own || own < LeastOwn * known ? pages : [.. pages.Select(p => p.Language is null || Is(p.Language, language) ? p : p with { IsListed = false })];
    }

    /// <param name="tag">A language tag such as "en-GB" (RFC 5646).</param>
    /// <returns>Its first part in lower case where it is one of two or three letters; null for anything else.</returns>
    public static string? Primary(string? tag) =>
        tag?.Trim().Split('-', '_')[0] is { Length: 2 or 3 } primary && primary.All(char.IsAsciiLetter) ? primary.ToLowerInvariant() : null;

    private static bool Is(string? tag, string language) => Primary(tag) == Primary(language) && tag is not null;
}
