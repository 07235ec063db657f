using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Results.Staged;

/// <summary>How things stood after a batch.</summary>
/// <param name="Captured">Lists that were captured by then.</param>
/// <param name="Expected">Keywords whose cluster was certain enough by then.</param>
/// <param name="AdjustedRandIndex">Against the clusters of all lists; what was neither captured nor expected stands by itself.</param>
/// <param name="Wrong">Expected keywords that are in another cluster by all lists than most captured ones of the cluster they were expected in.</param>
public sealed record ReplayedBatch(int Captured, int Expected, double AdjustedRandIndex, int Wrong);

/// <summary>Captures in stages what is captured already, to see what it would have saved.</summary>
/// <param name="Batches">One after another; none where there is no list.</param>
/// <param name="ClusterOf">For each keyword its cluster in the end, or -1 where it has no list.</param>
/// <param name="IsCaptured">Whether its list was captured in the end; else it is expected.</param>
/// <param name="Audit">What an audit of the expected ones would find in the end; null where there are none.</param>
public sealed record StagedReplay(IReadOnlyList<ReplayedBatch> Batches, int[] ClusterOf, bool[] IsCaptured, CaptureAudit? Audit)
{
    /// <param name="keywords">No normal form twice.</param>
    /// <param name="lists">Their result lists, as <paramref name="settings"/> compare them; keywords without one are left out.</param>
    /// <param name="words">Of the keywords.</param>
    /// <param name="settings">How they are grouped.</param>
    /// <param name="certainty">From which a keyword is expected.</param>
    public static StagedReplay Of(IReadOnlyList<Keyword> keywords, ResultLists lists, WordedKeywords words, ClusterSettings settings, double certainty)
    {
        var order = KeywordOrder.Of(keywords);
        var staged = new StagedCapture(keywords, words, order);
        int[] known = [.. order.Where(lists.IsCaptured)];
        var whole = CapturedClusters.Of(Clustering.Of(keywords, lists, settings, order), lists).ClusterOf;
        var isCaptured = new bool[keywords.Count];
        var batches = new List<ReplayedBatch>();
        var (soFar, stage, labels, audit) = (lists.Without(_ => true), (Stage?)null, (int[])whole.Clone(), (CaptureAudit?)null);
        for (var captured = 0; staged.Next(soFar, stage, lists.IsCaptured, StagedCapture.BatchOf(known.Length, captured)) is { Count: > 0 } batch;)
        {
            captured += batch.Count;
            foreach (var keyword in batch)
                isCaptured[keyword] = true;
            soFar = lists.Without(k => !isCaptured[k]);
            var clusters = CapturedClusters.Of(Clustering.Of(keywords, soFar, settings, order), soFar);
            stage = staged.Look(soFar, settings.MinOverlap, clusters.ClusterOf, clusters.Primaries, lists.IsCaptured, certainty, stage);
            var mostly = Mostly(clusters, whole);
            bool IsWrong(ExpectedMember member) => whole[member.Keyword] != mostly[member.Cluster];
            labels = (int[])clusters.ClusterOf.Clone();
            foreach (var member in stage.Expected)
                labels[member.Keyword] = member.Cluster;
            var alone = clusters.Primaries.Count;
            foreach (var keyword in known.Where(k => labels[k] < 0))
                labels[keyword] = alone++;
            batches.Add(new ReplayedBatch(captured, stage.Expected.Length, ClusteringParts.Of(whole, labels).AdjustedRandIndex, stage.Expected.Count(IsWrong)));
            var audited = staged.Audit([.. stage.Expected.Select(e => e.Keyword)], captured).ToHashSet();
            audit = audited.Count == 0 ? null : CaptureAudit.Of(stage.Expected.Count(e => audited.Contains(e.Keyword) && !IsWrong(e)), audited.Count);
        }

        return new StagedReplay(batches, labels, isCaptured, audit);
    }

    /// <returns>For each cluster the one of all lists in which most of its captured keywords are.</returns>
    private static int[] Mostly(CapturedClusters clusters, int[] whole)
    {
        var mostly = new int[clusters.Primaries.Count];
        foreach (var group in Enumerable.Range(0, whole.Length).Where(k => clusters.ClusterOf[k] >= 0).GroupBy(k => clusters.ClusterOf[k]))
            mostly[group.Key] = group.GroupBy(k => whole[k]).OrderByDescending(g => g.Count()).ThenBy(g => g.Key).First().Key;
        return mostly;
    }
}

/// <summary>Clusters, with those that are too small for the settings as well, so that each captured keyword is in one.</summary>
/// <param name="ClusterOf">For each keyword its cluster; -1 where it is not captured.</param>
/// <param name="Primaries">For each cluster its primary.</param>
public sealed record CapturedClusters(int[] ClusterOf, IReadOnlyList<int> Primaries)
{
    /// <param name="clustering">Of these lists.</param>
    /// <param name="lists">The result lists.</param>
    public static CapturedClusters Of(Clustering clustering, ResultLists lists)
    {
        var of = clustering.ClusterOf(lists.Count);
        var primaries = clustering.Clusters.Select(c => c.Primary).ToList();
        for (var k = 0; k < of.Length; k++)
        {
            if (of[k] >= 0 || !lists.IsCaptured(k))
                continue;
            of[k] = primaries.Count;
            primaries.Add(k);
        }

        return new CapturedClusters(of, primaries);
    }
}
