using System.Globalization;
using System.Net;
using System.Security.Cryptography;
using System.Text;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Formats.Briefs;
using JadeOrchard.Storage.Briefs;
using Microsoft.AspNetCore.WebUtilities;

namespace JadeOrchard.Server.Briefs;

/// <summary>Where this program can be reached.</summary>
/// <param name="IsLocal">From this machine only.</param>
public sealed record Listener(bool IsLocal)
{
    /// <summary>
    /// What a request may reach: at the loopback address, under its names, everything; what comes in at another address reaches the pages for writers and nothing else, whatever host it names.
    /// </summary>
    /// <param name="path">That is asked for.</param>
    /// <param name="local">The address at which the request came in; null where there is no network between, as in tests.</param>
    /// <param name="host">The host that the request names.</param>
    public static bool Reaches(PathString path, IPAddress? local, string host) =>
        path.StartsWithSegments("/brief", StringComparison.Ordinal) || ((local is null || IPAddress.IsLoopback(local)) && host is "localhost" or "127.0.0.1" or "[::1]" or "::1");
}

/// <summary>Gives a brief a link for its writer.</summary>
/// <param name="Days">How long it works.</param>
public sealed record LinkRequest(int Days = 30);

/// <summary>The writer's link: one brief to read, and a draft to check against it. It reaches nothing else.</summary>
public static class WriterEndpoints
{
    private const int TokenBytes = 16, MostDays = 365, MostFormBytes = 4 << 20;

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

    /// <summary>The pages that writers see. They are written here and need neither script nor session.</summary>
    public static void MapWriterPages(this WebApplication app)
    {
        app.MapGet("/brief/{token}", (string token, HttpContext context, Project project) => Page(context, project, token, null)).ExcludeFromDescription();
        app.MapPost("/brief/{token}", async (string token, HttpContext context, Project project, CancellationToken stop) =>
        {
            if (!context.Request.HasFormContentType || context.Request.ContentLength > MostFormBytes)
                return Html(context, StatusCodes.Status400BadRequest, Message("This text cannot be read", "Paste the draft into the form of the brief; it may have up to 400 thousand characters."));
            try
            {
                var form = await context.Request.ReadFormAsync(new Microsoft.AspNetCore.Http.Features.FormOptions { ValueLengthLimit = MostFormBytes, BufferBodyLengthLimit = MostFormBytes, KeyLengthLimit = 100, ValueCountLimit = 10 }, stop);
                return Page(context, project, token, new Draft(form["title"].ToString(), form["description"].ToString(), form["text"].ToString()));
            }
            catch (Exception e) when (e is InvalidDataException or BadHttpRequestException)
            {
                return Html(context, StatusCodes.Status400BadRequest, Message("This text is too long", "A draft may have up to 400 thousand characters."));
            }
        }).ExcludeFromDescription();
    }

    private static IResult Page(HttpContext context, Project project, string token, Draft? draft)
    {
        if (project.Read(session => BriefStore.Link(session, token, project.Now) is { } link && BriefStore.Find(session, link.BriefId) is { } stored ? (stored, BriefEndpoints.SiteOf(session)) : default((StoredBrief, (string, string))?)) is not var (brief, site))
            return Html(context, StatusCodes.Status404NotFound, Message("This link no longer works", "It has expired, was taken back, or is not complete. Ask whoever sent it for a new one."));
        var page = BriefFile.Html(brief.Brief, BriefEndpoints.ForOf(brief, site));
        var fault = draft is null ? null : draft.Text.Length > CheckEndpoints.LongestText ? "The draft is too long; it may have up to 400 thousand characters." : draft.Text.Trim().Length == 0 ? "Paste the draft first." : null;
        var facts = draft is null || fault is not null ? null
            : CheckEndpoints.Facts(project, brief.Brief, DraftFile.OfPasted(draft.Text) with { Title = draft.Title.Trim() is { Length: > 0 } title ? title : null, Description = draft.Description.Trim() is { Length: > 0 } description ? description : null });
        return Html(context, StatusCodes.Status200OK, page.Replace("</body>", Form(token, draft, fault, facts) + "</body>", StringComparison.Ordinal));
    }

