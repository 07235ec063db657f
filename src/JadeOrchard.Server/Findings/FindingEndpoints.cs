using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.PageMap;
using JadeOrchard.Server.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Findings;

/// <summary>A finding with its evidence.</summary>
/// <param name="Pages">The first of its pages with what is known of each.</param>
/// <param name="Signs">By what it shows itself, most at stake first.</param>
/// <param name="Terms">For a page that does not mention keywords: the words that it lacks with the demand of the keywords that have them, most first.</param>
/// <param name="Rivals">For searches that the site does not answer: the pages of others that do.</param>
/// <param name="Advice">What can be done about its kind.</param>
/// <param name="Certainty">How sure it is.</param>
/// <param name="Step">What was decided to do about it; null where nothing was.</param>
public sealed record FindingDetail(
    FindingRow Finding, IReadOnlyList<FindingPageView> Pages, IReadOnlyList<SignView> Signs, IReadOnlyList<TermView> Terms, IReadOnlyList<RivalView> Rivals, string Advice, string Certainty,
    PlanStep? Step);

/// <summary>A page of a finding.</summary>
/// <param name="Clicks">Per month: counted where search performance is there, else estimated.</param>
/// <param name="Position">The best in the result lists of the finding's keywords; null where it is in none.</param>
/// <param name="LinksIn">Pages of the site that link to it; null where nobody looked.</param>
public sealed record FindingPageView(PageId Id, string Url, string? Title, double Clicks, double? Position, long? LinksIn);

/// <summary>A sign with what it says.</summary>
/// <param name="Name">"rivals in results".</param>
/// <param name="Sentence">What it says.</param>
/// <param name="FactCount">How many facts there are; the first are given.</param>
/// <param name="Words">For facts about a page that does not mention a keyword: the words that it lacks, in the order of the facts; else empty.</param>
public sealed record SignView(
    SignKind Kind, string Name, string Sentence, ClusterId? ClusterId, string? ClusterName, FindingPage? Page, IReadOnlyList<FindingPage> Others, int OtherCount, double AtStake,
    IReadOnlyList<FindingEvidence> Facts, int FactCount, IReadOnlyList<string> Words);

/// <summary>A word that a page never says.</summary>
/// <param name="Demand">Searches per month of the keywords that have it.</param>
public sealed record TermView(string Word, long Demand, int Keywords);

/// <summary>A kind of finding.</summary>
/// <param name="Name">"page gap".</param>
/// <param name="Heading">"Page gaps".</param>
/// <param name="Signs">By what it can show itself.</param>
public sealed record FindingKindView(FindingKind Kind, string Name, string Heading, IReadOnlyList<SignKindView> Signs);

