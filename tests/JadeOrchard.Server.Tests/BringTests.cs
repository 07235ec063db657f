using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Server.Tests;

/// <summary>Files of several kinds, results over time, and what is remembered.</summary>
public sealed class BringTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task ColumnsMappedByHandAreRememberedByTheShapeOfTheHeader()
    {
        using var workbook = new MemoryStream();
        TableOutput.WriteXlsx(workbook, "K", [new("Suchbegriff"), new("Anfragen")], [["sea kayak", 900], ["canoe", 50]]);
        var upload = await Upload("k.xlsx", workbook.ToArray());
        Assert.Empty(upload.GetProperty("remembered").EnumerateArray());
        await Import(upload, "keywords", new { keyword = 0, volume = 1 });
        Assert.Equal([("sea kayak", 900), ("canoe", 50)], Rows(await _app.Get("/api/keywords")).Select(k => (Text(k, "phrase"), k.GetProperty("volume").GetInt32())));
        // Another file of the same shape, of another format.
        upload = await Upload("k.csv", Encoding.UTF8.GetBytes("suchbegriff;ANFRAGEN\nsurf ski;70\n"));
        Assert.Equal("keywords", upload.GetProperty("remembered")[0].GetString());
        Assert.Equal(1, upload.GetProperty("columns").GetProperty("keywords").GetProperty("volume").GetInt32());
    }

    [Fact]
    public async Task ResultListsGoOutAsJsonAndComeInAgainAsTheyWere()
    {
        await _app.BringProject();
        var json = await _app.Http.GetStringAsync("/api/results.json");
        var csv = await _app.Http.GetStringAsync("/api/results.csv");
        using var other = new Application();
        using var content = new ByteArrayContent(Encoding.UTF8.GetBytes(json));
        content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        var upload = JsonSerializer.Deserialize<JsonElement>(await (await other.Http.PostAsync("/api/uploads?fileName=r.json", content)).Content.ReadAsStringAsync());
        var (_, job) = await other.Send(HttpMethod.Post, "/api/imports", new
        {
            uploadId = upload.GetProperty("uploadId").GetString(),
            fileName = "r.json",
            kind = "results",
            columns = upload.GetProperty("columns").GetProperty("results"),
        });
        Assert.Equal("done", Text(await other.Ended(job), "state"));
        static string WithoutTimes(string text) => string.Join('\n', text.Split("\r\n").Select(l => l[..Math.Max(0, l.LastIndexOf(','))]));
        Assert.Equal(WithoutTimes(csv), WithoutTimes(await other.Http.GetStringAsync("/api/results.csv")));
    }

    [Fact]
    public async Task ResultsOverTimeAndOfTwoKeywordsAreCompared()
    {
        await _app.Import("results", "keyword,position,url,captured_at\nkayak,1,https://a.example/,2026-10-01\nkayak,2,https://b.example/,2026-10-01\nkayak,3,https://c.example/,2026-10-01\n");
        await _app.Import("results", "keyword,position,url,captured_at\nkayak,1,https://b.example/,2026-11-01\nkayak,2,https://a.example/,2026-11-01\nkayak,3,https://d.example/,2026-11-01\ncanoe,1,https://d.example/,2026-11-01\n");
        var keywords = Rows(await _app.Get("/api/keywords")).ToDictionary(k => Text(k, "phrase"), k => k.GetProperty("id").GetInt64());
        var lists = (await _app.Get($"/api/keywords/{keywords["kayak"]}/results")).GetProperty("lists");
        Assert.Equal(["2026-11-01", "2026-10-01"], lists.EnumerateArray().Select(l => Text(l, "capturedOn")));
        var (newer, older) = (lists[0].GetProperty("listId").GetInt64(), lists[1].GetProperty("listId").GetInt64());
        var changes = await _app.Get($"/api/keywords/{keywords["kayak"]}/results/changes?before={older}&after={newer}");
        Assert.Equal(
            [("https://b.example/", "rose"), ("https://a.example/", "fell"), ("https://d.example/", "came"), ("https://c.example/", "went")],
            changes.GetProperty("rows").EnumerateArray().Select(r => (Text(r, "url"), Text(r, "change"))));
        Assert.Equal(1, (await _app.Get($"/api/results/side-by-side?a={keywords["kayak"]}&b={keywords["canoe"]}")).GetProperty("overlap").GetInt32());
    }

    [Fact]
    public async Task AnEmptyListAFailedOneAndNoneAreThreeStates()
    {
        await _app.Import("keywords", "keyword\nnone\n");
        var upload = await Upload("r.json", """[{"keyword":"empty","results":[]},{"keyword":"full","results":[{"url":"https://a.example/"}]}]"""u8.ToArray());
        await Import(upload, "results", upload.GetProperty("columns").GetProperty("results"));
        Assert.Equal(
            [("empty", "empty"), ("full", "captured"), ("none", "none")],
            Rows(await _app.Get("/api/keywords?sort=phrase")).Select(k => (Text(k, "phrase"), Text(k, "capture"))));
        Assert.Contains("1 captured", (await _app.Get("/api/project")).GetProperty("track").GetRawText(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task StepsSurviveARestart()
    {
        var data = Directory.CreateTempSubdirectory("jade-steps-").FullName;
        using (var first = new Application(data, keepsData: true))
        {
            await first.Import("keywords", "keyword,volume\nkayak,100\ncanoe,5\n");
            await first.Send(HttpMethod.Post, "/api/lists", new { name = "All", selection = new { } });
            await first.Send(HttpMethod.Post, "/api/undo");
        }

        using var again = new Application(data);
        Assert.Equal([("Make the list “All”", true), ("Import of keywords.csv", false)],
            (await again.Get("/api/history")).EnumerateArray().Select(s => (Text(s, "label"), s.GetProperty("isUndone").GetBoolean())));
        await again.Send(HttpMethod.Post, "/api/redo");
        Assert.Equal(2, (await again.Get("/api/lists"))[0].GetProperty("keywords").GetInt32());
        await again.Send(HttpMethod.Post, "/api/undo");
        await again.Send(HttpMethod.Post, "/api/undo");
        Assert.Empty(Rows(await again.Get("/api/keywords")));
    }

    [Fact]
    public async Task WhatJobsDoIsToldAsItHappens() // WHATWG HTML, section 9.2: server-sent events
    {
        using var answer = await _app.Http.GetAsync("/api/jobs/events", HttpCompletionOption.ResponseHeadersRead);
        Assert.Equal("text/event-stream", answer.Content.Headers.ContentType!.MediaType);
        using var reader = new StreamReader(await answer.Content.ReadAsStreamAsync());
        Assert.Equal("event: jobs", await reader.ReadLineAsync());
        Assert.Equal("""data: {"ended":0,"jobs":[]}""", await reader.ReadLineAsync());
    }

    [Theory]
    [InlineData("PUT", "/api/settings/scan", """{"startUrl":"","gateway":"ftp://x","gatewayFor":"","allowPrivate":false,"ratePerSecond":1,"atOnce":1,"maxPages":1,"depth":"light","findBy":"links"}""", "gateway")]
    [InlineData("PUT", "/api/settings/capture", """{"depth":0,"pricePerRequest":0,"currency":"EUR","ratePerSecond":1,"atOnce":1,"freshDays":1}""", "depth")]
    [InlineData("PUT", "/api/settings/capture", """{"depth":10,"pricePerRequest":0,"currency":"euro","ratePerSecond":1,"atOnce":1,"freshDays":1}""", "currency")]
    [InlineData("PUT", "/api/services/search", """{"address":"no address"}""", "address")]
    [InlineData("POST", "/api/lists", """{"name":" "}""", "name")]
    [InlineData("POST", "/api/keywords/paste", """{"text":" \n ? \n"}""", "text")]
    [InlineData("POST", "/api/keywords/gather", """{"from":"ideas","seeds":[" "]}""", "seeds")]
    [InlineData("POST", "/api/captures/estimate", """{"selection":{},"freshDays":-1}""", "freshDays")]
    public async Task WhatIsWrongIsToldByField(string method, string path, string body, string field)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path) { Content = new StringContent(body, Encoding.UTF8, "application/json") };
        var answer = await _app.Http.SendAsync(request);
        var problem = JsonSerializer.Deserialize<JsonElement>(await answer.Content.ReadAsStringAsync());
        Assert.Equal((400, "/problems/invalid", field), ((int)answer.StatusCode, Text(problem, "type"), Text(problem, "field")));
    }

    [Theory]
    [InlineData("/api/keywords?wordsIn=%27%3B+drop+table+keyword%3B--&wordsOut=%25_&intents=x%27&variantKey=%27")]
    [InlineData("/api/keywords/modifiers?wordsIn=%00%F0%9F%9B%B6")]
    [InlineData("/api/pages?path=%5B%27*%3F&status=-1&minAge=2147483647")]
    [InlineData("/api/compare?rivals=%27,,http://%00,x&depth=-5")]
    public async Task AnyFilterIsAnswered(string path) => Assert.True((await _app.Http.GetAsync(path)).IsSuccessStatusCode);

    private async Task<JsonElement> Upload(string name, byte[] bytes)
    {
        using var content = new ByteArrayContent(bytes);
        content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        var answer = await _app.Http.PostAsync($"/api/uploads?fileName={name}", content);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return JsonSerializer.Deserialize<JsonElement>(await answer.Content.ReadAsStringAsync());
    }

    private async Task Import(JsonElement upload, string kind, object columns)
    {
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/imports", new { uploadId = upload.GetProperty("uploadId").GetString(), fileName = Text(upload, "fileName"), kind, columns });
        Assert.Equal(202, status);
        Assert.Equal("done", Text(await _app.Ended(job), "state"));
    }
}
