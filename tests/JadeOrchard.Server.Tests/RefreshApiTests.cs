using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>What the site is found for, over HTTP: from imported search performance to steps, keywords and files.</summary>
public sealed class RefreshApiTests : IDisposable
{
    private static readonly DateOnly Last = new(2026, 11, 10);

    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task WithoutSearchPerformanceItSaysWhy()
    {
        await _app.BringProject();
        var state = await _app.Get("/api/refresh/state");
        Assert.Equal(("notConnected", false), (Text(state, "kind"), state.GetProperty("hasRows").GetBoolean()));
        Assert.Empty(Rows(await _app.Get("/api/refresh/queries")));
        Assert.Equal("no performance yet", Text(Track(await _app.Get("/api/project")), "says"));
        var page = Id(Rows(await _app.Get("/api/pages")).First());
        Assert.Equal(409, (await _app.Send(HttpMethod.Get, $"/api/refresh/pages/{page}")).Status);
    }

    [Fact]
    public async Task QueriesAreMarkedAndFilteredInBothViews()
    {
        await Project();
        var missing = Rows(await _app.Get("/api/refresh/queries?marks=not-mentioned")).Single();
        Assert.Equal(("dry suit repair", 0), (Text(missing, "query"), missing.GetProperty("mentions").GetInt32()));
        Assert.Equal(["not-mentioned", "below-page-one", "under-clicked"], missing.GetProperty("marks").EnumerateArray().Select(m => m.GetString()));
        // 28 days of 40 impressions at position 12, within reach the end of page one; a month has 30.4375 days.
        var curve = (await _app.Get("/api/curve")).GetProperty("used");
        Assert.Equal(40 * 30.4375 * (curve[9].GetDouble() - curve[11].GetDouble()), missing.GetProperty("atStake").GetDouble(), 6);

        Assert.Equal(["how to wash a dry suit"], await Queries("marks=question"));
        Assert.Equal(["dry suit repair", "how to wash a dry suit"], (await Queries("in=dry&folder=/guide&sort=query")));
        Assert.Equal(["dry suit repair"], await Queries("in=dry&out=wash&folder=guide"));
        // The brand is no query to win.
        Assert.Equal(["fenwater"], (await Queries("search=fenwater.example/guide&withoutMarks=not-mentioned&in=fenwater")));
        Assert.Equal(400, (await _app.Send(HttpMethod.Get, "/api/refresh/queries?marks=nonsense")).Status);

        var guide = Rows(await _app.Get("/api/refresh/pages?search=/guide")).Single();
        Assert.Equal((3, 1, 1, 1), (guide.GetProperty("queries").GetInt32(), guide.GetProperty("notMentioned").GetInt32(), guide.GetProperty("belowPageOne").GetInt32(), guide.GetProperty("questions").GetInt32()));
        Assert.Equal(28, guide.GetProperty("anonymousClicks").GetInt64());
        Assert.Equal("never", Text(Rows(await _app.Get("/api/refresh/pages?search=paddles")).Single(), "state"));
        Assert.Equal(["https://www.fenwater.example/guide"], Rows(await _app.Get("/api/refresh/pages?marks=question")).Select(p => Text(p, "url")));
    }

