using System.Runtime.InteropServices;
using JadeOrchard.Storage;

namespace JadeOrchard.Server;

/// <summary>Memory that long work took and that nothing needs any more.</summary>
internal static class Memory
{
    /// <summary>So much more than after the last collection is collected between derived steps.</summary>
    private const long Growth = 128L << 20;

    private static long _after;

    /// <summary>Collects where much was made since: the collector alone lets a large project's waste grow to several times what it holds.</summary>
    public static void Collect()
    {
        if (GC.GetTotalMemory(forceFullCollection: false) - Interlocked.Read(ref _after) < Growth)
            return;
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Forced, blocking: true, compacting: false);
        Interlocked.Exchange(ref _after, GC.GetTotalMemory(forceFullCollection: false));
    }

    /// <summary>Gives it back to the machine; takes a few tenths of a second with a large project, so only after work that took longer.</summary>
    /// <param name="database">What its connections keep of the file goes as well.</param>
    public static void GiveBack(Database database)
    {
        database.CloseIdle();
        System.Runtime.GCSettings.LargeObjectHeapCompactionMode = System.Runtime.GCLargeObjectHeapCompactionMode.CompactOnce;
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
        Interlocked.Exchange(ref _after, GC.GetTotalMemory(forceFullCollection: false));
        try
        {
            _ = TrimNative(0);
        }
        catch (Exception e) when (e is DllNotFoundException or EntryPointNotFoundException)
        {
            // Another C library gives back what is free by itself.
        }
    }

    /// <summary>Gives free memory of SQLite back (malloc_trim of the GNU C library).</summary>
    [DllImport("libc", EntryPoint = "malloc_trim")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int TrimNative(nuint keep);
}
