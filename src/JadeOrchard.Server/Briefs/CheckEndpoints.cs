using JadeOrchard.Core.Briefs;
using JadeOrchard.Formats.Briefs;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Services;
using JadeOrchard.Server.Site;
using JadeOrchard.Server.Team;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Site;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Briefs;

/// <summary>A text to check: pasted, from a file, or at an address.</summary>
/// <param name="Text">Pasted, as plain text or Markdown; null for a file or an address.</param>
/// <param name="FileName">Of a file: tells of what kind it is.</param>
/// <param name="Content">The file, as Base64.</param>
/// <param name="Url">Of a page that is read now.</param>
/// <param name="Title">Of a pasted text; null for what the text itself says.</param>
/// <param name="Description">Of a pasted text; null for what the text itself says.</param>
public sealed record CheckTextRequest(string? Text = null, string? FileName = null, string? Content = null, string? Url = null, string? Title = null, string? Description = null);

/// <summary>What is in a text, and the text itself.</summary>
/// <param name="Text">As Markdown, to be edited; null where it was pasted.</param>
/// <param name="Name">Where it came from: a file, an address, or "pasted".</param>
/// <param name="BriefId">The brief that it was compared with; null where it was made for this only.</param>
public sealed record CheckView(CheckedText Facts, string? Text, string? Title, string? Description, string Name, string Primary, BriefId? BriefId);

/// <summary>Keeps a version of a text.</summary>
public sealed record KeepTextRequest(string Text, string Name = "", string Title = "", string Description = "");

/// <summary>Checks of texts against what was asked for, and the versions of them.</summary>
public static class CheckEndpoints
{
    internal const int LongestText = 400_000;
    private const int LongestLine = 2_000;

    public static void MapChecks(this RouteGroupBuilder api)
    {
        api.MapPost("/briefs/{id:long}/check", async Task<Results<Ok<CheckView>, ProblemHttpResult>> (BriefId id, CheckTextRequest request, Project project, CancellationToken stop) =>
                project.Read(session => BriefStore.Find(session, id)) is { } stored ? await Check(project, stored.Brief, id, request, stop) : BriefEndpoints.NoBrief(id))
            .ForItsWriter().WithName("checkText");

        api.MapPost("/pages/{id:long}/check", async Task<Results<Ok<CheckView>, ProblemHttpResult>> (PageId id, CheckTextRequest request, Project project, CancellationToken stop) =>
            {
                if (project.Read(session => PageStore.Find(session, id)) is not { } page)
                    return Problems.NotFound($"There is no page {id}.");
                var stored = project.Read(session => BriefStore.OfPage(session, id) is [var first, ..] ? first : null);
                var brief = stored?.Brief ?? project.Read((session, snapshot) => project.PageBriefs.Of(session.Writes, id.ToString(), () =>
                    ClusterStore.OfPage(session, id) is { } cluster ? BriefReader.Make(session, snapshot, [cluster], null, BriefEndpoints.Today(project))[0] : null));
                if (brief is null)
                    return Problems.Conflict($"No cluster is assigned to {page.Url}, so there is nothing to compare it with. Assign one in the page map.");
                return await Check(project, brief, stored?.Id, request is { Text: null, Content: null, Url: null } ? request with { Url = page.Url } : request, stop);
            })
            .ForReaders().WithName("checkPage");

        api.MapPost("/briefs/{id:long}/texts", Results<Ok<BriefText>, ProblemHttpResult> (BriefId id, KeepTextRequest request, Project project) => Keep(project, id, request).ToOk())
            .ForItsWriter().WithName("keepText");

        api.MapGet("/briefs/texts/{id:long}", Results<Ok<BriefText>, ProblemHttpResult> (BriefTextId id, Project project) =>
                project.Read(session => BriefStore.Text(session, id)) is { } text ? TypedResults.Ok(text) : NoText(id))
            .WithName("keptText");

        api.MapGet("/briefs/texts/{id:long}/differences", Results<Ok<TextDifferences>, ProblemHttpResult> (BriefTextId id, BriefTextId from, Project project) =>
            {
                var (after, before) = project.Read(session => (BriefStore.Text(session, id), BriefStore.Text(session, from)));
                return after is null ? NoText(id) : before is null ? NoText(from) : TypedResults.Ok(TextDifferences.Of(DraftFile.OfPasted(before.Content), DraftFile.OfPasted(after.Content)));
            })
            .WithName("textDifferences");
    }

