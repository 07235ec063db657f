using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;

namespace JadeOrchard.Server.Derived;

/// <summary>Size, demand, mean difficulty and intent of clusters.</summary>
internal sealed class ClusterFacts : IDerivedStep
{
    public Data Reads => Data.Clusters | Data.Keywords | Data.ExpectedMembers;

    public Data Writes => Data.ClusterFacts;

    public void Run(Derivation derivation)
    {
        var (session, touched) = (derivation.Session, derivation.Touched);
        if (touched.Ids<ClusterId>(Data.Clusters) is not { } clusters || touched.Ids<KeywordId>(Data.Keywords) is not { } keywords
            || touched.Ids<ClusterId>(Data.ExpectedMembers) is not { } expecting)
        {
            session.Touch(Data.ClusterFacts);
            // The board first: the links between clusters are computed from it meanwhile.
            _ = derivation.Board;
            session.Beside(() => ClusterStore.RefreshFacts(session));
            return;
        }

        var ids = clusters.Union(expecting).Union(ClusterStore.OfKeywords(session, keywords)).ToList();
        ClusterStore.RefreshFacts(session, ids);
        session.Touch(Data.ClusterFacts, [.. ids]);
    }
}
