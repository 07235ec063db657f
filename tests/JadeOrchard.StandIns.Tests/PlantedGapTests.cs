using System.Globalization;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using Xunit.Abstractions;

namespace JadeOrchard.StandIns.Tests;

/// <summary>Scores the questions and sections that briefs of the demo ask for against those that its facts planted, and reads the demo's texts as a reader would.</summary>
public sealed class PlantedGapTests(ITestOutputHelper output)
{
    private const double Least = 0.9;

    /// <summary>Ranking pages that are read for a brief.</summary>
    private const int Read = 20;

    [Theory]
    [InlineData(null)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void PlantedQuestionsAndGapsAreAskedFor(int? seed)
    {
        var scenario = Scenario.Read(Path.Combine(AppContext.BaseDirectory, "scenario.json"));
        var world = Generator.Make(scenario, seed);
        var texts = new CorpusText(scenario, world);
        var pageOf = world.Corpus.ToDictionary(p => p.Url, StringComparer.Ordinal);
        var keywords = world.Keywords.ToDictionary(k => k.Phrase, StringComparer.Ordinal);
        var lists = world.Results.ToLookup(r => r.Keyword);
        using var analysis = new TextAnalysis("en");
        var maker = new BriefMaker(analysis, "en", "");
        string StemsOf(string text) => string.Join(' ', analysis.Stems(text).Distinct().Order(StringComparer.Ordinal));
        var (questions, gaps) = (new Score(), new Score());
        // Of the unseen worlds every third subject, for time.
        foreach (var subject in world.Subjects.Where((s, i) => s.Cluster.Page is not null && scenario.Facts.ContainsKey(scenario.Topics[s.Topic].Name) && i % (seed is null ? 2 : 6) == 0))
        {
            var own = pageOf.GetValueOrDefault($"https://www.{scenario.Site.Host}{subject.Cluster.Page}");
            var known = subject.Phrases.Where(keywords.ContainsKey).Select(p => keywords[p]).ToList();
            var ranking = subject.Phrases.SelectMany(p => lists[p]).Where(r => pageOf.ContainsKey(r.Url) && pageOf[r.Url].Own is null).GroupBy(r => r.Url, StringComparer.Ordinal)
                .OrderByDescending(g => g.Count()).ThenBy(g => g.Key, StringComparer.Ordinal).Take(Read).Select(g => (Page: pageOf[g.Key], Best: g.Min(r => r.Position), Lists: g.Count())).ToList();
            if (own is null || known.Count == 0 || ranking.Count < 5)
                continue;
            var facts = scenario.Facts[scenario.Topics[subject.Topic].Name];
            var told = texts.FactsOf(own).ToHashSet();
            List<Core.Briefs.RankedPage> pages = [.. ranking.Select(r => new Core.Briefs.RankedPage(TextOf(texts, r.Page), r.Best, r.Lists, true))];
            var brief = maker.Of(new BriefFacts(known, own.Url, TextOf(texts, own), pages, [.. pages.Select(p => p.Page)], [], [], [.. known.Select(_ => 0)], [], [], IsElsewhere: form => keywords.ContainsKey(form) && !subject.Phrases.Contains(form)));

            // A question counts as planted where several ranking pages ask it and our page does not answer it.
            var asked = facts.Where(f => f.Question is not null && ranking.Count(r => texts.FactsOf(r.Page).Contains(f) && CorpusText.Asks(r.Page, f)) > 1).ToList();
            var missing = asked.Where(f => !(told.Contains(f) && CorpusText.Asks(own, f))).Select(f => StemsOf(f.Question!)).ToHashSet(StringComparer.Ordinal);
            var allowed = asked.Select(f => StemsOf(f.Question!)).Concat(subject.Phrases.Select(StemsOf)).ToHashSet(StringComparer.Ordinal);
            questions.Add(missing, [.. brief.Questions.Select(q => StemsOf(q.TrimEnd('?')))], allowed);

            // A section is a gap where most ranking pages have it and ours has not.
            bool MostHave(ScenarioFact f) => ranking.Count(r => texts.FactsOf(r.Page).Contains(f)) * 2 > ranking.Count;
            var lacks = facts.Where(f => !told.Contains(f) && MostHave(f)).Select(f => StemsOf(f.Heading)).ToHashSet(StringComparer.Ordinal);
            HashSet<string> found = [.. brief.Outline.Sections.Where(s => !s.IsOurs && s.Pages * 2 > ranking.Count).Select(s => StemsOf(s.Heading))];
            gaps.Add(lacks, found, [.. lacks, .. asked.Where(f => !told.Contains(f)).Select(f => StemsOf(f.Question!)), .. subject.Phrases.Select(StemsOf), .. found.Where(f => facts.All(x => StemsOf(x.Heading) != f))]);
        }

        var name = seed?.ToString(CultureInfo.InvariantCulture) ?? "demo";
        output.WriteLine($"seed {name}, planted questions: {questions}");
        output.WriteLine($"seed {name}, planted gaps: {gaps}");
        Assert.All([questions, gaps], s => Assert.True(s.Recall >= Least && s.Precision >= Least, $"{questions}; {gaps}"));
    }

    [Fact]
    public void PagesAreOfSeveralKindsAndLengthsAndSayNothingTwice()
    {
        var scenario = Scenario.Read(Path.Combine(AppContext.BaseDirectory, "scenario.json"));
        var world = Generator.Make(scenario, null);
        var texts = new CorpusText(scenario, world);
        List<WorldPage> pages = [.. world.Corpus.Where(p => p.Subject >= 0 && p.Own?.Language is null or "en" && p.Of is null)];
        List<int> words = [.. pages.Select(p => texts.Of(p).Body.Split(' ', '\n').Length)];
        Assert.Equal(5, pages.Select(texts.TypeOf).Distinct().Count());
        Assert.InRange(words.Min(), 200, 400);
        Assert.InRange(words.Max(), 2_500, 3_400);
        Assert.True(words.Count(w => w >= 300) > 0.95 * words.Count);
        // No blank is left unfilled, no sentence comes twice on a page, and each begins with a capital.
        var (all, distinct) = (0, 0);
        foreach (var page in pages)
        {
            var text = texts.Of(page);
            Assert.DoesNotContain('{', text.Body);
            var sentences = Sentences.Of(text.Body).Where(s => s.Length > 60).ToList();
            Assert.True(sentences.Distinct(StringComparer.Ordinal).Count() >= 0.75 * sentences.Count, $"{page.Url}: {string.Join(" | ", sentences.GroupBy(s => s).Where(g => g.Count() > 1).Select(g => g.Key))}");
            (all, distinct) = (all + sentences.Count, distinct + sentences.Distinct(StringComparer.Ordinal).Count());
            Assert.All(Sentences.Of(text.Body), s => Assert.False(char.IsAsciiLetterLower(s[0]), s));
        }

        Assert.True(distinct >= 0.99 * all, $"{distinct} of {all}");
    }

    private static Core.Briefs.PageText TextOf(CorpusText texts, WorldPage page)
    {
        var text = texts.Of(page);
        return new Core.Briefs.PageText(page.Url, page.Title, text.Description, [page.Own?.H1 ?? page.Title], [.. text.Sections.Select(s => new PageHeading(s.Level, s.Heading))], text.Body.Split('\n'), text.Images);
    }

    /// <summary>Counts what was found of what was planted, and what was found besides.</summary>
    private sealed class Score
    {
        private int _planted, _recalled, _found, _right;

        public double Recall => (double)_recalled / _planted;

        public double Precision => (double)_right / _found;

        public void Add(HashSet<string> planted, HashSet<string> found, HashSet<string> allowed)
        {
            _planted += planted.Count;
            _recalled += planted.Count(found.Contains);
            _found += found.Count;
            _right += found.Count(allowed.Contains);
        }

        public override string ToString() => string.Create(CultureInfo.InvariantCulture, $"recall {Recall:0.00} ({_planted} planted), precision {Precision:0.00} ({_found} found)");
    }
}
