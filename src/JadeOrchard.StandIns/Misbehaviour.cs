using System.Collections.Concurrent;
using System.Globalization;

namespace JadeOrchard.StandIns;

/// <summary>How a stand-in can be told to fail.</summary>
public enum Trouble
{
    None,

    /// <summary>Answers late.</summary>
    Slow,

    /// <summary>429 with Retry-After.</summary>
    TooMany,

    /// <summary>500.</summary>
    Broken,

    /// <summary>200 with something that is no answer.</summary>
    Garbage,

    /// <summary>Takes the request and never answers.</summary>
    Hang,

    /// <summary>401: the key is not known.</summary>
    Unauthorized,

    /// <summary>403: the key is known and may not do this.</summary>
    Denied,

    /// <summary>Leaves something out: of search performance the days that are planted as missing.</summary>
    Partial,
}

/// <summary>Tells a service, or all of them, how to behave from now on.</summary>
/// <param name="Service">search, suggestions, research, rankings, performance, draft, sites; null for all.</param>
/// <param name="Trouble">What to do.</param>
/// <param name="Times">The number of requests; null until told otherwise.</param>
/// <param name="Milliseconds">How late, where slow.</param>
/// <param name="RetryAfter">Seconds, where too many.</param>
public sealed record ControlRequest(string? Service, Trouble Trouble, int? Times, int? Milliseconds, int? RetryAfter);

/// <summary>How often a service was asked, and how often it really worked for it.</summary>
public sealed record ServiceCount(string Service, long Requests, long Answered);

/// <summary>Makes services fail on demand, and counts what they were asked.</summary>
public sealed class Misbehaviour
{
    private static readonly string[] Services = ["search", "suggestions", "research", "rankings", "performance", "draft", "sites"];
    private readonly ConcurrentDictionary<string, ControlRequest> _told = new();
    private readonly ConcurrentDictionary<string, (long Requests, long Answered)> _counts = new();
    private readonly Lock _lock = new();

    public void Tell(ControlRequest request)
    {
        foreach (var service in request.Service is { } one ? [one] : Services)
            _told[service] = request;
    }

    public IReadOnlyList<ServiceCount> Counts => [.. Services.Select(s => new ServiceCount(s, _counts.GetValueOrDefault(s).Requests, _counts.GetValueOrDefault(s).Answered))];

    /// <summary>To be called when a service really computed an answer.</summary>
    public void Answered(string service) => _counts.AddOrUpdate(service, (0, 1), (_, c) => (c.Requests, c.Answered + 1));

    /// <returns>True where the request was dealt with and must go no further.</returns>
    public async Task<bool> Meddle(string service, HttpContext context)
    {
        _counts.AddOrUpdate(service, (1, 0), (_, c) => (c.Requests + 1, c.Answered));
        switch (Next(service))
        {
            case { Trouble: Trouble.Slow } slow:
                await Task.Delay(slow.Milliseconds ?? 3_000, context.RequestAborted);
                return false;
            case { Trouble: Trouble.TooMany } many:
                context.Response.StatusCode = StatusCodes.Status429TooManyRequests;
                context.Response.Headers.RetryAfter = (many.RetryAfter ?? 2).ToString(CultureInfo.InvariantCulture);
                return true;
            case { Trouble: Trouble.Unauthorized }:
                await TypedResults.Problem("The key in X-Api-Key is missing or wrong.", statusCode: StatusCodes.Status401Unauthorized).ExecuteAsync(context);
                return true;
            case { Trouble: Trouble.Denied }:
                await Refuse(context);
                return true;
            case { Trouble: Trouble.Broken }:
                context.Response.StatusCode = StatusCodes.Status500InternalServerError;
                await context.Response.WriteAsync("something broke");
                return true;
            case { Trouble: Trouble.Garbage }:
                context.Response.ContentType = "application/json";
                await context.Response.WriteAsync("{\"results\": [ {\"position\": \"first\", \"url\": 7 }, <html>");
                return true;
            case { Trouble: Trouble.Hang }:
                await Task.Delay(Timeout.Infinite, context.RequestAborted);
                return true;
            default:
                return false;
        }
    }

    /// <summary>The key is a good one, but not for this.</summary>
    public static Task Refuse(HttpContext context) => TypedResults.Problem("The key in X-Api-Key has no right to this.", statusCode: StatusCodes.Status403Forbidden).ExecuteAsync(context);

    /// <returns>True if a service leaves part of its answers out.</returns>
    public bool IsPartial(string service) => _told.TryGetValue(service, out var told) && told is { Trouble: Trouble.Partial, Times: null or > 0 };

    private ControlRequest? Next(string service)
    {
        lock (_lock)
        {
            if (!_told.TryGetValue(service, out var told))
                return null;
            // How often an answer is partial is no matter of single requests.
            if (told.Trouble != Trouble.Partial && told.Times is { } times)
            {
                if (times <= 0)
                    return null;
                _told[service] = told with { Times = times - 1 };
            }

            return told;
        }
    }
}
