using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>For each keyword the other cluster whose primary it overlaps most, by the minimum or more; of several the first.</summary>
/// <param name="To">By keyword the index of that cluster; -1 where there is none.</param>
/// <param name="Overlaps">By keyword that overlap; 0 where there is none.</param>
public sealed record Bridges(int[] To, int[] Overlaps)
{
    /// <param name="clusters">In the keyword order of their primaries; no keyword in two of them.</param>
    /// <param name="clusterOf">By keyword its cluster, or -1.</param>
    /// <param name="index">Of their lists, with the minimum overlap.</param>
    public static Bridges Of(IReadOnlyList<Cluster> clusters, int[] clusterOf, OverlapIndex index)
    {
        var (to, overlaps) = (new int[clusterOf.Length], new int[clusterOf.Length]);
        Array.Fill(to, -1);
        var scratch = new OverlapIndex.Scratch(index);
        for (var c = 0; c < clusters.Count; c++)
        {
            index.Neighbours(clusters[c].Primary, scratch);
            foreach (var (keyword, overlap) in scratch.Found)
            {
                if (clusterOf[keyword] >= 0 && clusterOf[keyword] != c && overlap > overlaps[keyword])
                    (to[keyword], overlaps[keyword]) = (c, overlap);
            }
        }

        return new Bridges(to, overlaps);
    }
}
