namespace JadeOrchard.Server.Tests;

/// <summary>Topics, declined and new keywords, and the further settings of a grouping, over HTTP.</summary>
public sealed class TopicApiTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task TopicsAreGatheredAndKeepWhatThePlannerDecides()
    {
        await _app.BringProject();
        Assert.Equal(409, (await _app.Send(HttpMethod.Post, "/api/topics/gather")).Status);
        await _app.Regroup();
        var before = Rows(await _app.Get("/api/topics"));
        Assert.Equal(3, before.Count);
        var clusters = Rows(await _app.Get("/api/clusters"));
        Assert.All(clusters, c => Assert.Equal(Text(c, "name"), Text(c, "topicName")));
        var (suits, paddles, rolling) = (Id(before[0]), Id(before[1]), Id(clusters[2]));

        Assert.Equal(204, (await _app.Send(HttpMethod.Put, $"/api/topics/{suits}", new { name = "What to wear" })).Status);
        Assert.Equal(200, (await _app.Send(HttpMethod.Post, "/api/topics/move", new { clusterIds = new[] { rolling }, topicId = suits })).Status);
        var detail = await _app.Get($"/api/topics/{suits}");
        Assert.Equal(("What to wear", 2, 2400), (Text(detail.GetProperty("topic"), "name"), detail.GetProperty("topic").GetProperty("clusters").GetInt32(), detail.GetProperty("topic").GetProperty("demand").GetInt32()));
        Assert.Equal(2, Rows(await _app.Get("/api/topics")).Count);
        Assert.Equal(400, (await _app.Send(HttpMethod.Put, $"/api/topics/{paddles}", new { pillarId = rolling })).Status);
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, $"/api/topics/{suits}", new { pillarId = rolling })).Status);
        Assert.Equal("how to roll a kayak", Text((await _app.Get($"/api/topics/{suits}")).GetProperty("clusters")[0], "name"));

        // Gathering again, by a regrouping or alone, leaves what was decided.
        await _app.Regroup();
        Assert.Equal(204, (await _app.Send(HttpMethod.Post, "/api/topics/gather")).Status);
        detail = await _app.Get($"/api/topics/{suits}");
        Assert.Equal(["how to roll a kayak", "kayak dry suit"], detail.GetProperty("clusters").EnumerateArray().Select(c => Text(c, "name")));

        for (var i = 0; Text((await _app.Send(HttpMethod.Post, "/api/undo")).Body, "label") != "Rename a topic"; i++)
            Assert.True(i < 6);
        Assert.Equal(before.Select(t => t.GetRawText()), Rows(await _app.Get("/api/topics")).Select(t => t.GetRawText()));
    }

    [Fact]
    public async Task ASubtopicWaitsForItsKeyword()
    {
        await _app.BringProject();
        await _app.Regroup();
        var topic = Id(Rows(await _app.Get("/api/topics"))[0]);
        Assert.Equal(204, (await _app.Send(HttpMethod.Post, $"/api/topics/{topic}/subtopics", new { phrase = "Can a dry suit leak?", note = "a call in May" })).Status);
        Assert.Equal(409, (await _app.Send(HttpMethod.Post, $"/api/topics/{topic}/subtopics", new { phrase = "can a dry suit leak" })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, $"/api/topics/{topic}/subtopics", new { phrase = " ? " })).Status);
        Assert.Equal(1, Rows(await _app.Get("/api/topics"))[0].GetProperty("waiting").GetInt32());
        // The keyword comes, with results like those of the cluster, and is placed.
        await _app.Import("keywords", "keyword,volume\ncan a dry suit leak,20\n");
        await _app.Import("results", "keyword,position,url,title\n" + string.Concat(Enumerable.Range(1, 5).Select(i => $"can a dry suit leak,{i},https://a{i}.example/,T\n")));
        Assert.Equal(1, (await _app.Send(HttpMethod.Post, "/api/clusters/place", new { })).Body.GetProperty("placed").GetInt32());
        var subtopic = (await _app.Get($"/api/topics/{topic}")).GetProperty("subtopics")[0];
        Assert.Equal(("Can a dry suit leak?", "a call in May", "kayak dry suit"), (Text(subtopic, "phrase"), Text(subtopic, "note"), Text(subtopic, "clusterName")));
        Assert.Equal(0, Rows(await _app.Get("/api/topics"))[0].GetProperty("waiting").GetInt32());
        Assert.Equal(204, (await _app.Send(HttpMethod.Delete, $"/api/topics/subtopics/{Id(subtopic)}")).Status);
        Assert.Equal(404, (await _app.Send(HttpMethod.Delete, $"/api/topics/subtopics/{Id(subtopic)}")).Status);
    }

    [Fact]
    public async Task DeclinedKeywordsStayOutOfGroupingsUntilTheyAreTakenBack()
    {
        await _app.BringProject();
        await _app.Regroup();
        var roll = Rows(await _app.Get("/api/keywords?search=roll")).Single();
        var selection = new { ids = new[] { Id(roll) } };
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/keywords/decline", new { selection, reason = " " })).Status);
        Assert.Equal(1, (await _app.Send(HttpMethod.Post, "/api/keywords/decline", new { selection, reason = "no lessons here" })).Body.GetProperty("count").GetInt32());
        Assert.Equal(["kayak dry suit", "kayak paddle"], Rows(await _app.Get("/api/clusters")).Select(c => Text(c, "name")));
        await _app.Regroup();
        Assert.Equal(2, Rows(await _app.Get("/api/clusters")).Count);
        Assert.Equal(0, (await _app.Get("/api/clusters/new-keywords")).GetProperty("left").GetInt32());
        Assert.Equal("no lessons here", Text(Rows(await _app.Get("/api/keywords?progress=declined")).Single(), "declinedFor"));
        Assert.DoesNotContain(Rows(await _app.Get("/api/keywords?progress=free")), k => Id(k) == Id(roll));

        Assert.Equal(1, (await _app.Send(HttpMethod.Post, "/api/keywords/take-back", selection)).Body.GetProperty("count").GetInt32());
        Assert.Equal(1, (await _app.Get("/api/clusters/new-keywords")).GetProperty("left").GetInt32());
        await _app.Regroup();
        Assert.Equal(3, Rows(await _app.Get("/api/clusters")).Count);
    }

    [Fact]
    public async Task NewKeywordsArePlacedWithoutDisturbingTheClusters()
    {
        await _app.BringProject();
        await _app.Regroup();
        var before = Rows(await _app.Get("/api/clusters")).Select(c => (Id(c), Text(c, "primary"))).ToList();
        await _app.Import("keywords", "keyword,volume\npaddle for a kayak,5000\nraft,10\n");
        await _app.Import("results", "keyword,position,url,title\npaddle for a kayak,1,https://b1.example/,T\npaddle for a kayak,2,https://b2.example/,T\npaddle for a kayak,3,https://b3.example/,T\npaddle for a kayak,4,https://b4.example/,T\nraft,1,https://z.example/,T\n");
        var newKeywords = await _app.Get("/api/clusters/new-keywords");
        Assert.Equal((1, 5000, 1, 10), (newKeywords.GetProperty("placed").GetInt32(), newKeywords.GetProperty("placedDemand").GetInt32(), newKeywords.GetProperty("left").GetInt32(), newKeywords.GetProperty("leftDemand").GetInt32()));
        Assert.Equal(("kayak paddle", 4), (Text(newKeywords.GetProperty("rows")[0], "clusterName"), newKeywords.GetProperty("rows")[0].GetProperty("overlap").GetInt32()));
        await _app.Send(HttpMethod.Post, "/api/clusters/place", new { });
        // It is searched for most, and yet takes the primary's place from nobody.
        Assert.Equal(before, Rows(await _app.Get("/api/clusters?sort=id")).Select(c => (Id(c), Text(c, "primary"))).OrderBy(c => before.IndexOf(c)));
        Assert.Equal(3, (await _app.Get($"/api/clusters/{before[1].Item1}")).GetProperty("members").GetArrayLength());
        Assert.Equal("Place new keywords", Text((await _app.Send(HttpMethod.Post, "/api/undo")).Body, "label"));
        Assert.Equal(1, (await _app.Get("/api/clusters/new-keywords")).GetProperty("placed").GetInt32());
    }

    [Fact]
    public async Task HostsSizesAndListsBoundAGrouping()
    {
        await _app.BringProject();
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/clusters/regroup", new { depth = 10, minOverlap = 4, rule = "primary", leftOutHosts = "not a host!" })).Status);
        Assert.Equal(400, (await _app.Send(HttpMethod.Post, "/api/clusters/regroup", new { depth = 10, minOverlap = 4, rule = "primary", listId = 77 })).Status);

        // Without the own site the suits share three results only; of what is left, one keyword is too few.
        await Group(new { depth = 10, minOverlap = 4, rule = "primary", leftOutHosts = "fenwater.example", smallest = 2 });
        Assert.Empty(Rows(await _app.Get("/api/clusters")));
        await Group(new { depth = 10, minOverlap = 3, rule = "primary", leftOutHosts = "fenwater.example", smallest = 2 });
        Assert.Equal(["kayak dry suit", "kayak paddle"], Rows(await _app.Get("/api/clusters")).Select(c => Text(c, "name")));
        var grouping = (await _app.Get("/api/project")).GetProperty("grouping");
        Assert.Equal(("fenwater.example", 2), (Text(grouping, "leftOutHosts"), grouping.GetProperty("smallest").GetInt32()));

        // A list is grouped, and what is outside of it stays.
        var list = (await _app.Send(HttpMethod.Post, "/api/lists", new { name = "Paddles", selection = new { filter = new { wordsIn = "paddle, paddles" } } })).Body;
        var groupingPreview = await _app.Get($"/api/clusters/preview?depth=10&minOverlap=5&rule=primary&listId={Id(list)}");
        Assert.Equal(2, groupingPreview.GetProperty("captured").GetInt32());
        await Group(new { depth = 10, minOverlap = 5, rule = "primary", listId = Id(list) });
        Assert.Equal(["kayak dry suit", "kayak paddle", "kayak paddles"], Rows(await _app.Get("/api/clusters")).Select(c => Text(c, "name")));
        Assert.Equal(2, Rows(await _app.Get("/api/clusters"))[0].GetProperty("size").GetInt32());
    }

    [Fact]
    public async Task ACutIsSuggestedWhereAClusterComesApart()
    {
        await _app.BringProject();
        await _app.Import("keywords", "keyword,volume\nsurf ski,100\nski surf,90\nrace ski,80\nski race,70\n");
        var rows = string.Concat(new[] { ("surf ski", "abcde"), ("ski surf", "abcdf"), ("race ski", "abxyz"), ("ski race", "abxyw") }
            .Select(k => string.Concat(k.Item2.Select((u, i) => $"{k.Item1},{i + 1},https://{u}{u}.example/,T\n"))));
        await _app.Import("results", "keyword,position,url,title\n" + rows);
        await _app.Regroup(minOverlap: 2);
        var ski = Rows(await _app.Get("/api/clusters?search=surf")).Single();
        Assert.Equal(4, ski.GetProperty("size").GetInt32());
        var cut = (await _app.Get($"/api/clusters/{Id(ski)}/cut")).GetProperty("cut");
        Assert.Equal((3, 2, "race ski", 2d), (cut.GetProperty("minOverlap").GetInt32(), cut.GetProperty("apart").GetArrayLength(), cut.GetProperty("heads")[0].GetString(), cut.GetProperty("overlapAcross").GetDouble()));
        Assert.Equal(404, (await _app.Send(HttpMethod.Get, "/api/clusters/99999/cut")).Status);
    }

    /// <summary>After an edit only what changed is computed; the outcome must equal computing everything.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    public async Task AfterChangesByHandAllStandsAsIfWorkedOutAnew(int seed)
    {
        await _app.BringProject();
        await _app.Regroup(minOverlap: 3);
        var random = new Random(seed);
        for (var step = 0; step < 8; step++)
        {
            var clusters = Rows(await _app.Get("/api/clusters"));
            if (clusters.Count == 0)
            {
                // So much was undone.
                await _app.Regroup(minOverlap: 3);
                continue;
            }

            var one = clusters[random.Next(clusters.Count)];
            var other = clusters[random.Next(clusters.Count)];
            var members = (await _app.Get($"/api/clusters/{Id(one)}")).GetProperty("members").EnumerateArray().Select(m => Id(m, "keywordId")).ToArray();
            var keyword = members[random.Next(members.Length)];
            await (random.Next(7) switch
            {
                0 => _app.Send(HttpMethod.Post, "/api/clusters/move", new { keywordIds = new[] { keyword }, toClusterId = Id(other) }),
                1 => _app.Send(HttpMethod.Post, "/api/clusters/move", new { keywordIds = new[] { keyword } }),
                2 => _app.Send(HttpMethod.Post, $"/api/clusters/{Id(one)}/merge/{Id(other)}"),
                3 => _app.Send(HttpMethod.Put, $"/api/clusters/{Id(one)}", new { primaryKeywordId = keyword }),
                4 => _app.Send(HttpMethod.Put, $"/api/clusters/{Id(one)}", new { name = $"name {step}", isLocked = true }),
                5 => _app.Send(HttpMethod.Post, "/api/page-map/accept-clear"),
                _ => _app.Send(HttpMethod.Post, "/api/undo"),
            });
        }

        var stands = await All();
        // What is computed again begins with a new image of the data, which knows nothing of before.
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/project",
            new { name = "Fenwater", host = "fenwater.example", country = "GB", language = "en", brandTerms = Array.Empty<string>() })).Status);
        Assert.Equal(stands, await All());

        async Task<string> All()
        {
            var clusters = await _app.Get("/api/clusters");
            var details = new List<string>();
            foreach (var cluster in Rows(clusters))
                details.Add((await _app.Get($"/api/clusters/{Id(cluster)}")).GetRawText() + (await _app.Get($"/api/page-map/{Id(cluster)}")).GetRawText());
            return string.Join('\n', [clusters.GetRawText(), (await _app.Get("/api/findings")).GetRawText(), (await _app.Get("/api/topics")).GetRawText(), .. details]);
        }
    }

    [Fact]
    public async Task ATopicWhosePillarLeavesTakesTheNextByDemandAndLinks()
    {
        await _app.BringProject();
        await _app.Regroup();
        var (topics, clusters) = (Rows(await _app.Get("/api/topics")), Rows(await _app.Get("/api/clusters")));
        var all = clusters.Select(c => Id(c)).ToArray();
        await _app.Send(HttpMethod.Post, "/api/topics/move", new { clusterIds = all, topicId = Id(topics[0]) });
        Assert.Equal("kayak dry suit", Text(Rows(await _app.Get("/api/topics")).Single(), "pillarName"));
        await _app.Send(HttpMethod.Post, "/api/topics/move", new { clusterIds = new[] { all[0] } });
        Assert.Equal(["kayak paddle", "kayak dry suit"], Rows(await _app.Get("/api/topics")).Select(t => Text(t, "pillarName")));
        await _app.Send(HttpMethod.Post, "/api/topics/move", new { clusterIds = all, topicId = Id(topics[0]) });
        Assert.Single(Rows(await _app.Get("/api/topics")));
    }

    private async Task Group(object settings)
    {
        var (status, job) = await _app.Send(HttpMethod.Post, "/api/clusters/regroup", settings);
        Assert.Equal(202, status);
        Assert.Equal("done", Text(await _app.Ended(job), "state"));
    }
}
