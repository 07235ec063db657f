using CsCheck;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.PageMap;

public class PageSuggestionTests
{
    private static readonly SitePage[] Pages =
    [
        new("https://f.example/dry-suits", "Dry suits for kayaking", "Dry suits"),
        new("https://f.example/paddles", "Kayak paddles", "Paddles"),
        new("https://f.example/guide", "How to choose a dry suit", "Choosing a dry suit"),
        new("https://f.example/unknown"),
    ];

    [Fact]
    public void ResultsEvidenceIsTheShareOfThePossibleClicks()
    {
        // The page stands at 2 for 300 searches a month and nowhere for 100: 300*0.15 of 400*0.28.
        var evidence = ResultsEvidence.Of(new Cluster(0, [0, 1]), [300, 100], Lists.Of([9, 1], [9]), Map(10, (1, 0)), ClickCurve.Default)!;
        Assert.Equal(300 * 0.15 / (400 * 0.28), evidence[0], 12);
        Assert.Single(evidence);
    }

    [Theory]
    [InlineData(0.5, null, null, 50)]
    [InlineData(0.5, null, 1.0, 100 * ((0.45 * 0.5) + 0.25) / 0.7)]
    [InlineData(0.5, 0.2, 1.0, 100 * ((0.45 * 0.5) + (0.3 * 0.2) + 0.25))]
    [InlineData(null, 0.2, null, 20)]
    [InlineData(null, null, null, 0)]
    public void MissingEvidenceIsReweightedNotCountedAsBad(double? results, double? performance, double? text, double strength) =>
        Assert.Equal(strength, new PageEvidence(0, results, performance, text).Strength, 9);

    [Fact]
    public void PerformanceIsTheShareOfTheClicksDampedByHowFewThereAre()
    {
        var evidence = PerformanceEvidence.Of(new Cluster(0, [0]), Performance(30.4375, (0, 90, 400), (2, 30, 300)))!;
        Assert.Equal(90 / (120 + PerformanceEvidence.ClicksBelieved), evidence[0], 9);
        Assert.Equal(30 / (120 + PerformanceEvidence.ClicksBelieved), evidence[2], 9);
    }

    [Fact]
    public void FewClicksLeaveItToImpressions()
    {
        var evidence = PerformanceEvidence.Of(new Cluster(0, [0]), Performance(30.4375, (0, 1, 40), (2, 8, 60)))!;
        Assert.Equal(40 / (100 + PerformanceEvidence.ImpressionsBelieved), evidence[0], 9);
        Assert.Equal(60 / (100 + PerformanceEvidence.ImpressionsBelieved), evidence[2], 9);
    }

    [Fact]
    public void WithoutQueriesThatWereSeenThereIsNoPerformanceEvidence() =>
        Assert.Null(PerformanceEvidence.Of(new Cluster(0, [0]), SearchPerformance.None));

    // Robertson and Zaragoza, 2009, section 3.6, calculated on paper for one page with one field of mean length, k1 = 1.2 times the mean weight,
    // 1.9: tf' = 3, so 3/(2.28+3); the model page has 7.5/(2.28+7.5), and idf cancels.
    [Fact]
    public void TextEvidenceFollowsTheFormula()
    {
        var text = Text([new SitePage("https://f.example/", "kayak")], [null], "kayak");
        var pages = new TextEvidence(text).Of(new Dictionary<int, double> { [text.StemsOf(0)[0]] = 1 });
        Assert.Equal(3 / 5.28 / (7.5 / 9.78), Assert.Single(pages).Share, 6);
    }

