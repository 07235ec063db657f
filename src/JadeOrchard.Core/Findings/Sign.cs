using System.Collections.Immutable;

namespace JadeOrchard.Core.Findings;

/// <summary>A way in which a finding shows itself, with its facts.</summary>
/// <param name="Kind">What was seen.</param>
/// <param name="Cluster">Index of the cluster; null where it is about pages alone.</param>
/// <param name="Keyword">The keyword with most at stake; null where none shows it.</param>
/// <param name="Page">Index of the page that should serve the cluster, or does, or that it is about; null where there is none.</param>
/// <param name="Others">Indexes of the pages that are in its way, are its twins, or that it should link to.</param>
/// <param name="AtStake">Clicks per month: estimated by the curve, or counted where search performance tells.</param>
/// <param name="Facts">What shows it, most at stake first.</param>
/// <param name="OtherCluster">Index of the second cluster, where the sign is about two; else null.</param>
public sealed record Sign(
    SignKind Kind,
    int? Cluster,
    int? Keyword,
    int? Page,
    ImmutableArray<int> Others,
    double AtStake,
    ImmutableArray<SignFact> Facts,
    int? OtherCluster = null)
{
    /// <summary>The path of the page's folder, where it is an idle page; else null.</summary>
    public string? Folder { get; init; }

    /// <summary>Which finding it is a sign of.</summary>
    public FindingKind Finding => Kind switch
    {
        <= SignKind.SharedTarget => FindingKind.Conflict,
        SignKind.Fading => FindingKind.PageGap,
        SignKind.NoPage => FindingKind.Uncovered,
        SignKind.Absent or SignKind.OpenQuestion when Page is null => FindingKind.Uncovered,
        <= SignKind.MixedTarget => FindingKind.PageGap,
        <= SignKind.TwinTexts => FindingKind.Twins,
        <= SignKind.PillarToSupport => FindingKind.MissingLinks,
        _ => FindingKind.IdlePages,
    };

    /// <summary>The other page where there is just one; else null.</summary>
    public int? OtherPage => Others is [var only] ? only : null;

    /// <summary>All pages that it is about, its own first.</summary>
    internal IEnumerable<int> Pages => Page is { } page ? Others.Prepend(page) : Others;

    /// <summary>A sign that its facts show: their sum is at stake, and the first of them names it.</summary>
    internal static Sign Of(SignKind kind, int? cluster, int? page, int? other, ImmutableArray<SignFact> facts, int? otherCluster = null) =>
        new(kind, cluster, facts.FirstOrDefault(f => f.Keyword is not null).Keyword, page, other is { } o ? [o] : [], facts.Sum(f => f.AtStake), facts, otherCluster);
}

/// <summary>One thing that shows a sign.</summary>
/// <param name="Keyword">Index of the keyword that tells it; null where none does.</param>
/// <param name="Position">Of the sign's page; 0 where it is not in the list. An average where search performance tells.</param>
/// <param name="OtherPosition">Of the other page, likewise; 0 where there is none.</param>
/// <param name="AtStake">Clicks per month that this adds.</param>
/// <param name="Share">What the kind measures, from 0 to 1: the other page's share of the impressions, how alike two titles are.</param>
/// <param name="Count">What the kind counts: pages between which impressions are split, changes of the best page; 0 for nothing.</param>
public readonly record struct SignFact(int? Keyword, double Position, double OtherPosition, double AtStake, double Share = 0, double Count = 0);
