using CsCheck;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Findings;

/// <summary>URLs 0 to 4 are the pages 0 to 4 of the site; the others are rivals'.</summary>
public class SiteFindingsTests
{
    private static readonly MappedPage Missing = new(null, false, false);
    private static readonly MappedPage Planned = new(null, true, true);

    [Fact]
    public void TwoPagesInOneListAreRivals()
    {
        var finding = Assert.Single(Find([[0, 10, 1]], [At(0)], "dry suit"));
        Assert.Equal((FindingKind.RivalsInResults, 0, 1), (finding.Kind, finding.Page, finding.OtherPage));
        Assert.Equal(1000 * 0.11, finding.AtStake, 9);
        Assert.Equal(new FindingFact(0, 1, 3, 110), finding.Facts[0]);
    }

    [Fact]
    public void ASupportingPageAtItsOwnSearchesIsNoRival()
    {
        // Page 1 is best for the second cluster, and behind page 0 in the first.
        Assert.Empty(Find([[0, 10, 1], [1, 11, 12]], [At(0), At(1)], "dry suit", "wash a dry suit"));
    }

    [Fact]
    public void ASupportingPageAheadOfThePageOfTheClusterIsARival()
    {
        var kinds = Find([[1, 10, 0], [1, 11, 12]], [At(0), At(1)], "dry suit", "wash a dry suit").Select(f => f.Kind);
        Assert.Equal([FindingKind.RivalsInResults, FindingKind.WrongPageRanks], kinds);
    }

    [Fact]
    public void BrandQueriesRaiseNothing() => Assert.Empty(Find([[0, 1, 2]], [Missing], "fenwater shop"));

    [Fact]
    public void APageFarDownIsNoRival()
    {
        var list = Enumerable.Range(10, 33).Prepend(0).Append(1).ToArray();
        Assert.Empty(Find([list], [At(0)], "dry suit"));
    }

    [Fact]
    public void ThePageThatRanksIsNotTheOneAssigned()
    {
        var finding = Assert.Single(Find([[10, 1, 11]], [At(0)], "dry suit"));
        Assert.Equal((FindingKind.WrongPageRanks, 0, 1), (finding.Kind, finding.Page, finding.OtherPage));
        Assert.Equal(150, finding.AtStake, 9);
    }

    [Fact]
    public void ClustersWithTheSameResultsShareTheirTarget()
    {
        var finding = Assert.Single(
            Find([[0, 10, 11, 12, 13], [1, 10, 11, 12, 13]], [At(0), At(1)], "surf", "surf landing"), f => f.Kind == FindingKind.SharedTarget);
        Assert.Equal((0, 1), (finding.Cluster, finding.OtherCluster));
    }

    [Fact]
    public void FewerSharedResultsThanTheMinimumShareNoTarget() =>
        Assert.Empty(Find([[0, 10, 11, 12, 20], [1, 10, 11, 12, 30]], [At(0), At(1)], "surf", "surf landing"));

    [Fact]
    public void AClusterWithDemandAndNoPageIsUncovered()
    {
        var kinds = Find([[10, 11]], [Missing], "how to roll").Select(f => f.Kind);
        Assert.Equal([FindingKind.NoPage, FindingKind.Absent], kinds);
    }

    [Fact]
    public void APlannedPageCoversAndIsAbsentStill() =>
        Assert.Equal(FindingKind.Absent, Assert.Single(Find([[10, 11]], [Planned], "how to roll")).Kind);

    [Fact]
    public void WithoutDemandNoPageIsMissed()
    {
        var site = Site([[10, 11]], [Missing], "d ring") with { Keywords = Lists.Keywords(("d ring", 0)) };
        Assert.DoesNotContain(SiteFindings.In(site), f => f.Kind == FindingKind.NoPage);
    }

    [Fact]
    public void GainFallsWithDifficulty()
    {
        Assert.Equal(1000 * 0.11 * 0.6, ExpectedGain.Of(new Keyword("a", "a", 1000, 40), 0, ClickCurve.Default), 9);
        Assert.Equal(0, ExpectedGain.Of(new Keyword("a", "a", 1000), 1, ClickCurve.Default));
        Assert.Equal(0, ExpectedGain.Of(new Keyword("a", "a"), 0, ClickCurve.Default));
    }

