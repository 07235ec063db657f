using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Topics;

/// <summary>Which pages of others searchers of a topic are led to most.</summary>
public static class RankingRivals
{
    /// <param name="searches">Keywords of the topic.</param>
    /// <param name="keywords">All keywords, for their volumes; where none of the topic's has one, all weigh the same.</param>
    /// <param name="lists">Result lists.</param>
    /// <param name="isOwn">For each URL whether it is the site's own.</param>
    /// <param name="most">How many.</param>
    /// <returns>URLs by Σ volume · curve(position), most first, then by index.</returns>
    public static IReadOnlyList<int> Of(IReadOnlyList<int> searches, IReadOnlyList<Keyword> keywords, ResultLists lists, Func<int, bool> isOwn, int most)
    {
        var known = searches.Any(k => keywords[k].Volume > 0);
        var clicks = new Dictionary<int, double>();
        foreach (var keyword in searches)
        {
            var urls = lists.Urls(keyword);
            var positions = lists.Positions(keyword);
            for (var i = 0; i < urls.Length; i++)
                clicks[urls[i]] = clicks.GetValueOrDefault(urls[i]) + ((known ? keywords[keyword].Volume ?? 0 : 1) * ClickCurve.Default.At(positions[i]));
        }

        return [.. clicks.Where(c => !isOwn(c.Key)).OrderByDescending(c => Math.Round(c.Value, 9)).ThenBy(c => c.Key).Take(most).Select(c => c.Key)];
    }
}
