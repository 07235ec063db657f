using System.Globalization;
using System.Text.Json;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Team;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Keywords;

/// <summary>Keeps keywords out of clusters.</summary>
/// <param name="Reason">Why they are not wanted.</param>
public sealed record DeclineRequest(KeywordSelection Selection, string Reason);

/// <summary>A keyword with what every source said of it, and why a value is in force.</summary>
/// <param name="Choices">For each field on which the planner chose, the source; for the others the newest counts.</param>
/// <param name="Variants">Its close variants.</param>
/// <param name="Lists">The lists in which it stands.</param>
public sealed record KeywordDetail(
    KeywordRow Keyword, IReadOnlyList<SourceValue> Sources, IReadOnlyDictionary<KeywordField, SourceId> Choices, IReadOnlyList<KeywordRow> Variants, IReadOnlyList<ListName> Lists);

/// <summary>Keywords pasted, a line each.</summary>
/// <param name="ListId">The list that they also come into; null for none.</param>
public sealed record PasteRequest(string Text, ListId? ListId = null);

/// <summary>What came of pasted keywords.</summary>
/// <param name="Rejected">Lines of which nothing that can be searched for is left.</param>
public sealed record PasteAnswer(int Added, int Known, int Rejected, SourceId SourceId);

/// <summary>Chooses the source whose value counts; null for the newest.</summary>
public sealed record ChoiceRequest(KeywordField Field, SourceId? SourceId = null);

/// <summary>A value that the planner enters.</summary>
public sealed record ManualValueRequest(long? Volume = null, double? Difficulty = null, Intent? Intent = null);

/// <summary>Merges close variants into one keyword.</summary>
public sealed record MergeRequest(KeywordId KeepId, IReadOnlyList<KeywordId> Ids);

/// <summary>How many keywords a change was about.</summary>
public sealed record ChangedAnswer(int Count);

/// <summary>Groups of close variants.</summary>
public sealed record VariantsAnswer(IReadOnlyList<VariantGroup> Groups, long Total);

/// <summary>The researched keywords: bring, sift, merge, correct.</summary>
public static class KeywordEndpoints
{
    private const int MostPasted = 2_000_000;
    private const int ModifiersShown = 400;
    private const int LongestReason = 300;

    /// <summary>"Jun | Jul"; empty for none.</summary>
    internal static string? Peaks(Season? season) => season is null ? null : string.Join(" | ", season.Peaks.Select(CultureInfo.InvariantCulture.DateTimeFormat.GetAbbreviatedMonthName));