    private static IResult Html(HttpContext context, int status, string html)
    {
        // With "no-referrer" a browser would not say where the form comes from; to others it says nothing this way either.
        context.Response.Headers["Referrer-Policy"] = "same-origin";
        context.Response.Headers["X-Robots-Tag"] = "noindex";
        context.Response.Headers.CacheControl = "no-store";
        context.Response.Headers.ContentSecurityPolicy = "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";
        return Microsoft.AspNetCore.Http.Results.Content(html, "text/html; charset=utf-8", Encoding.UTF8, status);
    }

    private static string Message(string heading, string says) =>
        $"<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" content=\"width=device-width, initial-scale=1\"><title>{Safe(heading)}</title></head><body><h1>{Safe(heading)}</h1><p>{Safe(says)}</p></body></html>";

    private static string Form(string token, Draft? draft, string? fault, CheckedText? facts)
    {
        var html = new StringBuilder($$"""
            <style>
            form label { display: block; margin: 10px 0; } form input[type=text], form textarea { display: block; width: 100%; box-sizing: border-box; font: inherit; padding: 6px 8px; border: 1px solid #9fa79f; }
            form button { font: inherit; padding: 6px 16px; background: #2e7d63; color: #fff; border: 0; } .missing { color: #a04a2a; }
            </style>
            <section id="check">
            <h2>Check a draft</h2>
            <p>Paste the draft, as Markdown or plain text. It is compared with this brief and not kept.</p>
            {{(fault is null ? "" : $"<p class=\"missing\" role=\"alert\">{Safe(fault)}</p>")}}
            <form method="post" action="#check">
            <label>Title <input type="text" name="title" maxlength="2000" value="{{Safe(draft?.Title ?? "")}}"></label>
            <label>Description <input type="text" name="description" maxlength="2000" value="{{Safe(draft?.Description ?? "")}}"></label>
            <label>Draft <textarea name="text" rows="14" required>{{Safe(draft?.Text ?? "")}}</textarea></label>
            <button type="submit">Check</button>
            </form>

            """);
        if (facts is not null)
        {
            html.Append(CultureInfo.InvariantCulture, $"<h3>{facts.Words:N0} words{(facts.Target is { } target ? $"; {target.Words:N0} are asked for" : "")}</h3>\n");
            List("Headings", facts.Faults);
            foreach (var line in facts.Lines.Where(l => l.Rest.Length > 0))
                html.Append(CultureInfo.InvariantCulture, $"<p class=\"missing\">The {line.Kind.ToString().ToLowerInvariant()} is cut off in results after “{Safe(line.Shown)}”.</p>\n");
            Phrases("Keywords", facts.Keywords);
            Phrases("Terms", facts.Terms);
            Phrases("Questions", facts.Questions);
            List("Links that are missing", [.. facts.Links.Where(l => !l.IsThere).Select(l => $"{l.Url} on “{l.Words}”")]);
            List("Sentences that another page has", [.. facts.Repeated.Select(r => $"{r.Text} ({r.Url})")]);
            List("Numbers and dates without a source", facts.Claims);
        }

        return html.Append("</section>\n").ToString();

        void List(string heading, IReadOnlyList<string> items)
        {
            if (items.Count > 0)
                html.Append(CultureInfo.InvariantCulture, $"<h3>{heading}</h3>\n<ul>{string.Concat(items.Select(i => $"<li>{Safe(i)}</li>"))}</ul>\n");
        }

        void Phrases(string heading, IReadOnlyList<CheckedPhrase> phrases)
        {
            if (phrases.Count > 0)
            {
                html.Append(CultureInfo.InvariantCulture, $"<h3>{heading}</h3>\n<table><tbody>{string.Concat(phrases.Select(p =>
                    $"<tr><td>{Safe(p.Phrase)}</td><td{(p.Places.Count == 0 ? " class=\"missing\"" : "")}>{(p.Places.Count == 0 ? $"missing{(p.Belongs is { } near ? $"; would go near: {Safe(near)}" : "")}" : Safe(string.Join(", ", p.Places.Select(x => BriefMaker.NameOf(x.Place)))))}{(p.IsOverused ? ", more often than ranking pages" : "")}</td></tr>"))}</tbody></table>\n");
            }
        }
    }

    private static string Safe(string text) => WebUtility.HtmlEncode(text);

    private sealed record Draft(string Title, string Description, string Text);
}
