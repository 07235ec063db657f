using System.Net;
using System.Net.Http.Headers;
using System.Net.Sockets;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage;

namespace JadeOrchard.Server.Site;

/// <summary>What came when an address was read.</summary>
/// <param name="Status">HTTP status of the first answer; 0 where none came.</param>
/// <param name="FinalStatus">Status where the redirects ended.</param>
/// <param name="FinalUrl">Where they ended.</param>
/// <param name="Hops">Redirects followed.</param>
/// <param name="Body">Null where it was not wanted, or nothing came.</param>
/// <param name="Charset">As the Content-Type header names it.</param>
/// <param name="Fault">Why nothing came, in words; null where something did.</param>
public sealed record Fetched(
    int Status, int FinalStatus, Uri FinalUrl, int Hops, string? ContentType, string? Charset, byte[]? Body, string? RobotsTag, DateOnly? LastModified, string? Fault);

/// <summary>Reads pages of sites: politely named, within bounds, and never at a private address unless the project allows it.</summary>
/// <remarks>
/// At most five redirects; the address is checked again at each, by the very connection that is made, so that a name
/// cannot lead elsewhere after the check. The gateway, where one is named, is allowed by being named.
/// </remarks>
public sealed class PageFetcher : IDisposable
{
    public const int MostHops = 5;
    private const string BrokeOff = "broke off in the middle of its answer";
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan[] BeforeTryingAgain = [TimeSpan.FromSeconds(0.3), TimeSpan.FromSeconds(2)];
    private readonly HttpClient _http;
    private readonly Uri? _gateway;
    private readonly string _gatewayFor;

    public PageFetcher(ScanSettings settings)
    {
        _gateway = settings.Gateway.Length > 0 ? new Uri(settings.Gateway) : null;
        _gatewayFor = "." + settings.GatewayFor.Trim('.').ToLowerInvariant();
        var handler = new SocketsHttpHandler
        {
            AllowAutoRedirect = false,
            UseProxy = false,
            UseCookies = false,
            AutomaticDecompression = DecompressionMethods.GZip | DecompressionMethods.Deflate | DecompressionMethods.Brotli,
            MaxResponseHeadersLength = 64,
            MaxConnectionsPerServer = settings.AtOnce,
            ConnectCallback = (context, stop) => Connect(context.DnsEndPoint, settings.AllowPrivate, stop),
        };
        _http = new HttpClient(handler) { Timeout = Timeout.InfiniteTimeSpan };
        _http.DefaultRequestHeaders.UserAgent.Add(Services.Product.UserAgent);
        _http.DefaultRequestHeaders.UserAgent.Add(new ProductInfoHeaderValue("(reads sites for their content planner)"));
    }

    /// <remarks>A connection that breaks is tried again, twice: busy servers drop some.</remarks>
    /// <param name="url">http or https.</param>
    /// <param name="mostBytes">What goes beyond is cut off.</param>
    /// <param name="accepts">Tells by the media type whether the body is wanted.</param>
    /// <param name="mayFollow">Tells whether a redirect may be followed.</param>
    /// <param name="stop">Ends it.</param>
    public async Task<Fetched> Get(Uri url, int mostBytes, Func<string?, bool> accepts, Func<Uri, bool> mayFollow, CancellationToken stop)
    {
        foreach (var wait in BeforeTryingAgain)
        {
            if (await Try(url, mostBytes, accepts, mayFollow, stop) is { Fault: not BrokeOff } fetched)
                return fetched;
            await Task.Delay(wait, stop);
        }

        return await Try(url, mostBytes, accepts, mayFollow, stop);
    }