    public static void MapKeywords(this RouteGroupBuilder api)
    {
        api.MapGet("/keywords", ([AsParameters] Listing listing, [AsParameters] KeywordFilter filter, Project project) =>
                project.Read(session => KeywordStore.List(session, listing.ToQuery(), filter)))
            .WithName("keywords");

        api.MapGet("/keywords.csv", ([AsParameters] Listing listing, [AsParameters] KeywordFilter filter, Project project) => Listing.Csv(
                "keywords.csv",
                ["keyword", "volume", "difficulty", "title_matches", "title_competition", "intent", "intent_told_by", "cpc", "captured_on", "capture_state", "cluster", "page", "declined_for", "trend", "peak_months", "monthly_volumes", "monthly_volumes_are"],
                project.Read(session => KeywordStore.List(session, listing.ToExport(), filter)).Rows.Select(k => new object?[]
                {
                    k.Phrase, k.Volume, k.Difficulty, k.TitleMatches, k.TitleCompetition is { } c ? Math.Round(c, 3) : null, k.Intent?.ToString().ToLowerInvariant(), k.IntentToldBy, k.Cpc,
                    k.CapturedOn?.ToString("yyyy-MM-dd", null), k.Capture.ToString().ToLowerInvariant(), k.ClusterName, k.PageUrl, k.DeclinedFor,
                    k.Season?.Direction.ToString().ToLowerInvariant(), Peaks(k.Season), k.Season is null ? null : string.Join('|', k.Season.Volumes), k.Season is null ? null : k.Season.IsCounted ? "counted" : "estimated",
                })))
            .ExcludeFromDescription();

        api.MapPost("/keywords/tally", (KeywordSelection selection, Project project) => project.Read(session => KeywordStore.Tally(session, selection))).ForReaders().WithName("keywordTally");

        api.MapGet("/keywords/sources", (Project project) => project.Read(SourceStore.All)).WithName("sources");

        api.MapGet("/keywords/modifiers", ([AsParameters] KeywordFilter filter, string? search, Project project) =>
                Modifiers.Of(project.Read(session => KeywordStore.Words(session, search, filter)), ModifiersShown))
            .WithName("modifiers");

        api.MapGet("/keywords/variants", ([AsParameters] Listing listing, [AsParameters] KeywordFilter filter, Project project) =>
            {
                var (groups, total) = project.Read(session => KeywordStore.Variants(session, listing.ToQuery(), filter));
                return new VariantsAnswer(groups, total);
            })
            .WithName("variants");

        api.MapGet("/keywords/{id:long}", Results<Ok<KeywordDetail>, ProblemHttpResult> (KeywordId id, Project project) =>
                project.Read<Results<Ok<KeywordDetail>, ProblemHttpResult>>(session => KeywordStore.Find(session, id) is { } keyword
                    ? TypedResults.Ok(new KeywordDetail(
                        keyword,
                        SourceStore.Of(session, id),
                        SourceStore.Choices(session, id),
                        KeywordStore.VariantsOf(session, id),
                        ListStore.Of(session, id)))
                    : NoKeyword(id)))
            .WithName("keyword");

        api.MapPut("/keywords/{id:long}/choice", Results<NoContent, ProblemHttpResult> (KeywordId id, ChoiceRequest request, Project project) => Changed(project, id, "Choose a source", session =>
            {
                if (request.SourceId is { } source && !SourceStore.Knows(session, source, id))
                    return Problems.Invalid("sourceId", "That source said nothing of this keyword.");
                SourceStore.Choose(session, id, request.Field, request.SourceId);
                return null;
            }))
            .WithName("chooseSource");

        api.MapPut("/keywords/{id:long}/value", Results<NoContent, ProblemHttpResult> (KeywordId id, ManualValueRequest request, Project project) => Changed(project, id, "Set a value", session =>
            {
                if (request.Volume is < 0 or > Keyword.MostCounted)
                    return Problems.Invalid("volume", $"The volume must be from 0 to {Keyword.MostCounted.ToString("N0", CultureInfo.InvariantCulture)}.");
                if (request.Difficulty is < 0 or > 100)
                    return Problems.Invalid("difficulty", "The difficulty must be from 0 to 100.");
                var source = SourceStore.Touch(session, SourceKind.Hand, "by hand", project.Now);
                var phrase = KeywordStore.Find(session, id)!.Phrase;
                using (var writer = new KeywordStore.Writer(session, source, project.Now))
                {
                    writer.Write(new Keyword(phrase, KeywordNormalForm.Of(phrase, ProjectStore.Get(session).Language), request.Volume, request.Difficulty, null, request.Intent));
                    writer.Finish();
                }

                foreach (var field in new[] { (KeywordField.Volume, request.Volume is not null), (KeywordField.Difficulty, request.Difficulty is not null), (KeywordField.Intent, request.Intent is not null) })
                {
                    if (field.Item2)
                        SourceStore.Choose(session, id, field.Item1, source);
                }

                return null;
            }))
            .WithName("giveValue");

        api.MapPost("/keywords/paste", Results<Ok<PasteAnswer>, ProblemHttpResult> (PasteRequest request, Project project) =>
            {
                if (request.Text.Length > MostPasted)
                    return Problems.Invalid("text", "That is too much to paste at once. Save it as a file and import that.");
                if (ListEndpoints.Unknown(project, request.ListId) is { } unknown)
                    return unknown;
                var lines = request.Text.Split('\n').Select(l => l.Trim()).Where(l => l.Length > 0).ToList();
                var language = project.Read(ProjectStore.Get).Language;
                var good = lines.Select(l => new Keyword(l, KeywordNormalForm.Of(l, language))).Where(k => k.NormalForm.Length is > 0 and <= 500).ToList();
                if (good.Count == 0)
                    return Problems.Invalid("text", "There is no keyword in it. Write one a line.");
                return project.Change<PasteAnswer>(
                    good.Count == 1 ? "Paste a keyword" : $"Paste {good.Count.ToString("N0", CultureInfo.InvariantCulture)} keywords",
                    session =>
                    {
                        var before = KeywordStore.Count(session);
                        var source = SourceStore.Touch(session, SourceKind.Paste, "pasted " + project.Now.UtcDateTime.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture), project.Now);
                        var ids = new List<KeywordId>();
                        using (var writer = new KeywordStore.Writer(session, source, project.Now))
                        {
                            ids.AddRange(good.Select(k => writer.Write(k)));
                            writer.Finish();
                        }

                        if (request.ListId is { } list)
                            ListStore.Add(session, list, new KeywordSelection(ids));
                        var added = (int)(KeywordStore.Count(session) - before);
                        return new PasteAnswer(added, ids.Distinct().Count() - added, lines.Count - good.Count, source);
                    }).ToOk();
            })
            .WithName("pasteKeywords");

