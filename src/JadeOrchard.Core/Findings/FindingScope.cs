using System.Globalization;

namespace JadeOrchard.Core.Findings;

/// <summary>What has to be looked at to raise a finding: after a change only the scopes that it touches are looked at again.</summary>
public static class FindingScope
{
    /// <summary>The results, queries and page of one cluster.</summary>
    public static string OfCluster(ClusterId clusterId) => Text("cluster", clusterId);

    /// <summary>Two clusters that overlap.</summary>
    public static string OfPair(ClusterId clusterId, ClusterId otherClusterId) =>
        string.Create(CultureInfo.InvariantCulture, $"pair:{Math.Min(clusterId.Value, otherClusterId.Value)}:{Math.Max(clusterId.Value, otherClusterId.Value)}");

    /// <summary>The titles and headings of two pages.</summary>
    public static string OfPages(PageId pageId, PageId otherPageId) =>
        string.Create(CultureInfo.InvariantCulture, $"pages:{Math.Min(pageId.Value, otherPageId.Value)}:{Math.Max(pageId.Value, otherPageId.Value)}");

    /// <summary>The clusters, links and visits of one page.</summary>
    public static string OfPage(PageId pageId) => Text("page", pageId);

    /// <summary>The links between the page of a supporting cluster and that of its pillar.</summary>
    public static string OfSupport(ClusterId clusterId) => Text("support", clusterId);

    /// <returns>The scope of a finding.</returns>
    /// <param name="kind">What it is about.</param>
    /// <param name="clusterId">Id of its cluster; null for none.</param>
    /// <param name="pageId">Id of its page; null for none.</param>
    /// <param name="otherPageId">Id of its other page; null for none.</param>
    /// <param name="otherClusterId">Id of its other cluster; null for none.</param>
    public static string Of(FindingKind kind, ClusterId? clusterId, PageId? pageId, PageId? otherPageId, ClusterId? otherClusterId) => kind switch
    {
        FindingKind.TwinTitles => OfPages(pageId!.Value, otherPageId!.Value),
        FindingKind.SharedTarget => OfPair(clusterId!.Value, otherClusterId!.Value),
        FindingKind.MixedTarget or FindingKind.Orphan or FindingKind.Targetless => OfPage(pageId!.Value),
        FindingKind.UnlinkedSupport => OfSupport(clusterId!.Value),
        _ => OfCluster(clusterId!.Value),
    };

    private static string Text(string what, IId id) => string.Create(CultureInfo.InvariantCulture, $"{what}:{id.Value}");
}
