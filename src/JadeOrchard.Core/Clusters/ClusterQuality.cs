using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>Numbers by which a planner can trust or doubt a cluster.</summary>
public static class ClusterQuality
{
    /// <summary>Mean cohesion of the clusters of two keywords or more; null where there is none.</summary>
    /// <remarks>As <see cref="Cohesion"/> of each, with one array of counts for all.</remarks>
    public static double? MeanCohesion(IReadOnlyList<Cluster> clusters, ResultLists lists, int depth)
    {
        var counts = new int[lists.UrlCount];
        var (total, several) = (0.0, 0);
        foreach (var cluster in clusters)
        {
            if (cluster.Members.Length < 2)
                continue;
            long shared = 0;
            // A list that has a URL shares it with each list before that has it.
            foreach (var keyword in cluster.Members)
            {
                foreach (var url in lists.Urls(keyword))
                    shared += counts[url]++;
            }

            foreach (var keyword in cluster.Members)
            {
                foreach (var url in lists.Urls(keyword))
                    counts[url] = 0;
            }

            var pairs = (long)cluster.Members.Length * (cluster.Members.Length - 1) / 2;
            total += (double)shared / pairs / depth;
            several++;
        }

        return several == 0 ? null : total / several;
    }

    /// <summary>Mean overlap of the pairs of a cluster, divided by the depth.</summary>
    /// <remarks>Each URL that stands in n lists is shared by n(n−1)/2 pairs, so the pairs need not be gone through.</remarks>
    /// <param name="members">Keywords of the cluster.</param>
    /// <param name="lists">Cut at <paramref name="depth"/>.</param>
    /// <param name="depth">Compared positions.</param>
    /// <returns>0 to 1; null for a single keyword, which has no pairs.</returns>
    public static double? Cohesion(IReadOnlyList<int> members, ResultLists lists, int depth)
    {
        if (members.Count < 2)
            return null;
        var counts = new Dictionary<int, long>();
        foreach (var keyword in members)
        {
            foreach (var url in lists.Urls(keyword))
                counts[url] = counts.GetValueOrDefault(url) + 1;
        }

        var shared = counts.Values.Sum(n => n * (n - 1) / 2);
        var pairs = (long)members.Count * (members.Count - 1) / 2;
        return (double)shared / pairs / depth;
    }
}