    /// <summary>The best page is found without looking at all; every share is at most 1, and the best page has all of its own score.</summary>
    [Fact]
    public void NoPageIsBetterThanTheBest() => Gen.Int[0, 999_999].Sample(seed =>
    {
        var random = new Random(seed);
        string[] words = ["kayak", "canoe", "suit", "paddle", "roof", "rack", "tide"];
        string Some(int most) => string.Join(' ', Enumerable.Range(0, random.Next(1, most)).Select(_ => words[(int)(words.Length * Math.Pow(random.NextDouble(), 2))]));
        SitePage[] pages = [.. Enumerable.Range(0, random.Next(1, 30)).Select(p => new SitePage($"https://f.example/{Some(3).Replace(' ', '-')}{p}", Some(5), Some(3)))];
        string[] keywords = [.. Enumerable.Range(0, 5).Select(_ => Some(4)).Distinct()];
        using var analysis = new TextAnalysis("en");
        var text = new SiteText(pages, [.. pages.Select(_ => Some(40))], Lists.Keywords([.. keywords.Select(k => (k, (long?)1))]), analysis, "en");
        var evidence = new TextEvidence(text);
        for (var k = 0; k < keywords.Length; k++)
        {
            var query = text.StemsOf(k).ToDictionary(s => s, _ => 1.0);
            var shares = evidence.Of(query);
            Assert.All(shares, s => Assert.InRange(s.Share, 0, 1 + 1e-9));
            // By the definition, every page looked at.
            var asked = query.Keys.Where(s => text.PagesWith(s).Length > 0 || !query.Keys.Any(o => text.PagesWith(o).Length is > 0 and var n && n * 2 <= pages.Length)).ToList();
            var total = asked.Sum(text.Importance);
            double ScoreOf(int p) => asked.Sum(s => text.Importance(s) * text.Saturated(s, p));
            var best = Math.Max(total * SiteText.Model, Enumerable.Range(0, pages.Length).Max(ScoreOf));
            Assert.All(shares, s =>
            {
                // Within a bound, since what is rounded may fall on either side of a half.
                var expected = ScoreOf(s.Page) / best * asked.Where(x => text.Saturated(x, s.Page) > 0).Sum(text.Importance) / total;
                Assert.InRange(s.Share, expected - 1e-9, expected + 1e-9);
            });
            Assert.Equal(Enumerable.Range(0, pages.Length).Where(p => text.Named(p, query) >= 0.5).ToHashSet(), text.NamedFor(query, 0.5).ToHashSet());
        }
    }, iter: 300);

    [Fact]
    public void APageThatMentionsASubjectInPassingIsNoCandidate()
    {
        using var analysis = new TextAnalysis("en");
        SitePage[] pages = [new("https://f.example/events", "Events this year"), new("https://f.example/news", "News")];
        var keywords = Lists.Keywords(("kayak skeg", 100));
        var text = new SiteText(pages, ["how to fit kayak skeg kayak skeg", "beach clean"], keywords, analysis, "en");
        var suggestion = PageSuggestions.For([new Cluster(0, [0])], keywords, pages, new PageCandidates(keywords, Lists.Of([5, 6]), pages, Map(10), text, SearchPerformance.None, ClickCurve.Default))[0];
        Assert.Equal(Verdict.None, suggestion.Verdict);
        Assert.Empty(suggestion.Candidates);
    }

    [Fact]
    public void ThePageMeantForAClusterIsToldFromTheOneThatRanks()
    {
        var suggestion = Suggest([("dry suit", 100)], [[1, 6, 7, 8]], [(1, 1)])[0];
        Assert.Equal(1, suggestion.Page);
        Assert.NotEqual(Verdict.Clear, suggestion.Verdict);
        Assert.Equal(0, suggestion.AsMapped(page => page == 1).Meant);
        Assert.Equal(2, suggestion.AsMapped(page => page < 2).Meant);
    }

    [Fact]
    public void APageThatMayNotBeListedIsNoCandidate()
    {
        var suggestion = Suggest([("dry suit", 100)], [[0, 6, 7, 8]], [(0, 0)], [Pages[0] with { IsListed = false }, Pages[1]])[0];
        Assert.DoesNotContain(suggestion.Candidates, c => c.Page == 0);
    }

    [Fact]
    public void ASubjectThatNobodyWritesAboutHasNoStrongPage()
    {
        var suggestion = Suggest([("kayak roof rack", 100)], [[5, 6, 7, 8]], [])[0];
        Assert.Equal(Verdict.None, suggestion.Verdict);
        Assert.Null(suggestion.Page);
    }

    [Fact]
    public void AStandingPageThatIsAheadIsClear()
    {
        var suggestion = Suggest([("dry suit", 100)], [[0, 6, 7, 8]], [(0, 0)])[0];
        Assert.Equal(Verdict.Clear, suggestion.Verdict);
        Assert.Equal(0, suggestion.Page);
    }

    /// <summary>Words that the site never uses join a cluster; its page is about it all the same.</summary>
    [Fact]
    public void ASynonymThatTheSiteNeverUsesTakesNoPageAway()
    {
        static ClusterSuggestion Of(params string[] phrases)
        {
            using var analysis = new TextAnalysis("en");
            SitePage[] pages =
            [
                new("https://f.example/kayak-dolly", "Kayak dolly: how to choose one", "Kayak dolly"), new("https://f.example/paddles", "Kayak paddles", "Paddles"),
                new("https://f.example/suits", "Dry suits", "Dry suits"), new("https://f.example/decks", "Spray decks for any kayak", "Spray decks"),
            ];
            var keywords = Lists.Keywords([.. phrases.Select((p, i) => (p, (long?)(100 - i)))]);
            // The page ranks 11th for its own phrase, and for no other.
            var lists = Lists.Of([.. phrases.Select((_, i) => i == 0 ? Enumerable.Range(20, 10).Append(0).ToArray() : [.. Enumerable.Range(20, 10)])]);
            int[] pageOfUrl = [.. Enumerable.Range(0, lists.UrlCount).Select(u => u == 0 ? 0 : -1)];
            var text = new SiteText(pages, [null, null, null, null], keywords, analysis, "en");
            return PageSuggestions.For([new Cluster(0, [.. Enumerable.Range(0, phrases.Length)])], keywords, pages, new PageCandidates(keywords, lists, pages, pageOfUrl, text, SearchPerformance.None, ClickCurve.Default))[0];
        }

        var (alone, joined) = (Of("kayak dolly"), Of("kayak dolly", "kayak cart", "kayak trolley"));
        Assert.Equal((0, Verdict.Clear), (alone.Page, alone.Verdict));
        Assert.Equal((0, Verdict.Clear), (joined.Page, joined.Verdict));
    }

