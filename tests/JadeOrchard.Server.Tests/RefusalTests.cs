using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace JadeOrchard.Server.Tests;

/// <summary>A grouped project with a plan and a brief, that nothing which is refused may change.</summary>
public sealed class RefusalProject : IAsyncLifetime
{
    public Application App { get; } = new();

    /// <summary>Ids by the name that addresses and bodies have in their place, such as {cluster}.</summary>
    public Dictionary<string, string> Ids { get; } = [];

    public async Task InitializeAsync()
    {
        await App.BringProject();
        await App.Regroup();
        Dictionary<string, long> clusters = Rows(await App.Get("/api/clusters")).ToDictionary(c => Text(c, "name"), c => Id(c));
        Ids["cluster"] = Json(clusters["kayak dry suit"]);
        Ids["rolling"] = Json(clusters["how to roll a kayak"]);
        Ids["topic"] = Json(Id(Rows(await App.Get("/api/topics"))[0]));
        Ids["page"] = Json(Id(Rows(await App.Get("/api/pages?search=dry-suits"))[0]));
        Ids["guide"] = Json(Id(Rows(await App.Get("/api/pages?search=guide"))[0]));
        Ids["paddles"] = Json(Id(Rows(await App.Get("/api/pages?search=paddles"))[0]));
        Ids["keyword"] = Json(Id(Rows(await App.Get("/api/keywords?search=kayak+dry+suit"))[0]));
        Ids["elsewhere"] = Json(Id(Rows(await App.Get("/api/keywords?search=how+to+roll"))[0]));
        Ids["conflict"] = Uri.EscapeDataString(Text(Rows(await App.Get("/api/findings?kind=conflict"))[0], "key"));
        Ids["finding"] = Uri.EscapeDataString(Text(Rows(await App.Get("/api/findings?kind=uncovered"))[0], "key"));
        Ids["list"] = Json(Id((await App.Send(HttpMethod.Post, "/api/lists", new { name = "Suits", selection = new { ids = new[] { long.Parse(Ids["keyword"], null) } } })).Body));
        Assert.Equal(200, (await App.Send(HttpMethod.Put, $"/api/page-map/{Ids["cluster"]}", new { pageId = long.Parse(Ids["page"], null) })).Status);
        Assert.Equal(200, (await App.Send(HttpMethod.Post, $"/api/page-map/{Ids["rolling"]}/planned", new { url = "/rolling", workingTitle = "Rolling" })).Status);
        Ids["planned"] = Json(Id(Rows(await App.Get("/api/pages?search=rolling"))[0]));
        Ids["step"] = Json(Id(Rows(await App.Get("/api/plan/steps"))[0]));
        Ids["brief"] = Json((await App.Send(HttpMethod.Post, "/api/briefs", new { clusterIds = new[] { clusters["kayak dry suit"] } })).Body.GetProperty("ids")[0].GetInt64());
        Ids["text"] = Json(Id((await App.Send(HttpMethod.Post, $"/api/briefs/{Ids["brief"]}/texts", new { text = "# Kayak dry suit" })).Body));
        Ids["upload"] = Text(await App.Upload("list.csv", "keyword,volume\nkayak,1\n"), "uploadId");
        Ids["steps"] = Text(await App.Upload("steps.csv", "what,who\nwrite,Ada\n"), "uploadId");
        Ids["empty"] = Text(await App.Upload("steps2.csv", "Step,Status\n"), "uploadId");
        Ids["job"] = Json(Id((await App.Get("/api/imports"))[0]));
        Ids["project"] = "project";
        Ids["long"] = new string('x', 25_000);

        static string Json(long id) => JsonSerializer.Serialize(id);
    }

    public Task DisposeAsync()
    {
        App.Dispose();
        return Task.CompletedTask;
    }

    public string Filled(string text) => Ids.Aggregate(text, (t, id) => t.Replace($"{{{id.Key}}}", id.Value, StringComparison.Ordinal));
}

