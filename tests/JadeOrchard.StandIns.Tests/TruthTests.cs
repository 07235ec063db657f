using System.Globalization;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Core.Topics;
using Xunit.Abstractions;

namespace JadeOrchard.StandIns.Tests;

/// <summary>Scores what is found in the demo against what was planted in it.</summary>
public class TruthTests(ITestOutputHelper output)
{
    private static readonly Scenario Demo = Scenario.Read(Path.Combine(AppContext.BaseDirectory, "scenario.json"));

    [Theory]
    [InlineData(null, 0.95)]
    [InlineData(1, 0.85)]
    [InlineData(2, 0.85)]
    [InlineData(3, 0.85)]
    public void FindingsAreThoseThatWerePlanted(int? seed, double least)
    {
        var scored = Score(Generator.Make(Demo, seed));
        foreach (var (kind, planted, found, right, decoys) in scored)
        {
            output.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"seed {seed?.ToString(CultureInfo.InvariantCulture) ?? "demo"}, {kind}: precision {Share(right, found):0.00}, recall {Share(right, planted):0.00} ({planted} planted, {found} found, {decoys} decoys raised)"));
        }

        Assert.All(scored, s =>
        {
            Assert.True(Share(s.Right, s.Found) >= least, $"precision of {s.Kind}: {s.Right} of {s.Found}");
            Assert.True(Share(s.Right, s.Planted) >= least, $"recall of {s.Kind}: {s.Right} of {s.Planted}");
        });
        if (seed is null)
            Assert.All(scored, s => Assert.Equal(0, s.Decoys));
    }

    [Theory]
    [InlineData(null, 0.9, 0.5)]
    [InlineData(1, 0.9, 0.5)]
    [InlineData(2, 0.9, 0.5)]
    public void PlantedClustersAndTopicsAreRecovered(int? seed, double leastOfClusters, double leastOfTopics)
    {
        var world = Generator.Make(Demo, seed);
        var (lists, clusters) = Clusters(world);
        var indexOf = world.Keywords.Select((k, i) => (k.Phrase, i)).ToDictionary(k => k.Phrase, k => k.i);
        var (planted, plantedTopics, found, foundTopics) = (Nowhere(), Nowhere(), Nowhere(), Nowhere());
        for (var s = 0; s < world.Subjects.Count; s++)
        {
            foreach (var phrase in world.Subjects[s].Phrases.Where(indexOf.ContainsKey))
                (planted[indexOf[phrase]], plantedTopics[indexOf[phrase]]) = (s, world.Subjects[s].Topic);
        }

        using var analysis = new TextAnalysis(Demo.Site.Language);
        var topics = Topics.Of(
            [.. clusters.Select(c => c.Members.Sum(m => world.Keywords[m].Volume ?? 0))],
            ClusterLinks.Of(clusters, lists, ClusterStems.Of(clusters, world.Keywords, analysis)),
            StandingTopics.None(clusters.Length));
        for (var t = 0; t < topics.Count; t++)
        {
            foreach (var cluster in topics[t].Clusters)
            {
                foreach (var member in clusters[cluster].Members)
                    (found[member], foundTopics[member]) = (cluster, t);
            }
        }

        var ofClusters = ClusteringComparison.Of(planted, found).AdjustedRandIndex;
        var ofTopics = ClusteringComparison.Of(plantedTopics, foundTopics).AdjustedRandIndex;
        output.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"seed {seed?.ToString(CultureInfo.InvariantCulture) ?? "demo"}: adjusted Rand index {ofClusters:0.000} of {clusters.Length} clusters against {world.Subjects.Count} planted, {ofTopics:0.000} of {topics.Count} topics against {world.Subjects.Select(s => s.Topic).Distinct().Count()}"));
        Assert.True(ofClusters >= leastOfClusters, $"clusters: {ofClusters}");
        Assert.True(ofTopics >= leastOfTopics, $"topics: {ofTopics}");

        int[] Nowhere() => [.. Enumerable.Repeat(-1, world.Keywords.Count)];
    }

    [Fact]
    public void EnoughIsPlanted()
    {
        var truth = Generator.Make(Demo).Truth;
        var troubles = truth.Where(t => !t.IsDecoy).ToList();
        var conflicts = troubles.Where(t => t.Kind is "rivals-in-results" or "wrong-page-ranks" or "shared-target").ToList();
        Assert.True(conflicts.Count >= 12, $"{conflicts.Count} cannibalizing pairs");
        Assert.Equal(3, conflicts.Select(t => t.Kind).Distinct().Count());
        Assert.True(troubles.Count(t => t.Kind == "no-page") >= 20);
        Assert.True(truth.Count(t => t.IsDecoy) >= 10, $"{truth.Count(t => t.IsDecoy)} decoys");
    }

    [Fact]
    public void TheWorldHasTheSizeOfTheScenario()
    {
        var world = Generator.Make(Demo);
        Assert.InRange(world.Keywords.Count, 2_200, 2_600);
        Assert.InRange(world.Pages.Count, 210, 230);
        Assert.Equal(40, Demo.Rivals.Count);
        Assert.All(world.Results, r => Assert.EndsWith(".example", new Uri(r.Url).Host, StringComparison.Ordinal));   // RFC 2606, section 2
        Assert.Equal(world.Keywords.Count, world.Keywords.Select(k => KeywordNormalForm.Of(k.Phrase)).Distinct().Count());
        var volumes = world.Keywords.Select(k => k.Volume ?? 0).OrderDescending().ToList();
        Assert.True(volumes.Take(volumes.Count / 10).Sum() > volumes.Sum() / 2, "few keywords have most of the volume");
    }

    [Fact]
    public void TheSameSeedMakesTheSameWorld() =>
        Assert.Equal(Generator.Make(Demo, 5).Results, Generator.Make(Demo, 5).Results);

    private sealed record Scored(string Kind, int Planted, int Found, int Right, int Decoys);

    private static double Share(int part, int whole) => whole == 0 ? 1 : (double)part / whole;

    private static List<Scored> Score(GeneratedWorld world)
    {
        var (findings, clusterOf, pages) = Find(world);
        var scored = new List<Scored>();
        foreach (var kind in Enum.GetValues<FindingKind>())
        {
            // A conflict is told by its two pages, a hole by its cluster.
            string KeyOf(int cluster, string page, string other) => kind.IsCannibalization()
                ? string.Join(' ', new[] { Identity(page), Identity(other) }.Order(StringComparer.Ordinal))
                : cluster.ToString(CultureInfo.InvariantCulture);
            var found = findings.Where(f => f.Kind == kind)
                .Select(f => KeyOf(f.Cluster, f.Page is { } p ? pages[p].Url : "", f.OtherPage is { } o ? pages[o].Url : "")).ToHashSet(StringComparer.Ordinal);
            var facts = world.Truth.Where(t => t.Kind == kind.Code()).ToList();
            var planted = facts.Where(t => !t.IsDecoy).Select(t => KeyOf(clusterOf[t.Phrase], t.Page, t.OtherPage)).ToHashSet(StringComparer.Ordinal);
            var decoys = facts.Where(t => t.IsDecoy).ToList();
            var raised = decoys.Count(t => t.OtherPage.Length > 0 || !kind.IsCannibalization()
                ? found.Contains(KeyOf(clusterOf[t.Phrase], t.Page, t.OtherPage))
                : findings.Any(f => f.Kind == kind && f.Cluster == clusterOf[t.Phrase]));
            scored.Add(new Scored(kind.Code(), planted.Count, found.Count, planted.Intersect(found).Count(), raised));
        }

        return scored;
    }

    private static string Identity(string url) => UrlIdentity.TryOf(url, UrlFolds.All, out var identity) ? identity : "";

    private static (ResultLists Lists, System.Collections.Immutable.ImmutableArray<Cluster> Clusters) Clusters(GeneratedWorld world)
    {
        var (lists, _) = ListsOf(world);
        var cut = lists.Cut(new ClusterSettings().Depth);
        return (cut, Clustering.Of(world.Keywords, cut, new ClusterSettings()).Clusters);
    }

    private static (ResultLists Lists, List<string> Urls) ListsOf(GeneratedWorld world)
    {
        var index = world.Keywords.Select((k, i) => (k.NormalForm, i)).ToDictionary(k => k.NormalForm, k => k.i);
        var urls = world.Results.Select(r => Identity(r.Url)).Distinct().ToList();
        var urlIndex = urls.Select((u, i) => (u, i)).ToDictionary(u => u.u, u => u.i);
        var builder = new ResultLists.Builder();
        foreach (var result in world.Results)
            builder.Add(index[result.Keyword], result.Position, urlIndex[Identity(result.Url)]);
        return (builder.Build(world.Keywords.Count, urls), urls);
    }

    private static (IReadOnlyList<Finding> Findings, Dictionary<string, int> ClusterOf, IReadOnlyList<SitePage> Pages) Find(GeneratedWorld world)
    {
        var (lists, urls) = ListsOf(world);
        var pageIndex = world.Pages.Select((p, i) => (Identity(p.Url), i)).ToDictionary(p => p.Item1, p => p.i);
        int[] pageOfUrl = [.. urls.Select(u => pageIndex.GetValueOrDefault(u, -1))];
        var settings = new ClusterSettings();
        var clusters = Clustering.Of(world.Keywords, lists.Cut(settings.Depth), settings).Clusters;
        using var analysis = new TextAnalysis(Demo.Site.Language);
        var map = PageSuggestions.For(clusters, new PageCandidates(world.Keywords, lists, world.Pages, pageOfUrl, analysis)).Select(s => new MappedPage(s.Page, false, false));
        var findings = SiteFindings.In(new SiteFacts(
            world.Keywords, lists, clusters, [.. map], pageOfUrl, urls, settings, new BrandTerms([new OwnSite(Demo.Site.Host).BrandName])));
        var clusterOf = clusters.SelectMany((c, i) => c.Members.Select(m => (world.Keywords[m].Phrase, i))).ToDictionary(m => m.Phrase, m => m.i);
        return (findings, clusterOf, world.Pages);
    }
}
