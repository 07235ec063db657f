using System.Globalization;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Findings;

/// <summary>Tells URLs of one page in several guises: further pages of a list, another order, a filter, a language.</summary>
/// <remarks>By names that such parameters and folders usually have (common practice); pages that name one canonical are one page before this is asked.</remarks>
public static class PageVariants
{
    private static readonly HashSet<string> Parameters = new(StringComparer.OrdinalIgnoreCase)
    {
        "page", "p", "pg", "paged", "offset", "start", "per_page", "limit", "sort", "sortby", "sort_by", "order", "orderby", "order_by", "dir", "direction", "view",
        "filter", "filters", "color", "colour", "size", "price", "min_price", "max_price", "variant", "lang", "language", "locale", "hl",
    };

    private static readonly HashSet<string> Languages = [.. CultureInfo.GetCultures(CultureTypes.NeutralCultures).Select(c => c.TwoLetterISOLanguageName).Where(n => n.Length == 2)];

    /// <returns>For each page the first listed one that is the same page: in another guise, or as a version for another language or country; itself where it is that.</returns>
    public static int[] Of(IReadOnlyList<SitePage> pages)
    {
        int[] variantOf = [.. Enumerable.Range(0, pages.Count)];
        var listed = variantOf.Where(p => pages[p].IsListed).ToList();
        // The plainest address is the page itself: the one without parameters, then the shortest.
        foreach (var guises in listed.GroupBy(p => KeyOf(pages[p].Url), StringComparer.Ordinal).Where(g => g.Count() > 1))
        {
            var first = guises.OrderBy(p => pages[p].Url.Contains('?', StringComparison.Ordinal)).ThenBy(p => pages[p].Url.Length).ThenBy(p => pages[p].Url, StringComparer.Ordinal).First();
            foreach (var guise in guises)
                variantOf[guise] = first;
        }

        var pageOf = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var page in listed.Where(p => pages[p].Versions is not null))
            pageOf[Identity(pages[page].Url)] = page;
        foreach (var page in listed.Where(p => pages[p].Versions is not null))
        {
            var versions = pages[page].Versions!.Split(' ').Select(v => pageOf.GetValueOrDefault(Identity(v), -1)).Where(p => p >= 0).Append(page).Select(p => variantOf[p]).Distinct().ToList();
            foreach (var version in versions.Where(_ => versions.Count > 1))
                variantOf[version] = versions.Min();
        }

        // A version of a version is followed to its end.
        for (var page = 0; page < variantOf.Length; page++)
        {
            while (variantOf[variantOf[page]] != variantOf[page])
                variantOf[page] = variantOf[variantOf[page]];
        }

        return variantOf;
    }

    private static string Identity(string url) => UrlIdentity.TryOf(url, UrlFolds.All, out var identity) ? identity : url;

    /// <param name="url">A URL; any other text is returned as it is.</param>
    /// <returns>The same for all guises of one page.</returns>
    public static string KeyOf(string url)
    {
        if (!Uri.TryCreate(url, UriKind.Absolute, out var address))
            return url;
        var segments = address.AbsolutePath.Split('/', StringSplitOptions.RemoveEmptyEntries).ToList();
        if (segments.Count > 0 && IsLanguage(segments[0]))
            segments.RemoveAt(0);
        if (segments is [.., "page" or "seite" or "pagina", var number] && number.All(char.IsAsciiDigit))
            segments.RemoveRange(segments.Count - 2, 2);
        var query = address.Query.TrimStart('?').Split('&', StringSplitOptions.RemoveEmptyEntries)
            .Where(p => p.Split('=')[0] is var name && !Parameters.Contains(name) && !name.StartsWith("filter", StringComparison.OrdinalIgnoreCase))
            .Order(StringComparer.Ordinal);
        return $"{address.Host}/{string.Join('/', segments)}?{string.Join('&', query)}";
    }

    /// <returns>True for "fr" and "en-gb".</returns>
    internal static bool IsLanguage(string segment) =>
        (segment.Length == 2 || (segment.Length == 5 && segment[2] is '-' or '_' && char.IsAsciiLetter(segment[3]) && char.IsAsciiLetter(segment[4])))
        && Languages.Contains(segment[..2].ToLowerInvariant());
}
