using JadeOrchard.Core.Keywords;

namespace JadeOrchard.StandIns;

/// <summary>The parts of a page's text.</summary>
/// <param name="Sections">In order.</param>
/// <param name="Images">What its images show.</param>
/// <param name="Sources">Pages of others that it refers to, by the words that are linked.</param>
/// <param name="Published">The day it first stood there.</param>
/// <param name="Modified">The day of its last change.</param>
public sealed record PageText(
    string Description, string Opening, IReadOnlyList<CorpusSection> Sections, IReadOnlyList<string> Images, IReadOnlyDictionary<string, string> Sources, DateOnly Published, DateOnly Modified)
{
    /// <summary>Opening and sections, a line for each, without headings.</summary>
    public string Body => string.Join('\n', Sections.Select(s => s.Text).Prepend(Opening));
}

/// <summary>A heading with the text below it.</summary>
/// <param name="Level">2 or 3.</param>
/// <param name="Table">Cells by row, the first row as head; null for none.</param>
public sealed record CorpusSection(string Heading, string Text, int Level = 2, IReadOnlyList<string[]>? Table = null);

/// <summary>What kind of page it is.</summary>
public enum CorpusType
{
    Shop,
    Guide,
    Comparison,
    News,
    Forum,
}

/// <summary>Writes what stands on the pages of the invented world: the same page always the same.</summary>
public sealed class CorpusText(Scenario scenario, GeneratedWorld world)
{
    /// <summary>Of a hundred pages those that tell a fact, and of those the ones that also answer its question under a heading.</summary>
    private const int ToldElsewhere = 85, ToldHere = 45, AskedElsewhere = 70, AskedHere = 40;

    /// <summary>Where facts come from, for pages that say so.</summary>
    private const string SourceHost = "https://openwatertables.example/";

    private static readonly Dictionary<CorpusType, string[]> Openings = new()
    {
        [CorpusType.Shop] = ["{P}: the range as it stands in our store, with prices, sizes and what we tell people at the counter.", "What we stock of {p}, what it costs, and how to tell whether it is yours."],
        [CorpusType.Guide] = ["{P}: what we tell people on our courses, with the numbers that we use ourselves.", "This page on {p} was written by two coaches who paddle all year, and is gone over each spring."],
        [CorpusType.Comparison] = ["{P}: we borrowed what there is, used it for a season on the same water, and gave it back.", "For this page on {p} four paddlers of different heights swapped places every hour."],
        [CorpusType.News] = ["News on {p} from the coast and the lochs, as our readers send it in.", "What happened around {p} this season, in short."],
        [CorpusType.Forum] = ["Question of the week: {p}. Replies in the order in which they came.", "A member asks about {p}. Please stay kind."],
    };

    private static readonly Dictionary<CorpusType, string[]> Descriptions = new()
    {
        [CorpusType.Shop] = ["{P}: {n} in stock, with sizes, prices and delivery to your door.", "Our whole range of {p}, fitted by people who paddle."],
        [CorpusType.Guide] = ["{P}, told by coaches: what to bring, what goes wrong, and {n} days from our log.", "All that we know about {p}, on one page."],
        [CorpusType.Comparison] = ["{P}: {n} of them on the water, with prices, weights and our verdict.", "We tried {p} for a season. What we would buy, and for whom."],
        [CorpusType.News] = ["{P}: the news of this season from our readers.", "What is new about {p} on the coast."],
        [CorpusType.Forum] = ["{n} replies on {p} from people who paddle.", "{P}: members answer."],
    };

    private static readonly Dictionary<string, string[]> Headings = new(StringComparer.Ordinal)
    {
        ["buy"] = ["What it costs", "Before you pay", "Used ones", "Stock and sizes"],
        ["best"] = ["How we tested", "Which one for whom", "What owners say", "Marks and prices"],
        ["howto"] = ["Before you start", "Afloat", "What goes wrong", "Practice"],
        ["size"] = ["Measuring", "Reading the chart", "Between two sizes"],
        ["what"] = ["The short version", "On the day", "What people ask"],
        ["ask"] = ["In practice", "Why we say so", "When it differs"],
        ["versus"] = ["In wind", "On the roof of the car", "For whom"],
        ["place"] = ["When to go", "Getting there", "Where to land"],
        ["boat"] = ["On the water", "The numbers", "What owners say"],
        ["brand"] = ["The store", "Orders", "Getting in touch"],
    };

    private readonly Dictionary<string, List<(string Text, string Padded)>> _sentences = new(StringComparer.Ordinal);

