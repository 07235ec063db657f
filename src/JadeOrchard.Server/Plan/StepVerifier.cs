using System.Text.Json;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Plan;

/// <summary>Looks for what is done in the plan in what scans read.</summary>
internal static class StepVerifier
{
    /// <summary>Steps that are done go live where all of it was found; the others keep the reason.</summary>
    public static void Verify(Project project)
    {
        if (project.Read(session => StepStore.All(session).All(s => s.Status != StepStatus.Done && !(s.Status.IsOpen() && s.Parts.Any(IsOpenLink)))))
            return;
        project.Change("Check what is done in the plan", (WriteSession session) =>
        {
            using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
            foreach (var step in StepStore.All(session).Where(s => s.Status == StepStatus.Done || (s.Status.IsOpen() && s.Parts.Any(IsOpenLink))))
            {
                if (PageStore.Seen(session, step.PageId) is not { } page)
                    continue;
                if (step.Status == StepStatus.Done)
                {
                    StepStore.SaveFound(session, step, [.. step.Parts.Select(part => Check(session, step.PageId, page, part, part.Work is null ? MissingHeadings(session, step.PageId, page, analysis) : [], analysis))], project.Now);
                    continue;
                }

                // A link that is there needs nobody to say so.
                foreach (var part in step.Parts.Where(IsOpenLink))
                {
                    if (Check(session, step.PageId, page, part, [], analysis) is { IsFound: true } found)
                        StepStore.CheckOff(session, part.Id, found.Says);
                }
            }
        });
    }

    private static bool IsOpenLink(StepPart part) => part is { Kind: StepKind.Link, IsFound: not true };

    /// <returns>What the outline of the page's brief asks for and the page does not have.</returns>
    private static IReadOnlyList<string> MissingHeadings(Session session, PageId pageId, SeenPage page, TextAnalysis analysis) => StepChecks.MissingHeadings(
        BriefStore.OfPage(session, pageId).SelectMany(b => b.Brief.Outline.Sections).Select(s => s.Heading), page.H1 is { } h1 ? [h1, .. page.Headings] : page.Headings, analysis);

    private static (bool IsFound, string Says) Check(Session session, PageId pageId, SeenPage page, StepPart part, IReadOnlyList<string> missingHeadings, TextAnalysis analysis) =>
        part is { Work: { } work and not QueryWork.Title, Query: { } query } && page.IsScanned ? CheckQuery(session, pageId, part, work, query, analysis) : StepChecks.Of(
            part.Kind, page,
            part.OtherPageId is { } other && PageStore.Seen(session, other) is { } seen ? (seen.Identity, part.OtherUrl!) : null,
            part.Before is null ? [] : JsonSerializer.Deserialize<string[]>(part.Before)!,
            part.FindingKey is { } key && FindingStore.Find(session, key) is { State: not Core.Findings.FindingState.Resolved } finding ? finding.Says : null, missingHeadings);

    private static (bool IsFound, string Says) CheckQuery(Session session, PageId pageId, StepPart part, QueryWork work, string query, TextAnalysis analysis)
    {
        var language = ProjectStore.Get(session).Language;
        var (text, page) = (BriefStore.OwnText(session, pageId), PageStore.Find(session, pageId));
        Mention? mention = text is { Paragraphs.Count: > 0 } ? new PageMentions(text, analysis, language).Of(KeywordNormalForm.Of(query, language)) : null;
        var before = part.Before is null ? null : JsonSerializer.Deserialize<string[]>(part.Before)!.FirstOrDefault();
        return QueryWorkText.Check(work, query, mention, before, page?.Description);
    }
}