    [Fact]
    public async Task AQueryBecomesAPartOfItsPagesStepOnceAndIsFoundWhenThePageMentionsIt()
    {
        await Project();
        var item = Item(Rows(await _app.Get("/api/refresh/queries?marks=not-mentioned")).Single());
        foreach (var _ in new[] { 1, 2 })
            Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/refresh/work", new { work = "mention", items = new[] { item } })).Status);
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/refresh/work", new { work = "title", items = new[] { item } })).Status);
        var step = Rows(await _app.Get("/api/plan/steps")).Single();
        Assert.Equal(["Mention “dry suit repair”", "Change the title for “dry suit repair”"], step.GetProperty("parts").EnumerateArray().Select(p => Text(p, "says")));
        Assert.StartsWith("shown 1,120 times at position 12.0, never mentioned; closest passage: “", Text(step.GetProperty("parts")[0], "because"), StringComparison.Ordinal);

        // What a page mentions follows from its text at once.
        await _app.Import("pages", "url,title,text\nhttps://www.fenwater.example/guide,A guide to suits,\"A dry suit keeps water out. Dry suit repair takes an hour. How to wash a dry suit: with cold water.\"\n");
        Assert.Empty(Rows(await _app.Get("/api/refresh/queries?marks=not-mentioned")));
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Single(Rows(await _app.Get("/api/refresh/queries?marks=not-mentioned")));
        Assert.Equal(404, (await _app.Send(HttpMethod.Post, "/api/refresh/work", new { work = "mention", items = new[] { new { pageId = 1, queryId = 99_999 } } })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/refresh/work", new { work = "mention", items = Array.Empty<object>() })).Status);
    }

    [Fact]
    public async Task IgnoredQueriesAreLeftOutAndComeBackByUndo()
    {
        await Project();
        var item = Item(Rows(await _app.Get("/api/refresh/queries?marks=question")).Single());
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/refresh/irrelevant", new { items = new[] { item }, everywhere = true })).Status);
        Assert.Empty(await Queries("marks=question"));
        Assert.Equal(["how to wash a dry suit"], await Queries("irrelevant=true"));
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(["how to wash a dry suit"], await Queries("marks=question"));
        await _app.Send(HttpMethod.Post, "/api/redo");
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/refresh/irrelevant", new { items = new[] { item }, isIrrelevant = false })).Status);
        Assert.Equal(["how to wash a dry suit"], await Queries("marks=question"));
    }

    [Fact]
    public async Task QueriesBecomeKeywordsWithTheirCounts()
    {
        await Project();
        var (status, done) = await _app.Send(HttpMethod.Post, "/api/refresh/keywords", new { });
        Assert.Equal((200, 3), (status, (int)done.GetProperty("new").GetInt64()));
        var keyword = (await _app.Get($"/api/keywords/{Id(Rows(await _app.Get("/api/keywords?search=repair")).Single())}")).GetProperty("sources")[0];
        Assert.Equal((0, 2_240), ((int)keyword.GetProperty("clicks").GetInt64(), (int)keyword.GetProperty("impressions").GetInt64()));
    }

    [Fact]
    public async Task AnotherPagesQueryIsMarkedWhenItsClusterIsAssigned()
    {
        await Project();
        Assert.Empty(await Queries("marks=other-page"));
        await _app.Regroup();
        var suits = Id(Rows(await _app.Get("/api/clusters?search=suit")).Single());
        await _app.Send(HttpMethod.Put, $"/api/page-map/{suits}", new { pageId = Id(Rows(await _app.Get("/api/pages?search=/guide")).Single()) });
        var row = Rows(await _app.Get("/api/refresh/queries?marks=other-page")).Single();
        Assert.Equal(("kayak dry suit", "https://www.fenwater.example/guide", false), (Text(row, "query"), Text(row, "homeUrl"), row.GetProperty("isHome").GetBoolean()));
    }

    [Fact]
    public async Task PagesThatFadeSayBecauseOfWhat()
    {
        await Project();
        var fading = Rows(await _app.Get("/api/refresh/pages?isFading=true")).Single();
        Assert.Equal("https://www.fenwater.example/dry-suits", Text(fading, "url"));
        Assert.Equal("1 page fading", Text(Track(await _app.Get("/api/project")), "says"));
        var detail = await _app.Get($"/api/refresh/pages/{Id(fading)}");
        var lost = detail.GetProperty("fading");
        // 10 clicks a day became 4 because its position fell from 2 to 6; the others get as many as before.
        Assert.Equal((280, 112), (lost.GetProperty("fading").GetProperty("before").GetInt32(), lost.GetProperty("fading").GetProperty("now").GetInt32()));
        Assert.Equal(-168, lost.GetProperty("byPosition").GetDouble() + lost.GetProperty("bySearches").GetDouble() + lost.GetProperty("byClickRate").GetDouble(), 6);
        Assert.True(lost.GetProperty("byPosition").GetDouble() < -100);
        Assert.Equal("kayak dry suit", Text(lost.GetProperty("queries")[0], "query"));
        Assert.Equal(1, detail.GetProperty("positions").EnumerateArray().Single(p => Text(p, "says") == "4–10").GetProperty("queries").GetInt32());
    }

    [Fact]
    public async Task MissingDaysAreGapsAndNoLoss()
    {
        await Project(missing: day => Last.DayNumber - day.DayNumber is >= 5 and < 15);
        var state = await _app.Get("/api/refresh/state");
        Assert.Equal(("partial", 10), (Text(state, "kind"), state.GetProperty("missingDays").GetInt32()));
        var days = (await _app.Get($"/api/refresh/pages/{Id(Rows(await _app.Get("/api/refresh/pages?search=/guide")).Single())}")).GetProperty("days");
        Assert.Equal(10, days.EnumerateArray().Count(d => d.GetProperty("clicks").ValueKind == JsonValueKind.Null));
        Assert.Equal(2, days.EnumerateArray().Count(d => d.GetProperty("isPreliminary").GetBoolean()));
        Assert.Empty(await Queries("marks=falling&folder=/guide"));
    }

    [Fact]
    public async Task WhatIsShownCanBeTakenAway()
    {
        await Project();
        var csv = await _app.Http.GetStringAsync("/api/refresh/queries.csv?marks=not-mentioned");
        Assert.Contains("https://www.fenwater.example/guide,dry suit repair,0,1120,", csv, StringComparison.Ordinal);
        Assert.Contains("not-mentioned | below-page-one | under-clicked", csv, StringComparison.Ordinal);
        using var workbook = new ZipArchive(new MemoryStream(await _app.Http.GetByteArrayAsync("/api/refresh/pages.xlsx")));
        Assert.Contains(workbook.Entries, e => e.FullName == "xl/workbook.xml");
        Assert.Equal(404, (await _app.Send(HttpMethod.Get, "/api/refresh/queries.doc")).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Get, "/api/refresh/queries.csv?marks=nonsense")).Status);
        var guide = Id(Rows(await _app.Get("/api/refresh/pages?search=/guide")).Single());
        Assert.Equal("how to wash a dry suit\n", await _app.Http.GetStringAsync($"/api/refresh/pages/{guide}/questions.txt"));
    }

