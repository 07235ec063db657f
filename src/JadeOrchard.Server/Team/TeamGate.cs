using JadeOrchard.Storage;
using JadeOrchard.Storage.Team;
using Microsoft.AspNetCore.Antiforgery;

namespace JadeOrchard.Server.Team;

/// <summary>Lets requests in: everything on this machine, and where the team signs in what the role of whoever sends it allows.</summary>
public static class TeamGate
{
    /// <summary>What a proxy adds to requests that it passes on (RFC 7239, and common practice).</summary>
    private static readonly string[] OfProxies = ["Forwarded", "X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto", "Via"];

    /// <summary>Pages that say nothing of any project: those for writers with a link check that themselves.</summary>
    private static readonly string[] ForAll = ["/brief", "/guide", "/assets"];

    public static async Task Check(HttpContext context, Func<Task> next)
    {
        if (!Listener.IsTeams(context))
        {
            // What a proxy passes on comes from elsewhere, and nobody has signed in here.
            if (OfProxies.Any(context.Request.Headers.ContainsKey))
                await Refuse(context, StatusCodes.Status403Forbidden, "proxy", "Not allowed", "This port is for this machine alone. Let the proxy pass requests on to the address and port of --listen.");
            else
                await next();
            return;
        }

        var user = await SignIn.Read(context);
        Author.Current = user?.Name ?? "";
        var (path, method) = (context.Request.Path, context.Request.Method);
        if (path.StartsWithSegments("/api"))
        {
            var access = Access.Of(context.GetEndpoint(), method);
            if (!access.NeedsUser)
                await next();
            else if (user is null)
                await Refuse(context, StatusCodes.Status401Unauthorized, "sign-in", "Not signed in", "Sign in first.");
            else if (!access.Roles.Contains(user.Role))
                await Refuse(context, StatusCodes.Status403Forbidden, "role", "Not allowed", WhyNot(user.Role, access));
            else
                await Unforged(context, next);
        }
        else if (user is not null && path.StartsWithSegments("/my-briefs"))
            await Unforged(context, next);
        else if (user is { Role: not Role.Writer } || ForAll.Any(f => path.StartsWithSegments(f)) || Path.HasExtension(path.Value))
            await next();
        else
        {
            // The front end signs them in, and shows writers their briefs. Until then it is not told which projects there are.
            context.SetEndpoint(null);
            context.Request.Path = "/index.html";
            await next();
        }
    }

    /// <summary>A change has to carry the token that only our own pages have.</summary>
    private static async Task Unforged(HttpContext context, Func<Task> next)
    {
        var isRead = HttpMethods.IsGet(context.Request.Method) || HttpMethods.IsHead(context.Request.Method);
        if (isRead || await context.RequestServices.GetRequiredService<IAntiforgery>().IsRequestValidAsync(context))
            await next();
        else
            await Refuse(context, StatusCodes.Status400BadRequest, "token", "Not valid", $"The request does not show that it comes from a page of Jade Orchard. Load the page again, or send the token of /api/session in the header {SignIn.TokenHeader}.");
    }

    private static string WhyNot(Role role, Access access) => role switch
    {
        Role.Writer => "A writer reads the briefs on which they are named. Ask a planner for more.",
        _ when access.Roles.Contains(Role.Writer) => "This is for writers.",
        _ => "You can read this project, and a planner can change it.",
    };

    private static Task Refuse(HttpContext context, int status, string type, string title, string detail) => Problems.Problem(status, type, title, detail).ExecuteAsync(context);
}