    /// <returns>The text of a page.</returns>
    public PageText Of(WorldPage page)
    {
        if (page.Own?.Language is { } language && language != scenario.Site.Language)
            return new PageText(page.Own.Description!, page.Own.Description!, [], [], new Dictionary<string, string>(), scenario.CapturedOn.AddDays(-400), scenario.CapturedOn.AddDays(-40));
        // Another guise says what the page itself says.
        page = page.Of ?? page;
        var random = new Random(Hash(page.Url));
        var subject = page.Subject < 0 ? null : world.Subjects[page.Subject];
        var phrases = subject?.Phrases ?? [.. world.Subjects.Where((_, i) => i % 9 == 0).Select(s => s.Phrases[0])];
        var (about, kind) = (subject?.Cluster.About ?? "paddling", subject?.Cluster.Kind ?? "what");
        var type = TypeOf(page);
        // A page names most of what people call its subject, and not all of it; nobody writes "pdf".
        var named = phrases.Skip(1).Where(_ => random.NextDouble() < 0.72).Where(p => !p.EndsWith(" pdf", StringComparison.Ordinal)).ToList();
        var questions = Questions.Of("en");
        var sections = new List<CorpusSection>();
        for (var at = 0; at < named.Count; at += 3)
        {
            var part = named.Skip(at).Take(3).ToList();
            var question = part.FirstOrDefault(p => questions.IsQuestion(KeywordWords.Padded(p)));
            sections.Add(new CorpusSection(question is not null ? Phrases.Sentence(question) + "?" : at == 0 ? $"{Phrases.Sentence(about)}: the short answer" : Headings[kind][random.Next(Headings[kind].Length)], Paragraph(subject, part, random)));
        }

        var (facts, mentions) = (FactsOf(page).ToList(), CorpusFiller.MentionsFor(random));
        sections.InsertRange(Math.Min(1, sections.Count), facts.SelectMany(f => Told(page, f, mentions, random)));
        if (kind == "size" && type != CorpusType.Forum)
            sections.Insert(Math.Min(1, sections.Count), new CorpusSection("Sizes in a table", "All in centimetres, measured in the clothes that you paddle in.", 2, CorpusFiller.Sizes(random)));
        foreach (var other in page.AlsoAbout)
            sections.Add(new CorpusSection(Phrases.Sentence(world.Subjects[other].Phrases[0]), Paragraph(world.Subjects[other], world.Subjects[other].Phrases, random)));
        if (page.Own?.H2 is { } own)
            sections.AddRange(own.Split(" | ").Select(h => new CorpusSection(h, Paragraph(subject, [about], random))));
        var opening = Fill(Openings[type][random.Next(Openings[type].Length)], phrases[0], about, "");
        sections.AddRange(CorpusFiller.Of(type, TargetOf(type, page.Url) - WordsOf(opening) - sections.Sum(s => WordsOf(s.Heading) + WordsOf(s.Text)), facts, mentions, random));
        var published = scenario.CapturedOn.AddDays(-60 - random.Next(2_400));
        return new PageText(
            page.Own?.Description ?? Fill(Descriptions[type][random.Next(Descriptions[type].Length)], about, about, "").Replace("{n}", random.Next(6, 40).ToString(System.Globalization.CultureInfo.InvariantCulture), StringComparison.Ordinal),
            opening,
            sections,
            subject is null ? [] : [$"{Phrases.Sentence(about)}, seen from the water", .. facts.Take(3).Select(f => $"{Phrases.Sentence(f.Term)} in close-up, with {about} behind")],
            page.Own is not null || type is CorpusType.Shop or CorpusType.Forum ? new Dictionary<string, string>() : facts.Where(f => Hash($"{page.Url}|source|{f.Term}") % 100 < 40).Take(3).ToDictionary(f => f.Term, f => SourceHost + f.Term.Replace(' ', '-'), StringComparer.Ordinal),
            published,
            published.AddDays(random.Next(Math.Max(1, scenario.CapturedOn.DayNumber - published.DayNumber))));
    }

    /// <returns>What a page tells of its topic; the own site's pages tell less.</returns>
    public IEnumerable<ScenarioFact> FactsOf(WorldPage page) => page.Subject < 0 || !scenario.Facts.TryGetValue(scenario.Topics[world.Subjects[page.Subject].Topic].Name, out var facts) ? []
        : facts.Where(f => Hash($"{page.Url}|{f.Term}") % 100 < (page.Own is null ? ToldElsewhere : ToldHere));

    /// <returns>Whether a page answers the question of a fact under a heading that asks it.</returns>
    public static bool Asks(WorldPage page, ScenarioFact fact) => fact.Question is not null && Hash($"{page.Url}|asked|{fact.Term}") % 100 < (page.Own is null ? AskedElsewhere : AskedHere);

