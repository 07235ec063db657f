namespace JadeOrchard.Core.Keywords;

/// <summary>One rule that tells an intent from the words of a phrase. A list may be null, which is an empty one.</summary>
/// <param name="Name">What the words are about: "buying".</param>
/// <param name="Intent">What a phrase with one of them is after.</param>
/// <param name="Words">Whole words or phrases, anywhere in the phrase.</param>
/// <param name="First">Those with which it must begin: "top", so that "sit on top kayak" is none.</param>
/// <param name="Last">Those with which it must end.</param>
/// <param name="Except">Phrases in which they don't count: "used for" is not "used".</param>
public sealed record IntentRule(string Name, Intent Intent, IReadOnlyList<string> Words, IReadOnlyList<string>? First = null, IReadOnlyList<string>? Last = null, IReadOnlyList<string>? Except = null);

/// <summary>An intent read from a phrase, and the word it was read from.</summary>
/// <param name="Rule">Name of the rule.</param>
/// <param name="Word">The word that matched.</param>
public sealed record ToldIntent(Intent Intent, string Rule, string Word);

/// <summary>
/// Tells an intent from the phrase where the research source said none: by rules that the planner reads and edits,
/// never by a hidden guess.
/// </summary>
/// <remarks>
/// The first rule in order with a word that is in the phrase decides. Own brand terms come before all rules
/// (navigational), brands and sellers of others after them (commercial: they are being weighed up).
/// </remarks>
public sealed class IntentRules
{
    private readonly (IntentRule Rule, PhraseMatcher Words)[] _rules;

    /// <param name="rules">In order; empty words are passed over.</param>
    /// <param name="ownBrands">Names of the site's brand.</param>
    /// <param name="otherBrands">Brands and sellers of others.</param>
    /// <param name="language">Two letters, ISO 639-1.</param>
    public IntentRules(IEnumerable<IntentRule> rules, IEnumerable<string> ownBrands, IEnumerable<string> otherBrands, string language = "en") =>
        _rules =
        [
            .. rules
                .Prepend(new IntentRule("own brand", Intent.Navigational, [.. ownBrands]))
                .Append(new IntentRule("other brands", Intent.Commercial, [.. otherBrands]))
                .Select(r => (r, new PhraseMatcher(r.Words, r.First, r.Last, r.Except, language))),
        ];

    /// <param name="padded">As <see cref="KeywordWords.Padded"/> gives it.</param>
    /// <returns>Null where no rule tells.</returns>
    public ToldIntent? Tell(string padded)
    {
        foreach (var (rule, words) in _rules)
        {
            if (words.Find(padded) is { } word)
                return new ToldIntent(rule.Intent, rule.Name, word);
        }

        return null;
    }
}
