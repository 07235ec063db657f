using System.Buffers;
using System.Collections.Immutable;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Briefs;

/// <summary>What ranking pages have in common.</summary>
/// <param name="Text">In the form in which most of these pages have it.</param>
/// <param name="Words">How many words, 1 to <see cref="Terms.MostWords"/>.</param>
/// <param name="Pages">Ranking pages that have it.</param>
/// <param name="Count">How often these have it, all together.</param>
/// <param name="Elsewhere">Other pages that have it.</param>
/// <param name="G2">How much more frequent it is on them than elsewhere, see <see cref="LogLikelihood"/>.</param>
/// <param name="CValue">How much it stands by itself, see <see cref="Briefs.CValue"/>, by pages.</param>
public sealed record Term(string Text, int Words, int Pages, int Count, int Elsewhere, double G2, double CValue);

/// <summary>Finds the terms of ranking pages among all pages that were read (DESIGN.md 4.13).</summary>
/// <remarks>
/// Words are one where their stems are. A phrase goes over no stop word, no sentence end and no other mark but a hyphen or an apostrophe. All is counted by page, so that one long
/// page does not decide. Sentences on most pages of one host are its furniture. Memory: a number for each word; time: the words of all pages times <see cref="MostWords"/>.
/// </remarks>
public sealed class Terms
{
    /// <summary>The longest phrase, in words.</summary>
    public const int MostWords = 4;

    /// <summary>Ranking pages that must have a term.</summary>
    public const int FewestPages = 3;

    /// <summary>Terms of a brief.</summary>
    public const int UsualTop = 12;

    /// <summary>A host with fewer pages shows no furniture.</summary>
    private const int FewestOfHost = 3;

    private const int Break = -1;

    /// <summary>What may stand between the words of a phrase.</summary>
    private static readonly SearchValues<char> Joints = SearchValues.Create(" -\u2010\u2011'\u2019\u00A0");

    private readonly TextAnalysis _analysis;
    private readonly HashSet<string> _functionWords;
    private readonly Dictionary<string, int> _ids = new(StringComparer.Ordinal);
    private readonly List<bool> _isWord = [];
    private readonly ImmutableArray<Read> _pages;

    /// <param name="pages">All pages that were read, those of all clusters.</param>
    /// <param name="analysis">For the language; used as long as this is.</param>
    /// <param name="language">Two letters, ISO 639-1.</param>
    public Terms(IReadOnlyList<PageText> pages, TextAnalysis analysis, string language)
    {
        _analysis = analysis;
        _functionWords = FunctionWords.Words(language).Concat(LanguageWords.Has(language) ? LanguageWords.Of(language).Questions.All : []).Where(w => !w.Contains(' ', StringComparison.Ordinal))
            .Select(w => w.ToLowerInvariant()).ToHashSet(StringComparer.Ordinal);
        var sentences = pages.Select(p => SentencesOf(p).ToList()).ToList();
        var furniture = Furniture(pages, sentences);
        _pages = [.. pages.Select((p, i) => ReadPage(sentences[i], furniture.GetValueOrDefault(HostOf(p))))];
    }

    /// <param name="clusters">For each cluster its ranking pages, by index, and its keywords, which are no terms, nor are parts of them.</param>
    /// <param name="ignored">Phrases that are never wanted.</param>
    /// <param name="top">How many of each cluster at most.</param>
    /// <returns>The terms of each cluster, those that tell it most from the other pages first.</returns>
    public ImmutableArray<ImmutableArray<Term>> Of(IReadOnlyList<(IReadOnlyCollection<int> Pages, IReadOnlyCollection<string> Keywords)> clusters, IReadOnlyCollection<string> ignored, int top = UsualTop)
    {
        var candidates = clusters.Select(c => CandidatesOf([.. c.Pages.Distinct()])).ToList();
        var everywhere = new Dictionary<Phrase, int>();
        foreach (var candidate in candidates.SelectMany(c => c.Keys))
            everywhere[candidate] = 0;
        var onPage = new HashSet<Phrase>();
        foreach (var page in _pages)
        {
            onPage.Clear();
            foreach (var (phrase, _) in PhrasesOf(page))
            {
                if (onPage.Add(phrase))
                {
                    ref var pages = ref CollectionsMarshal.GetValueRefOrNullRef(everywhere, phrase);
                    if (!System.Runtime.CompilerServices.Unsafe.IsNullRef(ref pages))
                        pages++;
                }
            }
        }

        var unwanted = ignored.Select(PhraseOf).OfType<Phrase>().ToHashSet();
        return [.. clusters.Select((c, i) => TermsOf([.. c.Pages.Distinct()], candidates[i], everywhere, [.. unwanted, .. c.Keywords.SelectMany(k => PhrasesIn(k))], top))];
    }

