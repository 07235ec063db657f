using System.Globalization;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Briefs;

/// <summary>What is in a text and what is missing.</summary>
/// <param name="Words">Of its main text.</param>
/// <param name="Target">How many it should have; null where nobody knows.</param>
/// <param name="Lines">The title and the description as results would show them; none where the text has none.</param>
/// <param name="Links">Those that are asked for.</param>
/// <param name="Repeated">Sentences that another page of the site has.</param>
/// <param name="Claims">Sentences with numbers and dates for which no source is given.</param>
public sealed record CheckedText(
    int Words, WordTarget? Target, IReadOnlyList<ShownLine> Lines, IReadOnlyList<CheckedPhrase> Keywords, IReadOnlyList<CheckedPhrase> Terms, IReadOnlyList<CheckedPhrase> Questions,
    IReadOnlyList<PageHeading> Headings, IReadOnlyList<string> Faults, IReadOnlyList<CheckedLink> Links, IReadOnlyList<RepeatedSentence> Repeated, IReadOnlyList<string> Claims);

/// <summary>A title or description as results show it.</summary>
/// <param name="Shown">As much as fits, with "…" where it is cut.</param>
/// <param name="Rest">What is cut off; empty where all fits.</param>
/// <param name="MostCharacters">How many fit.</param>
public sealed record ShownLine(TitleKind Kind, string Text, string Shown, string Rest, int Characters, int MostCharacters, double Pixels, int MostPixels)
{
    /// <param name="kind">Title or description.</param>
    /// <param name="text">As it is on the page.</param>
    public static ShownLine Of(TitleKind kind, string text)
    {
        var (size, most, pixels) = kind == TitleKind.Description ? (FontWidths.DescriptionSize, Titles.MostDescription, Titles.MostDescriptionPixels) : (FontWidths.TitleSize, Titles.MostTitle, Titles.MostTitlePixels);
        var shown = FontWidths.Cut(text, size, pixels);
        return new ShownLine(
            kind, text, shown, shown.EndsWith('…') && !text.EndsWith('…') ? text[Math.Min(text.Length, shown.Length - 1)..].TrimStart() : "", new StringInfo(text).LengthInTextElements, most, Math.Round(FontWidths.Of(text, size)), pixels);
    }
}

/// <summary>A keyword, term or question in a text.</summary>
/// <param name="Places">Where it is; none where it is missing.</param>
/// <param name="Belongs">For one that is missing, the sentence that comes closest; null where none does, so that it needs a heading of its own.</param>
/// <param name="IsOverused">It stands there more often, by the length of the text, than on nearly all ranking pages.</param>
public sealed record CheckedPhrase(string Phrase, IReadOnlyList<Placed> Places, string? Belongs, bool IsOverused);

/// <summary>A link that was asked for.</summary>
/// <param name="Words">The words that were to be linked.</param>
public sealed record CheckedLink(string Url, string Words, bool IsThere);

/// <summary>Checks a text against its brief: lists of facts, never a score (DESIGN.md 4.14).</summary>
public static class TextCheck
{
    /// <summary>Above this share of the ranking pages a phrase is overused (DESIGN.md 4.14).</summary>
    private const double OverusedAbove = 0.95;

    /// <summary>Fewer uses are never too many.</summary>
    private const int FewestOverused = 4;

    /// <summary>A question is answered under a heading that has this share of its stems (from memory).</summary>
    private const double EnoughOfQuestion = 0.6;

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
    /// <param name="site">The sentences of the site; null where they are not looked at.</param>
    /// <param name="language">Two letters, ISO 639-1.</param>
    public static CheckedText Of(Brief brief, PageText text, IReadOnlyDictionary<string, double> usual, SiteSentences? site, string language)
    {
        using var analysis = new TextAnalysis(language);
        var placement = new Placement(text, [], analysis, language);
        List<(string Text, HashSet<string> Stems)> headings = [.. text.H1.Concat(text.H2.Select(h => h.Text)).Select(h => (h, analysis.Stems(KeywordNormalForm.Of(h)).ToHashSet(StringComparer.Ordinal)))];
        var linked = text.Links.Select(l => UrlIdentity.TryOf(l.Url, UrlFolds.All, out var identity) ? identity : l.Url).ToHashSet(StringComparer.Ordinal);
        CheckedPhrase Checked(string phrase)
        {
            var places = placement.Of(phrase);
            return new CheckedPhrase(
                phrase, places, places.Count == 0 ? placement.Closest(phrase) : null,
                places.FirstOrDefault(p => p.Place == TextPlace.Body)?.Count >= FewestOverused && usual.TryGetValue(phrase, out var most) && UsesIn(placement, phrase) > most);
        }

        // A question is also answered under a heading that asks it in other words.
        CheckedPhrase Answered(string question)
        {
            var answered = Checked(question.TrimEnd('?'));
            if (answered.Places.Count > 0 || analysis.Stems(KeywordNormalForm.Of(question)).ToHashSet(StringComparer.Ordinal) is not { Count: > 0 } stems)
                return answered;
            var heading = headings.FirstOrDefault(h => stems.Count(h.Stems.Contains) >= EnoughOfQuestion * stems.Count);
            return heading.Text is null ? answered : answered with { Places = [new Placed(TextPlace.H2, false, true, 1, heading.Text)], Belongs = null };
        }

        return new CheckedText(
            placement.Words, brief.Words,
            [.. new (TitleKind Kind, string? Text)[] { (TitleKind.Title, text.Title), (TitleKind.Description, text.Description) }.Where(l => l.Text is { Length: > 0 }).Select(l => ShownLine.Of(l.Kind, l.Text!))],
            [.. brief.Keywords.Select(k => Checked(k.Phrase))], [.. brief.Terms.Select(t => Checked(t.Text))], [.. brief.Questions.Select(Answered)], [.. text.H1.Select(h => new PageHeading(1, h)), .. text.H2],
            [.. FaultsOf(text)], [.. brief.LinksTo.Select(l => new CheckedLink(l.Url, l.Words, linked.Contains(UrlIdentity.TryOf(l.Url, UrlFolds.All, out var identity) ? identity : l.Url)))],
            site?.In(text, text.Url ?? brief.Url) ?? [], Briefs.Claims.WithoutSource(text));
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
            yield return $"The heading “{twice.First().Text}” appears {twice.Count()} times.";
    }
}

/// <summary>What became of a text from one version to the next.</summary>
/// <param name="Added">Sentences and headings that only the newer one has.</param>
/// <param name="Removed">Those that only the older one has.</param>
public sealed record TextDifferences(IReadOnlyList<string> Added, IReadOnlyList<string> Removed)
{
    /// <returns>The differences, in the order of the texts.</returns>
    public static TextDifferences Of(PageText before, PageText after)
    {
        static List<string> Lines(PageText text) => [.. text.H1.Concat(text.H2.Select(h => h.Text)).Concat(text.Paragraphs.SelectMany(Sentences.Of)).Distinct(StringComparer.Ordinal)];
        var (old, now) = (Lines(before), Lines(after));
        return new TextDifferences([.. now.Except(old, StringComparer.Ordinal)], [.. old.Except(now, StringComparer.Ordinal)]);
    }
}
