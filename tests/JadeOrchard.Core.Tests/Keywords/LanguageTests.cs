using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Keywords;

/// <summary>Words of other languages and scripts.</summary>
public sealed class LanguageTests
{
    [Theory]
    [InlineData("ru", "байдарки", "байдарка")]
    [InlineData("tr", "kanolar", "kano")]
    [InlineData("cs", "pádla", "pádlo")]
    [InlineData("hu", "hajót", "hajó")]
    [InlineData("ro", "caiace", "caiac")]
    [InlineData("el", "βάρκες", "βάρκα")]
    [InlineData("ar", "قوارب", "القوارب")]
    [InlineData("de", "paddels", "paddel")]
    [InlineData("fi", "kajakit", "kajakki")]
    public void FormsOfAWordHaveOneStem(string language, string one, string other)
    {
        using var analysis = new TextAnalysis(language);
        Assert.Equal(analysis.Stems(one), analysis.Stems(other));
    }

    /// <summary>Snowball's own stemmers, by the library of its Python package (Golden/make.py).</summary>
    [Fact]
    public void StemsAreThoseOfSnowball() => Assert.All(File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", "snowball.txt")).Select(l => l.Split(' ')), parts =>
    {
        using var analysis = new TextAnalysis(parts[0]);
        Assert.Equal([parts[2]], analysis.Stems(parts[1]));
    });

    [Theory]
    [InlineData("ja", "カヤックパドルの選び方", "パドル")]
    [InlineData("zh", "如何选择皮划艇桨", "皮划艇")]
    [InlineData("th", "วิธีเลือกไม้พายเรือคายัค", "เรือคายัค")]
    public void AWordIsFoundInTextWithoutSpaces(string language, string text, string word)
    {
        using var analysis = new TextAnalysis(language);
        var (of, all) = (analysis.Stems(word), analysis.Stems(text));
        Assert.NotEmpty(of);
        Assert.Subset(all.ToHashSet(), of.ToHashSet());
        Assert.True(all.Count > 3, string.Join(' ', all));
    }

    [Theory]
    [InlineData("fen-water", "fenwater shop", true)]
    [InlineData("fen-water", "fen water shop", true)]
    [InlineData("fen water", "fenwater", true)]
    [InlineData("fen water", "fen-water kayaks", true)]
    [InlineData("fenwater", "fenwaters", false)]
    [InlineData("フェン", "フェン通販", true)]
    [InlineData("เฟน", "ร้านเฟน", true)]
    public void ABrandIsToldHoweverItIsWritten(string term, string query, bool isBrand) => Assert.Equal(isBrand, new BrandTerms([term]).IsBrandQuery(KeywordNormalForm.Of(query)));
}
