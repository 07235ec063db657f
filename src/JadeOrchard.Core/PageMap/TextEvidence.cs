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
/// Safe to use from several threads at once. Cost: the best page of a keyword is looked for once, among the pages with its rarest stems alone where no other
/// can be better (upper bounds, as Turtle and Flood, "Query evaluation: strategies and optimizations", 1995); then the pages that are asked for.
/// </remarks>
public sealed class TextEvidence(SiteText text)
{
    /// <summary>The part of the query's importance below which a stem is passed over.</summary>
    private const double LeastImportance = 1e-3;

    private readonly Query?[] _ofKeyword = new Query?[text.KeywordCount];

    /// <summary>Stems in order, how important each is, their sum, and the score by which others are divided.</summary>
    private sealed record Query(int[] Stems, double[] Importances, double Total, double Best);

    /// <param name="query">Stems with their weight, see <see cref="ClusterTerms"/>; their order does not matter.</param>
    /// <returns>Each page with a stem of the query: 0 to 1.</returns>
    public IReadOnlyList<(int Page, double Share)> Of(IReadOnlyDictionary<int, double> query)
    {
        var asked = Asked(query);
        var pages = new SortedSet<int>();
        foreach (var stem in asked.Stems)
        {
            foreach (var (page, _) in text.PagesWith(stem))
                pages.Add(page);
        }

        return [.. pages.Select(p => (p, Share(asked, p)))];
    }

    /// <summary>How far a page is about a cluster.</summary>
    /// <param name="page">The page.</param>
    /// <param name="cluster">The cluster; the first of its keywords, which weigh most, speak for it.</param>
    /// <param name="weights">Of each keyword.</param>
    /// <returns>0 to 1.</returns>
    internal double Of(int page, Clusters.Cluster cluster, double[] weights)
    {
        double sum = 0, all = 0, primary = 0;
        for (var i = 0; i < cluster.Members.Length && i < Speakers; i++)
        {
            var keyword = cluster.Members[i];
            // A keyword of no volume is one of the cluster all the same.
            var weight = Math.Max(weights[keyword], double.Epsilon);
            var share = Share(_ofKeyword[keyword] ??= Asked(text.StemsOf(keyword).ToDictionary(s => s, _ => 1.0)), page);
            all += weight;
            sum += weight * share;
            if (keyword == cluster.Primary)
                primary = share;
        }

        return all == 0 ? 0 : Math.Max(sum / all, OfPrimary * primary);
    }

    /// <summary>Keywords of a cluster that are asked.</summary>
    private const int Speakers = 10;

    /// <summary>The share of the primary's own score that a page keeps, whatever the other keywords say.</summary>
    private const double OfPrimary = 0.8;

    private Query Asked(IReadOnlyDictionary<int, double> query)
    {
        var stems = text.Counting(query).OrderBy(q => q.Key).Select(q => (Stem: q.Key, Importance: q.Value * text.Importance(q.Key))).ToList();
        var total = stems.Sum(s => s.Importance);
        stems.RemoveAll(s => s.Importance < LeastImportance * total);
        var asked = new Query([.. stems.Select(s => s.Stem)], [.. stems.Select(s => s.Importance)], total, total * SiteText.Model);
        return asked with { Best = Best(asked) };
    }

    /// <summary>The score of the best page, or of the model page where that is higher.</summary>
    private double Best(Query query)
    {
        double[] most = [.. query.Stems.Select((s, i) => query.Importances[i] * text.MostSaturated(s))];
        int[] order = [.. Enumerable.Range(0, most.Length).OrderBy(i => most[i])];
        var (best, all, without, first) = (query.Best, most.Sum(), 0.0, 0);
        // A page with none but these cannot be better.
        while (first < order.Length && without + most[order[first]] <= best)
            without += most[order[first++]];
        foreach (var i in order.AsSpan(first))
        {
            foreach (var (page, saturated) in text.PagesWith(query.Stems[i]))
            {
                // The rest at their most.
                if ((query.Importances[i] * saturated) + all - most[i] > best)
                    best = Math.Max(best, Score(query, page).Score);
            }
        }

        return best;
    }

    private (double Score, double Covered) Score(Query query, int page)
    {
        double score = 0, covered = 0;
        for (var i = 0; i < query.Stems.Length; i++)
        {
            if (text.Saturated(query.Stems[i], page) is not (> 0 and var saturated))
                continue;
            score += query.Importances[i] * saturated;
            covered += query.Importances[i];
        }

        return (score, covered);
    }

    private double Share(Query query, int page)
    {
        if (query.Total == 0)
            return 0;
        var (score, covered) = Score(query, page);
        return score / query.Best * (covered / query.Total);
    }

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
