using JadeOrchard.Core.Clusters;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;

namespace JadeOrchard.Server.Derived;

/// <summary>How well keywords fit their clusters, and how cohesive these are.</summary>
internal sealed class Fits : IDerivedStep
{
    public Data Reads => Data.Clusters | Data.Grouping | Data.Image;

    public Data Writes => Data.None;

    public void Run(Derivation derivation)
    {
        var session = derivation.Session;
        if (derivation.Board is not { } board)
            return;
        var changed = board.FitsChanged();
        var lists = board.Compared;
        if (changed is null)
        {
            var slots = board.Table.InOrder();
            Cluster[] clusters = [.. slots.Select(s => board.Table[s]!)];
            var cohesions = ClusterQuality.Cohesions(clusters, lists, board.Settings.Depth);
            session.Beside(() =>
            {
                ClusterStore.SaveCohesions(session, slots.Select(board.IdOf).Zip(cohesions));
                ClusterStore.SaveFits(session, clusters.SelectMany(c => c.Members).Select(board.FitOf));
            });
            return;
        }

        ClusterStore.SaveCohesions(session, board.Changes!.Where(c => c.After is not null).Select(c => (board.IdOf(c.Slot), ClusterQuality.Cohesion(c.After!.Members, lists, board.Settings.Depth))));
        ClusterStore.SaveFits(session, changed.Select(board.FitOf), [.. changed.Select(k => board.IdOf(board.Table.SlotOf(k))).Distinct()]);
    }
}
