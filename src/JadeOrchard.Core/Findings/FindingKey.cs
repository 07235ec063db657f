namespace JadeOrchard.Core.Findings;

/// <summary>The stable name of a finding, so that computing again updates it rather than making a new one.</summary>
public static class FindingKey
{
    /// <param name="kind">What it is about.</param>
    /// <param name="clusterId">Id of the cluster, which survives a re-grouping.</param>
    /// <param name="pageId">Id of the page; null for none.</param>
    /// <param name="otherPageId">Id of the other page; null for none.</param>
    /// <returns>
    /// "kind:cluster:page:page". Rivals change places without becoming another finding, so their pages are sorted.
    /// A hole is the cluster's alone, whatever page it is about.
    /// </returns>
    public static string Of(FindingKind kind, long clusterId, long? pageId, long? otherPageId)
    {
        var code = kind.Code();
        return kind switch
        {
            FindingKind.NoPage or FindingKind.Absent => $"{code}:{clusterId}",
            FindingKind.WrongPageRanks => $"{code}:{clusterId}:{pageId}:{otherPageId}",
            _ => $"{code}:{clusterId}:{Math.Min(pageId ?? 0, otherPageId ?? 0)}:{Math.Max(pageId ?? 0, otherPageId ?? 0)}",
        };
    }
}