    /// <returns>The text below a page's title in a result list: the sentence with most of the words of the query.</returns>
    public string SnippetOf(WorldPage page, string query)
    {
        var words = KeywordWords.Split(KeywordWords.Padded(KeywordNormalForm.Of(query)));
        if (!_sentences.TryGetValue(page.Url, out var sentences))
            _sentences[page.Url] = sentences = [.. Core.Briefs.Sentences.Of(Of(page).Body).Select(s => (s, KeywordWords.Padded(KeywordNormalForm.Of(s))))];
        return sentences.MaxBy(s => words.Count(w => s.Padded.Contains($" {w} ", StringComparison.Ordinal))).Text ?? "";
    }

    /// <returns>What kind of page it is: by its site, else by what people are after who search for its subject.</returns>
    public CorpusType TypeOf(WorldPage page) =>
        page.Host.Contains("forum", StringComparison.Ordinal) || page.Host.Contains("talk", StringComparison.Ordinal) || page.Host.Contains("ask", StringComparison.Ordinal) ? CorpusType.Forum
        : page.Host.Contains("weekly", StringComparison.Ordinal) || page.Host.Contains("journal", StringComparison.Ordinal) || page.Host.Contains("post", StringComparison.Ordinal) ? CorpusType.News
        : (page.Subject < 0 ? "what" : world.Subjects[page.Subject].Cluster.Kind) switch { "buy" or "brand" => CorpusType.Shop, "best" or "versus" or "boat" => CorpusType.Comparison, _ => CorpusType.Guide };

    /// <summary>A fact under its heading: one of its sentences and a mention; where its question is asked, another sentence below that.</summary>
    private static IEnumerable<CorpusSection> Told(WorldPage page, ScenarioFact fact, Queue<string> mentions, Random random)
    {
        var start = Hash($"{page.Url}|{fact.Heading}") % fact.Sentences.Count;
        yield return new CorpusSection(fact.Heading, $"{fact.Sentences[start]}{CorpusFiller.Mention(fact, mentions, random)}");
        if (Asks(page, fact))
            yield return new CorpusSection(fact.Question!, $"{fact.Sentences[(start + 1) % fact.Sentences.Count]}{CorpusFiller.Mention(fact, mentions, random)}", 3);
    }

    /// <summary>How many words a page has, about; most have some hundreds, some guides thousands.</summary>
    private static int TargetOf(CorpusType type, string url)
    {
        var (least, most) = type switch { CorpusType.Shop => (350, 800), CorpusType.Comparison => (600, 1_500), CorpusType.Guide => (450, 1_400), CorpusType.News => (300, 650), _ => (300, 700) };
        var at = Hash(url + "|words");
        return type is CorpusType.Guide && at % 16 == 0 ? 1_600 + (at / 16 % 1_300) : least + (at / 16 % (most - least));
    }

    private static int WordsOf(string text) => text.Length == 0 ? 0 : text.Count(c => c == ' ') + 1;

    /// <summary>A number that stays the same from run to run, unlike that of the runtime.</summary>
    internal static int Hash(string text)
    {
        var hash = 2166136261u;
        foreach (var c in text)
            hash = (hash ^ c) * 16777619u;
        return (int)(hash & 0x7FFFFFFF);
    }

    /// <summary>A sentence on each phrase, as pages write about what is searched for in that way.</summary>
    private string Paragraph(WorldSubject? subject, IReadOnlyList<string> phrases, Random random)
    {
        var cluster = subject?.Cluster;
        var patterns = cluster is null ? [] : scenario.Kinds[cluster.Kind].Patterns.Select(p => (Pattern: p, Phrase: Phrases.Keyword(p, cluster))).DistinctBy(p => p.Phrase).ToDictionary(p => p.Phrase, p => p.Pattern, StringComparer.Ordinal);
        return string.Join(' ', phrases.Select(p =>
        {
            var sentences = cluster is not null && patterns.TryGetValue(p, out var pattern) && scenario.Phrasing[cluster.Kind].TryGetValue(pattern, out var own) ? own : scenario.Also;
            return Fill(sentences[random.Next(sentences.Count)], p, cluster?.About ?? p, cluster?.Versus ?? "");
        }));
    }

    private static string Fill(string pattern, string phrase, string about, string versus) => Phrases.Sentence(
        pattern.Replace("{p}", phrase, StringComparison.Ordinal).Replace("{P}", Phrases.Sentence(phrase), StringComparison.Ordinal).Replace("{0}", about, StringComparison.Ordinal).Replace("{1}", versus, StringComparison.Ordinal));
}
