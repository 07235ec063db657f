using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.PageMap;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Plan;

namespace JadeOrchard.Server.Findings;

/// <summary>A finding with its evidence.</summary>
/// <param name="Words">For facts about a page that does not mention a keyword: the words that it lacks, in the order of the evidence; else empty.</param>
/// <param name="Terms">All these words with the demand of the keywords that have them, most first.</param>
/// <param name="Rivals">For searches that the site does not answer: the pages of others that do.</param>
/// <param name="Advice">What can be done about its kind.</param>
/// <param name="Step">What was decided to do about it; null where nothing was.</param>
public sealed record FindingDetail(
    FindingRow Finding, IReadOnlyList<FindingEvidence> Evidence, IReadOnlyList<string> Words, IReadOnlyList<TermView> Terms, IReadOnlyList<RivalView> Rivals, string Advice,
    PlanStep? Step);

/// <summary>A word that a page never says.</summary>
/// <param name="Demand">Searches per month of the keywords that have it.</param>
public sealed record TermView(string Word, long Demand, int Keywords);

/// <summary>A kind of finding.</summary>
/// <param name="Name">"rivals in results".</param>
/// <param name="GroupName">"Uncovered subtopics".</param>
public sealed record FindingKindView(FindingKind Kind, string Name, FindingGroup Group, string GroupName);

/// <summary>What the planner makes of a finding.</summary>
/// <param name="Reason">Needed where it is dismissed.</param>
/// <param name="Version">That of the finding as it was shown; null not to look whether it was changed meanwhile.</param>
public sealed record DecideRequest(FindingState State, string? Reason, string? Version = null);

/// <summary>What the planner makes of several findings; what is null stays.</summary>
/// <param name="Reason">Needed where they are dismissed.</param>
/// <param name="Assignee">Empty for nobody.</param>
public sealed record DecideManyRequest(FindingSelection Selection, FindingState? State = null, string? Reason = null, string? Assignee = null, string? Note = null);

/// <summary>How many findings were changed.</summary>
public sealed record ChangedFindings(int Findings);

/// <summary>What is flagged, and what the planner makes of it.</summary>
public static class FindingEndpoints
{
    private const int LongestText = 2_000;

    /// <summary>A page gets a short list of words that matter.</summary>
    private const int TermsShown = 12;

    private static readonly OutputColumn[] Columns =
    [
        new("Kind", 20), new("State", 10), new("Cluster", 30), new("Topic", 24), new("Keyword", 30), new("Page", 44), new("Other page", 44), new("Other cluster", 28),
        new("Clicks at stake per month", 12), new("Demand per month (estimate)", 12), new("To do", 24), new("Assignee", 16), new("Note", 36), new("Reason", 36), new("First found", 12), new("Key", 24),
    ];

    public static void MapFindings(this RouteGroupBuilder api)
    {
        api.MapGet("/findings", ([AsParameters] Listing listing, [AsParameters] FindingFilter filter, Project project) =>
                project.Read(session => FindingStore.List(session, listing.ToQuery(), filter)))
            .WithName("findings");

        api.MapGet("/findings.csv", ([AsParameters] Listing listing, [AsParameters] FindingFilter filter, Project project) =>
                Listing.Csv("findings.csv", [.. Columns.Select(c => c.Name)], Rows(listing, filter, project)))
            .ExcludeFromDescription();

        api.MapGet("/findings.xlsx", ([AsParameters] Listing listing, [AsParameters] FindingFilter filter, Project project) =>
                Listing.Xlsx("findings.xlsx", "Findings", Columns, Rows(listing, filter, project)))
            .ExcludeFromDescription();

        api.MapGet("/findings/kinds", () => Enum.GetValues<FindingKind>()
                .Select(k => new FindingKindView(k, FindingText.Name(k), k.Group(), FindingText.Name(k.Group()))).ToList())
            .WithName("findingKinds");

        api.MapGet("/findings/bundles", (FindingsBy by, [AsParameters] FindingFilter filter, Project project) =>
                project.Read(session => FindingStore.Bundles(session, by, filter)))
            .WithName("findingBundles");

        api.MapGet("/findings/assignees", (Project project) => project.Read(FindingStore.Assignees)).WithName("assignees");

        api.MapGet("/findings/{key}", Results<Ok<FindingDetail>, ProblemHttpResult> (string key, Project project) =>
                project.Read<Results<Ok<FindingDetail>, ProblemHttpResult>>((session, snapshot) => FindingStore.Find(session, key) is { } finding
                    ? TypedResults.Ok(Detail(session, snapshot, finding))
                    : NoFinding(key)))
            .WithName("finding");

        api.MapPut("/findings/{key}", Results<Ok<FindingRow>, ProblemHttpResult> (string key, DecideRequest request, Project project) =>
            {
                if (Fault(request.State, request.Reason, null, null) is { } fault)
                    return fault;
                return Changed(project, key, "Decide a finding", request.Version, session =>
                {
                    Decide(session, [key], request.State, request.Reason?.Trim() ?? "", project.Now);
                    return null;
                });
            })
            .WithName("decideFinding");

        api.MapPost("/findings/decide", Results<Ok<ChangedFindings>, ProblemHttpResult> (DecideManyRequest request, Project project) =>
            {
                if (request is { State: null, Assignee: null, Note: null })
                    return Problems.Invalid("state", "Say what is to be changed: the state, who works on them, or the note.");
                if (Fault(request.State, request.Reason, request.Assignee, request.Note) is { } fault)
                    return fault;
                return project.Change<ChangedFindings>(request.State is null ? "Note on findings" : "Decide findings", session =>
                {
                    var keys = FindingStore.Select(session, request.Selection);
                    if (request.Assignee is not null || request.Note is not null)
                        FindingDecisions.Annotate(session, keys, request.Assignee, request.Note, project.Now);
                    if (request.State is { } state)
                        Decide(session, keys, state, request.Reason?.Trim() ?? "", project.Now);
                    return new ChangedFindings(keys.Count);
                }).ToOk();
            })
            .WithName("decideFindings");
    }

