using System.Globalization;
using System.IO.Compression;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Formats.Briefs;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Topics;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Briefs;

/// <summary>A brief in the list of all.</summary>
/// <param name="Demand">Searches per month of the keywords; unknown volumes left out; estimated.</param>
/// <param name="Changes">How many things the planner changed.</param>
/// <param name="IsGone">Its cluster no longer exists.</param>
public sealed record BriefRow(
    BriefId Id, ClusterId ClusterId, string Primary, string Url, bool IsNew, int Keywords, long Demand, int? Words, BriefState State, string Writer, DateOnly? Due, int Changes, string MadeAt, string UpdatedAt, bool IsGone);

/// <summary>A brief with all of its contents.</summary>
/// <param name="Brief">As the planner has it.</param>
/// <param name="Edits">What the planner changed.</param>
/// <param name="Unserved">What no section serves yet.</param>
/// <param name="Unread">Ranking pages that were not read in the last 30 days.</param>
/// <param name="Notes">On tone and audience.</param>
/// <param name="Version">To be sent back with a change.</param>
public sealed record BriefView(BriefRow Row, Brief Brief, BriefEdits Edits, BriefUnserved Unserved, int Unread, string Notes, string Version);

/// <summary>What no section serves yet, in words.</summary>
public sealed record BriefUnserved(IReadOnlyList<string> Keywords, IReadOnlyList<string> Questions, IReadOnlyList<string> Terms);

/// <summary>Makes briefs.</summary>
/// <param name="ClusterIds">Those that have one keep it, with newer facts.</param>
public sealed record MakeBriefsRequest(IReadOnlyList<ClusterId> ClusterIds);

/// <summary>The briefs that were made.</summary>
public sealed record MadeBriefs(IReadOnlyList<BriefId> Ids);

/// <summary>What is to be changed of a brief; null for what stays.</summary>
/// <param name="Edits">All of what the planner made of it; an empty one goes back to what is proposed.</param>
/// <param name="Due">A day; empty for none.</param>
public sealed record ChangeBriefRequest(BriefEdits? Edits = null, BriefState? State = null, string? Writer = null, string? Due = null, string? Notes = null, string? Version = null);

/// <summary>A text to check against a brief.</summary>
/// <param name="Text">Pasted, as plain text or Markdown; null for a file.</param>
/// <param name="FileName">Of a file: tells of what kind it is.</param>
/// <param name="Content">The file, as Base64.</param>
public sealed record CheckTextRequest(string? Text = null, string? FileName = null, string? Content = null);

/// <summary>What is in a text and what is missing.</summary>
/// <param name="Words">Of its main text.</param>
/// <param name="Target">How many it should have; null where nobody knows.</param>
public sealed record CheckedText(int Words, WordTarget? Target, string? Title, IReadOnlyList<CheckedPhrase> Keywords, IReadOnlyList<CheckedPhrase> Terms, IReadOnlyList<CheckedPhrase> Questions, IReadOnlyList<string> Headings, IReadOnlyList<string> Faults);

/// <summary>A keyword, term or question in a text.</summary>
/// <param name="Places">Where it is; none where it is missing.</param>
/// <param name="Belongs">For one that is missing, the sentence that comes closest; null where none does.</param>
/// <param name="IsOverused">It stands there more often, by the length of the text, than on nearly all ranking pages.</param>
public sealed record CheckedPhrase(string Phrase, IReadOnlyList<Placed> Places, string? Belongs, bool IsOverused);

/// <summary>Briefs: what a writer needs for one page.</summary>
public static class BriefEndpoints
{
    /// <summary>Each reads all texts of ranking pages.</summary>
    private const int MostMadeAtOnce = 20;
    private const int LongestText = 400_000;
    private const int LongestLine = 2_000;

