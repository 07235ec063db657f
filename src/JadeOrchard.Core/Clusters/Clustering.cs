using System.Collections.Immutable;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>Keywords gathered into clusters by how much their search results overlap.</summary>
/// <param name="Clusters">In the keyword order of their primaries.</param>
/// <param name="NotCaptured">Keywords without a result list; they are in no cluster, and not singletons either.</param>
/// <param name="Bridges">Where the rule finds them on its way; else null.</param>
public sealed record Clustering(ImmutableArray<Cluster> Clusters, ImmutableArray<int> NotCaptured, Bridges? Bridges = null)
{
    /// <summary>Keywords that would be elsewhere if the clusters before did not hold them, in keyword order.</summary>
    public ImmutableArray<int> HeldBack { get; init; } = [];

    /// <returns>For each keyword the index of its cluster, or -1.</returns>
    public int[] ClusterOf(int keywords)
    {
        var clusterOf = new int[keywords];
        Array.Fill(clusterOf, -1);
        for (var c = 0; c < Clusters.Length; c++)
        {
            foreach (var member in Clusters[c].Members)
                clusterOf[member] = c;
        }

        return clusterOf;
    }

    /// <summary>Groups keywords. Deterministic: the order of keywords and of rows does not matter.</summary>
    /// <param name="keywords">No normal form twice.</param>
    /// <param name="lists">Their result lists, cut at the depth of <paramref name="settings"/>.</param>
    /// <param name="settings">Without a fault.</param>
    /// <param name="order">The keywords in keyword order, where it is known.</param>
    /// <param name="previous">Clusters that are to hold, by the primary rule; null for none.</param>
    public static Clustering Of(IReadOnlyList<Keyword> keywords, ResultLists lists, ClusterSettings settings, int[]? order = null, PreviousClusters? previous = null) =>
        Of(order ?? KeywordOrder.Of(keywords), lists, new OverlapIndex(lists, settings.MinOverlap), settings.Rule, previous: previous, shortLists: settings.ShortLists).AtLeast(settings.Smallest);

    /// <summary>Without the clusters of fewer keywords; these are then in no cluster.</summary>
    public Clustering AtLeast(int smallest) => smallest < 2 ? this : this with { Clusters = [.. Clusters.Where(c => c.Members.Length >= smallest)], Bridges = null };

    /// <summary>As above.</summary>
    /// <param name="order">The keywords in keyword order.</param>
    /// <param name="lists">Their result lists, cut at the compared depth.</param>
    /// <param name="index">Of these lists, with the minimum overlap.</param>
    /// <param name="rule">How links become clusters.</param>
    /// <param name="pairs">Of these lists, where some are known; they need not be looked for again.</param>
    /// <param name="previous">Clusters that are to hold, by the primary rule; null for none.</param>
    /// <param name="shortLists">See <see cref="ClusterSettings.ShortLists"/>; by the primary rule and the chain.</param>
    public static Clustering Of(
        int[] order, ResultLists lists, OverlapIndex index, LinkingRule rule, OverlapPairs? pairs = null, PreviousClusters? previous = null, bool shortLists = false)
    {
        if (rule == LinkingRule.EveryPair)
        {
            var links = pairs is null ? null : new OverlapLinks(lists.Count, pairs.All, pairs.Least);
            return Of(order, lists, EveryPairRule.PrimaryOfEach(order, KeywordOrder.Ranks(order), (Longest(lists), index.MinOverlap), level =>
                links is not null && level >= pairs!.Least ? links.Of : Looked(level == index.MinOverlap ? index : new OverlapIndex(lists, level))));
        }

        if (rule == LinkingRule.Chain && index.MinOverlap == 1 && !shortLists)
            return Of(order, lists, ChainRule.PrimaryOfEach(order, lists));
        var neighbours = shortLists ? ShortLists.With(Looked(index), lists, index.MinOverlap) : Looked(index);
        return rule == LinkingRule.Primary ? OfPrimaryRule(order, lists, neighbours, index.MinOverlap, previous) : Of(order, lists, ChainRule.PrimaryOfEach(order, neighbours));
    }

    private static int Longest(ResultLists lists) => Enumerable.Range(0, lists.Count).Select(k => lists.Urls(k).Length).DefaultIfEmpty(0).Max();

    /// <summary>Neighbourhoods that are looked for when they are asked for.</summary>
    private static Neighbours Looked(OverlapIndex index)
    {
        var scratch = new OverlapIndex.Scratch(index);
        return keyword =>
        {
            index.Neighbours(keyword, scratch);
            return CollectionsMarshal.AsSpan(scratch.Found);
        };
    }

    /// <param name="order">The keywords in keyword order.</param>
    /// <param name="lists">Their result lists, cut at the compared depth.</param>
    /// <param name="pairs">All that overlap by the minimum, and maybe others.</param>
    /// <param name="rule">How links become clusters.</param>
    /// <param name="minOverlap">m.</param>
    /// <param name="previous">Clusters that are to hold, by the primary rule; null for none.</param>
    public static Clustering Of(int[] order, ResultLists lists, ReadOnlySpan<OverlapPair> pairs, LinkingRule rule, int minOverlap, PreviousClusters? previous = null)
    {
        var links = new OverlapLinks(lists.Count, pairs, minOverlap);
        return rule switch
        {
            LinkingRule.Primary => OfPrimaryRule(order, lists, links.Of, minOverlap, previous),
            LinkingRule.EveryPair => Of(order, lists, EveryPairRule.PrimaryOfEach(order, KeywordOrder.Ranks(order), (Longest(lists), minOverlap), _ => links.Of)),
            LinkingRule.Chain => Of(order, lists, ChainRule.PrimaryOfEach(order, links.Of)),
            _ => throw new ArgumentOutOfRangeException(nameof(rule), rule, "Not a linking rule."),
        };
    }

    private static Clustering OfPrimaryRule(int[] order, ResultLists lists, Neighbours neighbours, int minOverlap, PreviousClusters? previous)
    {
        if (previous is { Margin: > 0 })
        {
            var (held, heldBack) = PrimaryRule.PrimaryOfEach(order, lists, neighbours, minOverlap, previous);
            return Of(order, lists, held) with { HeldBack = [.. heldBack] };
        }

        var (primaryOf, bridges) = PrimaryRule.PrimaryOfEach(order, lists, neighbours);
        return Of(order, lists, primaryOf) with { Bridges = bridges };
    }

    private static Clustering Of(int[] order, ResultLists lists, int[] primaryOf)
    {
        var (clusters, notCaptured) = (new List<int>(), ImmutableArray.CreateBuilder<int>());
        var sizes = new int[order.Length];
        foreach (var keyword in order)
        {
            if (!lists.IsCaptured(keyword))
                notCaptured.Add(keyword);
            else
            {
                sizes[primaryOf[keyword]]++;
                if (primaryOf[keyword] == keyword)
                    clusters.Add(keyword);
            }
        }

        // A secondary may stand before its primary in the order, so the primaries are placed first.
        var members = new int[order.Length][];
        foreach (var primary in clusters)
        {
            members[primary] = new int[sizes[primary]];
            members[primary][0] = primary;
            sizes[primary] = 1;
        }

        foreach (var keyword in order)
        {
            if (lists.IsCaptured(keyword) && primaryOf[keyword] is var primary && primary != keyword)
                members[primary][sizes[primary]++] = keyword;
        }

        return new Clustering(
            [.. clusters.Select(primary => new Cluster(primary, ImmutableCollectionsMarshal.AsImmutableArray(members[primary])))],
            notCaptured.ToImmutable());
    }
}
