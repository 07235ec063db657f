using System.Collections.Immutable;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Briefs;

/// <summary>What a text is for.</summary>
public enum TitleKind
{
    Title,
    Description,
    H1,
}

/// <summary>A title, description or main heading that could be used.</summary>
/// <param name="Pixels">In the shipped sans font, see <see cref="FontWidths"/>.</param>
/// <param name="Covers">Keywords, by index, all of whose stems are in it.</param>
public sealed record TitleText(TitleKind Kind, string Text, int Characters, double Pixels, ImmutableArray<int> Covers)
{
    /// <summary>It is cut off in results.</summary>
    public bool IsTooLong => Kind switch
    {
        TitleKind.Title => Characters > Titles.MostTitle || Pixels > Titles.MostTitlePixels,
        TitleKind.Description => Characters > Titles.MostDescription || Pixels > Titles.MostDescriptionPixels,
        _ => false,
    };
}

/// <summary>A pattern of titles.</summary>
/// <param name="Intent">Of the primary keyword; null for any.</param>
/// <param name="Text">{primary} is the primary keyword, {more} what the other keywords have beside it, {site} the site's usual ending.</param>
public sealed record TitlePattern(Intent? Intent, string Text);

/// <summary>Makes titles, descriptions and main headings by rules, the same for the same keywords (DESIGN.md 4.15).</summary>
/// <param name="analysis">For the language; used by nobody else meanwhile.</param>
/// <param name="language">Two letters, ISO 639-1.</param>
/// <param name="siteEnding">How titles of the site end, with what parts it from the rest: " | Fenwater"; empty for none.</param>
/// <param name="patterns">Null for the usual ones of the language.</param>
public sealed class Titles(TextAnalysis analysis, string language, string siteEnding, IReadOnlyList<TitlePattern>? patterns = null)
{
    /// <summary>Characters and pixels of a title and of a description that results show whole (DESIGN.md 4.14; common practice).</summary>
    public const int MostTitle = 60, MostTitlePixels = 580, MostDescription = 155, MostDescriptionPixels = 920;

    /// <summary>Alternatives of each kind.</summary>
    public const int Alternatives = 5;

    /// <summary>What a title names beside its primary keyword, at most; more reads as a list of words.</summary>
    private const int MostInTitle = 3, MostInDescription = 5;

    private const int LongestPart = 4;

    /// <summary>Patterns of a new project: those for one intent come before those for any.</summary>
    public static ImmutableArray<TitlePattern> Usual(string language) =>
    [
        .. language == "en"
            ? new TitlePattern[]
            {
                new(Intent.Informational, "{primary}: {more} explained{site}"),
                new(Intent.Commercial, "{primary} compared: {more}{site}"),
            }
            : [],
        new(null, "{primary}: {more}{site}"),
        new(null, "{primary} – {more}{site}"),
        new(null, "{primary} ({more}){site}"),
        new(null, "{primary}{site}"),
        new(null, "{primary}"),
    ];

    private readonly Questions _questions = Questions.Of(language);
    private readonly IntentRules _intents = new(LanguageWords.Of(language).IntentRules, [], [], language);
    private readonly HashSet<string> _small = FunctionWords.Words(language).Concat(LanguageWords.Has(language) ? LanguageWords.Of(language).Questions.All : [])
        .SelectMany(w => w.ToLowerInvariant().Split(' ')).ToHashSet(StringComparer.Ordinal);

    /// <param name="keywords">Those of the page, the primary first.</param>
    /// <returns>Alternatives of each kind, what carries most searches first.</returns>
    public ImmutableArray<TitleText> Of(IReadOnlyList<Keyword> keywords)
    {
        if (keywords.Count == 0)
            return [];
        var facts = new Facts(this, keywords);
        return [.. TitlesOf(facts, TitleKind.Title), .. TitlesOf(facts, TitleKind.H1), .. DescriptionsOf(facts)];
    }

    /// <returns>Keywords, by index, all of whose stems are in a text.</returns>
    public ImmutableArray<int> Covered(IReadOnlyList<Keyword> keywords, string text)
    {
        var stems = analysis.Stems(KeywordNormalForm.Of(text, language)).ToHashSet(StringComparer.Ordinal);
        return [.. Enumerable.Range(0, keywords.Count).Where(k => analysis.Stems(keywords[k].NormalForm) is { Count: > 0 } own && own.All(stems.Contains))];
    }

