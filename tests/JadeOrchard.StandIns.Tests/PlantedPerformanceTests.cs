using System.Globalization;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Core.Results;
using Xunit.Abstractions;

namespace JadeOrchard.StandIns.Tests;

/// <summary>Scores what is found in the demo's search performance against what was planted in it.</summary>
public sealed class PlantedPerformanceTests(ITestOutputHelper output)
{
    [Theory]
    [InlineData(null, 0.9)]
    [InlineData(1, 0.85)]
    [InlineData(2, 0.85)]
    [InlineData(3, 0.85)]
    public void PlantedLossesAndLowClickRatesAreFound(int? seed, double least)
    {
        using var world = new World(Scenario.Read(Path.Combine(AppContext.BaseDirectory, "scenario.json")), seed);
        var (daily, urls, queries) = PerformanceOf(world);
        var fading = Fading.Of(daily.ClicksByPage, daily.First).ToDictionary(f => urls[f.Page]);
        Scored(seed, "fading pages", [.. fading.Keys], [.. world.Plants.Losses.Keys], least);
        Assert.Empty(world.Plants.Seasonal.Intersect(fading.Keys));
        foreach (var (url, loss) in world.Plants.Losses.Where(l => fading.ContainsKey(l.Key)))
        {
            // The greatest part of what was lost is what was planted.
            var sum = FadingCauses.Of(daily, fading[url].Page, ClickCurve.Default).Sum;
            var part = loss.Cause switch { LossCause.Position => sum.ByPosition, LossCause.Searches => sum.BySearches, _ => sum.ByClickRate };
            Assert.True(part <= sum.ByPosition && part <= sum.BySearches && part <= sum.ByClickRate, $"{url}: {loss.Cause} but {sum}");
        }

        var facts = new QueryFacts { Mentions = _ => 1, IsBrand = q => queries[q].Contains(world.Scenario.Site.Name, StringComparison.OrdinalIgnoreCase), IsQuestion = _ => false, IsAnonymous = _ => false };
        var rows = QueryTable.Of(daily, QueryPeriod.Of(daily.First, daily.Last.AddDays(1 - Fading.Days), daily.Last, yearBefore: false), facts, CurveFit.Of(Figures(daily, facts), ClickCurve.Default).Curve);
        // Where a page lost clicks at the same position, all its queries are under-clicked.
        bool IsLost(string url) => world.Plants.Losses.TryGetValue(url, out var loss) && loss.Cause == LossCause.ClickRate;
        Scored(
            seed, "under-clicked queries",
            [.. rows.Where(r => r.Marks.HasFlag(QueryMark.UnderClicked)).Select(r => (queries[daily.QueryOf(r.Pair)], urls[daily.PageOf(r.Pair)])).Where(p => !IsLost(p.Item2))],
            [.. world.Plants.UnderClicked], least);
    }

    [Fact]
    public void AChangedPageShowsItsPlantedEffectAndOthersNone()
    {
        using var world = new World(Scenario.Read(Path.Combine(AppContext.BaseDirectory, "scenario.json")));
        var helped = world.Plants.Helps.Keys.Select(u => new Uri(u).AbsolutePath).Take(3).ToList();
        var (before, urls, _) = PerformanceOf(world);
        var idle = urls.Select((u, i) => (Path: new Uri(u).AbsolutePath, Url: u, Clicks: before.ClicksByPage[i].TakeLast(28).Sum()))
            .Where(p => p.Clicks >= 60 && !world.Plants.Helps.ContainsKey(p.Url) && !world.Plants.Losses.ContainsKey(p.Url)).Select(p => p.Path).Take(3).ToList();
        foreach (var path in helped.Concat(idle))
            world.Changed(path);
        world.Pass(Fading.Days + PerformancePlants.DaysBehind);
        var (daily, all, _) = PerformanceOf(world);
        var clicks = daily.ClicksByPage.ToList();
        var day = world.ChangedOn(helped[0])!.Value.DayNumber - daily.First.DayNumber;
        var indexOf = all.Select((u, i) => (new Uri(u).AbsolutePath, i)).ToDictionary(p => p.AbsolutePath, p => p.i, StringComparer.Ordinal);
        var changed = helped.Concat(idle).Select(p => indexOf[p]).ToHashSet();
        foreach (var path in helped)
        {
            var effect = ChangeEffect.Of(clicks, indexOf[path], day, changed);
            Assert.Equal(EffectVerdict.Helped, effect.Verdict);
            Assert.InRange(world.GainOf(path, Fading.Days), effect.Low, effect.High);
        }

        foreach (var path in idle)
        {
            Assert.Equal(0, world.GainOf(path, Fading.Days));
            Assert.Equal(EffectVerdict.NoEffect, ChangeEffect.Of(clicks, indexOf[path], day, changed).Verdict);
        }
    }

    private static IEnumerable<QueryFigures> Figures(DailyPerformance daily, QueryFacts facts) => Enumerable.Range(0, daily.PairCount).Where(p => !facts.IsBrand(daily.QueryOf(p)))
        .GroupBy(daily.QueryOf, p => daily.Sum(p, daily.First, daily.Last)).Select(g => new QueryFigures(g.Sum(s => s.Position * s.Impressions) / g.Sum(s => s.Impressions), g.Sum(s => s.Clicks), g.Sum(s => s.Impressions)));

    private static (DailyPerformance Daily, string[] Urls, string[] Queries) PerformanceOf(World world)
    {
        var last = world.Today.AddDays(-PerformancePlants.DaysBehind);
        var (urls, queries, builder) = (new Dictionary<string, int>(StringComparer.Ordinal), new Dictionary<string, int>(StringComparer.Ordinal), new DailyPerformance.Builder());
        foreach (var (standing, day, clicks, impressions, position) in world.Performance(last.AddMonths(-Services.Months), last))
            builder.Add(IndexIn(urls, standing.Url), IndexIn(queries, standing.Keyword.Phrase), new DayFigures(day.DayNumber, clicks, impressions, position * impressions));
        return (builder.Build(urls.Count), [.. urls.Keys], [.. queries.Keys]);

        static int IndexIn(Dictionary<string, int> of, string name)
        {
            of.TryAdd(name, of.Count);
            return of[name];
        }
    }

    private void Scored<T>(int? seed, string what, HashSet<T> found, HashSet<T> planted, double least)
    {
        double right = found.Intersect(planted).Count();
        var (precision, recall) = (right / found.Count, right / planted.Count);
        output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"seed {seed?.ToString(CultureInfo.InvariantCulture) ?? "demo"}, {what}: precision {precision:0.00}, recall {recall:0.00} ({planted.Count} planted)"));
        Assert.True(precision >= least, $"{what}: precision {precision}");
        Assert.True(recall >= least, $"{what}: recall {recall}");
    }
}
