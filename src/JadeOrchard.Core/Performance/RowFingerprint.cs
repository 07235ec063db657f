using System.IO.Hashing;
using System.Runtime.InteropServices;

namespace JadeOrchard.Core.Performance;

/// <summary>Tells rows of search performance apart that are compared as the same but were given in other words: those are summed, a repeated row counts once.</summary>
public static class RowFingerprint
{
    /// <param name="query">The query as given.</param>
    /// <param name="url">The address as given.</param>
    /// <returns>A 64-bit hash of both (XXH64); the same from run to run.</returns>
    public static ulong HashOf(string query, string url) =>
        unchecked(XxHash64.HashToUInt64(MemoryMarshal.AsBytes(query.AsSpan())) ^ (31 * XxHash64.HashToUInt64(MemoryMarshal.AsBytes(url.AsSpan()))));
}
