namespace JadeOrchard.Core.Keywords;

/// <summary>What unknown numbers of keywords count as: the project's medians. They are shown as unknown all the same.</summary>
/// <param name="Volume">Searches per month.</param>
/// <param name="Difficulty">0 to 100.</param>
public readonly record struct Medians(long Volume, double Difficulty)
{
    /// <summary>Searches per month of every keyword where none has a volume (from memory): then all weigh the same, and what is at stake orders by their number.</summary>
    public const long WhenNoneIsKnown = 100;

    /// <returns>The medians of what is known; of two in the middle the lower one.</returns>
    public static Medians Of(IReadOnlyList<Keyword> keywords)
    {
        long[] volumes = [.. keywords.Select(k => k.Volume).OfType<long>().Order()];
        double[] difficulties = [.. keywords.Select(k => k.Difficulty).OfType<double>().Order()];
        return new Medians(volumes.Length == 0 ? WhenNoneIsKnown : volumes[(volumes.Length - 1) / 2], difficulties.Length == 0 ? 0 : difficulties[(difficulties.Length - 1) / 2]);
    }

    /// <returns>The keyword with its unknown numbers filled in.</returns>
    public Keyword Fill(Keyword keyword) => keyword is { Volume: not null, Difficulty: not null } ? keyword : keyword with { Volume = keyword.Volume ?? Volume, Difficulty = keyword.Difficulty ?? Difficulty };
}
