namespace JadeOrchard.Core.Clusters;

/// <summary>What became of the cluster of one slot.</summary>
/// <param name="Before">Null where it is new.</param>
/// <param name="After">Null where it is gone.</param>
public sealed record ClusterChange(int Slot, Cluster? Before, Cluster? After);

/// <summary>The clusters as they stand, changed one at a time. Belongs to one writer.</summary>
/// <remarks>
/// A cluster keeps its slot for as long as it is there, and no slot is used twice, so that what is kept by slot needs no renumbering after a
/// change. Among equals the cluster whose primary comes first in keyword order goes first, whatever their slots.
/// </remarks>
public sealed class ClusterTable
{
    private readonly List<Cluster?> _clusters = [];
    private readonly int[] _slotOf;
    private readonly int[] _ranks;

    /// <param name="ranks">For each keyword its place in keyword order.</param>
    public ClusterTable(int[] ranks)
    {
        _ranks = ranks;
        _slotOf = new int[ranks.Length];
        Array.Fill(_slotOf, -1);
    }

    /// <summary>One more than the greatest slot.</summary>
    public int SlotCount => _clusters.Count;

    /// <summary>How many clusters there are.</summary>
    public int Count { get; private set; }

    /// <summary>The cluster of a slot; null where it is gone.</summary>
    public Cluster? this[int slot] => _clusters[slot];

    /// <returns>The slot of a keyword's cluster; -1 where it is in none.</returns>
    public int SlotOf(int keyword) => _slotOf[keyword];

    /// <returns>The place of a cluster's primary in keyword order.</returns>
    public int RankOf(int slot) => _ranks[_clusters[slot]!.Primary];

    /// <summary>A slot for a cluster that is to come.</summary>
    public int NewSlot()
    {
        _clusters.Add(null);
        return _clusters.Count - 1;
    }

    /// <summary>Puts clusters into slots in the place of those that are there; keywords may go from one to another.</summary>
    /// <param name="changes">The slot and its cluster; null where that is gone. No slot twice.</param>
    /// <returns>What became of the slots that differ.</returns>
    public IReadOnlyList<ClusterChange> Apply(IReadOnlyCollection<(int Slot, Cluster? After)> changes)
    {
        var made = new List<ClusterChange>();
        foreach (var (slot, after) in changes)
        {
            var before = _clusters[slot];
            if (before is null ? after is null : after is not null && before.Primary == after.Primary && before.Members.AsSpan().SequenceEqual(after.Members.AsSpan()))
                continue;
            made.Add(new ClusterChange(slot, before, after));
            foreach (var keyword in before?.Members ?? [])
                _slotOf[keyword] = -1;
            Count += (after is null ? 0 : 1) - (before is null ? 0 : 1);
            _clusters[slot] = after;
        }

        foreach (var change in made)
        {
            foreach (var keyword in change.After?.Members ?? [])
                _slotOf[keyword] = change.Slot;
        }

        return made;
    }

    /// <returns>The slots of all clusters, in the keyword order of their primaries.</returns>
    public int[] InOrder()
    {
        var slots = new List<int>(Count);
        for (var slot = 0; slot < _clusters.Count; slot++)
        {
            if (_clusters[slot] is not null)
                slots.Add(slot);
        }

        slots.Sort((a, b) => RankOf(a).CompareTo(RankOf(b)));
        return [.. slots];
    }
}
