using System.Collections.Concurrent;
using System.Text.RegularExpressions;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.StandIns;

/// <summary>Where a page ranks for a keyword.</summary>
public sealed record WorldRanking(Keyword Keyword, WorldPage Page, int Position);

/// <summary>The invented world, as its services see it: what people search for, what they find, who ranks where.</summary>
public sealed class World : IDisposable
{
    private const int RankingDepth = 20;

    /// <summary>Rankings are known for keywords of at least this volume, as with every such service.</summary>
    private const long RankedFrom = 50;
    private readonly Dictionary<string, int> _subjectOf = new(StringComparer.Ordinal);
    private readonly string[] _phrases;
    private readonly Lazy<ILookup<string, WorldRanking>> _rankings;
    private readonly ConcurrentDictionary<OwnStanding, int> _hashes = new(ReferenceEqualityComparer.Instance);
    private readonly ConcurrentDictionary<string, DateOnly> _changedOn = new(StringComparer.Ordinal);

    public World(Scenario scenario, int? seed = null, double noise = Generator.UsualNoise)
    {
        Scenario = scenario;
        Generated = Generator.Make(scenario, seed, noise);
        Texts = new CorpusText(scenario, Generated);
        Index = new SearchIndex(Generated, Texts);
        var keywords = Generated.Keywords.ToDictionary(k => k.Phrase, StringComparer.Ordinal);
        foreach (var asked in scenario.FurtherQuestions)
        {
            var hash = CorpusText.Hash(asked);
            keywords.TryAdd(asked, new Keyword(asked, KeywordNormalForm.Of(asked), 10 + (hash % 29 * 10), 4 + (hash % 22), 5 + (hash % 400), Intent.Informational, 0.02 + (hash % 9 * 0.01)));
        }

        Keywords = keywords;
        for (var s = 0; s < Generated.Subjects.Count; s++)
        {
            foreach (var phrase in Generated.Subjects[s].Phrases)
                _subjectOf.TryAdd(phrase, s);
        }

        Today = scenario.CapturedOn;
        Plants = PerformancePlants.Of(scenario, Generated, seed ?? scenario.Seed, TopicOf);
        _phrases = [.. keywords.Keys.Order(StringComparer.Ordinal)];
        PageOf = Generated.Corpus.GroupBy(p => (p.Host.Replace("www.", "", StringComparison.Ordinal), p.Path.TrimEnd('/'))).ToDictionary(g => g.Key, g => g.First());
        _rankings = new Lazy<ILookup<string, WorldRanking>>(() => Keywords.Values
            .Where(k => k.Volume >= RankedFrom)
            .AsParallel().WithDegreeOfParallelism(2)
            .SelectMany(k => Index.Search(k.Phrase, RankingDepth, withSnippets: false).Select(r => new WorldRanking(k, r.Page, r.Position)))
            .ToLookup(r => r.Page.Host.Replace("www.", "", StringComparison.Ordinal)));
    }

    public Scenario Scenario { get; }

    public GeneratedWorld Generated { get; }

    public CorpusText Texts { get; }

    public SearchIndex Index { get; }

    /// <summary>Everything that is searched for, by phrase.</summary>
    public IReadOnlyDictionary<string, Keyword> Keywords { get; }

    /// <returns>The topic that a keyword belongs to; null for those that none has.</returns>
    public ScenarioTopic? TopicOf(string phrase) => _subjectOf.TryGetValue(phrase, out var subject) ? Scenario.Topics[Generated.Subjects[subject].Topic] : null;

    /// <summary>Pages by host without "www." and path without a slash at its end.</summary>
    public IReadOnlyDictionary<(string Host, string Path), WorldPage> PageOf { get; }

    /// <summary>Where pages of a host stand; found out once, by searching for everything.</summary>
    public IEnumerable<WorldRanking> RankingsOf(string host) => _rankings.Value[host.StartsWith("www.", StringComparison.Ordinal) ? host[4..] : host];

