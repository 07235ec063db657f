using System.Net;
using Microsoft.AspNetCore.HttpOverrides;
using IPNetwork = System.Net.IPNetwork;

namespace JadeOrchard.Server.Team;

/// <summary>Proxies whose word is taken for where a request comes from and whether it came over HTTPS; that of others is not.</summary>
public static class Proxies
{
    /// <returns>The network of an address, or of a network as "198.51.100.0/24" (RFC 4632, 3.1); null where it is neither.</returns>
    public static IPNetwork? Of(string text) =>
        IPAddress.TryParse(text, out var address) ? new IPNetwork(address, address.GetAddressBytes().Length * 8)
        : IPNetwork.TryParse(text, out var network) ? network : null;

    /// <summary>Takes X-Forwarded-For and X-Forwarded-Proto from these alone; without any, from none.</summary>
    public static ForwardedHeadersOptions Options(IEnumerable<string> proxies)
    {
        var options = new ForwardedHeadersOptions { ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto, ForwardLimit = null };
        // By default whatever runs on this machine is believed.
        options.KnownProxies.Clear();
        options.KnownIPNetworks.Clear();
        foreach (var proxy in proxies)
            options.KnownIPNetworks.Add(Of(proxy)!.Value);
        if (options.KnownIPNetworks.Count == 0)
            options.ForwardedHeaders = ForwardedHeaders.None;
        return options;
    }

    /// <returns>Whether a proxy says that the request came over HTTPS, and is not believed.</returns>
    public static bool IsUnbelieved(HttpContext context) => !context.Request.IsHttps && context.Request.Headers["X-Forwarded-Proto"].ToString().Contains("https", StringComparison.OrdinalIgnoreCase);
}
