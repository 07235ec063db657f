using CsCheck;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Clusters;

public class ClusteringTests
{
    private static readonly Gen<(int[][] Lists, long[] Volumes)> Projects = Gen.Select(
        Gen.Int[0, 18].Array[0, 8].Select(u => u.Distinct().ToArray()).Array[0, 30], Gen.Long[0, 5].Array[30])
        .Select((lists, volumes) => (lists, volumes));

    private static Clustering Group(int[][] lists, long[] volumes, int min, LinkingRule rule) => Clustering.Of(
        Lists.Keywords([.. lists.Select((_, k) => ($"k{k:D2}", (long?)volumes[k]))]), Lists.Of(lists), new ClusterSettings(10, min, rule));

    [Fact]
    public void ASecondaryGoesToThePrimaryThatItOverlapsMost()
    {
        // "b" is gathered by "a" first, but shares more with "c".
        var clusters = Group([[1, 2, 3, 4, 5], [3, 4, 5, 6, 7, 8], [5, 6, 7, 8, 9]], [30, 10, 20], 3, LinkingRule.Primary).Clusters;
        Assert.Equal([[0], [2, 1]], clusters.Select(c => c.Members.ToArray()));
    }

    [Fact]
    public void EqualOverlapIsDecidedByRank()
    {
        // Both primaries share 2 and 3 or 5 and 6 with "b"; the list of "c" has them in nearly the same order.
        var clusters = Group([[9, 8, 2, 3], [5, 6, 2, 3], [5, 6, 10, 11]], [30, 10, 20], 2, LinkingRule.Primary).Clusters;
        Assert.Equal([[0], [2, 1]], clusters.Select(c => c.Members.ToArray()));
    }

    [Fact]
    public void WithoutAResultListAKeywordIsNotCaptured()
    {
        var grouped = Group([[1, 2], [], [3, 4]], [1, 2, 3], 2, LinkingRule.Primary);
        Assert.Equal([1], grouped.NotCaptured.ToArray());
        Assert.Equal(2, grouped.Clusters.Length);
    }

    [Fact]
    public void EveryCapturedKeywordIsInOneCluster() => Gen.Select(Projects, Gen.Enum<LinkingRule>(), Gen.Int[1, 4]).Sample((project, rule, min) =>
    {
        var grouped = Group(project.Lists, project.Volumes, min, rule);
        var all = grouped.Clusters.SelectMany(c => c.Members).Concat(grouped.NotCaptured).Order();
        return all.SequenceEqual(Enumerable.Range(0, project.Lists.Length)) && grouped.Clusters.All(c => c.Members[0] == c.Primary);
    });

    [Fact]
    public void TheOrderOfKeywordsDoesNotMatter() => Gen.Select(Projects, Gen.Enum<LinkingRule>(), Gen.Int[1, 4], Gen.Int[0, 9_999]).Sample((project, rule, min, seed) =>
    {
        var shuffle = Enumerable.Range(0, project.Lists.Length).ToArray();
        new Random(seed).Shuffle(shuffle);
        var keywords = Lists.Keywords([.. project.Lists.Select((_, k) => ($"k{k:D2}", (long?)project.Volumes[k]))]);
        var settings = new ClusterSettings(10, min, rule);
        var straight = Clustering.Of(keywords, Lists.Of(project.Lists), settings).Clusters.Select(c => c.Members.Select(m => m).ToArray());
        var shuffled = Clustering.Of([.. shuffle.Select(k => keywords[k])], Lists.Of([.. shuffle.Select(k => project.Lists[k])]), settings)
            .Clusters.Select(c => c.Members.Select(m => shuffle[m]).ToArray());
        return straight.Zip(shuffled).All(p => p.First.SequenceEqual(p.Second));
    });

    [Fact]
    public void SecondariesOverlapTheirPrimaryByTheMinimumAndPrimariesDoNotOverlap() => Gen.Select(Projects, Gen.Int[1, 4]).Sample((project, min) =>
    {
        var grouped = Group(project.Lists, project.Volumes, min, LinkingRule.Primary);
        int Shared(int a, int b) => project.Lists[a].Intersect(project.Lists[b]).Count();
        var primaries = grouped.Clusters.Select(c => c.Primary).ToArray();
        return grouped.Clusters.All(c => c.Members.Skip(1).All(m => Shared(m, c.Primary) >= min && primaries.All(p => Shared(m, p) <= Shared(m, c.Primary))))
            && primaries.All(a => primaries.All(b => a == b || Shared(a, b) < min));
    });

