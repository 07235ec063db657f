using System.Globalization;

namespace JadeOrchard.Core.Findings;

/// <summary>The stable name of a finding, so that computing again updates it rather than making a new one.</summary>
public static class FindingKey
{
    /// <param name="kind">What is to be decided.</param>
    /// <param name="clusterId">Id of its cluster, or of its topic's pillar; a cluster's id survives a re-grouping. Null for none.</param>
    /// <param name="pageIds">Ids of its pages, in any order.</param>
    /// <param name="folder">The path of the folder; null for none.</param>
    /// <returns>
    /// "conflict:3:17": the same pages are one conflict, whatever clusters they compete for. What is uncovered is named by its cluster, a page gap by its
    /// page, missing links by the pillar, idle pages by their folder, and twins by the first of them, since no page is in two groups of twins.
    /// </returns>
    public static string Of(FindingKind kind, ClusterId? clusterId, IEnumerable<PageId> pageIds, string? folder) => $"{kind.Code()}:" + kind switch
    {
        FindingKind.Conflict => string.Join(':', pageIds.Select(p => p.Value).Order()),
        FindingKind.Uncovered or FindingKind.MissingLinks => clusterId!.Value.Value.ToString(CultureInfo.InvariantCulture),
        FindingKind.PageGap => pageIds.Single().Value.ToString(CultureInfo.InvariantCulture),
        FindingKind.Twins => pageIds.Min(p => p.Value).ToString(CultureInfo.InvariantCulture),
        // Escaped, so that the key can be part of a URL.
        _ => Uri.EscapeDataString(folder!),
    };
}
