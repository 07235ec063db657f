using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Topics;

/// <summary>A page of others that ranks for some keywords.</summary>
/// <param name="Url">Index of the URL.</param>
/// <param name="Clicks">Σ volume · curve(position), a month; 0 where no volume is known.</param>
/// <param name="SeenFor">In how many result lists it stands.</param>
public readonly record struct RankingRival(int Url, double Clicks, int SeenFor);

/// <summary>Which pages of others searchers are led to most.</summary>
public static class RankingRivals
{
    /// <param name="searches">What is searched for, as indexes.</param>
    /// <param name="keywords">All keywords, for their volumes; where none of the searches has one, all weigh the same.</param>
    /// <param name="lists">Result lists.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    /// <param name="identities">For each URL its identity, which settles ties, so that the order of rows does not matter.</param>
    /// <param name="isOwn">For each URL whether it is the site's own.</param>
    /// <param name="most">How many.</param>
    /// <returns>Those with most clicks first.</returns>
    public static IReadOnlyList<RankingRival> Of(
        IReadOnlyCollection<int> searches, IReadOnlyList<Keyword> keywords, ResultLists lists, ClickCurve curve, IReadOnlyList<string> identities, Func<int, bool> isOwn, int most)
    {
        var isKnown = searches.Any(k => keywords[k].Volume > 0);
        var rivals = new Dictionary<int, (double Clicks, int SeenFor)>();
        foreach (var keyword in searches)
        {
            var urls = lists.Urls(keyword);
            var positions = lists.Positions(keyword);
            for (var i = 0; i < urls.Length; i++)
            {
                var (clicks, seen) = rivals.GetValueOrDefault(urls[i]);
                rivals[urls[i]] = (clicks + ((isKnown ? keywords[keyword].Volume ?? 0 : 1) * curve.At(positions[i])), seen + 1);
            }
        }

        return
        [
            .. rivals.Where(r => !isOwn(r.Key))
                .OrderByDescending(r => Math.Round(r.Value.Clicks, 9))
                .ThenBy(r => identities[r.Key], StringComparer.Ordinal)
                .Take(most)
                .Select(r => new RankingRival(r.Key, isKnown ? r.Value.Clicks : 0, r.Value.SeenFor)),
        ];
    }
}
