using System.Text;
using CsCheck;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Keywords;

public class KeywordNormalFormTests
{
    /// <summary>Unicode's CaseFolding.txt, statuses C and F (Golden/make.py): whatever the case, it is one keyword.</summary>
    [Fact]
    public void CaseIsFoldedAsUnicodeSays()
    {
        var apart = File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", "casefolding.txt")).Select(l => l.Split(';').Select(p => string.Concat(p.Split(' ').Select(c => char.ConvertFromUtf32(Convert.ToInt32(c, 16))))).ToArray())
            .Where(f => KeywordNormalForm.Of($"a{f[0]}b") != KeywordNormalForm.Of($"a{f[1]}b")).Select(f => f[0]).ToList();
        Assert.True(apart.Count == 0, string.Join(" ", apart.Select(a => char.ConvertToUtf32(a, 0).ToString("X4", null))));
    }

    // Unicode's SpecialCasing.txt: Turkish and Azeri have two letters i.
    [Theory]
    [InlineData("DİŞ FIRÇASI", "diş fırçası", "tr")]
    [InlineData("ISPARTA", "ısparta", "tr")]
    [InlineData("ISPARTA", "isparta", "en")]
    [InlineData("İSTANBUL", "istanbul", "en")]
    [InlineData("İSTANBUL", "istanbul", "az")]
    [InlineData("ΚΑΓΙΑΚ ΘΑΛΑΣΣΗΣ", "καγιακ θαλασσης", "el")]
    [InlineData("θάλασσας", "ΘΆΛΑΣΣΑΣ", "el")]
    [InlineData("STRASSE", "straße", "de")]
    public void TheMarketsLanguageDecidesTheCase(string one, string other, string language) => Assert.Equal(KeywordNormalForm.Of(one, language), KeywordNormalForm.Of(other, language));

    [Theory]
    [InlineData("❤️ kayak", "❤ kayak")]
    [InlineData("\"kayak paddle\"", "kayak paddle")]
    [InlineData("“kayak paddle”", "kayak paddle")]
    [InlineData("'kayak paddle'", "kayak paddle")]
    [InlineData("12\" \"kayak\"", "12\" \"kayak\"")]
    public void QuotesAroundTheWholeAndVariantsOfSignsDoNotCount(string one, string form) => Assert.Equal(form, KeywordNormalForm.Of(one));

    [Fact]
    public void SinirAndSınırAreTwoWordsInTurkish() => Assert.NotEqual(KeywordNormalForm.Of("SINIR", "tr"), KeywordNormalForm.Of("SİNİR", "tr"));

    [Theory]
    [InlineData("Sea  Kayak ", "sea kayak")]
    [InlineData("can you roll a kayak?", "can you roll a kayak")]
    [InlineData("canoe vs. kayak", "canoe vs kayak")]
    [InlineData("“dry suit”", "dry suit")]
    [InlineData("sit–on—top", "sit-on-top")]
    [InlineData("kayak\u200bing", "kayaking")]
    [InlineData("sea\u00a0kayak\tuk\n", "sea kayak uk")]
    [InlineData("¿qué es un kayak?", "qué es un kayak")]
    [InlineData("ＫＡＹＡＫ", "kayak")]                     // UAX #15: full-width letters are compatibility variants
    [InlineData("ﬁshing kayak", "fishing kayak")]          // UAX #15, figure 6: the fi ligature
    [InlineData("3¾ inch", "3 3/4 inch")]
    [InlineData("???", "")]
    [InlineData("—", "")]
    [InlineData("- \u2026 (…) -", "")]
    [InlineData("🛶", "🛶")]
    [InlineData("€", "€")]
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
