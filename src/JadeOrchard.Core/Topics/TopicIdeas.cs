using System.Collections.Immutable;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Topics;

/// <summary>What is known of a page for ideas.</summary>
/// <param name="Site">What tells sites apart.</param>
/// <param name="Url">Where it stands.</param>
/// <param name="Headings">Its title and headings.</param>
public sealed record HeadedPage(string Site, string Url, IReadOnlyList<string> Headings);

/// <summary>A heading of a rival's page.</summary>
public sealed record IdeaExample(string Url, string Heading);

/// <summary>A phrase that is in headings of rivals and in none of the site's own.</summary>
/// <param name="Phrase">As it is written most often, lower case.</param>
/// <param name="VariantKey">By which keywords that say the same are found, see <see cref="CloseVariants"/>.</param>
/// <param name="Sites">How many sites have it.</param>
/// <param name="Pages">How many pages have it.</param>
/// <param name="Likelihood">How much more frequent it is here than on pages of other topics (G², Dunning 1993); 0 where there is nothing to compare with.</param>
/// <param name="Examples">Headings with the URLs of their pages.</param>
public sealed record TopicIdea(string Phrase, string VariantKey, int Sites, int Pages, double Likelihood, ImmutableArray<IdeaExample> Examples);

/// <summary>Ideas for thin topics: what rivals' pages are about that the site's are not, by headings and phrases.</summary>
/// <remarks>
/// Phrases of up to four words, and whole headings of up to nine, with two words or more that mean something, that neither
/// begin nor end with one that means nothing and are in headings of several sites. Left out: what the site's own headings
/// on the topic have all the stems of; what stands everywhere, by Dunning, "Accurate methods for the statistics of surprise
/// and coincidence", Comput. Linguist. 19(1), 1993; and what hardly ever stands outside a longer phrase.
/// </remarks>
public static class TopicIdeas
{
    private const int LongestPhrase = 4;
    private const int LongestHeading = 9;
    private const int ExamplesKept = 3;

    /// <summary>A phrase that has this share of its pages within a longer one is not a phrase of its own.</summary>
    private const double MostlyWithin = 0.75;

    /// <summary>English words that only hold a heading together, beside the stop words of the analysis (common practice); question words may open one.</summary>
    private static readonly HashSet<string> Binding = new(StringComparer.Ordinal)
    {
        "from", "which", "what", "when", "where", "who", "whose", "why", "how", "you", "your", "yours", "we", "our", "ours", "us", "i", "me", "my", "he", "she", "his", "her", "its", "them", "can", "could", "do", "does",
        "did", "should", "would", "may", "might", "must", "have", "has", "had", "were", "been", "being", "am", "than", "so", "too", "very", "just", "also", "about", "after", "before", "over", "under", "up", "down",
        "out", "off", "all", "any", "each", "more", "most", "other", "some", "own", "same", "only", "here", "between", "because", "while", "until", "during", "through", "again", "vs", "per",
    };

    /// <summary>A phrase of fewer sites may be one author's wording.</summary>
    private const int FewestSites = 2;

    /// <summary>Below this a phrase is as frequent elsewhere (χ² with one degree of freedom at 0.05, common practice).</summary>
    private const double LeastLikelihood = 3.84;

    private static readonly char[] Breaks = ['|', '·', '•', ':', ';', '–', '—', '?', '!', '.', ',', '(', ')', '"', '“', '”', '/'];

    /// <param name="rivals">Rivals' pages that rank for the topic.</param>
    /// <param name="own">Headings of the site's own pages on it, and what it is called.</param>
    /// <param name="elsewhere">Rivals' pages of other topics; may be empty.</param>
    /// <param name="analysis">Of the project's language.</param>
    /// <param name="most">How many at most.</param>
    /// <returns>Those of most sites and pages first.</returns>
    public static IReadOnlyList<TopicIdea> Of(
        IReadOnlyList<HeadedPage> rivals, IReadOnlyList<string> own, IReadOnlyList<HeadedPage> elsewhere, TextAnalysis analysis, int most)
    {
        var stemOf = new Dictionary<string, string>(StringComparer.Ordinal);
        var ownStems = own.Select(h => Words(h, analysis, stemOf).SelectMany(p => p).Select(w => w.Stem).Where(s => s.Length > 0).ToHashSet(StringComparer.Ordinal)).ToList();
        var found = new Dictionary<string, Found>(StringComparer.Ordinal);
        for (var page = 0; page < rivals.Count; page++)
        {
            foreach (var heading in rivals[page].Headings)
            {
                foreach (var (key, text) in Phrases(Words(heading, analysis, stemOf)))
                {
                    var phrase = found.TryGetValue(key, out var known) ? known : found[key] = new Found();
                    phrase.Texts[text] = phrase.Texts.GetValueOrDefault(text) + 1;
                    phrase.Sites.Add(rivals[page].Site);
                    if (phrase.Pages.Add(page) && phrase.Examples.Count < ExamplesKept)
                        phrase.Examples.Add(new IdeaExample(rivals[page].Url, heading));
                }
            }
        }

        var outside = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var page in elsewhere)
        {
            foreach (var key in page.Headings.SelectMany(h => Phrases(Words(h, analysis, stemOf))).Select(p => p.Key).Distinct(StringComparer.Ordinal))
                outside[key] = outside.GetValueOrDefault(key) + 1;
        }

