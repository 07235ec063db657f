using System.Collections.Immutable;

namespace JadeOrchard.Core.Results;

/// <summary>A URL at a position of a result list.</summary>
/// <param name="Url">Index of the URL.</param>
/// <param name="Position">From 1.</param>
public readonly record struct PlacedUrl(int Url, int Position);

/// <summary>What became of a URL between two result lists.</summary>
public enum ListChange
{
    Came,
    Went,
    Rose,
    Fell,
    Stayed,
}

/// <summary>A URL in one or both of two result lists.</summary>
/// <param name="Url">Index of the URL.</param>
/// <param name="Before">Its position in the first list; 0 where it is not there.</param>
/// <param name="After">Its position in the second; 0 where it is not there.</param>
public sealed record ComparedResult(int Url, int Before, int After, ListChange Change);

/// <summary>Compares two result lists: of one keyword over time, or of two keywords.</summary>
public static class ListComparison
{
    /// <param name="before">URLs with their positions.</param>
    /// <param name="after">As <paramref name="before"/>.</param>
    /// <returns>Every URL of either once: by its position after, then those that went, by their position before.</returns>
    public static ImmutableArray<ComparedResult> Of(IReadOnlyList<PlacedUrl> before, IReadOnlyList<PlacedUrl> after)
    {
        var old = before.GroupBy(b => b.Url).ToDictionary(g => g.Key, g => g.Min(b => b.Position));
        var now = after.GroupBy(a => a.Url).ToDictionary(g => g.Key, g => g.Min(a => a.Position));
        return
        [
            .. now.OrderBy(a => a.Value).ThenBy(a => a.Key)
                .Select(a => old.TryGetValue(a.Key, out var position)
                    ? new ComparedResult(a.Key, position, a.Value, a.Value < position ? ListChange.Rose : a.Value > position ? ListChange.Fell : ListChange.Stayed)
                    : new ComparedResult(a.Key, 0, a.Value, ListChange.Came)),
            .. old.Where(b => !now.ContainsKey(b.Key)).OrderBy(b => b.Value).ThenBy(b => b.Key)
                .Select(b => new ComparedResult(b.Key, b.Value, 0, ListChange.Went)),
        ];
    }
}
