using System.Net;
using CsCheck;
using JadeOrchard.Server.Team;

namespace JadeOrchard.Server.Tests;

/// <summary>How long whoever guesses passwords has to wait.</summary>
public class SignInThrottleTests
{
    private static readonly IPAddress Here = IPAddress.Parse("198.51.100.7");

    private readonly Clock _clock = new();
    private readonly SignInThrottle _throttle;

    public SignInThrottleTests() => _throttle = new SignInThrottle(_clock);

    [Fact]
    public void FiveTriesAreFreeAndEachFurtherOneDoublesTheWait()
    {
        for (var i = 0; i < 5; i++)
            Assert.Null(_throttle.Try("Ada", Here));
        foreach (var minutes in new[] { 1, 2, 4, 8, 15, 15 })
        {
            Assert.Equal(TimeSpan.FromMinutes(minutes), _throttle.Try("Ada", Here));
            _clock.Now += TimeSpan.FromMinutes(minutes) - TimeSpan.FromSeconds(1);
            // To ask while one waits makes it no longer.
            Assert.Equal(TimeSpan.FromSeconds(1), _throttle.Try("Ada", Here));
            _clock.Now += TimeSpan.FromSeconds(1);
            Assert.Null(_throttle.Try("Ada", Here));
        }
    }

    [Fact]
    public void TheRightPasswordAndAnHourForget()
    {
        for (var i = 0; i < 5; i++)
            _throttle.Try("Ada", Here);
        Assert.NotNull(_throttle.Try("ada ", Here));
        _clock.Now += TimeSpan.FromMinutes(61);
        for (var i = 0; i < 5; i++)
            Assert.Null(_throttle.Try("Ada", Here));
        _throttle.Succeeded("Ada", Here);
        Assert.Null(_throttle.Try("Ada", Here));
    }

    [Fact]
    public void ManyNamesFromOneAddressAreOneGuesser()
    {
        for (var i = 0; i < 30; i++)
            Assert.Null(_throttle.Try($"user {i}", Here));
        Assert.NotNull(_throttle.Try("user 31", Here));
        // Signing in with their own name does not reset the count of the address.
        _clock.Now += TimeSpan.FromMinutes(1);
        Assert.Null(_throttle.Try("mine", Here));
        _throttle.Succeeded("mine", Here);
        Assert.NotNull(_throttle.Try("user 32", Here));
        Assert.Null(_throttle.Try("user 32", IPAddress.Parse("203.0.113.9")));
    }

    [Fact]
    public void ManyAddressesForOneNameAreOneGuesser()
    {
        for (var i = 0; i < 100; i++)
            Assert.Null(_throttle.Try("Ada", IPAddress.Parse($"198.51.100.{i}")));
        Assert.NotNull(_throttle.Try("Ada", IPAddress.Parse("203.0.113.9")));
        Assert.Null(_throttle.Try("Bo", IPAddress.Parse("203.0.113.9")));
    }

    /// <summary>Who has one address of an IPv6 network has 2^64 of them (RFC 6177).</summary>
    [Fact]
    public void ANetworkOfIPv6IsOneAddress()
    {
        for (var i = 0; i < 5; i++)
            Assert.Null(_throttle.Try("Ada", IPAddress.Parse($"2001:db8:1:2::{i}")));
        Assert.NotNull(_throttle.Try("Ada", IPAddress.Parse("2001:db8:1:2:ffff::1")));
        Assert.Null(_throttle.Try("Ada", IPAddress.Parse("2001:db8:1:3::1")));
        // An address of IPv4 is the same however the system writes it (RFC 4291, 2.5.5.2).
        for (var i = 0; i < 5; i++)
            _throttle.Try("Bo", IPAddress.Parse(i % 2 == 0 ? "192.0.2.1" : "::ffff:192.0.2.1"));
        Assert.NotNull(_throttle.Try("Bo", IPAddress.Parse("192.0.2.1")));
    }

    /// <summary>Whatever is tried in whatever order, no name is tried from one address more often in an hour than the waits allow: 5 at once, then after 1, 2, 4, 8 and then 15 minutes each.</summary>
    [Fact]
    public void NoOrderOfTriesGetsMoreThroughThanTheWaitsAllow() => Gen.Int[0, 400].Array[1, 400].Sample(seconds =>
    {
        var clock = new Clock();
        var throttle = new SignInThrottle(clock);
        var through = new List<DateTimeOffset>();
        foreach (var wait in seconds)
        {
            clock.Now += TimeSpan.FromSeconds(wait);
            if (throttle.Try("Ada", Here) is null)
                through.Add(clock.Now);
        }

        for (var i = 0; i < through.Count; i++)
            Assert.InRange(through.Count(t => t >= through[i] && t - through[i] < TimeSpan.FromHours(1)), 1, 5 + 4 + 4);
    }, iter: 200);

    private sealed class Clock : TimeProvider
    {
        public DateTimeOffset Now { get; set; } = new(2026, 11, 30, 9, 0, 0, TimeSpan.Zero);

        public override DateTimeOffset GetUtcNow() => Now;
    }
}
