using System.Globalization;
using System.IO.Compression;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Formats.Briefs;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Team;
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

/// <summary>Part of the list of briefs.</summary>
/// <param name="Words">That all of them ask for.</param>
/// <param name="Sent">With a writer or further.</param>
/// <param name="Writers">Of all briefs.</param>
public sealed record BriefPage(IReadOnlyList<BriefRow> Rows, ListTally Tally, long Words, int Sent, IReadOnlyList<string> Writers);

/// <summary>A brief with all of its contents.</summary>
/// <param name="Brief">As the planner has it.</param>
/// <param name="Edits">What the planner changed.</param>
/// <param name="TakenOut">Keywords that the planner took out.</param>
/// <param name="Unserved">What no section serves yet.</param>
/// <param name="Unread">Ranking pages that were not read in the last 30 days.</param>
/// <param name="Notes">On tone and audience.</param>
/// <param name="ProjectNotes">Those of the project, which count where the brief has none.</param>
/// <param name="Differences">What the newest facts changed, in words, until the planner has seen it.</param>
/// <param name="SavedHeadings">Of the topic, those that are no section yet.</param>
/// <param name="Link">By which a writer sees it; null for none.</param>
/// <param name="Drafting">What the drafting service charges for a request; null where no address is given.</param>
/// <param name="Version">To be sent back with a change.</param>
public sealed record BriefView(
    BriefRow Row, Brief Brief, BriefEdits Edits, IReadOnlyList<string> TakenOut, BriefUnserved Unserved, int Unread, string Notes, string ProjectNotes, IReadOnlyList<string> Differences, TopicId? TopicId,
    IReadOnlyList<string> SavedHeadings, IReadOnlyList<BriefEntry> History, IReadOnlyList<BriefText> Texts, WriterLink? Link, DraftPrice? Drafting, string Version);

/// <summary>A link by which a writer sees a brief.</summary>
/// <param name="Path">Below the address of Jade Orchard.</param>
/// <param name="IsLocal">It works on this machine only.</param>
public sealed record WriterLink(string Path, string ExpiresAt, bool IsLocal);

/// <summary>What a request to the drafting service costs.</summary>
public sealed record DraftPrice(double Price, string Currency);

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
/// <param name="HasSeen">The planner has seen what the newest facts changed.</param>
public sealed record ChangeBriefRequest(BriefEdits? Edits = null, BriefState? State = null, string? Writer = null, string? Due = null, string? Notes = null, bool? HasSeen = null, string? Version = null);

/// <summary>A phrase that is no term of any brief.</summary>
public sealed record IgnoreTermRequest(string Term);

/// <summary>The brief of a cluster.</summary>
/// <param name="Id">Null where it has none.</param>
public sealed record BriefOfCluster(BriefId? Id);

/// <summary>A heading that is saved for a topic.</summary>
public sealed record TopicHeadingRequest(string Heading);

/// <summary>Briefs: what a writer needs for one page.</summary>
public static class BriefEndpoints
{
    private const int MostMadeAtOnce = 100;
    private const int MostTerms = 300;
    private const int LongestLine = 2_000;

