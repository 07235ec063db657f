namespace JadeOrchard.Core.Clusters;

/// <summary>What decides how keywords are grouped.</summary>
/// <param name="Depth">Positions that are compared, from 1 to 100.</param>
/// <param name="MinOverlap">Shared results that link two keywords (common practice: 3 or 4 of the first 10).</param>
/// <param name="Rule">How links become clusters.</param>
public sealed record ClusterSettings(int Depth = 10, int MinOverlap = 4, LinkingRule Rule = LinkingRule.Primary)
{
    public const int MaxDepth = 100;

    /// <returns>What is wrong with the settings, in words; null where nothing is.</returns>
    public string? Fault() =>
        Depth is < 1 or > MaxDepth ? $"Depth must be from 1 to {MaxDepth}, not {Depth}."
        : MinOverlap < 1 || MinOverlap > Depth ? $"Minimum overlap must be from 1 to the depth ({Depth}), not {MinOverlap}."
        : null;
}
