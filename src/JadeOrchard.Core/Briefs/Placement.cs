using System.Collections.Immutable;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Briefs;

/// <summary>Where words can stand on a page.</summary>
public enum TextPlace
{
    Title,
    H1,

    /// <summary>Second and third headings.</summary>
    H2,

    /// <summary>The first <see cref="PageText.OpeningWords"/> words of the main text.</summary>
    Opening,

    /// <summary>The main text without its headings, the opening included.</summary>
    Body,

    /// <summary>The meta description.</summary>
    Description,

    Url,

    /// <summary>Descriptions of images.</summary>
    Alt,

    /// <summary>The words by which other pages link to the page.</summary>
    Anchor,
}

/// <summary>A phrase in one place.</summary>
/// <param name="Exact">It stands there as it is written, but for case, quotes and hyphens.</param>
/// <param name="Within">All its stems stand within one sentence, or 10 words.</param>
/// <param name="Count">How often, as a phrase; where it is nowhere one, in how many sentences.</param>
/// <param name="Passage">The first sentence that has it.</param>
public sealed record Placed(TextPlace Place, bool Exact, bool Within, int Count, string Passage);

/// <summary>Says where phrases appear on a page, and where they would belong (DESIGN.md 4.14).</summary>
/// <remarks>The text is read once; each phrase then takes time by the sentences that have its rarest stem. One instance may be used by one thread at a time.</remarks>
public sealed class Placement
{
    /// <summary>Words among which all stems of a phrase count as together (DESIGN.md 4.14).</summary>
    public const int Near = 10;

    // Okapi BM25 as it is commonly used (Robertson and Zaragoza, "The Probabilistic Relevance Framework: BM25 and Beyond", 2009).
    private const double Saturation = 1.2, LengthShare = 0.75;

    private readonly TextAnalysis _analysis;
    private readonly string? _language;
    private readonly List<(TextPlace Place, ImmutableArray<Sentence> Sentences, HashSet<string> Stems)> _places = [];
    private readonly ImmutableArray<Sentence> _body;

    /// <param name="page">The page or draft.</param>
    /// <param name="anchors">The words by which other pages link to it.</param>
    /// <param name="analysis">For the language of the page.</param>
    /// <param name="language">Two letters, ISO 639-1; null for any.</param>
    public Placement(PageText page, IEnumerable<string> anchors, TextAnalysis analysis, string? language)
    {
        (_analysis, _language) = (analysis, language);
        _body = [.. page.Paragraphs.SelectMany(Sentences.Of).Select(Read)];
        Add(TextPlace.Title, page.Title is null ? [] : [page.Title]);
        Add(TextPlace.H1, page.H1);
        Add(TextPlace.H2, page.H2.Select(h => h.Text));
        Add(TextPlace.Opening, Opening());
        Add(TextPlace.Body, _body);
        Add(TextPlace.Description, page.Description is null ? [] : Sentences.Of(page.Description));
        Add(TextPlace.Url, page.Url is null ? [] : [WordsOf(page.Url)]);
        Add(TextPlace.Alt, page.Alts);
        Add(TextPlace.Anchor, anchors);
    }

    /// <summary>The number of words of the main text.</summary>
    public int Words => _body.Sum(s => s.Words.Length);

    /// <returns>The places where a phrase appears, in their order; none where it appears nowhere.</returns>
    public IReadOnlyList<Placed> Of(string phrase)
    {
        var form = KeywordNormalForm.Of(phrase, _language);
        var padded = KeywordWords.Padded(form);
        if (padded.Length <= 1)
            return [];
        var hasSpaces = !HasNoSpaces(form);
        var needle = hasSpaces ? padded : padded.Trim();
        var stems = StemsOf(form);
        var placed = new List<Placed>();
        foreach (var (place, sentences, known) in _places)
        {
            // Where one of its words stands nowhere, neither does the phrase.
            if (sentences.IsEmpty || (hasSpaces && !stems.All(known.Contains)))
                continue;
            var (exact, within, passage, nearPassage) = (0, 0, (string?)null, (string?)null);
            foreach (var sentence in sentences)
            {
                var count = Occurrences(sentence.Padded, needle);
                if (count > 0)
                    passage ??= sentence.Text;
                exact += count;
                if (count > 0 || (stems.Length > 0 && stems.All(sentence.Stems.Contains)))
                {
                    nearPassage ??= sentence.Text;
                    within++;
                }
            }

            if (within == 0 && place is TextPlace.Body or TextPlace.Opening && NearIn(sentences, stems) is { } near)
                (within, nearPassage) = (1, near);
            if (within > 0)
                placed.Add(new Placed(place, exact > 0, true, exact > 0 ? exact : within, passage ?? nearPassage!));
        }

        return placed;
    }

