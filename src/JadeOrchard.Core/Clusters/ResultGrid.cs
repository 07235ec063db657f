using System.Collections.Immutable;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>Why a cluster belongs together: its URLs by its keywords, with the rank in each cell.</summary>
/// <param name="Keywords">The columns.</param>
/// <param name="Rows">The URLs, those shared by most keywords first.</param>
public sealed record ResultGrid(ImmutableArray<int> Keywords, ImmutableArray<ResultGridRow> Rows)
{
    /// <param name="keywords">Columns in the wanted order.</param>
    /// <param name="lists">Cut at the compared depth.</param>
    public static ResultGrid Of(ImmutableArray<int> keywords, ResultLists lists)
    {
        var positions = new Dictionary<int, int[]>();
        for (var column = 0; column < keywords.Length; column++)
        {
            var urls = lists.Urls(keywords[column]);
            for (var i = 0; i < urls.Length; i++)
            {
                if (!positions.TryGetValue(urls[i], out var row))
                    positions[urls[i]] = row = new int[keywords.Length];
                row[column] = lists.Positions(keywords[column])[i];
            }
        }

        var rows = positions
            .Select(p => new ResultGridRow(p.Key, p.Value.Count(r => r > 0), [.. p.Value]))
            .OrderByDescending(r => r.Shared)
            .ThenBy(r => r.Positions.Where(p => p > 0).Average())
            .ThenBy(r => r.Url);
        return new ResultGrid(keywords, [.. rows]);
    }
}

/// <summary>One URL of a result grid.</summary>
/// <param name="Url">Index of the URL.</param>
/// <param name="Shared">In how many of the lists it stands.</param>
/// <param name="Positions">Its position for each keyword of the grid; 0 where it is not in the list.</param>
public sealed record ResultGridRow(int Url, int Shared, ImmutableArray<int> Positions);
