using System.Net;
using JadeOrchard.Server.Team;

namespace JadeOrchard.Server.Tests;

/// <summary>Which hosts are ours, and which proxies are believed.</summary>
public class ListenerTests
{
    [Theory]
    [InlineData(false, "127.0.0.1", "localhost", true)]
    [InlineData(false, "::1", "[::1]", true)]
    [InlineData(false, "127.0.0.1", "evil.example", false)]
    [InlineData(false, "192.0.2.10", "localhost", false)]
    [InlineData(true, "192.0.2.10", "planner.example", true)]
    public void OnTheMachineItselfOnlyItsOwnNamesAreKnown(bool isTeams, string local, string host, bool isKnown) =>
        Assert.Equal(isKnown, Listener.Knows(isTeams, IPAddress.Parse(local), host));

    [Theory]
    [InlineData("192.0.2.1", true)]
    [InlineData("2001:db8::1", true)]
    [InlineData("198.51.100.0/24", true)]
    [InlineData("2001:db8::/32", true)]
    [InlineData("proxy.example", false)]
    [InlineData("198.51.100.0/33", false)]
    [InlineData("198.51.100.7/24", true)]
    public void AProxyIsAnAddressOrANetwork(string text, bool isOne) => Assert.Equal(isOne, Proxies.Of(text) is not null);
}
