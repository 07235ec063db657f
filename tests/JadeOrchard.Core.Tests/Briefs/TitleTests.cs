using CsCheck;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Briefs;

public sealed class TitleTests : IDisposable
{
    private readonly TextAnalysis _english = new("en");

    public void Dispose() => _english.Dispose();

    /// <summary>Against every choice of as many sets: at least 1 − 1/e of the best (Nemhauser, Wolsey and Fisher 1978).</summary>
    [Fact]
    public void GreedyCoverageIsWithinItsBound() => Gen.Select(Gen.Int[0, 7].List[0, 5].List[1, 7], Gen.Double[0, 9].Array[8], Gen.Int[1, 3]).Sample((sets, weights, most) =>
    {
        var taken = MaximumCoverage.Greedy([.. sets], weights, most);
        double Weight(IEnumerable<int> chosen) => chosen.SelectMany(c => sets[c]).Distinct().Sum(e => weights[e]);
        var best = Enumerable.Range(0, 1 << sets.Count).Select(mask => Enumerable.Range(0, sets.Count).Where(i => (mask >> i & 1) == 1).ToList()).Where(c => c.Count <= most).Max(Weight);
        Assert.True(Weight(taken) >= ((1 - (1 / Math.E)) * best) - 1e-9);
        Assert.True(taken.Length <= most && taken.Distinct().Count() == taken.Length);
    });

    /// <summary>The width of "K" at 20 px as the font's table has it; Fonts/make.py --check compares the whole table.</summary>
    [Fact]
    public void WidthsAreThoseOfTheFont()
    {
        Assert.Equal(FontWidths.Of("K", 20) + FontWidths.Of("ayak", 20), FontWidths.Of("Kayak", 20), 9);
        Assert.Equal(579 * 20 / 1000.0, FontWidths.Of("K", 20), 9);
        Assert.Equal(40, FontWidths.Of("漢字", 20), 9);
        Assert.Equal(FontWidths.Of("e", 20), FontWidths.Of("e\u0301", 20), 0.001);
    }

    [Fact]
    public void WhatIsCutFitsAndBeginsAsTheTextDoes() => Gen.Select(Gen.String[0, 80], Gen.Double[30, 400]).Sample((text, pixels) =>
    {
        var cut = FontWidths.Cut(text, 20, pixels);
        Assert.True(FontWidths.Of(cut, 20) <= pixels + 1e-6);
        Assert.True(cut == text || (cut.EndsWith('…') && text.StartsWith(cut[..^1], StringComparison.Ordinal)));
    });

    [Fact]
    public void TitlesSayThePrimaryAndWhatMostSearchesWant()
    {
        Keyword[] keywords = [Of("sea kayak", 900, Intent.Transactional), Of("sea kayak for sale", 500), Of("second hand sea kayak", 300), Of("sea kayak shop", 100), Of("sea kayaks uk", 90)];
        var texts = new Titles(_english, "en", " | Fenwater").Of(keywords);
        Assert.Equal("Sea kayak for sale: second hand and shop | Fenwater", texts.First(t => t.Kind == TitleKind.Title).Text);
        Assert.Equal("Sea kayak for sale: second hand and shop", texts.First(t => t.Kind == TitleKind.H1).Text);
        Assert.Equal("0 1 2 3", string.Join(' ', texts.First(t => t.Kind == TitleKind.Title).Covers));
        // A question is asked whole, in the description.
        var roll = new Titles(_english, "en", "").Of([Of("how to roll a kayak", 800), Of("kayak roll lesson", 300), Of("is it hard to roll a kayak", 200)]);
        Assert.StartsWith("How to roll a kayak: lesson", roll[0].Text, StringComparison.Ordinal);
        Assert.Contains(roll, t => t.Kind == TitleKind.Description && t.Text.EndsWith("Is it hard to roll a kayak?", StringComparison.Ordinal));
    }

    [Fact]
    public void TextsFitAndDifferAndComeOutTheSameAgain() => Gen.Select(Gen.Int[0, 11].Select(i => new[] { "sea", "kayak", "dry", "suit", "best", "for", "repair", "how", "to", "cheap", "zip", "2026" }[i]).List[1, 5], Gen.Int[0, 900]).List[1, 12].Sample(given =>
    {
        var keywords = given.Select(g => Of(string.Join(' ', g.Item1), g.Item2)).DistinctBy(k => k.NormalForm).ToList();
        var titles = new Titles(_english, "en", " | Fenwater");
        var texts = titles.Of(keywords);
        foreach (var kind in Enum.GetValues<TitleKind>())
        {
            var own = texts.Where(t => t.Kind == kind).ToList();
            Assert.InRange(own.Count, 1, Titles.Alternatives);
            Assert.Equal(own.Count, own.Select(t => t.Text).Distinct().Count());
            Assert.False(own[0].IsTooLong);
            Assert.All(own, t => Assert.True(titles.Covered(keywords, t.Text).SequenceEqual(t.Covers)));
        }

        Assert.Equal(texts.Select(t => t.Text), titles.Of(keywords).Select(t => t.Text));
    }, iter: 150);

    [Fact]
    public void APrimaryThatIsTooLongIsTheTitleAllTheSame()
    {
        var text = new Titles(_english, "en", " | Fenwater").Of([Of(string.Join(' ', Enumerable.Repeat("expedition", 8)), 5)]).First(t => t.Kind == TitleKind.Title);
        Assert.True(text.IsTooLong);
        Assert.StartsWith("Expedition", text.Text, StringComparison.Ordinal);
    }

    private static Keyword Of(string phrase, long volume, Intent? intent = null) => new(phrase, KeywordNormalForm.Of(phrase), volume, Intent: intent);
}
