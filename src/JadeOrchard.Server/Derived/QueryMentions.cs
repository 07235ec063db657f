using JadeOrchard.Storage;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Derived;

/// <summary>How often and where pages mention the queries for which they were shown.</summary>
internal sealed class QueryMentions : IDerivedStep
{
    public Data Reads => Data.Pages | Data.Performance | Data.Project;

    public Data Writes => Data.None;

    public void Run(Derivation derivation)
    {
        var session = derivation.Session;
        if (PerformanceStore.Days(session) == 0)
        {
            MentionStore.Clear(session);
            return;
        }

        var snapshot = derivation.Snapshot;
        MentionStore.Update(
            session, ProjectStore.Get(session).Language, identity => snapshot.PageOf(identity) is >= 0 and var page ? snapshot.PageIds[page] : null, derivation.Touched.Any(Data.Performance | Data.Project));
    }
}