    [Fact]
    public void RivalsKeepTheirKeyWhenTheyChangePlaces()
    {
        Assert.Equal(FindingKey.Of(FindingKind.RivalsInResults, new ClusterId(5), new PageId(2), new PageId(9)), FindingKey.Of(FindingKind.RivalsInResults, new ClusterId(5), new PageId(9), new PageId(2)));
        Assert.NotEqual(FindingKey.Of(FindingKind.WrongPageRanks, new ClusterId(5), new PageId(2), new PageId(9)), FindingKey.Of(FindingKind.WrongPageRanks, new ClusterId(5), new PageId(9), new PageId(2)));
        Assert.Equal("no-page:5", FindingKey.Of(FindingKind.NoPage, new ClusterId(5), null, null));
    }

    [Theory]
    [InlineData(FindingState.Open, true, false, false, FindingState.Open)]
    [InlineData(FindingState.Accepted, true, false, true, FindingState.Accepted)]
    [InlineData(FindingState.Accepted, true, true, false, FindingState.Open)]
    [InlineData(FindingState.Dismissed, true, true, true, FindingState.Dismissed)]
    [InlineData(FindingState.Open, false, true, false, FindingState.Resolved)]
    [InlineData(FindingState.Resolved, true, false, false, FindingState.Resolved)]
    [InlineData(FindingState.Resolved, true, true, false, FindingState.Open)]
    [InlineData(FindingState.Resolved, true, false, true, FindingState.Open)]
    public void StatesFollowFromDecisionAndCause(FindingState decided, bool present, bool wentAway, bool newerData, FindingState expected) =>
        Assert.Equal(expected, FindingStates.After(decided, present, wentAway, newerData));

    [Fact]
    public void EveryKindHasACodeOfItsOwn() =>
        Assert.Equal(Enum.GetValues<FindingKind>().Length, Enum.GetValues<FindingKind>().Select(k => k.Code()).Distinct().Count());

    [Fact]
    public void ImpressionsBetweenTwoPagesAreSplitTraffic()
    {
        var site = Site([[10, 11]], [At(0)], "dry suit") with { Performance = Performance((0, 0, 30, 60, 4), (0, 1, 12, 40, 6)) };
        var finding = Assert.Single(SiteFindings.In(site), f => f.Kind == FindingKind.SplitTraffic);
        Assert.Equal((0, 1), (finding.Page, finding.OtherPage));
        Assert.Equal(12 * 365.25 / 12 / 90, finding.AtStake, 9);
        Assert.Equal((0.4, 1 / ((0.6 * 0.6) + (0.4 * 0.4))), (finding.Facts[0].Share, Math.Round(finding.Facts[0].Count, 12)), new Near());
    }

    [Theory]
    [InlineData(90, 10, 6)]    // 1/(0.81+0.01) = 1.2 pages: hardly split
    [InlineData(60, 40, 60)]   // far down: nobody sees it there
    [InlineData(6, 4, 6)]      // ten impressions tell nothing
    public void TrafficThatIsHardlySplitIsNone(long mine, long its, double position)
    {
        var site = Site([[10, 11]], [At(0)], "dry suit") with { Performance = Performance((0, 0, 1, mine, 4), (0, 1, 1, its, position)) };
        Assert.DoesNotContain(SiteFindings.In(site), f => f.Kind == FindingKind.SplitTraffic);
    }

    [Fact]
    public void BrandQueriesAndPagesAtHomeElsewhereSplitNothing()
    {
        var brand = Site([[10, 11]], [At(0)], "fenwater shop") with { Performance = Performance((0, 0, 30, 60, 4), (0, 1, 12, 40, 6)) };
        Assert.Empty(SiteFindings.In(brand));
        var support = Site([[10, 11], [1, 12]], [At(0), At(1)], "dry suit", "wash a dry suit") with { Performance = Performance((0, 0, 30, 60, 4), (0, 1, 12, 40, 6), (1, 1, 30, 50, 2)) };
        Assert.DoesNotContain(SiteFindings.In(support), f => f.Kind == FindingKind.SplitTraffic);
    }

