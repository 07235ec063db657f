using CsCheck;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Keywords;

public class SiftingTests
{
    [Theory]
    [InlineData("sit-on-top kayak", " sit on top kayak ")]
    [InlineData("c++ for .net", " c++ for .net ")]
    [InlineData("50% off 3.5 inch", " 50% off 3.5 inch ")]
    [InlineData("kayaker's guide (2026)", " kayaker's guide 2026 ")]
    [InlineData("3/4 inch", " 3 4 inch ")]
    [InlineData("日本語 検索", " 日本語 検索 ")]
    [InlineData("?!", " ")]
    public void WordsAreParted(string phrase, string words) => Assert.Equal(words, KeywordWords.Padded(phrase));

    [Fact]
    public void WordsOfWordsAreTheSame() => Gen.String.Sample(text =>
    {
        var padded = KeywordWords.Padded(KeywordNormalForm.Of(text));
        Assert.True(padded.Length == 1 || (padded[0] == ' ' && padded[^1] == ' '));
        Assert.DoesNotContain("  ", padded, StringComparison.Ordinal);
    });

    [Theory]
    [InlineData("how to roll a kayak", true)]
    [InlineData("what's a skeg", true)]
    [InlineData("how", false)]
    [InlineData("kayak how", false)]
    [InlineData("howto kayak", false)]
    public void QuestionsBeginWithAQuestionWord(string phrase, bool isQuestion) => Assert.Equal(isQuestion, Questions.IsQuestion(KeywordWords.Padded(phrase), "en"));

    [Fact]
    public void QuestionsAreToldInTheLanguageOfTheProject()
    {
        Assert.True(Questions.IsQuestion(KeywordWords.Padded("wie rollt man ein kajak"), "de"));
        Assert.False(Questions.IsQuestion(KeywordWords.Padded("wie rollt man ein kajak"), "en"));
    }

    [Theory]
    [InlineData("fenwater dry suit price", Intent.Navigational, "fenwater")]
    [InlineData("best dry suit price", Intent.Commercial, "best")]
    [InlineData("dry suit price", Intent.Transactional, "price")]
    [InlineData("dry suit guide", Intent.Informational, "guide")]
    [InlineData("skerry paddle", Intent.Commercial, "skerry")]
    [InlineData("dry suit", null, null)]
    [InlineData("bestiary of kayaks", null, null)]
    public void IntentIsToldByTheFirstRuleWithAWordInThePhrase(string phrase, Intent? intent, string? word)
    {
        var told = new IntentRules(IntentRules.Default, ["Fenwater"], ["Skerry"]).Tell(KeywordWords.Padded(phrase));
        Assert.Equal((intent, word), (told?.Intent, told?.Word));
    }

    [Fact]
    public void RulesThatWereEditedAreTheOnesThatTell()
    {
        var told = new IntentRules([new IntentRule("mine", Intent.Transactional, ["kayak", "  "])], [], []).Tell(KeywordWords.Padded("how to roll a kayak"));
        Assert.Equal(new ToldIntent(Intent.Transactional, "mine", "kayak"), told);
    }

    [Theory]
    [InlineData("paddles for kayaks", "kayak paddle", true)]
    [InlineData("kayak the paddle", "paddle kayak", true)]
    [InlineData("kayak paddle", "canoe paddle", false)]
    [InlineData("of the", "the of", false)]
    public void CloseVariantsShareTheirStemsInAnyOrder(string a, string b, bool same)
    {
        using var analysis = new TextAnalysis("en");
        Assert.Equal(same, CloseVariants.KeyOf(a, analysis) == CloseVariants.KeyOf(b, analysis));
    }

    [Fact]
    public void TitleCompetitionIsUnknownWithoutMatchesOrVolume()
    {
        Assert.Equal(0.5, TitleCompetition.Of(50, 100));
        Assert.Equal(0, TitleCompetition.Of(0, 100));
        Assert.Null(TitleCompetition.Of(null, 100));
        Assert.Null(TitleCompetition.Of(5, 0));
        Assert.Null(TitleCompetition.Of(5, null));
    }

