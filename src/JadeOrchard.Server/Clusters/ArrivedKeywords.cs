using System.Globalization;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Clusters;

/// <summary>Keywords that were expected in a cluster and have been captured since: their results say where they stand.</summary>
internal static class ArrivedKeywords
{
    /// <summary>The most keywords whose move the history tells one by one.</summary>
    private const int Named = 3;

    /// <summary>Puts them into the clusters that their results fit, as new keywords are. One step of the history, which says how many moved.</summary>
    /// <remarks>Before the first grouping there is nothing to put them into: that puts them where they belong.</remarks>
    public static void Place(Project project)
    {
        var arrived = project.Read(StagedStore.Arrived);
        if (arrived.Count == 0)
            return;
        var (arrivals, label) = project.Read((session, snapshot) =>
        {
            List<Arrival> found = ClusterStore.HasAny(session) ? Placed(session, snapshot, arrived) : [];
            return (found, LabelOf(session, found));
        });
        project.ChangeInJob(
            label,
            session =>
            {
                // Others may have written since.
                var free = StagedStore.Arrived(session).Where(a => a.IsFree).Select(a => a.KeywordId).ToHashSet();
                var standing = ClusterStore.Names(session, arrivals.Select(a => a.ClusterId).OfType<ClusterId>().ToHashSet());
                ClusterStore.Place(session, arrivals.Where(a => free.Contains(a.KeywordId) && a.ClusterId is { } to && standing.ContainsKey(to)).Select(a => (a.KeywordId, a.ClusterId!.Value)));
                StagedStore.Settle(session, arrived.Select(a => a.KeywordId));
                return 0;
            },
            CancellationToken.None);
    }

    /// <param name="Expected">The cluster that it was expected in; null where that is gone.</param>
    /// <param name="ClusterId">The one that its results put it into; null where they fit none, or one that is locked.</param>
    private sealed record Arrival(KeywordId KeywordId, ClusterId? Expected, ClusterId? ClusterId);

    private static List<Arrival> Placed(Session session, ProjectSnapshot snapshot, IReadOnlyList<ArrivedKeyword> arrived)
    {
        var expected = arrived.Where(a => a.IsFree).ToDictionary(a => a.KeywordId, a => a.ClusterId);
        var (ids, newKeywords) = ClusterEditEndpoints.NewKeywords(session, snapshot);
        // What fits a locked cluster is offered to it, as other new keywords are.
        var locked = ClusterStore.FixedByHand(session).Locked;
        return [.. newKeywords.Select(n => (Id: snapshot.KeywordIds[n.Keyword], n.Cluster)).Where(n => expected.ContainsKey(n.Id))
            .Select(n => new Arrival(n.Id, expected[n.Id], n.Cluster >= 0 && !locked.Contains(ids[n.Cluster]) ? ids[n.Cluster] : null))];
    }

    private static string? LabelOf(Session session, List<Arrival> arrivals)
    {
        if (arrivals.Count == 0)
            return null;
        var moved = arrivals.Where(a => a.ClusterId is not null && a.ClusterId != a.Expected).ToList();
        var (joined, left) = (arrivals.Count(a => a.ClusterId is not null && a.ClusterId == a.Expected), arrivals.Count(a => a.ClusterId is null));
        var parts = new List<string>();
        if (joined > 0)
            parts.Add($"{Number(joined)} in the cluster that was expected");
        if (moved.Count > 0)
            parts.Add($"{Number(moved.Count)} moved to another ({string.Join("; ", Moves(session, moved))})");
        if (left > 0)
            parts.Add($"{Number(left)} in none");
        return $"Place expected keywords by their results: {string.Join(", ", parts)}";
    }

    private static IEnumerable<string> Moves(Session session, List<Arrival> moved)
    {
        var told = moved.Take(Named).ToList();
        var phrases = KeywordStore.Phrases(session, [.. told.Select(a => a.KeywordId)]);
        var names = ClusterStore.Names(session, told.SelectMany(a => new[] { a.Expected, a.ClusterId }).OfType<ClusterId>().ToHashSet());
        foreach (var move in told)
            yield return $"{phrases[move.KeywordId]}: {(move.Expected is { } from ? $"from {names[from].Name} " : "")}to {names[move.ClusterId!.Value].Name}";
        if (moved.Count > Named)
            yield return $"and {Number(moved.Count - Named)} more";
    }

    private static string Number(int count) => count.ToString("N0", CultureInfo.InvariantCulture);
}
