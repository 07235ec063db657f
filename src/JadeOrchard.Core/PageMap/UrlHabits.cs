using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.PageMap;

/// <summary>How a site writes its addresses and titles, so that a new page can be proposed as the site would make it.</summary>
/// <param name="Separator">Between words: "-" or "_".</param>
/// <param name="Ending">"/" or ".html" or nothing.</param>
/// <param name="TitleCase">Titles have Every Word Like This.</param>
public sealed record UrlHabits(string Separator, string Ending, bool TitleCase)
{
    private static readonly string[] KnownEndings = [".html", ".htm", ".php", ".aspx"];
    private readonly ImmutableArray<FiledPage> _pages = [];

    private UrlHabits(string separator, string ending, bool titleCase, ImmutableArray<FiledPage> pages)
        : this(separator, ending, titleCase) => _pages = pages;

    /// <param name="pages">Existing pages of the site.</param>
    public static UrlHabits Of(IReadOnlyList<SitePage> pages)
    {
        var paths = pages.Where(p => p.IsListed).Select(p => (Page: p, Path: PathOf(p.Url))).Where(p => p.Path.Length > 1).ToList();
        var underscores = paths.Count(p => p.Path.Contains('_', StringComparison.Ordinal));
        var hyphens = paths.Count(p => p.Path.Contains('-', StringComparison.Ordinal));
        var ending = paths.Select(p => EndingOf(p.Path)).GroupBy(e => e).OrderByDescending(g => g.Count()).ThenBy(g => g.Key, StringComparer.Ordinal).FirstOrDefault();
        var titles = paths.Select(p => p.Page.H1 ?? p.Page.Title).OfType<string>().Select(t => t.Split(' ', StringSplitOptions.RemoveEmptyEntries)).Where(t => t.Length >= 3).ToList();
        var cased = titles.Count(t => t.Skip(1).Count(w => char.IsUpper(w[0])) * 2 > t.Length - 1);
        return new UrlHabits(
            underscores > hyphens ? "_" : "-",
            ending is not null && ending.Count() * 2 > paths.Count ? ending.Key : "",
            titles.Count > 0 && cased * 2 > titles.Count,
            [.. paths.Select(p => new FiledPage(FolderOf(p.Path), p.Page.Url, PagePurpose.Of(p.Page)))]);
    }

    /// <summary>The address of a new page: in the folder where the site keeps pages of its kind, named after the primary keyword.</summary>
    /// <param name="primary">The primary keyword.</param>
    /// <param name="intent">What its searchers are after; null where nobody knows.</param>
    /// <param name="kin">Pages of the same topic, which tell more about the folder than others.</param>
    /// <param name="isTaken">True for an address that is there already.</param>
    /// <returns>A path: "/guides/kayak-roof-rack".</returns>
    public string PathFor(string primary, Intent? intent, IReadOnlyCollection<string> kin, Func<string, bool> isTaken)
    {
        var near = kin.ToHashSet(StringComparer.Ordinal);
        var folder = _pages
            .Where(p => !PagePurpose.IsMismatch(p.Purpose, intent) && (intent is null || p.Purpose is null || p.Purpose == intent))
            .GroupBy(p => p.Folder)
            .Select(g => (Folder: g.Key, Kin: g.Count(p => near.Contains(p.Url)), Same: g.Count(p => intent is not null && p.Purpose == intent), All: g.Count()))
            .OrderByDescending(f => f.Kin * f.Same).ThenByDescending(f => f.Same).ThenByDescending(f => f.Kin).ThenByDescending(f => f.All).ThenBy(f => f.Folder, StringComparer.Ordinal)
            .Select(f => f.Folder)
            .FirstOrDefault() ?? "/";
        var slug = Slug(primary);
        if (slug.Length == 0)
            return folder;
        for (var number = 1; ; number++)
        {
            var path = folder + slug + (number == 1 ? "" : Separator + number.ToString(CultureInfo.InvariantCulture)) + Ending;
            if (!isTaken(path))
                return path;
        }
    }

    /// <summary>A working title in the site's way of writing: "Kayak roof rack" or "Kayak Roof Rack".</summary>
    public string TitleFor(string primary) => primary.Length == 0 ? primary
        : TitleCase ? CultureInfo.InvariantCulture.TextInfo.ToTitleCase(primary)
        : char.ToUpperInvariant(primary[0]) + primary[1..];

    /// <summary>Letters and digits of a phrase in lower case, accents taken off where a letter remains.</summary>
    private string Slug(string phrase)
    {
        var plain = new StringBuilder(phrase.Length);
        foreach (var c in KeywordNormalForm.Of(phrase).Normalize(NormalizationForm.FormD))
        {
            if (CharUnicodeInfo.GetUnicodeCategory(c) == UnicodeCategory.NonSpacingMark)
                continue;
            if (c is '\'' or '’')
                continue;
            plain.Append(char.IsLetterOrDigit(c) ? c : ' ');
        }

        return string.Join(Separator, plain.ToString().Normalize(NormalizationForm.FormC).Split(' ', StringSplitOptions.RemoveEmptyEntries));
    }

    private static string PathOf(string url) => Uri.TryCreate(url, UriKind.Absolute, out var address) ? address.AbsolutePath : "/";

    private static string FolderOf(string path) => path[..(path.TrimEnd('/').LastIndexOf('/') + 1)];

    private static string EndingOf(string path) => path.EndsWith('/') ? "/" : KnownEndings.FirstOrDefault(e => path.EndsWith(e, StringComparison.OrdinalIgnoreCase)) ?? "";

    /// <summary>A page with the folder that it is in.</summary>
    private readonly record struct FiledPage(string Folder, string Url, Intent? Purpose);
}
