using CsCheck;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Briefs;

public sealed class TextCheckTests
{
    private const string Said = "Latex seals keep the water out for years when they are powdered before every trip.";

    [Fact]
    public void SentencesThatAnotherPageHasAreNamedWithIt()
    {
        var site = new SiteSentences([("https://f.example/a", $"A page of its own. {Said} More."), ("https://f.example/b", "Nothing of it is here, and nobody expected that it would be.")]);
        // In other case and with other quotes and marks it is the same sentence.
        var repeated = Assert.Single(site.In(Text($"Own words come first. {Said.ToUpperInvariant().Replace(".", "!", StringComparison.Ordinal)} And after."), null));
        Assert.Equal("https://f.example/a", repeated.Url);
        // The page itself is not another page, and short sentences are anybody's.
        Assert.Empty(site.In(Text(Said), "https://f.example/a"));
        Assert.Empty(site.In(Text("A page of its own."), null));
    }

    [Fact]
    public void TheOtherPageIsFoundWhereThePageItselfHasTheSentenceToo()
    {
        var site = new SiteSentences([("https://f.example/own", Said), ("https://f.example/other", Said)]);
        Assert.Equal("https://f.example/other", Assert.Single(site.In(Text(Said), "https://f.example/own")).Url);
    }

    [Fact]
    public void AnySentenceOfAnyPageIsFoundInAnyOrder() => Gen.Select(Gen.Int[0, 999].Array[8, 14].Array[1, 12], Gen.Int[0, 1_000]).Sample((sentences, at) =>
    {
        var texts = sentences.Select(s => "W" + string.Join(' ', s.Select(w => $"w{w}")) + ".").ToList();
        var site = new SiteSentences([.. texts.Select((t, i) => ($"https://f.example/{i}", t))]);
        var shuffled = new SiteSentences([.. texts.Select((t, i) => ($"https://f.example/{i}", t)).Reverse()]);
        var wanted = texts[at % texts.Count];
        return site.In(Text(wanted), null).Count == 1 && shuffled.In(Text(wanted), null).Count == 1 && site.In(Text(wanted), $"https://f.example/{at % texts.Count}").Count <= 1;
    });

    [Theory]
    [InlineData("It weighs 1,450 g.", true)]
    [InlineData("Four in five (80 %) came back.", true)]
    [InlineData("In 2024 the slip was closed.", true)]
    [InlineData("A suit costs €90.", true)]
    [InlineData("According to the harbour office 40 boats went out.", false)]
    [InlineData("In 2024 the slip was closed (Harbour Office, 2024).", false)]
    [InlineData("Two of us went.", false)]
    [InlineData("See the survey of 2024 for more.", false)]
    public void NumbersWithoutASourceAreClaims(string sentence, bool isClaim)
    {
        var text = Text(sentence) with { Links = [new PageLink("https://a.example/survey", "the survey of 2024")] };
        Assert.Equal(isClaim ? [sentence] : [], Claims.WithoutSource(text));
    }

    [Fact]
    public void ShownLinesAndTheirRestAreTheWholeText() => Gen.String[Gen.Char[' ', '~'], 0, 300].Sample(text =>
    {
        var line = ShownLine.Of(TitleKind.Title, text);
        var shown = line.Rest.Length == 0 ? line.Shown : line.Shown[..^1];
        return string.Concat((shown + line.Rest).Where(c => c != ' ')) == string.Concat(text.Where(c => c != ' ')) && (line.Rest.Length == 0) == (line.Shown == text || text.EndsWith('…'));
    });

    [Fact]
    public void NewerFactsAreToldApart()
    {
        var before = Brief(["dry suit", "dry suits"], ["relief zip"], 300);
        Assert.Empty(BriefDifferences.Of(before, before));
        Assert.Equal(
            ["Keywords, new: dry suit sale.", "Keywords, gone: dry suits.", "Terms, new: latex seal.", "Words: 1,250 instead of 300."],
            BriefDifferences.Of(before, Brief(["dry suit", "dry suit sale"], ["relief zip", "latex seal"], 1_250)));
    }

    [Fact]
    public void KeywordsAreTakenOutAndAddedAndTextsCountOnceAccepted()
    {
        var edits = new BriefEdits(Without: ["dry suits", "dry suit"], With: [new AddedKeyword("gaskets", 90), new AddedKeyword("dry suit")], Written: [new WrittenText(DraftKind.Answer, "Why?", "So.", true), new WrittenText(DraftKind.Title, "", "No", false)]);
        var brief = edits.Apply(Brief(["dry suit", "dry suits"], [], 300));
        // The primary stays whatever is asked, and nothing is there twice.
        Assert.Equal(["dry suit", "gaskets"], brief.Keywords.Select(k => k.Phrase));
        Assert.Equal("dry suit, gaskets", brief.Tags);
        Assert.Equal("So.", Assert.Single(brief.Written).Text);
        Assert.Equal(3, edits.Count);
    }

    private static Brief Brief(string[] keywords, string[] terms, int words) => new(
        "https://f.example/dry-suits", true, "", "guide", [.. keywords.Select((k, i) => new BriefKeyword(k, 10, null, null, i == 0, [], []))], [], new WordTarget(words, words, words, 3), new Outline([], []), [],
        [.. terms.Select(t => new BriefTerm(t, 3, 5, 0, ""))], [], [], [], [], [], [], string.Join(", ", keywords));

    private static PageText Text(string text) => PageText.Of("", null, [], text) with { Url = null };
}
