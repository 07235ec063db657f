namespace JadeOrchard.Server;

/// <summary>Errors as problem details (RFC 9457), each with a type that stays the same.</summary>
public static class Problems
{
    public static ProblemHttpResult NotFound(string detail) => Problem(StatusCodes.Status404NotFound, "not-found", "Not found", detail);

    /// <summary>A field of the request is wrong; the detail says what and what to do.</summary>
    public static ProblemHttpResult Invalid(string field, string detail) =>
        TypedResults.Problem(detail, null, StatusCodes.Status400BadRequest, "Not valid", "/problems/invalid", new Dictionary<string, object?> { ["field"] = field });

    public static ProblemHttpResult Conflict(string detail) => Problem(StatusCodes.Status409Conflict, "conflict", "Cannot be done now", detail);

    /// <summary>Somebody else changed the same thing meanwhile.</summary>
    /// <param name="change">What that change is called in the history; null where that is not known.</param>
    public static ProblemHttpResult Stale(string? change) => Problem(
        StatusCodes.Status409Conflict, "stale", "Changed meanwhile",
        $"This was changed meanwhile in another window{(change is null ? "" : $": “{change}”")}. Look at it as it is now, then change it again.");

    public static ProblemHttpResult Problem(int status, string type, string title, string detail) =>
        TypedResults.Problem(detail, null, status, title, "/problems/" + type);
}
