namespace JadeOrchard.Core.Results.Staged;

/// <summary>The cluster that a keyword without a result list is expected in, as clusters stand now.</summary>
/// <remarks>When clusters are split, merged or made again, it follows the keywords that speak for it.</remarks>
public static class SupportedCluster
{
    /// <param name="ofSupports">The clusters of the keywords that speak for it, most first; those that are in none are left out.</param>
    /// <returns>That of most of them, among equals that of the first; null where none is in a cluster.</returns>
    public static ClusterId? Of(IEnumerable<ClusterId> ofSupports)
    {
        // Sorting is stable, so that among equals the first stays first.
        var groups = ofSupports.GroupBy(c => c).OrderByDescending(g => g.Count());
        return groups.FirstOrDefault()?.Key;
    }
}
