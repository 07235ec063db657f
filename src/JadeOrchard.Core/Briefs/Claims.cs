using System.Text.RegularExpressions;

namespace JadeOrchard.Core.Briefs;

/// <summary>Finds sentences with numbers and dates for which no source is given.</summary>
public static partial class Claims
{
    private const int Most = 50;

    /// <returns>Sentences with a year, a share, an amount of money or a number of two digits or more, and neither a link nor a word that names a source.</returns>
    public static IReadOnlyList<string> WithoutSource(PageText text)
    {
        var links = text.Links.Where(l => l.Anchor.Length > 1).Select(l => l.Anchor).ToHashSet(StringComparer.Ordinal);
        return [.. text.Paragraphs.SelectMany(Sentences.Of).Where(s => Number().IsMatch(s) && !Source().IsMatch(s) && !links.Any(l => s.Contains(l, StringComparison.Ordinal))).Distinct(StringComparer.Ordinal).Take(Most)];
    }

    [GeneratedRegex(@"\d\s?%|[€£$¥]\s?\d|\d\s?[€£$¥]|\d[.,]\d|\d{2,}", RegexOptions.CultureInvariant)]
    private static partial Regex Number();

    /// <summary>English and, for what is common in texts of other languages, brackets with a name and a year, and footnotes.</summary>
    [GeneratedRegex(@"according to|source:|\(.*\b(19|20)\d\d\b.*\)|\[\d+\]|https?://", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex Source();
}