    /// <summary>Against the rule as it is written, step by step over all pairs.</summary>
    [Fact]
    public void ThePrimaryRuleNeedsNotAllPairsToGiveWhatTheyGive() => Gen.Select(Projects, Gen.Int[1, 4]).Sample((project, min) =>
    {
        var keywords = Lists.Keywords([.. project.Lists.Select((_, k) => ($"k{k:D2}", (long?)project.Volumes[k]))]);
        var (lists, order) = (Lists.Of(project.Lists), Core.Keywords.KeywordOrder.Of(keywords));
        int Shared(int a, int b) => project.Lists[a].Intersect(project.Lists[b]).Count();
        var gathered = new HashSet<int>();
        var primaries = new List<int>();
        foreach (var keyword in order.Where(k => lists.IsCaptured(k) && !gathered.Contains(k)))
        {
            primaries.Add(keyword);
            gathered.UnionWith(order.Where(k => k == keyword || Shared(k, keyword) >= min));
        }

        var expected = primaries.Select(primary => order.Where(k => lists.IsCaptured(k) && (k == primary || (!primaries.Contains(k) && primaries
            .OrderByDescending(p => Shared(k, p))
            .ThenByDescending(p => Math.Round(RankBiasedOverlap.Extrapolated(lists.Urls(k), lists.Urls(p)), 9))
            .ThenBy(primaries.IndexOf).First() == primary))).OrderBy(k => k != primary).ToArray()).ToArray();
        var alone = Clustering.Of(keywords, lists, new ClusterSettings(10, min)).Clusters.Select(c => c.Members.ToArray());
        var fromPairs = Clustering.Of(order, lists, OverlapJoin.Pairs(lists, min), LinkingRule.Primary, min).Clusters.Select(c => c.Members.ToArray());
        return Same(expected, alone) && Same(expected, fromPairs);

        static bool Same(IEnumerable<int[]> a, IEnumerable<int[]> b) => a.Select(x => string.Join(' ', x)).SequenceEqual(b.Select(x => string.Join(' ', x)));
    });

    [Fact]
    public void UnderEveryPairAllPairsOfAClusterOverlapByTheMinimum() => Gen.Select(Projects, Gen.Int[1, 4]).Sample((project, min) =>
        Group(project.Lists, project.Volumes, min, LinkingRule.EveryPair).Clusters.All(c =>
            c.Members.All(a => c.Members.All(b => a == b || project.Lists[a].Intersect(project.Lists[b]).Count() >= min))));

    /// <summary>By the definition, pair by pair: of all groups, the two whose least overlapping pair overlaps most; ties by keyword order.</summary>
    [Fact]
    public void EveryPairJoinsTheClosestGroupsFirst() => Gen.Select(Projects, Gen.Int[1, 5]).Sample((project, min) =>
    {
        var keywords = Lists.Keywords([.. project.Lists.Select((_, k) => ($"k{k:D2}", (long?)project.Volumes[k]))]);
        var groups = Core.Keywords.KeywordOrder.Of(keywords).Where(k => project.Lists[k].Length > 0).Select(k => new List<int> { k }).ToList();
        while (true)
        {
            var best = (Count: min - 1, A: -1, B: -1);
            for (var a = 0; a < groups.Count; a++)
            {
                for (var b = a + 1; b < groups.Count; b++)
                {
                    var least = groups[a].SelectMany(x => groups[b].Select(y => project.Lists[x].Intersect(project.Lists[y]).Count())).Min();
                    if (least > best.Count)
                        best = (least, a, b);
                }
            }

            if (best.A < 0)
                break;
            groups[best.A].AddRange(groups[best.B]);
            groups.RemoveAt(best.B);
        }

        static IEnumerable<string> Told(IEnumerable<IEnumerable<int>> clusters) => clusters.Select(c => string.Join(' ', c.Order())).Order(StringComparer.Ordinal);
        return Told(groups).SequenceEqual(Told(Group(project.Lists, project.Volumes, min, LinkingRule.EveryPair).Clusters.Select(c => c.Members.AsEnumerable())));
    });

