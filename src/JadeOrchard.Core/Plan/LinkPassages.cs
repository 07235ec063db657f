using System.Text.RegularExpressions;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Plan;

/// <summary>Where a page can link to another one.</summary>
/// <param name="Sentence">The sentence of the source page.</param>
/// <param name="Start">Where the words begin in it, from 0.</param>
/// <param name="Words">The words to link; empty where none are there, and a sentence would go after this one.</param>
public sealed record LinkPassage(string Sentence, int Start, string Words);

/// <summary>The sentences of a page, to find words in that could link elsewhere: those of headings and of links left out.</summary>
/// <remarks>4.21 of the design: the longest match first. One instance may be used by one thread at a time.</remarks>
public sealed partial class LinkPassages
{
    /// <summary>Characters of a sentence that are shown.</summary>
    private const int LongestSentence = 400;

    /// <summary>Sentences that are looked at.</summary>
    private const int MostSentences = 20_000;

    private readonly TextAnalysis _analysis;
    private readonly Dictionary<string, string> _stems;
    private readonly List<Sentence> _sentences = [];

    /// <param name="text">The page's main text.</param>
    /// <param name="headings">Its headings, as written in the text.</param>
    /// <param name="anchors">The words that link already.</param>
    /// <param name="analysis">For the language of the page.</param>
    /// <param name="stems">Stems of words, see <see cref="StemsFor"/>; shared by the pages of a site.</param>
    public LinkPassages(string text, IEnumerable<string> headings, IEnumerable<string> anchors, TextAnalysis analysis, Dictionary<string, string> stems)
    {
        (_analysis, _stems) = (analysis, stems);
        var isTaken = new bool[text.Length];
        var ends = new bool[text.Length + 1];
        var at = 0;
        foreach (var heading in headings.Where(h => h.Length > 0))
        {
            var found = text.IndexOf(heading, at, StringComparison.Ordinal);
            if (found < 0)
                continue;
            at = found + heading.Length;
            Array.Fill(isTaken, true, found, heading.Length);
            ends[found] = ends[at] = true;
        }

        at = 0;
        foreach (var anchor in anchors.Where(a => a.Length > 0))
        {
            // Links come in the order of the page; those of its navigation are not in the text.
            var found = text.IndexOf(anchor, at, StringComparison.Ordinal);
            if (found < 0)
                continue;
            at = found + anchor.Length;
            Array.Fill(isTaken, true, found, anchor.Length);
        }

        var start = 0;
        for (var i = 0; i <= text.Length && _sentences.Count < MostSentences; i++)
        {
            if (i < text.Length && !ends[i] && !Sentences.IsEnd(text, i))
                continue;
            var end = i < text.Length && !ends[i] ? i + 1 : i;
            if (end > start)
                Add(text, start, end, isTaken);
            start = end;
        }
    }

