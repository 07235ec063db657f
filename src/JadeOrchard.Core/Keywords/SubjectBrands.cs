using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Keywords;

/// <summary>A brand term that is also what the site is about.</summary>
/// <param name="Term">As the project has it.</param>
/// <param name="Share">The share of the titles in which its words occur, 0 to 1.</param>
public sealed record SubjectBrand(string Term, double Share);

/// <summary>
/// Finds brand terms whose words are the site's subject as well: searches with them are not for the site, and must not be passed over, until the planner says so.
/// </summary>
public static class SubjectBrands
{
    /// <summary>Of the titles that have any words of their own.</summary>
    public const double LeastShare = 0.2;

    /// <summary>In fewer titles a word may stand by chance.</summary>
    private const int FewestTitles = 3;

    /// <summary>Words that say whose a page is where they stand before the brand at the end of a title.</summary>
    private static readonly string[] Belonging = ["by", "at", "from", "bei", "von", "chez", "de", "da", "di", "van", "en"];

    /// <param name="terms">Names of the brand; those that say nothing are passed over.</param>
    /// <param name="titles">Of all pages of the site; null where one has none.</param>
    /// <param name="analysis">For the language of the project.</param>
    /// <returns>The terms that occur in the titles of a fifth of the pages, in their order, with all their stems; parts that many titles share don't count.</returns>
    public static IReadOnlyList<SubjectBrand> Of(IReadOnlyList<string> terms, IReadOnlyCollection<string?> titles, TextAnalysis analysis)
    {
        var furniture = new TitleFurniture(titles);
        var own = titles.Select(furniture.Own).Where(t => t.Length > 0).ToList();
        var found = new List<SubjectBrand>();
        foreach (var term in terms.Distinct(StringComparer.OrdinalIgnoreCase))
        {
            var stems = analysis.Stems(term).Distinct(StringComparer.Ordinal).ToList();
            if (stems.Count == 0)
                continue;
            string[] signatures = [.. Belonging.Select(b => $" {b} {term}")];
            var having = own.Count(title => Says(title, signatures));
            if (having >= FewestTitles && having >= LeastShare * own.Count)
                found.Add(new SubjectBrand(term, (double)having / own.Count));

            bool Says(string title, string[] signatures)
            {
                // A title that is the name alone says nothing either.
                if (title.Equals(term, StringComparison.OrdinalIgnoreCase))
                    return false;
                if (signatures.FirstOrDefault(s => title.EndsWith(s, StringComparison.OrdinalIgnoreCase)) is { } signature)
                    title = title[..^signature.Length];
                var of = analysis.Stems(title).ToHashSet(StringComparer.Ordinal);
                return stems.TrueForAll(of.Contains);
            }
        }

        return found;
    }
}
