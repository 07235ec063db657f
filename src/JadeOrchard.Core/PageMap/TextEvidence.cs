using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.PageMap;

/// <summary>How far a page's own words are about a cluster.</summary>
/// <remarks>
/// BM25F (Robertson and Zaragoza, "The Probabilistic Relevance Framework: BM25 and Beyond", 2009, section 3.6): term
/// frequencies are summed over the fields with their weights and length normalization before they saturate. The
/// query is the cluster's stems, each with the share of the demand that uses it. The score is divided by that of the
/// best page of the site, or of a model page that has each term once in title, H1 and URL, whichever is higher:
/// divided by the best page alone, a subject that nobody on the site writes about would have a page of strength 1.
/// For the same reason it is multiplied by the coverage: the share of the query, by importance, that the page mentions
/// at all. A page with one common word of three says little about the subject.
/// Field weights, k1 and b are common practice.
/// </remarks>
public sealed class TextEvidence
{
    private const double K1 = 1.2;
    private const double B = 0.75;
    private static readonly double[] FieldWeights = [3, 2.5, 2, 1.5, 1];
    private static readonly double ModelFrequency = FieldWeights[0] + FieldWeights[1] + FieldWeights[2];

    private readonly Dictionary<string, List<(int Page, double Frequency)>> _postings = new(StringComparer.Ordinal);
    private readonly bool[] _known;
    private readonly double[] _scores;
    private readonly double[] _covered;
    private readonly List<int> _touched = [];

    /// <param name="pages">All pages of the site.</param>
    /// <param name="analysis">For the language of the project.</param>
    public TextEvidence(IReadOnlyList<SitePage> pages, TextAnalysis analysis)
    {
        _known = new bool[pages.Count];
        _scores = new double[pages.Count];
        _covered = new double[pages.Count];
        var fields = new IReadOnlyList<string>[pages.Count][];
        var lengths = new double[FieldWeights.Length];
        for (var p = 0; p < pages.Count; p++)
        {
            var page = pages[p];
            _known[p] = page.Title is not null || page.H1 is not null || page.Description is not null || page.H2 is not null;
            fields[p] =
            [
                analysis.Stems(page.Title), analysis.Stems(page.H1), analysis.Stems(PathWords(page.Url)),
                analysis.Stems(page.H2), analysis.Stems(page.Description),
            ];
            for (var f = 0; f < lengths.Length; f++)
                lengths[f] += fields[p][f].Count;
        }

        for (var p = 0; p < pages.Count; p++)
        {
            var frequencies = new Dictionary<string, double>(StringComparer.Ordinal);
            for (var f = 0; f < FieldWeights.Length; f++)
            {
                var mean = lengths[f] / pages.Count;
                foreach (var stem in fields[p][f])
                {
                    var normalized = FieldWeights[f] / (1 - B + (B * fields[p][f].Count / mean));
                    frequencies[stem] = frequencies.GetValueOrDefault(stem) + normalized;
                }
            }

            foreach (var (stem, frequency) in frequencies)
            {
                if (!_postings.TryGetValue(stem, out var postings))
                    _postings[stem] = postings = [];
                postings.Add((p, frequency));
            }
        }
    }

    /// <param name="query">Stems with their weight, see <see cref="ClusterTerms"/>.</param>
    /// <param name="pages">Gets, in the place of what it held, each page with a term of the query: 0 to 1.</param>
    /// <remarks>The sums are kept in arrays of this instance (bench/run), so one thread at a time may ask.</remarks>
    public void Of(IReadOnlyDictionary<string, double> query, List<(int Page, double Share)> pages)
    {
        pages.Clear();
        _touched.Clear();
        double model = 0, total = 0;
        foreach (var (stem, weight) in query.OrderBy(q => q.Key, StringComparer.Ordinal))
        {
            var postings = _postings.GetValueOrDefault(stem);
            var importance = weight * InverseDocumentFrequency(postings?.Count ?? 0);
            model += importance * Saturated(ModelFrequency);
            total += importance;
            foreach (var (page, frequency) in postings ?? [])
            {
                if (_covered[page] == 0)
                    _touched.Add(page);
                _scores[page] += importance * Saturated(frequency);
                _covered[page] += importance;
            }
        }

        var best = model;
        foreach (var page in _touched)
            best = Math.Max(best, _scores[page]);
        foreach (var page in _touched)
        {
            pages.Add((page, _scores[page] / best * (_covered[page] / total)));
            _scores[page] = 0;
            _covered[page] = 0;
        }
    }

    /// <summary>False where nothing is known of a page but its URL, so that its text is missing, not bad.</summary>
    public bool IsKnown(int page) => _known[page];

    /// <summary>The words of a URL's path, which take part as a field of their own.</summary>
    public static string PathWords(string url)
    {
        var text = url;
        var scheme = text.IndexOf("://", StringComparison.Ordinal);
        if (scheme >= 0)
            text = text[(scheme + 3)..];
        var slash = text.IndexOf('/', StringComparison.Ordinal);
        if (slash < 0)
            return "";
        var end = text.AsSpan().IndexOfAny('?', '#');
        text = end < slash ? text[slash..] : text[slash..end];
        return string.Join(' ', Uri.UnescapeDataString(text).Split(['/', '-', '_', '.', '+'], StringSplitOptions.RemoveEmptyEntries));
    }

    private double InverseDocumentFrequency(int pagesWithTerm) =>
        Math.Log(1 + ((_known.Length - pagesWithTerm + 0.5) / (pagesWithTerm + 0.5)));

    private static double Saturated(double frequency) => frequency / (K1 + frequency);
}
