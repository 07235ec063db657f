using System.Globalization;
using System.Text;
using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>Previews of many keywords arrive in parts.</summary>
public sealed class GroupingPreviewTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    /// <summary>More than are computed at once.</summary>
    private const int Keywords = 5_600;

    [Fact]
    public async Task APreviewOfManyKeywordsIsCompleteInTheEndAndSaysWhatAGroupingGives()
    {
        // 700 subjects of eight keywords that share six of nine results.
        await Import((k, position) => position <= 6 ? $"rival.example/subject/{k / 8}/{position}" : position == 7 ? $"rival.example/pair/{k / 16}" : $"rival.example/own/{k}/{position}");
        foreach (var (minimum, rule, clusters) in new[] { (4, "primary", 700), (7, "primary", 700), (8, "primary", Keywords), (1, "chain", 350), (2, "everyPair", 700) })
        {
            var address = $"/api/clusters/preview?depth=10&minOverlap={minimum}&rule={rule}";
            var preview = await Complete(address);
            Assert.Equal(Enumerable.Range(1, 10), preview.GetProperty("rows").EnumerateArray().Select(r => r.GetProperty("minOverlap").GetInt32()));
            Assert.Equal(clusters, preview.GetProperty("rows")[minimum - 1].GetProperty("clusters").GetInt32());
            Assert.Equal(Keywords, preview.GetProperty("captured").GetInt32());
            Assert.Equal(minimum is 2 or 8, preview.GetProperty("looser").GetArrayLength() > 0);
        }
    }

    /// <summary>One join serves what compares less, whatever the planner fixed; new results need another.</summary>
    [Fact]
    public async Task WhateverIsComparedAndFixedTheFirstAnswerHasTheChosenRowAndTheLastWhatAGroupingDoes()
    {
        var random = new Random(11);
        string[] hosts = ["rival.example", "club.example", "shop.example"];
        // Subjects blend into their neighbours, so that each minimum and depth gives other clusters.
        string Url(int k, int position) => $"{hosts[random.Next(3)]}/{(k / 7) + random.Next(2)}/{random.Next(6 + (position / 2))}";
        await Import(Url);
        await _app.Regroup();
        var clusters = Rows(await _app.Get("/api/clusters?sort=size&descending=true"));
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/clusters/{Id(clusters[0])}", new { isLocked = true })).Status);
        var members = (await _app.Get($"/api/clusters/{Id(clusters[1])}")).GetProperty("members").EnumerateArray().Select(m => Id(m, "keywordId")).Skip(1).Take(2).ToArray();
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/clusters/move", new { keywordIds = members, toClusterId = Id(clusters[2]) })).Status);
        await SaysWhatAGroupingDoes(10, 4, "primary");
        await SaysWhatAGroupingDoes(7, 3, "primary", "club.example");
        await SaysWhatAGroupingDoes(9, 4, "everyPair");
        await Import(Url);
        await SaysWhatAGroupingDoes(8, 2, "chain", "rival.example", "shop.example");
    }

    private async Task SaysWhatAGroupingDoes(int depth, int minOverlap, string rule, params string[] leftOutHosts)
    {
        var address = $"/api/clusters/preview?depth={depth}&minOverlap={minOverlap}&rule={rule}&leftOutHosts={string.Join("%0A", leftOutHosts)}";
        JsonElement RowOf(JsonElement preview) => preview.GetProperty("rows").EnumerateArray().Single(r => r.GetProperty("minOverlap").GetInt32() == minOverlap);
        var row = RowOf(await _app.Get(address)).GetRawText();
        var preview = await Complete(address);
        Assert.Equal(row, RowOf(preview).GetRawText());
        var before = await ClusterIds();
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/clusters/regroup", new { depth, minOverlap, rule, leftOutHosts = string.Join('\n', leftOutHosts) });
        Assert.Equal(202, status);
        Assert.Equal("done", Text(await _app.Ended(job), "state"));
        var after = await ClusterIds();
        var changes = preview.GetProperty("changes");
        Assert.Equal((after.Except(before).Count(), before.Except(after).Count()), (changes.GetProperty("new").GetInt32(), changes.GetProperty("gone").GetInt32()));
        var same = (await Complete(address)).GetProperty("changes");
        Assert.Equal((after.Count, 0, 1d), (same.GetProperty("kept").GetInt32(), same.GetProperty("moved").GetInt32(), same.GetProperty("adjustedRandIndex").GetDouble()));
    }

    private async Task<HashSet<long>> ClusterIds()
    {
        var ids = new HashSet<long>();
        for (var total = 1; ids.Count < total;)
        {
            var page = await _app.Get($"/api/clusters?offset={ids.Count}&limit=500");
            total = page.GetProperty("tally").GetProperty("rows").GetInt32();
            ids.UnionWith(Rows(page).Select(c => Id(c)));
        }

        return ids;
    }

    private async Task<JsonElement> Complete(string address)
    {
        for (var tries = 0; tries < 600; tries++)
        {
            var preview = await _app.Get(address);
            if (preview.GetProperty("isComplete").GetBoolean())
                return preview;
            await Task.Delay(100);
        }

        throw new TimeoutException("The preview was not completed within a minute.");
    }

    /// <param name="url">For a keyword and a position from 1 to 9 the result.</param>
    private async Task Import(Func<int, int, string> url)
    {
        var (phrases, results) = (new StringBuilder("keyword,volume\n"), new StringBuilder("keyword,position,url\n"));
        for (var k = 0; k < Keywords; k++)
        {
            var phrase = string.Create(CultureInfo.InvariantCulture, $"paddle subject {k / 8} part {k % 8}");
            phrases.Append(CultureInfo.InvariantCulture, $"{phrase},{Keywords - k}\n");
            for (var position = 1; position <= 9; position++)
                results.Append(CultureInfo.InvariantCulture, $"{phrase},{position},https://{url(k, position)}\n");
        }

        await _app.Import("keywords", phrases.ToString());
        await _app.Import("results", results.ToString());
    }
}
