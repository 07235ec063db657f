using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Briefs;

/// <summary>A sentence that another page of the site has too.</summary>
public sealed record RepeatedSentence(string Text, string Url);

/// <summary>Finds sentences that pages of the site have already, by their runs of five words (shingles; Broder, "On the resemblance and containment of documents", 1997).</summary>
/// <remarks>Memory: about 40 bytes for each run that is kept, at most <see cref="MostRuns"/>; of more, the same share of each page is kept.</remarks>
public sealed class SiteSentences
{
    private const int Run = 5, MostRuns = 2_000_000;

    /// <summary>A shorter sentence is said by many.</summary>
    private const int FewestWords = 8;

    /// <summary>The share of its runs that another page has (as for twin texts, DESIGN.md 4.9).</summary>
    private const double Enough = 0.8;

    private readonly Dictionary<ulong, (int First, int Second)> _pagesOf = [];
    private readonly IReadOnlyList<string> _urls;
    private readonly ulong _oneOf;

    /// <param name="pages">The pages of the site with their main texts.</param>
    public SiteSentences(IReadOnlyList<(string Url, string Text)> pages)
    {
        _urls = [.. pages.Select(p => p.Url)];
        _oneOf = (ulong)Math.Max(1, pages.Sum(p => (long)p.Text.Length) / 6 / MostRuns);
        for (var page = 0; page < pages.Count; page++)
        {
            foreach (var run in Runs(WordsOf(pages[page].Text)))
            {
                if (!_pagesOf.TryGetValue(run, out var on))
                    _pagesOf[run] = (page, -1);
                else if (on.Second < 0 && on.First != page)
                    _pagesOf[run] = (on.First, page);
            }
        }
    }

    /// <param name="text">A draft or page.</param>
    /// <param name="own">Its own address, which is not looked at; null for none.</param>
    public IReadOnlyList<RepeatedSentence> In(PageText text, string? own)
    {
        var repeated = new List<RepeatedSentence>();
        foreach (var sentence in text.Paragraphs.SelectMany(Sentences.Of).Distinct(StringComparer.Ordinal))
        {
            var words = WordsOf(sentence);
            if (words.Length < FewestWords || Runs(words).ToList() is not { Count: > 0 } runs)
                continue;
            var pages = new Dictionary<int, int>();
            var found = 0;
            foreach (var run in runs)
            {
                var (first, second) = _pagesOf.GetValueOrDefault(run, (-1, -1));
                var others = new[] { first, second }.Where(p => p >= 0 && _urls[p] != own).ToList();
                found += others.Count > 0 ? 1 : 0;
                foreach (var page in others)
                    pages[page] = pages.GetValueOrDefault(page) + 1;
            }

            if (found >= Enough * runs.Count)
                repeated.Add(new RepeatedSentence(sentence, _urls[pages.OrderByDescending(p => p.Value).ThenBy(p => p.Key).First().Key]));
        }

        return repeated;
    }

    private static string[] WordsOf(string text) => [.. KeywordWords.Split(KeywordWords.Padded(KeywordNormalForm.Of(text)))];

    private IEnumerable<ulong> Runs(string[] words)
    {
        for (var i = 0; i + Run <= words.Length; i++)
        {
            // FNV-1a, 64 bits (Fowler, Noll and Vo).
            var hash = 14695981039346656037UL;
            for (var w = i; w < i + Run; w++)
            {
                foreach (var c in words[w])
                    hash = (hash ^ c) * 1099511628211UL;
                hash = (hash ^ ' ') * 1099511628211UL;
            }

            if (hash % _oneOf == 0)
                yield return hash;
        }
    }
}
