using System.Collections.Immutable;

namespace JadeOrchard.Core.Findings;

/// <summary>Something flagged, with its evidence.</summary>
/// <param name="Kind">What it is about.</param>
/// <param name="Cluster">Index of the cluster.</param>
/// <param name="Keyword">The keyword with most at stake.</param>
/// <param name="Page">Index of the page that should stand for the cluster, or does; null where there is none.</param>
/// <param name="OtherPage">Index of the page that is in its way; null where there is none.</param>
/// <param name="AtStake">Clicks per month, estimated.</param>
/// <param name="Facts">One for each keyword that shows it, most at stake first.</param>
/// <param name="OtherCluster">Index of the second cluster, where the finding is about two; else null.</param>
public sealed record Finding(
    FindingKind Kind,
    int Cluster,
    int Keyword,
    int? Page,
    int? OtherPage,
    double AtStake,
    ImmutableArray<FindingFact> Facts,
    int? OtherCluster = null);

/// <summary>What one keyword tells about a finding.</summary>
/// <param name="Keyword">Index of the keyword.</param>
/// <param name="Position">Of the finding's page; 0 where it is not in the list.</param>
/// <param name="OtherPosition">Of the other page; 0 where it is not in the list or there is none.</param>
/// <param name="AtStake">Clicks per month that this keyword adds.</param>
public sealed record FindingFact(int Keyword, int Position, int OtherPosition, double AtStake);
