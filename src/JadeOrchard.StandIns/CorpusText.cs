using JadeOrchard.Core.Keywords;

namespace JadeOrchard.StandIns;

/// <summary>The parts of a page's text.</summary>
/// <param name="Sections">Second headings, each with the text below it.</param>
/// <param name="Published">The day it first stood there.</param>
/// <param name="Modified">The day of its last change.</param>
public sealed record PageText(string Description, string Opening, IReadOnlyList<(string Heading, string Text)> Sections, DateOnly Published, DateOnly Modified);

/// <summary>Writes what stands on the pages of the invented world: the same page always the same.</summary>
public sealed class CorpusText(Scenario scenario, GeneratedWorld world)
{
    private static readonly string[] Openings =
    [
        "{P}: we get asked about it most weeks, so here is what we tell people.",
        "Ask ten paddlers about {p} and you hear eleven opinions; these are the ones that held up on the water.",
        "This page is about {p}. It was written by people who paddle all year, and it is kept up to date.",
        "We spent a season with {p}, on sheltered lochs and on open coast, before writing this down.",
    ];

    private static readonly string[] Sentences =
    [
        "If you came here for {p}, start with where you paddle and how often.",
        "For {p} the weather matters less than most people think, and practice more.",
        "Nobody needs to spend a fortune on {p}; what counts is that it is right for your boat.",
        "A good answer about {p} depends on your height, your weight and the water you know.",
        "We keep notes on {p} from every trip, and the pattern is clear by now.",
        "Clubs can tell you a lot about {p}, and mostly they let you try before you decide.",
        "On {p} the cheapest choice is rarely the one you keep for ten years.",
        "Readers write to us about {p} more than about almost anything else.",
        "When in doubt about {p}, go out with somebody who has done it before.",
        "There is a lot of old advice around on {p}; some of it was never true.",
        "Two things decide about {p}: how it feels after three hours, and how it looks after three years.",
        "Our own view on {p} has changed over the years, and we say why below.",
        "With {p} a little care before the trip saves a long walk afterwards.",
        "Talk to the shop about {p}; they would rather you came back happy than soon.",
        "Most trouble with {p} comes from haste at the water's edge.",
        "In cold water {p} is a matter of safety first and of comfort second.",
    ];

    private static readonly string[] Headings = ["In short", "What to look for", "From the water", "Questions we hear", "Care and storage", "What it costs", "For beginners", "Our notes"];

    /// <returns>The text of a page.</returns>
    public PageText Of(WorldPage page)
    {
        if (page.Own?.Language is { } language && language != scenario.Site.Language)
            return new PageText(page.Own.Description!, page.Own.Description!, [], scenario.CapturedOn.AddDays(-400), scenario.CapturedOn.AddDays(-40));
        // Another guise says what the page itself says.
        page = page.Of ?? page;
        var random = new Random(Hash(page.Url));
        var subject = page.Subject < 0 ? null : world.Subjects[page.Subject];
        var phrases = subject?.Phrases ?? [.. world.Subjects.Where((_, i) => i % 9 == 0).Select(s => s.Phrases[0])];
        var about = subject?.Cluster.About ?? "paddling";
        // A page names most of what people call its subject, and not all of it; nobody writes "pdf".
        var named = phrases.Skip(1).Where(_ => random.NextDouble() < 0.72).Where(p => !p.EndsWith(" pdf", StringComparison.Ordinal)).ToList();
        var questions = Questions.Of("en");
        var sections = new List<(string, string)>();
        for (var at = 0; at < named.Count; at += 3)
        {
            var part = named.Skip(at).Take(3).ToList();
            var question = part.FirstOrDefault(p => questions.IsQuestion(KeywordWords.Padded(p)));
            sections.Add((question is not null ? Phrases.Sentence(question) + "?" : at == 0 ? $"{Phrases.Sentence(about)}: the short answer" : Headings[random.Next(Headings.Length)], Paragraph(part, random)));
        }

        sections.InsertRange(Math.Min(1, sections.Count), FactsOf(page).Select(f => (f.Heading, string.Join(' ', SentencesOf(page, f)))));
        foreach (var other in page.AlsoAbout)
            sections.Add((Phrases.Sentence(world.Subjects[other].Phrases[0]), Paragraph([.. world.Subjects[other].Phrases], random)));
        if (page.Own?.H2 is { } own)
            sections.AddRange(own.Split(" | ").Select(h => (h, Paragraph([about], random))));
        var published = scenario.CapturedOn.AddDays(-60 - random.Next(2_400));
        return new PageText(
            page.Own?.Description ?? $"{Phrases.Sentence(about)}: what we found, with prices, pictures and advice from people who paddle.",
            Fill(Openings[random.Next(Openings.Length)], phrases[0]),
            sections,
            published,
            published.AddDays(random.Next(Math.Max(1, scenario.CapturedOn.DayNumber - published.DayNumber))));
    }

    /// <returns>What a page tells of its topic; the own site's pages tell less.</returns>
    public IEnumerable<ScenarioFact> FactsOf(WorldPage page) => page.Subject < 0 || !scenario.Facts.TryGetValue(scenario.Topics[world.Subjects[page.Subject].Topic].Name, out var facts) ? []
        : facts.Where(f => Hash($"{page.Url}|{f.Term}") % 100 < (page.Own is null ? ToldElsewhere : ToldHere));

    /// <returns>The text below a page's title in a result list: the sentence with most of the words of the query.</returns>
    public string SnippetOf(WorldPage page, string query)
    {
        var words = KeywordWords.Split(KeywordWords.Padded(KeywordNormalForm.Of(query)));
        if (!_sentences.TryGetValue(page.Url, out var sentences))
        {
            var text = Of(page);
            _sentences[page.Url] = sentences = [.. Core.Briefs.Sentences.Of(string.Join('\n', text.Sections.Select(s => s.Text).Prepend(text.Opening))).Select(s => (s, KeywordWords.Padded(KeywordNormalForm.Of(s))))];
        }

        return sentences.MaxBy(s => words.Count(w => s.Padded.Contains($" {w} ", StringComparison.Ordinal))).Text ?? "";
    }

    private readonly Dictionary<string, List<(string Text, string Padded)>> _sentences = new(StringComparer.Ordinal);

    /// <summary>Of a hundred pages those that tell a fact.</summary>
    private const int ToldElsewhere = 85, ToldHere = 45;

    /// <summary>All but one, in an order of its own.</summary>
    private static IEnumerable<string> SentencesOf(WorldPage page, ScenarioFact fact)
    {
        var start = Hash($"{page.Url}|{fact.Heading}") % fact.Sentences.Count;
        return Enumerable.Range(0, Math.Max(1, fact.Sentences.Count - 1)).Select(i => fact.Sentences[(start + i) % fact.Sentences.Count]);
    }

    /// <summary>A number that stays the same from run to run, unlike that of the runtime.</summary>
    internal static int Hash(string text)
    {
        var hash = 2166136261u;
        foreach (var c in text)
            hash = (hash ^ c) * 16777619u;
        return (int)(hash & 0x7FFFFFFF);
    }

    private static string Paragraph(IReadOnlyList<string> phrases, Random random) =>
        string.Join(' ', phrases.Select(p => Fill(Sentences[random.Next(Sentences.Length)], p)));

    private static string Fill(string pattern, string phrase) =>
        pattern.Replace("{p}", phrase, StringComparison.Ordinal).Replace("{P}", Phrases.Sentence(phrase), StringComparison.Ordinal);
}
