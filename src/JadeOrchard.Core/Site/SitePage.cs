namespace JadeOrchard.Core.Site;

/// <summary>A page of the site as a scan or an import saw it, or as it is planned.</summary>
/// <param name="Url">As given.</param>
/// <param name="Title">Null when unknown, as the rest.</param>
/// <param name="H1">The main heading.</param>
/// <param name="Description">The meta description.</param>
/// <param name="Words">Number of words of the main text.</param>
/// <param name="H2">Second headings in order, separated by " | ".</param>
/// <param name="H3">Third headings, as <paramref name="H2"/>.</param>
/// <param name="IsListed">False where a search service may not list it: it is gone, redirects, or says so.</param>
/// <param name="LinksIn">Pages of the site that link to it; null where no full scan has been.</param>
/// <param name="Language">As it says, a language tag (RFC 5646): "en", "fr-CA".</param>
/// <param name="Versions">Addresses of its versions for other languages and countries (hreflang), separated by spaces.</param>
public sealed record SitePage(
    string Url, string? Title = null, string? H1 = null, string? Description = null, long? Words = null, string? H2 = null, string? H3 = null,
    bool IsListed = true, long? LinksIn = null, string? Language = null, string? Versions = null)
{
    /// <summary>As <see cref="Keywords.Keyword.UpdatedBy"/>: what a later row says replaces what was known.</summary>
    public SitePage UpdatedBy(SitePage later) => this with
    {
        Title = later.Title ?? Title,
        H1 = later.H1 ?? H1,
        Description = later.Description ?? Description,
        Words = later.Words ?? Words,
        H2 = later.H2 ?? H2,
        H3 = later.H3 ?? H3,
        Language = later.Language ?? Language,
        Versions = later.Versions ?? Versions,
    };
}