        api.MapPost("/keywords/remove", (KeywordSelection selection, Project project) =>
                project.Change<ChangedAnswer>("Delete keywords", session => new ChangedAnswer(KeywordStore.Remove(session, selection))).ToOk())
            .WithName("removeKeywords");

        api.MapPost("/keywords/decline", Results<Ok<ChangedAnswer>, ProblemHttpResult> (DeclineRequest request, Project project) =>
            {
                if (string.IsNullOrWhiteSpace(request.Reason) || request.Reason.Length > LongestReason)
                    return Problems.Invalid("reason", $"Say in up to {LongestReason} characters why these keywords are not wanted, so that it is known next time.");
                return project.Change<ChangedAnswer>(
                    "Decline keywords", session => new ChangedAnswer(KeywordStore.Decline(session, request.Selection, request.Reason.ReplaceLineEndings(" ").Trim(), project.Now))).ToOk();
            })
            .WithName("declineKeywords");

        api.MapPost("/keywords/take-back", (KeywordSelection selection, Project project) =>
                project.Change<ChangedAnswer>("Take declined keywords back", session => new ChangedAnswer(KeywordStore.TakeBack(session, selection))).ToOk())
            .WithName("takeBackKeywords");

        api.MapPost("/keywords/merge", Results<NoContent, ProblemHttpResult> (MergeRequest request, Project project) => Changed(project, request.KeepId, "Merge close variants", session =>
            {
                if (request.Ids.Where(id => !KeywordStore.Exists(session, id)).Take(1).ToList() is [var missing])
                    return NoKeyword(missing);
                KeywordStore.Merge(session, request.KeepId, request.Ids);
                return null;
            }))
            .WithName("mergeKeywords");

        api.MapPost("/keywords/gather", Results<Accepted<JobView>, ProblemHttpResult> (GatherRequest request, Project project, JobRunner runner) =>
            {
                if (request.Fault() is { } fault)
                    return Problems.Invalid("seeds", fault);
                return JobEndpoints.Accepted(runner.Add(GatherJob.Name, request.Label, JsonSerializer.Serialize(request)));
            })
            .WithName("gather");
    }

    internal static ProblemHttpResult NoKeyword(KeywordId id) => Problems.NotFound($"There is no keyword {id}. It may have been merged or taken out.");

    /// <summary>One undoable change of a keyword.</summary>
    private static Results<NoContent, ProblemHttpResult> Changed(Project project, KeywordId keywordId, string label, Func<WriteSession, ProblemHttpResult?> change) =>
        project.Change(label, session => !KeywordStore.Exists(session, keywordId) ? NoKeyword(keywordId) : change(session)) is { } problem ? problem : TypedResults.NoContent();
}
