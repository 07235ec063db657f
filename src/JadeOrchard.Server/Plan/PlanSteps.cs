using System.Text.Json;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Plan;

/// <summary>Makes steps from decisions, and takes them back with them.</summary>
internal static class PlanSteps
{
    /// <summary>Adds what follows from findings that were accepted.</summary>
    public static IReadOnlyList<StepId> AddDecided(WriteSession session, IReadOnlyCollection<string> findingKeys, DateTimeOffset now)
    {
        var steps = StepStore.AddDecided(session, findingKeys, now);
        KeepWhatWas(session);
        return steps;
    }

    /// <summary>Adds the writing of planned pages.</summary>
    public static IReadOnlyList<StepId> AddPlanned(WriteSession session, IReadOnlyCollection<(PageId Page, ClusterId Cluster)> pages, DateTimeOffset now)
    {
        var steps = StepStore.Add(session, [.. pages.Select(p => new NewPart(StepKind.Write, p.Page, ClusterId: p.Cluster))], now);
        KeepWhatWas(session);
        return steps;
    }

    /// <summary>Takes back what was to be done about findings, and the steps that it made.</summary>
    public static void TakeBack(WriteSession session, IReadOnlyCollection<string> findingKeys)
    {
        foreach (var key in findingKeys)
            PlanStore.Retract(session, key);
        StepStore.TakeBack(session, findingKeys);
    }

    /// <summary>Keeps with each new part what a scan later compares with: titles that are to change, what texts have that are to be merged, and where the words of a link are.</summary>
    public static void KeepWhatWas(WriteSession session)
    {
        using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
        var stems = LinkPassages.StemsFor(ProjectStore.Get(session).Language);
        foreach (var (part, page, other) in StepStore.WithoutBefore(session))
        {
            var seen = PageStore.Seen(session, page);
            if (part.Kind == StepKind.Link)
            {
                var passage = LinkEndpoints.Passage(session, page, part.ClusterId, analysis, stems);
                StepStore.SaveBefore(session, part.Id, JsonSerializer.Serialize(passage is null ? [] : new[] { passage.Sentence }), passage?.Words);
                continue;
            }

            string[] before = part.Kind switch
            {
                StepKind.Write or StepKind.Retitle => [seen?.Title ?? "", part.Kind == StepKind.Retitle && part.Work is null ? seen?.H1 ?? "" : ""],
                StepKind.Merge when other is { } id && PageStore.Seen(session, id)?.Text is { } text => [.. StepChecks.OnlyIn(text, seen?.Text ?? "")],
                _ => [],
            };
            StepStore.SaveBefore(session, part.Id, JsonSerializer.Serialize(before));
        }
    }
}
