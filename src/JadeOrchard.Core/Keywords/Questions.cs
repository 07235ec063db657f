namespace JadeOrchard.Core.Keywords;

/// <summary>Words by which a phrase asks something; a list may be null, which is an empty one.</summary>
/// <param name="First">With one of these it begins: "how".</param>
/// <param name="Words">One of these stands anywhere in it.</param>
/// <param name="Last">With one of these it ends.</param>
/// <param name="Except">Phrases that are no question: "can opener".</param>
public sealed record QuestionWords(IReadOnlyList<string>? First = null, IReadOnlyList<string>? Words = null, IReadOnlyList<string>? Last = null, IReadOnlyList<string>? Except = null)
{
    /// <summary>All of them but the exceptions: those that begin a question first.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public IEnumerable<string> All => [.. First ?? [], .. Words ?? [], .. Last ?? []];
}

/// <summary>Tells keywords that ask something from those that name something.</summary>
/// <param name="words">Of the project or of its language, see <see cref="LanguageWords"/>.</param>
/// <param name="language">Two letters, ISO 639-1.</param>
public sealed class Questions(QuestionWords words, string language)
{
    private readonly PhraseMatcher _words = new(words.Words, words.First, words.Last, words.Except, language);

    /// <summary>By the words of a language.</summary>
    public static Questions Of(string language) => new(LanguageWords.Of(language).Questions, language);

    /// <param name="padded">As <see cref="KeywordWords.Padded"/> gives it.</param>
    /// <returns>True if a question word is where it asks something, and isn't the whole phrase.</returns>
    public bool IsQuestion(string padded) => _words.Find(padded) is { } word && padded.Length > word.Length + 2;
}
