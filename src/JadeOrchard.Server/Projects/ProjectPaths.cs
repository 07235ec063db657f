using JadeOrchard.Server.Briefs;

namespace JadeOrchard.Server.Projects;

/// <summary>
/// Tells which project a request is about: its address begins with "/p/" and the project's id. Without that it is the only project; where there are
/// several, only what is about all of them can be asked for.
/// </summary>
public static class ProjectPaths
{
    /// <summary>What the address of a project begins with.</summary>
    public const string Prefix = "/p";

    private const string Visit = "project visit";

    /// <summary>Takes the project's part off the address, so that what follows sees the same addresses for each project.</summary>
    public static Task Split(HttpContext context, Func<Task> next)
    {
        if (context.Request.Path.StartsWithSegments(Prefix, StringComparison.Ordinal, out var rest) && rest.Value is { Length: > 1 } path)
        {
            var end = path.IndexOf('/', 1);
            var id = end < 0 ? path[1..] : path[1..end];
            context.Items[Prefix] = id;
            context.Request.PathBase += $"{Prefix}/{id}";
            context.Request.Path = end < 0 ? "/" : path[end..];
        }

        return next();
    }

    /// <returns>The project that the address names; null where it names none.</returns>
    public static string? Named(HttpContext context) => context.Items[Prefix] as string;

    /// <summary>Opens the project, and gives what works on it to the request.</summary>
    public static async Task Enter(HttpContext context, Func<Task> next)
    {
        var projects = context.RequestServices.GetRequiredService<ProjectList>();
        var path = context.Request.Path;
        var isWriters = path.StartsWithSegments("/brief", StringComparison.Ordinal);
        var isMine = path.StartsWithSegments(MyBriefs.Path);
        if (IsOfNone(path))
        {
            await next();
            return;
        }

        if (!isWriters && !isMine && !path.StartsWithSegments("/api"))
        {
            // The front end itself says what is wrong with a project that cannot be opened.
            if (Elsewhere(context, projects.Active) is { } address)
                context.Response.Redirect(address);
            else
                await next();
            return;
        }

        var id = Named(context) ?? (isWriters ? await OfLink(projects, path, context.RequestAborted) : null) ?? Only(projects.Active, path);
        using var visit = await Open(context, projects, id)
            ?? throw new RefusedException(Problems.NotFound($"There is no project “{id}” that is worked on."));
        var request = context.RequestServices;
        using var either = CancellationTokenSource.CreateLinkedTokenSource(context.RequestAborted, visit.Closing);
        context.RequestAborted = either.Token;
        context.RequestServices = visit.Of(request);
        try
        {
            await next();
        }
        finally
        {
            context.RequestServices = request;
        }
    }

    /// <summary>The page that lists the projects.</summary>
    public const string ProjectsPage = "/projects";

    private static readonly string[] OfNone = ["/api/openapi.json", "/api/words", "/api/guide", "/api/session", "/api/team", "/api/my-briefs"];

    /// <summary>What is about no project in particular.</summary>
    private static bool IsOfNone(PathString path) =>
        path == ProjectsPage || path.StartsWithSegments("/api/projects") || OfNone.Any(none => path.StartsWithSegments(none)) || path.StartsWithSegments(Guide.GuideEndpoints.Path) || path.StartsWithSegments("/assets");

    /// <returns>Where a page is found instead: at the address of its project, or in the list of projects; null where it is at its own. Files of the front end are the same for all.</returns>
    private static string? Elsewhere(HttpContext context, IReadOnlyList<string> active)
    {
        var path = context.Request.Path;
        if (!HttpMethods.IsGet(context.Request.Method) || Path.HasExtension(path.Value))
            return null;
        return Named(context) is { } named ? (active.Contains(named) ? null : ProjectsPage)
            : active.Count == 1 ? $"{Prefix}/{active[0]}{path}{context.Request.QueryString}"
            : ProjectsPage;
    }

    /// <exception cref="RefusedException">There is not exactly one.</exception>
    private static string Only(IReadOnlyList<string> active, PathString path) => active.Count == 1 ? active[0] : throw new RefusedException(Problems.NotFound(
        active.Count == 0
            ? "There is no project that is worked on. Make one, or take one back from the archive."
            : $"There are several projects. Name one in the address: {Prefix}/{active[0]}{path}."));

    private static async Task<OpenProject.Visit?> Open(HttpContext context, ProjectList projects, string id)
    {
        try
        {
            return await projects.Enter(id, context.RequestAborted);
        }
        catch (StartException e)
        {
            throw new RefusedException(Problems.Problem(StatusCodes.Status507InsufficientStorage, "storage", "The project cannot be opened", $"{e.Message} The list of projects offers its backups."));
        }
    }

    /// <summary>Links for writers that were sent before there were several projects name none.</summary>
    private static async Task<string?> OfLink(ProjectList projects, PathString path, CancellationToken stop)
    {
        if (projects.Active is not { Count: > 1 } several)
            return null;
        var token = path.Value!["/brief/".Length..];
        foreach (var id in several)
        {
            try
            {
                using var visit = await projects.Enter(id, stop, isBackground: true);
                if (visit?.Open.Project.Read(session => Storage.Briefs.BriefStore.Link(session, token, visit.Open.Project.Now)) is not null)
                    return id;
            }
            catch (StartException)
            {
                // Its briefs cannot be read, whoever asks.
            }
        }

        return several[0];
    }
}
