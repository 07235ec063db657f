using System.Net;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Site;

public class AddressRulesTests
{
    [Theory] // The special-purpose registries of RFC 6890, with a neighbour of each that is public.
    [InlineData("0.0.0.0", true)]
    [InlineData("10.255.0.1", true)]
    [InlineData("11.0.0.1", false)]
    [InlineData("100.64.0.1", true)]
    [InlineData("100.128.0.1", false)]
    [InlineData("127.0.0.1", true)]
    [InlineData("169.254.169.254", true)]
    [InlineData("172.15.0.1", false)]
    [InlineData("172.16.0.1", true)]
    [InlineData("172.32.0.1", false)]
    [InlineData("192.0.2.1", true)]
    [InlineData("192.168.1.1", true)]
    [InlineData("198.18.0.1", true)]
    [InlineData("203.0.113.9", true)]
    [InlineData("224.0.0.1", true)]
    [InlineData("255.255.255.255", true)]
    [InlineData("8.8.8.8", false)]
    [InlineData("::", true)]
    [InlineData("::1", true)]
    [InlineData("::ffff:127.0.0.1", true)]
    [InlineData("::ffff:8.8.8.8", false)]
    [InlineData("64:ff9b::7f00:1", true)] // RFC 6052
    [InlineData("2002:7f00:1::", true)] // RFC 3056
    [InlineData("2002:808:808::", false)]
    [InlineData("fc00::1", true)]
    [InlineData("fe80::1", true)]
    [InlineData("ff02::1", true)]
    [InlineData("2001:db8::1", true)]
    [InlineData("2606:4700::1111", false)]
    public void SpecialPurposeAddressesAreTold(string address, bool isPrivate) => Assert.Equal(isPrivate, AddressRules.IsPrivate(IPAddress.Parse(address)));
}