    public static void MapBriefs(this RouteGroupBuilder api)
    {
        api.MapGet("/briefs", ([AsParameters] Listing listing, BriefState? state, string? writer, Project project) => project.Read(session =>
            {
                var query = listing.ToQuery();
                var search = query.Search?.Trim() ?? "";
                var rows = Sorted(Rows(project, session).Where(b => (state is null || b.State == state) && (string.IsNullOrWhiteSpace(writer) || b.Writer == writer)
                    && (search.Length == 0 || new[] { b.Primary, b.Url, b.Writer }.Any(t => t.Contains(search, StringComparison.OrdinalIgnoreCase)))), query).ToList();
                return new BriefPage(
                    [.. rows.Skip(query.Offset).Take(query.Limit)], new ListTally(rows.Count, rows.Sum(b => b.Keywords), rows.Sum(b => b.Demand), null, 0, 0, query.PlaceOf(rows, b => $"{b.Id}")), rows.Sum(b => (long)(b.Words ?? 0)),
                    rows.Count(b => b.State is not (BriefState.Draft or BriefState.Ready)), [.. Rows(project, session).Select(b => b.Writer).Where(w => w.Length > 0).Distinct(StringComparer.OrdinalIgnoreCase).Order(StringComparer.OrdinalIgnoreCase)]);
            }))
            .WithName("briefs");

        api.MapPost("/briefs", Results<Ok<MadeBriefs>, ProblemHttpResult> (MakeBriefsRequest request, Project project) =>
            {
                if (request.ClusterIds is not { Count: > 0 and <= MostMadeAtOnce } ids)
                    return Problems.Invalid("clusterIds", $"Name 1 to {MostMadeAtOnce} clusters.");
                var made = project.Read((session, snapshot) => ids.Distinct().Zip(BriefReader.Make(session, snapshot, [.. ids.Distinct()], null, Today(project))).Select(m => (Id: m.First, Brief: m.Second)).ToList());
                if (made.FirstOrDefault(m => m.Brief is null) is { Brief: null } missing && made.Any(m => m.Brief is null))
                    return Problems.NotFound($"There is no cluster {missing.Id}.");
                var briefs = new List<BriefId>();
                project.Change(made.Count == 1 ? "Make a brief" : $"Make {made.Count.ToString(CultureInfo.InvariantCulture)} briefs", (WriteSession session) =>
                {
                    foreach (var (id, brief) in made)
                    {
                        var (writer, due) = StepStore.OwnerOf(session, id);
                        var saved = BriefStore.Save(session, id, brief!, writer, due, project.Now);
                        BriefStore.Note(session, saved, BriefStore.Entries(session, saved).Count > 0 ? "updated from newer facts" : "made", project.Now);
                        briefs.Add(saved);
                    }
                });
                return TypedResults.Ok(new MadeBriefs(briefs));
            })
            .WithName("makeBriefs");

        api.MapGet("/briefs/{id:long}", Results<Ok<BriefView>, ProblemHttpResult> (BriefId id, Project project, Listener listener) =>
                project.Read((session, snapshot) => BriefStore.Find(session, id) is { } brief ? ViewOf(session, snapshot, brief, project.Now, listener.IsLocal) : null) is { } view ? TypedResults.Ok(view) : NoBrief(id))
            .ForItsWriter().WithName("brief");

        api.MapPut("/briefs/{id:long}", Results<NoContent, ProblemHttpResult> (BriefId id, ChangeBriefRequest request, Project project) =>
            {
                if (FaultOf(request) is { } fault)
                    return fault;
                var edits = request.Edits is { With.Count: > 0 } ? project.Read((_, snapshot) => Known(request.Edits, snapshot)) : request.Edits;
                return project.Change(request.State is { } state ? $"Brief: {state.ToString().ToLowerInvariant()}" : "Change a brief", session =>
                {
                    if (BriefStore.Find(session, id) is not { } brief)
                        return NoBrief(id);
                    Project.RefuseStale(session, Thing.Brief(id), brief.Version, request.Version);
                    var changed = brief with
                    {
                        Previous = request.HasSeen == true ? null : brief.Previous,
                        Edits = edits ?? brief.Edits,
                        State = request.State ?? brief.State,
                        Writer = request.Writer?.Trim() ?? brief.Writer,
                        Due = request.Due is null ? brief.Due : request.Due.Length == 0 ? null : DateOnly.ParseExact(request.Due, "yyyy-MM-dd", CultureInfo.InvariantCulture),
                        Notes = request.Notes?.Trim() ?? brief.Notes,
                    };
                    BriefStore.Change(session, changed);
                    foreach (var says in ChangesOf(brief, changed))
                        BriefStore.Note(session, id, says, project.Now);
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

        api.MapGet("/briefs/{id:long}/terms", Results<Ok<IReadOnlyList<Term>>, ProblemHttpResult> (BriefId id, Project project) =>
                project.Read((session, snapshot) => BriefStore.Find(session, id) is { } brief ? BriefReader.Terms(session, snapshot, brief.ClusterId, MostTerms) ?? [] : null) is { } terms ? TypedResults.Ok(terms) : NoBrief(id))
            .WithName("briefTerms");

        api.MapPost("/briefs/{id:long}/ignore-term", Results<NoContent, ProblemHttpResult> (BriefId id, IgnoreTermRequest request, Project project) =>
            {
                var term = request.Term.Trim();
                if (term.Length is 0 or > 200)
                    return Problems.Invalid("term", "Name the term that is to be ignored.");
                if (project.Read((session, snapshot) =>
                {
                    if (BriefStore.Find(session, id) is not { } stored)
                        return default((StoredBrief, BriefSettings, Brief?)?);
                    var settings = ProjectStore.Settings(session).Briefs;
                    settings = settings with { IgnoredTerms = [.. (settings.IgnoredTerms ?? []).Append(term).Distinct(StringComparer.OrdinalIgnoreCase)] };
                    return (stored, settings, BriefReader.Make(session, snapshot, [stored.ClusterId], settings.IgnoredTerms, Today(project))[0]);
                }) is not var (brief, changed, made))
                {
                    return NoBrief(id);
                }

                project.Change($"Ignore “{term}” in briefs", (WriteSession session) =>
                {
                    ProjectStore.SaveSettings(session, ProjectStore.Settings(session) with { Briefs = changed });
                    if (made is not null)
                        BriefStore.Save(session, brief.ClusterId, made, brief.Writer, brief.Due, project.Now);
                });
                return TypedResults.NoContent();
            })
            .WithName("ignoreTerm");

        api.MapPost("/topics/{id:long}/headings", Results<NoContent, ProblemHttpResult> (TopicId id, TopicHeadingRequest request, Project project) =>
                ChangeHeading(project, id, request, "Save a heading for a topic", BriefStore.AddHeading))
            .WithName("saveHeading");

        // Where a heading is seen, its cluster is known sooner than its topic.
        api.MapPost("/clusters/{id:long}/headings", Results<NoContent, ProblemHttpResult> (ClusterId id, TopicHeadingRequest request, Project project) =>
                project.Read(session => ClusterStore.Find(session, id)) is not { } cluster ? Problems.NotFound($"There is no cluster {id}.")
                : cluster.TopicId is not { } topic ? Problems.Conflict("The cluster is in no topic yet. Form topics first.")
                : ChangeHeading(project, topic, request, "Save a heading for a topic", BriefStore.AddHeading))
            .WithName("saveClusterHeading");

        api.MapGet("/clusters/{id:long}/brief", (ClusterId id, Project project) => new BriefOfCluster(project.Read(session => BriefStore.Of(session, id))?.Id)).WithName("clusterBrief");

        api.MapDelete("/topics/{id:long}/headings", Results<NoContent, ProblemHttpResult> (TopicId id, string heading, Project project) =>
                ChangeHeading(project, id, new TopicHeadingRequest(heading), "Forget a heading of a topic", BriefStore.DeleteHeading))
            .WithName("forgetHeading");

        api.MapGet("/briefs/{id:long}/brief.{format}", IResult (BriefId id, string format, Project project) =>
            {
                if (FormatOf(format) is not { } form)
                    return NoFormat(format);
                if (project.Read(session => BriefStore.Find(session, id) is { } found ? (found, SiteOf(session)) : default((StoredBrief, (string, string))?)) is not var (brief, site))
                    return NoBrief(id);
                var stream = new MemoryStream();
                BriefFile.Write(stream, brief.Brief, ForOf(brief, site), form);
                stream.Position = 0;
                return TypedResults.File(stream, form.MediaType(), $"{FileName(brief)}.{format}");
            })
            .ForItsWriter().ExcludeFromDescription();

        api.MapGet("/briefs.zip", IResult (BriefId[]? id, string? format, Project project) =>
            {
                if (FormatOf(format ?? "docx") is not { } form)
                    return NoFormat(format);
                var (briefs, site) = project.Read(session => (BriefStore.All(session).Where(b => id is not { Length: > 0 } || id.Contains(b.Id)).ToList(), SiteOf(session)));
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

    private static BriefView ViewOf(Session session, ProjectSnapshot snapshot, StoredBrief stored, DateTimeOffset now, bool isLocal)
    {
        var brief = stored.Brief;
        using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
        var (keywords, questions, terms) = brief.Outline.Unserved([.. brief.Keywords.Select(k => new Keyword(k.Phrase, KeywordNormalForm.Of(k.Phrase)))], brief.Questions.Length, brief.Terms.Length, analysis);
        var (cluster, settings) = (ClusterStore.Find(session, stored.ClusterId), ProjectStore.Settings(session));
        var here = brief.Keywords.Select(k => k.Phrase).ToHashSet(StringComparer.Ordinal);
        return new BriefView(
            RowOf(stored, cluster is null), brief, stored.Edits, [.. stored.Proposal.Keywords.Select(k => k.Phrase).Where(k => !here.Contains(k))],
            new BriefUnserved([.. keywords.Select(k => brief.Keywords[k].Phrase)], [.. questions.Select(q => brief.Questions[q])], [.. terms.Select(t => brief.Terms[t].Text)]),
            cluster is null ? 0 : ReadRivalsJob.Unread(session, BriefReader.Ranking(session, snapshot, stored.ClusterId), now).Count, stored.Notes, settings.Briefs.Notes,
            stored.Previous is { } previous ? BriefDifferences.Of(previous, stored.Proposal) : [], cluster?.TopicId,
            cluster?.TopicId is { } topic ? [.. BriefStore.Headings(session, topic).Where(h => brief.Outline.Sections.All(s => s.Heading != h))] : [],
            BriefStore.Entries(session, stored.Id), BriefStore.Texts(session, stored.Id), BriefStore.Link(session, stored.Id, now) is { } link ? new WriterLink(WriterEndpoints.PathOf(link.Token), link.ExpiresAt, isLocal) : null,
            ServiceStore.All(session).Any(s => s is { Name: ServiceName.Drafting, Address.Length: > 0 }) ? new DraftPrice(settings.Briefs.PricePerDraft, settings.Capture.Currency) : null, stored.Version);
    }

    /// <summary>All briefs as rows of the list, those that are due first.</summary>
    /// <summary>All briefs, as lists show them.</summary>
    internal static IReadOnlyList<BriefRow> Rows(Project project, Session session) => project.BriefRows.Of(session.Writes, "", () =>
    {
        var clusters = ClusterStore.Primaries(session).Select(c => c.Id).ToHashSet();
        return [.. BriefStore.All(session).Select(b => RowOf(b, !clusters.Contains(b.ClusterId)))];
    });

    private static IEnumerable<BriefRow> Sorted(IEnumerable<BriefRow> rows, ListQuery query)
    {
        IEnumerable<BriefRow> By<T>(Func<BriefRow, T> key, IComparer<T>? comparer = null) => query.Descending ? rows.OrderByDescending(key, comparer) : rows.OrderBy(key, comparer);
        return query.Sort switch
        {
            "primary" => By(b => b.Primary, StringComparer.OrdinalIgnoreCase),
            "url" => By(b => b.Url, StringComparer.Ordinal),
            "demand" => By(b => b.Demand),
            "words" => By(b => b.Words ?? 0),
            "writer" => By(b => b.Writer, StringComparer.OrdinalIgnoreCase),
            "due" => By(b => b.Due ?? DateOnly.MaxValue),
            "state" => By(b => b.State),
            _ => rows,
        };
    }

    /// <summary>Today, by which pages are old.</summary>
    internal static DateOnly Today(Project project) => DateOnly.FromDateTime(project.Now.UtcDateTime);

    /// <summary>The name of the site and the notes that all briefs share.</summary>
    internal static (string Name, string Notes) SiteOf(Session session) => (ProjectStore.Get(session).Name, ProjectStore.Settings(session).Briefs.Notes);

    /// <summary>What the project knows of keywords that are added.</summary>
    private static BriefEdits Known(BriefEdits edits, ProjectSnapshot snapshot) => edits with
    {
        With =
        [
            .. edits.With!.Select(w => KeywordNormalForm.Of(w.Phrase)).Where(f => f.Length > 0).Distinct(StringComparer.Ordinal)
                .Select(form => snapshot.Keywords.FirstOrDefault(k => k.NormalForm == form) is { } known ? new AddedKeyword(known.Phrase, known.Volume, known.Difficulty, known.Intent) : new AddedKeyword(form)),
        ],
    };

    /// <summary>For the history: what became of a brief, beside its contents.</summary>
    private static IEnumerable<string> ChangesOf(StoredBrief before, StoredBrief after)
    {
        if (before.State != after.State)
            yield return $"{before.State.ToString().ToLowerInvariant()} → {after.State.ToString().ToLowerInvariant()}";
        if (before.Writer != after.Writer)
            yield return after.Writer.Length > 0 ? $"given to {after.Writer}" : "given to nobody";
        if (before.Due != after.Due)
            yield return after.Due is { } due ? $"due {due.ToString("d MMMM yyyy", CultureInfo.InvariantCulture)}" : "without a due date";
    }

    private static Results<NoContent, ProblemHttpResult> ChangeHeading(Project project, TopicId id, TopicHeadingRequest request, string label, Action<WriteSession, TopicId, string> change)
    {
        var heading = request.Heading.ReplaceLineEndings(" ").Trim();
        if (heading.Length is 0 or > 500)
            return Problems.Invalid("heading", "Write a heading of up to 500 characters.");
        return project.Change(label, session =>
        {
            if (TopicStore.Find(session, id) is null)
                return Problems.NotFound($"There is no topic {id}.");
            change(session, id, heading);
            return null;
        }) is { } refusal ? refusal : TypedResults.NoContent();
    }

    private static BriefRow RowOf(StoredBrief stored, bool isGone)
    {
        var brief = stored.Brief;
        return new BriefRow(
            stored.Id, stored.ClusterId, brief.Primary, brief.Url, brief.IsNew, brief.Keywords.Length, brief.Keywords.Sum(k => k.Volume ?? 0), brief.Words?.Words, stored.State, stored.Writer, stored.Due, stored.Edits.Count,
            stored.MadeAt, stored.UpdatedAt, isGone);
    }

    internal static BriefFor ForOf(StoredBrief brief, (string Name, string Notes) site) => new(site.Name, brief.Writer, brief.Due, brief.Notes.Length > 0 ? brief.Notes : site.Notes);

    private static string FileName(StoredBrief brief) => string.Concat(brief.Brief.Primary.Select(c => char.IsLetterOrDigit(c) ? c : '-')).Trim('-') is { Length: > 0 } name ? $"brief-{name[..Math.Min(60, name.Length)]}" : "brief";

    private static BriefFormat? FormatOf(string format) => Enum.TryParse<BriefFormat>(format, ignoreCase: true, out var form) && Enum.IsDefined(form) && char.IsLetter(format[0]) ? form : null;

    private static ProblemHttpResult NoFormat(string? format) => Problems.Invalid("format", $"Briefs are written as docx, xlsx, html, md or json, not as “{format}”.");

    internal static ProblemHttpResult NoBrief(BriefId id) => Problems.NotFound($"There is no brief {id}.");

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
        if (edits.With is { } with && (with.Count > 500 || with.Any(w => w?.Phrase is null || w.Phrase.Length > 500)))
            return Problems.Invalid("edits", "At most 500 keywords can be added, each of up to 500 characters.");
        if (edits.Written is { } written && (written.Count > 200 || written.Any(w => w?.Text is null || w.For is null || w.Text.Length > 20_000 || w.For.Length > 500)))
            return Problems.Invalid("edits", "At most 200 drafted texts are kept, each of up to 20,000 characters.");
        return edits.Outline is { } outline && (outline.Count > 200 || outline.Any(s => s is null || s.Level is < 2 or > 3 || s.Heading is null || s.Heading.Trim().Length == 0 || s.Heading.Length > 500 || s.Keywords is null || s.Questions is null || s.Terms is null))
            ? Problems.Invalid("edits", "An outline has at most 200 sections of level 2 or 3, each with a heading of 1 to 500 characters.")
            : null;
    }
}