    /// <returns>"Orphan: No page of the site links to https://fenwater.example/a." for files, with URLs in full.</returns>
    internal static string Line(FindingRow finding) =>
        $"{SentenceCase(finding.Name)}: {FindingText.Sentence(finding.Kind, finding.PageUrl, finding.IsPageDecided, finding.OtherPageUrl, finding.OtherClusterName)}";

    private static string SentenceCase(string words) => char.ToUpperInvariant(words[0]) + words[1..];

    internal static ProblemHttpResult NoFinding(string key) => Problems.NotFound($"There is no finding {key}. Its cluster may have gone in a re-grouping.");

    /// <summary>Changes a finding that is there and was not changed meanwhile.</summary>
    internal static Results<Ok<FindingRow>, ProblemHttpResult> Changed(Project project, string key, string label, string? version, Func<WriteSession, ProblemHttpResult?> change) =>
        project.Change(label, session =>
        {
            if (FindingStore.Find(session, key) is not { } now)
                return NoFinding(key);
            Project.RefuseStale(session, Thing.Finding(key), now.Version, version);
            return change(session);
        }) is { } refusal
            ? refusal
            : project.Read(session => FindingStore.Find(session, key)) is { } row ? TypedResults.Ok(row) : NoFinding(key);

    private static void Decide(WriteSession session, IReadOnlyList<string> keys, FindingState state, string reason, DateTimeOffset now)
    {
        // What was to be done about it is done, or not wanted any more.
        foreach (var key in state is FindingState.Open or FindingState.Dismissed ? keys : [])
            PlanStore.Retract(session, key);
        FindingDecisions.Decide(session, keys, state, reason, now);
    }

    private static ProblemHttpResult? Fault(FindingState? state, string? reason, string? assignee, string? note) =>
        state == FindingState.Dismissed && string.IsNullOrWhiteSpace(reason) ? Problems.Invalid("reason", "Say why it is left as it is, so that it can be understood later.")
        : reason?.Length > LongestText ? Problems.Invalid("reason", $"A reason may have {LongestText} characters.")
        : assignee?.Length > 200 ? Problems.Invalid("assignee", "A name may have 200 characters.")
        : note?.Length > LongestText ? Problems.Invalid("note", $"A note may have {LongestText} characters.")
        : null;

    private static FindingDetail Detail(Session session, ProjectSnapshot snapshot, FindingRow finding)
    {
        var evidence = FindingStore.Evidence(session, finding.Key);
        var keywords = evidence.Select(e => e.KeywordId is { } id && snapshot.IndexOfKeyword.TryGetValue(id, out var keyword) ? keyword : -1).ToList();
        IReadOnlyList<IReadOnlyList<string>> missing = [];
        if (finding is { Kind: FindingKind.MissingOnPage, PageId: { } page } && snapshot.IndexOfPage.TryGetValue(page, out var index))
        {
            using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
            var text = snapshot.Text(session);
            missing = [.. keywords.Select(k => k < 0 ? (IReadOnlyList<string>)[] : text.Missing(index, snapshot.Keywords[k], analysis))];
        }

        var terms = missing.Zip(evidence).SelectMany(m => m.First.Distinct(StringComparer.Ordinal).Select(word => (Word: word, Volume: m.Second.Volume ?? 0)))
            .GroupBy(t => t.Word, StringComparer.Ordinal)
            .Select(g => new TermView(g.Key, g.Sum(t => t.Volume), g.Count()))
            .OrderByDescending(t => t.Demand).ThenBy(t => t.Word, StringComparer.Ordinal)
            .Take(TermsShown);
        return new FindingDetail(
            finding,
            evidence,
            [.. missing.Select(m => string.Join(", ", m))],
            [.. terms],
            finding.Kind.Group() == FindingGroup.Uncovered ? PageMapEndpoints.Rivals(snapshot, [.. keywords.Where(k => k >= 0)]) : [],
            FindingText.Advice(finding.Kind),
            PlanStore.StepFor(session, finding.Key));
    }

    private static IEnumerable<object?[]> Rows(Listing listing, FindingFilter filter, Project project) =>
        project.Read(session => FindingStore.List(session, listing.ToExport(), filter)).Rows.Select(f => new object?[]
        {
            SentenceCase(f.Name), f.State.ToString().ToLowerInvariant(), f.ClusterName, f.TopicName, f.Keyword, f.PageUrl, f.OtherPageUrl, f.OtherClusterName,
            Math.Round(f.AtStake, 1), f.Demand, f.RemedyName, f.Assignee, f.Note, f.Reason, f.FirstFoundAt[..10], f.Key,
        });
}