    /// <summary>Questions that people ask beside a query, and searches related to it: of the same subject, then of the same topic.</summary>
    public (IReadOnlyList<string> Questions, IReadOnlyList<string> Related) Around(string query, IReadOnlyList<RankedPage> results)
    {
        var subject = _subjectOf.TryGetValue(query, out var own) ? own : results.Select(r => r.Page.Subject).FirstOrDefault(s => s >= 0, -1);
        if (subject < 0 || results.Count == 0)
            return ([], []);
        var topic = Generated.Subjects[subject].Topic;
        var order = new Random(CorpusText.Hash(query));
        var near = Generated.Subjects[subject].Phrases.Where(p => p != query).OrderBy(_ => order.Next())
            .Concat(Generated.Subjects.Where(s => s.Topic == topic && s != Generated.Subjects[subject]).SelectMany(s => s.Phrases.Take(4)).OrderBy(_ => order.Next()))
            .Distinct().ToList();
        var further = Scenario.FurtherQuestions.Where(a => SharesWord(a, query)).OrderBy(_ => order.Next()).Take(1);
        return (
            [.. near.Where(IsQuestion).Take(3).Concat(further).Select(q => Phrases.Sentence(q) + "?")],
            [.. near.Where(p => !IsQuestion(p)).Take(8)]);
    }

    /// <summary>Completions of what is being typed; "*" matches any words in the middle.</summary>
    public IReadOnlyList<string> Suggest(string typed, int most)
    {
        var text = KeywordNormalForm.Of(typed.Replace('*', '\u0001').Replace("\u0001", " star0star ", StringComparison.Ordinal)).Replace("star0star", "*", StringComparison.Ordinal);
        if (text.Length == 0)
            return [];
        var pattern = new Regex("^" + Regex.Escape(text).Replace("\\*", "[\\w' ]+", StringComparison.Ordinal), RegexOptions.CultureInvariant | RegexOptions.NonBacktracking);
        return [.. _phrases.Where(p => pattern.IsMatch(p)).OrderByDescending(p => Keywords[p].Volume ?? 0).ThenBy(p => p, StringComparer.Ordinal).Take(most)];
    }

    /// <summary>Ideas for a seed: keywords that contain its words, or related ones that do not.</summary>
    public IReadOnlyList<Keyword> Ideas(string seed, bool related)
    {
        var words = KeywordWords.Split(KeywordWords.Padded(KeywordNormalForm.Of(seed)));
        if (words.Length == 0)
            return [];
        var containing = Keywords.Values.Where(k => words.All(w => KeywordWords.Contain(KeywordWords.Padded(k.NormalForm), w))).ToList();
        if (!related)
            return Ordered(containing);
        var subjects = containing.Select(k => _subjectOf.GetValueOrDefault(k.Phrase, -1)).Where(s => s >= 0)
            .Concat(Index.Search(seed, 10, withSnippets: false).Select(r => r.Page.Subject).Where(s => s >= 0)).Distinct().ToHashSet();
        var topics = subjects.GroupBy(s => Generated.Subjects[s].Topic).OrderByDescending(g => g.Count()).Take(3).Select(g => g.Key).ToHashSet();
        var known = containing.Select(k => k.Phrase).ToHashSet();
        return Ordered(Keywords.Values.Where(k => !known.Contains(k.Phrase) && _subjectOf.TryGetValue(k.Phrase, out var s) && topics.Contains(Generated.Subjects[s].Topic)));
    }

    /// <summary>What is planted in the site's search performance.</summary>
    public PerformancePlants Plants { get; }

    /// <summary>The day that it is in the invented world; it passes when it is told to.</summary>
    public DateOnly Today { get; private set; }

    public void Pass(int days) => Today = Today.AddDays(days);

    /// <summary>Remembers that a page of the own site was changed today, so that its search performance shows it.</summary>
    public void Changed(string path) => _changedOn[path] = Today;

    /// <returns>The day on which a page of the own site was last changed; null where it never was.</returns>
    public DateOnly? ChangedOn(string path) => _changedOn.TryGetValue(path, out var day) ? day : null;

    /// <returns>Clicks that a page got from its change in the days after it, up to the last of which search performance is known.</returns>
    public long GainOf(string path, int days)
    {
        if (ChangedOn(path) is not { } from)
            return 0;
        var last = Today.AddDays(-PerformancePlants.DaysBehind);
        var standings = Generated.Standings.Where(s => new Uri(s.Url).AbsolutePath == path).ToList();
        return Enumerable.Range(0, days).Select(from.AddDays).Where(d => d <= last).Sum(d => standings.Sum(s => PerformanceOn(s, d).Clicks - PerformanceOn(s, d, isChanged: false).Clicks));
    }

