using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>A search finds everything a row shows.</summary>
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
            var shown = all.Where(f => new[] { "clusterName", "keyword", "note" }.Select(c => f.GetProperty(c).GetString()).Concat(f.GetProperty("pages").EnumerateArray().Select(p => p.GetProperty("url").GetString()))
                .Any(text => text?.Contains(searched, StringComparison.OrdinalIgnoreCase) == true)).Select(f => Text(f, "key"));
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
}
