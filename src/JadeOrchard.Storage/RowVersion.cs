using System.Globalization;
using System.IO.Hashing;
using System.Runtime.InteropServices;

namespace JadeOrchard.Storage;

/// <summary>Tells whether what a planner sees of something is still so.</summary>
internal static class RowVersion
{
    /// <returns>A short text that is the same for the same values (XXH64), and so again after an undo.</returns>
    public static string Of(params ReadOnlySpan<object?> values)
    {
        var hash = new XxHash64();
        foreach (var value in values)
        {
            var text = value is null ? "\u0001" : Convert.ToString(value, CultureInfo.InvariantCulture)!;
            hash.Append(MemoryMarshal.AsBytes(text.AsSpan()));
            hash.Append([0]);
        }

        return hash.GetCurrentHashAsUInt64().ToString("x16", CultureInfo.InvariantCulture);
    }
}