    private IEnumerable<TitleText> TitlesOf(Facts facts, TitleKind kind)
    {
        var intent = facts.Keywords[0].Intent;
        var ending = kind == TitleKind.Title ? siteEnding : "";
        var usable = (patterns ?? Usual(language)).Where(p => p.Intent is null || p.Intent == intent).OrderBy(p => p.Intent is null).ToList();
        var found = new List<TitleText>();
        foreach (var pattern in usable)
        {
            // With all that fits, then with less, so that the alternatives differ in more than their marks.
            for (var most = pattern.Text.Contains("{more}", StringComparison.Ordinal) ? MostInTitle : 0; most >= 0; most--)
            {
                if (most == 0 && pattern.Text.Contains("{more}", StringComparison.Ordinal))
                    break;
                var text = Fill(facts, pattern.Text, ending, most, filled => Fits(kind, filled));
                if (text is not null && found.All(f => f.Text != text))
                    found.Add(Measured(facts, kind, text));
            }
        }

        // A primary that is too long by itself still is the title.
        if (!found.Any(f => !f.IsTooLong))
            found.Add(Measured(facts, kind, facts.Primary));
        return found.DistinctBy(f => f.Text).OrderByDescending(f => facts.WeightOf(f.Covers)).Take(Alternatives);
    }

    private string? Fill(Facts facts, string pattern, string ending, int most, Func<string, bool> fits)
    {
        string Whole(IReadOnlyList<Part> parts)
        {
            // "for beginners" goes with the words before it.
            var attached = parts.FirstOrDefault(a => a.Lead.Length > 0);
            var primary = Capital(Spelled(attached is null ? facts.Keywords[0].Phrase : $"{facts.Keywords[0].Phrase} {attached.Lead}{attached.Text}"));
            var more = Joined([.. parts.Where(a => a != attached).Select(a => Spelled(a.Text))]);
            // Without anything more, what joins it goes too.
            return (more.Length == 0 ? BeforeMore(pattern) : pattern.Replace("{more}", more, StringComparison.Ordinal)).Replace("{primary}", primary, StringComparison.Ordinal).Replace("{site}", ending, StringComparison.Ordinal);
        }

        if (most == 0)
            return Whole([]) is var plain && fits(plain) ? plain : null;
        var taken = MaximumCoverage.Greedy([.. facts.Parts.Select(p => p.Covers)], facts.Weights, most, (before, next) =>
            !pattern.Contains(facts.Parts[next].Text, StringComparison.OrdinalIgnoreCase) && fits(Whole([.. before.Append(next).Select(p => facts.Parts[p])])));
        return taken.Length == 0 ? null : Whole([.. taken.Select(p => facts.Parts[p])]);
    }

    /// <summary>A pattern without {more} and the mark that leads to it: "{primary}{site}" of "{primary} – {more}{site}".</summary>
    private static string BeforeMore(string pattern) => pattern.Contains("{more}", StringComparison.Ordinal)
        ? pattern[..(pattern.IndexOf("{primary}", StringComparison.Ordinal) + "{primary}".Length)] + (pattern.Contains("{site}", StringComparison.Ordinal) ? "{site}" : "")
        : pattern;

    private IEnumerable<TitleText> DescriptionsOf(Facts facts)
    {
        var after = facts.Parts;
        var own = StemsOf(facts.Keywords[0].NormalForm).ToHashSet(StringComparer.Ordinal);
        var questions = facts.Keywords.Select((k, i) => (Keyword: k, Index: i)).Where(k => !StemsOf(k.Keyword.NormalForm).All(own.Contains) && _questions.IsQuestion(KeywordWords.Padded(k.Keyword.NormalForm)))
            .OrderByDescending(k => facts.Weights[k.Index]).Select(k => Capital(Spelled(k.Keyword.Phrase.TrimEnd('?', ' '))) + "?").Take(3).ToList();
        var found = new List<TitleText>();
        for (var asked = Math.Min(2, questions.Count); asked >= 0; asked--)
        {
            for (var most = MostInDescription; most >= 1; most -= 2)
            {
                string Whole(IReadOnlyList<int> parts, int ask) =>
                    (parts.Count == 0 ? facts.Primary : $"{facts.Primary}: {Joined([.. parts.Select(p => Spelled(after[p].Text))])}") + "." + string.Concat(questions.Take(ask).Select(q => " " + q));
                var ask = asked;
                while (ask > 0 && !Fits(TitleKind.Description, Whole([], ask)))
                    ask--;
                var taken = MaximumCoverage.Greedy([.. after.Select(p => p.Covers)], facts.Weights, most, (before, next) => Fits(TitleKind.Description, Whole([.. before, next], ask)));
                var text = Whole(taken, ask);
                if (found.All(f => f.Text != text))
                    found.Add(Measured(facts, TitleKind.Description, text));
            }
        }

        return found.OrderBy(f => f.IsTooLong).ThenByDescending(f => facts.WeightOf(f.Covers)).Take(Alternatives);
    }

    private TitleText Measured(Facts facts, TitleKind kind, string text) => new(
        kind, text, new System.Globalization.StringInfo(text).LengthInTextElements, Math.Round(FontWidths.Of(text, kind == TitleKind.Description ? FontWidths.DescriptionSize : FontWidths.TitleSize), 1),
        Covered(facts.Keywords, text));

    private static bool Fits(TitleKind kind, string text) => kind == TitleKind.Description
        ? text.Length <= MostDescription && FontWidths.Of(text, FontWidths.DescriptionSize) <= MostDescriptionPixels
        : text.Length <= MostTitle && FontWidths.Of(text, FontWidths.TitleSize) <= MostTitlePixels;

