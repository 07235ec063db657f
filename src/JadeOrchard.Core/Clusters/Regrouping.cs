using System.Runtime.InteropServices;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>The clusters as they stand, with what the planner fixed manually.</summary>
/// <param name="ClusterOf">For each keyword the index of its cluster, or -1.</param>
/// <param name="Primaries">For each cluster its primary keyword.</param>
/// <param name="IsLocked">For each cluster whether it stays as it is.</param>
/// <param name="IsPlaced">For each keyword whether the planner put it into its cluster.</param>
/// <param name="IsPrimaryChosen">For each cluster whether the planner chose its primary; where it goes on with that keyword, it keeps it.</param>
/// <param name="IsAside">For each keyword whether it is not to be grouped: declined, or not in the list that is; it stays where it is.</param>
public sealed record StandingClusters(
    IReadOnlyList<int> ClusterOf, IReadOnlyList<int> Primaries, IReadOnlyList<bool> IsLocked, IReadOnlyList<bool> IsPlaced,
    IReadOnlyList<bool> IsPrimaryChosen, IReadOnlyList<bool> IsAside)
{
    /// <summary>None yet.</summary>
    public static StandingClusters None(int keywords) => new([.. Enumerable.Repeat(-1, keywords)], [], [], new bool[keywords], [], new bool[keywords]);

    /// <returns>Whether a keyword stays in its cluster, so that the grouping goes on without it.</returns>
    public bool IsFixed(int keyword) => ClusterOf[keyword] is var cluster and >= 0 && (IsLocked[cluster] || IsPlaced[keyword] || IsAside[keyword]);

    /// <returns>Whether a keyword takes no part in the grouping.</returns>
    public bool IsLeftOut(int keyword) => IsAside[keyword] || IsFixed(keyword);

    /// <returns>The same, where new keywords whose results match a locked cluster take no part: they are offered to it, and form no rival cluster.</returns>
    /// <param name="lists">Cut at the compared depth.</param>
    /// <param name="minOverlap">m.</param>
    /// <param name="order">The keywords in keyword order.</param>
    public StandingClusters WithoutOffered(ResultLists lists, int minOverlap, int[] order)
    {
        if (!IsLocked.Contains(true))
            return this;
        var members = order.Where(k => ClusterOf[k] is var c and >= 0 && IsLocked[c]).GroupBy(k => ClusterOf[k])
            .Select(g => new Cluster(Primaries[g.Key], [Primaries[g.Key], .. g.Where(k => k != Primaries[g.Key])])).ToList();
        var offered = NewKeywords.Of([.. order.Where(k => ClusterOf[k] < 0 && !IsAside[k] && lists.IsCaptured(k))], members, _ => true, lists, minOverlap)
            .Where(n => n.Cluster >= 0).Select(n => n.Keyword).ToHashSet();
        return offered.Count == 0 ? this : this with { IsAside = [.. IsAside.Select((aside, k) => aside || offered.Contains(k))] };
    }

    /// <returns>The clusters as they are to hold when they are grouped again; null where none is.</returns>
    /// <param name="margin">See <see cref="ClusterSettings.Hysteresis"/>.</param>
    public PreviousClusters? ToHold(int margin) =>
        margin == 0 || Primaries.Count == 0 ? null : new PreviousClusters([.. ClusterOf.Select((c, k) => IsLeftOut(k) ? -1 : c)], Primaries, margin);
}

/// <summary>A cluster after a re-grouping.</summary>
/// <param name="Cluster">Its keywords.</param>
/// <param name="GoesOnFrom">Index of the cluster whose identity it inherits; -1 where it is new.</param>
public sealed record RegroupedCluster(Cluster Cluster, int GoesOnFrom);

