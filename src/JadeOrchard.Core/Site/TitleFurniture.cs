namespace JadeOrchard.Core.Site;

/// <summary>What the titles of a site begin or end with on many pages, which says nothing of any of them: " | Fenwater".</summary>
public sealed class TitleFurniture
{
    private static readonly string[] Separators = [" | ", " - ", " – ", " — ", " · ", " :: ", " » "];

    /// <summary>A part at the start or end of this share of titles belongs to the site, not the page.</summary>
    private const double Share = 0.2;

    private const int Fewest = 3;

    private readonly HashSet<string> _parts;

    /// <param name="titles">Of all pages of the site; null where one has none.</param>
    public TitleFurniture(IReadOnlyCollection<string?> titles)
    {
        var least = Math.Max(Fewest, Share * titles.Count);
        _parts = titles.Select(Parts).Where(p => p.Length > 1).SelectMany(p => new[] { p[0], p[^1] }.Distinct(StringComparer.OrdinalIgnoreCase))
            .GroupBy(p => p, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() >= least).Select(g => g.Key).ToHashSet(StringComparer.OrdinalIgnoreCase);
    }

    /// <returns>Whether a part is the site's.</returns>
    public bool Has(string part) => _parts.Contains(part);

    /// <returns>A title or heading without what is the site's; empty where nothing else is in it.</returns>
    public string Own(string? title) => string.Join(' ', Parts(title).Where(p => !Has(p)));

    /// <returns>How titles of the site usually end, with what parts it from the rest: " | Fenwater"; empty where they have no usual ending.</returns>
    public static string EndingOf(IReadOnlyCollection<string?> titles)
    {
        var most = titles.OfType<string>().Select(t => (Title: t, At: Separators.Max(s => t.LastIndexOf(s, StringComparison.Ordinal)))).Where(t => t.At > 0)
            .CountBy(t => t.Title[t.At..].TrimEnd(), StringComparer.Ordinal).OrderByDescending(e => e.Value).ThenBy(e => e.Key, StringComparer.Ordinal).FirstOrDefault();
        return most.Value >= Math.Max(Fewest, Share * titles.Count) ? most.Key : "";
    }

    /// <returns>The parts between separators.</returns>
    public static string[] Parts(string? title) => (title ?? "").Split(Separators, StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
}
