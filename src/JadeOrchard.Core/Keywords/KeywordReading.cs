namespace JadeOrchard.Core.Keywords;

/// <summary>What can be told of a keyword from its words alone, for filters and groups.</summary>
/// <param name="Words">As <see cref="KeywordWords.Padded"/> gives them.</param>
/// <param name="WordCount">How many they are.</param>
/// <param name="IsQuestion">It asks something.</param>
/// <param name="Brand">Whose name is in it.</param>
/// <param name="Told">The intent by the project's rules; null where none tells.</param>
/// <param name="VariantKey">Close variants share it.</param>
public sealed record KeywordReading(string Words, int WordCount, bool IsQuestion, NamedBrand Brand, ToldIntent? Told, string VariantKey);

/// <summary>Whose name is in a keyword.</summary>
public enum NamedBrand
{
    None,

    /// <summary>The site's own.</summary>
    Own,

    /// <summary>A brand or a seller of the project's list.</summary>
    Other,
}

/// <summary>Reads keywords by the settings of a project. One instance may be used by one thread at a time.</summary>
public sealed class KeywordReader : IDisposable
{
    private readonly Questions _questions;
    private readonly TextAnalysis _analysis;
    private readonly IntentRules _intents;
    private readonly BrandTerms _own;
    private readonly BrandTerms _others;

    /// <param name="language">Two letters, ISO 639-1.</param>
    /// <param name="rules">Rules of intent, in order; null for those of the language.</param>
    /// <param name="questions">Words by which a phrase asks; null for those of the language.</param>
    /// <param name="ownBrands">Names of the site's brand.</param>
    /// <param name="otherBrands">Brands and sellers of others.</param>
    public KeywordReader(string language, IReadOnlyList<IntentRule>? rules, QuestionWords? questions, IReadOnlyList<string> ownBrands, IReadOnlyList<string> otherBrands)
    {
        _questions = new Questions(questions ?? LanguageWords.Of(language).Questions, language);
        _analysis = new TextAnalysis(language);
        _intents = new IntentRules(rules ?? LanguageWords.Of(language).IntentRules, ownBrands, otherBrands, language);
        _own = new BrandTerms(ownBrands);
        _others = new BrandTerms(otherBrands);
    }

    public KeywordReading Read(string normalForm)
    {
        var words = KeywordWords.Padded(normalForm);
        return new KeywordReading(
            words,
            words.AsSpan().Count(' ') - 1,
            _questions.IsQuestion(words),
            _own.IsBrandQuery(normalForm) ? NamedBrand.Own : _others.IsBrandQuery(normalForm) ? NamedBrand.Other : NamedBrand.None,
            _intents.Tell(words),
            CloseVariants.KeyOf(normalForm, _analysis));
    }

    public void Dispose() => _analysis.Dispose();
}