    /// <returns>Stems of words to begin with: words by which people ask and words that only join others have none, so that no link is made of them alone.</returns>
    /// <param name="language">Two letters, ISO 639-1.</param>
    public static Dictionary<string, string> StemsFor(string language)
    {
        var stems = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var word in LanguageWords.Of(language).Questions.All.Concat(FunctionWords.Words(language)).SelectMany(phrase => phrase.Split(' ')))
            stems[word.ToLowerInvariant()] = "";
        return stems;
    }

    /// <param name="keywords">Stems of the target's keywords, what matters most first.</param>
    /// <param name="phrases">The same keywords as they are written, for languages without spaces.</param>
    /// <returns>The passage with the longest match; where there is none the sentence that comes closest, without words; null where none comes close.</returns>
    public LinkPassage? Find(IReadOnlyList<IReadOnlyList<string>> keywords, IReadOnlyList<string> phrases)
    {
        var sets = keywords.Select(k => k.ToHashSet(StringComparer.Ordinal)).ToList();
        (Sentence Sentence, int First, int Last, int Length, int Keyword)? best = null;
        (Sentence Sentence, int Stems)? close = null;
        foreach (var sentence in _sentences)
        {
            for (var k = 0; k < sets.Count; k++)
            {
                if (sets[k].Count == 0)
                    continue;
                var (first, last, length) = LongestRun(sentence, sets[k]);
                if (length > 0 && (length > 1 || sets[k].Count == 1) && (best is not { } b || length > b.Length || (length == b.Length && k < b.Keyword)))
                    best = (sentence, first, last, length, k);
            }

            if (sets.Count > 0 && sentence.Words.Count(w => sets[0].Contains(w.Stem)) is var stems and > 0 && (close is not { } c || stems > c.Stems))
                close = (sentence, stems);
        }

        if (best is { } match)
        {
            var (from, to) = (match.Sentence.Words[match.First].Start, match.Sentence.Words[match.Last]);
            return Shown(match.Sentence.Text, from, match.Sentence.Text[from..(to.Start + to.Length)]);
        }

        foreach (var sentence in _sentences)
        {
            foreach (var phrase in phrases.Where(p => p.Any(c => c > '\u0E00')))
            {
                if (sentence.Text.IndexOf(phrase, StringComparison.OrdinalIgnoreCase) is var at and >= 0)
                    return Shown(sentence.Text, at, sentence.Text.Substring(at, phrase.Length));
            }
        }

        return close is { } near ? Shown(near.Sentence.Text, 0, "") : null;
    }

    /// <summary>The shortest stretch of words that has most of the wanted stems, with nothing but words without a stem between them.</summary>
    private static (int First, int Last, int Length) LongestRun(Sentence sentence, HashSet<string> wanted)
    {
        var best = (First: 0, Last: 0, Length: 0);
        var words = sentence.Words;
        for (var i = 0; i < words.Count; i++)
        {
            if (words[i].IsTaken || !wanted.Contains(words[i].Stem))
                continue;
            var seen = new HashSet<string>(StringComparer.Ordinal);
            for (var j = i; j < words.Count; j++)
            {
                var word = words[j];
                if (word.IsTaken || (word.Stem.Length > 0 && !wanted.Contains(word.Stem)))
                    break;
                if (word.Stem.Length == 0 || !seen.Add(word.Stem))
                    continue;
                if (seen.Count > best.Length || (seen.Count == best.Length && j - i < best.Last - best.First))
                    best = (i, j, seen.Count);
            }
        }

        return best;
    }

    private void Add(string text, int start, int end, bool[] isTaken)
    {
        var sentence = text[start..end];
        var words = new List<Word>();
        foreach (var match in Words().EnumerateMatches(sentence))
            words.Add(new Word(match.Index, match.Length, StemOf(sentence.Substring(match.Index, match.Length)), isTaken[start + match.Index]));
        if (words.Any(w => !w.IsTaken))
            _sentences.Add(new Sentence(sentence, words));
    }

    private string StemOf(string word)
    {
        var lower = word.ToLowerInvariant();
        if (!_stems.TryGetValue(lower, out var stem))
            _stems[lower] = stem = _analysis.Stems(lower) is [var first, ..] ? first : "";
        return stem;
    }

    private static LinkPassage Shown(string sentence, int start, string words)
    {
        var trimmed = sentence.TrimStart();
        start = Math.Max(0, start - (sentence.Length - trimmed.Length));
        trimmed = trimmed.TrimEnd();
        if (trimmed.Length <= LongestSentence)
            return new LinkPassage(trimmed, start, words);
        var from = Math.Clamp(start - ((LongestSentence - words.Length) / 2), 0, trimmed.Length - LongestSentence);
        return new LinkPassage(trimmed.Substring(from, LongestSentence), start - from, words);
    }

    private sealed record Sentence(string Text, List<Word> Words);

    private readonly record struct Word(int Start, int Length, string Stem, bool IsTaken);

    [GeneratedRegex(@"[\p{L}\p{M}\p{N}]+(?:['’\-][\p{L}\p{M}\p{N}]+)*")]
    private static partial Regex Words();
}
