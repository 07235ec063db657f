using System.Globalization;
using System.Text;
using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>A search finds everything a row shows; previews of many keywords arrive in parts.</summary>
public sealed class ListSearchTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task FindingsAreFoundByClusterKeywordPageAndNote()
    {
        await _app.BringProject();
        await _app.Regroup();
        await _app.Import("pages", "url,title\nhttps://fenwater.example/twin-a,Paddle float guide\nhttps://fenwater.example/twin-b,Paddle float guide\n");
        var all = Rows(await _app.Get("/api/findings?limit=500&anyState=true"));
        Assert.True(all.Select(f => Text(f, "kind")).Distinct().Count() > 2);
        var noted = all[0];
        await _app.Send(HttpMethod.Post, "/api/findings/decide", new { selection = new { keys = new[] { Text(noted, "key") } }, note = "ask 100 % of_the crew" });
        var renamed = all.First(f => f.GetProperty("clusterId").ValueKind == JsonValueKind.Number);
        await _app.Send(HttpMethod.Put, $"/api/clusters/{renamed.GetProperty("clusterId").GetInt64()}", new { name = "Own Name" });
        all = Rows(await _app.Get("/api/findings?limit=500&anyState=true"));

        foreach (var searched in new[] { "twin-b", "TWIN", "suit", "fenwater", "own name", "100 % of_the", "100 _ of", "nothing has this" })
        {
            var found = Rows(await _app.Get($"/api/findings?limit=500&anyState=true&search={Uri.EscapeDataString(searched)}")).Select(f => Text(f, "key")).Order(StringComparer.Ordinal);
            // The primary of a renamed cluster and the keyword of a finding are found as well; what shows must be.
            var shown = all.Where(f => new[] { "clusterName", "keyword", "pageUrl", "otherPageUrl", "note" }.Any(c => Text(f, c)?.Contains(searched, StringComparison.OrdinalIgnoreCase) == true)).Select(f => Text(f, "key"));
            Assert.Subset(found.ToHashSet(), shown.ToHashSet());
            if (searched is "twin-b" or "own name" or "100 % of_the" or "100 _ of" or "nothing has this")
                Assert.Equal(shown.Order(StringComparer.Ordinal), found);
        }
    }

    [Fact]
    public async Task TheDemandOfAFindingIsThatOfItsCluster()
    {
        await _app.BringProject();
        await _app.Regroup();
        await Agrees();
        var clusters = Rows(await _app.Get("/api/clusters?limit=500"));
        await _app.Send(HttpMethod.Post, $"/api/clusters/{Id(clusters[0])}/merge/{Id(clusters[1])}");
        await Agrees();
        await _app.Send(HttpMethod.Post, "/api/undo");
        await Agrees();
        await _app.Import("keywords", "keyword,volume\nkayak dry suit,123456\n");
        await Agrees();

        async Task Agrees()
        {
            var demands = Rows(await _app.Get("/api/clusters?limit=500")).ToDictionary(c => Id(c), c => c.GetProperty("demand").GetInt64());
            var findings = Rows(await _app.Get("/api/findings?limit=500&anyState=true&sort=demand&descending=true"));
            Assert.NotEmpty(findings);
            var shown = findings.Select(f => f.GetProperty("demand").GetInt64()).ToList();
            Assert.Equal(findings.Select(f => f.GetProperty("clusterId").ValueKind == JsonValueKind.Number ? demands[f.GetProperty("clusterId").GetInt64()] : 0), shown);
            Assert.Equal(shown.OrderDescending(), shown);
        }
    }

    [Fact]
    public async Task APreviewOfManyKeywordsIsCompleteInTheEndAndSaysWhatAGroupingGives()
    {
        // More than are computed at once: 700 subjects of eight keywords that share six of nine results.
        const int keywords = 5_600;
        var (phrases, results) = (new StringBuilder("keyword,volume\n"), new StringBuilder("keyword,position,url\n"));
        for (var k = 0; k < keywords; k++)
        {
            var phrase = string.Create(CultureInfo.InvariantCulture, $"paddle subject {k / 8} part {k % 8}");
            phrases.Append(CultureInfo.InvariantCulture, $"{phrase},{keywords - k}\n");
            for (var position = 1; position <= 9; position++)
            {
                var url = position <= 6 ? $"subject/{k / 8}/{position}" : position == 7 ? $"pair/{k / 16}" : $"own/{k}/{position}";
                results.Append(CultureInfo.InvariantCulture, $"{phrase},{position},https://rival.example/{url}\n");
            }
        }

        await _app.Import("keywords", phrases.ToString());
        await _app.Import("results", results.ToString());
        foreach (var (minimum, rule, clusters) in new[] { (4, "primary", 700), (7, "primary", 700), (8, "primary", keywords), (1, "chain", 350), (2, "everyPair", 700) })
        {
            var address = $"/api/clusters/preview?depth=10&minOverlap={minimum}&rule={rule}";
            JsonElement preview;
            for (var tries = 0; !(preview = await _app.Get(address)).GetProperty("isComplete").GetBoolean(); tries++)
            {
                Assert.True(tries < 600, "The preview was not completed within a minute.");
                await Task.Delay(100);
            }

            Assert.Equal(Enumerable.Range(1, 10), preview.GetProperty("rows").EnumerateArray().Select(r => r.GetProperty("minOverlap").GetInt32()));
            Assert.Equal(clusters, preview.GetProperty("rows")[minimum - 1].GetProperty("clusters").GetInt32());
            Assert.Equal(keywords, preview.GetProperty("captured").GetInt32());
            Assert.Equal(minimum is 2 or 8, preview.GetProperty("looser").GetArrayLength() > 0);
        }
    }
}
