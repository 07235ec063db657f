using System.Collections.Frozen;

namespace JadeOrchard.Core.Keywords;

/// <summary>Words that a text need not have to say the same: pronouns and helping verbs, and words that only say where or from whom somebody wants something.</summary>
/// <remarks>Common practice, from memory; stop words are left out by the text analysis already.</remarks>
public static class FunctionWords
{
    private static readonly FrozenDictionary<string, string[]> ByLanguage = new Dictionary<string, string[]>
    {
        ["en"] = ["i", "you", "he", "she", "we", "me", "my", "your", "our", "us", "one", "do", "does", "did", "can", "could", "should", "would", "may", "might", "am", "were", "has", "have", "had", "get", "so", "from", "about"],
        ["de"] = ["ich", "du", "er", "sie", "wir", "man", "mir", "mich", "mein", "dein", "ihr", "kann", "darf", "muss", "soll", "habe", "hat", "wird", "werden"],
        ["fr"] = ["je", "tu", "il", "elle", "nous", "vous", "on", "mon", "ton", "son", "peut", "dois", "doit", "faut", "est", "ai", "avoir"],
        ["es"] = ["yo", "tu", "mi", "su", "se", "puedo", "puede", "debo", "hay", "tengo", "ser", "es"],
        ["it"] = ["io", "tu", "mi", "si", "mio", "suo", "posso", "può", "devo", "è", "ho"],
        ["nl"] = ["ik", "je", "jij", "hij", "wij", "we", "men", "mijn", "kan", "mag", "moet", "heb", "heeft"],
    }.ToFrozenDictionary();

    /// <summary>Where somebody wants something, in any language.</summary>
    private static readonly string[] Qualifiers = ["near me", "nearby", "uk", "usa", "online", "in der nähe", "près de chez moi", "cerca de mí", "vicino a me"];

    /// <param name="language">Two letters, ISO 639-1.</param>
    /// <returns>The words; none where the language is not known here.</returns>
    public static IReadOnlyList<string> Words(string language) => ByLanguage.GetValueOrDefault(language, []);

    /// <returns>Words and phrases that say only where or from whom, so that no text lacks them.</returns>
    public static IReadOnlyList<string> PureQualifiers => Qualifiers;
}
