using System.Globalization;
using JadeOrchard.Core.Site;
using JadeOrchard.Server.Overview;
using JadeOrchard.Server.Team;
using JadeOrchard.Storage;

namespace JadeOrchard.Server.Projects;

/// <summary>Makes a project.</summary>
/// <param name="Name">Empty for the domain.</param>
/// <param name="Host">The site's domain, as for the project's own settings.</param>
/// <param name="SettingsOf">The project whose settings it gets; null for none.</param>
/// <param name="Parts">Which of them; null for all.</param>
public sealed record NewProjectRequest(string Name, string Host, string Country, string Language, string? SettingsOf = null, IReadOnlyList<SettingsPart>? Parts = null);

/// <summary>Makes a project like another.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="WithData">With all that is in it; otherwise only with its settings, site and market.</param>
public sealed record DuplicateRequest(string Name, bool WithData);

/// <summary>Takes settings over from another project.</summary>
public sealed record CopySettingsRequest(string From, IReadOnlyList<SettingsPart> Parts);

/// <summary>What was restored.</summary>
/// <param name="Before">The backup of what was there before, by which this can be undone; null where there was nothing.</param>
public sealed record RestoredView(ProjectEntry Project, Backup? Before);

/// <summary>The projects of the data folder: made, duplicated, put away, deleted, backed up, taken along.</summary>
public static class ProjectEndpoints
{
    private const int LongestName = 200;

    public static void MapProjects(this RouteGroupBuilder api)
    {
        api.MapGet("/projects", (ProjectList projects) => projects.All()).WithName("projects");

        api.MapPost("/projects", async Task<Results<Created<ProjectEntry>, ProblemHttpResult>> (NewProjectRequest request, ProjectList projects) =>
            {
                if (NameFault(request.Name) is { } fault)
                    return fault;
                if (OverviewEndpoints.ProfileFault(request.Host, request.Country, request.Language) is { } wrong)
                    return wrong;
                var site = new OwnSite(request.Host);
                var from = await SettingsOf(projects, request.SettingsOf, "settingsOf");
                return Made(await projects.Create(
                    new ProjectProfile(string.IsNullOrWhiteSpace(request.Name) ? site.Host : request.Name.Trim(), site.ToString(), request.Country.ToUpperInvariant(), request.Language.ToLowerInvariant(), []),
                    from is null ? null : session => from.Into(session, request.Parts ?? Enum.GetValues<SettingsPart>())));
            })
            .WithName("createProject");

        api.MapPost("/projects/import", async Task<Results<Created<ProjectEntry>, ProblemHttpResult>> (string? name, HttpRequest request, ProjectList projects, CancellationToken stop) =>
            {
                if (request.ContentType?.StartsWith("application/octet-stream", StringComparison.OrdinalIgnoreCase) != true)
                    return BadRequests.Says(StatusCodes.Status415UnsupportedMediaType);
                if (name is not null && NameFault(name) is { } fault)
                    return fault;
                var file = projects.NewFile();
                try
                {
                    await using (var stream = File.OpenWrite(file))
                        await request.Body.CopyToAsync(stream, stop);
                    if (ProjectFile.WhyNot(file) is { } whyNot)
                        return Problems.Invalid("file", whyNot);
                    return Made(await projects.Adopt(file, string.IsNullOrWhiteSpace(name) ? null : name.Trim()));
                }
                finally
                {
                    File.Delete(file);
                }
            })
            .Accepts<byte[]>("application/octet-stream")
            .WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(Imports.Uploads.MostBytes))
            .WithName("importProject");

        api.MapGet("/projects/{project}", Results<Ok<ProjectEntry>, ProblemHttpResult> (string project, ProjectList projects) =>
                projects.One(project) is { } entry ? TypedResults.Ok(entry) : None(project))
            .WithName("projectEntry");

        api.MapPost("/projects/{project}/duplicate", async Task<Results<Created<ProjectEntry>, ProblemHttpResult>> (string project, DuplicateRequest request, ProjectList projects) =>
            {
                if (NameFault(request.Name) is { } fault)
                    return fault;
                if (string.IsNullOrWhiteSpace(request.Name))
                    return Problems.Invalid("name", "Give the copy a name, to tell it from this one.");
                if (!request.WithData)
                {
                    var (profile, from) = await Read(projects, project, session => (ProjectStore.Get(session), SharedSettings.Of(session)));
                    return Made(await projects.Create(profile with { Name = request.Name.Trim() }, from.All));
                }

                return projects.Copy(project) is { } copy ? Made(await projects.Adopt(copy, request.Name.Trim())) : None(project);
            })
            .WithName("duplicateProject");

        api.MapPost("/projects/{project}/archive", async Task<Results<Ok<ProjectEntry>, ProblemHttpResult>> (string project, ProjectList projects) =>
                projects.One(project) is { State: not ProjectState.Active } ? Problems.Conflict("This project is put away already.") : Ok(await projects.Archive(project), project))
            .WithName("archiveProject");

        api.MapPost("/projects/{project}/take-back", async Task<Results<Ok<ProjectEntry>, ProblemHttpResult>> (string project, ProjectList projects) => Ok(await projects.TakeBack(project), project))
            .WithName("takeBackProject");

        api.MapDelete("/projects/{project}", async Task<Results<NoContent, ProblemHttpResult>> (string project, ProjectList projects) => await projects.Delete(project) ? TypedResults.NoContent() : None(project))
            .WithName("deleteProject");