    // Herfindahl index by its definition: n equal shares make n pages, one share of all makes one.
    [Theory]
    [InlineData(new long[] { 5, 5, 5, 5 }, 4)]
    [InlineData(new long[] { 7, 0, 0 }, 1)]
    [InlineData(new long[] { 80, 10, 10 }, 1 / (0.64 + 0.01 + 0.01))]
    public void EffectivePagesAreOneOverHerfindahl(long[] impressions, double pages) => Assert.Equal(pages, SplitTraffic.EffectivePages(impressions), 9);

    [Theory]
    [InlineData("0 1 0", 1, true)]
    [InlineData("0 1", 0, false)]          // one change is a replacement
    [InlineData("0 0 1 1", 0, false)]
    [InlineData("0 1 1 0 0 1", 3, true)]
    [InlineData("0 0 0", 0, false)]
    public void BestPagesThatAlternateBetweenCapturesSwap(string bests, int changes, bool swaps)
    {
        var day = new DateOnly(2026, 1, 1);
        var site = Site([[0, 11]], [At(0)], "dry suit") with
        {
            Captures = new Dictionary<int, System.Collections.Immutable.ImmutableArray<BestPage>> { [0] = [.. bests.Split(' ').Select((b, i) => new BestPage(day.AddDays(30 * i), int.Parse(b, System.Globalization.CultureInfo.InvariantCulture)))] },
        };
        var found = SiteFindings.In(site).Where(f => f.Kind == FindingKind.PageSwap).ToList();
        Assert.Equal(swaps, found.Count == 1);
        if (swaps)
            Assert.Equal((0, 1, Math.Max(2, changes)), (found[0].Page, found[0].OtherPage, (int)found[0].Facts[0].Count));
    }

    [Fact]
    public void WeeksInWhichChanceMightTellAreLeftOut()
    {
        var monday = new DateOnly(2026, 6, 1);
        var weeks = BestPages.ByWeek(
        [
            (monday, 0, 5, 3), (monday.AddDays(6), 1, 5, 4),           // page 0 by a position
            (monday.AddDays(7), 0, 5, 3.2), (monday.AddDays(8), 1, 9, 3),   // too near
            (monday.AddDays(14), 1, 2, 2), (monday.AddDays(15), 0, 9, 5),   // the best has too few impressions
            (monday.AddDays(21), 1, 3, 7),
        ]);
        Assert.Equal([new BestPage(monday, 0), new BestPage(monday.AddDays(21), 1)], weeks.ToArray());
    }

    [Fact]
    public void APageWithClustersThatShareNothingHasAMixedTarget()
    {
        var finding = Assert.Single(Find([[0, 10, 11], [20, 21, 22]], [At(0), At(0)], "dry suit", "kayak insurance"), f => f.Kind == FindingKind.MixedTarget);
        Assert.Equal((0, 1, 0), (finding.Cluster, finding.OtherCluster, finding.Page));
        Assert.DoesNotContain(Find([[0, 10, 11], [20, 11, 22]], [At(0), At(0)], "dry suit", "kayak insurance"), f => f.Kind == FindingKind.MixedTarget);
        // The first and the third share nothing, but both share with the second.
        Assert.DoesNotContain(Find([[0, 10, 11], [11, 20, 21], [21, 30, 31]], [At(0), At(0), At(0)], "a", "b", "c"), f => f.Kind == FindingKind.MixedTarget);
    }

    [Fact]
    public void TitlesThatAreNearlyTheSameAreTwins()
    {
        var pages = new[] { "Dry suits for the cold sea | Fenwater", "Dry suit for cold seas | Fenwater", "Dry suits | Fenwater", "Spray decks | Fenwater" }
            .Select((title, i) => new SitePage($"https://f.example/{i}", title)).ToArray();
        var finding = Assert.Single(SiteFindings.In(With(pages)), f => f.Kind == FindingKind.TwinTitles);
        Assert.Equal((0, 1, 1.0), (finding.Page, finding.OtherPage, finding.Facts[0].Share));
        Assert.Empty(SiteFindings.In(With([.. pages.Select(p => p with { IsListed = false })])));
    }

