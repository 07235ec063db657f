namespace JadeOrchard.Core.Keywords;

/// <summary>One search phrase with what its research source said of it.</summary>
/// <param name="Phrase">As it was first given.</param>
/// <param name="NormalForm">Its identity, by <see cref="KeywordNormalForm"/>.</param>
/// <param name="Volume">Searches per month in the market, an estimate; null when unknown.</param>
/// <param name="Difficulty">0 to 100, from the source; null when unknown.</param>
/// <param name="TitleMatches">Indexed pages with every word in their title; null is unknown, not zero.</param>
/// <param name="Intent">Null when the source did not say.</param>
/// <param name="Cpc">Cost per click in the source's currency; null when unknown.</param>
/// <param name="Monthly">Searches month by month; null when unknown, and where only the rules of grouping read it.</param>
public sealed record Keyword(
    string Phrase,
    string NormalForm,
    long? Volume = null,
    double? Difficulty = null,
    long? TitleMatches = null,
    Intent? Intent = null,
    double? Cpc = null,
    MonthlyVolumes? Monthly = null)
{
    /// <summary>No count of searches or pages is greater; what says so is wrong.</summary>
    public const long MostCounted = 1_000_000_000_000;

    /// <summary>
    /// What a later row about the same keyword adds: its values replace these where it has any, the phrase stays as
    /// it was first given.
    /// </summary>
    public Keyword UpdatedBy(Keyword later) => this with
    {
        Volume = later.Volume ?? Volume,
        Difficulty = later.Difficulty ?? Difficulty,
        TitleMatches = later.TitleMatches ?? TitleMatches,
        Intent = later.Intent ?? Intent,
        Cpc = later.Cpc ?? Cpc,
        Monthly = later.Monthly ?? Monthly,
    };
}
