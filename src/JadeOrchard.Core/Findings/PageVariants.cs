using System.Globalization;

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