    // Jaccard's index by its definition; the filtered search against comparing all pairs.
    [Fact]
    public void TwinsAreFoundExactly() => Gen.Int[0, 9].Array[0, 7].Select(s => s.Distinct().Order().ToArray()).Array[0, 30].Sample(sets =>
    {
        var all = from b in Enumerable.Range(0, sets.Length)
                  from a in Enumerable.Range(0, b)
                  let both = sets[a].Intersect(sets[b]).Count()
                  let either = sets[a].Union(sets[b]).Count()
                  where either > 0 && (double)both / either >= TwinTitles.Alike
                  select (a, b, (double)both / either);
        return TwinTitles.Pairs(sets, 10).Order().SequenceEqual(all.Order());
    });

    [Fact]
    public void KeywordsThatAPageNeverMentionsAreMissingOnIt()
    {
        var site = Read(["kayak roof rack", "kayak roof rack for two boats", "kayak roof rack uk"], "roof rack kayak boat fit two", [At(0), At(0), At(0)]);
        var finding = Assert.Single(SiteFindings.In(site), f => f.Kind == FindingKind.MissingOnPage);
        Assert.Equal(2, finding.Keyword);
        Assert.DoesNotContain(SiteFindings.In(Read(["kayak roof rack uk"], null, [At(0)])), f => f.Kind == FindingKind.MissingOnPage);
    }

    [Theory]
    [InlineData("how to fit a kayak roof rack", "fit roof rack kayak", false)]
    [InlineData("how to fit a kayak roof rack", "roof rack kayak", true)]
    [InlineData("kayak roof rack bolts", "roof rack kayak", false)]                         // no question
    [InlineData("how to fit a kayak roof rack", null, false)]                               // nobody knows
    public void AQuestionThatNoPageAnswersIsOpen(string keyword, string? text, bool isOpen) =>
        Assert.Equal(isOpen, SiteFindings.In(Read([keyword], text, [At(0)])).Any(f => f.Kind == FindingKind.OpenQuestion));

    [Fact]
    public void WordsFarApartAnswerNothing()
    {
        var far = "fit " + string.Join(' ', Enumerable.Repeat("sea", SiteText.Passage)) + " roof rack kayak";
        Assert.Contains(SiteFindings.In(Read(["how to fit a kayak roof rack"], far, [At(0)])), f => f.Kind == FindingKind.OpenQuestion);
    }

    [Fact]
    public void EachMissingDirectionBetweenPillarAndSupportIsTold()
    {
        SiteFacts Linked(params int[][] links) => With([new("https://f.example/a"), new("https://f.example/b")]) with { PillarOf = [-1, 0], Links = new SiteLinks(links) };
        Assert.Equal([(1, 0), (0, 1)], SiteFindings.In(Linked([], [])).Where(f => f.Kind == FindingKind.UnlinkedSupport).Select(f => (f.Page!.Value, f.OtherPage!.Value)).OrderByDescending(f => f));
        Assert.Equal((0, 1), Assert.Single(SiteFindings.In(Linked([], [0])).Where(f => f.Kind == FindingKind.UnlinkedSupport).Select(f => (f.Page!.Value, f.OtherPage!.Value))));
        Assert.Empty(SiteFindings.In(Linked([1], [0])).Where(f => f.Kind == FindingKind.UnlinkedSupport));
        Assert.Empty(SiteFindings.In(Linked([], []) with { Links = SiteLinks.Unknown }).Where(f => f.Kind == FindingKind.UnlinkedSupport));
    }

    [Fact]
    public void PagesWithoutLinksOrTargetAreTold()
    {
        SitePage[] pages = [new("https://f.example/", LinksIn: 0), new("https://f.example/a", LinksIn: 0), new("https://f.example/b", LinksIn: 3), new("https://f.example/c", IsListed: false, LinksIn: 0), new("https://f.example/d")];
        var site = With(pages) with { Map = [Missing, Missing], Performance = Performance((0, 4, 1, 5, 3)) };
        Assert.Equal([1], SiteFindings.In(site).Where(f => f.Kind == FindingKind.Orphan).Select(f => f.Page!.Value));
        Assert.Equal([1, 2], SiteFindings.In(site).Where(f => f.Kind == FindingKind.Targetless).Select(f => f.Page!.Value));
        Assert.DoesNotContain(SiteFindings.In(site with { Performance = SearchPerformance.None }), f => f.Kind == FindingKind.Targetless);
    }