        var ideas = found
            .Where(f => f.Value.Sites.Count >= FewestSites && !ownStems.Any(stems => f.Key.Split(' ').All(stems.Contains)))
            .Select(f => (f.Key, Idea: new TopicIdea(
                f.Value.Texts.OrderByDescending(t => t.Value).ThenBy(t => t.Key, StringComparer.Ordinal).First().Key,
                string.Join(' ', f.Key.Split(' ').Distinct(StringComparer.Ordinal).Order(StringComparer.Ordinal)),
                f.Value.Sites.Count,
                f.Value.Pages.Count,
                LogLikelihood(f.Value.Pages.Count, rivals.Count, outside.GetValueOrDefault(f.Key), elsewhere.Count),
                [.. f.Value.Examples])))
            .Where(f => elsewhere.Count == 0 || f.Idea.Likelihood >= LeastLikelihood)
            .ToList();
        return
        [
            .. ideas
                .Where(i => !ideas.Any(longer => longer.Key.Length > i.Key.Length && longer.Idea.Pages >= MostlyWithin * i.Idea.Pages
                    && (" " + longer.Key + " ").Contains(" " + i.Key + " ", StringComparison.Ordinal)))
                .Select(i => i.Idea)
                .OrderByDescending(i => i.Sites).ThenByDescending(i => i.Pages).ThenByDescending(i => Math.Round(i.Likelihood, 9)).ThenBy(i => i.Phrase, StringComparer.Ordinal)
                .Take(most),
        ];
    }

    /// <summary>G² of a count here and a count elsewhere; 0 where it is not more frequent here.</summary>
    /// <param name="here">Pages that have it.</param>
    /// <param name="allHere">Of how many.</param>
    /// <param name="there">Other pages that have it.</param>
    /// <param name="allThere">Of how many.</param>
    public static double LogLikelihood(int here, int allHere, int there, int allThere)
    {
        if (allThere == 0 || allHere == 0 || (double)here / allHere <= (double)there / allThere)
            return 0;
        var share = (double)(here + there) / (allHere + allThere);
        static double Term(double observed, double expected) => observed == 0 ? 0 : observed * Math.Log(observed / expected);
        return 2 * (Term(here, allHere * share) + Term(there, allThere * share) + Term(allHere - here, allHere * (1 - share)) + Term(allThere - there, allThere * (1 - share)));
    }

    private sealed class Found
    {
        public Dictionary<string, int> Texts { get; } = new(StringComparer.Ordinal);

        public HashSet<string> Sites { get; } = new(StringComparer.Ordinal);

        public HashSet<int> Pages { get; } = [];

        public List<IdeaExample> Examples { get; } = [];
    }

    /// <summary>The parts of a heading as words with their stems; a stop word has none.</summary>
    private static List<(string Word, string Stem)[]> Words(string heading, TextAnalysis analysis, Dictionary<string, string> stemOf) =>
    [
        .. heading.Split(Breaks, StringSplitOptions.RemoveEmptyEntries).Select(part => KeywordNormalForm.Of(part).Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(word =>
        {
            if (!stemOf.TryGetValue(word, out var stem))
                stemOf[word] = stem = Binding.Contains(word) ? "" : string.Join("", analysis.Stems(word));
            return (word, stem);
        }).ToArray()),
    ];

    private static IEnumerable<(string Key, string Text)> Phrases(List<(string Word, string Stem)[]> parts)
    {
        foreach (var words in parts)
        {
            for (var from = 0; from < words.Length; from++)
            {
                for (var to = from + 1; to <= Math.Min(words.Length, from + LongestHeading); to++)
                {
                    var isWhole = from == 0 && to == words.Length;
                    if (!isWhole && (to - from > LongestPhrase || words[from].Stem.Length == 0 || words[to - 1].Stem.Length == 0))
                        continue;
                    var phrase = words[from..to];
                    if (phrase.Count(w => w.Stem.Length > 0) >= 2)
                        yield return (string.Join(' ', phrase.Where(w => w.Stem.Length > 0).Select(w => w.Stem)), string.Join(' ', phrase.Select(w => w.Word)));
                }
            }
        }
    }
}
