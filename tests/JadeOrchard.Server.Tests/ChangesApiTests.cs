using System.Globalization;
using System.Text;
using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>Changes of pages and what they did, positions over time, recaptures, drift and seasons, over HTTP.</summary>
public sealed class ChangesApiTests : IDisposable
{
    private static readonly DateOnly Last = new(2026, 11, 10);

    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task AnEnteredChangeIsMeasuredAgainstPagesThatDidNotChange()
    {
        await _app.BringProject();
        await Performance();
        var day = Last.AddDays(-29);
        Assert.Equal(400, (await Enter("/nowhere", day)).Status);
        Assert.Equal(400, (await Enter("/dry-suits", new DateOnly(2031, 1, 1))).Status);
        Assert.Equal(200, (await Enter("/dry-suits", day)).Status);
        Assert.Equal(200, (await Enter("https://www.fenwater.example/paddles", day)).Status);
        Assert.Equal(200, (await Enter("/guide", Last.AddDays(-3))).Status);

        var changes = await _app.Get("/api/changes?sort=page");
        Assert.Equal(["helped", "tooEarly", "noEffect"], Rows(changes).Select(c => Text(c.GetProperty("effect"), "verdict")));
        Assert.Equal((1, 1, 1), (changes.GetProperty("verdicts").GetProperty("helped").GetInt32(), changes.GetProperty("verdicts").GetProperty("tooEarly").GetInt32(), changes.GetProperty("verdicts").GetProperty("noEffect").GetInt32()));
        Assert.False(changes.GetProperty("isMeasuring").GetBoolean());
        var helped = Rows(changes)[0].GetProperty("effect");
        // 28 days with 12 more clicks each were planted.
        Assert.InRange(28 * 12, helped.GetProperty("low").GetDouble(), helped.GetProperty("high").GetDouble());
        var kind = changes.GetProperty("kinds").EnumerateArray().Single();
        Assert.Equal(("new titles", 3, 2), (Text(kind, "name"), kind.GetProperty("count").GetInt32(), kind.GetProperty("measured").GetInt32()));

        Assert.Single(Rows(await _app.Get("/api/changes?verdict=helped")));
        Assert.Empty(Rows(await _app.Get("/api/changes?kind=links")));
        Assert.Single(Rows(await _app.Get($"/api/changes?from={Iso(Last.AddDays(-5))}")));
        var id = Rows(changes)[0].GetProperty("pageId").GetInt64();
        var detail = await _app.Get($"/api/changes/{id}/{Iso(day)}");
        Assert.Equal(56 + 28, detail.GetProperty("course").GetArrayLength());
        Assert.True(detail.GetProperty("after").GetProperty("clicks").GetInt64() > detail.GetProperty("before").GetProperty("clicks").GetInt64());
        Assert.Equal(404, (await _app.Send(HttpMethod.Get, $"/api/changes/{id}/2020-01-01")).Status);

        var csv = (await (await _app.Http.GetAsync("/api/changes.csv")).Content.ReadAsStringAsync()).Split('\n');
        Assert.Equal(3, csv.Count(l => l.Contains("fenwater.example", StringComparison.Ordinal)));
        Assert.Equal("xl", ZipFolder(await _app.Http.GetByteArrayAsync("/api/changes.xlsx")));

        // Undo takes an entry back, and so does a button.
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/undo")).Status);
        Assert.Equal(2, Rows(await _app.Get("/api/changes")).Length);
        var entered = detail.GetProperty("changes").EnumerateArray().Single().GetProperty("enteredId").GetInt64();
        Assert.Equal(200, (await _app.Send(HttpMethod.Delete, $"/api/changes/entered/{entered}")).Status);
        Assert.Equal(404, (await _app.Send(HttpMethod.Delete, $"/api/changes/entered/{entered}")).Status);
        Assert.Equal(["https://www.fenwater.example/paddles"], Rows(await _app.Get("/api/changes")).Select(c => Text(c, "url")));
    }

    [Fact]
    public async Task WithoutSearchPerformanceAChangeIsListedAndNothingIsSaidOfIt()
    {
        await _app.BringProject();
        Assert.Equal(200, (await Enter("/dry-suits", new DateOnly(2026, 9, 1))).Status);
        var changes = await _app.Get("/api/changes");
        Assert.False(changes.GetProperty("hasPerformance").GetBoolean());
        Assert.Equal("No search performance of this page is known.", Text(Rows(changes).Single().GetProperty("effect"), "says"));
    }