    [Theory]
    [InlineData("to=9999-12-31")]
    [InlineData("from=0001-01-01&to=0001-01-01")]
    [InlineData("from=9999-12-31&to=0001-01-01&yearBefore=true")]
    [InlineData("days=2000000000&yearBefore=true")]
    [InlineData("days=-5&olderThan=2000000000")]
    public async Task AnyDaysAreAnsweredFromThoseThatAreKnown(string asked)
    {
        await Project();
        var (status, page) = await _app.Send(HttpMethod.Get, $"/api/refresh/queries?{asked}");
        Assert.Equal(200, status);
        var period = page.GetProperty("period");
        Assert.True(string.CompareOrdinal(Text(period, "first"), Text(period, "from")) <= 0 && string.CompareOrdinal(Text(period, "from"), Text(period, "to")) <= 0 && string.CompareOrdinal(Text(period, "to"), Text(period, "last")) <= 0);
    }

    [Fact]
    public async Task WithoutItsSearchPerformanceNothingIsLeftAndRedoBringsItBack()
    {
        await Project();
        var before = await Queries("sort=query");
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/undo")).Status);
        Assert.Empty(await Queries("sort=query"));
        Assert.False((await _app.Get("/api/refresh/state")).GetProperty("hasRows").GetBoolean());
        await _app.Send(HttpMethod.Post, "/api/redo");
        Assert.Equal(before, await Queries("sort=query"));
        Assert.Single(Rows(await _app.Get("/api/refresh/queries?marks=not-mentioned")));
    }

    private static JsonElement Track(JsonElement project) => project.GetProperty("track").EnumerateArray().Single(t => Text(t, "stage") == "refresh");

    private static object Item(JsonElement row) => new { pageId = Id(row, "pageId"), queryId = Id(row, "queryId") };

    private async Task<List<string>> Queries(string filter) => [.. Rows(await _app.Get($"/api/refresh/queries?{filter}")).Select(r => Text(r, "query"))];

    /// <summary>The usual project with eight weeks of search performance: a page that fades, and one that is shown for what it does not mention.</summary>
    [Fact]
    public async Task AnAssignedPageShowsWhereItHasItsKeywordsItsTypeAndWhoTookItsPlace()
    {
        await Project();
        await _app.Import("pages", "url,title,h1,text\nhttps://www.fenwater.example/dry-suits,Dry suits for kayaking,Dry suits,\"Every kayak dry suit that we stock. A kayak dry suit keeps you warm.\"\n");
        await _app.Import("keywords", "keyword,intent\nkayak dry suit,commercial\ndry suit for kayaking,commercial\n");
        await _app.Import("results", "keyword,position,url,title,captured_at\nkayak dry suit,1,https://www.fenwater.example/dry-suits,T,2026-09-01\nkayak dry suit,2,https://a2.example/x,T,2026-09-01\n");
        await _app.Regroup();
        var cluster = Rows(await _app.Get("/api/clusters")).Single(c => Text(c, "name") == "kayak dry suit").GetProperty("id").GetInt64();
        var page = Id(Rows(await _app.Get("/api/pages?search=dry-suits")).Single());
        Assert.Equal(200, (await _app.Send(HttpMethod.Put, $"/api/page-map/{cluster}", new { pageId = page })).Status);

        Assert.Equal(["https://www.fenwater.example/dry-suits"], Rows(await _app.Get("/api/refresh/pages?pageType=commercial")).Select(p => Text(p, "url")));
        Assert.Empty(Rows(await _app.Get("/api/refresh/queries?pageType=informational")));
        var detail = await _app.Get($"/api/refresh/pages/{page}");
        var placed = detail.GetProperty("placement").EnumerateArray().First();
        // Twice in the text, and with all its words in the title.
        Assert.Equal(("kayak dry suit", 3), (Text(placed, "phrase"), placed.GetProperty("mentions").GetInt32()));
        Assert.Contains("text", placed.GetProperty("places").EnumerateArray().Select(p => p.GetString()));
        var taken = detail.GetProperty("fading").GetProperty("tookPlace").EnumerateArray().ToList();
        Assert.Contains(taken, t => Text(t, "url").Contains("a1.example", StringComparison.Ordinal) && t.GetProperty("oursBefore").GetInt32() == 1);
        Assert.DoesNotContain(taken, t => Text(t, "url").Contains("fenwater", StringComparison.Ordinal));
        // It is a page gap, as it has a cluster.
        Assert.Contains(Rows(await _app.Get("/api/findings?sign=fading")), f => f.GetProperty("pages").EnumerateArray().Any(p => Text(p, "url").EndsWith("/dry-suits", StringComparison.Ordinal)));
        Assert.NotEmpty(detail.GetProperty("rivals").EnumerateArray());
        // No rankings service is set up.
        Assert.Equal(409, (await _app.Send(HttpMethod.Post, $"/api/refresh/pages/{page}/rival-keywords")).Status);
    }

