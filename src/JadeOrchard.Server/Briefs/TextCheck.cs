using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Server.Briefs;

/// <summary>Checks a text against its brief: lists of facts, never a score (DESIGN.md 4.14).</summary>
public static class TextCheck
{
    /// <summary>Above this share of the ranking pages a phrase is overused (DESIGN.md 4.14).</summary>
    private const double OverusedAbove = 0.95;

    /// <summary>Fewer uses are never too many.</summary>
    private const int FewestOverused = 4;

    /// <returns>For each keyword and term how often nearly all ranking pages have it at most, by 1,000 words.</returns>
    public static IReadOnlyDictionary<string, double> UsualUses(Brief brief, IReadOnlyCollection<PageText> ranking, string language)
    {
        using var analysis = new TextAnalysis(language);
        var placements = ranking.Select(p => new Placement(p, [], analysis, language)).Where(p => p.Words > 0).ToList();
        return brief.Keywords.Select(k => k.Phrase).Concat(brief.Terms.Select(t => t.Text)).Distinct(StringComparer.Ordinal).ToDictionary(
            p => p,
            p => placements.Select(x => UsesIn(x, p)).Order().ToList() is { Count: > 0 } uses ? uses[(int)Math.Ceiling(OverusedAbove * uses.Count) - 1] : double.PositiveInfinity,
            StringComparer.Ordinal);
    }

    /// <param name="brief">What was asked for.</param>
    /// <param name="text">What came back.</param>
    /// <param name="usual">See <see cref="UsualUses"/>.</param>
    /// <param name="language">Two letters, ISO 639-1.</param>
    public static CheckedText Of(Brief brief, PageText text, IReadOnlyDictionary<string, double> usual, string language)
    {
        using var analysis = new TextAnalysis(language);
        var placement = new Placement(text, [], analysis, language);
        CheckedPhrase Checked(string phrase)
        {
            var places = placement.Of(phrase);
            return new CheckedPhrase(
                phrase, places, places.Count == 0 ? placement.Closest(phrase) : null,
                places.FirstOrDefault(p => p.Place == TextPlace.Body)?.Count >= FewestOverused && usual.TryGetValue(phrase, out var most) && UsesIn(placement, phrase) > most);
        }

        return new CheckedText(
            placement.Words, brief.Words, text.Title, [.. brief.Keywords.Select(k => Checked(k.Phrase))], [.. brief.Terms.Select(t => Checked(t.Text))], [.. brief.Questions.Select(q => Checked(q.TrimEnd('?')))],
            [.. text.H1, .. text.H2.Select(h => h.Text)], [.. FaultsOf(text)]);
    }

    private static double UsesIn(Placement placement, string phrase) => placement.Of(phrase).Where(p => p.Place == TextPlace.Body).Sum(p => p.Count) * 1_000.0 / Math.Max(1, placement.Words);

    /// <summary>What is wrong with the headings, in words.</summary>
    private static IEnumerable<string> FaultsOf(PageText text)
    {
        if (text.H1.Count > 1)
            yield return $"There are {text.H1.Count} main headings; a page has one.";
        if (text.H1.Count == 0)
            yield return "There is no main heading.";
        if (text.H2.Count > 0 && text.H2[0].Level == 3)
            yield return $"“{text.H2[0].Text}” is a third heading without a second one before it.";
        foreach (var twice in text.H2.GroupBy(h => KeywordNormalForm.Of(h.Text), StringComparer.Ordinal).Where(g => g.Count() > 1))
            yield return $"The heading “{twice.First().Text}” stands there {twice.Count()} times.";
    }
}
