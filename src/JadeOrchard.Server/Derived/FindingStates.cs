using JadeOrchard.Storage;
using JadeOrchard.Storage.Findings;

namespace JadeOrchard.Server.Derived;

/// <summary>The states of findings by what the planner decided, and what clusters, pages and lists count of them.</summary>
internal sealed class FindingStates : IDerivedStep
{
    public Data Reads =>
        Data.Findings | Data.FindingsSeen | Data.ClusterFacts | Data.Decisions | Data.Evidence | Data.Clusters | Data.PageMap | Data.Topics | Data.Pairs | Data.Suggestions | Data.Grouping | Data.Image;

    public Data Writes => Data.Findings;

    /// <summary>It goes on from what the step before it changed.</summary>
    public bool MayGiveWayBefore => false;

    public void Run(Derivation derivation)
    {
        var changes = derivation.FindingChanges;
        var touched = derivation.Touched;
        ComputedFindings.Settle(
            derivation.Session, changes, changes.IsAll ? null : touched.Ids<ClusterId>(Data.Clusters)?.ToList(), touched.Any(Data.Decisions | Data.Evidence | Data.Pages),
            touched.Ids<FindingSeenId>(Data.FindingsSeen), derivation.Now);
        FindingCounts.Refresh(derivation.Session, changes, touched.Ids<ClusterId>(Data.ClusterFacts));
    }
}
