namespace JadeOrchard.Core.Keywords;

/// <summary>How crowded the titles are for a keyword: title matches ÷ volume; lower is better.</summary>
/// <remarks>Common practice, meant for volumes up to about 250.</remarks>
public static class TitleCompetition
{
    /// <summary>Below it the words are little used in titles.</summary>
    public const double LittleUsed = 0.25;

    /// <summary>Up to it the titles are contested; above, crowded.</summary>
    public const double Contested = 1;

    /// <returns>Null where the title matches are unknown or there is no volume; unknown is not zero.</returns>
    public static double? Of(long? titleMatches, long? volume) =>
        titleMatches is { } matches && volume is > 0 ? (double)matches / volume.Value : null;
}
