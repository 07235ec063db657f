using CsCheck;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Briefs;

public sealed class PlacementTests : IDisposable
{
    private readonly TextAnalysis _english = new("en");

    public void Dispose() => _english.Dispose();

    private static readonly PageText Page = new(
        "https://www.fenwater.example/guides/dry_suit-care", "Dry suit care | Fenwater", "How to care for a dry suit.", ["Caring for your Dry-Suit"], [new PageHeading(2, "Washing"), new PageHeading(3, "Zips of brass")],
        ["Suits that are dry last longer. Powder the latex seals, e.g. before a trip.", "The zip of the suit wants wax."], ["a dry suit on its hanger"]);

    [Fact]
    public void EachPlaceIsToldApart()
    {
        var placed = Of(Page, "dry suit");
        Assert.Equal([TextPlace.Title, TextPlace.H1, TextPlace.Opening, TextPlace.Body, TextPlace.Description, TextPlace.Url, TextPlace.Alt], placed.Select(p => p.Place));
        Assert.Equal([true, true, false, false, true, true, true], placed.Select(p => p.Exact));
        Assert.Equal("Suits that are dry last longer.", placed.Single(p => p.Place == TextPlace.Body).Passage);
        Assert.Equal([TextPlace.H2], Of(Page, "brass zip").Select(p => p.Place));
        Assert.False(Of(Page, "brass zip")[0].Exact);
        // "e.g." ends no sentence.
        Assert.Equal("Powder the latex seals, e.g. before a trip.", Of(Page, "powder trip")[^1].Passage);
        Assert.Equal([TextPlace.Anchor], new Placement(Page, ["kayak clothing"], _english, "en").Of("kayak clothing").Select(p => p.Place));
    }

    [Fact]
    public void StemsMayStandWithinTenWordsOverTheEndOfASentence()
    {
        PageText Text(params string[] paragraphs) => Page with { Paragraphs = paragraphs, H1 = [], H2 = [], Title = null, Description = null, Url = null, Alts = [] };
        Assert.Equal([TextPlace.Opening, TextPlace.Body], Of(Text("It was a zip. And it was of brass."), "brass zip").Select(p => p.Place));
        Assert.Empty(Of(Text("A zip is one two three four five six seven eight nine ten. Brass."), "brass zip"));
        // Within one sentence any distance will do.
        Assert.Equal(2, Of(Text("A zip is one two three four five six seven eight nine ten brass."), "brass zip").Count);
        Assert.Empty(Of(Text("A zip."), "brass zip"));
    }

    [Fact]
    public void TheOpeningIsTheFirstHundredWords()
    {
        var text = Page with { Paragraphs = [string.Join(' ', Enumerable.Repeat("word", 99)) + " kelp zinc."] };
        Assert.Equal([TextPlace.Opening, TextPlace.Body], Of(text, "kelp").Select(p => p.Place));
        Assert.Equal([TextPlace.Body], Of(text, "zinc").Select(p => p.Place));
        Assert.Equal([TextPlace.Body], Of(text, "kelp zinc").Select(p => p.Place));
    }

    [Fact]
    public void HowOftenAPhraseStandsIsCounted()
    {
        var text = Page with { Paragraphs = ["Dry suit, dry suit and dry-suit. One more dry suit!", "Suits dry."] };
        Assert.Equal(4, Of(text, "dry suit").Single(p => p.Place == TextPlace.Body).Count);
        // As no phrase, but in these sentences.
        Assert.Equal(3, Of(text, "suit drying").Single(p => p.Place == TextPlace.Body).Count);
    }

    [Theory]
    [InlineData("ja", "ドライスーツの手入れ。ラテックスは水で洗う。", "ドライスーツ", "カヤック")]
    [InlineData("de", "Die Trockenanzüge müssen trocken sein.", "Trockenanzug", "Paddel")]
    [InlineData("ru", "Сухие костюмы для каяка.", "сухой костюм", "весло")]
    public void OtherLanguagesAreReadByTheirWords(string language, string text, string phrase, string missing)
    {
        using var analysis = new TextAnalysis(language);
        var placement = new Placement(Page with { Paragraphs = [text] }, [], analysis, language);
        Assert.Contains(placement.Of(phrase), p => p.Place == TextPlace.Body);
        Assert.Empty(placement.Of(missing));
    }

    [Fact]
    public void WhatIsMissingBelongsWhereTheTextComesClosest()
    {
        var placement = new Placement(Page, [], _english, "en");
        Assert.Equal("The zip of the suit wants wax.", placement.Closest("zip lubricant"));
        Assert.Null(placement.Closest("paddle float"));
    }

    /// <summary>What is put into a text is found there, whatever stands around it.</summary>
    [Fact]
    public void WhatIsThereIsFound() => Gen.Select(Gen.String, Gen.String, Gen.Int[0, 5].Select(i => new[] { "kelp zinc", "Zug", "c++", "sit on top", "50%", "o'clock" }[i])).Sample((before, after, phrase) =>
    {
        var placement = new Placement(Page with { Paragraphs = [$"{before} \n {phrase} \n {after}"] }, [], _english, "en");
        Assert.Contains(placement.Of(phrase), p => p.Place == TextPlace.Body && p.Exact);
        Assert.All(placement.Of(before), p => Assert.True(p.Count > 0));
    });

    private IReadOnlyList<Placed> Of(PageText page, string phrase) => new Placement(page, [], _english, "en").Of(phrase);
}
