using System.Collections.Immutable;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.PageMap;

/// <summary>The words of the site's pages as stems, as far as some keyword has them, by page and by stem.</summary>
/// <remarks>
/// Title, H1, address, further headings and body are fields of their own with weights (common practice, from memory). Occurrences saturate by k1 times
/// the mean weight, so that one in an average field counts as one in a text without fields.
/// About 4 bytes for each word of the pages' bodies and 8 for each stem of a page. Not changed once it is made, so that several threads may ask.
/// </remarks>
public sealed class SiteText
{
    /// <summary>Words of a body that stand close together: about two sentences.</summary>
    public const int Passage = 40;

    /// <summary>Languages that write words together.</summary>
    private static readonly HashSet<string> Compounds = ["de", "nl", "sv", "da", "no", "nb", "nn", "fi", "hu"];

    private static readonly string[] Joints = ["", "s", "n", "en", "es", "e"];

    private const int ShortestPart = 4;

    /// <summary>Words of a run by which texts are compared (common practice).</summary>
    private const int ShingleWords = 5;

    /// <summary>Words of the shortest text that is compared with others.</summary>
    private const int FewestWords = 20;

    private static readonly double[] Weights = [3, 2.5, 2, 1.5, 0.5];

    /// <summary>The number of fields, from the first, that say what a page is about: title, H1, address.</summary>
    private const int Naming = 3;

    private readonly Dictionary<string, int> _stems = new(StringComparer.Ordinal);
    private readonly int[][] _ofKeyword;
    private readonly bool[] _isQuestionWord;
    private readonly bool[] _isQualifier;
    private readonly bool[] _isKnown;
    private readonly bool[] _isRead;
    private readonly uint[]?[] _signatures;
    private readonly int[][] _ofPage;
    private readonly int[][] _named;
    private readonly int[] _namedBy;
    private readonly int[][] _naming;
    private readonly float[] _mostSaturated;
    private readonly double[] _namingImportance;
    private readonly int[][][] _passages;
    private readonly List<(int Page, float Saturated)>[] _postings;

    /// <summary>The same from bodies in a list.</summary>
    /// <param name="pages">All pages of the site.</param>
    /// <param name="bodies">For each page the stems of its main text in order, separated by spaces; null where it was not read.</param>
    /// <param name="keywords">The keywords whose words count.</param>
    /// <param name="analysis">For the language of the project.</param>
    /// <param name="language">Two letters, ISO 639-1.</param>
    public SiteText(IReadOnlyList<SitePage> pages, IReadOnlyList<string?> bodies, IReadOnlyList<Keyword> keywords, TextAnalysis analysis, string language)
        : this(pages, bodies.Index().Where(b => b.Item is not null).Select(b => (b.Index, b.Item!)), keywords, analysis, language)
    {
    }

