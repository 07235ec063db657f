using JadeOrchard.Core.Topics;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Derived;

/// <summary>
/// Topics are rebuilt where that was asked for; else clusters that came without a topic join the one they are linked with most. No topic is left without
/// clusters or pillar.
/// </summary>
/// <remarks>Recorded for undo, since it is kept: after a step is undone there is nothing to do.</remarks>
internal sealed class TopicMembership : IDerivedStep
{
    public Data Reads => Data.Clusters | Data.Topics | Data.TopicsRebuild;

    public Data Writes => Data.Topics;

    public void Run(Derivation derivation)
    {
        var session = derivation.Session;
        if (derivation.Touched.Any(Data.TopicsRebuild) && derivation.Board is { } whole)
            Build(session, whole);
        else if (TopicStore.Count(session) > 0 && TopicStore.WithoutTopic(session) is { Count: > 0 } without && derivation.Board is { } board)
        {
            foreach (var id in without)
                Join(session, board, id);
        }

        TopicStore.Mend(session);
    }

    private static void Build(WriteSession session, Board board)
    {
        var slots = board.Table.InOrder();
        var links = ClusterLinks.Between(board.Links(session), slots);
        var stored = TopicStore.All(session);
        var indexOf = stored.Select((t, i) => (t.Id, i)).ToDictionary(t => t.Id, t => t.i);
        var indexOfCluster = slots.Select((slot, i) => (Id: board.IdOf(slot), i)).ToDictionary(c => c.Id, c => c.i);
        var of = TopicStore.OfClusters(session);
        ClusterId[] ids = [.. slots.Select(board.IdOf)];
        var topics = Core.Topics.Topics.Of(
            [.. slots.Select(s => board.Table[s]!.Members.Sum(k => board.Snapshot.Keywords[k].Volume ?? 0))],
            links,
            new StandingTopics(
                [.. ids.Select(id => of[id].TopicId is { } topic ? indexOf[topic] : -1)],
                [.. ids.Select(id => of[id].IsPlaced)],
                [.. stored.Select(t => t.ChosenPillarId is { } pillar ? indexOfCluster.GetValueOrDefault(pillar, -1) : -1)]),
            ProjectStore.Settings(session).TopicResolution);
        TopicStore.Replace(session, [.. topics.Select(t => new GatheredTopic(t.GoesOnFrom < 0 ? default : stored[t.GoesOnFrom].Id, ids[t.Pillar], [.. t.Clusters.Select(c => ids[c])]))]);
    }

    private static void Join(WriteSession session, Board board, ClusterId clusterId)
    {
        var weights = new Dictionary<TopicId, double>();
        foreach (var link in board.Links(session).Of(board.SlotOf(clusterId)))
        {
            if (TopicStore.OfCluster(session, board.IdOf(link.Slot)) is { } topic)
                weights[topic] = weights.GetValueOrDefault(topic) + link.Weight;
        }

        var joined = weights.OrderByDescending(w => Math.Round(w.Value, 9)).ThenBy(w => w.Key.Value).Select(w => w.Key).FirstOrDefault();
        TopicStore.Join(session, clusterId, joined != default ? joined : TopicStore.Add(session, clusterId));
    }
}
