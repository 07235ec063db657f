using System.Diagnostics;
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

    /// <summary>Others may write between the steps before it and this one, in a derivation that gives way.</summary>
    bool MayGiveWayBefore => true;
}

/// <summary>All that follows from what was written, in order; in the same transaction as its cause.</summary>
internal static class Chain
{
    /// <summary>Grows when a rule changes, so that what was derived by the old one is computed again at the next start.</summary>
    public const long Version = 4;

    public static readonly IReadOnlyList<IDerivedStep> Steps =
    [
        new KeywordCaptures(),
        new PerformanceSums(),
        new AdoptedPages(),
        new SubjectTerms(),
        new KeywordReadings(),
        new PageStems(),
        new ImageVersion(),
        new EvidenceVersion(),
        new QueryMentions(),
        new FadingPages(),
        new Seasons(),
        new PageStandings(),
        new ExpectedMembers(),
        new ClusterFacts(),
        new TopicMembership(),
        new TopicLinks(),
        new Fits(),
        new Suggestions(),
        new Findings(),
        new FindingStates(),
        new Coverage(),
    ];

    /// <summary>With more changes of the image in between, nobody is let in any more, or it would never come to an end.</summary>
    private const int MostBeginnings = 3;

    /// <param name="derivation">Of what was touched.</param>
    /// <param name="letOthers">Lets others write where they wait, and returns what they touched; null where nobody is let in.</param>
    /// <remarks>
    /// What others touch is derived together with the rest: steps that ran look at it by itself, then those go on that did not run. That is exact as long as
    /// each step that did not run looks at everything anyway, as it does after a change of the image or of the grouping.
    /// </remarks>
    public static void Run(Derivation derivation, Func<Touched>? letOthers = null)
    {
        var session = derivation.Session;
        var touched = session.TakeTouched();
        if (touched.IsEmpty)
            return;
        // For each step what was touched since it ran.
        Touched[] due = [.. Steps.Select(_ => new Touched())];
        var mayGiveWay = letOthers is not null && touched.Any(Data.Image | Data.Grouping);
        var (reached, beginnings) = (0, 1);
        Spread(touched, 0);
        for (var i = 0; i < Steps.Count; i++)
        {
            var step = Steps[i];
            if (mayGiveWay && i >= reached && step.MayGiveWayBefore && letOthers!() is { IsEmpty: false } arrived)
            {
                var isAnew = arrived.Any(Data.Image | Data.Grouping);
                mayGiveWay = !isAnew || ++beginnings <= MostBeginnings;
                reached = isAnew ? 0 : i;
                derivation.BeginAgain();
                Spread(arrived, 0);
                i = -1;
                continue;
            }

            if (!due[i].Any(step.Reads))
                continue;
            (derivation.Touched, due[i]) = (due[i], new Touched());
            var begun = Stopwatch.GetTimestamp();
            step.Run(derivation);
            derivation.Project.StepTook(step.GetType().Name, (long)Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
            Memory.Collect();
            var written = session.TakeTouched();
            if ((written.Kinds & ~(derivation.Touched.Kinds | step.Writes)) is not Data.None and var undeclared)
                throw new InvalidOperationException($"{step.GetType().Name} writes {undeclared}, which it does not declare.");
            Spread(written, i + 1);
        }

        void Spread(Touched some, int first)
        {
            derivation.Pass.Add(some);
            for (var i = first; i < due.Length; i++)
                due[i].Add(some);
        }
    }
}
