using System.Globalization;
using System.Text;
using System.Text.Json;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Server.Tests;

/// <summary>
/// Random changes of every kind, over HTTP: what was derived step by step is what deriving everything from scratch gives, all of it can be undone, and done
/// again, and each time every table is as it was.
/// </summary>
public sealed class RandomChangesTests : IDisposable
{
    private const int Changes = 120;
    private const int Subjects = 9;

    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public async Task AreDerivedUndoneAndRedoneExactly(int seed)
    {
        await BringProject(new Random(seed));
        await _app.Regroup(minOverlap: 3);
        var before = Contents.Of(_app.Folder);
        var (random, first) = (new Random(seed), await Steps());
        var (steps, done) = (0, new Dictionary<string, int>(StringComparer.Ordinal));
        for (var i = 1; i <= Changes; i++)
        {
            var count = await Steps();
            var name = await Change(random, canUndo: count > first);
            steps += await Steps() - count;
            done[name] = done.GetValueOrDefault(name) + 1;
            if (i % 40 == 0)
                await MatchesAFreshDerivation($"after change {i}, {name}");
        }

        // Most kinds did something, or this tests nothing.
        Assert.True(steps > Changes / 3, $"{steps} steps of {string.Join(", ", done)}");
        var after = Contents.Of(_app.Folder);
        await Replay("undo", steps);
        Contents.AreSame(before, Contents.Of(_app.Folder), "undone");
        await MatchesAFreshDerivation("undone");
        await Replay("redo", steps);
        Contents.AreSame(after, Contents.Of(_app.Folder), "redone");

        // Back and forth from anywhere.
        for (var i = 0; i < 2; i++)
        {
            var some = random.Next(steps);
            await Replay("undo", some);
            if (i % 2 == 0)
                await MatchesAFreshDerivation($"{some} steps undone");
            await Replay("redo", some);
            Contents.AreSame(after, Contents.Of(_app.Folder), $"{some} steps undone and redone");
        }
    }

    /// <summary>Edits happen while imports run and while what follows is derived; imports that are stopped leave nothing behind.</summary>
    [Theory]
    [InlineData(1, false)]
    [InlineData(2, false)]
    [InlineData(3, true)]
    [InlineData(4, true)]
    public async Task AreDerivedExactlyWhileImportsGiveWay(int seed, bool stops)
    {
        await BringProject(new Random(seed));
        await _app.Regroup(minOverlap: 3);
        _app.GiveWayAtOnce();
        var (random, before, first) = (new Random(seed), Contents.Of(_app.Folder), await Steps());
        var (inBetween, states) = (0, new List<string>());
        foreach (var (kind, rows) in new[]
        {
            ("results", ResultsOf(random, Subjects * 5, times: 12)), ("keywords", Many(2_000, "keyword,volume", k => $"{Phrase(k % 90)} {k / 90},{k % 700}")),
            ("performance", PerformanceOf(random, 4_000)), ("pages", Many(400, "url,title", p => $"https://www.fenwater.example/more{p},Kayak subject {p % Subjects} more")),
            ("results", ResultsOf(random, Subjects * 5, times: 8)),
        })
        {
            var import = await _app.Begin(kind, rows);
            for (var under = true; under; inBetween++)
            {
                await Change(random, canUndo: false, kinds: 21);
                if (stops && random.Next(4) == 0)
                    await _app.Send(HttpMethod.Post, $"/api/jobs/{Id(import)}/stop");
                var job = await _app.Get($"/api/jobs/{Id(import)}");
                under = Text(job, "state") is "waiting" or "running";
                if (!under)
                    states.Add(Text(job, "message"));
            }

            await MatchesAFreshDerivation($"after {kind}");
        }

        Assert.True(inBetween > (stops ? 5 : 15), $"{inBetween} changes in between of {string.Join(' ', states)}");
        var (after, steps) = (Contents.Of(_app.Folder), await Steps() - first);
        await Replay("undo", steps);
        Contents.AreSame(before, Contents.Of(_app.Folder), "undone");
        await MatchesAFreshDerivation("undone");
        await Replay("redo", steps);
        Contents.AreSame(after, Contents.Of(_app.Folder), "redone");
    }