    private ImmutableArray<Term> TermsOf(int[] ranking, Dictionary<Phrase, int> candidates, Dictionary<Phrase, int> everywhere, HashSet<Phrase> unwanted, int top)
    {
        var longer = new Dictionary<Phrase, (double Sum, int Count, int Most)>();
        // The longest first: of each the pages are passed on that it does not owe to a longer one.
        foreach (var (phrase, pages) in candidates.OrderByDescending(c => c.Key.Words))
        {
            var alone = Math.Max(0, pages - longer.GetValueOrDefault(phrase).Sum);
            foreach (var part in phrase.Parts().Distinct())
            {
                ref var sum = ref CollectionsMarshal.GetValueRefOrAddDefault(longer, part, out _);
                sum = (sum.Sum + alone, sum.Count + 1, Math.Max(sum.Most, pages));
            }
        }

        var kept = new List<(Phrase Phrase, int Pages, int Elsewhere, double G2, double CValue)>();
        foreach (var (phrase, pages) in candidates)
        {
            var (sum, count, most) = longer.GetValueOrDefault(phrase);
            var elsewhere = everywhere[phrase] - pages;
            // What is hardly found but within a longer one, or within longer ones, is folded into these.
            if (unwanted.Contains(phrase) || pages - most < FewestPages || CValue.Alone(pages, sum, count) < FewestPages)
                continue;
            var rest = _pages.Length - ranking.Length;
            if (rest > 0 && (double)pages / ranking.Length <= (double)elsewhere / rest)
                continue;
            kept.Add((phrase, pages, elsewhere, LogLikelihood.G2(pages, ranking.Length, elsewhere, rest), CValue.Of(phrase.Words, pages, sum, count)));
        }

        // Written forms are looked up only for those that can be among the first.
        var first = kept.OrderByDescending(t => t.G2).ThenByDescending(t => t.CValue).ThenByDescending(t => t.Pages).Take(top * 2).ToList();
        var forms = FormsOf(ranking, [.. first.Select(t => t.Phrase)]);
        return
        [
            .. first.Select(t => new Term(forms[t.Phrase].Text, t.Phrase.Words, t.Pages, forms[t.Phrase].Count, t.Elsewhere, t.G2, t.CValue))
                .OrderByDescending(t => t.G2).ThenByDescending(t => t.CValue).ThenByDescending(t => t.Pages).ThenBy(t => t.Text, StringComparer.Ordinal).Take(top),
        ];
    }

    /// <returns>Phrases on enough of some pages, with the number of these.</returns>
    private Dictionary<Phrase, int> CandidatesOf(int[] ranking)
    {
        var counts = new Dictionary<Phrase, int>();
        var onPage = new HashSet<Phrase>();
        foreach (var page in ranking)
        {
            onPage.Clear();
            foreach (var (phrase, _) in PhrasesOf(_pages[page]))
            {
                if (onPage.Add(phrase))
                    CollectionsMarshal.GetValueRefOrAddDefault(counts, phrase, out _)++;
            }
        }

        return counts.Where(c => c.Value >= FewestPages).ToDictionary();
    }

    /// <returns>For each phrase the form that most pages have, and how often it is there in any form.</returns>
    private Dictionary<Phrase, (string Text, int Count)> FormsOf(int[] ranking, HashSet<Phrase> wanted)
    {
        var forms = new Dictionary<Phrase, Dictionary<string, int>>();
        foreach (var page in ranking)
        {
            foreach (var (phrase, at) in PhrasesOf(_pages[page]))
            {
                if (!wanted.Contains(phrase))
                    continue;
                if (!forms.TryGetValue(phrase, out var own))
                    forms[phrase] = own = new Dictionary<string, int>(StringComparer.Ordinal);
                var text = _pages[page].Written(at, phrase.Words);
                own[text] = own.GetValueOrDefault(text) + 1;
            }
        }

        return forms.ToDictionary(f => f.Key, f => (f.Value.OrderByDescending(w => w.Value).ThenBy(w => w.Key, StringComparer.Ordinal).First().Key, f.Value.Values.Sum()));
    }

    private IEnumerable<(Phrase Phrase, int At)> PhrasesOf(Read page)
    {
        var stems = page.Stems;
        for (var i = 0; i < stems.Length; i++)
        {
            var phrase = default(Phrase);
            for (var n = 1; n <= MostWords && i + n <= stems.Length && stems[i + n - 1] != Break; n++)
            {
                phrase = phrase.With(stems[i + n - 1]);
                if (n > 1 || _isWord[stems[i]])
                    yield return (phrase, i);
            }
        }
    }

