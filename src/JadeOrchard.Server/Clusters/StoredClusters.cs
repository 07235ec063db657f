using JadeOrchard.Core.Clusters;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Clusters;

/// <summary>The clusters as they are stored, by the indexes of an image.</summary>
internal static class StoredClusters
{
    /// <returns>Ids and clusters, in the keyword order of their primaries.</returns>
    public static (IReadOnlyList<ClusterId> Ids, IReadOnlyList<Cluster> Clusters) Of(Session session, ProjectSnapshot snapshot)
    {
        var ranks = snapshot.Ranks;
        var members = ClusterStore.Memberships(session)
            .GroupBy(m => m.Value, m => snapshot.IndexOfKeyword[m.Key])
            .ToDictionary(g => g.Key, g => g.OrderBy(k => ranks[k]).ToList());
        var all = ClusterStore.All(session)
            .Select(c => (c.Id, Primary: snapshot.IndexOfKeyword[c.PrimaryKeywordId]))
            .OrderBy(c => ranks[c.Primary])
            .ToList();
        return (
            [.. all.Select(c => c.Id)],
            [.. all.Select(c => new Cluster(c.Primary, [c.Primary, .. members[c.Id].Where(k => k != c.Primary)]))]);
    }

    /// <returns>The stored clusters, and the same with what the planner fixed.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="snapshot">The image of its data.</param>
    /// <param name="listId">The list to group, whose keywords alone may change their clusters; null for all keywords.</param>
    public static (IReadOnlyList<StoredCluster> Stored, StandingClusters Standing) Standing(Session session, ProjectSnapshot snapshot, ListId? listId = null)
    {
        var stored = ClusterStore.All(session);
        var indexOf = stored.Select((c, i) => (c.Id, i)).ToDictionary(c => c.Id, c => c.i);
        var memberships = ClusterStore.Memberships(session);
        var byHand = ClusterStore.FixedByHand(session);
        var declined = KeywordStore.Declined(session);
        var listed = listId is { } list ? ListStore.Members(session, list) : null;
        return (stored, new StandingClusters(
            [.. snapshot.KeywordIds.Select(id => memberships.TryGetValue(id, out var cluster) ? indexOf[cluster] : -1)],
            [.. stored.Select(c => snapshot.IndexOfKeyword[c.PrimaryKeywordId])],
            [.. stored.Select(c => byHand.Locked.Contains(c.Id))],
            [.. snapshot.KeywordIds.Select(byHand.Placed.Contains)],
            [.. stored.Select(c => byHand.PrimaryChosen.Contains(c.Id))],
            [.. snapshot.KeywordIds.Select(id => declined.Contains(id) || listed?.Contains(id) == false)]));
    }
}
