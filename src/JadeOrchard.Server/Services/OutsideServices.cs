using System.Collections.Concurrent;
using System.Net;
using System.Text.Json;
using JadeOrchard.Storage;
using Polly;
using Polly.CircuitBreaker;
using Polly.Retry;

namespace JadeOrchard.Server.Services;

/// <summary>A service did not do what it was asked; the message says what and what to do, for the planner.</summary>
public class ServiceException(string message) : Exception(message);

/// <summary>The service refuses the key.</summary>
public sealed class DeniedServiceException(string message) : ServiceException(message);

/// <summary>It may go well the next time.</summary>
public sealed class PassingServiceException(string message, TimeSpan? retryAfter = null, bool isBusy = false) : ServiceException(message)
{
    /// <summary>How long the service asks to wait.</summary>
    public TimeSpan? RetryAfter => retryAfter;

    /// <summary>It is there, but asks for patience: no reason to leave it alone.</summary>
    public bool IsBusy => isBusy;
}

/// <summary>The service failed so often in a row that it is left alone for a while.</summary>
public sealed class ServiceDownException(string message) : ServiceException(message);

/// <summary>
/// Asks the services at the addresses of the project's settings: tries again with growing waits, waits as long as
/// Retry-After says (RFC 9110, 10.2.3), and leaves a service alone that keeps failing.
/// </summary>
/// <remarks>Keys go into the header that the settings name; redirects are not followed, so that no key goes elsewhere. Nothing of a request is logged.</remarks>
public sealed class OutsideServices : IDisposable
{
    private const int MostBytes = 32 << 20;
    private static readonly TimeSpan LeftAlone = TimeSpan.FromSeconds(20);
    private readonly Database _database;
    private readonly ServiceTiming _timing;
    private readonly HttpClient _http;
    private readonly ConcurrentDictionary<ServiceName, ResiliencePipeline> _pipelines = new();
    private readonly ConcurrentDictionary<ServiceName, string> _lastFault = new();

    public OutsideServices(Database database, ServiceTiming timing)
    {
        _database = database;
        _timing = timing;
        _http = new HttpClient(new SocketsHttpHandler { AllowAutoRedirect = false, PooledConnectionLifetime = TimeSpan.FromMinutes(5), AutomaticDecompression = DecompressionMethods.All })
        {
            Timeout = Timeout.InfiniteTimeSpan,
            MaxResponseContentBufferSize = MostBytes,
        };
        _http.DefaultRequestHeaders.UserAgent.Add(Product.UserAgent);
    }

    /// <param name="name">Which service.</param>
    /// <param name="pathAndQuery">Below its address: "search".</param>
    /// <param name="stop">Ends the request.</param>
    /// <param name="body">Sent as JSON with POST; null for GET.</param>
    /// <param name="requestKey">The same for a repetition of the same request, so that it is worked for and charged once.</param>
    /// <exception cref="ServiceException">It has no address, refuses, fails, or answers something else than the contract says.</exception>
    public async Task<T> Ask<T>(ServiceName name, string pathAndQuery, CancellationToken stop, object? body = null, string? requestKey = null)
        where T : class
    {
        var (service, key) = _database.Read(session => (ServiceStore.All(session).Single(s => s.Name == name), ServiceStore.Key(session, name)));
        if (service.Address.Length == 0)
            throw new ServiceException($"No address is given for the {NameOf(name)}. Give one under “Services” on the Site screen, or bring files instead.");
        try
        {
            return await _pipelines.GetOrAdd(name, Pipeline).ExecuteAsync(
                async token => await Try<T>(service, key, pathAndQuery, body, requestKey, token), stop);
        }
        catch (BrokenCircuitException)
        {
            throw new ServiceDownException($"The {NameOf(name)} failed {_timing.FailuresInARow} times in a row{(_lastFault.TryGetValue(name, out var fault) ? $" ({fault})" : "")}.");
        }
    }

    /// <summary>Lets a service that was left alone be asked again at once.</summary>
    public void Forgive(ServiceName name) => _pipelines.TryRemove(name, out _);

    public static string NameOf(ServiceName name) => name switch
    {
        ServiceName.Search => "search service",
        ServiceName.Suggestions => "suggestions service",
        ServiceName.Research => "research service",
        ServiceName.Rankings => "rankings service",
        ServiceName.Drafting => "drafting service",
        _ => "search performance service",
    };

    public void Dispose() => _http.Dispose();

