using CsCheck;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Clusters;

/// <summary>Clusters that hold when results change on their own.</summary>
public sealed class HoldingTests
{
    private static readonly ClusterSettings Settings = new(Depth: 6, MinOverlap: 3);

    /// <summary>Lists whose subjects shade into each other, and the same captured again with some results changed.</summary>
    private static readonly Gen<(int[][] Before, int[][] After)> TwoCaptures = Gen.Int[0, 999_999].Select(seed =>
    {
        var random = new Random(seed);
        int[][] before = [.. Enumerable.Range(0, 40).Select(k => Draw(random, k / 2, []))];
        return (before, before.Select((l, k) => Draw(random, k / 2, [.. l.Where(_ => random.NextDouble() > 0.15)])).ToArray());
    });

    private static int[] Draw(Random random, int from, List<int> start)
    {
        while (start.Count < 6)
        {
            var url = from + random.Next(14);
            if (!start.Contains(url))
                start.Add(url);
        }

        return [.. start];
    }

    private static IReadOnlyList<Keyword> Keywords { get; } = Lists.Keywords([.. Enumerable.Range(0, 40).Select(k => ($"k{k:00}", (long?)((k * 7919) % 100)))]);

    private static PreviousClusters Of(Clustering clustering, int margin) => new(ClusterOf(clustering), [.. clustering.Clusters.Select(c => c.Primary)], margin);

    private static int[] ClusterOf(Clustering clustering) => clustering.ClusterOf(40);

    [Fact]
    public void WhereNothingChangedNothingMoves() => TwoCaptures.Sample(captures =>
    {
        var lists = Lists.Of(captures.Before);
        var first = Clustering.Of(Keywords, lists, Settings);
        var again = Clustering.Of(Keywords, lists, Settings, previous: Of(first, 2));
        return again.Clusters.Select(Says).SequenceEqual(first.Clusters.Select(Says)) && again.HeldBack.IsEmpty;
    });

    [Fact]
    public void AKeywordLeavesOnlyForOneThatSharesTheMarginMore() => Gen.Select(TwoCaptures, Gen.Int[1, 3]).Sample((captures, margin) =>
    {
        var lists = Lists.Of(captures.After);
        var first = Clustering.Of(Keywords, Lists.Of(captures.Before), Settings);
        var again = Clustering.Of(Keywords, lists, Settings, previous: Of(first, margin));
        int[] was = ClusterOf(first), now = ClusterOf(again);
        var primaries = again.Clusters.Select(c => c.Primary).ToHashSet();
        int Shared(int a, int b) => Overlap.Count(lists.Urls(a), lists.Urls(b));
        return Enumerable.Range(0, 40).All(k =>
        {
            var (old, primary) = (first.Clusters[was[k]].Primary, again.Clusters[now[k]].Primary);
            // Its cluster went with its primary, or it is one itself.
            if (!primaries.Contains(old) || k == primary && k == old)
                return true;
            if (primary == old)
                return k == old || Shared(k, old) >= Math.Max(1, Settings.MinOverlap - margin);
            // It went to one that shares the margin more; or it shares too little, and went to whom it overlaps, or stands alone.
            return Shared(k, primary) >= Shared(k, old) + margin || Shared(k, old) < Math.Max(1, Settings.MinOverlap - margin);
        });
    });

    [Fact]
    public void TheOrderOfKeywordsAndOldClustersDoesNotMatter() => Gen.Select(TwoCaptures, Gen.Int[0, 9_999]).Sample((captures, seed) =>
    {
        var first = Clustering.Of(Keywords, Lists.Of(captures.Before), Settings);
        var straight = Clustering.Of(Keywords, Lists.Of(captures.After), Settings, previous: Of(first, 2));
        int[] order = [.. Enumerable.Range(0, 40)], clusters = [.. Enumerable.Range(0, first.Clusters.Length)];
        new Random(seed).Shuffle(order);
        new Random(seed + 1).Shuffle(clusters);
        int[] placeOf = new int[40], was = ClusterOf(first);
        for (var i = 0; i < order.Length; i++)
            placeOf[order[i]] = i;
        var other = Clustering.Of(
            [.. order.Select(k => Keywords[k])], Lists.Of([.. order.Select(k => captures.After[k])]), Settings,
            previous: new PreviousClusters([.. order.Select(k => Array.IndexOf(clusters, was[k]))], [.. clusters.Select(c => placeOf[first.Clusters[c].Primary])], 2));
        return straight.Clusters.Select(Says).SequenceEqual(other.Clusters.Select(c => Says(new Cluster(order[c.Primary], [.. c.Members.Select(m => order[m])]))));
    });