    /// <summary>Keeps a version of the text of a brief.</summary>
    internal static Outcome<BriefText> Keep(Project project, BriefId id, KeepTextRequest request)
    {
        if (FaultOf(request.Text, request.Title, request.Description) is { } fault)
            return fault;
        var text = DraftFile.OfPasted(request.Text);
        return project.Change<BriefText>("Keep a version of a text", session =>
        {
            if (BriefStore.Find(session, id) is not { } brief)
                return BriefEndpoints.NoBrief(id);
            var kept = BriefStore.AddText(
                session, new BriefText(default, id, request.Name.Trim() is { Length: > 0 and <= LongestLine } name ? name : "pasted", request.Title.Trim(), request.Description.Trim(), request.Text, text.Words, "", ""), project.Now);
            if (brief.State == BriefState.Sent)
            {
                BriefStore.Change(session, brief with { State = BriefState.Returned });
                BriefStore.Note(session, id, "sent → returned", project.Now);
            }

            return BriefStore.Text(session, kept)!;
        });
    }

    /// <returns>What a pasted text has of what a brief asks for.</returns>
    internal static CheckedText Facts(Project project, Brief brief, PageText text) => project.Read(session =>
    {
        var language = ProjectStore.Get(session).Language;
        var usual = project.UsualUses.Of(session.Writes, brief.Url + "\n" + brief.Primary, () =>
        {
            var wanted = brief.Ranking.Select(r => r.Url).ToHashSet(StringComparer.Ordinal);
            return TextCheck.UsualUses(brief, [.. RivalPageStore.Texts(session).Values.Where(t => wanted.Contains(t.Url!))], language);
        });
        return TextCheck.Of(brief, text, usual, project.SiteSentences(session), language);
    });

    /// <returns>What is wrong with a pasted text; null where nothing is.</returns>
    internal static ProblemHttpResult? FaultOf(string? text, string? title, string? description) =>
        text is { Length: > LongestText } ? Problems.Invalid("text", $"Paste a text of up to {LongestText / 1_000} thousand characters.")
        : title is { Length: > LongestLine } ? Problems.Invalid("title", $"Write a title of up to {LongestLine:N0} characters.")
        : description is { Length: > LongestLine } ? Problems.Invalid("description", $"Write a description of up to {LongestLine:N0} characters.")
        : null;

    private static async Task<Results<Ok<CheckView>, ProblemHttpResult>> Check(Project project, Brief brief, BriefId? id, CheckTextRequest request, CancellationToken stop)
    {
        if (FaultOf(request.Text, request.Title, request.Description) is { } fault)
            return fault;
        PageText text;
        var name = "pasted";
        try
        {
            if (request.Text is { } pasted)
            {
                text = DraftFile.OfPasted(pasted);
            }
            else if (request.Content is { } content)
            {
                name = request.FileName ?? "";
                text = DraftFile.Read(Convert.FromBase64String(content), name);
            }
            else if (request.Url is { Length: > 0 } given)
            {
                if (!Uri.TryCreate(given.Trim(), UriKind.Absolute, out var url) || url.Scheme is not ("http" or "https"))
                    return Problems.Invalid("url", $"“{given}” is no http or https address.");
                var settings = project.Read(session => ProjectStore.Settings(session).Scan);
                using var fetcher = new PageFetcher(settings);
                using var robots = new RobotsReader(fetcher, _ => { });
                using var pace = new Pace(settings.RatePerSecond);
                var (read, why) = await PageTextReader.Read(fetcher, robots, pace, url, stop);
                if (read is null)
                    return Problems.Invalid("url", $"{url} {why}.");
                (text, name) = (read, url.AbsoluteUri);
            }
            else
            {
                return Problems.Invalid("text", "Paste a text, choose a file, or give an address.");
            }
        }
        catch (Exception e) when (e is TableFormatException or FormatException)
        {
            return Problems.Invalid("content", e is TableFormatException ? e.Message : "The file did not come whole; choose it again.");
        }

        text = text with { Title = request.Title?.Trim() ?? text.Title, Description = request.Description?.Trim() ?? text.Description };
        return TypedResults.Ok(new CheckView(Facts(project, brief, text), request.Text is null ? text.Markdown ?? "" : null, text.Title, text.Description, name, brief.Primary, id));
    }

    private static ProblemHttpResult NoText(BriefTextId id) => Problems.NotFound($"There is no version {id} of a text.");
}