    /// <summary>A link to a row is followed to wherever it stands, in each list that a screen shows in parts.</summary>
    [Fact]
    public async Task EveryListSaysWhereARowStands()
    {
        await Project();
        await _app.Regroup();
        foreach (var cluster in Rows(await _app.Get("/api/clusters")))
        {
            await _app.Send(HttpMethod.Post, $"/api/page-map/{Id(cluster)}/planned", new { url = $"/new-{Id(cluster)}", workingTitle = "New" });
            await _app.Send(HttpMethod.Post, "/api/briefs", new { clusterIds = new[] { Id(cluster) } });
        }

        foreach (var page in Rows(await _app.Get("/api/pages")).Where(p => Text(p, "kind") == "existing"))
            await _app.Send(HttpMethod.Post, "/api/changes", new { page = Text(page, "url"), day = Last.AddDays(-29).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), kind = "title", note = "" });
        foreach (var (list, id) in new[]
        {
            ("keywords", "id"), ("keywords?search=suit&sort=volume", "id"), ("pages", "id"), ("pages?sort=url&descending=true", "id"), ("clusters", "id"), ("clusters?sort=difficulty", "id"), ("topics", "id"), ("findings", "key"),
            ("findings?anyState=true&sort=demand", "key"), ("plan/steps", "id"), ("briefs", "id"), ("changes", "id"), ("refresh/queries", "id"), ("refresh/queries?sort=clicks", "id"), ("refresh/pages", "id"), ("ranks?by=page", "id"),
        })
        {
            var (path, more) = ($"/api/{list}", list.Contains('?', StringComparison.Ordinal) ? '&' : '?');
            var rows = Rows(await _app.Get(path));
            Assert.True(rows.Count > 1, $"{list}: {rows.Count} rows");
            for (var i = 0; i < rows.Count; i++)
                Assert.Equal((list, i), (list, (await PlaceOf(rows[i].GetProperty(id).ToString(), "limit=1")).GetInt32()));
            Assert.Equal((list, JsonValueKind.Null), (list, (await PlaceOf("none of them", "")).ValueKind));

            async Task<JsonElement> PlaceOf(string row, string range) => (await _app.Get($"{path}{more}find={Uri.EscapeDataString(row)}&{range}")).GetProperty("tally").GetProperty("place");
        }
    }

    private async Task Project(Func<DateOnly, bool>? missing = null)
    {
        await _app.BringProject();
        await _app.Import("pages", "url,title,text\nhttps://www.fenwater.example/guide,A guide to suits,\"A dry suit keeps water out. Here is how to wash a dry suit: with cold water. We are Fenwater.\"\n");
        var rows = new StringBuilder("query,page,date,clicks,impressions,position\n");
        for (var back = 55; back >= 0; back--)
        {
            var day = Last.AddDays(-back);
            if (missing?.Invoke(day) == true)
                continue;
            var isNow = back < 28;
            void Add(string query, string page, int clicks, int impressions, double position) =>
                rows.AppendLine(CultureInfo.InvariantCulture, $"{query},https://www.fenwater.example/{page},{day:yyyy-MM-dd},{clicks},{impressions},{position}");
            Add("kayak dry suit", "dry-suits", isNow ? 4 : 10, 80, isNow ? 6 : 2);
            Add("dry suit repair", "guide", 0, 40, 12);
            Add("how to wash a dry suit", "guide", 8, 80, 3);
            Add("fenwater", "guide", 20, 40, 1);
            Add("", "guide", 1, 10, 5);
        }

        await _app.Import("performance", rows.ToString());
    }
}
