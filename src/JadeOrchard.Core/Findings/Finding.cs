using System.Collections.Immutable;

namespace JadeOrchard.Core.Findings;

/// <summary>One thing to decide, with the signs by which it shows itself.</summary>
/// <param name="Kind">What is to be decided.</param>
/// <param name="Clusters">The clusters it is about with the clicks at stake in each; those of a topic's pillar first, else most at stake first. Empty where it is about pages alone.</param>
/// <param name="Pages">Indexes of its pages: the one to keep or to mend first.</param>
/// <param name="Keyword">The keyword with most at stake; null where none shows it.</param>
/// <param name="Folder">The path of the folder whose pages these are; null for all kinds but idle pages.</param>
/// <param name="AtStake">Clicks per month. A keyword counts once, whatever the number of signs that it shows.</param>
/// <param name="Confidence">From 0 to 1: grows with the number of signs and of keywords or pages that show each, see <see cref="FindingMaker.Confidence"/>.</param>
/// <param name="IsPlanned">A page is planned for what is uncovered, so that it waits for it.</param>
/// <param name="Signs">Most at stake first.</param>
public sealed record Finding(
    FindingKind Kind,
    ImmutableArray<ClusterStake> Clusters,
    ImmutableArray<int> Pages,
    int? Keyword,
    string? Folder,
    double AtStake,
    double Confidence,
    bool IsPlanned,
    ImmutableArray<Sign> Signs)
{
    /// <summary>What orders findings of a kind.</summary>
    public double Weight => AtStake * Confidence;
}

/// <summary>What is at stake in one cluster of a finding.</summary>
/// <param name="Cluster">Index of the cluster.</param>
/// <param name="AtStake">Clicks per month.</param>
public readonly record struct ClusterStake(int Cluster, double AtStake);
