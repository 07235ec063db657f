using System.Text;
using CsCheck;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Keywords;

public class KeywordNormalFormTests
{
    [Theory]
    [InlineData("Sea  Kayak ", "sea kayak")]
    [InlineData("can you roll a kayak?", "can you roll a kayak")]
    [InlineData("canoe vs. kayak", "canoe vs kayak")]
    [InlineData("“dry suit”", "\"dry suit\"")]
    [InlineData("sit–on—top", "sit-on-top")]
    [InlineData("kayak\u200bing", "kayaking")]
    [InlineData("sea\u00a0kayak\tuk\n", "sea kayak uk")]
    [InlineData("¿qué es un kayak?", "qué es un kayak")]
    [InlineData("ＫＡＹＡＫ", "kayak")]                     // UAX #15: full-width letters are compatibility variants
    [InlineData("ﬁshing kayak", "fishing kayak")]          // UAX #15, figure 6: the fi ligature
    [InlineData("3¾ inch", "3 3/4 inch")]
    [InlineData("???", "")]
    [InlineData("\u0000\u200d", "")]
    public void DifferencesThatDoNotMatterGo(string given, string expected) =>
        Assert.Equal(expected, KeywordNormalForm.Of(given));

    [Theory]
    [InlineData("c++")]
    [InlineData(".net")]
    [InlineData("3/4 inch")]
    [InlineData("50%")]
    [InlineData("kayaks for sale")]
    [InlineData("sale for kayaks")]
    [InlineData("=sum(a1)")]
    public void WhatTellsSearchesApartStays(string phrase) => Assert.Equal(phrase, KeywordNormalForm.Of(phrase));

    [Fact]
    public void AnyTextHasANormalFormThatIsItsOwn() => Gen.String[Gen.Char, 0, 40].Sample(text =>
    {
        var form = KeywordNormalForm.Of(text);
        return KeywordNormalForm.Of(form) == form && form.IsNormalized(NormalizationForm.FormKC) && form == form.Trim();
    });

    [Fact]
    public void CaseAndOuterSpaceNeverMatter() => Gen.String[Gen.Char.AlphaNumeric, 1, 20].Sample(text =>
        KeywordNormalForm.Of("  " + text.ToUpperInvariant() + "\t") == KeywordNormalForm.Of(text.ToLowerInvariant()));

    [Theory]
    [InlineData("fenwater kayaks", true)]
    [InlineData("is fenwater any good", true)]
    [InlineData("fenwaters", false)]
    [InlineData("best sea kayak", false)]
    public void BrandQueriesAreToldByWholeWords(string keyword, bool expected) =>
        Assert.Equal(expected, new BrandTerms(["Fenwater", ""]).IsBrandQuery(keyword));

    [Fact]
    public void ALaterRowReplacesWhatItKnowsAndKeepsThePhrase()
    {
        var first = new Keyword("Sea Kayak", "sea kayak", 10, 20, 30, Intent.Commercial, 1.5);
        var updated = first.UpdatedBy(new Keyword("sea kayak", "sea kayak", 99));
        Assert.Equal(first with { Volume = 99 }, updated);
    }

    // Porter, "An algorithm for suffix stripping", 1980, and the sample words of its published vocabulary.
    [Theory]
    [InlineData("caresses ponies cats", "caress poni cat")]
    [InlineData("relational conditional rational", "relat condit ration")]
    [InlineData("the kayak's paddles", "kayak paddl")]
    public void StemsAreThoseOfPorter(string text, string expected)
    {
        using var analysis = new TextAnalysis("en");
        Assert.Equal(expected.Split(' '), analysis.Stems(text));
    }
}
