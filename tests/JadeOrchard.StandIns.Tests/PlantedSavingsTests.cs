using System.Globalization;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Results.Staged;
using JadeOrchard.Core.Site;
using Xunit.Abstractions;

namespace JadeOrchard.StandIns.Tests;

/// <summary>What capturing in stages would have saved on the demo and on worlds of other seeds.</summary>
public sealed class PlantedSavingsTests(ITestOutputHelper output)
{
    [Theory]
    [InlineData(null, 0.45, 0.97)]
    [InlineData(1, 0.4, 0.95)]
    [InlineData(2, 0.4, 0.95)]
    [InlineData(3, 0.4, 0.95)]
    public void HalfTheListsAreNotNeededForTheSameClusters(int? seed, double notCaptured, double leastIndex)
    {
        var world = Generator.Make(Scenario.Read(Path.Combine(AppContext.BaseDirectory, "scenario.json")), seed);
        var indexOf = world.Keywords.Select((k, i) => (k.NormalForm, i)).ToDictionary(k => k.NormalForm, k => k.i, StringComparer.Ordinal);
        var (builder, urls, identities) = (new ResultLists.Builder(), new Dictionary<string, int>(StringComparer.Ordinal), new List<string>());
        foreach (var result in world.Results)
        {
            if (!indexOf.TryGetValue(KeywordNormalForm.Of(result.Keyword), out var keyword) || !UrlIdentity.TryOf(result.Url, UrlFolds.All, out var identity))
                continue;
            if (urls.TryAdd(identity, identities.Count))
                identities.Add(identity);
            builder.Add(keyword, result.Position, urls[identity]);
        }

        var settings = new ClusterSettings();
        var lists = settings.Compared(builder.Build(world.Keywords.Count, identities), identities);
        var replay = StagedReplay.Of(world.Keywords, lists, new WordedKeywords(world.Keywords, "en", ["fenwater"], []), settings, StagedCapture.UsualCertainty);
        var (last, known) = (replay.Batches[^1], Enumerable.Range(0, lists.Count).Count(lists.IsCaptured));
        var saved = 1 - ((double)last.Captured / known);
        output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"seed {seed?.ToString(CultureInfo.InvariantCulture) ?? "of the demo"}: {saved:0.0 %} of {known} lists not captured, adjusted Rand index {last.AdjustedRandIndex:0.000}, {last.Wrong} of {last.Expected} expected keywords wrong"));
        Assert.True(saved >= notCaptured && last.AdjustedRandIndex >= leastIndex, $"{saved:0.000} not captured, {last}");
        Assert.True(replay.Audit!.Upper >= StagedCapture.UsualCertainty, replay.Audit.ToString());
    }
}