    [Fact]
    public void FewerMoveThanIfNothingHeld()
    {
        var (held, free) = (0, 0);
        TwoCaptures.Sample(captures =>
        {
            var first = Clustering.Of(Keywords, Lists.Of(captures.Before), Settings);
            int Moved(Clustering again) => ClusteringComparison.Of(ClusterOf(first), ClusterOf(again)).Moved.Length;
            Interlocked.Add(ref held, Moved(Clustering.Of(Keywords, Lists.Of(captures.After), Settings, previous: Of(first, 2))));
            Interlocked.Add(ref free, Moved(Clustering.Of(Keywords, Lists.Of(captures.After), Settings)));
        });
        Assert.True(held * 2 < free, $"{held} move, and {free} where nothing holds them");
    }

    [Fact]
    public void OneHostCountsSoOften()
    {
        var lists = Lists.Of([[0, 1, 2, 3, 4], [0, 1, 2, 3, 5]]);
        string[] urls = ["shop.example/0", "shop.example/1", "shop.example/2", "a.example/3", "b.example/4", "c.example/5"];
        Assert.Equal([0, 1, 3, 4], (Settings with { PerHost = 2 }).Compared(lists, urls).Urls(0).ToArray());
        Assert.Equal([0, 3, 5], (Settings with { PerHost = 1 }).Compared(lists, urls).Urls(1).ToArray());
    }

    [Theory]
    [InlineData(new[] { 0, 1, 2 }, new[] { 0, 1, 9 }, true)]                 // two of three
    [InlineData(new[] { 0, 1, 2 }, new[] { 0, 8, 9 }, false)]                // one of three
    [InlineData(new[] { 0, 1, 2 }, new[] { 3, 4, 5, 6, 0, 1 }, true)]        // the shorter one decides
    [InlineData(new[] { 0, 1, 2, 3, 4, 5 }, new[] { 0, 1, 9, 8, 7, 6 }, false)]
    public void ShortListsNeedShareThreeFifths(int[] a, int[] b, bool together)
    {
        var (lists, keywords) = (Lists.Of([a, b]), Lists.Keywords(("a", 2), ("b", 1)));
        Assert.Equal(together ? 1 : 2, Clustering.Of(keywords, lists, Settings with { ShortLists = true }).Clusters.Length);
        Assert.Equal(2, Clustering.Of(keywords, lists, new ClusterSettings(6, 4)).Clusters.Length);
    }

    [Fact]
    public void ANewKeywordThatMatchesALockedClusterFormsNoRival()
    {
        var lists = Lists.Of([[0, 1, 2, 3], [0, 1, 2, 4], [0, 1, 2, 5], [8, 9, 10, 11]]);
        var standing = new StandingClusters([0, -1, -1, -1], [0], [true], new bool[4], [false], new bool[4]);
        var keywords = Lists.Keywords(("a", 4), ("b", 3), ("c", 2), ("d", 1));
        var aside = standing.WithoutOffered(lists, 3, KeywordOrder.Of(keywords));
        Assert.Equal([false, true, true, false], aside.IsAside);
        var clusters = Regrouping.Of(Clustering.Of(keywords, Regrouping.Free(lists, aside), Settings), keywords, aside);
        Assert.Equal([[0], [3]], clusters.Select(c => c.Cluster.Members.ToArray()));
    }

    [Fact]
    public void NoiseIsWhatTwoCapturesDoNotShare()
    {
        Assert.Equal("No keyword was captured twice, so how much results change on their own is not known.", Noise.Of([]).Says);
        var lists = Lists.Of([[0, 1, 2, 3, 4, 5], [0, 1, 2, 3, 4, 6], [0, 1, 2, 7, 8, 9]]);
        var grouped = Clustering.Of(Lists.Keywords(("a", 3), ("b", 2), ("c", 1)), lists, Settings);
        var (none, some, much) = (Noise.Of([(6, 6), (6, 6)]).On(grouped, Margins.All(grouped, lists), 3), Noise.Of([(5, 6), (5, 6)]).On(grouped, Margins.All(grouped, lists), 3), Noise.Of([(3, 6), (3, 6)]).On(grouped, Margins.All(grouped, lists), 3));
        Assert.Equal(0, none.Movable);
        Assert.True(0 < some.Movable && some.Movable < much.Movable && much.Movable <= 1);
        Assert.StartsWith("Two captures of 2 keywords share 5.0 of 6 results; that alone could move about ", some.Says, StringComparison.Ordinal);
    }

    private static string Says(Cluster cluster) => $"{cluster.Primary}: {string.Join(' ', cluster.Members)}";
}
