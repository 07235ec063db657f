using JadeOrchard.Storage;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Derived;

/// <summary>The clusters that keywords without a result list are expected in.</summary>
internal sealed class ExpectedMembers : IDerivedStep
{
    public Data Reads => Data.Expected | Data.Clusters | Data.Results | Data.Keywords;

    public Data Writes => Data.ExpectedMembers;

    public void Run(Derivation derivation)
    {
        var (session, touched) = (derivation.Session, derivation.Touched);
        if (touched.IsAll(Data.Expected))
            StagedStore.RefreshSupports(session);
        var keywords = new HashSet<KeywordId>();
        foreach (var kind in new[] { Data.Expected, Data.Results, Data.Keywords })
        {
            if (touched.Ids<KeywordId>(kind) is not { } ids)
            {
                StagedStore.RefreshClusters(session, null, []);
                return;
            }

            keywords.UnionWith(ids);
        }

        StagedStore.RefreshClusters(session, touched.Ids<ClusterId>(Data.Clusters), keywords);
    }
}
