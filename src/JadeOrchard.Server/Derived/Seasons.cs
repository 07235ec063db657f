using JadeOrchard.Storage;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Derived;

/// <summary>Which way searches for keywords and clusters go, and when they peak.</summary>
internal sealed class Seasons : IDerivedStep
{
    public Data Reads => Data.Keywords | Data.Performance | Data.Clusters | Data.Grouping;

    public Data Writes => Data.None;

    public void Run(Derivation derivation) => SeasonStore.Refresh(derivation.Session, derivation.Touched.Any(Data.Grouping) ? null : derivation.ClustersTouched(Data.Clusters));
}
