using System.Collections.Immutable;

namespace JadeOrchard.Core.PageMap;

/// <summary>Which page of the site is suggested for a cluster, and how far it can be trusted.</summary>
/// <param name="Candidates">The strongest pages, best first, at most <see cref="PageCandidates.Kept"/>.</param>
/// <param name="Page">The suggested page; null where the verdict is none.</param>
/// <param name="Verdict">See <see cref="PageMap.Verdict"/>.</param>
/// <param name="LostTo">The cluster that got this cluster's strongest page instead; null where none did.</param>
public sealed record ClusterSuggestion(
    ImmutableArray<PageEvidence> Candidates, int? Page, Verdict Verdict, int? LostTo)
{
    /// <summary>How <see cref="Findings.MappedPage"/> has it as long as nothing is decided.</summary>
    /// <param name="isTaken">True for a page that is suggested for some cluster.</param>
    public Findings.MappedPage AsMapped(Func<int, bool> isTaken) => PageSuggestions.Undecided([.. Candidates.Select(CandidateStrength.Of)], Page, isTaken);

    /// <summary>The strength of the suggested page; of the strongest one where none is suggested; 0 without any.</summary>
    public double Strength => (Candidates.FirstOrDefault(c => c.Page == Page) ?? Candidates.FirstOrDefault())?.Strength ?? 0;
}
