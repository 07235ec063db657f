using System.Globalization;

namespace JadeOrchard.Core.Briefs;

/// <summary>What newer facts changed in what is proposed.</summary>
public static class BriefDifferences
{
    /// <returns>The differences in words, what weighs most first; none where nothing changed.</returns>
    public static IReadOnlyList<string> Of(Brief before, Brief after)
    {
        var says = new List<string>();
        if (before.Url != after.Url)
            says.Add($"The page is {after.Url} instead of {before.Url}.");
        if (before.Primary != after.Primary)
            says.Add($"The primary keyword is “{after.Primary}” instead of “{before.Primary}”.");
        Lists("Keywords", [.. before.Keywords.Select(k => k.Phrase)], [.. after.Keywords.Select(k => k.Phrase)]);
        Lists("Questions", before.Questions, after.Questions);
        Lists("Terms", [.. before.Terms.Select(t => t.Text)], [.. after.Terms.Select(t => t.Text)]);
        Lists("Sections", [.. before.Outline.Sections.Select(s => s.Heading)], [.. after.Outline.Sections.Select(s => s.Heading)]);
        if (before.Words?.Words != after.Words?.Words)
            says.Add($"Words: {Number(after.Words?.Words)} instead of {Number(before.Words?.Words)}.");
        if (before.PageType != after.PageType)
            says.Add($"The page should be a {after.PageType} instead of a {before.PageType}.");
        Lists("Ranking pages", [.. before.Ranking.Select(r => r.Url)], [.. after.Ranking.Select(r => r.Url)]);
        var (read, readBefore) = (after.Ranking.Count(r => r.Words > 0), before.Ranking.Count(r => r.Words > 0));
        if (read != readBefore)
            says.Add($"{read} ranking pages were read instead of {readBefore}.");
        return says;

        void Lists(string what, IReadOnlyList<string> old, IReadOnlyList<string> now)
        {
            Add("new", [.. now.Except(old, StringComparer.Ordinal)]);
            Add("gone", [.. old.Except(now, StringComparer.Ordinal)]);
            void Add(string how, List<string> items)
            {
                if (items.Count > 0)
                    says.Add($"{what}, {how}: {string.Join(", ", items.Take(MostNamed))}{(items.Count > MostNamed ? $" and {items.Count - MostNamed} more" : "")}.");
            }
        }
    }

    private const int MostNamed = 5;

    private static string Number(int? words) => words is { } n ? n.ToString("N0", CultureInfo.InvariantCulture) : "none";
}