    private async Task<T> Try<T>(ServiceRow service, string? key, string pathAndQuery, object? body, string? requestKey, CancellationToken stop)
        where T : class
    {
        var name = NameOf(service.Name);
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(stop);
        patience.CancelAfter(_timing.Attempt);
        try
        {
            using var request = new HttpRequestMessage(body is null ? HttpMethod.Get : HttpMethod.Post, service.Address.TrimEnd('/') + "/" + pathAndQuery);
            if (body is not null)
                request.Content = JsonContent.Create(body, options: JsonSerializerOptions.Web);
            if (key is not null)
                request.Headers.TryAddWithoutValidation(service.Header, key);
            if (requestKey is not null)
                request.Headers.TryAddWithoutValidation("Idempotency-Key", requestKey);
            using var answer = await _http.SendAsync(request, HttpCompletionOption.ResponseContentRead, patience.Token);
            return await Read<T>(answer, name, patience.Token);
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            throw Noted(service.Name, new PassingServiceException($"The {name} did not answer within {_timing.Attempt.TotalSeconds:0} seconds."));
        }
        catch (HttpRequestException e)
        {
            throw Noted(service.Name, new PassingServiceException(e.HttpRequestError == HttpRequestError.ConfigurationLimitExceeded
                ? $"The {name} answered more than {MostBytes >> 20} MB."
                : $"The {name} cannot be reached at its address."));
        }
        catch (PassingServiceException e)
        {
            throw Noted(service.Name, e);
        }
    }

    private static async Task<T> Read<T>(HttpResponseMessage answer, string name, CancellationToken stop)
        where T : class
    {
        switch (answer.StatusCode)
        {
            case HttpStatusCode.TooManyRequests:
                throw new PassingServiceException($"The {name} asks to come back later.", WaitOf(answer), isBusy: true);
            case HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden:
                throw new DeniedServiceException($"The {name} refuses the key. Correct it under “Services” on the Site screen.");
            case HttpStatusCode.RequestTimeout or >= HttpStatusCode.InternalServerError:
                throw new PassingServiceException($"The {name} answered with status {(int)answer.StatusCode}.", WaitOf(answer));
            case < HttpStatusCode.OK or >= HttpStatusCode.MultipleChoices:
                throw new ServiceException($"The {name} did not accept the request (status {(int)answer.StatusCode}).");
        }

        try
        {
            return await answer.Content.ReadFromJsonAsync<T>(Options, stop) ?? throw new JsonException("null");
        }
        catch (Exception e) when (e is JsonException or NotSupportedException or InvalidOperationException)
        {
            throw new PassingServiceException($"The {name} answered something that is not what its contract says.");
        }
    }

    private static readonly JsonSerializerOptions Options = new JsonSerializerOptions(JsonSerializerDefaults.Web).Strict();

    private PassingServiceException Noted(ServiceName name, PassingServiceException fault)
    {
        _lastFault[name] = fault.Message;
        return fault;
    }

    private static TimeSpan? WaitOf(HttpResponseMessage answer) =>
        answer.Headers.RetryAfter is { } after ? after.Delta ?? (after.Date - DateTimeOffset.UtcNow) : null;

    private ResiliencePipeline Pipeline(ServiceName name) => new ResiliencePipelineBuilder()
        .AddRetry(new RetryStrategyOptions
        {
            ShouldHandle = new PredicateBuilder().Handle<PassingServiceException>(),
            MaxRetryAttempts = _timing.Tries - 1,
            Delay = _timing.FirstWait,
            MaxDelay = _timing.LongestWait,
            BackoffType = DelayBackoffType.Exponential,
            UseJitter = true,
            DelayGenerator = args => ValueTask.FromResult(args.Outcome.Exception is PassingServiceException { RetryAfter: { } wait }
                ? wait < TimeSpan.Zero ? TimeSpan.Zero : wait > _timing.LongestWait ? _timing.LongestWait : wait
                : (TimeSpan?)null),
        })
        .AddCircuitBreaker(new CircuitBreakerStrategyOptions
        {
            ShouldHandle = new PredicateBuilder().Handle<PassingServiceException>(e => !e.IsBusy),
            FailureRatio = 1,
            MinimumThroughput = Math.Max(2, _timing.FailuresInARow),
            SamplingDuration = TimeSpan.FromMinutes(2),
            BreakDuration = LeftAlone,
        })
        .Build();
}
