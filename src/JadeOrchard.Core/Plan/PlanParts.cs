using System.Collections.Immutable;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Core.Plan;

/// <summary>A finding as far as steps are made from it.</summary>
/// <typeparam name="TPage">What pages are named by.</typeparam>
/// <typeparam name="TCluster">What clusters are named by.</typeparam>
/// <param name="Kind">What was decided about.</param>
/// <param name="Pages">Its pages, the one to keep or to mend first.</param>
/// <param name="Clusters">Its clusters, what is most at stake first.</param>
/// <param name="Signs">By what it shows itself.</param>
/// <param name="Says">What it says, in short: "4 keywords not mentioned".</param>
public sealed record DecidedFinding<TPage, TCluster>(
    FindingKind Kind, IReadOnlyList<TPage> Pages, IReadOnlyList<TCluster> Clusters, IReadOnlyList<DecidedSign<TPage, TCluster>> Signs, string Says)
    where TPage : struct
    where TCluster : struct;

/// <summary>A sign of it.</summary>
public sealed record DecidedSign<TPage, TCluster>(SignKind Kind, TPage? Page, IReadOnlyList<TPage> Others, TCluster? Cluster)
    where TPage : struct
    where TCluster : struct;

/// <summary>One thing that is to be done to a page.</summary>
/// <param name="Kind">What.</param>
/// <param name="Page">The page that is worked on.</param>
/// <param name="Other">The page that it leads to, is merged with or links to; null for none.</param>
/// <param name="Cluster">The cluster that it is for; null for none.</param>
/// <param name="Says">What the finding says, in short.</param>
public sealed record PlanPart<TPage, TCluster>(StepKind Kind, TPage Page, TPage? Other, TCluster? Cluster, string Says)
    where TPage : struct
    where TCluster : struct;

/// <summary>What follows for pages from a finding that was decided.</summary>
public static class PlanParts
{
    /// <summary>With more pages than this a finding is about what they share, and is one step on the first of them.</summary>
    public const int MostPages = 20;

    /// <param name="finding">The finding.</param>
    /// <param name="remedy">What was decided to do about it; null for what its kind suggests.</param>
    /// <param name="keep">The page that is kept; null for the first.</param>
    /// <param name="isAtHome">Whether a page has a cluster of its own beside those of the finding, so that it is not to be given up.</param>
    /// <returns>Nothing where only the planner can say what to do: for idle pages, and for what has no page yet.</returns>
    public static ImmutableArray<PlanPart<TPage, TCluster>> Of<TPage, TCluster>(DecidedFinding<TPage, TCluster> finding, Remedy? remedy, TPage? keep, Func<TPage, bool> isAtHome)
        where TPage : struct
        where TCluster : struct
    {
        if (finding.Pages.Count == 0)
            return [];
        var kept = keep ?? finding.Pages[0];
        TCluster? cluster = finding.Clusters is [var first, ..] ? first : null;
        List<TPage> others = [.. finding.Pages.Where(p => !p.Equals(kept))];
        PlanPart<TPage, TCluster> Part(StepKind kind, TPage page, TPage? other = null, TCluster? of = null) => new(kind, page, other, of ?? cluster, finding.Says);
        if (remedy is not null && others.Count > MostPages)
            others = others[..MostPages];
        return remedy switch
        {
            Remedy.Redirect => [.. others.Select(o => Part(StepKind.Redirect, o, kept))],
            Remedy.Merge => [.. others.Select(o => Part(StepKind.Merge, kept, o)), .. others.Select(o => Part(StepKind.Redirect, o, kept))],
            Remedy.Canonical => [.. others.Select(o => Part(StepKind.Canonical, o, kept))],
            Remedy.NewTarget => [.. (others.Count == 0 ? [kept] : others).Select(o => Part(StepKind.Refresh, o))],
            Remedy.Link when finding.Kind != FindingKind.MissingLinks => [.. others.Select(o => Part(StepKind.Link, o, kept))],
            _ => finding.Kind switch
            {
                FindingKind.PageGap => [Part(StepKind.Refresh, kept)],
                FindingKind.Conflict => [.. others.Take(MostPages).SelectMany<TPage, PlanPart<TPage, TCluster>>(o => isAtHome(o) ? [Part(StepKind.Refresh, o)] : [Part(StepKind.Merge, kept, o), Part(StepKind.Redirect, o, kept)])],
                FindingKind.Twins when finding.Pages.Count > MostPages => [Part(StepKind.Retitle, kept)],
                FindingKind.Twins => [.. others.Select(o => finding.Signs.Any(s => s.Kind == SignKind.TwinTexts) && !isAtHome(o) ? Part(StepKind.Canonical, o, kept) : Part(StepKind.Retitle, o))],
                FindingKind.MissingLinks => [.. finding.Signs.Where(s => s.Page is not null).SelectMany(s => s.Others.Select(o => Part(StepKind.Link, s.Page!.Value, o, s.Cluster)))],
                _ => [],
            },
        };
    }

