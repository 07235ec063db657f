using JadeOrchard.Storage;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Keywords;

/// <summary>Makes a list, or renames one.</summary>
/// <param name="Selection">Keywords that come into a new list; null for none.</param>
public sealed record ListRequest(string Name, string? Notes = null, KeywordSelection? Selection = null);

/// <summary>Changes a list by another.</summary>
public sealed record CombineRequest(ListId OtherId, Combination How);

/// <summary>Gives the filter of an address a name.</summary>
public sealed record SaveFilterRequest(string Name, string Query);

/// <summary>Lists of keywords, and filters with a name.</summary>
public static class ListEndpoints
{
    private const int MostLetters = 200;

    public static void MapLists(this RouteGroupBuilder api)
    {
        api.MapGet("/lists", (Project project) => project.Read(ListStore.All)).WithName("lists");

        api.MapPost("/lists", Results<Ok<ListRow>, ProblemHttpResult> (ListRequest request, Project project) =>
            {
                if (Fault(request.Name) is { } fault)
                    return fault;
                return project.Change<ListRow>($"Make the list “{request.Name.Trim()}”", session =>
                {
                    if (ListStore.IdOf(session, request.Name.Trim()) is not null)
                        return Taken(request.Name);
                    var id = ListStore.Make(session, request.Name.Trim(), request.Notes?.Trim() ?? "", project.Now);
                    if (request.Selection is not null)
                        ListStore.Add(session, id, request.Selection);
                    return ListStore.Find(session, id)!;
                }).ToOk();
            })
            .WithName("makeList");

        api.MapPut("/lists/{id:long}", Results<NoContent, ProblemHttpResult> (ListId id, ListRequest request, Project project) =>
                Fault(request.Name) ?? Changed(project, id, $"Rename a list to “{request.Name.Trim()}”", session =>
                {
                    if (ListStore.IdOf(session, request.Name.Trim()) is { } other && other != id)
                        return Taken(request.Name);
                    ListStore.Rename(session, id, request.Name.Trim(), request.Notes?.Trim() ?? "");
                    return null;
                }))
            .WithName("renameList");

        api.MapDelete("/lists/{id:long}", (ListId id, Project project) => Changed(project, id, "Delete a list", session =>
            {
                ListStore.Delete(session, id);
                return null;
            }))
            .WithName("deleteList");

        api.MapPost("/lists/{id:long}/add", (ListId id, KeywordSelection selection, Project project) =>
                Counted(project, id, "Add keywords to a list", session => ListStore.Add(session, id, selection)))
            .WithName("addToList");

        api.MapPost("/lists/{id:long}/remove", (ListId id, KeywordSelection selection, Project project) =>
                Counted(project, id, "Take keywords out of a list", session => ListStore.Remove(session, id, selection)))
            .WithName("removeFromList");

        api.MapPost("/lists/{id:long}/combine", Results<Ok<ChangedAnswer>, ProblemHttpResult> (ListId id, CombineRequest request, Project project) =>
                project.Read(session => ListStore.Find(session, request.OtherId)) is null
                    ? NoList(request.OtherId)
                    : Counted(project, id, "Combine lists", session => ListStore.Combine(session, id, request.OtherId, request.How)))
            .WithName("combineLists");

        api.MapGet("/filters", (Project project) => project.Read(ListStore.Filters)).WithName("savedFilters");

        api.MapPut("/filters", Results<NoContent, ProblemHttpResult> (SaveFilterRequest request, Project project) =>
            {
                if (Fault(request.Name) is { } fault)
                    return fault;
                project.Change($"Save the filter “{request.Name.Trim()}”", (WriteSession session) => ListStore.SaveFilter(session, request.Name.Trim(), request.Query));
                return TypedResults.NoContent();
            })
            .WithName("saveFilter");

        api.MapDelete("/filters/{id:long}", Results<NoContent, ProblemHttpResult> (FilterId id, Project project) =>
                project.Change("Delete a saved filter", session => ListStore.DeleteFilter(session, id) ? null : Problems.NotFound($"There is no filter {id}.")) is { } problem
                    ? problem
                    : TypedResults.NoContent())
            .WithName("deleteFilter");
    }

    private static ProblemHttpResult? Fault(string name) =>
        string.IsNullOrWhiteSpace(name) ? Problems.Invalid("name", "Give it a name.")
        : name.Trim().Length > MostLetters ? Problems.Invalid("name", $"The name must not be longer than {MostLetters} letters.")
        : null;

    private static ProblemHttpResult Taken(string name) => Problems.Invalid("name", $"There is a list “{name.Trim()}” already. Choose another name, or add to that list.");

    /// <returns>What is wrong with a list that a request names; null where it is there, or none is named.</returns>
    internal static ProblemHttpResult? Unknown(Project project, ListId? listId) =>
        listId is { } id && project.Read(session => ListStore.Find(session, id)) is null
            ? Problems.Invalid("listId", "That list is gone. Choose another one, or none.")
            : null;

    private static ProblemHttpResult NoList(ListId id) => Problems.NotFound($"There is no list {id}.");

    private static Results<NoContent, ProblemHttpResult> Changed(Project project, ListId id, string label, Func<WriteSession, ProblemHttpResult?> change) =>
        project.Change(label, session => ListStore.Find(session, id) is null ? NoList(id) : change(session)) is { } problem ? problem : TypedResults.NoContent();

    private static Results<Ok<ChangedAnswer>, ProblemHttpResult> Counted(Project project, ListId id, string label, Func<WriteSession, int> change) =>
        project.Change<ChangedAnswer>(label, session => ListStore.Find(session, id) is null ? NoList(id) : new ChangedAnswer(change(session))).ToOk();
}
