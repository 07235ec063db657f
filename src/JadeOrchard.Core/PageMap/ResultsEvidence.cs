using System.Collections.Immutable;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.PageMap;

/// <summary>How far a page already ranks for a cluster in the search results.</summary>
/// <remarks>Σ volume·curve(position of the page) / Σ volume·curve(1), over the cluster's keywords with a list.</remarks>
public static class ResultsEvidence
{
    /// <param name="cluster">The cluster.</param>
    /// <param name="weights">The weight of each keyword, see <see cref="ClusterResults.SearchWeights"/>.</param>
    /// <param name="lists">Result lists as far as they were captured.</param>
    /// <param name="pageOfUrl">For each URL the page of the site, or -1.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    /// <returns>For each page that is in a list: its share, above 0 and at most 1. Null where no keyword has a list.</returns>
    public static Dictionary<int, double>? Of(Cluster cluster, double[] weights, ResultLists lists, int[] pageOfUrl, ClickCurve curve)
    {
        var clicks = new Dictionary<int, double>();
        double possible = 0;
        var isCaptured = false;
        foreach (var keyword in cluster.Members)
        {
            if (!lists.IsCaptured(keyword))
                continue;
            isCaptured = true;
            possible += weights[keyword] * curve.At(1);
            foreach (var standing in Standings(keyword, lists, pageOfUrl))
                clicks[standing.Page] = clicks.GetValueOrDefault(standing.Page) + (weights[keyword] * curve.At(standing.Position));
        }

        if (!isCaptured)
            return null;
        if (possible > 0)
        {
            foreach (var page in clicks.Keys.ToArray())
                clicks[page] /= possible;
        }

        return clicks;
    }

    /// <returns>The pages of the site in one result list, best first, each once at its best position.</returns>
    public static ImmutableArray<Standing> Standings(int keyword, ResultLists lists, int[] pageOfUrl)
    {
        ImmutableArray<Standing>.Builder? standings = null;
        var urls = lists.Urls(keyword);
        for (var i = 0; i < urls.Length; i++)
        {
            var page = pageOfUrl[urls[i]];
            if (page < 0 || Has(standings, page))
                continue;
            standings ??= ImmutableArray.CreateBuilder<Standing>(1);
            standings.Add(new Standing(page, lists.Positions(keyword)[i]));
        }

        return standings?.DrainToImmutable() ?? [];

        static bool Has(ImmutableArray<Standing>.Builder? standings, int page)
        {
            for (var i = 0; i < standings?.Count; i++)
            {
                if (standings[i].Page == page)
                    return true;
            }

            return false;
        }
    }
}

/// <summary>A page of the site in a result list.</summary>
/// <param name="Page">Index of the page.</param>
/// <param name="Position">From 1.</param>
public readonly record struct Standing(int Page, int Position);
