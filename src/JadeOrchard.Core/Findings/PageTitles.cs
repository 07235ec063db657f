using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Findings;

/// <summary>The stems of the pages' titles and main headings, without what all titles of the site begin or end with.</summary>
public sealed class PageTitles
{
    private PageTitles(int[][] titles, int[][] h1s, int stems) => (Titles, H1s, StemCount) = (titles, h1s, stems);

    /// <summary>Nothing is known of the pages.</summary>
    public static PageTitles Unknown { get; } = new([], [], 0);

    /// <summary>For each page the stems of its title, each once, ascending; empty where it has none or isn't indexable.</summary>
    internal int[][] Titles { get; }

    /// <summary>The same of its H1.</summary>
    internal int[][] H1s { get; }

    internal int StemCount { get; }

    /// <param name="pages">All pages of the site.</param>
    /// <param name="brands">A part of a title that names the brand is left out.</param>
    /// <param name="analysis">For the language of the project; used by nobody else meanwhile.</param>
    public static PageTitles Of(IReadOnlyList<SitePage> pages, BrandTerms brands, TextAnalysis analysis)
    {
        var furniture = new TitleFurniture([.. pages.Select(p => p.Title)]);
        var numbers = new Dictionary<string, int>(StringComparer.Ordinal);
        int[] Stems(string? text) => [.. analysis.Stems(text).Distinct(StringComparer.Ordinal).Select(s => numbers.TryGetValue(s, out var n) ? n : numbers[s] = numbers.Count).Order()];
        // A part alone is left out only where it is the site's name: then the page has no title or heading of its own.
        bool IsFurniture(string part, bool isAlone) => isAlone ? furniture.Has(part) : furniture.Has(part) || brands.IsBrandQuery(KeywordNormalForm.Of(part));
        int[] Own(string? text)
        {
            var parts = TitleFurniture.Parts(text);
            return Stems(string.Join(' ', parts.Where(x => !IsFurniture(x, parts.Length < 2))));
        }

        var titles = pages.Select(p => p.IsListed ? Own(p.Title) : []).ToArray();
        var h1s = pages.Select(p => p.IsListed ? Own(p.H1) : []).ToArray();
        return new PageTitles(titles, h1s, numbers.Count);
    }
}
