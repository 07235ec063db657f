using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;

namespace JadeOrchard.Server.Derived;

/// <summary>How far each cluster is covered, and the demand of each part today.</summary>
internal sealed class Coverage : IDerivedStep
{
    public Data Reads => Data.Clusters | Data.PageMap | Data.Findings | Data.ClusterFacts | Data.Pages;

    public Data Writes => Data.None;

    /// <summary>It goes on from what the step before it changed.</summary>
    public bool MayGiveWayBefore => false;

    public void Run(Derivation derivation)
    {
        var ids = derivation.Touched.Any(Data.Pages) ? null : derivation.ClustersTouched(Data.Clusters | Data.PageMap | Data.Findings);
        ClusterStore.RefreshCoverage(derivation.Session, ids?.ToList(), DateOnly.FromDateTime(derivation.Now.UtcDateTime));
    }
}