        api.MapPost("/projects/{project}/settings", async Task<Results<NoContent, ProblemHttpResult>> (string project, CopySettingsRequest request, ProjectList projects, HttpContext context) =>
            {
                if (request.Parts.Count == 0)
                    return Problems.Invalid("parts", "Choose what to copy.");
                if (request.From == project)
                    return Problems.Invalid("from", "Choose another project to copy from.");
                using var visit = await Enter(projects, project);
                var from = (await SettingsOf(projects, request.From, "from"))!;
                const string label = "Copy settings from another project";
                visit.Open.Project.Change(label, (WriteSession session) => from.Into(session, request.Parts));
                visit.Open.Services.GetRequiredService<ChangeFeed>().Tell(context, Enum.GetValues<Area>(), label);
                return TypedResults.NoContent();
            })
            .WithName("copySettings");

        api.MapGet("/projects/{project}/file", Results<PhysicalFileHttpResult, ProblemHttpResult> (string project, ProjectList projects, HttpContext context, TimeProvider clock) =>
            {
                if (projects.Copy(project) is not { } copy)
                    return None(project);
                context.Response.OnCompleted(() =>
                {
                    File.Delete(copy);
                    return Task.CompletedTask;
                });
                ProjectFile.Detach(copy, keepsKeys: false);
                return TypedResults.PhysicalFile(copy, "application/vnd.sqlite3", $"{project.Split('~')[0]}-{clock.GetUtcNow().UtcDateTime.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)}.db");
            })
            .ForPlanners().WithName("exportProject");

        api.MapGet("/projects/{project}/backups", Results<Ok<IReadOnlyList<Backup>>, ProblemHttpResult> (string project, ProjectList projects) =>
                projects.FileOf(project) is { } file ? TypedResults.Ok(Backups.Of(file)) : None(project))
            .WithName("backups");

        api.MapPost("/projects/{project}/backups", Results<Created<Backup>, ProblemHttpResult> (string project, ProjectList projects, TimeProvider clock) =>
            {
                if (projects.FileOf(project) is not { } file)
                    return None(project);
                var backup = Backups.Make(file, BackupKind.Manual, clock.GetUtcNow());
                return TypedResults.Created($"/api/projects/{project}/backups/{backup.Name}", backup);
            })
            .WithName("makeBackup");

        api.MapGet("/projects/{project}/backups/{backup}", Results<PhysicalFileHttpResult, ProblemHttpResult> (string project, string backup, ProjectList projects) =>
                projects.FileOf(project) is not { } file ? None(project)
                : Backups.PathOf(file, backup) is { } path ? TypedResults.PhysicalFile(path, "application/vnd.sqlite3", $"{project}-{backup}")
                : NoBackup(backup))
            .ForPlanners().WithName("backupFile");

        api.MapDelete("/projects/{project}/backups/{backup}", Results<NoContent, ProblemHttpResult> (string project, string backup, ProjectList projects) =>
            {
                if (projects.FileOf(project) is not { } file)
                    return None(project);
                if (Backups.PathOf(file, backup) is not { } path)
                    return NoBackup(backup);
                File.Delete(path);
                return TypedResults.NoContent();
            })
            .WithName("deleteBackup");

        api.MapPost("/projects/{project}/backups/{backup}/restore", async Task<Results<Ok<RestoredView>, ProblemHttpResult>> (string project, string backup, ProjectList projects, TimeProvider clock) =>
            {
                if (projects.One(project) is not { State: ProjectState.Active })
                    return projects.One(project) is null ? None(project) : Problems.Conflict("Take the project back first; then restore one of its backups.");
                if (Backups.PathOf(projects.FileOf(project)!, backup) is not { } path)
                    return NoBackup(backup);
                Backup? before;
                try
                {
                    before = await projects.WhileClosed(project, file => Backups.Restore(file, path, clock.GetUtcNow()));
                }
                catch (InvalidDataException e)
                {
                    return Problems.Conflict($"This backup cannot be restored. {e.Message}");
                }

                using var visit = await Enter(projects, project);
                return TypedResults.Ok(new RestoredView(projects.One(project)!, before));
            })
            .WithName("restoreBackup");
    }

    private static Created<ProjectEntry> Made(ProjectEntry entry) => TypedResults.Created($"/api/projects/{entry.Id}", entry);

    private static Results<Ok<ProjectEntry>, ProblemHttpResult> Ok(ProjectEntry? entry, string project) => entry is null ? None(project) : TypedResults.Ok(entry);

    private static ProblemHttpResult None(string project) => Problems.NotFound($"There is no project “{project}”.");

    private static ProblemHttpResult NoBackup(string backup) => Problems.NotFound($"There is no backup “{backup}”.");

    private static ProblemHttpResult? NameFault(string name) =>
        name.Trim().Length > LongestName || name.Any(char.IsControl) ? Problems.Invalid("name", $"Write a name of at most {LongestName} characters, on one line.") : null;

    private static async Task<SharedSettings?> SettingsOf(ProjectList projects, string? id, string field)
    {
        if (id is null)
            return null;
        if (projects.One(id) is not { State: ProjectState.Active })
            throw new RefusedException(Problems.Invalid(field, $"There is no project “{id}” that is worked on."));
        return await Read(projects, id, SharedSettings.Of);
    }

    private static async Task<T> Read<T>(ProjectList projects, string id, Func<Session, T> read)
    {
        using var visit = await Enter(projects, id);
        return visit.Open.Project.Read(read);
    }

    /// <exception cref="RefusedException">It is not worked on, or cannot be opened.</exception>
    private static async Task<OpenProject.Visit> Enter(ProjectList projects, string id)
    {
        try
        {
            return await projects.Enter(id, CancellationToken.None) ?? throw new RefusedException(
                projects.One(id) is null ? None(id) : Problems.Conflict("This project is not worked on. Take it back first."));
        }
        catch (StartException e)
        {
            throw new RefusedException(Problems.Conflict($"The project cannot be opened. {e.Message}"));
        }
    }
}
