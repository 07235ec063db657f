using System.Globalization;
using JadeOrchard.Core.Clusters;
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
        if (project.Read(StagedStore.Arrived).Count == 0)
            return;
        var label = project.Read((session, snapshot) => ClusterStore.HasAny(session) ? LabelOf(session, Placed(session, snapshot)) : null);
        project.ChangeInJob(
            label,
            session =>
            {
                // Looked at again: others may have written since.
                if (label is not null)
                    ClusterStore.Place(session, [.. Placed(session, project.Snapshot(session)).Where(p => p.ClusterId is not null).Select(p => (p.KeywordId, p.ClusterId!.Value))]);
                StagedStore.Settle(session, StagedStore.Arrived(session).Select(a => a.KeywordId));
                return 0;
            },
            CancellationToken.None);
    }

    /// <param name="Expected">The cluster that it was expected in; null where that is gone.</param>
    /// <param name="ClusterId">The one that its results fit; null where they fit none.</param>
    private sealed record Arrival(KeywordId KeywordId, ClusterId? Expected, ClusterId? ClusterId);

    private static List<Arrival> Placed(Session session, ProjectSnapshot snapshot)
    {
        var settings = ProjectStore.Grouping(session);
        var lists = snapshot.Compared(settings);
        var (ids, clusters) = StoredClusters.Of(session, snapshot);
        var locked = ClusterStore.FixedByHand(session).Locked;
        var arrived = StagedStore.Arrived(session).Where(a => a.IsFree).ToDictionary(a => snapshot.IndexOfKeyword[a.KeywordId]);
        return [.. NewKeywords.Of([.. arrived.Keys], clusters, c => !locked.Contains(ids[c]), lists, settings.MinOverlap)
            .Select(n => new Arrival(arrived[n.Keyword].KeywordId, arrived[n.Keyword].ClusterId, n.Cluster < 0 ? null : ids[n.Cluster]))];
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
