using System.Collections.Frozen;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.PageMap;

/// <summary>What kind of searches a page is made for, as its address and title tell.</summary>
/// <remarks>By English words that sites commonly use (from memory); a page without one of them tells nothing. The address says more than the title.</remarks>
public static class PagePurpose
{
    private static readonly FrozenDictionary<string, Intent> Words = new (Intent Intent, string Words)[]
    {
        (Intent.Informational, "guide guides how learn blog magazine article articles skills tips faq faqs help advice what why news explained"),
        (Intent.Commercial, "best review reviews vs versus compare comparison tested top"),
        (Intent.Transactional, "buy shop store product products sale deals price prices category categories hire order"),
        (Intent.Navigational, "about contact login account delivery returns careers privacy terms"),
    }.SelectMany(i => i.Words.Split(' ').Select(w => KeyValuePair.Create(w, i.Intent))).ToFrozenDictionary();

    /// <returns>Null where neither address nor title tells.</returns>
    public static Intent? Of(SitePage page) => In(TextEvidence.PathWords(page.Url)) ?? In(page.Title) ?? In(page.H1);

    /// <summary>True where a page made for one kind of searches is no answer to another: who wants to buy does not want to read, and the other way round.</summary>
    /// <param name="purpose">Of the page.</param>
    /// <param name="intent">Of the cluster.</param>
    public static bool IsMismatch(Intent? purpose, Intent? intent) => (purpose, intent) switch
    {
        (null, _) or (_, null) => false,
        (Intent.Navigational, not Intent.Navigational) or (not Intent.Navigational, Intent.Navigational) => true,
        (Intent.Informational, Intent.Transactional) or (Intent.Transactional, Intent.Informational) => true,
        _ => false,
    };

    private static Intent? In(string? text)
    {
        foreach (var word in KeywordWords.Split(KeywordWords.Padded(KeywordNormalForm.Of(text ?? ""))))
        {
            if (Words.TryGetValue(word, out var intent))
                return intent;
        }

        return null;
    }
}
