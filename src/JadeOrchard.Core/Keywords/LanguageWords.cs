using System.Collections.Concurrent;
using System.Collections.Frozen;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace JadeOrchard.Core.Keywords;

/// <summary>What this program knows of the words of a language: one file each, beside the code.</summary>
/// <param name="Questions">Words by which a phrase asks.</param>
/// <param name="FunctionWords">Pronouns and helping verbs: words that a text need not have to say the same.</param>
/// <param name="IntentRules">Rules of intent of a new project, in order.</param>
/// <remarks>The words are common practice, from memory; a project may have its own.</remarks>
public sealed record LanguageWords(QuestionWords Questions, IReadOnlyList<string> FunctionWords, IReadOnlyList<IntentRule> IntentRules)
{
    private const string Folder = "Languages.";
    private const string Fallback = "en";

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) } };

    private static readonly ConcurrentDictionary<string, LanguageWords> Read = new(StringComparer.Ordinal);

    /// <summary>The languages that have a file: two letters, ISO 639-1.</summary>
    public static FrozenSet<string> Languages { get; } = typeof(LanguageWords).Assembly.GetManifestResourceNames()
        .Where(n => n.StartsWith(Folder, StringComparison.Ordinal)).Select(n => n[Folder.Length..^".json".Length]).ToFrozenSet();

    /// <returns>Whether a language has a file.</returns>
    public static bool Has(string language) => Languages.Contains(CodeOf(language));

    private static string CodeOf(string language) => language.ToLowerInvariant() is var code && code is "nb" or "nn" ? "no" : code;

    /// <param name="language">Two letters, ISO 639-1.</param>
    /// <returns>The words of the language; English ones where it has no file. Both kinds of Norwegian share one.</returns>
    public static LanguageWords Of(string language)
    {
        return Read.GetOrAdd(Has(language) ? CodeOf(language) : Fallback, static code =>
        {
            using var file = typeof(LanguageWords).Assembly.GetManifestResourceStream($"{Folder}{code}.json")!;
            return JsonSerializer.Deserialize<LanguageWords>(file, Json)!;
        });
    }
}
