using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Results;

/// <summary>A keyword with its newest result list.</summary>
public sealed record ResultListView(KeywordRow Keyword, IReadOnlyList<ResultRow> Results);

/// <summary>Captured result lists.</summary>
public static class ResultEndpoints
{
    public static void MapResults(this RouteGroupBuilder api) =>
        api.MapGet("/keywords/{id:long}/results", Results<Ok<ResultListView>, ProblemHttpResult> (long id, Orchard orchard) =>
                orchard.Database.Read<Results<Ok<ResultListView>, ProblemHttpResult>>(session =>
                    KeywordStore.Find(session, id) is { } keyword
                        ? TypedResults.Ok(new ResultListView(keyword, ResultStore.ListOf(session, id)))
                        : Problems.NotFound($"There is no keyword {id}.")))
            .WithName("resultList");
}