    /// <param name="pages">All pages of the site.</param>
    /// <param name="bodies">The stems of the main texts that were read, in order and separated by spaces, with the index of the page; only one is held at a time.</param>
    /// <param name="keywords">The keywords whose words count.</param>
    /// <param name="analysis">For the language of the project.</param>
    /// <param name="language">Two letters, ISO 639-1.</param>
    public SiteText(IReadOnlyList<SitePage> pages, IEnumerable<(int Page, string Stems)> bodies, IReadOnlyList<Keyword> keywords, TextAnalysis analysis, string language)
    {
        _ofKeyword = new int[keywords.Count][];
        var stems = new IReadOnlyList<string>[keywords.Count];
        Parallel.For(0, keywords.Count, k => stems[k] = [.. analysis.Stems(keywords[k].NormalForm).Distinct(StringComparer.Ordinal)]);
        for (var k = 0; k < keywords.Count; k++)
            _ofKeyword[k] = [.. stems[k].Select(Number)];
        if (Compounds.Contains(language))
        {
            for (var k = 0; k < keywords.Count; k++)
                _ofKeyword[k] = [.. _ofKeyword[k].Zip(stems[k]).SelectMany(s => Parts(s.Second) is { Length: > 0 } parts ? parts : [s.First]).Distinct()];
        }

        var asking = LanguageWords.Of(language).Questions.All.Concat(FunctionWords.Words(language)).SelectMany(analysis.Stems).ToHashSet(StringComparer.Ordinal);
        _isQualifier = new bool[_stems.Count];
        foreach (var stem in FunctionWords.PureQualifiers.Concat(FunctionWords.Words(language)).SelectMany(analysis.Stems))
        {
            if (_stems.TryGetValue(stem, out var number))
                _isQualifier[number] = true;
        }

        _isQuestionWord = [.. _stems.OrderBy(s => s.Value).Select(s => asking.Contains(s.Key))];
        _isKnown = new bool[pages.Count];
        _isRead = new bool[pages.Count];
        _signatures = new uint[pages.Count][];
        _ofPage = new int[pages.Count][];
        _named = new int[pages.Count][];
        _passages = new int[pages.Count][][];
        _postings = [.. _stems.Select(_ => new List<(int, float)>())];

        var words = new int[pages.Count][];
        foreach (var (page, text) in bodies)
            (words[page], _isRead[page], _signatures[page]) = (Words(text), true, Signature(text));
        var fields = new int[pages.Count][][];
        Parallel.For(0, pages.Count, p =>
        {
            var page = pages[p];
            int[] description = Numbers(analysis.Stems(page.Description)), body = words[p] ?? [];
            int[][] headings = [.. new[] { page.H2, page.H3 }.SelectMany(h => (h ?? "").Split(" | ")).Select(h => Numbers(analysis.Stems(h))).Where(h => h.Length > 0)];
            int[] title = Numbers(analysis.Stems(page.Title)), h1 = Numbers(analysis.Stems(page.H1));
            _isKnown[p] = _isRead[p] || page.Title is not null || page.H1 is not null || page.Description is not null || page.H2 is not null;
            _passages[p] = [title, h1, .. headings, description, body];
            fields[p] = [title, h1, Numbers(analysis.Stems(TextEvidence.PathWords(page.Url))), [.. headings.SelectMany(h => h)], [.. description, .. body]];
            _named[p] = [.. fields[p][..Naming].SelectMany(f => f).Where(stem => stem >= 0).Distinct().Order()];
        });
        double[] lengths = [.. Enumerable.Range(0, Weights.Length).Select(f => fields.Sum(of => (double)of[f].Length))];
        int[] having = [.. Enumerable.Range(0, Weights.Length).Select(f => fields.Count(of => of[f].Length > 0))];
        _namedBy = new int[_stems.Count];
        foreach (var stem in _named.SelectMany(n => n))
            _namedBy[stem]++;
        _naming = [.. _namedBy.Select(n => new int[n])];
        var filled = new int[_stems.Count];
        for (var p = 0; p < pages.Count; p++)
        {
            foreach (var stem in _named[p])
                _naming[stem][filled[stem]++] = p;
        }

        var frequencies = new double[_stems.Count];
        for (var p = 0; p < pages.Count; p++)
        {
            var met = new List<int>();
            for (var f = 0; f < Weights.Length; f++)
            {
                if (fields[p][f].Length == 0)
                    continue;
                var occurrence = Bm25F.Occurrence(Weights[f], fields[p][f].Length, lengths[f] / having[f]);
                foreach (var stem in fields[p][f])
                {
                    if (stem < 0)
                        continue;
                    if (frequencies[stem] == 0)
                        met.Add(stem);
                    frequencies[stem] += occurrence;
                }
            }

            met.Sort();
            _ofPage[p] = [.. met];
            foreach (var stem in met)
            {
                _postings[stem].Add((p, (float)Bm25F.Saturated(frequencies[stem], K1)));
                frequencies[stem] = 0;
            }
        }

        _namingImportance = [.. _namedBy.Select(n => Bm25F.InverseDocumentFrequency(pages.Count, n))];
        _mostSaturated = [.. _postings.Select(p => p.Count == 0 ? 0 : p.Max(x => x.Item2))];

        int Number(string stem) => _stems.TryGetValue(stem, out var known) ? known : _stems[stem] = _stems.Count;
        int[] Numbers(IReadOnlyList<string> stems) => [.. stems.SelectMany(s => _stems.TryGetValue(s, out var known) && Parts(s).Length == 0 ? [known] : Compounds.Contains(language) && Parts(s) is { Length: > 0 } parts ? parts : new[] { -1 })];
        int[] Words(string text)
        {
            if (text.Length == 0)
                return [];
            var numbers = new List<int>();
            var lookup = _stems.GetAlternateLookup<ReadOnlySpan<char>>();
            foreach (var range in text.AsSpan().Split(' '))
            {
                if (Compounds.Contains(language) && Parts(text[range]) is { Length: > 0 } parts)
                    numbers.AddRange(parts);
                else
                    numbers.Add(lookup.TryGetValue(text.AsSpan(range), out var number) ? number : -1);
            }

            return [.. numbers];
        }

        // "kajakpaddel" is what "kajak paddel" is, where both are words of keywords; an s or n may join them.
        int[] Parts(string stem)
        {
            if (!Compounds.Contains(language) || stem.Length < 2 * ShortestPart)
                return [];
            for (var cut = ShortestPart; cut <= stem.Length - ShortestPart; cut++)
            {
                if (!_stems.TryGetValue(stem[cut..], out var second))
                    continue;
                foreach (var joint in Joints)
                {
                    if (stem.AsSpan(0, cut).EndsWith(joint, StringComparison.Ordinal) && cut - joint.Length >= ShortestPart && _stems.TryGetValue(stem[..(cut - joint.Length)], out var first))
                        return [first, second];
                }
            }

            return [];
        }
    }

