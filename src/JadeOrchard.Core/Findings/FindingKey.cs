namespace JadeOrchard.Core.Findings;

/// <summary>The stable name of a finding, so that computing again updates it rather than making a new one.</summary>
public static class FindingKey
{
    /// <param name="kind">What it is about.</param>
    /// <param name="clusterId">Id of the cluster, which survives a re-grouping; null for none.</param>
    /// <param name="pageId">Id of the page; null for none.</param>
    /// <param name="otherPageId">Id of the other page; null for none.</param>
    /// <param name="otherClusterId">Id of the other cluster; null for none.</param>
    /// <returns>
    /// "kind:cluster:page:page". Rivals change places without becoming another finding, so their pages are sorted, and so are two clusters, of which
    /// either may have more demand. A hole is the cluster's alone, whatever page it is about; what is about pages alone has no cluster.
    /// </returns>
    public static string Of(FindingKind kind, ClusterId? clusterId, PageId? pageId, PageId? otherPageId, ClusterId? otherClusterId = null)
    {
        var code = kind.Code();
        var clusters = Sorted(clusterId, otherClusterId);
        var pages = Sorted(pageId, otherPageId);
        return kind switch
        {
            FindingKind.NoPage or FindingKind.Absent or FindingKind.OpenQuestion => $"{code}:{clusterId}",
            FindingKind.MissingOnPage => $"{code}:{clusterId}:{pageId}",
            FindingKind.WrongPageRanks => $"{code}:{clusterId}:{pageId}:{otherPageId}",
            FindingKind.SharedTarget => $"{code}:{clusters}:{pages}",
            FindingKind.MixedTarget => $"{code}:{pageId}:{clusters}",
            FindingKind.TwinTitles => $"{code}:{pages}",
            FindingKind.UnlinkedSupport => $"{code}:{clusterId}:{pageId}:{otherPageId}",
            FindingKind.Orphan or FindingKind.Targetless => $"{code}:{pageId}",
            _ => $"{code}:{clusterId}:{pages}",
        };
    }

    /// <returns>Both, the smaller number first; 0 for none.</returns>
    private static string Sorted(IId? one, IId? other)
    {
        var (a, b) = (one?.Value ?? 0, other?.Value ?? 0);
        return $"{Math.Min(a, b)}:{Math.Max(a, b)}";
    }
}