    [Fact]
    public void TwoPagesNearlyAsStrongAreDoubtful()
    {
        var suggestion = Suggest([("dry suit", 100)], [[6, 7, 2, 0]], [(0, 0), (2, 2)])[0];
        Assert.Equal(Verdict.Doubtful, suggestion.Verdict);
    }

    [Fact]
    public void APageServesOneClusterAndTheLoserIsToldWhoGotIt()
    {
        var suggestions = Suggest([("dry suit", 100), ("thermal socks", 90)], [[0, 6, 7, 8], [0, 16, 17, 18]], [(0, 0)]);
        Assert.Equal(0, suggestions[0].Page);
        Assert.NotEqual(0, suggestions[1].Page);
        Assert.Equal(0, suggestions[1].LostTo);
    }

    [Fact]
    public void AsLongAsNothingIsDecidedALoserCountsWithThePageThatStandsForBoth()
    {
        var suggestions = Suggest([("dry suit", 100), ("thermal socks", 90)], [[0, 6, 7, 8], [0, 16, 17, 18]], [(0, 0)]);
        var loser = suggestions[1].AsMapped(_ => true);
        Assert.Equal((0, false, false), (loser.Page, loser.IsDecided, loser.IsDeclined));
    }

    [Theory]
    [InlineData(0.9, 0.6, 0)]      // far ahead of the suggested one
    [InlineData(0.9, 0.85, 1)]     // hardly ahead
    [InlineData(0.2, 0.1, 1)]      // weak itself
    public void OnlyAFarStrongerPageCountsInsteadOfTheSuggestedOne(double strongest, double suggested, int counted) =>
        Assert.Equal(counted, PageSuggestions.Counted([CandidateStrength.Of(new PageEvidence(0, strongest, strongest, strongest)), CandidateStrength.Of(new PageEvidence(1, suggested, suggested, suggested))], 1));

    [Fact]
    public void APageThatOnlySpeaksOfAClusterDoesNotStandForIt() =>
        Assert.Null(PageSuggestions.Counted([CandidateStrength.Of(new PageEvidence(0, 0, null, 1, 1))], null));

    [Fact]
    public void VolumesThatNobodyKnowsWeighTheSame()
    {
        var keywords = Lists.Keywords(("a", null), ("b", 0), ("c", null), ("d", 7));
        var weights = ClusterResults.SearchWeights([new Cluster(0, [0, 1]), new Cluster(3, [3, 2])], keywords);
        // Beside known ones, an unknown volume counts as their median.
        Assert.Equal([1, 1, 7, 7], weights);
    }

    private static IReadOnlyList<ClusterSuggestion> Suggest((string, long?)[] keywords, int[][] lists, (int Url, int Page)[] own, SitePage[]? pages = null)
    {
        var clusters = keywords.Select((_, k) => new Cluster(k, [k])).ToArray();
        pages ??= Pages;
        return PageSuggestions.For(clusters, Lists.Keywords(keywords), pages, new PageCandidates(
            Lists.Keywords(keywords), Lists.Of(lists), pages, Map(20, own), Text(pages, [.. pages.Select(_ => (string?)null)], [.. keywords.Select(k => k.Item1)]), SearchPerformance.None, ClickCurve.Default));
    }

    private static SiteText Text(SitePage[] pages, string?[] bodies, params string[] keywords)
    {
        using var analysis = new TextAnalysis("en");
        return new SiteText(pages, bodies, Lists.Keywords([.. keywords.Select(k => (k, (long?)1))]), analysis, "en");
    }

    private static SearchPerformance Performance(double days, params (int Page, long Clicks, long Impressions)[] pages)
    {
        var builder = new SearchPerformance.Builder();
        foreach (var (page, clicks, impressions) in pages)
            builder.Add(0, new PageFigures(page, clicks, impressions, 4));
        return builder.Build(1, Pages.Length, (int)days);
    }

    private static int[] Map(int urls, params (int Url, int Page)[] own)
    {
        var map = new int[urls];
        Array.Fill(map, -1);
        foreach (var (url, page) in own)
            map[url] = page;
        return map;
    }
}