    private static uint[]? Signature(string text)
    {
        var (signature, run, count) = (new uint[MinHash.Size], new ulong[ShingleWords], 0);
        Array.Fill(signature, uint.MaxValue);
        foreach (var range in text.AsSpan().Split(' '))
        {
            var word = MemoryMarshal.AsBytes(text.AsSpan(range));
            if (word.IsEmpty)
                continue;
            run[count++ % ShingleWords] = System.IO.Hashing.XxHash3.HashToUInt64(word);
            if (count < ShingleWords)
                continue;
            ulong shingle = 0;
            for (var i = 0; i < ShingleWords; i++)
                shingle = MinHash.Mix(shingle ^ run[(count + i) % ShingleWords]);
            MinHash.Add(signature, shingle);
        }

        return count < FewestWords ? null : signature;
    }

    /// <summary>Occurrences saturate by k1 times the weight of an average field.</summary>
    private static double K1 { get; } = Bm25F.K1 * Weights.Average();

    /// <summary>What a word counts, saturated, that stands once in title, H1 and address, each of mean length.</summary>
    internal static double Model { get; } = Bm25F.Saturated(Weights[..Naming].Sum(), K1);

    public int PageCount => _isKnown.Length;

    /// <summary>False where nothing is known of a page but its URL, so that its text is missing, not bad.</summary>
    public bool IsKnown(int page) => _isKnown[page];

    /// <summary>True where the main text of a page was read.</summary>
    public bool IsRead(int page) => _isRead[page];

    /// <returns>The <see cref="MinHash"/> of all runs of five stems of a page's main text; null where it was not read or is too short for its runs to mean anything.</returns>
    public uint[]? SignatureOf(int page) => _signatures[page];

    internal int KeywordCount => _ofKeyword.Length;

    /// <returns>The stems of a keyword, each once, as numbers.</returns>
    public IReadOnlyList<int> StemsOf(int keyword) => _ofKeyword[keyword];

    /// <returns>How much a stem tells pages apart: the mean of what it does among all words of pages, and among titles, H1s and addresses.</returns>
    internal double Importance(int stem) =>
        (Bm25F.InverseDocumentFrequency(PageCount, _postings[stem].Count) + _namingImportance[stem]) / 2;

    /// <summary>The stems of a query that count: one that no page has is ignored as long as another tells pages apart; else it is what the site doesn't write about.</summary>
    /// <param name="query">Stems with their weight.</param>
    internal IEnumerable<KeyValuePair<int, double>> Counting(IReadOnlyDictionary<int, double> query)
    {
        var tellsApart = query.Any(q => _postings[q.Key].Count is > 0 and var with && with * 2 <= PageCount);
        return query.Where(q => !tellsApart || _postings[q.Key].Count > 0);
    }

    /// <returns>The pages with a stem, and how much it counts in each, saturated.</returns>
    internal ReadOnlySpan<(int Page, float Saturated)> PagesWith(int stem) => CollectionsMarshal.AsSpan(_postings[stem]);

    /// <returns>How much a stem counts in a page, saturated; 0 where the page does not have it.</returns>
    internal double Saturated(int stem, int page)
    {
        var postings = PagesWith(stem);
        int from = 0, to = postings.Length;
        while (from < to)
        {
            var middle = (from + to) >> 1;
            if (postings[middle].Page < page)
                from = middle + 1;
            else
                to = middle;
        }

        return from < postings.Length && postings[from].Page == page ? postings[from].Saturated : 0;
    }

