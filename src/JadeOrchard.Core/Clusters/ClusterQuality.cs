using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>Numbers by which a planner can trust or doubt a cluster.</summary>
public static class ClusterQuality
{
    /// <summary>The <see cref="Cohesion"/> of each of many clusters, with one array of counts for all.</summary>
    public static double?[] Cohesions(IReadOnlyList<Cluster> clusters, ResultLists lists, int depth)
    {
        var counts = new int[lists.UrlCount];
        var cohesions = new double?[clusters.Count];
        for (var c = 0; c < cohesions.Length; c++)
        {
            var members = clusters[c].Members;
            if (members.Length < 2)
                continue;
            long shared = 0;
            // A list that has a URL shares it with each list before that has it.
            foreach (var keyword in members)
            {
                foreach (var url in lists.Urls(keyword))
                    shared += counts[url]++;
            }

            foreach (var keyword in members)
            {
                foreach (var url in lists.Urls(keyword))
                    counts[url] = 0;
            }

            cohesions[c] = (double)shared / ((long)members.Length * (members.Length - 1) / 2) / depth;
        }

        return cohesions;
    }

    /// <summary>Mean overlap of the pairs of a cluster, divided by the depth.</summary>
    /// <remarks>Each URL that is in n lists is shared by n(n−1)/2 pairs, so the pairs need not be gone through.</remarks>
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
