using System.Globalization;

namespace JadeOrchard.Core.Findings;

/// <summary>What has to be looked at to raise a finding: after a change only the scopes that it touches are looked at again.</summary>
public static class FindingScope
{
    /// <summary>The results, queries and page of one cluster.</summary>
    public static string OfCluster(long clusterId) => Text("cluster", clusterId);

    /// <summary>Two clusters that overlap.</summary>
    public static string OfPair(long clusterId, long otherClusterId) =>
        string.Create(CultureInfo.InvariantCulture, $"pair:{Math.Min(clusterId, otherClusterId)}:{Math.Max(clusterId, otherClusterId)}");

    /// <summary>The titles and headings of two pages.</summary>
    public static string OfPages(long pageId, long otherPageId) =>
        string.Create(CultureInfo.InvariantCulture, $"pages:{Math.Min(pageId, otherPageId)}:{Math.Max(pageId, otherPageId)}");

    /// <summary>The clusters, links and visits of one page.</summary>
    public static string OfPage(long pageId) => Text("page", pageId);

    /// <summary>The links between the page of a supporting cluster and that of its pillar.</summary>
    public static string OfSupport(long clusterId) => Text("support", clusterId);

    /// <returns>The scope of a finding.</returns>
    /// <param name="kind">What it is about.</param>
    /// <param name="clusterId">Id of its cluster; null for none.</param>
    /// <param name="pageId">Id of its page; null for none.</param>
    /// <param name="otherPageId">Id of its other page; null for none.</param>
    /// <param name="otherClusterId">Id of its other cluster; null for none.</param>
    public static string Of(FindingKind kind, long? clusterId, long? pageId, long? otherPageId, long? otherClusterId) => kind switch
    {
        FindingKind.TwinTitles => OfPages(pageId!.Value, otherPageId!.Value),
        FindingKind.SharedTarget => OfPair(clusterId!.Value, otherClusterId!.Value),
        FindingKind.MixedTarget or FindingKind.Orphan or FindingKind.Targetless => OfPage(pageId!.Value),
        FindingKind.UnlinkedSupport => OfSupport(clusterId!.Value),
        _ => OfCluster(clusterId!.Value),
    };

    private static string Text(string what, long id) => string.Create(CultureInfo.InvariantCulture, $"{what}:{id}");
}
