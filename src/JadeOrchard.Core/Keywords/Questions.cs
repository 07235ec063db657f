using System.Collections.Frozen;

namespace JadeOrchard.Core.Keywords;

/// <summary>Tells keywords that ask something from those that name something.</summary>
/// <remarks>By the first word, as people type questions. The words are common practice, from memory.</remarks>
public static class Questions
{
    private static readonly FrozenDictionary<string, string[]> ByLanguage = new Dictionary<string, string[]>
    {
        ["en"] = ["how", "what", "which", "who", "whose", "when", "where", "why", "can", "could", "do", "does", "did", "is", "are", "was", "should", "will", "would", "has", "have", "what's", "how's"],
        ["de"] = ["wie", "was", "welche", "welcher", "welches", "wer", "wann", "wo", "woher", "wohin", "warum", "wieso", "kann", "ist", "sind", "darf", "muss", "soll"],
        ["fr"] = ["comment", "quel", "quelle", "quels", "quelles", "qui", "quand", "où", "pourquoi", "combien", "est-ce", "que", "peut"],
        ["es"] = ["cómo", "como", "qué", "que", "cuál", "cual", "quién", "cuándo", "cuando", "dónde", "donde", "por qué", "cuánto", "puedo"],
        ["it"] = ["come", "cosa", "quale", "quali", "chi", "quando", "dove", "perché", "quanto", "posso"],
        ["nl"] = ["hoe", "wat", "welke", "wie", "wanneer", "waar", "waarom", "kan", "is", "mag"],
    }.ToFrozenDictionary();

    /// <param name="language">Two letters, ISO 639-1.</param>
    /// <returns>The words with which questions begin; English ones where the language is not known here.</returns>
    public static IReadOnlyList<string> Words(string language) => ByLanguage.GetValueOrDefault(language, ByLanguage["en"]);

    /// <param name="padded">As <see cref="KeywordWords.Padded"/> gives it.</param>
    /// <param name="language">Two letters, ISO 639-1.</param>
    /// <returns>True where it begins with a question word and says more than that.</returns>
    public static bool IsQuestion(string padded, string language)
    {
        foreach (var word in Words(language))
        {
            if (padded.Length > word.Length + 2 && padded.AsSpan(1).StartsWith(word, StringComparison.Ordinal) && padded[word.Length + 1] == ' ')
                return true;
        }

        return false;
    }
}
