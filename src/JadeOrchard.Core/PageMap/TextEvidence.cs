using System.Runtime.InteropServices;

namespace JadeOrchard.Core.PageMap;

/// <summary>How far a page's own words are about a cluster.</summary>
/// <remarks>
/// <see cref="Bm25F"/> over title, H1, address, headings and body. The query is the cluster's stems, each with the share of the demand that uses
/// it. The score is divided by that of the best page of the site, or of a model page that has each stem once in title, H1
/// and address, whichever is higher: divided by the best page alone, a subject that nobody on the site writes about would
/// have a page of strength 1. For the same reason it is multiplied by the coverage: the share of the query, by importance,
/// that the page mentions at all. A page with one common word of three says little about the subject.
/// How much a stem says follows from how few pages have it, and from how few are named by it: on a large site every page mentions the words of the trade.
/// A stem that is on nearly every page says next to nothing and is passed over, and so is one that no page has where the others tell pages apart. A cluster is asked keyword by keyword: the mean of
/// their scores by volume, but at least most of the primary's own, so that a synonym which the site never uses cannot make its page vanish.
/// One thread at a time may ask an instance: it keeps its sums (bench/run).
/// </remarks>
public sealed class TextEvidence(SiteText text)
{
    /// <summary>The part of the query's importance below which a stem is passed over.</summary>
    private const double LeastImportance = 1e-3;

    private readonly double[] _scores = new double[text.PageCount];
    private readonly double[] _covered = new double[text.PageCount];
    private readonly List<int> _touched = [];
    private double _best;
    private double _total;

    /// <param name="query">Stems with their weight, see <see cref="ClusterTerms"/>; their order does not matter.</param>
    /// <param name="pages">Gets, in the place of what it held, each page with a stem of the query: 0 to 1.</param>
    public void Of(IReadOnlyDictionary<int, double> query, List<(int Page, double Share)> pages)
    {
        pages.Clear();
        foreach (var page in Score(query))
            pages.Add((page, Share(page)));
    }

    /// <summary>Scores the pages for a query, until the next one.</summary>
    /// <returns>The pages with a stem of the query, each once.</returns>
    internal ReadOnlySpan<int> Score(IReadOnlyDictionary<int, double> query)
    {
        foreach (var page in _touched)
            _scores[page] = _covered[page] = 0;
        _touched.Clear();
        // A word that no page has tells nothing apart, as long as another one does that not every second page has; else it is what the site does not write about.
        var isTold = query.Any(q => text.PagesWith(q.Key).Length is > 0 and var with && with * 2 <= text.PageCount);
        var stems = query.OrderBy(q => q.Key).Where(q => !isTold || text.PagesWith(q.Key).Length > 0).Select(q => (Stem: q.Key, Importance: q.Value * text.Importance(q.Key))).ToList();
        _total = stems.Sum(s => s.Importance);
        _best = _total * SiteText.Model;
        foreach (var (stem, importance) in stems)
        {
            if (importance < LeastImportance * _total)
                continue;
            foreach (var (page, saturated) in text.PagesWith(stem))
            {
                if (_covered[page] == 0)
                    _touched.Add(page);
                _scores[page] += importance * saturated;
                _covered[page] += importance;
            }
        }

        foreach (var page in _touched)
            _best = Math.Max(_best, _scores[page]);
        return CollectionsMarshal.AsSpan(_touched);
    }

    /// <summary>Scores the pages for a cluster, until the next one.</summary>
    /// <param name="cluster">The cluster; the first of its keywords, which weigh most, speak for it.</param>
    /// <param name="weights">Of each keyword.</param>
    /// <returns>The pages with a stem of these keywords, each once, with how far they are about it: 0 to 1.</returns>
    internal Dictionary<int, double> Score(Clusters.Cluster cluster, double[] weights)
    {
        var (sums, primary, all) = (new Dictionary<int, double>(), new Dictionary<int, double>(), 0.0);
        foreach (var keyword in cluster.Members.Take(Speakers))
        {
            // A keyword of no volume is one of the cluster all the same.
            var weight = Math.Max(weights[keyword], double.Epsilon);
            all += weight;
            foreach (var page in Score(text.StemsOf(keyword).ToDictionary(s => s, _ => 1.0)))
            {
                var share = Share(page);
                CollectionsMarshal.GetValueRefOrAddDefault(sums, page, out _) += weight * share;
                if (keyword == cluster.Primary)
                    primary[page] = share;
            }
        }

        foreach (var (page, sum) in sums)
            sums[page] = Math.Max(sum / all, OfPrimary * primary.GetValueOrDefault(page));
        return sums;
    }

    /// <summary>Keywords of a cluster that are asked.</summary>
    private const int Speakers = 10;

    /// <summary>The share of the primary's own score that a page keeps, whatever the other keywords say.</summary>
    private const double OfPrimary = 0.8;

    /// <returns>How far a page is about the last query: 0 to 1.</returns>
    internal double Share(int page) => _total == 0 ? 0 : _scores[page] / _best * (_covered[page] / _total);

    /// <summary>The words of a URL's path, which take part as a field of their own.</summary>
    public static string PathWords(string url)
    {
        var path = url;
        var scheme = path.IndexOf("://", StringComparison.Ordinal);
        if (scheme >= 0)
            path = path[(scheme + 3)..];
        var slash = path.IndexOf('/', StringComparison.Ordinal);
        if (slash < 0)
            return "";
        var end = path.AsSpan().IndexOfAny('?', '#');
        path = end < slash ? path[slash..] : path[slash..end];
        return string.Join(' ', Uri.UnescapeDataString(path).Split(['/', '-', '_', '.', '+'], StringSplitOptions.RemoveEmptyEntries));
    }
}