    /// <returns>How often a keyword of a standing is searched for on a day.</returns>
    internal static double SearchesOn(OwnStanding standing, DateOnly day, ScenarioTopic? topic) =>
        (standing.Keyword.Volume ?? 0) / 30.4 * (topic is null ? 1 : Seasons.Share(day.DayOfYear, topic.Season, topic.SeasonMonth));

    /// <returns>The share of searches in which a position is seen.</returns>
    internal static double SeenAt(double position) => position <= 10.5 ? 0.9 : position <= 20.5 ? 0.25 : 0.02;

    /// <summary>What the own site got for a query by a page on a day; follows from position, volume, season, what is planted, and chance.</summary>
    /// <param name="standing">The query and the page.</param>
    /// <param name="day">The day.</param>
    /// <param name="isChanged">False for what it would have got if nobody had changed the page.</param>
    public (long Clicks, long Impressions, double Position) PerformanceOn(OwnStanding standing, DateOnly day, bool isChanged = true)
    {
        if (!standing.IsShownOn(day))
            return (0, 0, 0);
        var chance = new Chance(((ulong)(uint)_hashes.GetOrAdd(standing, s => CorpusText.Hash($"{s.Keyword.Phrase}|{s.Url}")) << 32) | (uint)day.DayNumber);
        var loss = Plants.Losses.GetValueOrDefault(standing.Url);
        var lost = loss?.On(day) ?? 0;
        var position = Math.Max(1, standing.Position + (loss?.Cause == LossCause.Position ? 4 * lost : 0) + (chance.Next() * 1.6) - 0.8);
        var expected = SearchesOn(standing, day, TopicOf(standing.Keyword.Phrase)) * SeenAt(position) * (loss?.Cause == LossCause.Searches ? 1 - (0.6 * lost) : 1);
        var rate = ClickCurve.Default.At(position) * (loss?.Cause == LossCause.ClickRate ? 1 - (0.65 * lost) : 1)
            * (Plants.UnderClicked.Contains((standing.Keyword.Phrase, standing.Url)) ? PerformancePlants.UnderClickedShare : 1);
        if (isChanged && Plants.Helps.TryGetValue(standing.Url, out var factor) && ChangedOn(new Uri(standing.Url).AbsolutePath) is { } changed && day >= changed)
            rate = Math.Min(1, rate * factor);
        var impressions = (long)Math.Floor(expected + chance.Next());
        var clicks = Math.Min(impressions, (long)Math.Floor((impressions * rate) + chance.Next()));
        return (clicks, impressions, position);
    }

    /// <summary>All of it from a day to another.</summary>
    public IEnumerable<(OwnStanding Standing, DateOnly Day, long Clicks, long Impressions, double Position)> Performance(DateOnly from, DateOnly to)
    {
        foreach (var standing in Generated.Standings)
        {
            for (var day = from; day <= to; day = day.AddDays(1))
            {
                var (clicks, impressions, position) = PerformanceOn(standing, day);
                if (impressions > 0)
                    yield return (standing, day, clicks, impressions, position);
            }
        }
    }

    public void Dispose() => Index.Dispose();

    /// <summary>Numbers from 0 to 1 that a seed tells: SplitMix64 (Steele, Lea and Flood, OOPSLA 2014), which is quick to begin.</summary>
    private struct Chance(ulong seed)
    {
        private ulong _state = seed;

        public double Next()
        {
            var z = _state += 0x9E3779B97F4A7C15;
            z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9;
            z = (z ^ (z >> 27)) * 0x94D049BB133111EB;
            return ((z ^ (z >> 31)) >> 11) * (1.0 / (1UL << 53));
        }
    }

    private static List<Keyword> Ordered(IEnumerable<Keyword> keywords) => [.. keywords.OrderByDescending(k => k.Volume ?? 0).ThenBy(k => k.Phrase, StringComparer.Ordinal)];

    private static readonly Questions English = Questions.Of("en");

    private static bool IsQuestion(string phrase) => English.IsQuestion(KeywordWords.Padded(phrase));

    private static bool SharesWord(string a, string b) => KeywordWords.Split(a).Intersect(KeywordWords.Split(b)).Any(w => w.Length > 4);
}
