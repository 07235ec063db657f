using System.Globalization;
using System.Security.Cryptography;
using JadeOrchard.Storage.Briefs;
using Microsoft.AspNetCore.WebUtilities;

namespace JadeOrchard.Server.Briefs;

/// <summary>Gives a brief a link for its writer.</summary>
/// <param name="Days">How long it works.</param>
public sealed record LinkRequest(int Days = 30);

/// <summary>The writer's link: one brief to read, and a draft to check against it. It reaches nothing else.</summary>
public static class WriterEndpoints
{
    private const int TokenBytes = 16, MostDays = 365;

    /// <summary>The path of the link with a token.</summary>
    internal static string PathOf(string token) => $"/brief/{token}";

    public static void MapWriterLinks(this RouteGroupBuilder api)
    {
        api.MapPut("/briefs/{id:long}/link", Results<NoContent, ProblemHttpResult> (BriefId id, LinkRequest request, Project project) =>
            {
                if (request.Days is < 1 or > MostDays)
                    return Problems.Invalid("days", $"A link works for 1 to {MostDays} days.");
                // 128 random bits, so that nobody guesses one (RFC 4086).
                var token = WebEncoders.Base64UrlEncode(RandomNumberGenerator.GetBytes(TokenBytes));
                return project.Change("Give a writer a link", session =>
                {
                    if (BriefStore.Find(session, id) is null)
                        return BriefEndpoints.NoBrief(id);
                    BriefStore.SaveLink(session, token, id, project.Now.AddDays(request.Days), project.Now);
                    BriefStore.Note(session, id, $"a link for the writer was made; it works for {request.Days.ToString(CultureInfo.InvariantCulture)} days", project.Now);
                    return null;
                }) is { } refusal ? refusal : TypedResults.NoContent();
            })
            .WithName("makeWriterLink");

        api.MapDelete("/briefs/{id:long}/link", Results<NoContent, ProblemHttpResult> (BriefId id, Project project) =>
                project.Change("Take back a writer's link", session =>
                {
                    if (BriefStore.Find(session, id) is null)
                        return BriefEndpoints.NoBrief(id);
                    BriefStore.DeleteLink(session, id);
                    BriefStore.Note(session, id, "the link for the writer was taken back", project.Now);
                    return null;
                }) is { } problem ? problem : TypedResults.NoContent())
            .WithName("takeBackWriterLink");
    }

    /// <summary>The page of a link. It reaches one brief, and nothing else.</summary>
    public static void MapWriterPages(this WebApplication app)
    {
        app.MapGet("/brief/{token}", (string token, HttpContext context, Project project) => Page(context, project, token, null)).ExcludeFromDescription();
        app.MapPost("/brief/{token}", async (string token, HttpContext context, Project project, CancellationToken stop) =>
        {
            var (draft, fault) = await WriterPage.Read(context, stop);
            return fault ?? Page(context, project, token, draft);
        }).ExcludeFromDescription();
    }

    private static IResult Page(HttpContext context, Project project, string token, Draft? draft) =>
        project.Read(session => BriefStore.Link(session, token, project.Now) is { } link ? BriefStore.Find(session, link.BriefId) : null) is { } brief
            ? WriterPage.Of(context, project, brief, draft)
            : WriterPage.Message(context, StatusCodes.Status404NotFound, "This link no longer works", "It has expired, was taken back, or is not complete. Ask whoever sent it for a new one.");
}
