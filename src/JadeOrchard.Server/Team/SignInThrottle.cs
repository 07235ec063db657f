using System.Net;
using System.Net.Sockets;

namespace JadeOrchard.Server.Team;

/// <summary>Slows down whoever guesses passwords.</summary>
/// <remarks>
/// Five tries of one name from one address are free; each further one doubles the wait, from one minute to fifteen. The same counts for thirty tries
/// from one address and for a hundred of one name from anywhere, so that neither many names nor many addresses help (common practice; OWASP Authentication Cheat Sheet, from memory).
/// </remarks>
public sealed class SignInThrottle(TimeProvider clock)
{
    private const int OfBoth = 5, OfAddress = 30, OfName = 100;
    private const int MostKept = 10_000;
    private static readonly TimeSpan LongestWait = TimeSpan.FromMinutes(15);
    private static readonly TimeSpan Forgets = TimeSpan.FromHours(1);

    private readonly Lock _lock = new();
    private readonly Dictionary<string, Tries> _tries = new(StringComparer.Ordinal);

    /// <summary>Counts a try before it is known what comes of it, so that many at once count too.</summary>
    /// <returns>How long to wait first; null where it may be tried now.</returns>
    public TimeSpan? Try(string name, IPAddress? address)
    {
        var now = clock.GetUtcNow();
        lock (_lock)
        {
            if (_tries.Count > MostKept)
            {
                foreach (var (key, _) in _tries.Where(t => now - t.Value.Last > Forgets).ToList())
                    _tries.Remove(key);
            }

            var keys = Keys(name, address);
            var wait = keys.Max(k => WaitOf(_tries.GetValueOrDefault(k.Key), k.Free, now));
            if (wait > TimeSpan.Zero)
                return wait;
            foreach (var (key, _) in keys)
            {
                var before = _tries.GetValueOrDefault(key);
                _tries[key] = new Tries(now - before.Last > Forgets ? 1 : before.Count + 1, now);
            }

            return null;
        }
    }

    /// <summary>The password was right: the count for this name at this address starts over, and this try is not counted.</summary>
    public void Succeeded(string name, IPAddress? address)
    {
        lock (_lock)
        {
            var keys = Keys(name, address);
            _tries.Remove(keys[0].Key);
            foreach (var (key, _) in keys.Skip(1))
            {
                if (_tries.TryGetValue(key, out var tries))
                    _tries[key] = tries with { Count = Math.Max(0, tries.Count - 1) };
            }
        }
    }

    private static TimeSpan WaitOf(Tries tries, int free, DateTimeOffset now)
    {
        if (tries.Count < free || now - tries.Last > Forgets)
            return TimeSpan.Zero;
        var wait = TimeSpan.FromMinutes(Math.Min(Math.Pow(2, tries.Count - free), LongestWait.TotalMinutes));
        return tries.Last + wait - now;
    }

    private static (string Key, int Free)[] Keys(string name, IPAddress? address)
    {
        var (who, where) = (name.Trim().ToUpperInvariant(), Network(address));
        return [($"both {where} {who}", OfBoth), ($"address {where}", OfAddress), ($"name {who}", OfName)];
    }

    /// <summary>Of an IPv6 address its network: who has one address there has all of them (RFC 6177).</summary>
    private static string Network(IPAddress? address) => address switch
    {
        null => "",
        { IsIPv4MappedToIPv6: true } => address.MapToIPv4().ToString(),
        { AddressFamily: AddressFamily.InterNetworkV6 } => Convert.ToHexString(address.GetAddressBytes(), 0, 8),
        _ => address.ToString(),
    };

    private readonly record struct Tries(int Count, DateTimeOffset Last);
}