/// <summary>Puts a new grouping in the place of the clusters as they stand, and keeps what the planner fixed manually.</summary>
/// <remarks>
/// Locked clusters stay as they are and take nothing in. Keywords placed manually go on in the cluster they were placed
/// in; where no new cluster goes on from it, they make it up themselves. All others are grouped without these, and
/// inherit by <see cref="ClusterIdentity"/>.
/// </remarks>
public static class Regrouping
{
    /// <returns>The lists that are grouped: those of keywords that take no part are left out.</returns>
    public static ResultLists Free(ResultLists lists, StandingClusters standing) =>
        Enumerable.Range(0, lists.Count).Any(standing.IsLeftOut) ? lists.Without(standing.IsLeftOut) : lists;

    /// <param name="grouped">Made of the lists of <see cref="Free"/>.</param>
    /// <param name="keywords">All keywords.</param>
    /// <param name="standing">The clusters as they stand.</param>
    /// <param name="ranks">The place of each keyword in keyword order, where it is known.</param>
    /// <returns>In the keyword order of their primaries.</returns>
    public static IReadOnlyList<RegroupedCluster> Of(Clustering grouped, IReadOnlyList<Keyword> keywords, StandingClusters standing, int[]? ranks = null)
    {
        ranks ??= KeywordOrder.Ranks(KeywordOrder.Of(keywords));
        int[] unlocked = [.. standing.ClusterOf.Select(c => c >= 0 && standing.IsLocked[c] ? -1 : c)];
        var goesOn = ClusterIdentity.Inherited(unlocked, standing.Primaries.Count, grouped.Clusters, keywords).ToList();
        // Most clusters stay as they were grouped. Those that take in fixed keywords, or keep a chosen primary, are built again.
        var clusters = grouped.Clusters.ToList();
        var members = new Dictionary<int, List<int>>();
        var placeOf = new int[standing.Primaries.Count];
        Array.Fill(placeOf, -1);
        for (var c = 0; c < goesOn.Count; c++)
        {
            if (goesOn[c] >= 0)
                placeOf[goesOn[c]] = c;
        }

        foreach (var keyword in Enumerable.Range(0, keywords.Count).Where(standing.IsFixed).OrderBy(k => ranks[k]))
        {
            var old = standing.ClusterOf[keyword];
            var place = placeOf[old];
            if (place < 0)
            {
                placeOf[old] = place = clusters.Count;
                goesOn.Add(old);
                // A primary that left makes way for the first of those that stay.
                clusters.Add(new Cluster(standing.ClusterOf[standing.Primaries[old]] == old && standing.IsFixed(standing.Primaries[old]) ? standing.Primaries[old] : keyword, []));
            }

            if (!members.TryGetValue(place, out var ofPlace))
                members[place] = ofPlace = [.. clusters[place].Members];
            ofPlace.Add(keyword);
        }

        foreach (var (place, ofPlace) in members)
            clusters[place] = Ordered(clusters[place].Primary, ofPlace, ranks);
        for (var c = 0; c < clusters.Count; c++)
        {
            if (goesOn[c] is var old and >= 0 && standing.IsPrimaryChosen[old] && standing.Primaries[old] is var chosen && chosen != clusters[c].Primary && clusters[c].Members.Contains(chosen))
                clusters[c] = Ordered(chosen, clusters[c].Members, ranks);
        }

        return [.. clusters.Select((cluster, c) => new RegroupedCluster(cluster, goesOn[c])).OrderBy(c => ranks[c.Cluster.Primary])];
    }

    /// <summary>The primary comes first, then the others in keyword order.</summary>
    private static Cluster Ordered(int primary, IEnumerable<int> members, int[] ranks)
    {
        int[] ordered = [primary, .. members.Where(m => m != primary)];
        var others = ordered.AsSpan(1);
        for (var i = 1; i < others.Length; i++)
        {
            if (ranks[others[i]] >= ranks[others[i - 1]])
                continue;
            others.Sort((a, b) => ranks[a].CompareTo(ranks[b]));
            break;
        }

        return new Cluster(primary, ImmutableCollectionsMarshal.AsImmutableArray(ordered));
    }
}
