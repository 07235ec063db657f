namespace JadeOrchard.Core.Keywords;

/// <summary>One rule that tells an intent from the words of a phrase.</summary>
/// <param name="Name">What the words are about: "buying".</param>
/// <param name="Intent">What a phrase with one of them is after.</param>
/// <param name="Words">Whole words or phrases.</param>
public sealed record IntentRule(string Name, Intent Intent, IReadOnlyList<string> Words);

/// <summary>An intent that was told from a phrase, and by what.</summary>
/// <param name="Rule">Name of the rule.</param>
/// <param name="Word">The word that matched.</param>
public sealed record ToldIntent(Intent Intent, string Rule, string Word);

/// <summary>
/// Tells an intent from the phrase where the research source said none: by rules that the planner reads and edits,
/// never by a hidden guess.
/// </summary>
/// <remarks>
/// The first rule in order with a word that stands in the phrase decides. Own brand terms come before all rules
/// (navigational), brands and sellers of others after them (commercial: they are being weighed up). The words are
/// common practice, from memory.
/// </remarks>
public sealed class IntentRules
{
    private readonly (IntentRule Rule, string[] Padded)[] _rules;

    /// <param name="rules">In order; empty words are passed over.</param>
    /// <param name="ownBrands">Names of the site's brand.</param>
    /// <param name="otherBrands">Brands and sellers of others.</param>
    public IntentRules(IEnumerable<IntentRule> rules, IEnumerable<string> ownBrands, IEnumerable<string> otherBrands) =>
        _rules =
        [
            .. rules
                .Prepend(new IntentRule("own brand", Intent.Navigational, [.. ownBrands]))
                .Append(new IntentRule("other brands", Intent.Commercial, [.. otherBrands]))
                .Select(r => (r, r.Words.Select(w => KeywordWords.Padded(KeywordNormalForm.Of(w))).Where(w => w.Length > 1).ToArray())),
        ];

    /// <summary>The rules of a new project.</summary>
    public static IReadOnlyList<IntentRule> Default { get; } =
    [
        new("finding a place", Intent.Navigational, ["opening times", "opening hours", "contact", "login", "directions to", "address", "phone number"]),
        new("comparing", Intent.Commercial, ["best", "top", "vs", "versus", "review", "reviews", "compared", "comparison", "compare", "tested", "alternative", "alternatives", "pros and cons", "difference between", "better than", "cheapest", "worth it", "buying guide", "which"]),
        new("buying", Intent.Transactional, ["buy", "price", "prices", "cost", "cheap", "for sale", "sale", "deal", "deals", "discount", "offer", "offers", "coupon", "clearance", "shop", "store", "online", "order", "delivery", "second hand", "used", "hire", "rent", "rental", "book", "near me", "in stock"]),
        new("learning", Intent.Informational, ["how", "what", "why", "when", "where", "who", "can", "does", "is", "are", "should", "guide", "tutorial", "tips", "learn", "ideas", "examples", "meaning", "definition", "explained", "for beginners", "checklist", "step by step", "video", "pdf", "size guide", "sizing", "history"]),
    ];

    /// <param name="padded">As <see cref="KeywordWords.Padded"/> gives it.</param>
    /// <returns>Null where no rule tells.</returns>
    public ToldIntent? Tell(string padded)
    {
        foreach (var (rule, words) in _rules)
        {
            foreach (var word in words)
            {
                if (padded.Contains(word, StringComparison.Ordinal))
                    return new ToldIntent(rule.Intent, rule.Name, word.Trim());
            }
        }

        return null;
    }
}
