using System.Globalization;
using System.Net;
using System.Text;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Formats.Briefs;
using JadeOrchard.Server.Team;
using JadeOrchard.Storage.Briefs;
using Microsoft.AspNetCore.Http.Features;

namespace JadeOrchard.Server.Briefs;

/// <summary>A draft that a writer pasted.</summary>
/// <param name="IsHandedIn">It is to be kept as a version of the brief's text.</param>
internal sealed record Draft(string Title, string Description, string Text, bool IsHandedIn);

/// <summary>What writers see: a brief to read, and a form to check a draft against it. It is written here and needs no script.</summary>
internal static class WriterPage
{
    private const int MostFormBytes = 4 << 20;
    private const string HandsIn = "hand-in";

    /// <returns>The draft of a form, or the page that says what is wrong with it.</returns>
    public static async Task<(Draft? Draft, IResult? Fault)> Read(HttpContext context, CancellationToken stop)
    {
        if (!context.Request.HasFormContentType || context.Request.ContentLength > MostFormBytes)
            return (null, Message(context, StatusCodes.Status400BadRequest, "This text cannot be read", "Paste the draft into the form of the brief; it may have up to 400 thousand characters."));
        try
        {
            var form = await context.Request.ReadFormAsync(new FormOptions { ValueLengthLimit = MostFormBytes, BufferBodyLengthLimit = MostFormBytes, KeyLengthLimit = 100, ValueCountLimit = 10 }, stop);
            return (new Draft(form["title"].ToString(), form["description"].ToString(), form["text"].ToString(), form.ContainsKey(HandsIn)), null);
        }
        catch (Exception e) when (e is InvalidDataException or BadHttpRequestException)
        {
            return (null, Message(context, StatusCodes.Status400BadRequest, "This text is too long", "A draft may have up to 400 thousand characters."));
        }
    }

    /// <summary>The page of a brief.</summary>
    /// <param name="context">The request.</param>
    /// <param name="project">Of the brief.</param>
    /// <param name="stored">The brief.</param>
    /// <param name="draft">To be checked; null for none.</param>
    /// <param name="token">Of a writer who has signed in and can hand in; null for none.</param>
    /// <param name="says">What became of the draft; null for nothing.</param>
    public static IResult Of(HttpContext context, Project project, StoredBrief stored, Draft? draft, string? token = null, string? says = null)
    {
        var page = BriefFile.Html(stored.Brief, BriefEndpoints.ForOf(stored, project.Read(BriefEndpoints.SiteOf)));
        var fault = FaultOf(draft);
        var facts = draft is null || fault is not null ? null
            : CheckEndpoints.Facts(project, stored.Brief, DraftFile.OfPasted(draft.Text) with { Title = draft.Title.Trim() is { Length: > 0 } title ? title : null, Description = draft.Description.Trim() is { Length: > 0 } description ? description : null });
        var back = token is null ? "" : "<p><a href=\"/\">Your briefs</a></p>";
        return Html(context, StatusCodes.Status200OK, page.Replace("<body>", "<body>" + back, StringComparison.Ordinal).Replace("</body>", Form(draft, fault, facts, token, says) + "</body>", StringComparison.Ordinal));
    }

    /// <returns>What is wrong with a draft, in words; null where nothing is, or there is none.</returns>
    public static string? FaultOf(Draft? draft) =>
        draft is null ? null : draft.Text.Length > CheckEndpoints.LongestText ? "The draft is too long; it may have up to 400 thousand characters." : draft.Text.Trim().Length == 0 ? "Paste the draft first." : null;

    /// <summary>A page that only says something.</summary>
    public static IResult Message(HttpContext context, int status, string heading, string says) => Html(
        context, status,
        $"<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" content=\"width=device-width, initial-scale=1\"><title>{Safe(heading)}</title></head><body><h1>{Safe(heading)}</h1><p>{Safe(says)}</p></body></html>");

    private static IResult Html(HttpContext context, int status, string html)
    {
        // With "no-referrer" a browser would not say where the form comes from; to others it says nothing this way either.
        context.Response.Headers["Referrer-Policy"] = "same-origin";
        context.Response.Headers["X-Robots-Tag"] = "noindex";
        context.Response.Headers.CacheControl = "no-store";
        context.Response.Headers.ContentSecurityPolicy = "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";
        return Microsoft.AspNetCore.Http.Results.Content(html, "text/html; charset=utf-8", Encoding.UTF8, status);
    }

    private static string Form(Draft? draft, string? fault, CheckedText? facts, string? token, string? says)
    {
        var html = new StringBuilder($$"""
            <style>
            form label { display: block; margin: 10px 0; } form input[type=text], form textarea { display: block; width: 100%; box-sizing: border-box; font: inherit; padding: 6px 8px; border: 1px solid #9fa79f; }
            form button { font: inherit; padding: 6px 16px; background: #2e7d63; color: #fff; border: 0; } .missing { color: #a04a2a; }
            </style>
            <section id="check">
            <h2>Check a draft</h2>
            <p>Paste the draft, as Markdown or plain text. It is compared with this brief{{(token is null ? " and not kept" : "; handing it in keeps it and tells the planner")}}.</p>
            {{(says is null ? "" : $"<p role=\"status\"><strong>{Safe(says)}</strong></p>")}}
            {{(fault is null ? "" : $"<p class=\"missing\" role=\"alert\">{Safe(fault)}</p>")}}
            <form method="post" action="#check">
            {{(token is null ? "" : $"<input type=\"hidden\" name=\"{SignIn.TokenField}\" value=\"{Safe(token)}\">")}}
            <label>Title <input type="text" name="title" maxlength="2000" value="{{Safe(draft?.Title ?? "")}}"></label>
            <label>Description <input type="text" name="description" maxlength="2000" value="{{Safe(draft?.Description ?? "")}}"></label>
            <label>Draft <textarea name="text" rows="14" required>{{Safe(draft?.Text ?? "")}}</textarea></label>
            <button type="submit">Check</button>
            {{(token is null ? "" : $"<button type=\"submit\" name=\"{HandsIn}\" value=\"yes\">Hand in</button>")}}
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
}