    public static void MapBriefs(this RouteGroupBuilder api)
    {
        api.MapGet("/briefs", (BriefState? state, string? search, Project project) => project.Read(session =>
            {
                var clusters = ClusterStore.All(session).Select(c => c.Id).ToHashSet();
                return BriefStore.All(session).Select(b => RowOf(b, !clusters.Contains(b.ClusterId))).Where(b => (state is null || b.State == state)
                    && (string.IsNullOrWhiteSpace(search) || b.Primary.Contains(search.Trim(), StringComparison.OrdinalIgnoreCase) || b.Url.Contains(search.Trim(), StringComparison.OrdinalIgnoreCase) || b.Writer.Contains(search.Trim(), StringComparison.OrdinalIgnoreCase)));
            }))
            .WithName("briefs");

        api.MapPost("/briefs", Results<Ok<MadeBriefs>, ProblemHttpResult> (MakeBriefsRequest request, Project project) =>
            {
                if (request.ClusterIds is not { Count: > 0 and <= MostMadeAtOnce } ids)
                    return Problems.Invalid("clusterIds", $"Name 1 to {MostMadeAtOnce} clusters.");
                var made = project.Read((session, snapshot) => ids.Distinct().Select(id => (Id: id, Brief: BriefReader.Make(session, snapshot, id))).ToList());
                if (made.FirstOrDefault(m => m.Brief is null) is { Brief: null } missing && made.Any(m => m.Brief is null))
                    return Problems.NotFound($"There is no cluster {missing.Id}.");
                var briefs = new List<BriefId>();
                project.Change(made.Count == 1 ? "Make a brief" : $"Make {made.Count.ToString(CultureInfo.InvariantCulture)} briefs", (WriteSession session) =>
                {
                    foreach (var (id, brief) in made)
                    {
                        var (writer, due) = StepStore.OwnerOf(session, id);
                        briefs.Add(BriefStore.Save(session, id, brief!, writer, due, project.Now));
                    }
                });
                return TypedResults.Ok(new MadeBriefs(briefs));
            })
            .WithName("makeBriefs");

        api.MapGet("/briefs/{id:long}", Results<Ok<BriefView>, ProblemHttpResult> (BriefId id, Project project) =>
                project.Read((session, snapshot) => BriefStore.Find(session, id) is { } brief ? ViewOf(session, snapshot, brief, project.Now) : null) is { } view ? TypedResults.Ok(view) : NoBrief(id))
            .WithName("brief");

        api.MapPut("/briefs/{id:long}", Results<NoContent, ProblemHttpResult> (BriefId id, ChangeBriefRequest request, Project project) =>
            {
                if (FaultOf(request) is { } fault)
                    return fault;
                return project.Change(request.State is { } state ? $"Brief: {state.ToString().ToLowerInvariant()}" : "Change a brief", session =>
                {
                    if (BriefStore.Find(session, id) is not { } brief)
                        return NoBrief(id);
                    Project.RefuseStale(session, Thing.Brief(id), brief.Version, request.Version);
                    BriefStore.Change(session, brief with
                    {
                        Edits = request.Edits ?? brief.Edits,
                        State = request.State ?? brief.State,
                        Writer = request.Writer?.Trim() ?? brief.Writer,
                        Due = request.Due is null ? brief.Due : request.Due.Length == 0 ? null : DateOnly.ParseExact(request.Due, "yyyy-MM-dd", CultureInfo.InvariantCulture),
                        Notes = request.Notes?.Trim() ?? brief.Notes,
                    });
                    return null;
                }) is { } refusal ? refusal : TypedResults.NoContent();
            })
            .WithName("changeBrief");

        api.MapDelete("/briefs/{id:long}", Results<NoContent, ProblemHttpResult> (BriefId id, Project project) =>
                project.Change("Delete a brief", session =>
                {
                    if (BriefStore.Find(session, id) is null)
                        return NoBrief(id);
                    BriefStore.Delete(session, id);
                    return null;
                }) is { } refusal ? refusal : TypedResults.NoContent())
            .WithName("deleteBrief");

        // The pages that rank for a cluster, as far as they were not read lately.
        api.MapPost("/clusters/{id:long}/read-ranking", Results<Accepted<JobView>, ProblemHttpResult> (ClusterId id, Project project, JobRunner runner) =>
                project.Read(session => ClusterStore.Find(session, id)) is { } cluster
                    ? JobEndpoints.Accepted(runner.Add(ReadRivalsJob.Name, $"Reading pages that rank for {cluster.Name}", ReadRivalsJob.Arguments(id)))
                    : Problems.NotFound($"There is no cluster {id}."))
            .WithName("readRanking");

        api.MapPost("/briefs/{id:long}/check", Results<Ok<CheckedText>, ProblemHttpResult> (BriefId id, CheckTextRequest request, Project project) =>
            {
                if ((request.Text ?? request.Content) is null || request.Text?.Length > LongestText)
                    return Problems.Invalid("text", $"Paste a text of up to {LongestText / 1_000} thousand characters, or bring a file.");
                if (project.Read(session => BriefStore.Find(session, id) is { } found ? (found, ProjectStore.Get(session).Language) : default((StoredBrief, string)?)) is not var (brief, language))
                    return NoBrief(id);
                try
                {
                    var text = request.Text is { } pasted ? DraftFile.OfPasted(pasted) : DraftFile.Read(Convert.FromBase64String(request.Content!), request.FileName ?? "");
                    var usual = project.Read(session => project.UsualUses.Of(session.Writes, id.ToString(), () =>
                    {
                        var wanted = brief.Brief.Ranking.Select(r => r.Url).ToHashSet(StringComparer.Ordinal);
                        return TextCheck.UsualUses(brief.Brief, [.. RivalPageStore.Texts(session).Values.Where(t => wanted.Contains(t.Url!))], language);
                    }));
                    return TypedResults.Ok(TextCheck.Of(brief.Brief, text, usual, language));
                }
                catch (Exception e) when (e is TableFormatException or FormatException)
                {
                    return Problems.Invalid("content", e is TableFormatException ? e.Message : "The file did not come whole; bring it again.");
                }
            })
            .WithName("checkText");

        api.MapGet("/briefs/{id:long}/brief.{format}", IResult (BriefId id, string format, Project project) =>
            {
                if (FormatOf(format) is not { } form)
                    return NoFormat(format);
                if (project.Read(session => BriefStore.Find(session, id) is { } found ? (found, ProjectStore.Get(session).Name) : default((StoredBrief, string)?)) is not var (brief, site))
                    return NoBrief(id);
                var stream = new MemoryStream();
                BriefFile.Write(stream, brief.Brief, ForOf(brief, site), form);
                stream.Position = 0;
                return TypedResults.File(stream, form.MediaType(), $"{FileName(brief)}.{format}");
            })
            .ExcludeFromDescription();

        api.MapGet("/briefs.zip", IResult (BriefId[]? id, string? format, Project project) =>
            {
                if (FormatOf(format ?? "docx") is not { } form)
                    return NoFormat(format);
                var (briefs, site) = project.Read(session => (BriefStore.All(session).Where(b => id is not { Length: > 0 } || id.Contains(b.Id)).ToList(), ProjectStore.Get(session).Name));
                var stream = new MemoryStream();
                using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
                {
                    foreach (var brief in briefs)
                    {
                        using var entry = zip.CreateEntry($"{FileName(brief)}-{brief.Id}.{form.ToString().ToLowerInvariant()}").Open();
                        BriefFile.Write(entry, brief.Brief, ForOf(brief, site), form);
                    }
                }

                stream.Position = 0;
                return TypedResults.File(stream, "application/zip", "briefs.zip");
            })
            .ExcludeFromDescription();
    }