/// <summary>What each endpoint refuses: with which status, about which field, in which words, and without changing anything.</summary>
public sealed class RefusalTests(RefusalProject project) : IClassFixture<RefusalProject>
{
    private readonly Application _app = project.App;
    private static readonly JsonNode Description = JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "api.json")))!;

    private static IEnumerable<(string Method, string Path, JsonNode Operation)> Operations => Description["paths"]!.AsObject()
        .SelectMany(p => p.Value!.AsObject().Select(o => (o.Key.ToUpperInvariant(), p.Key, o.Value!)));

    /// <summary>Method and address, body, status, field, and the beginning of what is said.</summary>
    private static readonly (string What, string Body, int Status, string? Field, string Says)[] Refused =
    [
        ("POST /api/session", """{"name":"Ada","password":"four words and some"}""", 409, null, "On this machine nobody has to sign in."),
        ("PUT /api/session/password", """{"current":"a","password":"four words and some"}""", 409, null, "On this machine nobody has to sign in."),
        ("POST /api/team", """{"name":" ","role":"planner","password":"four words and some"}""", 400, "name", "Write a name of 1 to 60 characters"),
        ("POST /api/team", """{"name":"Ada","role":"planner","password":"short"}""", 400, "password", "A password has at least 12 characters."),
        // The project and its settings.
        ("PUT /api/project", """{"name":"","host":"no host","country":"GB","language":"en","brandTerms":[]}""", 400, "host", "'no host' is not a domain."),
        ("PUT /api/project", """{"name":"","host":"fenwater.example","country":"G1","language":"en","brandTerms":[]}""", 400, "country", "'G1' is no country."),
        ("PUT /api/project", """{"name":"","host":"fenwater.example","country":"GB","language":"english","brandTerms":[]}""", 400, "language", "'english' is no language."),
        ("POST /api/demo", "", 409, null, "The demo goes into an empty project only"),
        ("PUT /api/settings/scan", """{"ratePerSecond":0}""", 400, "ratePerSecond", ""),
        ("PUT /api/settings/scan", """{"startUrl":"ftp://fenwater.example"}""", 400, "startUrl", ""),
        ("PUT /api/settings/scan", """{"gateway":"localhost"}""", 400, "gateway", ""),
        ("PUT /api/settings/capture", """{"depth":0}""", 400, "depth", ""),
        ("PUT /api/settings/capture", """{"pricePerRequest":-1}""", 400, "pricePerRequest", ""),
        ("PUT /api/settings/capture", """{"currency":"euro"}""", 400, "currency", ""),
        ("PUT /api/settings/curve", """{"values":[0.1,0.2],"isFitted":false}""", 400, "values", ""),
        ("PUT /api/settings/briefs", """{"pricePerDraft":-1}""", 400, "pricePerDraft", ""),
        ("PUT /api/settings/tracking", """["a b"]""", 400, "tracking", "'a b' is not a parameter name."),
        ("PUT /api/settings/intents", """[{"name":" ","intent":"commercial","words":["best"]}]""", 400, "name", "Give each rule a name"),
        ("PUT /api/services/nothing", """{"address":""}""", 404, null, "There is no service nothing."),
        ("PUT /api/services/search", """{"address":"ftp://search.example"}""", 400, "address", "'ftp://search.example' is no http or https address."),
        ("PUT /api/services/search", """{"address":"http://search.example","header":"a b"}""", 400, "header", "'a b' is no name of a header."),
        ("PUT /api/services/search", """{"address":"http://search.example","header":"X-Key","key":"a\nb"}""", 400, "key", "The key has characters that no header can carry."),

        // The site.
        ("POST /api/pages/paste", """{"text":"mailto:a@fenwater.example"}""", 400, "text", "There is no address of fenwater.example in it."),

        // Keywords and lists.
        ("PUT /api/keywords/{keyword}/choice", """{"field":"volume","sourceId":99}""", 400, "sourceId", "That source said nothing of this keyword."),
        ("PUT /api/keywords/{keyword}/value", """{"volume":-1}""", 400, "volume", "The volume must be from 0 to"),
        ("PUT /api/keywords/{keyword}/value", """{"difficulty":101}""", 400, "difficulty", "The difficulty must be from 0 to 100."),
        ("POST /api/keywords/paste", """{"text":" \n\t\n"}""", 400, "text", "There is no keyword in it."),
        ("POST /api/keywords/paste", """{"text":"kayak","listId":99}""", 400, "listId", "That list is gone."),
        ("POST /api/keywords/decline", """{"selection":{"ids":[{keyword}]},"reason":" "}""", 400, "reason", "Say in up to 300 characters why"),
        ("POST /api/keywords/gather", """{"from":"ideas","seeds":[" "]}""", 400, "seeds", ""),
        ("POST /api/lists", """{"name":" "}""", 400, "name", "Give it a name."),
        ("POST /api/lists", """{"name":"Suits"}""", 400, "name", "There is a list “Suits” already."),
        ("PUT /api/lists/{list}", """{"name":""}""", 400, "name", "Give it a name."),
        ("PUT /api/filters", """{"name":"","query":"a=b"}""", 400, "name", "Give it a name."),
        ("POST /api/lists/{list}/combine", """{"otherId":99,"how":"union"}""", 404, null, "There is no list 99."),

        // Results and captures.
        ("POST /api/captures/estimate", """{"selection":{},"freshDays":-1}""", 400, "freshDays", "Days must be from 0 to 3,650."),
        ("POST /api/captures/estimate/stages", """{"selection":{},"certainty":0.2}""", 400, "certainty", "The certainty must be 0.5 or more"),
        ("POST /api/captures", """{"selection":{}}""", 409, null, "No address is given for the search service."),
        ("POST /api/captures", """{"selection":{},"certainty":1}""", 400, "certainty", "The certainty must be 0.5 or more"),
        ("POST /api/captures/{job}/retry", "", 404, null, "There is no capture {job}."),

        // Clusters and topics.
        ("PUT /api/clusters/{cluster}", """{"name":"{long}"}""", 400, "name", "A name may have 200 characters."),
        ("PUT /api/clusters/{cluster}", """{"primaryKeywordId":{elsewhere}}""", 400, "primaryKeywordId", "That keyword is not in the cluster."),
        ("PUT /api/clusters/{cluster}", """{"name":"Suits","version":"of before"}""", 409, null, "This was changed meanwhile in another window"),
        ("POST /api/clusters/regroup", """{"depth":0,"minOverlap":1,"rule":"primary"}""", 400, "depth", ""),
        ("POST /api/clusters/regroup", """{"depth":10,"minOverlap":11,"rule":"primary"}""", 400, "minOverlap", ""),
        ("POST /api/clusters/move", """{"keywordIds":[]}""", 400, "keywordIds", "Choose the keywords to move."),
        ("POST /api/clusters/move", """{"keywordIds":[98,99]}""", 400, "keywordIds", "2 of the keywords no longer exist."),
        ("POST /api/clusters/move", """{"keywordIds":[{keyword}],"toClusterId":99}""", 404, null, "There is no cluster 99."),
        ("POST /api/clusters/{cluster}/merge/{cluster}", "", 400, "other", "A cluster cannot be merged with itself."),
        ("PUT /api/topics/{topic}", """{"name":"{long}"}""", 400, "name", "A name may have 200 characters."),
        ("PUT /api/topics/{topic}", """{"pillarId":99}""", 400, "pillarId", "That cluster is not in the topic."),
        ("POST /api/topics/move", """{"clusterIds":[]}""", 400, "clusterIds", "Choose the clusters to move."),
        ("POST /api/topics/move", """{"clusterIds":[{cluster}],"topicId":99}""", 404, null, "There is no topic 99."),
        ("POST /api/topics/gather?resolution=2", "", 400, "resolution", "The resolution must be above 0 and at most 1."),
        ("POST /api/topics/{topic}/subtopics", """{"phrase":" "}""", 400, "phrase", "Write what the subtopic is about"),

        // The page map.
        ("PUT /api/page-map/{cluster}", """{"pageId":99}""", 400, "pageId", "There is no page 99."),
        ("PUT /api/page-map/{cluster}", """{"pageId":{page},"version":"of before"}""", 409, null, "This was changed meanwhile in another window"),
        ("POST /api/page-map/{rolling}/planned", """{"url":"https://rival.example/a","workingTitle":""}""", 400, "url", "'https://rival.example/a' is not on fenwater.example."),
        ("POST /api/page-map/{rolling}/planned", """{"url":"/paddles","workingTitle":""}""", 400, "url", ""),
        ("POST /api/page-map/{rolling}/planned", """{"url":"/new","workingTitle":"","topicId":99}""", 400, "topicId", "There is no topic 99."),
        ("POST /api/page-map/{rolling}/decline", """{"reason":" "}""", 400, "reason", "Say why it is to have no page"),

        // Findings and conflicts.
        ("PUT /api/findings/{finding}", """{"state":"dismissed","reason":""}""", 400, "reason", "Say why it is left as it is"),
        ("PUT /api/findings/{finding}", """{"state":"waiting","reason":null}""", 400, "state", "A finding waits by itself"),
        ("PUT /api/findings/{finding}", """{"state":"accepted","reason":null,"version":"of before"}""", 409, null, "This was changed meanwhile in another window"),
        ("POST /api/findings/decide", """{"selection":{}}""", 400, "state", "Say what is to be changed"),
        ("POST /api/findings/decide", """{"selection":{},"assignee":"{long}"}""", 400, "assignee", "A name may have 200 characters."),
        ("POST /api/conflicts/{conflict}/decision", """{"decision":"redirect","keepPageId":{paddles}}""", 400, "keepPageId", "The page that is kept must be one of those"),
        ("POST /api/conflicts/{conflict}/decision", """{"decision":"leave","note":" "}""", 400, "note", "Say why it is left as it is"),

        // Search performance.
        ("POST /api/performance", """{"from":"2026-11-02","to":"2026-11-01"}""", 400, "to", ""),

        // The plan.
        ("POST /api/plan/steps", """{"kind":"refresh","pageId":99}""", 404, null, "There is no page 99."),
        ("POST /api/plan/steps", """{"kind":"redirect","pageId":{page}}""", 400, "otherPageId", "Choose the other page"),
        ("POST /api/plan/steps", """{"kind":"redirect","pageId":{page},"otherPageId":{page}}""", 400, "otherPageId", "The other page must be another one."),
        ("POST /api/plan/steps", """{"kind":"write","pageId":{page}}""", 400, "kind", "https://www.fenwater.example/dry-suits exists already."),
        ("POST /api/plan/steps/change", """{"ids":[{step}]}""", 400, "status", "Say what is to be changed"),
        ("POST /api/plan/steps/change", """{"ids":[{step}],"status":"live"}""", 400, "status", "A step goes live by itself"),
        ("POST /api/plan/steps/change", """{"ids":[{step}],"status":"dropped"}""", 400, "reason", "Say why it is dropped"),
        ("POST /api/plan/steps/change", """{"ids":[{step}],"hours":1001}""", 400, "hours", "Hours must be at most 1,000"),
        ("POST /api/plan/steps/change", """{"ids":[{step}],"due":"next week"}""", 400, "due", "'next week' is not a date."),
        ("POST /api/plan/steps/change", """{"ids":[{step}],"week":"48"}""", 400, "week", "'48' is not a date."),
        ("POST /api/plan/steps/{step}/comments", """{"says":" "}""", 400, "says", "A comment has 1 to"),
        ("POST /api/plan/check", "", 409, null, "No step is done and waits to be checked."),
        ("PUT /api/plan/settings", """{"people":[{"name":"","hoursPerWeek":8,"daysOff":[]}]}""", 400, "people", ""),
        ("PUT /api/plan/settings", """{"people":[{"name":"Ada","hoursPerWeek":200,"daysOff":[]}]}""", 400, "people", ""),
        ("POST /api/plan/import", """{"uploadId":"{steps}","apply":true}""", 400, "file", "The file has no column Step"),
        ("POST /api/plan/import", """{"uploadId":"../project.db","apply":true}""", 400, "uploadId", ""),

        // Briefs.
        ("POST /api/briefs", """{"clusterIds":[]}""", 400, "clusterIds", "Name 1 to"),
        ("POST /api/briefs", """{"clusterIds":[{cluster},99]}""", 404, null, "There is no cluster 99."),
        ("PUT /api/briefs/{brief}", """{"due":"soon"}""", 400, "due", "“soon” is no day"),
        ("PUT /api/briefs/{brief}", """{"edits":{"words":10}}""", 400, "edits", "The word count is 50 to 20,000."),
        ("PUT /api/briefs/{brief}", """{"edits":{"title":" "}}""", 400, "edits", "A title, a description, a heading"),
        ("PUT /api/briefs/{brief}", """{"state":"sent","version":"of before"}""", 409, null, "This was changed meanwhile in another window"),
        ("POST /api/briefs/{brief}/ignore-term", """{"term":" "}""", 400, "term", "Name the term"),
        ("POST /api/topics/{topic}/headings", """{"heading":""}""", 400, "heading", "Write a heading of up to 500 characters."),
        ("POST /api/clusters/{cluster}/headings", """{"heading":""}""", 400, "heading", "Write a heading of up to 500 characters."),
        ("POST /api/briefs/{brief}/check", "{}", 400, "text", "Paste a text, choose a file, or give an address."),
        ("POST /api/briefs/{brief}/check", """{"url":"mailto:a"}""", 400, "url", "“mailto:a” is no http or https address."),
        ("POST /api/briefs/{brief}/check", """{"fileName":"a.docx","content":"bm8gZmlsZQ=="}""", 400, "content", ""),
        ("POST /api/pages/{paddles}/check", """{"text":"Kayak paddles"}""", 409, null, "No cluster is assigned to"),
        ("POST /api/briefs/{brief}/texts", """{"text":"a","title":"{long}"}""", 400, "title", "Write a title of up to"),
        ("POST /api/briefs/{brief}/draft", """{"kind":"introduction"}""", 409, null, "No address is given for the drafting service."),
        ("PUT /api/briefs/{brief}/link", """{"days":0}""", 400, "days", "A link works for 1 to"),

        // Refresh.
        ("POST /api/refresh/work", """{"work":"mention","items":[]}""", 400, "items", "Choose at least one query."),
        ("POST /api/refresh/work", """{"work":"mention","items":[{"pageId":{page},"queryId":1}]}""", 409, null, "There is no search performance."),
        ("POST /api/refresh/irrelevant", """{"items":[]}""", 400, "items", "Choose at least one query."),
        ("POST /api/refresh/keywords", """{}""", 409, null, "No query fits, so that there is nothing to add."),
        ("POST /api/refresh/pages/{page}/rival-keywords", "", 409, null, ""),
        ("POST /api/changes", """{"page":"/nowhere","day":"2026-11-01","kind":"text"}""", 400, "page", "“/nowhere” is no page of the site."),
        ("POST /api/changes", """{"page":"/dry-suits","day":"2999-01-01","kind":"text"}""", 400, "day", "The day is in the future"),
        ("POST /api/changes", """{"page":"/dry-suits","day":"2026-11-01","kind":"text","note":"{long}"}""", 400, "note", "Write at most"),

        // Imports and jobs.
        ("POST /api/imports", """{"uploadId":"none","fileName":"a.csv","kind":"keywords","columns":{"keyword":0}}""", 400, "uploadId", ""),
        ("POST /api/imports", """{"uploadId":"{upload}","fileName":"a.csv","kind":"keywords","columns":{"volume":1}}""", 400, "columns", "Map a keyword column (required)."),
        ("POST /api/imports", """{"uploadId":"{upload}","fileName":"a.csv","kind":"keywords","columns":{"keyword":9}}""", 400, "columns", "The file has no column 10"),
        ("POST /api/jobs/{job}/resume", "", 409, null, ""),

        // Projects; see ProjectsTests for what is refused of those that are not worked on.
        ("POST /api/projects", """{"name":"","host":"no domain","country":"GB","language":"en"}""", 400, "host", "'no domain' is not a domain."),
        ("POST /api/projects", """{"name":"","host":"a.example","country":"Britain","language":"en"}""", 400, "country", "'Britain' is no country. Write its two letters, such as GB."),
        ("POST /api/projects", """{"name":"","host":"a.example","country":"GB","language":""}""", 400, "language", "'' is no language."),
        ("POST /api/projects", """{"name":"{long}","host":"a.example","country":"GB","language":"en"}""", 400, "name", "Write a name of at most 200 characters, on one line."),
        ("POST /api/projects", """{"name":"a\nb","host":"a.example","country":"GB","language":"en"}""", 400, "name", "Write a name of at most 200 characters, on one line."),
        ("POST /api/projects", """{"name":"","host":"a.example","country":"GB","language":"en","settingsOf":"none"}""", 400, "settingsOf", "There is no project “none” that is worked on."),
        ("POST /api/projects/import", "", 415, null, ""),
        ("POST /api/projects/{project}/duplicate", """{"name":" ","withData":true}""", 400, "name", "Give the copy a name, to tell it from this one."),
        ("POST /api/projects/{project}/duplicate", """{"name":"{long}","withData":false}""", 400, "name", "Write a name of at most 200 characters, on one line."),
        ("POST /api/projects/{project}/settings", """{"from":"none","parts":[]}""", 400, "parts", "Choose what to copy."),
        ("POST /api/projects/{project}/settings", """{"from":"project","parts":["effort"]}""", 400, "from", "Choose another project to copy from."),
        ("POST /api/projects/{project}/settings", """{"from":"none","parts":["effort"]}""", 400, "from", "There is no project “none” that is worked on."),
    ];

    /// <summary>Operations that change something and can refuse nothing but what has another shape or is not there; the tests below send them that.</summary>
    private static readonly string[] NothingElse =
    [
        "POST /api/undo", "POST /api/redo",
        "PUT /api/settings/brands", "PUT /api/settings/confirmed-brands", "DELETE /api/settings/intents", "PUT /api/settings/questions",
        "POST /api/keywords/tally", "POST /api/keywords/remove", "POST /api/keywords/take-back", "POST /api/keywords/merge",
        "DELETE /api/lists/{id}", "POST /api/lists/{id}/add", "POST /api/lists/{id}/remove", "DELETE /api/filters/{id}",
        "POST /api/compare/add", "POST /api/clusters/place", "DELETE /api/topics/subtopics/{id}", "POST /api/topics/{id}/read",
        "DELETE /api/page-map/{clusterId}", "POST /api/page-map/accept-clear",
        "DELETE /api/briefs/{id}", "POST /api/clusters/{id}/read-ranking", "DELETE /api/topics/{id}/headings", "DELETE /api/briefs/{id}/link",
        "DELETE /api/conflicts/{key}/decision", "DELETE /api/deliberate-pairs/{pageId}/{otherPageId}",
        "PUT /api/plan/parts/{id}", "DELETE /api/plan/parts/{id}", "POST /api/plan/steps/from-decisions", "POST /api/plan/links",
        "DELETE /api/changes/entered/{id}", "POST /api/uploads", "POST /api/scans", "POST /api/jobs/{id}/stop",
        "DELETE /api/projects/{project}", "POST /api/projects/{project}/archive", "POST /api/projects/{project}/take-back",
        "DELETE /api/session", "PUT /api/team/{id}", "DELETE /api/team/{id}",
        "POST /api/projects/{project}/backups", "DELETE /api/projects/{project}/backups/{backup}", "POST /api/projects/{project}/backups/{backup}/restore",
    ];

    public static TheoryData<int> Rows => [.. Enumerable.Range(0, Refused.Length)];

    [Theory]
    [MemberData(nameof(Rows))]
    public async Task IsRefusedInWordsAndChangesNothing(int row)
    {
        var (what, body, status, field, says) = Refused[row];
        var before = Contents.Of(_app.Folder);
        var (got, problem, text) = await Send(project.Filled(what), project.Filled(body));
        Assert.True(got == status, $"{what} {body}\n{got} {text}");
        Assert.Equal(field, problem.TryGetProperty("field", out var named) ? named.GetString() : null);
        Assert.StartsWith(project.Filled(says), Text(problem, "detail"), StringComparison.Ordinal);
        IsProse(Text(problem, "detail"));
        Contents.AreSame(before, Contents.Of(_app.Folder), what);
    }

    [Fact]
    public void EveryOperationThatChangesSomethingIsInTheTable()
    {
        var told = Refused.Select(r => r.What.Split('?')[0]).Distinct().ToList();
        var missing = Operations.Where(o => o.Method != "GET").Select(o => $"{o.Method} {o.Path}")
            .Where(o => !NothingElse.Contains(o) && !told.Exists(t => IsOf(t, o)));
        Assert.Equal([], missing);
        Assert.Equal([], NothingElse.Where(n => told.Exists(t => IsOf(t, n)) || !Operations.Any(o => $"{o.Method} {o.Path}" == n)));

        static bool IsOf(string told, string operation)
        {
            var (a, b) = (told.Split('/', ' '), operation.Split('/', ' '));
            return a.Length == b.Length && a.Zip(b).All(p => p.First == p.Second || (p.Second.StartsWith('{') && (p.First.StartsWith('{') || b[^2] == "services")));
        }
    }

    public static TheoryData<string> WithIds => [.. Operations.Where(o => o.Path.Contains('{', StringComparison.Ordinal)).Select(o => $"{o.Method} {o.Path}")];

    /// <summary>Lists of what belongs to something that is gone are empty, so that a screen which still shows it does not fail.</summary>
    private static readonly string[] EmptyWhereGone =
        ["GET /api/scans/{id}/changes", "GET /api/scans/{id}/unread", "GET /api/captures/{id}/failed", "GET /api/captures/{id}/expected", "GET /api/imports/{id}/rejected", "GET /api/clusters/{id}/brief"];

    [Theory]
    [MemberData(nameof(WithIds))]
    public async Task WhatIsNotThereIsNamed(string what)
    {
        var operation = Operations.Single(o => $"{o.Method} {o.Path}" == what);
        var address = operation.Path.Replace("{day}", "2026-11-01", StringComparison.Ordinal).Replace("{key}", "uncovered:987654", StringComparison.Ordinal).Replace("{name}", "nothing", StringComparison.Ordinal);
        // Not the same where there are two.
        var next = 987_654;
        address = Regex.Replace(address, @"\{\w+\}", _ => next++.ToString(System.Globalization.CultureInfo.InvariantCulture));
        var needed = (operation.Operation["parameters"]?.AsArray() ?? []).Where(p => (string)p!["in"]! == "query" && p["required"] is { } required && (bool)required)
            .Select(p => $"{(string)p!["name"]!}={Uri.EscapeDataString(Sample(p["schema"]!)?.ToString() ?? "a")}");
        var schema = operation.Operation["requestBody"]?["content"]?["application/json"]?["schema"];
        var before = Contents.Of(_app.Folder);
        var (status, problem, text) = await Send($"{operation.Method} {address}?{string.Join('&', needed)}", schema is null ? "" : Sample(schema)!.ToJsonString());
        if (EmptyWhereGone.Contains(what))
        {
            Assert.True(status == 200 && text is "[]" or """{"id":null}""", $"{what}\n{status} {text}");
            return;
        }

        // Without search performance there are no queries of a page, and that is what is told.
        if (what == "GET /api/refresh/pages/{id}/queries/{queryId}")
        {
            Assert.Equal(409, status);
            return;
        }

        Assert.True(status == 404, $"{what} {address}\n{status} {text}");
        Assert.Equal("/problems/not-found", Text(problem, "type"));
        IsProse(Text(problem, "detail"));
        Contents.AreSame(before, Contents.Of(_app.Folder), what);
    }

    public static TheoryData<string> WithBodies => [.. Operations.Where(o => o.Operation["requestBody"]?["content"]?["application/json"] is not null).Select(o => $"{o.Method} {o.Path}")];

    [Theory]
    [MemberData(nameof(WithBodies))]
    public async Task ABodyOfAnotherShapeIsRefusedByTheNameOfWhatIsWrong(string what)
    {
        var operation = Operations.Single(o => $"{o.Method} {o.Path}" == what);
        var address = Regex.Replace(operation.Path.Replace("{name}", "search", StringComparison.Ordinal), @"\{\w+\}", "1");
        var schema = Resolved(operation.Operation["requestBody"]!["content"]!["application/json"]!["schema"]!);
        var before = Contents.Of(_app.Folder);
        await IsInvalid("{\"", null);
        await IsInvalid("\"text\"", null);
        if (schema["properties"] is JsonObject properties)
        {
            await IsInvalid("[]", null);
            var right = (JsonObject)Sample(schema)!;
            await IsInvalid(With(right, "nonsense", JsonValue.Create(1)), "nonsense");
            // A dictionary takes any name.
            foreach (var (name, _) in properties.Where(p => p.Value!["additionalProperties"] is null))
                await IsInvalid(With(right, name, new JsonObject { ["nonsense"] = 1 }), name);
            foreach (var name in schema["required"]?.AsArray().Select(r => (string)r!) ?? [])
                await IsInvalid(With(right, name, null), name);
        }

        Contents.AreSame(before, Contents.Of(_app.Folder), what);

        async Task IsInvalid(string body, string? name)
        {
            var (status, problem, text) = await Send($"{operation.Method} {address}", body);
            Assert.True(status == 400 && Text(problem, "type") == "/problems/invalid", $"{what} {body}\n{status} {text}");
            IsProse(Text(problem, "detail"));
            if (name is not null)
                Assert.Contains(name, text, StringComparison.OrdinalIgnoreCase);
        }
    }

    public static TheoryData<string> WithQueries => [.. Operations.Where(o => (o.Operation["parameters"]?.AsArray() ?? []).Any(p => (string)p!["in"]! == "query")).Select(o => $"{o.Method} {o.Path}")];

    [Theory]
    [MemberData(nameof(WithQueries))]
    public async Task AnAddressWithAValueOfAnotherKindIsRefusedByItsName(string what)
    {
        var operation = Operations.Single(o => $"{o.Method} {o.Path}" == what);
        var address = Regex.Replace(operation.Path, @"\{\w+\}", "1");
        foreach (var parameter in operation.Operation["parameters"]!.AsArray().Where(p => (string)p!["in"]! == "query"))
        {
            var name = (string)parameter!["name"]!;
            var types = Types(Resolved(parameter["schema"]!));
            if (types.Contains("string") || types.Contains("array"))
                continue;
            var others = operation.Operation["parameters"]!.AsArray()
                .Where(p => (string)p!["in"]! == "query" && (string)p["name"]! != name && p["required"] is { } required && (bool)required)
                .Select(p => $"&{(string)p!["name"]!}={Sample(p["schema"]!)}");
            var (status, problem, text) = await Send($"{operation.Method} {address}?{name}=nonsense{string.Concat(others)}", "");
            Assert.True(status == 400, $"{what} {name}\n{status} {text}");
            Assert.Contains(name, text, StringComparison.OrdinalIgnoreCase);
            IsProse(Text(problem, "detail"));
        }
    }

    [Fact]
    public async Task AnotherMethodIsRefusedAtEachAddress()
    {
        foreach (var path in Operations.GroupBy(o => o.Path))
        {
            using var request = new HttpRequestMessage(HttpMethod.Patch, Regex.Replace(path.Key, @"\{\w+\}", "1"));
            using var answer = await _app.Http.SendAsync(request);
            Assert.True((int)answer.StatusCode == 405, $"{path.Key}: {(int)answer.StatusCode}");
            IsProse(Text(await answer.Content.ReadFromJsonAsync<JsonElement>(), "detail"));
        }
    }

    private async Task<(int Status, JsonElement Problem, string Text)> Send(string what, string body)
    {
        var space = what.IndexOf(' ', StringComparison.Ordinal);
        using var request = new HttpRequestMessage(new HttpMethod(what[..space]), what[(space + 1)..]);
        if (body.Length > 0)
            request.Content = new StringContent(body, Encoding.UTF8, "application/json");
        using var answer = await _app.Http.SendAsync(request);
        var text = await answer.Content.ReadAsStringAsync();
        return ((int)answer.StatusCode, text.StartsWith('{') ? JsonSerializer.Deserialize<JsonElement>(text) : default, text);
    }

    /// <summary>Whole sentences, without names of classes or of what went on inside.</summary>
    private static void IsProse(string detail)
    {
        Assert.Matches(@"^\S[\s\S]* [\s\S]*[.!?”]$", detail);
        Assert.DoesNotMatch(@"System\.|Exception|JadeOrchard|\bnull\b|\$\.", detail);
    }

    private static string With(JsonObject body, string name, JsonNode? value)
    {
        var other = (JsonObject)body.DeepClone();
        if (value is null)
            other.Remove(name);
        else
            other[name] = value.DeepClone();
        return other.ToJsonString();
    }

    private static JsonNode Resolved(JsonNode schema) =>
        schema["$ref"] is { } reference ? Resolved(Description["components"]!["schemas"]![((string)reference!).Split('/')[^1]]!)
        : schema["oneOf"] is JsonArray choices ? Resolved(choices.First(c => (string?)c!["type"] != "null")!)
        : schema;

    private static List<string> Types(JsonNode schema) =>
        schema["enum"] is not null ? ["enum"]
        : schema["format"] is { } format && (string)format! is "date" or "date-time" ? ["date"]
        : schema["type"] is JsonArray several ? [.. several.Select(t => (string)t!).Where(t => t is not ("null" or "string") || several.Count <= 2 && !several.Any(o => (string)o! is "integer" or "number"))]
        : [(string?)schema["type"] ?? "object"];

    /// <summary>A value of a schema with what it requires and nothing else.</summary>
    private static JsonNode? Sample(JsonNode of)
    {
        var schema = Resolved(of);
        if (schema["enum"] is JsonArray names)
            return names[0]!.DeepClone();
        if ((string?)schema["format"] is "date")
            return "2026-11-01";
        var types = schema["type"] is JsonArray several ? [.. several.Select(t => (string)t!)] : new List<string> { (string?)schema["type"] ?? "object" };
        return types.Contains("integer") || types.Contains("number") ? JsonValue.Create(1)
            : types.Contains("boolean") ? JsonValue.Create(true)
            : types.Contains("string") ? JsonValue.Create("a")
            : types.Contains("array") ? new JsonArray(schema["items"] is { } items ? Sample(items) : null)
            : new JsonObject((schema["required"]?.AsArray() ?? []).Select(r => KeyValuePair.Create((string)r!, Sample(schema["properties"]![(string)r!]!))));
    }
}
