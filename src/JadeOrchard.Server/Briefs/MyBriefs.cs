using JadeOrchard.Server.Projects;
using JadeOrchard.Server.Team;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Team;

namespace JadeOrchard.Server.Briefs;

/// <summary>A brief on which whoever is signed in is named as the writer.</summary>
/// <param name="Project">The project that it belongs to.</param>
/// <param name="ProjectName">What that is called.</param>
/// <param name="Page">Where it is read.</param>
public sealed record MyBrief(string Project, string ProjectName, BriefId Id, string Primary, string Url, bool IsNew, int? Words, BriefState State, DateOnly? Due, string Page);

/// <summary>The briefs of whoever is signed in, of all projects: listed, read, checked against, and handed in.</summary>
public static class MyBriefs
{
    /// <summary>Where they are.</summary>
    public const string Path = "/my-briefs";

    public static void MapMyBriefs(this RouteGroupBuilder api) =>
        api.MapGet("/my-briefs", async (HttpContext context, ProjectList projects, CancellationToken stop) =>
            {
                var found = new List<MyBrief>();
                foreach (var id in context.User() is null ? [] : projects.Active)
                    found.AddRange(await Of(projects, id, context.User()!, stop));
                return found.OrderBy(b => b.State == BriefState.Done).ThenBy(b => b.Due ?? DateOnly.MaxValue).ThenBy(b => b.ProjectName, StringComparer.OrdinalIgnoreCase).ThenBy(b => b.Id).ToList();
            })
            .ForEverybody().WithName("myBriefs");

    public static void MapMyBriefPages(this WebApplication app)
    {
        app.MapGet(Path + "/{id:long}", (BriefId id, HttpContext context, Project project) => Page(context, project, id, null)).ExcludeFromDescription();
        app.MapPost(Path + "/{id:long}", async (BriefId id, HttpContext context, Project project, CancellationToken stop) =>
        {
            var (draft, fault) = await WriterPage.Read(context, stop);
            return fault ?? Page(context, project, id, draft);
        }).ExcludeFromDescription();
    }

    /// <summary>Writers may use an endpoint of a brief, "id" in its address, where they are its writer; to others of them it is as if there were none.</summary>
    internal static T ForItsWriter<T>(this T endpoint) where T : IEndpointConventionBuilder => endpoint.ForEverybody().AddEndpointFilter(async (call, next) =>
    {
        var context = call.HttpContext;
        if (context.User() is { Role: Role.Writer } user
            && !(BriefId.TryParse(context.Request.RouteValues["id"]?.ToString(), out var id) && IsOf(context.RequestServices.GetRequiredService<Project>().Read(session => BriefStore.Find(session, id)), user)))
            return BriefEndpoints.NoBrief(id);
        return await next(call);
    });

    private static bool IsOf(StoredBrief? brief, User user) => brief is not null && IsOf(brief.Writer, user);

    private static bool IsOf(string writer, User user) => writer.Length > 0 && writer.Equals(user.Name, StringComparison.OrdinalIgnoreCase);

    private static async Task<IEnumerable<MyBrief>> Of(ProjectList projects, string id, User user, CancellationToken stop)
    {
        try
        {
            using var visit = await projects.Enter(id, stop, isBackground: true);
            return visit?.Open.Project.Read(session =>
            {
                var name = BriefEndpoints.SiteOf(session).Name;
                return BriefEndpoints.Rows(visit.Open.Project, session).Where(b => IsOf(b.Writer, user))
                    .Select(b => new MyBrief(id, name, b.Id, b.Primary, b.Url, b.IsNew, b.Words, b.State, b.Due, $"{ProjectPaths.Prefix}/{id}{Path}/{b.Id}")).ToList();
            }) ?? [];
        }
        catch (StartException)
        {
            // Its briefs cannot be read, whoever asks.
            return [];
        }
    }

    private static IResult Page(HttpContext context, Project project, BriefId id, Draft? draft)
    {
        if (context.User() is not { } user || project.Read(session => BriefStore.Find(session, id)) is not { } brief || !IsOf(brief, user))
            return WriterPage.Message(context, StatusCodes.Status404NotFound, "This brief is not yours", "You are not named as its writer, or it was deleted. Ask the planner.");
        string? says = null;
        if (draft is { IsHandedIn: true } && WriterPage.FaultOf(draft) is null)
        {
            var refusal = CheckEndpoints.Keep(project, id, new KeepTextRequest(draft.Text, "handed in", draft.Title, draft.Description)).Refusal;
            says = refusal?.ProblemDetails.Detail ?? "Handed in. The planner can read it now.";
        }

        return WriterPage.Of(context, project, brief, draft, SignIn.TokenFor(context), says);
    }
}
