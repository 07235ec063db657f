using System.Text;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Server.Site;

/// <summary>What the robots.txt of each site asks of us (RFC 9309), read once.</summary>
public sealed class RobotsReader(PageFetcher fetcher, Action<string> note) : IDisposable
{
    private readonly Dictionary<string, RobotsRules> _known = new(StringComparer.Ordinal);
    private readonly SemaphoreSlim _lock = new(1, 1);

    /// <returns>The rules of the site that an address is on; nothing is allowed where they cannot be had (RFC 9309, 2.3.1.4).</returns>
    public async Task<RobotsRules> Of(Uri url, CancellationToken stop)
    {
        var authority = url.GetLeftPart(UriPartial.Authority);
        await _lock.WaitAsync(stop);
        try
        {
            if (_known.TryGetValue(authority, out var known))
                return known;
            var fetched = await fetcher.Get(new Uri(url, "/robots.txt"), RobotsRules.MostBytes, _ => true, _ => true, stop);
            RobotsRules rules;
            if (fetched.Fault is not null || fetched.FinalStatus >= 500)
            {
                note($"robots.txt of {authority} {fetched.Fault ?? $"answered with status {fetched.FinalStatus}"}, so nothing there was read (RFC 9309).");
                rules = RobotsRules.DisallowAll;
            }
            else
                rules = fetched.FinalStatus is >= 200 and < 300 && fetched.Body is { } body ? RobotsRules.Parse(Encoding.UTF8.GetString(body), Services.Product.Name) : RobotsRules.AllowAll;
            return _known[authority] = rules;
        }
        finally
        {
            _lock.Release();
        }
    }

    public void Dispose() => _lock.Dispose();
}
