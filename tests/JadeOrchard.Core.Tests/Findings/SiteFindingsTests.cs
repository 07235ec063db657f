using System.Collections.Immutable;
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
    internal static readonly MappedPage Missing = new(null, false, false);
    private static readonly MappedPage Planned = new(null, true, true);

    [Fact]
    public void TwoPagesInOneListAreRivals()
    {
        var finding = Assert.Single(Find([[0, 10, 1]], [At(0)], "dry suit"));
        Assert.Equal((SignKind.RivalsInResults, 0, 1), (finding.Kind, finding.Page, finding.OtherPage));
        Assert.Equal(1000 * 0.11, finding.AtStake, 9);
        Assert.Equal(new SignFact(0, 1, 3, 110), finding.Facts[0]);
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
        Assert.Equal([SignKind.RivalsInResults, SignKind.WrongPageRanks], kinds);
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
        Assert.Equal((SignKind.WrongPageRanks, 0, 1), (finding.Kind, finding.Page, finding.OtherPage));
        Assert.Equal(150, finding.AtStake, 9);
    }

    [Fact]
    public void ClustersWithTheSameResultsShareTheirTarget()
    {
        var finding = Assert.Single(
            Find([[0, 10, 11, 12, 13], [1, 10, 11, 12, 13]], [At(0), At(1)], "surf", "surf landing"), f => f.Kind == SignKind.SharedTarget);
        Assert.Equal((0, 1), (finding.Cluster, finding.OtherCluster));
    }

    [Fact]
    public void FewerSharedResultsThanTheMinimumShareNoTarget() =>
        Assert.Empty(Find([[0, 10, 11, 12, 20], [1, 10, 11, 12, 30]], [At(0), At(1)], "surf", "surf landing"));

    [Fact]
    public void AClusterWithDemandAndNoPageIsUncovered()
    {
        var kinds = Find([[10, 11]], [Missing], "how to roll").Select(f => f.Kind);
        Assert.Equal([SignKind.NoPage, SignKind.Absent], kinds);
    }

    [Fact]
    public void WhatIsUncoveredWaitsForAPlannedPage()
    {
        Assert.True(Assert.Single(SiteFindings.In(Site([[10, 11]], [Planned], "how to roll"))) is { Kind: FindingKind.Uncovered, IsPlanned: true });
        Assert.True(Assert.Single(SiteFindings.In(Site([[10, 11]], [Missing], "how to roll"))) is { Kind: FindingKind.Uncovered, IsPlanned: false });
    }

    [Fact]
    public void ASuggestedPageRaisesNothingAboutIt()
    {
        Assert.Empty(Find([[10, 1, 11]], [Suggested(0)], "dry suit"));
        Assert.Empty(Find([[10, 11]], [Suggested(0)], "dry suit"));
        Assert.Empty(SignsIn(Read(["how to fit a kayak roof rack uk"], "roof rack kayak", [Suggested(0)])));
        Assert.DoesNotContain(Find([[0, 10, 11, 12, 13], [1, 10, 11, 12, 13]], [At(0), Suggested(1)], "surf", "surf landing"), f => f.Kind == SignKind.SharedTarget);
    }

    [Fact]
    public void WithoutDemandNoPageIsMissed()
    {
        var site = Site([[10, 11]], [Missing], "d ring") with { Keywords = Lists.Keywords(("d ring", 0)) };
        Assert.DoesNotContain(SignsIn(site), f => f.Kind == SignKind.NoPage);
    }

    [Fact]
    public void GainFallsWithDifficulty()
    {
        Assert.Equal(1000 * 0.11 * 0.6, ExpectedGain.Of(new Keyword("a", "a", 1000, 40), 0, ClickCurve.Default), 9);
        Assert.Equal(0, ExpectedGain.Of(new Keyword("a", "a", 1000), 1, ClickCurve.Default));
        Assert.Equal(0, ExpectedGain.Of(new Keyword("a", "a"), 0, ClickCurve.Default));
    }

    [Fact]
    public void TheSamePagesAreOneConflictInWhateverOrder()
    {
        string Conflict(params long[] pages) => FindingKey.Of(FindingKind.Conflict, new ClusterId(5), pages.Select(p => new PageId(p)), null);
        Assert.Equal("conflict:2:9:10", Conflict(10, 2, 9));
        Assert.Equal(Conflict(2, 9), Conflict(9, 2));
        Assert.Equal("uncovered:5", FindingKey.Of(FindingKind.Uncovered, new ClusterId(5), [], null));
        Assert.Equal("idle-pages:%2Fblog%2F", FindingKey.Of(FindingKind.IdlePages, null, [new PageId(1)], "/blog/"));
    }

    [Theory]
    [InlineData(FindingState.Open, true, false, false, false, FindingState.Open)]
    [InlineData(FindingState.Accepted, true, false, true, false, FindingState.Accepted)]
    [InlineData(FindingState.Accepted, true, true, false, false, FindingState.Open)]
    [InlineData(FindingState.Dismissed, true, true, true, false, FindingState.Dismissed)]
    [InlineData(FindingState.Open, false, true, false, false, FindingState.Resolved)]
    [InlineData(FindingState.Resolved, true, false, false, false, FindingState.Resolved)]
    [InlineData(FindingState.Resolved, true, true, false, false, FindingState.Open)]
    [InlineData(FindingState.Resolved, true, false, true, false, FindingState.Open)]
    [InlineData(FindingState.Open, true, false, false, true, FindingState.Waiting)]
    [InlineData(FindingState.Accepted, true, false, true, true, FindingState.Waiting)]
    [InlineData(FindingState.Dismissed, true, false, false, true, FindingState.Dismissed)]
    [InlineData(FindingState.Open, false, true, false, true, FindingState.Resolved)]
    public void StatesFollowFromDecisionAndCause(FindingState decided, bool present, bool wentAway, bool newerData, bool isPlanned, FindingState expected) =>
        Assert.Equal(expected, FindingStates.After(decided, present, wentAway, newerData, isPlanned));

    [Fact]
    public void EveryKindHasACodeOfItsOwn() =>
        Assert.Equal(Enum.GetValues<SignKind>().Length, Enum.GetValues<SignKind>().Select(k => k.Code()).Distinct().Count());

    [Theory]
    [InlineData("0 1", false)]                            // one change is a replacement
    [InlineData("0 0 0 0 0 0 1 1 1 1 1 1", false)]
    [InlineData("0 1 0", false)]                          // one order in three has as many changes
    [InlineData("0 1 1 0 0 1 0 0 1 1 0 1", false)]        // as a coin would fall
    [InlineData("0 1 0 1 0 1 0 1 0 1 0 1", true)]
    [InlineData("0 0 0", false)]
    public void BestPagesThatAlternateMoreThanChanceSwap(string bests, bool swaps)
    {
        var day = new DateOnly(2026, 1, 1);
        var site = Site([[0, 11]], [At(0)], "dry suit") with
        {
            Captures = new Dictionary<int, System.Collections.Immutable.ImmutableArray<BestPage>> { [0] = [.. bests.Split(' ').Select((b, i) => new BestPage(day.AddDays(30 * i), int.Parse(b, System.Globalization.CultureInfo.InvariantCulture)))] },
        };
        var found = SignsIn(site).Where(f => f.Kind == SignKind.PageSwap).ToList();
        Assert.Equal(swaps, found.Count == 1);
        if (swaps)
            Assert.Equal((0, 1, 11), (found[0].Page, found[0].OtherPage, (int)found[0].Facts[0].Count));
    }

    /// <summary>Two pages at equal positions, of which now the one and now the other is ahead, alone or for several keywords at once.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(6)]
    public void PagesAtEqualPositionsSwapByChanceInOneDrawOfAHundredAtMost(int keywords)
    {
        var random = new Random(7);
        var raised = 0;
        const int draws = 2_000;
        for (var draw = 0; draw < draws; draw++)
        {
            var series = Enumerable.Range(0, keywords).Select(_ => Enumerable.Range(0, 13).Select(week => new BestPage(new DateOnly(2026, 1, 5).AddDays(7 * week), random.Next(2))).ToImmutableArray());
            raised += PageSwap.IsMoreThanChance([.. series], 0, 1) ? 1 : 0;
        }

        // Three standard errors of 1 % in 2,000 draws.
        Assert.InRange(raised, 0, (0.01 * draws) + (3 * Math.Sqrt(draws * 0.01 * 0.99)));
    }

    /// <summary>As scipy.stats.permutation_test has it, where that is not so near one in a hundred that the orders which were drawn decide.</summary>
    [Fact]
    public void WhatIsMoreThanChanceIsWhatAPermutationTestSays()
    {
        var decided = 0;
        foreach (var line in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", "swaps.txt")).Select(l => l.Split(';')))
        {
            var p = double.Parse(line[1], System.Globalization.CultureInfo.InvariantCulture);
            if (p is > 0.006 and < 0.016)
                continue;
            decided++;
            var series = line[0].Split(' ').Select(s => s.Select((side, day) => new BestPage(new DateOnly(2026, 1, 5).AddDays(day), side - '0')).ToImmutableArray());
            Assert.True(PageSwap.IsMoreThanChance([.. series], 0, 1) == p < 0.01, line[0]);
        }

        Assert.True(decided > 20, $"{decided} series");
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
        var finding = Assert.Single(Find([[0, 10, 11], [20, 21, 22]], [At(0), At(0)], "dry suit", "kayak insurance"), f => f.Kind == SignKind.MixedTarget);
        Assert.Equal((0, 1, 0), (finding.Cluster, finding.OtherCluster, finding.Page));
        Assert.DoesNotContain(Find([[0, 10, 11], [20, 11, 22]], [At(0), At(0)], "dry suit", "kayak insurance"), f => f.Kind == SignKind.MixedTarget);
        // The first and the third share nothing, but both share with the second.
        Assert.DoesNotContain(Find([[0, 10, 11], [11, 20, 21], [21, 30, 31]], [At(0), At(0), At(0)], "a", "b", "c"), f => f.Kind == SignKind.MixedTarget);
    }

    [Fact]
    public void TitlesThatAreNearlyTheSameAreTwins()
    {
        var pages = new[] { "Dry suits for the cold sea | Fenwater", "Dry suit for cold seas | Fenwater", "Dry suits | Fenwater", "Spray decks | Fenwater" }
            .Select((title, i) => new SitePage($"https://f.example/{i}", title)).ToArray();
        var finding = Assert.Single(SignsIn(With(pages)), f => f.Kind == SignKind.TwinTitles);
        Assert.Equal((0, 1, 1.0), (finding.Page, finding.OtherPage, finding.Facts[0].Share));
        Assert.Empty(SignsIn(With([.. pages.Select(p => p with { IsListed = false })])));
    }

    [Fact]
    public void KeywordsThatAPageNeverMentionsAreMissingOnIt()
    {
        var site = Read(["kayak roof rack", "kayak roof rack for two boats", "kayak roof rack bolts", "kayak roof rack near me uk"], "roof rack kayak boat fit two", [At(0), At(0), At(0), At(0)]);
        var finding = Assert.Single(SignsIn(site), f => f.Kind == SignKind.MissingOnPage);
        Assert.Equal(2, finding.Keyword);
        Assert.DoesNotContain(SignsIn(Read(["kayak roof rack bolts"], null, [At(0)])), f => f.Kind == SignKind.MissingOnPage);
    }

    [Theory]
    [InlineData("how to fit a kayak roof rack", "fit roof rack kayak", false)]
    [InlineData("how to fit a kayak roof rack", "roof rack kayak", true)]
    [InlineData("kayak roof rack bolts", "roof rack kayak", false)]                         // no question
    [InlineData("how to fit a kayak roof rack", null, false)]                               // nobody knows
    [InlineData("do i need a licence", "you need licenc on river", false)]                   // an answer in other words
    public void AQuestionThatNoPageAnswersIsOpen(string keyword, string? text, bool isOpen) =>
        Assert.Equal(isOpen, SignsIn(Read([keyword], text, [At(0)])).Any(f => f.Kind == SignKind.OpenQuestion));

    [Fact]
    public void ACompoundMentionsItsPartsAndTheOtherWayRound()
    {
        using var analysis = new TextAnalysis("de");
        SitePage[] pages = [new("https://f.example/a", "Kajakpaddel"), new("https://f.example/b", "Paddel für Kajak"), new("https://f.example/c", "Schwimmweste")];
        var text = new SiteText(pages, ["", "", ""], Lists.Keywords(("kajak paddel", 2), ("kajakpaddel", 1), ("schwimmweste", 1)), analysis, "de");
        Assert.Equal([true, true, false], pages.Select((_, p) => text.Mentions(p, 0)));
        Assert.Equal([true, true, false], pages.Select((_, p) => text.Mentions(p, 1)));
        Assert.Equal([false, false, true], pages.Select((_, p) => text.Mentions(p, 2)));
    }

    [Fact]
    public void WordsFarApartAnswerNothing()
    {
        var far = "fit " + string.Join(' ', Enumerable.Repeat("sea", SiteText.Passage)) + " roof rack kayak";
        Assert.Contains(SignsIn(Read(["how to fit a kayak roof rack"], far, [At(0)])), f => f.Kind == SignKind.OpenQuestion);
    }

    [Fact]
    public void EachMissingDirectionBetweenPillarAndSupportIsTold()
    {
        SiteFacts Linked(params int[][] links) => With([new("https://f.example/a"), new("https://f.example/b")]) with { PillarOf = [-1, 0], Links = new SiteLinks(links) };
        Assert.Equal([(1, 0), (0, 1)], SignsIn(Linked([], [])).Where(f => f.Finding == FindingKind.MissingLinks).Select(f => (f.Page!.Value, f.OtherPage!.Value)).OrderByDescending(f => f));
        Assert.Equal((0, 1), Assert.Single(SignsIn(Linked([], [0])).Where(f => f.Finding == FindingKind.MissingLinks).Select(f => (f.Page!.Value, f.OtherPage!.Value))));
        Assert.DoesNotContain(SignsIn(Linked([1], [0])), f => f.Finding == FindingKind.MissingLinks);
        Assert.DoesNotContain(SignsIn(Linked([], []) with { Links = SiteLinks.Unknown }), f => f.Finding == FindingKind.MissingLinks);
    }

    [Fact]
    public void PagesWithoutLinksOrTargetAreTold()
    {
        SitePage[] pages = [new("https://f.example/", LinksIn: 0), new("https://f.example/a", LinksIn: 0), new("https://f.example/b", LinksIn: 3), new("https://f.example/c", IsListed: false, LinksIn: 0), new("https://f.example/d")];
        var site = With(pages) with { Map = [Missing, Missing], Performance = Performance((0, 4, 1, 5, 3)) };
        Assert.Equal([1], SignsIn(site).Where(f => f.Kind == SignKind.Orphan).Select(f => f.Page!.Value));
        Assert.Equal([1, 2], SignsIn(site).Where(f => f.Kind == SignKind.Targetless).Select(f => f.Page!.Value));
        Assert.DoesNotContain(SignsIn(site with { Performance = SearchPerformance.None }), f => f.Kind == SignKind.Targetless);
    }

    [Fact]
    public void ADeliberatePairRaisesNothing() => Assert.Empty(SignsIn(Site([[0, 10, 1]], [At(0)], "dry suit") with { DeliberatePairs = new HashSet<(int, int)> { (0, 1) } }));

    [Fact]
    public void ADeclinedClusterIsNoHole() => Assert.Empty(Find([[10, 11]], [new MappedPage(null, true, false, IsDeclined: true)], "how to roll"));

    [Fact]
    public void EveryFindingHasAKeyOfItsOwn() => Sites.Sample(site =>
    {
        var keys = SiteFindings.In(site).Select(f => FindingKey.Of(f.Kind, f.Clusters is [var first, ..] ? new ClusterId(first.Cluster) : null, f.Pages.Select(p => new PageId(p)), f.Folder)).ToList();
        Assert.Equal(keys.Distinct(), keys);
    });

    [Fact]
    public void NoClusterIsUncoveredTwiceAndNoPagesAreInConflictTwice() => Sites.Sample(site =>
    {
        var findings = SiteFindings.In(site);
        var uncovered = findings.Where(f => f.Kind == FindingKind.Uncovered).Select(f => Assert.Single(f.Clusters).Cluster).ToList();
        Assert.Equal(uncovered.Distinct(), uncovered);
        var conflicts = findings.Where(f => f.Kind == FindingKind.Conflict).Select(f => f.Pages.ToHashSet()).ToList();
        Assert.All(conflicts, pages => Assert.True(pages.Count >= 2));
        Assert.DoesNotContain(conflicts, a => conflicts.Any(b => !ReferenceEquals(a, b) && a.IsSubsetOf(b)));
    });

    [Fact]
    public void EveryKeywordCountsOnceAndTheStakesOfClustersAddUp() => Sites.Sample(site => Assert.All(SiteFindings.In(site), f =>
    {
        Assert.True(f.AtStake >= 0 && double.IsFinite(f.AtStake));
        Assert.InRange(f.Confidence, 0.5, 1);
        Assert.True(f.AtStake <= f.Signs.Sum(s => s.AtStake) + 1e-9);
        Assert.True(f.AtStake >= f.Signs.GroupBy(s => s.Kind).Max(g => g.Sum(s => s.AtStake)) - 1e-9);
        if (f.Kind is not (FindingKind.Twins or FindingKind.IdlePages))
            Assert.Equal(f.AtStake, f.Clusters.Sum(c => c.AtStake), 9);
        foreach (var sign in f.Signs)
        {
            Assert.Equal(sign.Facts.OrderByDescending(fact => fact.AtStake).Select(fact => fact.AtStake), sign.Facts.Select(fact => fact.AtStake));
            Assert.DoesNotContain(sign.Facts, fact => fact.Keyword is { } k && site.Keywords[k].NormalForm.Contains("fenwater", StringComparison.Ordinal));
        }
    }));

    [Fact]
    public void DeclaringAPairDeliberateSilencesItsSignsAndNothingElse() => Sites.Sample(site =>
    {
        var before = SignsIn(site);
        if (before.FirstOrDefault(s => s is { Finding: FindingKind.Conflict, OtherPage: not null }) is not { } conflict)
            return;
        var pair = (Math.Min(conflict.Page!.Value, conflict.OtherPage!.Value), Math.Max(conflict.Page.Value, conflict.OtherPage.Value));
        var after = SignsIn(site with { DeliberatePairs = new HashSet<(int, int)> { pair } });
        bool IsOfPair(Sign s) => s is { Finding: FindingKind.Conflict, Page: { } a, OtherPage: { } b } && (Math.Min(a, b), Math.Max(a, b)) == pair;
        Assert.Equal(before.Where(s => !IsOfPair(s)).Select(Says).Order(StringComparer.Ordinal), after.Select(Says).Order(StringComparer.Ordinal));
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
                .Select(f => $"{f.Kind} {string.Join(',', f.Clusters.Select(c => site.Clusters[c.Cluster].Primary))} {string.Join(',', f.Pages)} {f.Keyword} {f.AtStake:0.000000} {string.Join(',', f.Signs.Select(s => s.Kind))}")
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
                OrderOf = c => order[c],
                Performance = Performance([.. performance.Select(r => (r.Item1, r.Item2, (long)Math.Min(r.Item3, r.Item4), (long)r.Item4, (double)r.Item5)).DistinctBy(r => (r.Item1, r.Item2))]),
            };
        }));

    private static readonly Gen<SiteFacts> Sites = InAnyOrder.Select(made => made([0, 1, 2, 3, 4, 5]));

    private static string Says(Sign f) => $"{f.Kind} {f.Cluster} {f.OtherCluster} {f.Page} {f.OtherPage} {f.Keyword} {f.AtStake:0.000000} {string.Join('|', f.Facts)}";

    internal static SearchPerformance Performance(params (int Keyword, int Page, long Clicks, long Impressions, double Position)[] rows)
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

    internal static MappedPage At(int page) => new(page, true, false);

    private static MappedPage Suggested(int page) => new(page, false, false);

    private static IReadOnlyList<Sign> Find(int[][] lists, MappedPage[] map, params string[] keywords) => SignsIn(Site(lists, map, keywords));

    /// <summary>All signs, most at stake first.</summary>
    internal static IReadOnlyList<Sign> SignsIn(SiteFacts site) => [.. SiteFindings.In(site).SelectMany(f => f.Signs).OrderByDescending(s => s.AtStake).ThenBy(s => s.Kind)];

    internal static SiteFacts Site(int[][] lists, MappedPage[] map, params string[] keywords)
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