    /// <summary>"sizes, repair and care" in English; elsewhere commas alone.</summary>
    private string Joined(IReadOnlyList<string> parts) => language == "en" && parts.Count > 1
        ? $"{string.Join(", ", parts.Take(parts.Count - 1))} and {parts[^1]}"
        : string.Join(", ", parts);

    /// <summary>Keywords come in lower case; a few English words are not written so.</summary>
    private string Spelled(string text) => language != "en" ? text : string.Join(' ', text.Split(' ').Select(w => w is "uk" or "usa" or "eu" or "diy" or "i" ? w.ToUpperInvariant() : w));

    /// <summary>With its first letter as a capital.</summary>
    public static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    /// <summary>What other keywords have beside the primary, and which keywords a title with it covers.</summary>
    /// <param name="Lead">The small words that lead to it, with a space behind them: "for "; empty for none.</param>
    private sealed record Part(string Text, string Lead, HashSet<int> Covers);

    private sealed class Facts
    {
        public Facts(Titles titles, IReadOnlyList<Keyword> keywords)
        {
            Keywords = keywords;
            Primary = Capital(titles.Spelled(keywords[0].Phrase));
            // A keyword whose volume is unknown counts little, but not nothing.
            Weights = [.. keywords.Select(k => (double)Math.Max(1, k.Volume ?? 1))];
            var stems = keywords.Select(k => titles.StemsOf(k.NormalForm)).ToList();
            var own = stems[0].ToHashSet(StringComparer.Ordinal);
            var told = titles._intents.Tell(KeywordWords.Padded(keywords[0].NormalForm))?.Intent;
            var parts = new Dictionary<string, Part>(StringComparer.Ordinal);
            for (var k = 1; k < keywords.Count; k++)
            {
                // "top" says nothing beside "best".
                if (titles.PartOf(keywords[k].NormalForm, own) is not { } part || parts.ContainsKey(part.Text) || (told is not null && titles._intents.Tell(KeywordWords.Padded(part.Text))?.Intent == told))
                    continue;
                var with = own.Concat(titles.StemsOf(part.Text)).ToHashSet(StringComparer.Ordinal);
                parts[part.Text] = new Part(part.Text, part.Lead, [.. Enumerable.Range(1, keywords.Count - 1).Where(other => stems[other].Count > 0 && !stems[other].All(own.Contains) && stems[other].All(with.Contains))]);
            }

            // The same words once, where they carry most.
            Parts = [.. parts.Values.GroupBy(p => string.Join(' ', titles.StemsOf(p.Text).Order(StringComparer.Ordinal))).Select(g => g.OrderByDescending(p => p.Covers.Sum(c => Weights[c])).First())];
        }

        public IReadOnlyList<Keyword> Keywords { get; }

        public string Primary { get; }

        public ImmutableArray<double> Weights { get; }

        public ImmutableArray<Part> Parts { get; }

        public double WeightOf(IEnumerable<int> covered) => covered.Sum(c => Weights[c]);
    }

    private IReadOnlyList<string> StemsOf(string text) => analysis.Stems(text);

    /// <returns>The one run of words in a keyword that a primary has not, without small words at its ends; null where there is none, or several.</returns>
    private (string Text, string Lead)? PartOf(string form, HashSet<string> primary)
    {
        var words = form.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        var isNew = words.Select(w => StemsOf(w) is { Count: > 0 } stems && !stems.All(primary.Contains) && !_small.Contains(w)).ToArray();
        var (first, last) = (Array.IndexOf(isNew, true), Array.LastIndexOf(isNew, true));
        if (first < 0 || last - first >= LongestPart)
            return null;
        // A question is asked by itself, not in pieces, and words of the primary in between are no one run.
        if (_questions.IsQuestion(KeywordWords.Padded(form)) || Enumerable.Range(first, last - first).Any(i => !isNew[i] && StemsOf(words[i]).Count > 0 && primary.IsSupersetOf(StemsOf(words[i]))))
            return null;
        var shared = Enumerable.Range(0, words.Length).Where(i => StemsOf(words[i]) is { Count: > 0 } s && s.All(primary.Contains)).ToList();
        // Between shared words it means nothing on its own, and with few shared words it is about something else.
        if (shared.Count == 0 || (first > shared[0] && last < shared[^1]) || shared.SelectMany(i => StemsOf(words[i])).Distinct().Count() * 2 < primary.Count)
            return null;
        var text = string.Join(' ', words[first..(last + 1)]);
        // Where somebody is or buys says nothing of the page.
        if (FunctionWords.PureQualifiers.Contains(text))
            return null;
        var lead = first;
        while (lead > 0 && lead - 1 > shared[^1] && StemsOf(words[lead - 1]).Count == 0)
            lead--;
        return (text, lead < first ? string.Join(' ', words[lead..first]) + " " : "");
    }
}