    [Fact]
    public async Task PositionsOfTwoDaysAreComparedByKeywordClusterAndPage()
    {
        await _app.BringProject();
        await _app.Regroup();
        // The page falls from third to nowhere for one keyword, and a rival comes.
        await _app.Import("results", "keyword,position,url,title,captured_at\n" + string.Concat(new[] { "a1", "a2", "a9", "a4" }.Select((h, i) => $"kayak dry suit,{i + 1},https://{h}.example/x,T,{Iso(Day(1))}\n")));
        var ranks = await _app.Get("/api/ranks");
        Assert.Equal(1, ranks.GetProperty("moves").GetProperty("left").GetInt32());
        var left = Rows(await _app.Get("/api/ranks?move=left")).Single();
        Assert.Equal(("kayak dry suit", 0), (Text(left, "name"), left.GetProperty("after").GetInt32()));
        var history = await _app.Get($"/api/ranks/history?keywordId={left.GetProperty("keywordId").GetInt64()}");
        Assert.Equal(2, history.GetProperty("captured").GetArrayLength());
        Assert.Contains(history.GetProperty("arrived").EnumerateArray(), u => Text(u, "url").Contains("a9.example", StringComparison.Ordinal));
        Assert.Contains(history.GetProperty("left").EnumerateArray(), u => u.GetProperty("isOwn").GetBoolean());
        foreach (var group in new[] { "cluster", "page" })
        {
            var rows = Rows(await _app.Get($"/api/ranks?group={group}"));
            Assert.NotEmpty(rows);
            Assert.All(rows, r => Assert.True(r.GetProperty("keywords").GetInt32() >= 1));
        }

        var page = Rows(await _app.Get("/api/ranks?group=page"))[0].GetProperty("pageId").GetInt64();
        Assert.NotEmpty((await _app.Get($"/api/ranks/history?pageId={page}")).GetProperty("captured").EnumerateArray());
        Assert.Equal(404, (await _app.Send(HttpMethod.Get, "/api/ranks/history")).Status);
        Assert.Equal(200, (int)(await _app.Http.GetAsync("/api/ranks.csv")).StatusCode);
    }

    [Fact]
    public async Task WhatIsSearchedForByMonthTellsTrendAndSeason()
    {
        await _app.BringProject();
        string Months(Func<int, int> of) => string.Join('|', Enumerable.Range(0, 24).Select(of));
        await _app.Import("keywords", $"keyword,volume,monthly_volumes\nkayak dry suit,1000,{Months(i => 100 + (5 * i))}\nkayak paddle,900,{Months(i => i % 12 == DateTime.UtcNow.Month % 12 ? 400 : 100)}\n");
        await _app.Regroup();
        Assert.Equal(["kayak dry suit"], Rows(await _app.Get("/api/keywords?trend=rising")).Select(k => Text(k, "phrase")));
        var peaks = Rows(await _app.Get("/api/keywords?peakMonth=0")).Single();
        Assert.Equal("kayak paddle", Text(peaks, "phrase"));
        var month = peaks.GetProperty("season").GetProperty("peaks")[0].GetInt32();
        Assert.Single(Rows(await _app.Get($"/api/keywords?peakMonth={month}")));
        Assert.Empty(Rows(await _app.Get($"/api/keywords?peakMonth={(month % 12) + 1}")));
        Assert.False(peaks.GetProperty("season").GetProperty("isCounted").GetBoolean());
        // Its cluster has its season, and so has the topic of that.
        Assert.Single(Rows(await _app.Get($"/api/clusters?peakMonth={month}")));
        Assert.Single(Rows(await _app.Get("/api/clusters?trend=rising")));
        Assert.Contains(Rows(await _app.Get("/api/topics")), t => t.GetProperty("season").ValueKind == JsonValueKind.Object);
    }

    [Fact]
    public async Task OwnImpressionsTellASeasonWhereNoEstimatesAreKnown()
    {
        await _app.BringProject();
        await Performance();
        var season = Rows(await _app.Get("/api/keywords?search=kayak paddle&sort=phrase"))[0].GetProperty("season");
        Assert.True(season.GetProperty("isCounted").GetBoolean());
        Assert.Equal(15, season.GetProperty("volumes").GetArrayLength());
    }