    [Fact]
    public void EveryPairOfTenThousandKeywordsThatShareSevenResultsKeepsNoPairs()
    {
        const int count = 10_000;
        var lists = Lists.Of([.. Enumerable.Range(0, count).Select(k => new[] { 1, 2, 3, 4, 5, 6, 7, 100 + (3 * k), 101 + (3 * k), 102 + (3 * k) })]);
        var keywords = Lists.Keywords([.. Enumerable.Range(0, count).Select(k => ($"k{k:D5}", (long?)k))]);
        var before = GC.GetAllocatedBytesForCurrentThread();
        var cluster = Assert.Single(Clustering.Of(keywords, lists, new ClusterSettings(10, 7, LinkingRule.EveryPair)).Clusters);
        Assert.Equal(count, cluster.Members.Length);
        // The 50 million pairs alone would take 600 MB.
        Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 0, 100_000_000);
    }

    [Fact]
    public void CohesionIsTheMeanOverlapOfThePairs() => Projects.Sample(project =>
    {
        if (project.Lists.Length < 2)
            return true;
        var members = Enumerable.Range(0, project.Lists.Length).ToArray();
        var pairs = members.SelectMany(a => members.Where(b => b > a).Select(b => project.Lists[a].Intersect(project.Lists[b]).Count())).ToArray();
        return Math.Abs(ClusterQuality.Cohesion(members, Lists.Of(project.Lists), 10)!.Value - (pairs.Average() / 10)) < 1e-9
            && ClusterQuality.Cohesions([new Cluster(0, [0]), new Cluster(0, [.. members]), new Cluster(0, [.. members])], Lists.Of(project.Lists), 10)
                .SequenceEqual([null, ClusterQuality.Cohesion(members, Lists.Of(project.Lists), 10), ClusterQuality.Cohesion(members, Lists.Of(project.Lists), 10)]);
    });

    /// <summary>By the definitions, over all pairs; a URL that is in more clusters than are gone through one by one is among them.</summary>
    [Theory]
    [InlineData(40, 0.3)]
    [InlineData(2_400, 0.6)]
    public void FitsAndBridgesFollowTheirDefinitions(int count, double everywhere)
    {
        var random = new Random(count);
        var lists = Enumerable.Range(0, count).Select(k => Enumerable.Range(0, 6)
            .Select(_ => random.NextDouble() < everywhere / 3 ? random.Next(3) : 3 + (k / 4 * 5) + random.Next(9)).Distinct().ToArray()).ToArray();
        var keywords = Lists.Keywords([.. lists.Select((_, k) => ($"k{k:D4}", (long?)random.Next(50)))]);
        var packed = Lists.Of(lists);
        var index = new OverlapIndex(packed, 3);
        var clusters = Clustering.Of(keywords, packed, new ClusterSettings(10, 3)).Clusters;
        var fits = ClusterFits.Of(clusters, packed, new UrlPostings(packed), 10, of => Bridges.Of(clusters, of, index));
        var clusterOf = new int[count];
        for (var c = 0; c < clusters.Length; c++)
        {
            foreach (var member in clusters[c].Members)
                clusterOf[member] = c;
        }

        double Distance(int a, int b) => 1 - (Overlap.Count(lists[a], lists[b]) / 10.0);
        for (var k = 0; k < count; k += Math.Max(1, count / 60))
        {
            var own = clusters[clusterOf[k]].Members;
            var others = clusters.Where((_, c) => c != clusterOf[k]).Select(c => c.Members.Average(m => Distance(k, m))).Min();
            var within = own.Where(m => m != k).Select(m => Distance(k, m)).DefaultIfEmpty().Average();
            var expected = own.Length == 1 ? 0 : (others - within) / Math.Max(others, within);
            Assert.Equal(expected, fits[k].Fit, 9);
            var bridge = clusters.Select((c, i) => (Cluster: i, Overlap: i == clusterOf[k] ? 0 : Overlap.Count(lists[k], lists[c.Primary]))).MaxBy(c => c.Overlap);
            Assert.Equal(bridge.Overlap >= 3 ? (bridge.Cluster, bridge.Overlap) : (-1, 0), (fits[k].BridgeTo, fits[k].BridgeOverlap));
        }
    }

    [Fact]
    public void BridgesFoundWhileGroupingAreThoseThatAreLookedFor() => Gen.Select(Projects, Gen.Int[1, 5]).Sample((project, minimum) =>
    {
        var keywords = Lists.Keywords([.. project.Lists.Select((_, k) => ($"k{k:D2}", (long?)project.Volumes[k]))]);
        var lists = Lists.Of(project.Lists);
        var clustering = Clustering.Of(keywords, lists, new ClusterSettings(10, minimum));
        var clusterOf = new int[lists.Count];
        Array.Fill(clusterOf, -1);
        foreach (var (cluster, c) in clustering.Clusters.Select((cluster, c) => (cluster, c)))
            cluster.Members.ToList().ForEach(member => clusterOf[member] = c);
        var lookedFor = Bridges.Of(clustering.Clusters, clusterOf, new OverlapIndex(lists, minimum));
        Assert.Equal(lookedFor.To, clustering.Bridges!.To);
        Assert.Equal(lookedFor.Overlaps, clustering.Bridges.Overlaps);
    });

    [Fact]
    public void OneJoinGivesWhatEachMinimumGivesAlone() => Gen.Select(Projects, Gen.Enum<LinkingRule>()).Sample((project, rule) =>
    {
        var keywords = Lists.Keywords([.. project.Lists.Select((_, k) => ($"k{k:D2}", (long?)project.Volumes[k]))]);
        var lists = Lists.Of(project.Lists);
        // The first holds all pairs, the second next to none of them, the third all but those of a single result.
        return new (long Most, int Wanted)[] { (long.MaxValue, 1), (3, 1), (long.MaxValue, 4) }.All(pairs =>
        {
            var sensitivity = new Sensitivity(keywords, lists, OverlapPairs.Of(lists, 10, pairs.Most, pairs.Wanted));
            return Enumerable.Range(1, 10).All(m => sensitivity.At(m, rule).Clusters.Select(c => string.Join(' ', c.Members)).SequenceEqual(
                Group(project.Lists, project.Volumes, m, rule).Clusters.Select(c => string.Join(' ', c.Members))));
        });
    });

    /// <summary>Of pairs that were found once, whatever compares less is served: fewer positions, some URLs or some keywords left out.</summary>
    [Fact]
    public void PairsServeWhateverComparesLess() => Gen.Select(Projects, Gen.Int[1, 8], Gen.Int[1, 10], Gen.Int[0, 18].Array[0, 8], Gen.Int[0, 29].Array[0, 8]).Sample((project, least, depth, urls, keywords) =>
    {
        var lists = Lists.Of(project.Lists);
        var less = lists.Cut(depth, urls.Contains).Without(keywords.Contains);
        var held = OverlapPairs.Of(lists, 10, long.MaxValue, least);
        Assert.Equal(Math.Min(least, 2), held.Least);
        var within = held.Within(less, depth);
        Assert.Equal((held.Least, depth), (within.Least, within.Depth));
        Assert.Equal(OverlapJoin.Pairs(less, held.Least), within.All.ToArray());
    });

    [Fact]
    public void AListThatIsCutIsTheStartOfItself() => Gen.Select(Projects, Gen.Int[1, 10], Gen.Int[0, 18].Array[0, 8]).Sample((project, depth, urls) =>
    {
        var lists = Lists.Of(project.Lists);
        var (cut, without) = (lists.Cut(depth), lists.Cut(depth, urls.Contains));
        var chosen = Enumerable.Range(0, lists.Count).Where(k => k % 2 == 1).ToArray();
        var (selected, left) = (cut.Select(chosen), cut.Without(k => k % 2 == 0));
        for (var k = 0; k < lists.Count; k++)
        {
            int[] expected = [.. project.Lists[k].Take(depth)];
            Assert.Equal(expected, cut.Urls(k).ToArray());
            Assert.Equal(Enumerable.Range(1, expected.Length), cut.Positions(k).ToArray());
            Assert.Equal(expected.Where(u => !urls.Contains(u)), without.Urls(k).ToArray());
            Assert.Equal(k % 2 == 1 ? expected : [], left.Urls(k).ToArray());
            Assert.Equal(left.Urls(k).Length > 0, left.IsCaptured(k));
            if (k % 2 == 1)
                Assert.Equal(expected, selected.Urls(k / 2).ToArray());
        }
    });

    [Fact]
    public void TheTableCountsSingleKeywordsAndTheDemandOfTheOthers()
    {
        var keywords = Lists.Keywords(("a", 100), ("b", 50), ("c", 7));
        var lists = Lists.Of([1, 2, 3], [2, 3, 4], [9]);
        var row = new Sensitivity(keywords, lists, OverlapPairs.Of(lists, 10, long.MaxValue)).Rows(LinkingRule.Primary)[1];
        Assert.Equal((2, 2, 1, 2, 0.2, 150L, 1 / 3.0), (row.MinOverlap, row.Clusters, row.Singletons, row.Largest, row.Cohesion!.Value, row.DemandInClusters, row.SingletonShare));
    }

    /// <summary>However keywords are regrouped, what is locked or placed manually stays, and every captured keyword is in one cluster.</summary>
    [Fact]
    public void ARegroupingKeepsWhatIsFixedByHand() => Gen.Select(Projects, Gen.Enum<LinkingRule>(), Gen.Int[1, 4], Gen.Int[0, 9_999]).Sample((project, rule, min, seed) =>
    {
        var random = new Random(seed);
        var count = project.Lists.Length;
        var keywords = Lists.Keywords([.. project.Lists.Select((_, k) => ($"k{k:D2}", (long?)project.Volumes[k]))]);
        var lists = Lists.Of(project.Lists);
        // Some old clusters of any keywords, of which some are locked and some keywords were placed.
        int[] clusterOf = [.. Enumerable.Range(0, count).Select(_ => random.Next(-1, 5))];
        int[] numbers = [.. clusterOf.Where(c => c >= 0).Distinct()];
        clusterOf = [.. clusterOf.Select(c => c < 0 ? -1 : Array.IndexOf(numbers, c))];
        int[] primaries = [.. numbers.Select((_, c) => Array.IndexOf(clusterOf, c))];
        var standing = new StandingClusters(clusterOf, primaries, [.. numbers.Select(_ => random.Next(3) == 0)], [.. clusterOf.Select(_ => random.Next(4) == 0)],
            [.. numbers.Select(_ => random.Next(2) == 0)], [.. clusterOf.Select(_ => random.Next(6) == 0)]);
        var grouped = Clustering.Of(keywords, Regrouping.Free(lists, standing), new ClusterSettings(10, min, rule));
        var after = Regrouping.Of(grouped, keywords, standing);

        var all = after.SelectMany(c => c.Cluster.Members).ToList();
        var locked = Enumerable.Range(0, numbers.Length).Where(c => standing.IsLocked[c]);
        return all.Count == all.Distinct().Count()
            && Enumerable.Range(0, count).All(k => all.Contains(k) == (standing.IsFixed(k) || (lists.IsCaptured(k) && !standing.IsAside[k])))
            && after.All(c => c.Cluster.Members[0] == c.Cluster.Primary)
            && after.Where(c => c.GoesOnFrom >= 0).Select(c => c.GoesOnFrom).Distinct().Count() == after.Count(c => c.GoesOnFrom >= 0)
            && Enumerable.Range(0, count).Where(standing.IsFixed).All(k => after.Single(c => c.Cluster.Members.Contains(k)).GoesOnFrom == clusterOf[k])
            && locked.All(l => after.Single(c => c.GoesOnFrom == l) is var kept && kept.Cluster.Primary == primaries[l]
                && kept.Cluster.Members.Order().SequenceEqual(Enumerable.Range(0, count).Where(k => clusterOf[k] == l)));
    });

    [Fact]
    public void AChosenPrimaryIsKeptByARegrouping()
    {
        var keywords = Lists.Keywords(("a", 9), ("b", 8), ("c", 7));
        var lists = Lists.Of([1, 2, 3], [1, 2, 3], [1, 2, 3]);
        var standing = StandingClusters.None(3) with { ClusterOf = [0, 0, 0], Primaries = [2], IsLocked = [false], IsPrimaryChosen = [true] };
        var after = Assert.Single(Regrouping.Of(Clustering.Of(keywords, lists, new ClusterSettings(10, 2)), keywords, standing));
        Assert.Equal("2 0 1", string.Join(' ', after.Cluster.Members));
    }

    [Fact]
    public void SmallClustersAndHostsCanBeLeftOut()
    {
        var keywords = Lists.Keywords(("a", 9), ("b", 8), ("c", 7));
        var lists = Lists.Of([1, 2], [1, 2], [5, 6]);
        Assert.Equal("0 1", string.Join(' ', Assert.Single(Clustering.Of(keywords, lists, new ClusterSettings(10, 2, Smallest: 2)).Clusters).Members));
        string[] urls = ["https://x.example/0", "https://videos.example/1", "https://m.videos.example/2", "https://myvideos.example/3", "", "https://x.example/5", "https://x.example/6"];
        var compared = new ClusterSettings(LeftOutHosts: ["www.Videos.example"]).Compared(lists, urls);
        Assert.Equal([0, 0, 2], Enumerable.Range(0, 3).Select(k => compared.Urls(k).Length));
        Assert.NotNull(new ClusterSettings(LeftOutHosts: ["no host"]).Fault());
        Assert.NotNull(new ClusterSettings(Smallest: 0).Fault());
        Assert.Null(new ClusterSettings(LeftOutHosts: ["videos.example"]).Fault());
    }

    [Fact]
    public void ACutPartsTheGroupThatComesApartFirst()
    {
        // 0, 1, 2 share five; 3 and 4 share five with each other, and two with the first.
        var lists = Lists.Of([1, 2, 3, 4, 5], [1, 2, 3, 4, 5], [1, 2, 3, 4, 5], [1, 2, 6, 7, 8], [1, 2, 6, 7, 8]);
        var cut = SuggestedCut.Of(new Cluster(0, [0, 1, 2, 3, 4]), lists, 5, 2, LinkingRule.Primary)!;
        Assert.Equal((3, "3 4", "3"), (cut.MinOverlap, string.Join(' ', cut.Apart), string.Join(' ', cut.Heads)));
        Assert.Equal((2.0, 5.0), (cut.OverlapAcross, cut.OverlapApart));
        Assert.Null(SuggestedCut.Of(new Cluster(0, [0, 1, 2]), lists, 5, 2, LinkingRule.Primary));
        // Single keywords that fall off are no cut.
        Assert.Null(SuggestedCut.Of(new Cluster(0, [0, 1, 2]), Lists.Of([1, 2, 3], [1, 4, 5], [1, 6, 7]), 3, 1, LinkingRule.Primary));
    }

    [Fact]
    public void NewKeywordsGoWhereTheGroupingWouldPutThem() => Gen.Select(Projects, Gen.Int[1, 4], Gen.Int[0, 9_999]).Sample((project, min, seed) =>
    {
        // A secondary keyword that is taken out and comes again goes where it was.
        var keywords = Lists.Keywords([.. project.Lists.Select((_, k) => ($"k{k:D2}", (long?)project.Volumes[k]))]);
        var lists = Lists.Of(project.Lists);
        var clusters = Clustering.Of(keywords, lists, new ClusterSettings(10, min)).Clusters;
        var random = new Random(seed);
        var taken = clusters.SelectMany(c => c.Members.Where(m => m != c.Primary && random.Next(2) == 0)).ToList();
        var left = clusters.Select(c => c with { Members = [.. c.Members.Except(taken)] }).ToList();
        return NewKeywords.Of(taken, left, _ => true, lists, min).All(n => clusters[n.Cluster].Members.Contains(n.Keyword) && n.Overlap >= min)
            && NewKeywords.Of(taken, left, _ => false, lists, min).All(n => n.Cluster < 0);
    });

    [Fact]
    public void AdviceNamesTheClusterThatMixesIntents()
    {
        var keywords = Enumerable.Range(0, 9).Select(k => new Core.Keywords.Keyword($"kayak {k}", $"kayak {k}", 90 - k, null, null,
            (Core.Keywords.Intent)(k / 3))).ToArray();
        var mixed = new Clustering([new Cluster(0, [.. Enumerable.Range(0, 9)])], []);
        Assert.Equal(["At 3, 'kayak 0' would take in 9 keywords with three different intents. Look whether one page can serve them."], GroupingAdvice.For(mixed, keywords, 3));
        var alone = new Clustering([.. Enumerable.Range(0, 9).Select(k => new Cluster(k, [k]))], []);
        Assert.Equal(["At 8, 100 % of the keywords stand alone. A lower minimum gathers more of them."], GroupingAdvice.For(alone, keywords, 8));
        var good = new Clustering([new Cluster(0, [0, 1, 2]), new Cluster(3, [3, 4, 5, 6, 7]), new Cluster(8, [8])], []);
        Assert.Equal(["At 4, no cluster is mixed or very large: the largest, 'kayak 3', has 5 keywords, and 11 % stand alone."], GroupingAdvice.For(good, keywords, 4));
        Assert.Single(GroupingAdvice.For(new Clustering([], []), keywords, 4));
    }

    [Fact]
    public void AVeryLargeClusterIsWarnedOf()
    {
        var keywords = Lists.Keywords([.. Enumerable.Range(0, 30).Select(k => ($"k{k:D2}", (long?)k))]);
        Assert.StartsWith("At 1, 'k00' would take in 30 keywords, 100 % of all", GroupingAdvice.For(new Clustering([new Cluster(0, [.. Enumerable.Range(0, 30)])], []), keywords, 1)[0], StringComparison.Ordinal);
    }

    [Fact]
    public void AComparisonListsWhatMovedSplitAndMerged()
    {
        var comparison = ClusteringComparison.Of([0, 0, 0, 1, 1, 2, -1], [0, 0, 1, 1, 1, 1, 0]);
        Assert.Equal([0, 1], comparison.Matches.ToArray());
        Assert.Equal([2, 5], comparison.Moved.ToArray());
        Assert.Equal((0, "0:2 1:1"), Assert.Single(comparison.Splits.Select(Said)));
        Assert.Equal((1, "1:2 0:1 2:1"), Assert.Single(comparison.Merges.Select(Said)));

        static (int, string) Said(ClusterParts parts) => (parts.Cluster, string.Join(' ', parts.Parts.Select(p => $"{p.Cluster}:{p.Count}")));
    }

    [Fact]
    public void TheAdjustedRandIndexOfTheLibrarysOwnExample() =>   // scikit-learn, documentation of adjusted_rand_score
        Assert.Equal(0.57142857, ClusteringComparison.Of([0, 0, 1, 2], [0, 0, 1, 1]).AdjustedRandIndex, 8);

    [Fact]
    public void TheGridHasSharedUrlsFirstWithTheirPositions()
    {
        var grid = ResultGrid.Of([1, 0], Lists.Of([7, 8, 9], [9, 7]));
        Assert.Equal([7, 9, 8], grid.Rows.Select(r => r.Url));
        Assert.Equal([2, 1], grid.Rows[0].Positions.ToArray());
        Assert.Equal([0, 2], grid.Rows[2].Positions.ToArray());
    }

    [Fact]
    public void ANewClusterInheritsFromTheOldOneItHasMostWeightInCommonWith()
    {
        var keywords = Lists.Keywords(("a", 100), ("b", 10), ("c", 10), ("d", 5));
        // Old: {a, b} and {c, d}. New: {b, c, d}, {a}.
        var inherited = ClusterIdentity.Inherited([0, 0, 1, 1], 2, [new Cluster(1, [1, 2, 3]), new Cluster(0, [0])], keywords);
        Assert.Equal([1, 0], inherited);
    }

    [Theory]
    [InlineData(0, 1)]
    [InlineData(101, 4)]
    [InlineData(10, 0)]
    [InlineData(3, 4)]
    public void SettingsOutOfRangeSayWhatIsWrong(int depth, int min) => Assert.NotNull(new ClusterSettings(depth, min).Fault());
}
