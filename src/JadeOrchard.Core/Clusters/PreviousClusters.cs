namespace JadeOrchard.Core.Clusters;

/// <summary>Clusters that are to hold: result lists change from week to week on their own, and small changes must not move keywords.</summary>
/// <remarks>
/// For the primary rule. The primaries are considered first, and stay primaries unless another of them overlaps them by the margin more than the minimum. A keyword
/// leaves its cluster only for one whose primary shares the margin more results with it, or where it falls that much short of the minimum. Hysteresis
/// (common practice in control; its use here is our own).
/// </remarks>
/// <param name="ClusterOf">For each keyword the index of its cluster, or -1.</param>
/// <param name="Primaries">For each cluster its primary keyword.</param>
/// <param name="Margin">Results; see <see cref="ClusterSettings.Hysteresis"/>.</param>
public sealed record PreviousClusters(IReadOnlyList<int> ClusterOf, IReadOnlyList<int> Primaries, int Margin)
{
    /// <returns>For each cluster the keyword that represents it now: its primary, or the first of its keywords where that has no result list; -1 where none has one.</returns>
    /// <param name="order">The keywords in keyword order.</param>
    /// <param name="isCaptured">Whether a keyword has a result list.</param>
    internal int[] StandIns(int[] order, Func<int, bool> isCaptured)
    {
        int[] standIns = [.. Primaries.Select((p, c) => isCaptured(p) && ClusterOf[p] == c ? p : -1)];
        foreach (var keyword in order)
        {
            if (ClusterOf[keyword] is var cluster and >= 0 && standIns[cluster] < 0 && isCaptured(keyword))
                standIns[cluster] = keyword;
        }

        return standIns;
    }
}
