using JadeOrchard.Storage;

namespace JadeOrchard.Server.Derived;

/// <summary>One thing that follows from other data: loads what its rule needs, computes, saves.</summary>
/// <remarks>
/// What is stored equals what computing everything from scratch gives, whatever the order of changes. To add one, write a file with a class of this kind and
/// add a line to <see cref="Chain"/>.
/// </remarks>
internal interface IDerivedStep
{
    /// <summary>It runs when one of these was touched, by the change or by a step before it.</summary>
    Data Reads { get; }

    /// <summary>What it touches in turn for the steps after it; none for what no other step reads.</summary>
    Data Writes { get; }

    void Run(Derivation derivation);
}

/// <summary>All that follows from what was written, in order; in the same transaction as its cause.</summary>
internal static class Chain
{
    /// <summary>Grows when a rule changes, so that what was derived by the old one is computed again at the next start.</summary>
    public const long Version = 1;

    public static readonly IReadOnlyList<IDerivedStep> Steps =
    [
        new KeywordReadings(),
        new KeywordCaptures(),
        new PerformanceSums(),
        new AdoptedPages(),
        new ImageVersion(),
        new EvidenceVersion(),
        new PageStems(),
        new PageStandings(),
        new ClusterFacts(),
        new TopicMembership(),
        new TopicLinks(),
        new Fits(),
        new Suggestions(),
        new Findings(),
        new FindingStates(),
        new Coverage(),
    ];

    public static void Run(Derivation derivation)
    {
        if (derivation.Touched.IsEmpty)
            return;
        foreach (var step in Steps)
        {
            if (!derivation.Touched.Any(step.Reads))
                continue;
            var before = derivation.Touched.Kinds;
            step.Run(derivation);
            Memory.Collect();
            if ((derivation.Touched.Kinds & ~(before | step.Writes)) is not Data.None and var undeclared)
                throw new InvalidOperationException($"{step.GetType().Name} writes {undeclared}, which it does not declare.");
        }
    }
}