    [Fact]
    public void ModifiersCountKeywordsAndTheirDemand()
    {
        var modifiers = Modifiers.Of(
            [(" best sea kayak ", 100), (" best canoe ", 50), (" sea kayak for beginners ", 10), (" canoe for beginners ", 5), (" kayak kayak ", 1)], 50);
        Modifier Of(string phrase) => modifiers.Single(m => m.Phrase == phrase);
        Assert.Equal(new Modifier("best", 1, 2, 150), Of("best"));
        Assert.Equal(new Modifier("sea kayak", 2, 2, 110), Of("sea kayak"));
        Assert.Equal(new Modifier("for beginners", 2, 2, 15), Of("for beginners"));
        Assert.Equal(3, Of("kayak").Count);
        Assert.DoesNotContain(modifiers, m => m.Phrase is "for" or "kayak for" or "best sea kayak");
    }

    [Fact]
    public void ModifiersAreThoseOfACountByHandInAnyOrder() =>
        Gen.Select(Gen.String[Gen.Char["abc"], 1, 1].Array[1, 5], Gen.Long[0, 9]).Array[0, 12].Sample(keywords =>
        {
            var given = keywords.Select(k => (Words: " " + string.Join(' ', k.Item1.Select(w => w + w)) + " ", k.Item2)).ToList();
            var counted = Modifiers.Of(given, 1_000);
            Assert.Equal(counted.AsEnumerable(), Modifiers.Of(given.AsEnumerable().Reverse(), 1_000));
            foreach (var modifier in counted)
            {
                var with = given.Where(g => g.Words.Contains($" {modifier.Phrase} ", StringComparison.Ordinal) && (modifier.Words == 1 || g.Words.Trim() != modifier.Phrase)).ToList();
                Assert.Equal((with.Count, with.Sum(g => g.Item2)), (modifier.Count, modifier.Demand));
            }
        });

    [Fact]
    public void GapsAreWhereRivalsStandAndWeDoNotOrFarBehind()
    {
        HostStanding[] standings =
        [
            new("a", "r.example", "r/a", 3), new("a", "r.example", "r/a2", 7),
            new("b", "r.example", "r/b", 2), new("b", "own.example", "own/b", 5),
            new("c", "r.example", "r/c", 1), new("c", "own.example", "own/c", 30), new("c", "own.example", "own/c2", 14),
            new("d", "r.example", "r/d", 15), new("e", "other.example", "o/e", 1),
        ];
        var gaps = SiteComparison.Gaps(standings, h => h == "own.example", new HashSet<string> { "r.example" }, 10);
        Assert.Equal([("a", null, 3), ("c", 14, 1)], gaps.Select(g => (g.Keyword, g.OwnPosition, g.Rivals[0].Position)));
        Assert.Equal(["a", "c", "d"], SiteComparison.Gaps(standings, h => h == "own.example", new HashSet<string> { "r.example" }, 20).Select(g => g.Keyword));
        Assert.Equal(gaps.Select(g => g.Keyword), SiteComparison.Gaps(standings.Reverse(), h => h == "own.example", new HashSet<string> { "r.example" }, 10).Select(g => g.Keyword));
        var pages = SiteComparison.Pages(standings, new HashSet<string> { "r.example" }, 10, _ => 100, Core.Results.ClickCurve.Default);
        Assert.Equal(("r/c", 1, 28d), (pages[0].Url, pages[0].Keywords, Math.Round(pages[0].Clicks, 9)));
    }

    [Fact]
    public void ListsOverTimeTellWhoCameWentAndMoved()
    {
        var compared = ListComparison.Of([new PlacedUrl(1, 1), new PlacedUrl(2, 2), new PlacedUrl(3, 3)], [new PlacedUrl(2, 1), new PlacedUrl(1, 2), new PlacedUrl(4, 3)]);
        Assert.Equal(
            [new(2, 2, 1, ListChange.Rose), new(1, 1, 2, ListChange.Fell), new(4, 0, 3, ListChange.Came), new(3, 3, 0, ListChange.Went)],
            compared.AsEnumerable());
    }

    [Fact]
    public void EveryUrlOfEitherListIsComparedOnce() => Gen.Select(Gen.Int[0, 20].Array[0, 15], Gen.Int[0, 20].Array[0, 15]).Sample((before, after) =>
    {
        var compared = ListComparison.Of([.. before.Select((u, i) => new PlacedUrl(u, i + 1))], [.. after.Select((u, i) => new PlacedUrl(u, i + 1))]);
        Assert.Equal(before.Union(after).Order(), compared.Select(c => c.Url).Order());
        Assert.Equal(before.Intersect(after).Count(), compared.Count(c => c.Before > 0 && c.After > 0));
    });
}