    /// <returns>The most that a stem counts in any page, saturated.</returns>
    internal double MostSaturated(int stem) => _mostSaturated[stem];

    /// <summary>The pages that say by a share or more that they are about something, see <see cref="Named(int, IReadOnlyDictionary{int, double})"/>.</summary>
    /// <param name="query">Stems with their weight, see <see cref="ClusterTerms"/>.</param>
    /// <param name="least">Above 0.</param>
    internal IEnumerable<int> NamedFor(IReadOnlyDictionary<int, double> query, double least)
    {
        var terms = TermsOf(query);
        terms.Sort((a, b) => a.Importance != b.Importance ? a.Importance.CompareTo(b.Importance) : a.Stem.CompareTo(b.Stem));
        var (enough, without, first) = (terms.Sum(t => t.Importance) * least * (1 - 1e-9), 0.0, 0);
        // A page with none but these has too little.
        while (first < terms.Count && without + terms[first].Importance < enough)
            without += terms[first++].Importance;
        var met = new HashSet<int>();
        for (var i = terms.Count - 1; i >= first; i--)
        {
            foreach (var page in _naming[terms[i].Stem])
            {
                if (met.Add(page) && Named(page, terms) >= least)
                    yield return page;
            }
        }
    }

    /// <summary>True where every word of a keyword stands somewhere on a page; pronouns, helping verbs and words like "near me" are not asked for beside others.</summary>
    public bool Mentions(int page, int keyword)
    {
        var of = _ofKeyword[keyword];
        var isAsked = Array.Exists(of, stem => !_isQualifier[stem]);
        foreach (var stem in of)
        {
            if (Array.BinarySearch(_ofPage[page], stem) < 0 && !(isAsked && _isQualifier[stem]))
                return false;
        }

        return true;
    }

    /// <summary>How far a page says in its title, H1 and address that it is about something.</summary>
    /// <param name="page">The page.</param>
    /// <param name="query">Stems with their weight, see <see cref="ClusterTerms"/>.</param>
    /// <returns>The share of the query, by importance among such words, that stands there: 0 to 1.</returns>
    public double Named(int page, IReadOnlyDictionary<int, double> query) => Named(page, TermsOf(query));

    private double Named(int page, List<(int Stem, double Importance)> terms)
    {
        double named = 0, total = 0;
        foreach (var (stem, importance) in terms)
        {
            total += importance;
            if (Array.BinarySearch(_named[page], stem) >= 0)
                named += importance;
        }

        return total == 0 ? 0 : named / total;
    }

    /// <summary>Words that no page has count in full: a subject that nobody on the site writes about has no page.</summary>
    private List<(int Stem, double Importance)> TermsOf(IReadOnlyDictionary<int, double> query) => [.. query.Select(q => (q.Key, q.Value * _namingImportance[q.Key]))];

    /// <returns>The words of a keyword, as it has them, that stand nowhere on a page.</returns>
    public ImmutableArray<string> Missing(int page, Keyword keyword, TextAnalysis analysis) =>
    [
        .. KeywordWords.Split(KeywordWords.Padded(keyword.NormalForm)).Where(word => analysis.Stems(word)
            .Any(stem => !_stems.TryGetValue(stem, out var number) || Array.BinarySearch(_ofPage[page], number) < 0)),
    ];

    /// <summary>
    /// The first page that answers a question: in one of its headings, or within <see cref="Passage"/> words of its text, all the words
    /// stand that say what is asked, question words left out. -1 where there is none.
    /// </summary>
    public int AnsweredBy(int keyword)
    {
        var asked = _ofKeyword[keyword].Where(s => !_isQuestionWord[s]).ToArray();
        if (asked.Length == 0)
            return 0;
        var rarest = asked.MinBy(s => _postings[s].Count);
        foreach (var (page, _) in _postings[rarest])
        {
            if (Array.TrueForAll(asked, s => Array.BinarySearch(_ofPage[page], s) >= 0) && _passages[page].Any(p => IsTogether(p, asked)))
                return page;
        }

        return -1;
    }

    private static bool IsTogether(int[] text, int[] asked)
    {
        var last = new int[asked.Length];
        Array.Fill(last, int.MinValue);
        for (var i = 0; i < text.Length; i++)
        {
            var at = text[i] < 0 ? -1 : Array.IndexOf(asked, text[i]);
            if (at < 0)
                continue;
            last[at] = i;
            if (last.Min() > i - Passage)
                return true;
        }

        return false;
    }
}
