namespace JadeOrchard.Core.Keywords;

/// <summary>Words that a text need not have to say the same: pronouns and helping verbs, and words that only say where or from whom somebody wants something.</summary>
/// <remarks>Common practice, from memory; stop words are left out by the text analysis already.</remarks>
public static class FunctionWords
{
    /// <param name="language">Two letters, ISO 639-1.</param>
    /// <returns>The words; none where the language is not known here.</returns>
    public static IReadOnlyList<string> Words(string language) => LanguageWords.Has(language) ? LanguageWords.Of(language).FunctionWords : [];

    /// <summary>Words and phrases that say only where or from whom, in any language, so that no text lacks them.</summary>
    public static IReadOnlyList<string> PureQualifiers { get; } =
        ["near me", "nearby", "uk", "usa", "online", "in der nähe", "près de chez moi", "cerca de mí", "vicino a me", "in de buurt", "perto de mim", "nära mig", "i nærheden", "i nærheten", "w pobliżu", "рядом со мной", "yakınımda"];
}