    private async Task<Fetched> Try(Uri url, int mostBytes, Func<string?, bool> accepts, Func<Uri, bool> mayFollow, CancellationToken stop)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(stop);
        patience.CancelAfter(Patience);
        var (first, at) = (0, url);
        try
        {
            for (var hops = 0; ; hops++)
            {
                using var request = RequestFor(at);
                using var answer = await _http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, patience.Token);
                var status = (int)answer.StatusCode;
                first = hops == 0 ? status : first;
                if (status is >= 300 and < 400 && answer.Headers.Location is { } location)
                {
                    if (!Uri.TryCreate(at, location, out var next) || next.Scheme is not ("http" or "https"))
                        return Nothing($"redirects to something that is no web address");
                    if (next.AbsoluteUri.Length > UrlIdentity.MostLength)
                        return Nothing("redirects to an address of more than 2,048 characters");
                    if (hops == MostHops)
                        return Nothing($"redirects more than {MostHops} times");
                    if (!mayFollow(next))
                        return new Fetched(first, status, next, hops + 1, null, null, null, null, null, null);
                    at = next;
                    continue;
                }

                var type = answer.Content.Headers.ContentType;
                var body = accepts(type?.MediaType) ? await ReadBody(answer, mostBytes, patience.Token) : null;
                return new Fetched(
                    first, status, at, hops, type?.MediaType, type?.CharSet, body,
                    answer.Headers.TryGetValues("X-Robots-Tag", out var tags) ? string.Join(", ", tags) : null,
                    answer.Content.Headers.LastModified is { } modified ? DateOnly.FromDateTime(modified.UtcDateTime) : null,
                    null);
            }
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            return Nothing($"did not answer within {Patience.TotalSeconds:0} seconds");
        }
        catch (HttpRequestException e)
        {
            return Nothing(e.InnerException is PrivateAddressException refused ? refused.Message
                : e.HttpRequestError switch
                {
                    HttpRequestError.NameResolutionError => "has a name that leads nowhere",
                    HttpRequestError.ConnectionError => "cannot be connected to",
                    HttpRequestError.SecureConnectionError => "has no valid certificate",
                    _ => BrokeOff,
                });
        }
        catch (Exception e) when (e is IOException or InvalidDataException or InvalidOperationException or UriFormatException)
        {
            return Nothing("sent something that is no proper answer");
        }

        Fetched Nothing(string fault) => new(first, 0, at, 0, null, null, null, null, null, fault);
    }

    /// <summary>Whether a page is reached through the gateway of the scan settings, so that a fault may be the gateway's.</summary>
    public bool IsThroughGateway(Uri url) => _gateway is not null && ("." + url.Host).EndsWith(_gatewayFor, StringComparison.OrdinalIgnoreCase);

    /// <summary>Whether a body of this media type is a page.</summary>
    public static bool IsHtml(string? mediaType) => mediaType is null or "text/html" or "application/xhtml+xml";

    public void Dispose() => _http.Dispose();

    private HttpRequestMessage RequestFor(Uri url)
    {
        if (!IsThroughGateway(url))
            return new HttpRequestMessage(HttpMethod.Get, url);
        var request = new HttpRequestMessage(HttpMethod.Get, new Uri(_gateway!, url.PathAndQuery));
        request.Headers.Host = url.Authority;
        request.Headers.TryAddWithoutValidation("X-Forwarded-Proto", url.Scheme);
        return request;
    }

    private async ValueTask<Stream> Connect(DnsEndPoint to, bool allowPrivate, CancellationToken stop)
    {
        var isGateway = _gateway is not null && to.Host == _gateway.Host && to.Port == _gateway.Port;
        var addresses = IPAddress.TryParse(to.Host, out var literal) ? [literal] : await Dns.GetHostAddressesAsync(to.Host, stop);
        if (!allowPrivate && !isGateway && addresses.FirstOrDefault(AddressRules.IsPrivate) is { } refused)
            throw new PrivateAddressException($"is at {refused}, a private or loopback address, which the scan settings do not allow");
        var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
        try
        {
            await socket.ConnectAsync(addresses, to.Port, stop);
            return new NetworkStream(socket, ownsSocket: true);
        }
        catch
        {
            socket.Dispose();
            throw;
        }
    }

    private static async Task<byte[]> ReadBody(HttpResponseMessage answer, int mostBytes, CancellationToken stop)
    {
        await using var stream = await answer.Content.ReadAsStreamAsync(stop);
        using var body = new MemoryStream();
        var buffer = new byte[64 << 10];
        while (body.Length < mostBytes)
        {
            var read = await stream.ReadAsync(buffer.AsMemory(0, (int)Math.Min(buffer.Length, mostBytes - body.Length)), stop);
            if (read == 0)
                break;
            body.Write(buffer, 0, read);
        }

        return body.ToArray();
    }

    private sealed class PrivateAddressException(string message) : IOException(message);
}
