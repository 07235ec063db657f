using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Server.Services;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Briefs;

namespace JadeOrchard.Server.Briefs;

/// <summary>Asks the drafting service.</summary>
/// <param name="For">The question or heading that the text is for; null for the page as a whole.</param>
public sealed record AskDraftRequest(DraftKind Kind, string? For = null);

/// <summary>What the drafting service wrote.</summary>
public sealed record DraftedView(IReadOnlyList<WrittenText> Texts);

/// <summary>Texts of the drafting service. They are marked until the planner accepts them, and never required.</summary>
public static class DraftingEndpoints
{
    private const int MostAlternatives = 5, LongestAlternative = 20_000, MostFacts = 12;

    public static void MapDrafting(this RouteGroupBuilder api) =>
        api.MapPost("/briefs/{id:long}/draft", async Task<Results<Ok<DraftedView>, ProblemHttpResult>> (BriefId id, AskDraftRequest request, Project project, OutsideServices services, CancellationToken stop) =>
            {
                if (project.Read(session => BriefStore.Find(session, id) is { } found ? (found, ProjectStore.Get(session).Language, ProjectStore.Settings(session).Briefs.Notes, FactsOf(session, found.Brief, request)) : default((StoredBrief, string, string, List<string>)?))
                    is not var (stored, language, notes, facts))
                {
                    return BriefEndpoints.NoBrief(id);
                }

                var brief = stored.Brief;
                var asked = new DraftRequest(
                    request.Kind.ToString().ToLowerInvariant(), language, brief.Primary, [.. brief.Keywords.Select(k => k.Phrase)], brief.Questions, [.. brief.Terms.Select(t => t.Text)],
                    [.. brief.Outline.Sections.Select(s => s.Heading)], facts, request.For is { Length: > 0 } ? request.For : null, stored.Notes.Length > 0 ? stored.Notes : notes.Length > 0 ? notes : null);
                DraftAnswer answer;
                try
                {
                    answer = await services.Ask<DraftAnswer>(ServiceName.Drafting, "draft", stop, asked, Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes($"{id} {stored.Edits.Written?.Count} {JsonSerializer.Serialize(asked)}"))));
                }
                catch (ServiceException e)
                {
                    return Problems.Conflict(e.Message);
                }

                List<WrittenText> texts =
                [
                    .. (answer.Alternatives ?? []).Select(a => request.Kind == DraftKind.Outline ? a.Trim() : a.ReplaceLineEndings(" ").Trim()).Where(a => a.Length is > 0 and <= LongestAlternative).Distinct(StringComparer.Ordinal)
                        .Take(MostAlternatives).Select(a => new WrittenText(request.Kind, request.For ?? "", a, false)),
                ];
                if (texts.Count == 0)
                    return Problems.Conflict("The drafting service sent no text.");
                return project.Change<DraftedView>("Ask the drafting service", session =>
                {
                    if (BriefStore.Find(session, id) is not { } now)
                        return BriefEndpoints.NoBrief(id);
                    // What was offered for the same before and not taken makes room.
                    BriefStore.Change(session, now with { Edits = now.Edits with { Written = [.. (now.Edits.Written ?? []).Where(w => w.IsAccepted || w.Kind != request.Kind || w.For != (request.For ?? "")), .. texts] } });
                    return new DraftedView(texts);
                }).ToOk();
            })
            .WithName("askDraft");

    /// <summary>Sentences of our own page that come closest to what is asked for, and what the brief knows.</summary>
    private static List<string> FactsOf(Session session, Brief brief, AskDraftRequest request)
    {
        var language = ProjectStore.Get(session).Language;
        var facts = new List<string>();
        if (Storage.Site.PageStore.FindByIdentity(session, Core.Site.UrlIdentity.TryOf(brief.Url, Core.Site.UrlFolds.All, out var identity) ? identity : brief.Url) is { } page && BriefStore.OwnText(session, page.Id) is { } own)
        {
            using var analysis = new TextAnalysis(language);
            var placement = new Placement(own, [], analysis, language);
            var wanted = request.For is { Length: > 0 } what ? [what] : brief.Keywords.Select(k => k.Phrase).Concat(brief.Terms.Select(t => t.Text));
            facts.AddRange(wanted.Select(w => placement.Of(w).FirstOrDefault(p => p.Place == TextPlace.Body)?.Passage ?? placement.Closest(w)).OfType<string>().Distinct(StringComparer.Ordinal).Take(MostFacts));
        }

        return facts;
    }
}