    [Fact]
    public void ADeliberatePairRaisesNothing() => Assert.Empty(SiteFindings.In(Site([[0, 10, 1]], [At(0)], "dry suit") with { DeliberatePairs = new HashSet<(int, int)> { (0, 1) } }));

    [Fact]
    public void ADeclinedClusterIsNoHole() => Assert.Empty(Find([[10, 11]], [new MappedPage(null, true, false, IsDeclined: true)], "how to roll"));

    [Fact]
    public void BeforeADecisionThePageThatIsMeantShouldRank()
    {
        var finding = Assert.Single(Find([[10, 1, 11]], [new MappedPage(1, false, false, Meant: 0)], "dry suit"));
        Assert.Equal((FindingKind.WrongPageRanks, 0, 1), (finding.Kind, finding.Page, finding.OtherPage));
    }

    [Fact]
    public void EveryFindingHasAKeyOfItsOwn() => Sites.Sample(site =>
    {
        static ClusterId? Cluster(int? index) => index is { } c ? new ClusterId(c) : null;
        static PageId? Page(int? index) => index is { } p ? new PageId(p) : null;
        var keys = SiteFindings.In(site).Select(f => FindingKey.Of(f.Kind, Cluster(f.Cluster), Page(f.Page), Page(f.OtherPage), Cluster(f.OtherCluster))).ToList();
        Assert.Equal(keys.Distinct(), keys);
    });

    [Fact]
    public void WhatIsAtStakeIsWhatTheFactsSayMostFirst() => Sites.Sample(site => Assert.All(SiteFindings.In(site), f =>
    {
        Assert.True(f.AtStake >= 0 && double.IsFinite(f.AtStake));
        Assert.Equal(f.Facts.OrderByDescending(fact => fact.AtStake).Select(fact => fact.AtStake), f.Facts.Select(fact => fact.AtStake));
        Assert.DoesNotContain(f.Facts, fact => fact.Keyword is { } k && site.Keywords[k].NormalForm.Contains("fenwater", StringComparison.Ordinal));
    }));

    [Fact]
    public void DeclaringAPairDeliberateSilencesItsConflictsAndNothingElse() => Sites.Sample(site =>
    {
        var before = SiteFindings.In(site);
        if (before.FirstOrDefault(f => f.Kind.IsCannibalization() && f is { Page: not null, OtherPage: not null }) is not { } conflict)
            return;
        var pair = (Math.Min(conflict.Page!.Value, conflict.OtherPage!.Value), Math.Max(conflict.Page.Value, conflict.OtherPage.Value));
        var after = SiteFindings.In(site with { DeliberatePairs = new HashSet<(int, int)> { pair } });
        bool IsOfPair(Finding f) => f.Kind.IsCannibalization() && f is { Page: { } a, OtherPage: { } b } && (Math.Min(a, b), Math.Max(a, b)) == pair;
        Assert.Equal(before.Where(f => !IsOfPair(f)).Select(Says), after.Select(Says));
    });

    [Fact]
    public void TheOrderOfClustersDoesNotMatter() => Gen.Select(InAnyOrder, Gen.Int[0, 9_999]).Sample((made, seed) =>
    {
        int[] order = [.. Enumerable.Range(0, 6)];
        var straight = Told(made(order));
        new Random(seed).Shuffle(order);
        Assert.Equal(straight, Told(made(order)));

        static List<string> Told(SiteFacts site) =>
        [
            .. SiteFindings.In(site)
                .Select(f => $"{f.Kind} {(f.Cluster is { } c ? site.Clusters[c].Primary : -1)} {f.Page} {f.OtherPage} {f.Keyword} {f.AtStake:0.000000}")
                .Order(StringComparer.Ordinal),
        ];
    });

