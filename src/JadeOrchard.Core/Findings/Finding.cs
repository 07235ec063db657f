using System.Collections.Immutable;

namespace JadeOrchard.Core.Findings;

/// <summary>Something flagged, with its evidence.</summary>
/// <param name="Kind">What it is about.</param>
/// <param name="Cluster">Index of the cluster; null where it is about pages alone.</param>
/// <param name="Keyword">The keyword with most at stake; null where none shows it.</param>
/// <param name="Page">Index of the page that should stand for the cluster, or does, or that it is about; null where there is none.</param>
/// <param name="OtherPage">Index of the page that is in its way, or that it should link to; null where there is none.</param>
/// <param name="AtStake">Clicks per month: estimated by the curve, or counted where search performance tells.</param>
/// <param name="Facts">What shows it, most at stake first.</param>
/// <param name="OtherCluster">Index of the second cluster, where the finding is about two; else null.</param>
public sealed record Finding(
    FindingKind Kind,
    int? Cluster,
    int? Keyword,
    int? Page,
    int? OtherPage,
    double AtStake,
    ImmutableArray<FindingFact> Facts,
    int? OtherCluster = null)
{
    /// <summary>A finding that its facts show: their sum is at stake, and the first of them names it.</summary>
    internal static Finding Of(FindingKind kind, int? cluster, int? page, int? otherPage, ImmutableArray<FindingFact> facts, int? otherCluster = null) =>
        new(kind, cluster, facts.FirstOrDefault(f => f.Keyword is not null).Keyword, page, otherPage, facts.Sum(f => f.AtStake), facts, otherCluster);
}

/// <summary>One thing that shows a finding.</summary>
/// <param name="Keyword">Index of the keyword that tells it; null where none does.</param>
/// <param name="Position">Of the finding's page; 0 where it is not in the list. An average where search performance tells.</param>
/// <param name="OtherPosition">Of the other page, likewise; 0 where there is none.</param>
/// <param name="AtStake">Clicks per month that this adds.</param>
/// <param name="Share">What the kind measures, from 0 to 1: the other page's share of the impressions, how alike two titles are.</param>
/// <param name="Count">What the kind counts: pages between which impressions are split, changes of the best page, weeks; 0 for nothing.</param>
public readonly record struct FindingFact(int? Keyword, double Position, double OtherPosition, double AtStake, double Share = 0, double Count = 0);