    /// <summary>Parts that do not contradict each other: a page that is given up gets nothing else, and nothing leads to it or is merged into it.</summary>
    /// <param name="parts">What matters most first: of two that contradict each other the first stays.</param>
    /// <returns>Each part once, in the same order.</returns>
    public static ImmutableArray<PlanPart<TPage, TCluster>> Agreeing<TPage, TCluster>(IReadOnlyList<PlanPart<TPage, TCluster>> parts)
        where TPage : struct
        where TCluster : struct
    {
        var (givenUp, kept, how) = (new Dictionary<TPage, TPage>(), new HashSet<TPage>(), new Dictionary<TPage, StepKind>());
        foreach (var part in parts.Where(p => p.Kind is StepKind.Redirect or StepKind.Canonical && p.Other is not null))
        {
            var to = part.Other!.Value;
            while (givenUp.TryGetValue(to, out var further))
                to = further;
            if (kept.Contains(part.Page) || givenUp.ContainsKey(part.Page) || to.Equals(part.Page))
                continue;
            (givenUp[part.Page], how[part.Page]) = (to, part.Kind);
            kept.Add(to);
        }

        var agreeing = ImmutableArray.CreateBuilder<PlanPart<TPage, TCluster>>();
        var seen = new HashSet<(StepKind, TPage, TPage?)>();
        foreach (var part in parts)
        {
            var isGivingUp = part.Kind is StepKind.Redirect or StepKind.Canonical;
            if (isGivingUp != givenUp.ContainsKey(part.Page) || (isGivingUp && how[part.Page] != part.Kind) || (part.Kind == StepKind.Merge && !(part.Other is { } merged && givenUp.ContainsKey(merged))))
                continue;
            var other = part.Kind == StepKind.Merge ? part.Other : isGivingUp ? givenUp[part.Page] : part.Other is { } to && givenUp.TryGetValue(to, out var end) ? end : part.Other;
            if (!(other is { } o && o.Equals(part.Page)) && seen.Add((part.Kind, part.Page, other)))
                agreeing.Add(part.Other.Equals(other) ? part : part with { Other = other });
        }

        return agreeing.ToImmutable();
    }

    /// <summary>What is to be done before what: a page before links, redirects and canonicals to it, a merge before the redirect that follows it, a pillar before what supports it.</summary>
    /// <param name="steps">The parts of each step, which are of one page.</param>
    /// <param name="pillarOf">The page of the pillar of a cluster's topic; null where there is none or it is the pillar itself.</param>
    /// <returns>Pairs of indexes: the first before the second.</returns>
    public static ImmutableArray<(int First, int Then)> Before<TPage, TCluster>(IReadOnlyList<IReadOnlyList<PlanPart<TPage, TCluster>>> steps, Func<TCluster, TPage?> pillarOf)
        where TPage : struct
        where TCluster : struct
    {
        var making = new Dictionary<TPage, int>();
        for (var i = 0; i < steps.Count; i++)
        {
            if (steps[i] is [var part, ..] && steps[i].Any(IsMaking))
                making.TryAdd(part.Page, i);
        }

        var pairs = new HashSet<(int, int)>();
        for (var i = 0; i < steps.Count; i++)
        {
            foreach (var part in steps[i])
            {
                if (part.Other is { } other && part.Kind is StepKind.Link or StepKind.Redirect or StepKind.Canonical && !steps[i].Any(IsMaking) && making.TryGetValue(other, out var maker) && maker != i)
                    pairs.Add((maker, i));
                if (part.Kind == StepKind.Write && part.Cluster is { } cluster && pillarOf(cluster) is { } pillar && making.TryGetValue(pillar, out var top) && top != i
                    && steps[top].Any(p => p.Kind == StepKind.Write))
                    pairs.Add((top, i));
            }
        }

        return [.. pairs.Order()];

        static bool IsMaking(PlanPart<TPage, TCluster> part) => part.Kind is StepKind.Write or StepKind.Merge;
    }
}
