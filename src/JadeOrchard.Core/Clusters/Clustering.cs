using System.Collections.Immutable;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>Keywords gathered into clusters by how much their search results overlap.</summary>
/// <param name="Clusters">In the keyword order of their primaries.</param>
/// <param name="NotCaptured">Keywords without a result list; they are in no cluster, and not singletons either.</param>
public sealed record Clustering(ImmutableArray<Cluster> Clusters, ImmutableArray<int> NotCaptured)
{
    /// <summary>Groups keywords. Deterministic: the order of keywords and of rows does not matter.</summary>
    /// <param name="keywords">No normal form twice.</param>
    /// <param name="lists">Their result lists, cut at the depth of <paramref name="settings"/>.</param>
    /// <param name="settings">Without a fault.</param>
    public static Clustering Of(IReadOnlyList<Keyword> keywords, ResultLists lists, ClusterSettings settings)
    {
        var order = KeywordOrder.Of(keywords);
        if (settings.Rule != LinkingRule.Primary)
            return Of(order, lists, OverlapJoin.Pairs(lists, settings.MinOverlap), settings.Rule);
        // Of all pairs this rule needs those of the primaries alone.
        var index = new OverlapIndex(lists, settings.MinOverlap);
        var scratch = new OverlapIndex.Scratch(index);
        return Of(order, lists, PrimaryRule.PrimaryOfEach(order, lists, keyword =>
        {
            index.Neighbours(keyword, scratch);
            return CollectionsMarshal.AsSpan(scratch.Found);
        }));
    }

    /// <summary>As above, from pairs that were found before.</summary>
    public static Clustering Of(int[] order, ResultLists lists, IReadOnlyList<OverlapPair> pairs, LinkingRule rule)
    {
        var links = new OverlapLinks(lists.Count, pairs);
        return Of(order, lists, rule switch
        {
            LinkingRule.Primary => PrimaryRule.PrimaryOfEach(order, lists, links.Of),
            LinkingRule.EveryPair => EveryPairRule.PrimaryOfEach(order, KeywordOrder.Ranks(order), links),
            LinkingRule.Chain => ChainRule.PrimaryOfEach(order, links),
            _ => throw new ArgumentOutOfRangeException(nameof(rule), rule, "Not a linking rule."),
        });
    }

    private static Clustering Of(int[] order, ResultLists lists, int[] primaryOf)
    {
        var members = new Dictionary<int, ImmutableArray<int>.Builder>();
        var clusters = new List<int>();
        var notCaptured = ImmutableArray.CreateBuilder<int>();
        // A secondary may stand before its primary in the order, so the primaries are told apart first.
        foreach (var keyword in order)
        {
            if (!lists.IsCaptured(keyword))
                notCaptured.Add(keyword);
            else if (primaryOf[keyword] == keyword)
            {
                clusters.Add(keyword);
                members[keyword] = ImmutableArray.CreateBuilder<int>();
                members[keyword].Add(keyword);
            }
        }

        foreach (var keyword in order)
        {
            if (lists.IsCaptured(keyword) && primaryOf[keyword] != keyword)
                members[primaryOf[keyword]].Add(keyword);
        }

        return new Clustering(
            [.. clusters.Select(primary => new Cluster(primary, members[primary].ToImmutable()))],
            notCaptured.ToImmutable());
    }
}
