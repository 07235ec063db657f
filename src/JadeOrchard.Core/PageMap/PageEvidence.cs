namespace JadeOrchard.Core.PageMap;

/// <summary>How well a page fits a cluster, with the parts of which it is made.</summary>
/// <param name="Page">Index of the page.</param>
/// <param name="Results">0 to 1, by <see cref="ResultsEvidence"/>.</param>
/// <param name="Text">0 to 1, by <see cref="TextEvidence"/>; null where nothing is known of the page but its URL.</param>
public sealed record PageEvidence(int Page, double Results, double? Text)
{
    private const double ResultsWeight = 0.45;
    private const double TextWeight = 0.25;

    /// <summary>0 to 100: the weighted mean of the evidence there is; missing evidence is re-weighted.</summary>
    /// <remarks>The weights are those of the full rule, in which search performance has the remaining 0.30.</remarks>
    public double Strength { get; } = Text is { } text
        ? 100 * ((ResultsWeight * Results) + (TextWeight * text)) / (ResultsWeight + TextWeight)
        : 100 * Results;
}