    /// <returns>All phrases that a keyword holds, with words in between that are none left out.</returns>
    private IEnumerable<Phrase> PhrasesIn(string keyword) => PhrasesOf(ReadPage([keyword], null)).Select(p => p.Phrase);

    private Phrase? PhraseOf(string text)
    {
        var phrase = default(Phrase);
        foreach (var token in _analysis.Tokens(text).Where(t => !_functionWords.Contains(text[t.Start..t.End].ToLowerInvariant())))
        {
            if (phrase.Words == MostWords || !_ids.TryGetValue(token.Stem, out var id))
                return null;
            phrase = phrase.With(id);
        }

        return phrase.Words == 0 ? null : phrase;
    }

    private Read ReadPage(IReadOnlyList<string> sentences, HashSet<string>? furniture)
    {
        var (stems, forms) = (new List<int>(), new List<string>());
        foreach (var sentence in sentences.Where(s => furniture?.Contains(s) != true))
        {
            var (last, end) = (-2, 0);
            foreach (var token in _analysis.Tokens(sentence))
            {
                var written = sentence[token.Start..token.End].ToLowerInvariant();
                if (_functionWords.Contains(written))
                    continue;
                if (token.Position != last + 1 || !IsJoined(sentence.AsSpan(Math.Min(end, token.Start)..token.Start)))
                    Add(Break, "");
                Add(IdOf(token.Stem), written);
                (last, end) = (token.Position, token.End);
            }

            Add(Break, "");
        }

        return new Read([.. stems], [.. forms]);

        void Add(int stem, string written)
        {
            stems.Add(stem);
            forms.Add(written);
        }
    }

    private int IdOf(string stem)
    {
        ref var id = ref CollectionsMarshal.GetValueRefOrAddDefault(_ids, stem, out var isKnown);
        if (!isKnown)
        {
            id = _isWord.Count;
            // A number or a single letter is no term, but can be part of one.
            _isWord.Add(stem.Length > 1 && stem.Any(char.IsLetter));
        }

        return id;
    }

    private static bool IsJoined(ReadOnlySpan<char> between) => between.Length == 0 || between.IndexOfAnyExcept(Joints) < 0;

    private static IEnumerable<string> SentencesOf(PageText page) =>
        new[] { page.Title }.OfType<string>().Concat(page.H1).Concat(page.H2.Select(h => h.Text)).Concat(page.Paragraphs.SelectMany(Sentences.Of));

    /// <summary>Sentences on more than half of a host's pages.</summary>
    private static Dictionary<string, HashSet<string>> Furniture(IReadOnlyList<PageText> pages, List<List<string>> sentences) => pages
        .Select((p, i) => (Host: HostOf(p), Page: i)).GroupBy(p => p.Host, StringComparer.Ordinal).Where(g => g.Key.Length > 0 && g.Count() >= FewestOfHost)
        .ToDictionary(
            g => g.Key,
            g => g.SelectMany(p => sentences[p.Page].Distinct(StringComparer.Ordinal)).CountBy(s => s, StringComparer.Ordinal).Where(s => s.Value * 2 > g.Count()).Select(s => s.Key).ToHashSet(StringComparer.Ordinal),
            StringComparer.Ordinal);

    private static string HostOf(PageText page) => Uri.TryCreate(page.Url, UriKind.Absolute, out var uri) ? uri.Host : "";

    /// <summary>A page as numbers of stems, with <see cref="Break"/> between runs, and the words as they are written.</summary>
    private readonly record struct Read(int[] Stems, string[] Forms)
    {
        public string Written(int at, int words) => string.Join(' ', Forms.AsSpan(at, words));
    }

    /// <summary>Up to four stems, numbered from 1; 0 for none.</summary>
    private readonly record struct Phrase(int A, int B, int C, int D)
    {
        public int Words => A == 0 ? 0 : B == 0 ? 1 : C == 0 ? 2 : D == 0 ? 3 : 4;

        public Phrase With(int stem) => Words switch
        {
            0 => this with { A = stem + 1 },
            1 => this with { B = stem + 1 },
            2 => this with { C = stem + 1 },
            _ => this with { D = stem + 1 },
        };

        /// <summary>The shorter phrases in it.</summary>
        public IEnumerable<Phrase> Parts()
        {
            int[] all = [A, B, C, D];
            for (var n = 1; n < Words; n++)
            {
                for (var i = 0; i + n <= Words; i++)
                    yield return new Phrase(all[i], n > 1 ? all[i + 1] : 0, n > 2 ? all[i + 2] : 0, 0);
            }
        }
    }
}