    private static BriefView ViewOf(Session session, ProjectSnapshot snapshot, StoredBrief stored, DateTimeOffset now)
    {
        var brief = stored.Brief;
        using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
        var (keywords, questions, terms) = brief.Outline.Unserved([.. brief.Keywords.Select(k => new Keyword(k.Phrase, KeywordNormalForm.Of(k.Phrase)))], brief.Questions.Length, brief.Terms.Length, analysis);
        var isGone = ClusterStore.Find(session, stored.ClusterId) is null;
        return new BriefView(
            RowOf(stored, isGone), brief, stored.Edits,
            new BriefUnserved([.. keywords.Select(k => brief.Keywords[k].Phrase)], [.. questions.Select(q => brief.Questions[q])], [.. terms.Select(t => brief.Terms[t].Text)]),
            isGone ? 0 : ReadRivalsJob.Unread(session, BriefReader.Ranking(session, snapshot, stored.ClusterId), now).Count, stored.Notes, stored.Version);
    }

    private static BriefRow RowOf(StoredBrief stored, bool isGone)
    {
        var brief = stored.Brief;
        return new BriefRow(
            stored.Id, stored.ClusterId, brief.Primary, brief.Url, brief.IsNew, brief.Keywords.Length, brief.Keywords.Sum(k => k.Volume ?? 0), brief.Words?.Words, stored.State, stored.Writer, stored.Due, stored.Edits.Count,
            stored.MadeAt, stored.UpdatedAt, isGone);
    }

    private static BriefFor ForOf(StoredBrief brief, string site) => new(site, brief.Writer, brief.Due, brief.Notes);

    private static string FileName(StoredBrief brief) => string.Concat(brief.Brief.Primary.Select(c => char.IsLetterOrDigit(c) ? c : '-')).Trim('-') is { Length: > 0 } name ? $"brief-{name[..Math.Min(60, name.Length)]}" : "brief";

    private static BriefFormat? FormatOf(string format) => Enum.TryParse<BriefFormat>(format, ignoreCase: true, out var form) && Enum.IsDefined(form) && char.IsLetter(format[0]) ? form : null;

    private static ProblemHttpResult NoFormat(string? format) => Problems.Invalid("format", $"Briefs are written as docx, xlsx, html, md or json, not as “{format}”.");

    private static ProblemHttpResult NoBrief(BriefId id) => Problems.NotFound($"There is no brief {id}.");

    private static ProblemHttpResult? FaultOf(ChangeBriefRequest request)
    {
        if (request.Due is { Length: > 0 } due && !DateOnly.TryParseExact(due, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _))
            return Problems.Invalid("due", $"“{due}” is no day; write it like 2026-12-31.");
        if (request.State is { } state && !Enum.IsDefined(state))
            return Problems.Invalid("state", "That is no state of a brief.");
        if (request.Edits is not { } edits)
            return null;
        if (edits.Words is < 50 or > 20_000)
            return Problems.Invalid("edits", "The word count is 50 to 20,000.");
        if (new[] { edits.Title, edits.Description, edits.H1, edits.PageType }.Any(t => t is not null && (t.Trim().Length == 0 || t.Length > LongestLine)))
            return Problems.Invalid("edits", "A title, a description, a heading and a kind of page are not empty, and at most 2,000 characters long.");
        return edits.Outline is { } outline && (outline.Count > 200 || outline.Any(s => s is null || s.Level is < 2 or > 3 || s.Heading is null || s.Heading.Trim().Length == 0 || s.Heading.Length > 500 || s.Keywords is null || s.Questions is null || s.Terms is null))
            ? Problems.Invalid("edits", "An outline has at most 200 sections of level 2 or 3, each with a heading of 1 to 500 characters.")
            : null;
    }
}
