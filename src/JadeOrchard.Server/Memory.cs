namespace JadeOrchard.Server;

/// <summary>Memory that long work took and that nothing needs any more.</summary>
internal static class Memory
{
    /// <summary>Gives it back to the machine; takes a few tenths of a second with a large project, so only after work that took longer.</summary>
    public static void GiveBack()
    {
        System.Runtime.GCSettings.LargeObjectHeapCompactionMode = System.Runtime.GCLargeObjectHeapCompactionMode.CompactOnce;
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
    }
}