    /// <summary>Any lists of six keywords, of which one is a query for the brand, with any pages and any search performance; made for an order of the clusters.</summary>
    private static readonly Gen<Func<int[], SiteFacts>> InAnyOrder = Gen.Select(
        Gen.Int[0, 14].Array[0, 6].Select(l => l.Distinct().ToArray()).Array[6],
        Gen.Int[-2, 4].Array[6],
        Gen.Select(Gen.Int[0, 5], Gen.Int[0, 4], Gen.Int[0, 20], Gen.Int[1, 80], Gen.Int[1, 30]).Array[0, 12],
        Gen.Bool.Array[6]).Select((lists, map, performance, decided) => (Func<int[], SiteFacts>)(order =>
        {
            var pages = map.Select((p, c) => p == -2 ? Planned : p < 0 ? Missing : At(p) with { IsDecided = decided[c] }).ToArray();
            var site = Site(lists, pages, "a", "b", "how to c", "fenwater d", "e", "f");
            return site with
            {
                Clusters = [.. order.Select(c => site.Clusters[c])],
                Map = [.. order.Select(c => pages[c])],
                Performance = Performance([.. performance.Select(r => (r.Item1, r.Item2, (long)Math.Min(r.Item3, r.Item4), (long)r.Item4, (double)r.Item5)).DistinctBy(r => (r.Item1, r.Item2))]),
            };
        }));

    private static readonly Gen<SiteFacts> Sites = InAnyOrder.Select(made => made([0, 1, 2, 3, 4, 5]));

    private static string Says(Finding f) => $"{f.Kind} {f.Cluster} {f.OtherCluster} {f.Page} {f.OtherPage} {f.Keyword} {f.AtStake:0.000000} {string.Join('|', f.Facts)}";

    /// <summary>Compares numbers to nine digits.</summary>
    private sealed class Near : IEqualityComparer<(double, double)>
    {
        public bool Equals((double, double) x, (double, double) y) => Math.Abs(x.Item1 - y.Item1) < 1e-9 && Math.Abs(x.Item2 - y.Item2) < 1e-9;

        public int GetHashCode((double, double) obj) => 0;
    }

    private static SearchPerformance Performance(params (int Keyword, int Page, long Clicks, long Impressions, double Position)[] rows)
    {
        var builder = new SearchPerformance.Builder();
        foreach (var (keyword, page, clicks, impressions, position) in rows)
            builder.Add(keyword, new PageFigures(page, clicks, impressions, position));
        return builder.Build(10, 5, 90);
    }

    /// <summary>A site of one page whose text is given as stems, with all keywords in one cluster.</summary>
    private static SiteFacts Read(string[] keywords, string? stems, MappedPage[] map)
    {
        using var analysis = new TextAnalysis("en");
        SitePage[] pages = [new("https://f.example/page")];
        var site = Site([.. keywords.Select(_ => new[] { 10, 11 })], map, keywords) with { Pages = pages };
        return site with { Clusters = [new Cluster(0, [.. Enumerable.Range(0, keywords.Length)])], Map = [map[0]], Text = new SiteText(pages, [stems], site.Keywords, analysis, "en") };
    }

    /// <summary>Two clusters, each with its page, on a site of these pages.</summary>
    private static SiteFacts With(SitePage[] pages)
    {
        using var analysis = new TextAnalysis("en");
        return Site([[0, 10], [1, 20]], [At(0), At(1)], "dry suit", "wash") with { Pages = pages, Titles = PageTitles.Of(pages, new BrandTerms(["fenwater"]), analysis) };
    }

    private static MappedPage At(int page) => new(page, true, false);

    private static IReadOnlyList<Finding> Find(int[][] lists, MappedPage[] map, params string[] keywords) => SiteFindings.In(Site(lists, map, keywords));

    private static SiteFacts Site(int[][] lists, MappedPage[] map, params string[] keywords)
    {
        var all = Lists.Of(lists);
        return new SiteFacts(
            Lists.Keywords([.. keywords.Select((k, i) => (k, (long?)(1000 - (i * 100))))]),
            all,
            [.. keywords.Select((_, k) => new Cluster(k, [k]))],
            map,
            [.. Enumerable.Range(0, all.UrlCount).Select(u => u < 5 ? u : -1)],
            [.. Enumerable.Range(0, all.UrlCount).Select(u => $"{u:D3}")],
            new ClusterSettings(),
            new BrandTerms(["fenwater"]));
    }
}