    private static string Many(int count, string header, Func<int, string> row) => header + "\n" + string.Concat(Enumerable.Range(0, count).Select(i => row(i) + "\n"));

    /// <summary>Two servers' worth of work: a copy of the data is derived from nothing, and compared.</summary>
    private async Task MatchesAFreshDerivation(string when)
    {
        var folder = Directory.CreateTempSubdirectory("jade-fresh-").FullName;
        var expected = Contents.Of(_app.Folder);
        using (var connection = new SqliteConnection($"Data Source={Path.Combine(_app.Folder, "project.db")};Pooling=False"))
        {
            connection.Open();
            using var copy = connection.CreateCommand();
            copy.CommandText = "vacuum into @to";
            copy.Parameters.AddWithValue("@to", Path.Combine(folder, "project.db"));
            copy.ExecuteNonQuery();
        }

        using (var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "project.db")};Pooling=False"))
        {
            connection.Open();
            using var stale = connection.CreateCommand();
            stale.CommandText = "update data_state set derived_version = 0; delete from finding; delete from finding_cluster; delete from finding_page; delete from suggestion; delete from cluster_link; delete from expected_support; delete from cluster_expected;";
            stale.ExecuteNonQuery();
        }

        using var fresh = new Application(folder);
        fresh.Warm();
        Contents.AreSame(expected, Contents.Of(fresh.Folder), when);
    }

    private async Task<int> Steps() => (await _app.Get("/api/history")).EnumerateArray().Count(s => !s.GetProperty("isUndone").GetBoolean());

    private async Task Replay(string way, int times)
    {
        for (var i = 0; i < times; i++)
        {
            var (status, body) = await _app.Send(HttpMethod.Post, "/api/" + way);
            Assert.Equal(200, status);
            Assert.False(string.IsNullOrEmpty(Text(body, "label")), $"{way} {i} of {times}");
        }
    }

    private async Task<string> Change(Random random, bool canUndo, int kinds = 32)
    {
        async Task<List<JsonElement>> All(string list) => Rows(await _app.Get($"/api/{list}{(list.Contains('?', StringComparison.Ordinal) ? '&' : '?')}limit=500"));
        T One<T>(IReadOnlyList<T> of) => of[random.Next(of.Count)];
        Task Do(HttpMethod method, string path, object? body = null) => Attempt(method, path, body);
        var clusters = await All("clusters");
        var cluster = clusters.Count == 0 ? 0 : Id(One(clusters));
        var other = clusters.Count == 0 ? 0 : Id(One(clusters));
        var page = Id(One(await All("pages")));
        var keywords = await All("keywords");
        long[] some = [.. Enumerable.Range(0, 1 + random.Next(2)).Select(_ => Id(One(keywords))).Distinct()];
        var findings = await All("findings?anyState=true");
        var finding = findings.Count == 0 ? "none" : Uri.EscapeDataString(Text(One(findings), "key"));
        var kind = random.Next(kinds);
        switch (kind)
        {
            case 0 or 1 or 2:
                await Do(HttpMethod.Put, $"page-map/{cluster}", new { pageId = page });
                return "assign";
            case 3:
                await Do(HttpMethod.Delete, $"page-map/{cluster}");
                return "unassign";
            case 4:
                await Do(HttpMethod.Post, $"page-map/{cluster}/planned", new { url = $"/new/{random.Next(20)}", workingTitle = "New" });
                return "plan";
            case 5:
                await Do(HttpMethod.Post, $"page-map/{cluster}/decline", new { reason = "not ours" });
                return "decline";
            case 6 or 7 or 8:
                await Do(HttpMethod.Post, "clusters/move", new { keywordIds = some, toClusterId = cluster });
                return "move";
            case 9 or 10:
                await Do(HttpMethod.Post, "clusters/move", new { keywordIds = some, toClusterId = (long?)null });
                return "split";
            case 11 or 12:
                await Do(HttpMethod.Post, $"clusters/{cluster}/merge/{other}");
                return "merge";
            case 13:
                await Do(HttpMethod.Put, $"clusters/{cluster}", new { isLocked = random.Next(2) == 0 });
                return "lock";
            case 14:
                await Do(HttpMethod.Put, $"clusters/{cluster}", new { primaryKeywordId = some[0] });
                return "primary";
            case 15:
                await Do(HttpMethod.Put, $"clusters/{cluster}", new { name = $"name {random.Next(9)}" });
                return "rename";
            case 16 or 17:
                await Do(HttpMethod.Put, $"findings/{finding}", new { state = One(["dismissed", "accepted", "resolved", "open"]), reason = "fine" });
                return "finding";
            case 18:
                await Do(HttpMethod.Post, $"conflicts/{finding}/decision", new { decision = One(["redirect", "deliberate", "merge", "newTarget"]), note = "both wanted" });
                return "conflict";
            case 19:
                await Do(HttpMethod.Delete, $"conflicts/{finding}/decision");
                return "retract";
            case 20:
                var topics = await All("topics");
                if (topics.Count > 0)
                    await Do(HttpMethod.Post, "topics/move", new { clusterIds = new[] { cluster }, topicId = Id(One(topics)) });
                return "topic";
            case 21:
                // The lists of expected keywords say where they stand from then on.
                await _app.Import("results", random.Next(2) == 0 ? ResultsOf(random, 2) : ResultsOf(random, 2, of: Expected));
                return "results";
            case 22:
                await _app.Import("keywords", $"keyword,volume\nkayak subject {random.Next(Subjects)} new {random.Next(30)},{random.Next(1000)}\n");
                return "keywords";
            case 23:
                await _app.Import("pages", $"url,title,h1,text\nhttps://www.fenwater.example/p{random.Next(Subjects + 3)},Subject {random.Next(Subjects)} kayak {random.Next(50)},Kayak,subject {random.Next(Subjects)} word{random.Next(4)}\n");
                return "pages";
            case 24:
                await _app.Import("performance", PerformanceOf(random));
                return "performance";
            case 25:
                if (keywords.Count > 40)
                    await Do(HttpMethod.Post, "keywords/remove", new { ids = some });
                return "remove";
            case 26:
                await _app.Regroup(depth: random.Next(2) == 0 ? 10 : 8, minOverlap: random.Next(2, 5), rule: One(["primary", "chain", "everyPair"]));
                return "regroup";
            case 27 or 28:
                // One that breaks off in the midst of its consequences: what is kept in memory is behind or ahead then.
                await _app.Sql("create trigger broken before update of coverage on cluster begin select raise(abort, 'broken'); end");
                await _app.Send(HttpMethod.Put, $"/api/page-map/{cluster}", new { pageId = page });
                await _app.Send(HttpMethod.Post, "/api/clusters/move", new { keywordIds = some, toClusterId = other });
                await _app.Sql("drop trigger broken");
                return "broken";
            case 29:
                await Do(HttpMethod.Put, "settings/tracking", random.Next(2) == 0 ? ["vid"] : Array.Empty<string>());
                return "tracking";
            case 30:
                // "kayak" is in all titles, so it is a brand only where it is confirmed.
                await Do(HttpMethod.Put, "settings/confirmed-brands", random.Next(2) == 0 ? ["kayak"] : Array.Empty<string>());
                return "brands";
            default:
                // Undone and redone in between, as planners do; not further back than what is compared in the end.
                if (canUndo)
                    await Do(HttpMethod.Post, "undo");
                if (random.Next(2) == 0)
                    await Do(HttpMethod.Post, "redo");
                return "undo";
        }
    }

    /// <summary>A change may be refused, but in words.</summary>
    private async Task Attempt(HttpMethod method, string path, object? body)
    {
        var (status, answer) = await _app.Send(method, "/api/" + path, body);
        Assert.True(status < 500, $"{method} {path}: {status} {answer}");
    }

    private async Task BringProject(Random random)
    {
        await _app.Send(HttpMethod.Put, "/api/project", new { name = "Fenwater", host = "fenwater.example", country = "gb", language = "en", brandTerms = new[] { "fenwater", "kayak" } });
        await _app.Import("pages", "url,title,h1,text\n" + string.Concat(Enumerable.Range(0, Subjects).Select(p => $"https://www.fenwater.example/p{p},Kayak subject {p} guide,Subject {p},kayak subject {p} on the water\n")));
        await _app.Import("keywords", "keyword,volume,difficulty\n" + string.Concat(Enumerable.Range(0, Subjects * 5).Select(k => $"{Phrase(k)},{(k % 4 == 0 ? "" : (1 + random.Next(900)).ToString(CultureInfo.InvariantCulture))},{random.Next(90)}\n")));
        await _app.Import("results", ResultsOf(random, Subjects * 5));
        await _app.Import("performance", PerformanceOf(random));
        await Expect();
    }

    /// <summary>Two keywords of each subject are expected without results, as a capture in stages leaves it.</summary>
    private async Task Expect()
    {
        await _app.Import("keywords", "keyword,volume\n" + string.Concat(Enumerable.Range(0, Subjects * 2).Select(k => $"{Expected(k * 5 / 2)},{20 + k}\n")));
        await _app.Sql(
            """
            insert into staged_capture select min(job_id), 0.95, 'done', null, null from job;
            insert into expected_member (keyword_id, job_id, certainty, supports, is_audited)
            select k.keyword_id, c.job_id, 0.96, (select group_concat(s.keyword_id, ' ') from keyword s where s.phrase glob substr(k.phrase, 1, 15) || ' [a-e]'), 0
            from keyword k join staged_capture c where k.phrase like '%expected%';
            insert into expected_support
            select j.value, e.keyword_id, j.key from expected_member e join json_each('[' || replace(e.supports, ' ', ',') || ']') j;
            """);
    }

    private static string Expected(int k) => $"kayak subject {k / 5} expected {(k % 5 < 2 ? "first" : "second")}";

    private static string Phrase(int k) => $"kayak subject {k / 5} {"abcde"[k % 5]}";

    private static string ResultsOf(Random random, int keywords, int times = 1, Func<int, string>? of = null)
    {
        var rows = new StringBuilder("keyword,position,url,title,captured_at\n");
        var all = Enumerable.Range(0, Subjects * 5 * times).OrderBy(_ => random.Next()).Take(keywords * times).Select(k => k % (Subjects * 5));
        foreach (var k in all)
        {
            var day = 1 + random.Next(20);
            var urls = Enumerable.Range(0, 9).Select(u => random.Next(3) == 0 ? $"https://far{random.Next(40)}.example/" : $"https://near{u}.example/s{k / 5}")
                .Append($"https://www.fenwater.example/p{(random.Next(4) == 0 ? random.Next(Subjects) : k / 5)}{(random.Next(4) == 0 ? $"?vid={random.Next(1_000)}" : "")}").Distinct().OrderBy(_ => random.Next());
            var position = 0;
            foreach (var url in urls)
                rows.AppendLine(CultureInfo.InvariantCulture, $"{(of ?? Phrase)(k)},{++position},{url},Kayak subject {k / 5},2026-11-{day:00}");
        }

        return rows.ToString();
    }

    private static string PerformanceOf(Random random, int count = 40)
    {
        var rows = new StringBuilder("query,page,date,clicks,impressions,position\n");
        for (var i = 0; i < count; i++)
        {
            var k = random.Next(Subjects * 5);
            rows.AppendLine(CultureInfo.InvariantCulture, $"{Phrase(k)},https://www.fenwater.example/p{(k / 5) + random.Next(2)}{(random.Next(8) == 0 ? $"?vid={random.Next(1_000)}" : "")},2026-10-{1 + random.Next(28):00},{random.Next(9)},{10 + random.Next(90)},{1 + random.Next(20)}");
        }

        return rows.ToString();
    }
}