    /// <returns>For what is missing, the sentence of the main text that comes closest; null where none has any of its stems, so that a heading of its own is what it needs.</returns>
    public string? Closest(string phrase)
    {
        var stems = StemsOf(KeywordNormalForm.Of(phrase, _language));
        if (_body.Length == 0 || stems.Length == 0)
            return null;
        var mean = _body.Average(s => s.Words.Length);
        var weights = stems.Select(stem => _body.Count(s => s.Stems.Contains(stem)) is var n ? Math.Log(1 + ((_body.Length - n + 0.5) / (n + 0.5))) : 0).ToArray();
        var (best, score) = ((string?)null, 0.0);
        // A list of links or a line of a table is no place for a sentence, as long as there are sentences.
        var hasSentences = _body.Any(IsSentence);
        foreach (var sentence in _body.Where(s => !hasSentences || IsSentence(s)))
        {
            var sum = 0.0;
            for (var i = 0; i < stems.Length; i++)
            {
                var count = sentence.Words.Count(w => w == stems[i]);
                sum += weights[i] * count * (Saturation + 1) / (count + (Saturation * (1 - LengthShare + (LengthShare * sentence.Words.Length / mean))));
            }

            if (sum > score)
                (best, score) = (sentence.Text, sum);
        }

        return best;
    }

    private static bool IsSentence(Sentence sentence) => sentence.Text[^1] is '.' or '!' or '?' or '…' or '。' or '！' or '？' or '"' or '”' or ')';

    private void Add(TextPlace place, IEnumerable<string> texts) => Add(place, [.. texts.Select(Read)]);

    private void Add(TextPlace place, ImmutableArray<Sentence> sentences) => _places.Add((place, sentences, sentences.SelectMany(s => s.Stems).ToHashSet(StringComparer.Ordinal)));

    private ImmutableArray<Sentence> Opening()
    {
        var opening = ImmutableArray.CreateBuilder<Sentence>();
        var left = PageText.OpeningWords;
        foreach (var sentence in _body)
        {
            if (left <= 0)
                break;
            // The last sentence may be cut.
            opening.Add(sentence.Words.Length <= left ? sentence : Cut(sentence, left));
            left -= sentence.Words.Length;
        }

        return opening.ToImmutable();
    }

    private static Sentence Cut(Sentence sentence, int words)
    {
        var kept = KeywordWords.Split(sentence.Padded).Take(words).ToArray();
        var stems = sentence.Words.AsSpan(0, Math.Min(words, sentence.Words.Length)).ToArray();
        return new Sentence(sentence.Text, $" {string.Join(' ', kept)} ", stems, stems.Where(s => s.Length > 0).ToHashSet(StringComparer.Ordinal));
    }

    private Sentence Read(string text)
    {
        var form = KeywordNormalForm.Of(text, _language);
        var padded = KeywordWords.Padded(form);
        string[] words = [.. KeywordWords.Split(padded).Select(StemOf)];
        var stems = words.Where(s => s.Length > 0).ToHashSet(StringComparer.Ordinal);
        // Without spaces between words, the analysis knows better than the spaces what is a word.
        if (HasNoSpaces(form))
            stems.UnionWith(_analysis.Stems(form));
        return new Sentence(text, padded, words, stems);
    }

    private string[] StemsOf(string form) =>
        [.. (HasNoSpaces(form) ? _analysis.Stems(form) : KeywordWords.Split(KeywordWords.Padded(form)).Select(StemOf)).Where(s => s.Length > 0).Distinct(StringComparer.Ordinal)];

    private string StemOf(string word) => _analysis.StemOf(word);

    /// <returns>The sentence in which the stems begin to stand within <see cref="Near"/> words, over the end of a sentence; null where they do not.</returns>
    private static string? NearIn(ImmutableArray<Sentence> sentences, string[] stems)
    {
        if (stems.Length < 2)
            return null;
        var last = new Dictionary<string, int>(StringComparer.Ordinal);
        var wanted = stems.ToHashSet(StringComparer.Ordinal);
        var (at, starts) = (0, new List<int>());
        foreach (var sentence in sentences)
        {
            starts.Add(at);
            foreach (var word in sentence.Words)
            {
                if (wanted.Contains(word))
                {
                    last[word] = at;
                    if (last.Count == stems.Length && last.Values.Min() is var first && at - first < Near)
                        return sentences[starts.FindLastIndex(s => s <= first)].Text;
                }

                at++;
            }
        }

        return null;
    }

    private static int Occurrences(string padded, string needle)
    {
        var (count, at) = (0, 0);
        while ((at = padded.IndexOf(needle, at, StringComparison.Ordinal)) >= 0)
        {
            count++;
            // The space behind a phrase is that before the next.
            at += Math.Max(1, needle.Length - 1);
        }

        return count;
    }

    /// <summary>The words of an address: its path, without a scheme and host.</summary>
    private static string WordsOf(string url)
    {
        var path = Uri.TryCreate(url, UriKind.Absolute, out var uri) ? Uri.UnescapeDataString(uri.AbsolutePath) : url;
        return path.Replace('_', ' ').Replace('/', ' ').Replace('-', ' ').Replace('+', ' ');
    }

    private static bool HasNoSpaces(string text) => PhraseMatcher.HasNoSpaces(text);

    /// <param name="Text">As it stands.</param>
    /// <param name="Padded">Its words, see <see cref="KeywordWords.Padded"/>.</param>
    /// <param name="Words">The stem of each word; empty for stop words.</param>
    private sealed record Sentence(string Text, string Padded, string[] Words, HashSet<string> Stems);
}
