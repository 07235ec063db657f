using JadeOrchard.Storage;
using JadeOrchard.Storage.Performance;

namespace JadeOrchard.Server.Derived;

/// <summary>The sums of search performance over the days that count, and the best page of each week.</summary>
internal sealed class PerformanceSums : IDerivedStep
{
    public Data Reads => Data.Performance;

    public Data Writes => Data.None;

    public void Run(Derivation derivation) => PerformanceStore.Refresh(derivation.Session);
}
