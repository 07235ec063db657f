using JadeOrchard.Storage;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Keywords;

/// <summary>Makes a list, or renames one.</summary>
/// <param name="Selection">Keywords that come into a new list; null for none.</param>
public sealed record ListRequest(string Name, string? Notes = null, KeywordSelection? Selection = null);

/// <summary>Changes a list by another.</summary>
public sealed record CombineRequest(long OtherId, Combination How);

/// <summary>Gives the filter of an address a name.</summary>
public sealed record SaveFilterRequest(string Name, string Query);

/// <summary>Lists of keywords, and filters with a name.</summary>
public static class ListEndpoints
{
    private const int MostLetters = 200;

    public static void MapLists(this RouteGroupBuilder api)
    {
        api.MapGet("/lists", (Orchard orchard) => orchard.Database.Read(ListStore.All)).WithName("lists");

        api.MapPost("/lists", Results<Ok<ListRow>, ProblemHttpResult> (ListRequest request, Orchard orchard) =>
            {
                if (Fault(request.Name) is { } fault)
                    return fault;
                return orchard.Database.Write<Results<Ok<ListRow>, ProblemHttpResult>>(
                    session =>
                    {
                        if (ListStore.IdOf(session, request.Name.Trim()) is not null)
                            return Taken(request.Name);
                        var id = ListStore.Make(session, request.Name.Trim(), request.Notes?.Trim() ?? "", orchard.Now);
                        if (request.Selection is not null)
                            ListStore.Add(session, id, request.Selection);
                        return TypedResults.Ok(ListStore.Find(session, id)!);
                    },
                    $"Make the list “{request.Name.Trim()}”");
            })
            .WithName("makeList");

        api.MapPut("/lists/{id:long}", Results<NoContent, ProblemHttpResult> (long id, ListRequest request, Orchard orchard) =>
                Fault(request.Name) ?? Changed(orchard, id, $"Rename a list to “{request.Name.Trim()}”", session =>
                {
                    if (ListStore.IdOf(session, request.Name.Trim()) is { } other && other != id)
                        return Taken(request.Name);
                    ListStore.Rename(session, id, request.Name.Trim(), request.Notes?.Trim() ?? "");
                    return null;
                }))
            .WithName("renameList");

        api.MapDelete("/lists/{id:long}", (long id, Orchard orchard) => Changed(orchard, id, "Delete a list", session =>
            {
                ListStore.Delete(session, id);
                return null;
            }))
            .WithName("deleteList");

        api.MapPost("/lists/{id:long}/add", (long id, KeywordSelection selection, Orchard orchard) =>
                Counted(orchard, id, "Add keywords to a list", session => ListStore.Add(session, id, selection)))
            .WithName("addToList");

        api.MapPost("/lists/{id:long}/remove", (long id, KeywordSelection selection, Orchard orchard) =>
                Counted(orchard, id, "Take keywords out of a list", session => ListStore.Remove(session, id, selection)))
            .WithName("removeFromList");

        api.MapPost("/lists/{id:long}/combine", Results<Ok<ChangedAnswer>, ProblemHttpResult> (long id, CombineRequest request, Orchard orchard) =>
                orchard.Database.Read(session => ListStore.Find(session, request.OtherId)) is null
                    ? NoList(request.OtherId)
                    : Counted(orchard, id, "Combine lists", session => ListStore.Combine(session, id, request.OtherId, request.How)))
            .WithName("combineLists");

        api.MapGet("/filters", (Orchard orchard) => orchard.Database.Read(ListStore.Filters)).WithName("savedFilters");

        api.MapPut("/filters", Results<NoContent, ProblemHttpResult> (SaveFilterRequest request, Orchard orchard) =>
            {
                if (Fault(request.Name) is { } fault)
                    return fault;
                orchard.Database.Write(session => ListStore.SaveFilter(session, request.Name.Trim(), request.Query), $"Save the filter “{request.Name.Trim()}”");
                return TypedResults.NoContent();
            })
            .WithName("saveFilter");

        api.MapDelete("/filters/{id:long}", (long id, Orchard orchard) =>
            {
                orchard.Database.Write(session => ListStore.DeleteFilter(session, id), "Delete a saved filter");
                return TypedResults.NoContent();
            })
            .WithName("deleteFilter");
    }

    private static ProblemHttpResult? Fault(string name) =>
        string.IsNullOrWhiteSpace(name) ? Problems.Invalid("name", "Give it a name.")
        : name.Trim().Length > MostLetters ? Problems.Invalid("name", $"The name must not be longer than {MostLetters} letters.")
        : null;

    private static ProblemHttpResult Taken(string name) => Problems.Invalid("name", $"There is a list “{name.Trim()}” already. Choose another name, or add to that list.");

    /// <returns>What is wrong with a list that a request names; null where it is there, or none is named.</returns>
    internal static ProblemHttpResult? Unknown(Orchard orchard, long? listId) =>
        listId is { } id && orchard.Database.Read(session => ListStore.Find(session, id)) is null
            ? Problems.Invalid("listId", "That list is not there any more. Choose another one, or none.")
            : null;

    private static ProblemHttpResult NoList(long id) => Problems.NotFound($"There is no list {id}.");

    private static Results<NoContent, ProblemHttpResult> Changed(Orchard orchard, long id, string label, Func<Session, ProblemHttpResult?> change)
    {
        var problem = orchard.Database.Write(session => ListStore.Find(session, id) is null ? NoList(id) : change(session), label);
        return problem is null ? TypedResults.NoContent() : problem;
    }

    private static Results<Ok<ChangedAnswer>, ProblemHttpResult> Counted(Orchard orchard, long id, string label, Func<Session, int> change) =>
        orchard.Database.Write<Results<Ok<ChangedAnswer>, ProblemHttpResult>>(
            session => ListStore.Find(session, id) is null ? NoList(id) : TypedResults.Ok(new ChangedAnswer(change(session))), label);
}
