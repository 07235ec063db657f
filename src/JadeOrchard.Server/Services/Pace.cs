using System.Threading.RateLimiting;

namespace JadeOrchard.Server.Services;

/// <summary>Limits requests to an even rate per second.</summary>
public sealed class Pace(double perSecond) : IDisposable
{
    private readonly TokenBucketRateLimiter _limiter = new(Options(perSecond));

    public async Task Wait(CancellationToken stop)
    {
        using var lease = await _limiter.AcquireAsync(1, stop);
    }

    public void Dispose() => _limiter.Dispose();

    private static TokenBucketRateLimiterOptions Options(double perSecond)
    {
        // The clock ticks no finer than some 15 ms; above that pace several go through at a tick.
        var tokens = Math.Max(1, (int)Math.Round(perSecond / 50));
        return new TokenBucketRateLimiterOptions
        {
            TokenLimit = tokens,
            TokensPerPeriod = tokens,
            ReplenishmentPeriod = TimeSpan.FromSeconds(tokens / perSecond),
            QueueLimit = int.MaxValue,
        };
    }
}