    [Fact]
    public async Task ClustersThatDriftedApartSinceTheGroupingAreFlagged()
    {
        var (keywords, before, after) = (new StringBuilder("keyword,volume\n"), new StringBuilder("keyword,position,url,captured_at\n"), new StringBuilder("keyword,position,url,captured_at\n"));
        var (then, now) = (DateOnly.FromDateTime(DateTime.UtcNow).AddDays(-20), DateOnly.FromDateTime(DateTime.UtcNow).AddDays(1));
        for (var c = 0; c < 12; c++)
        {
            for (var k = 0; k < 8; k++)
            {
                keywords.Append(CultureInfo.InvariantCulture, $"subject{c} word{k},{1000 - k}\n");
                for (var p = 1; p <= 8; p++)
                {
                    before.Append(CultureInfo.InvariantCulture, $"subject{c} word{k},{p},https://r{c}x{p}.example/a,{Iso(then)}\n");
                    // All lists change by one result; those of one cluster fall to pieces.
                    var host = c == 3 && k > 0 && p > 1 ? $"n{c}x{p}x{k}" : p == 8 ? $"z{c}x{k}" : $"r{c}x{p}";
                    after.Append(CultureInfo.InvariantCulture, $"subject{c} word{k},{p},https://{host}.example/a,{Iso(now)}\n");
                }
            }
        }

        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/project", new { name = "Fenwater", host = "fenwater.example", country = "gb", language = "en", brandTerms = Array.Empty<string>() })).Status);
        await _app.Import("keywords", keywords.ToString());
        await _app.Import("results", before.ToString());
        await _app.Regroup();
        Assert.Equal(0, (await _app.Get("/api/clusters/drift")).GetProperty("recaptured").GetInt64());
        await _app.Import("results", after.ToString());
        var drift = await _app.Get("/api/clusters/drift");
        var apart = drift.GetProperty("apart").EnumerateArray().Single();
        Assert.Equal("subject3 word0", Text(apart, "cluster"));
        Assert.Equal(7, apart.GetProperty("keywords").GetArrayLength());
        Assert.Contains("Regrouping would take", Text(apart, "says"), StringComparison.Ordinal);
        Assert.Empty(drift.GetProperty("together").EnumerateArray());
    }

    private Task<(int Status, JsonElement Body)> Enter(string page, DateOnly day) => _app.Send(HttpMethod.Post, "/api/changes", new { page, day = Iso(day), kind = "title", note = "a new title" });

    /// <summary>16 months of eight pages with a common course; one gets 12 clicks a day more in the last 29 days.</summary>
    private async Task Performance()
    {
        var (rows, random) = (new StringBuilder("query,page,date,clicks,impressions,position\n"), new Random(9));
        string[] pages = ["dry-suits", "guide", "paddles", "a", "b", "c", "d", "e"];
        for (var day = Last.AddMonths(-16).AddDays(1); day <= Last; day = day.AddDays(1))
        {
            foreach (var page in pages)
            {
                var clicks = 15 + (day.DayNumber % 7 == 0 ? 4 : 0) + random.Next(6) + (page == "dry-suits" && day > Last.AddDays(-30) ? 12 : 0);
                rows.Append(CultureInfo.InvariantCulture, $"{(page == "paddles" ? "kayak paddle" : page + " query")},https://www.fenwater.example/{page},{Iso(day)},{clicks},{clicks * 8},4\n");
            }
        }

        Assert.Equal("done", Text(await _app.Import("performance", rows.ToString()), "state"));
    }

    private static DateOnly Day(int after) => DateOnly.FromDateTime(DateTime.UtcNow).AddDays(after);

    private static string Iso(DateOnly day) => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static JsonElement[] Rows(JsonElement page) => [.. page.GetProperty("rows").EnumerateArray()];

    private static string Text(JsonElement row, string name) => row.GetProperty(name).GetString()!;

    private static string ZipFolder(byte[] bytes)
    {
        using var zip = new System.IO.Compression.ZipArchive(new MemoryStream(bytes));
        return zip.Entries.Any(e => e.FullName.StartsWith("xl/", StringComparison.Ordinal)) ? "xl" : "";
    }
}
