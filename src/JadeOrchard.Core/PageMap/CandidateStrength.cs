namespace JadeOrchard.Core.PageMap;

/// <summary>What suggestions need of a <see cref="PageEvidence"/>: 24 bytes, so that it can be held for every cluster.</summary>
/// <param name="Page">Index of the page.</param>
/// <param name="Strength">0 to 100.</param>
/// <param name="Named">See <see cref="PageEvidence.Named"/>.</param>
/// <param name="IsSeen">It is in the results or was visited.</param>
/// <param name="IsCandidate">See <see cref="PageEvidence.IsCandidate"/>.</param>
public readonly record struct CandidateStrength(int Page, double Strength, double Named, bool IsSeen, bool IsCandidate)
{
    public static CandidateStrength Of(PageEvidence evidence) =>
        new(evidence.Page, evidence.Strength, evidence.Named, evidence.Results > 0 || evidence.Performance > 0, evidence.IsCandidate);

    /// <summary>It can be suggested.</summary>
    public bool IsPossible => Strength >= PageSuggestions.DoubtfulStrength && IsCandidate;
}
