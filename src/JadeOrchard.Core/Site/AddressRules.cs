using System.Net;
using System.Net.Sockets;

namespace JadeOrchard.Core.Site;

/// <summary>Which network addresses a reader of public pages has no business with.</summary>
/// <remarks>
/// The special-purpose registries of RFC 6890: loopback, private, link-local, shared, benchmarking, multicast, reserved;
/// for IPv6 also addresses that embed an IPv4 one (mapped, NAT64 of RFC 6052, 6to4 of RFC 3056), judged by that.
/// </remarks>
public static class AddressRules
{
    /// <returns>True for every address that is not on the public network.</returns>
    public static bool IsPrivate(IPAddress address)
    {
        if (address.IsIPv4MappedToIPv6)
            return IsPrivate(address.MapToIPv4());
        var b = address.GetAddressBytes();
        if (address.AddressFamily == AddressFamily.InterNetwork)
        {
            return b[0] is 0 or 10 or 127 or >= 224
                || (b[0] == 100 && b[1] is >= 64 and <= 127)
                || (b[0] == 169 && b[1] == 254)
                || (b[0] == 172 && b[1] is >= 16 and <= 31)
                || (b[0] == 192 && b[1] == 168)
                || (b[0] == 192 && b[1] == 0 && b[2] is 0 or 2)
                || (b[0] == 198 && b[1] is 18 or 19)
                || (b[0] == 198 && b[1] == 51 && b[2] == 100)
                || (b[0] == 203 && b[1] == 0 && b[2] == 113);
        }

        if (b[0] == 0x20 && b[1] == 0x02)
            return IsPrivate(new IPAddress(b.AsSpan(2, 4)));
        if (b is [0, 0x64, 0xFF, 0x9B, ..])
            return IsPrivate(new IPAddress(b.AsSpan(12, 4)));
        // ::, ::1 and the deprecated ::/96; unique local; link-local and site-local; multicast; documentation.
        return b.AsSpan(0, 12).IndexOfAnyExcept((byte)0) < 0
            || (b[0] & 0xFE) == 0xFC
            || (b[0] == 0xFE && b[1] >= 0x80)
            || b[0] == 0xFF
            || b is [0x20, 0x01, 0x0D, 0xB8, ..];
    }
}
