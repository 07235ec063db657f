namespace JadeOrchard.Core.Site;

/// <summary>A link of a page.</summary>
/// <param name="Url">Absolute.</param>
/// <param name="Anchor">Its text, white space collapsed.</param>
public sealed record PageLink(string Url, string Anchor);

/// <summary>What was read in the HTML of a page.</summary>
/// <param name="Title">The title element; null where there is none or it is empty, as the rest.</param>
/// <param name="Canonical">Absolute.</param>
/// <param name="Robots">Content of the robots meta element, lower case.</param>
/// <param name="H1">The first main heading.</param>
/// <param name="H2">Second headings in order, separated by " | ".</param>
/// <param name="H3">Third headings, as <paramref name="H2"/>.</param>
/// <param name="Text">Main text: without navigation, header, footer, forms and scripts.</param>
/// <param name="Words">Words of the main text.</param>
/// <param name="Links">In order, links within the page left out.</param>
/// <param name="PublishedOn">As the page says.</param>
/// <param name="ModifiedOn">As the page says.</param>
/// <param name="Language">As the page says, see <see cref="SitePage.Language"/>.</param>
/// <param name="Versions">See <see cref="SitePage.Versions"/>.</param>
public sealed record PageContent(
    string? Title, string? Description, string? Canonical, string? Robots, string? H1, string? H2, string? H3, string Text, int Words,
    IReadOnlyList<PageLink> Links, DateOnly? PublishedOn, DateOnly? ModifiedOn, string? Language = null, string? Versions = null);

/// <summary>A page as a scan found it.</summary>
/// <param name="Url">As it was asked for.</param>
/// <param name="Status">HTTP status; of the first answer where it redirects.</param>
/// <param name="RedirectsTo">Where the redirects end; null where there are none.</param>
/// <param name="Indexable">"yes", or why not.</param>
/// <param name="Content">Null where no HTML was read.</param>
public sealed record ScannedPage(string Url, string Identity, int Status, string? RedirectsTo, string Indexable, PageContent? Content);

/// <summary>Whether a search service may list a page.</summary>
public static class Indexability
{
    public const string Yes = "yes";

    /// <param name="status">HTTP status.</param>
    /// <param name="redirects">It leads elsewhere.</param>
    /// <param name="identity">What the page is compared by.</param>
    /// <param name="canonicalIdentity">The same of its canonical; null where it names none.</param>
    /// <param name="robots">Robots meta element and X-Robots-Tag header together; null where there are none.</param>
    /// <returns><see cref="Yes"/>, or why not, in a word or two.</returns>
    public static string Of(int status, bool redirects, string identity, string? canonicalIdentity, string? robots) =>
        redirects ? "redirects"
        : status is < 200 or >= 300 ? $"status {status}"
        : robots is not null && (robots.Contains("noindex", StringComparison.OrdinalIgnoreCase) || Directives(robots).Contains("none")) ? "noindex"
        : canonicalIdentity is not null && canonicalIdentity != identity ? "canonical elsewhere"
        : Yes;

    private static IEnumerable<string> Directives(string robots) => robots.Split([',', ' ', ':'], StringSplitOptions.RemoveEmptyEntries).Select(d => d.ToLowerInvariant());
}