/// <summary>A kind of sign.</summary>
/// <param name="Name">"rivals in results".</param>
public sealed record SignKindView(SignKind Kind, string Name);

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

    private const int PagesShown = 12;
    private const int FactsShown = 100;
    private const int FirstOfKind = 3;

    /// <summary>Pages named in one cell of a file.</summary>
    private const int PagesInFile = 200;

    private static readonly OutputColumn[] Columns =
    [
        new("Finding", 14), new("State", 10), new("Signs", 36), new("About", 44), new("Cluster", 30), new("Topic", 24), new("Keyword", 30), new("Page", 44), new("Other pages", 60),
        new("Clicks at stake per month", 12), new("Confidence", 10), new("Demand per month (estimate)", 12), new("To do", 24), new("Assignee", 16), new("Note", 36), new("Reason", 36),
        new("First found", 12), new("Key", 24),
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

        api.MapGet("/findings/kinds", () => Enum.GetValues<FindingKind>().Select(k => new FindingKindView(
                k, FindingText.Name(k), FindingText.Heading(k), [.. SignKinds.Of(k).Select(s => new SignKindView(s, FindingText.Name(s)))])).ToList())
            .WithName("findingKinds");

        api.MapGet("/findings/by-kind", ([AsParameters] Listing listing, [AsParameters] FindingFilter filter, Project project) =>
                project.Read(session => FindingStore.ByKind(session, filter, listing.Search, FirstOfKind)))
            .WithName("findingsByKind");

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

    /// <returns>"Conflict: https://fenwater.example/a and https://fenwater.example/b: both rank, traffic splits." for files, with URLs in full.</returns>
    internal static string Line(FindingRow finding)
    {
        var subject = FindingText.Subject(finding.Kind, finding.ClusterName, [.. finding.Pages.Select(p => p.Url)], (int)finding.PageCount, finding.Folder);
        return $"{SentenceCase(finding.Name)}: {subject}: {finding.Says}.";
    }

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
        if (state is FindingState.Open or FindingState.Dismissed)
            PlanSteps.TakeBack(session, keys);
        FindingDecisions.Decide(session, keys, state, reason, now);
        if (state == FindingState.Accepted)
            PlanSteps.AddDecided(session, keys, now);
    }

    private static ProblemHttpResult? Fault(FindingState? state, string? reason, string? assignee, string? note) =>
        state == FindingState.Waiting ? Problems.Invalid("state", "A finding waits by itself where a page is planned for it; it cannot be told to.")
        : state == FindingState.Dismissed && string.IsNullOrWhiteSpace(reason) ? Problems.Invalid("reason", "Say why it is left as it is, so that it can be understood later.")
        : reason?.Length > LongestText ? Problems.Invalid("reason", $"A reason may have {LongestText} characters.")
        : assignee?.Length > 200 ? Problems.Invalid("assignee", "A name may have 200 characters.")
        : note?.Length > LongestText ? Problems.Invalid("note", $"A note may have {LongestText} characters.")
        : null;

    private static FindingDetail Detail(Session session, ProjectSnapshot snapshot, FindingRow finding)
    {
        var host = ProjectStore.Get(session).Host;
        var signs = FindingStore.SignsOf(session, finding.Key, PagesShown);
        var (views, lacking) = (new List<SignView>(), new List<(string Word, long Volume)>());
        using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
        foreach (var sign in signs)
        {
            IReadOnlyList<IReadOnlyList<string>> missing = sign.Kind == SignKind.MissingOnPage && sign.Page is { } page && snapshot.IndexOfPage.TryGetValue(page.Id, out var index)
                ? [.. sign.Facts.Select(f => IndexOf(snapshot, f) is var k and >= 0 ? snapshot.Text(session).Missing(index, snapshot.Keywords[k], analysis) : (IReadOnlyList<string>)[])]
                : [];
            lacking.AddRange(missing.Zip(sign.Facts).SelectMany(m => m.First.Distinct(StringComparer.Ordinal).Select(word => (word, m.Second.Volume ?? 0))));
            var says = FindingText.Sentence(new SaidSign(
                sign.Kind, sign.Page is null ? null : ShortUrl.Of(sign.Page.Url, host), [.. sign.Others.Select(o => ShortUrl.Of(o.Url, host)), .. Enumerable.Repeat("", sign.OtherCount - sign.Others.Count)],
                sign.OtherClusterName, sign.Facts.Count));
            views.Add(new SignView(
                sign.Kind, FindingText.Name(sign.Kind), says, sign.ClusterId, sign.ClusterName, sign.Page, sign.Others, sign.OtherCount, sign.AtStake, [.. sign.Facts.Take(FactsShown)], sign.Facts.Count,
                [.. missing.Take(FactsShown).Select(m => string.Join(", ", m))]));
        }

        List<int> keywords = [.. signs.SelectMany(s => s.Facts).Select(f => IndexOf(snapshot, f)).Where(k => k >= 0).Distinct()];
        var terms = lacking.GroupBy(t => t.Word, StringComparer.Ordinal)
            .Select(g => new TermView(g.Key, g.Sum(t => t.Volume), g.Count()))
            .OrderByDescending(t => t.Demand).ThenBy(t => t.Word, StringComparer.Ordinal)
            .Take(TermsShown);
        return new FindingDetail(
            finding,
            [.. FindingStore.PagesOf(session, finding.Key, PagesShown).Select(p => View(session, snapshot, p, keywords))],
            views,
            [.. terms],
            finding.Kind is FindingKind.Uncovered or FindingKind.PageGap ? PageMapEndpoints.Rivals(snapshot, keywords) : [],
            FindingText.Advice(finding.Kind),
            FindingText.Certainty(finding.Confidence, signs.Select(s => s.Kind).Distinct().Count(), signs.Sum(s => Math.Max(1, s.Facts.Count))),
            PlanStore.StepFor(session, finding.Key));
    }

    private static int IndexOf(ProjectSnapshot snapshot, FindingEvidence fact) =>
        fact.KeywordId is { } id && snapshot.IndexOfKeyword.TryGetValue(id, out var keyword) ? keyword : -1;

    private static FindingPageView View(Session session, ProjectSnapshot snapshot, FindingPage page, List<int> keywords)
    {
        var row = PageStore.Find(session, page.Id)!;
        if (!snapshot.IndexOfPage.TryGetValue(page.Id, out var index))
            return new FindingPageView(page.Id, page.Url, page.Title, row.Clicks, null, row.LinksIn);
        var positions = keywords.SelectMany(k => ResultsEvidence.Standings(k, snapshot.Lists, snapshot.PageOfUrl)).Where(s => s.Page == index).Select(s => (double)s.Position).ToList();
        return new FindingPageView(
            page.Id, page.Url, page.Title, snapshot.Performance.IsKnown ? snapshot.Performance.Monthly(snapshot.Performance.ClicksOf(index)) : row.Clicks,
            positions.Count == 0 ? null : positions.Min(), row.LinksIn);
    }

    private static List<object?[]> Rows(Listing listing, FindingFilter filter, Project project) => project.Read(session =>
        FindingStore.List(session, listing.ToExport(), filter).Rows.Select(f =>
        {
            var pages = f.PageCount <= f.Pages.Count ? f.Pages : FindingStore.PagesOf(session, f.Key, PagesInFile);
            return new object?[]
            {
                SentenceCase(f.Name), f.State.ToString().ToLowerInvariant(), f.Says, f.Subject, f.ClusterName, f.TopicName, f.Keyword, pages is [var first, ..] ? first.Url : null,
                string.Join(" | ", pages.Skip(1).Select(p => p.Url)), Math.Round(f.AtStake, 1), Math.Round(f.Confidence, 2), f.Demand, f.RemedyName, f.Assignee, f.Note, f.Reason, f.FirstFoundAt[..10], f.Key,
            };
        }).ToList());
}
