using System.Text.Json;
using System.Text.RegularExpressions;

namespace JadeOrchard.Server;

/// <summary>Says what is wrong with a request that could not even be read, and with which of its inputs.</summary>
public static partial class BadRequests
{
    public static ProblemHttpResult Says(BadHttpRequestException error) => error switch
    {
        { InnerException: JsonException json } => Problems.Invalid(Field(json), Body(json)),
        { StatusCode: StatusCodes.Status413PayloadTooLarge } => Problems.Problem(StatusCodes.Status413PayloadTooLarge, "too-large", "Too large", "The request is larger than is taken here. Send less at once."),
        { StatusCode: StatusCodes.Status415UnsupportedMediaType } => Problems.Problem(StatusCodes.Status415UnsupportedMediaType, "media-type", "Wrong content type", "Send a body as application/json, and a file as application/octet-stream; its Content-Type must say so."),
        _ when NotBound().Match(error.Message) is { Success: true } match => NoValue(Name(match), char.IsLower(match.Groups["type"].Value[0]) ? match.Groups["value"].Value : Camel(match.Groups["value"].Value)),
        _ when Missing().Match(error.Message) is { Success: true } match => Problems.Invalid(Name(match), $"{Name(match)} is missing. Add it to the address."),
        _ when error.Message.Contains("no body was provided", StringComparison.Ordinal) => Problems.Invalid("body", "The request has no body. Send it as application/json."),
        _ => Problems.Problem(error.StatusCode, "invalid", "Not valid", "The request breaks off or is no proper HTTP. Send it again."),
    };

    /// <summary>An input has a value that is none of those it can have.</summary>
    public static ProblemHttpResult NoValue(string name, string value) => Problems.Invalid(name, $"'{value}' is no value that {name} can have.");

    private static string Name(Match match) => Camel(match.Groups["name"].Value);

    /// <summary>As requests write it, and the values of enumerations too.</summary>
    private static string Camel(string name) => JsonNamingPolicy.CamelCase.ConvertName(name);

    /// <summary>An answer with a status and nothing else, as the server itself gives.</summary>
    public static ProblemHttpResult Says(int status) => status switch
    {
        StatusCodes.Status404NotFound => Problems.NotFound("There is nothing at this address."),
        StatusCodes.Status405MethodNotAllowed => Problems.Problem(status, "method", "Not allowed", "This address does not take this method. The description at /api/openapi.json says which it takes."),
        StatusCodes.Status415UnsupportedMediaType => Says(new BadHttpRequestException("", status)),
        StatusCodes.Status413PayloadTooLarge => Says(new BadHttpRequestException("", status)),
        >= 500 => Problems.Problem(status, "internal", "Something went wrong", "Something went wrong inside Jade Orchard. The log of the server tells more."),
        _ => Problems.Problem(status, "invalid", "Not valid", "The request cannot be read. Send it again."),
    };

    /// <summary>The part of the body that is wrong: "$.minOverlap" is minOverlap.</summary>
    private static string Field(JsonException error) => error.Path is { Length: > 2 } path ? path.TrimStart('$', '.') : "body";

    private static string Body(JsonException error) =>
        error.Message.Contains("could not be mapped", StringComparison.Ordinal) ? $"There is no {Field(error)} in this request. Correct its name or leave it out; /api/openapi.json says what there is."
        : error.Path is { Length: > 2 } ? $"The value of {Field(error)} is of the wrong kind{Ours(error)}."
        : error.Message.Contains("missing required properties", StringComparison.Ordinal) && Names().Matches(error.Message.Split("including", 2)[^1]) is { Count: > 0 } names
            ? $"The body lacks {string.Join(" and ", names.Select(n => n.Groups[1].Value))}."
        : error is { LineNumber: { } line, BytePositionInLine: { } at } ? $"The body is no proper JSON for this at line {line + 1}, byte {at + 1}{Ours(error)}." : $"The body is no proper JSON for this{Ours(error)}.";

    /// <summary>What <see cref="StrictJson"/> says.</summary>
    private static string Ours(JsonException error) =>
        error.Message.StartsWith("A list has", StringComparison.Ordinal) ? ": a list has an entry that is null"
        : error.Message.StartsWith("A text holds", StringComparison.Ordinal) ? ": a text holds a null character" : "";

    [GeneratedRegex("^Failed to bind parameter \"(?<type>.*?) (?<name>[^ \"]+)\" from \"(?<value>.*)\"", RegexOptions.Singleline)]
    private static partial Regex NotBound();

    [GeneratedRegex("^Required parameter \"(?<type>.*?) (?<name>[^ \"]+)\" was not provided")]
    private static partial Regex Missing();

    [GeneratedRegex("'([^']+)'")]
    private static partial Regex Names();
}
