using System.Diagnostics;
using System.Text.Json.Nodes;
using JadeOrchard.Formats.Tables;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Bench;

/// <summary>The running application at a size, over HTTP: edits with all that follows from them, lists, evidence, memory. One table, missed targets marked.</summary>
internal sealed class ProjectBench : ServerBench
{
    private readonly int _count;
    private readonly string _only;
    private readonly Random _random = new(11);

    private ProjectBench(int count, string? folder, string only)
        : base(folder) => (_count, _only) = (count, only);

    /// <param name="count">Keywords.</param>
    /// <param name="folder">Where the project is kept for the next time, when nothing is imported; null for a new one.</param>
    /// <param name="only">"edits", "lists", "preview" or "grouping"; "" for all.</param>
    public static async Task Run(int count, string? folder, string only)
    {
        using var bench = new ProjectBench(count, folder, only);
        await bench.Run();
    }

    private bool IsLarge => _count > 20_000;

    private async Task Run()
    {
        Console.WriteLine($"\n{_count:N0} keywords, {_count * 10:N0} results, {_count / 5:N0} pages, {_count * 10:N0} rows of search performance; milliseconds, 95th percentile of {Runs}, over HTTP");
        if (!Directory.Exists(Path.Combine(Folder, "data")))
        {
            await Imports();
            Stop();
        }

        await Start();
        Say("start to the first screen", await Timed(async () =>
        {
            await Get("project");
            await Get("overview");
        }) + Started, 2_000);
        await Task.Delay(IsLarge ? 20_000 : 4_000);
        Memory("idle of the server, MB", "VmRSS", 400);
        if (_only == "grouping")
            await Grouping("grouping again");
        if (_only is "" or "edits")
            await Edits(IsLarge ? 150 : 60);
        if (_only is "" or "lists")
            await Lists();
        if (_only is "" or "preview")
            await Preview();
        Memory("peak of the server since it started, MB", "VmHWM", 700);
        Memory("of the server in the end, MB", "VmRSS", null);
    }

    private async Task Imports()
    {
        var pages = _count / 5;
        Write("keywords.csv", ["keyword", "volume", "difficulty", "title_matches", "intent"], Keywords());
        Write("results.csv", ["keyword", "position", "url", "title", "snippet", "captured_at"], Results());
        Write("pages.csv", ["url", "title", "h1", "text"], Enumerable.Range(0, pages).Select(p => new object?[] { $"https://www.fenwater.example/p{p}", $"Kayak subject {p} guide", $"Subject {p}", PageText(p) }));
        Write("performance.csv", ["query", "page", "date", "clicks", "impressions", "position"], Performance());
        var bare = BareInsert();
        Say("bare bulk insert of the results", bare, null);

        await Start();
        await Send(HttpMethod.Put, "project", new { name = "Bench", host = "fenwater.example", country = "GB", language = "en", brandTerms = Array.Empty<string>() });
        Say("import of keywords", await Import("keywords"), null);
        Say("import of pages, 300 words each", await Import("pages"), null);
        var import = await Import("results");
        Say($"import of results, {import / bare:0.00} times the bare insert", import, bare * 1.5);
        Say("import of search performance", await Import("performance"), null);
        await Grouping("grouping with all that follows");
        await Grouping("grouping again");
        Memory("peak of the server, MB", "VmHWM", 700);
    }

    private async Task Grouping(string name) =>
        Say(name, await Timed(async () => await Ended(await Send(HttpMethod.Post, "clusters/regroup", new { depth = 10, minOverlap = 4, rule = "primary" }))), IsLarge ? 8_000 : null);

    private async Task Edits(double target)
    {
        var clusters = (await Get("clusters?limit=500&sort=demand&descending=true"))!["rows"]!.AsArray().Concat((await Get("clusters?limit=500&offset=700&sort=demand&descending=true"))!["rows"]!.AsArray()).ToList();
        long Id(int i) => clusters[i % clusters.Count]!["id"]!.GetValue<long>();
        var large = clusters.Where(c => c!["size"]!.GetValue<long>() > 2).Select(c => c!["id"]!.GetValue<long>()).ToList();
        var ownPages = (await Get("pages?limit=500"))!["rows"]!.AsArray().Select(p => p!["id"]!.GetValue<long>()).ToList();
        var order = Enumerable.Range(0, 400).OrderBy(_ => _random.Next()).ToList();
        var next = 0;
        int Next() => order[next++ % order.Count];

        await Edit("assign a page", target, () => Send(HttpMethod.Put, $"page-map/{Id(Next())}", new { pageId = ownPages[_random.Next(ownPages.Count)] }));
        var assigned = new Queue<long>();
        await Edit("unassign a page", target, () => Send(HttpMethod.Delete, $"page-map/{assigned.Dequeue()}"), async () =>
        {
            assigned.Enqueue(Id(Next()));
            await Send(HttpMethod.Put, $"page-map/{assigned.Peek()}", new { pageId = ownPages[_random.Next(ownPages.Count)] });
        });
        await Edit("plan a page", target, () => Send(HttpMethod.Post, $"page-map/{Id(Next())}/planned", new { url = $"/new/{Guid.NewGuid():N}", workingTitle = "New" }));
        await Edit("decline a cluster", target, () => Send(HttpMethod.Post, $"page-map/{Id(Next())}/decline", new { reason = "not ours" }));
        var moving = new List<long>();
        long to = 0;
        async Task Members(int keep)
        {
            while (true)
            {
                var from = large[_random.Next(large.Count)];
                var rows = (await Get($"keywords?limit=50&clusterId={from}"))!["rows"]!.AsArray();
                if (rows.Count <= keep)
                    continue;
                moving = [.. rows.Skip(keep).Take(1 + _random.Next(2)).Select(r => r!["id"]!.GetValue<long>())];
                to = large[_random.Next(large.Count)];
                if (to != from && await Exists(to))
                    return;
            }
        }

        await Edit("move a keyword", target, () => Send(HttpMethod.Post, "clusters/move", new { keywordIds = moving.Take(1), toClusterId = to }), () => Members(1));
        await Edit("split off keywords", target, () => Send(HttpMethod.Post, "clusters/move", new { keywordIds = moving, toClusterId = (long?)null }), () => Members(1));
        var pair = (A: 0L, B: 0L);
        await Edit("merge clusters", target, () => Send(HttpMethod.Post, $"clusters/{pair.A}/merge/{pair.B}"), async () =>
        {
            do
                pair = (large[_random.Next(large.Count)], large[_random.Next(large.Count)]);
            while (pair.A == pair.B || !await Exists(pair.A) || !await Exists(pair.B));
        });
        var isLocked = false;
        await Edit("lock a cluster", target, () => Send(HttpMethod.Put, $"clusters/{Id(5)}", new { isLocked = isLocked = !isLocked }));
        long primaryOf = 0, primary = 0;
        await Edit("choose the primary", target, () => Send(HttpMethod.Put, $"clusters/{primaryOf}", new { primaryKeywordId = primary }), async () =>
        {
            while (true)
            {
                primaryOf = large[_random.Next(large.Count)];
                var detail = await TryGet($"clusters/{primaryOf}");
                var members = detail?["members"]!.AsArray();
                if (members is not { Count: > 1 })
                    continue;
                primary = members[1 + _random.Next(members.Count - 1)]!["keywordId"]!.GetValue<long>();
                return;
            }
        });
        await Edit("rename a cluster", target, () => Send(HttpMethod.Put, $"clusters/{Id(5)}", new { name = $"name {_random.Next()}" }));
        var findings = (await Get("findings?limit=500"))!["rows"]!.AsArray().Select(f => f!["key"]!.GetValue<string>()).ToList();
        var f = 0;
        string Key() => Uri.EscapeDataString(findings[f++ % findings.Count]);
        await Edit("dismiss a finding", target, () => Send(HttpMethod.Put, $"findings/{Key()}", new { state = "dismissed", reason = "fine" }));
        var conflicts = (await Get("findings?limit=500&group=cannibalization"))!["rows"]!.AsArray().Where(x => x!["otherPageId"] is not null).Select(x => x!["key"]!.GetValue<string>()).ToList();
        if (conflicts.Count > 0)
        {
            var c = 0;
            await Edit("decide a conflict", target, () => Try(HttpMethod.Post, $"conflicts/{Uri.EscapeDataString(conflicts[c++ % conflicts.Count])}/decision", new { decision = "redirect" }));
            await Edit("declare a deliberate pair", target, () => Try(HttpMethod.Post, $"conflicts/{Uri.EscapeDataString(conflicts[c++ % conflicts.Count])}/decision", new { decision = "deliberate", note = "both wanted" }));
        }

        var topics = (await Get("topics?limit=200"))!["rows"]!.AsArray().Select(t => t!["id"]!.GetValue<long>()).ToList();
        await Edit("move a cluster to another topic", target, () => Try(HttpMethod.Post, "topics/move", new { clusterIds = new[] { large[_random.Next(large.Count)] }, topicId = topics[_random.Next(topics.Count)] }));
    }

    /// <summary>An edit, its undo and its redo.</summary>
    private async Task Edit(string name, double target, Func<Task> edit, Func<Task>? prepare = null)
    {
        var (edits, undos, redos) = (new List<double>(), new List<double>(), new List<double>());
        for (var i = 0; i < Runs; i++)
        {
            if (prepare is not null)
                await prepare();
            edits.Add(await Timed(edit));
            undos.Add(await Timed(() => Send(HttpMethod.Post, "undo")));
            redos.Add(await Timed(() => Send(HttpMethod.Post, "redo")));
        }

        Say(name, Percentile(edits), target);
        Say("  undo", Percentile(undos), target);
        Say("  redo", Percentile(redos), target);
    }

    private async Task Lists()
    {
        foreach (var (name, path) in new[]
        {
            ("keywords by volume", "keywords?sort=volume&descending=true"), ("keywords filtered and sorted", "keywords?minVolume=20&maxDifficulty=60&wordsIn=subject 7, sub 12&sort=difficulty"),
            ("keywords without a page", "keywords?progress=unmapped"), ("keywords searched", "keywords?search=sub 7&sort=phrase"), ("clusters by what is at stake", "clusters?sort=atStake&descending=true"),
            ("clusters undecided", "clusters?decided=false&sort=demand&descending=true"), ("clusters searched", "clusters?search=sub 7"), ("topics", "topics"), ("findings", "findings"),
            ("findings of a group, by demand", "findings?group=uncovered&sort=demand&descending=true"), ("findings searched", "findings?search=sub 7"), ("pages by clicks", "pages"), ("pages by demand", "pages?sort=demand&descending=true"),
            ("plan", "plan"), ("plan by page", "plan?sort=pageUrl"),
        })
        {
            var rows = (await Get(path + (path.Contains('?') ? "&" : "?") + "limit=1"))!["tally"]!["rows"]!.GetValue<long>();
            foreach (var (part, offset) in new[] { ("first", 0L), ("middle", rows / 2), ("last", Math.Max(0, rows - 100)) })
            {
                var times = new List<double>();
                for (var i = 0; i < Runs; i++)
                {
                    // Every fifth comes after a write, when nothing that was kept is of use.
                    if (i % 5 == 0)
                        await Send(HttpMethod.Put, "settings/scan", new { startUrl = "", gateway = "", gatewayFor = "example", allowPrivate = false, ratePerSecond = 4, atOnce = 2, maxPages = 20_000 + i, depth = "light", findBy = "links" });
                    times.Add(await Timed(() => Get($"{path}{(path.Contains('?') ? '&' : '?')}limit=100&offset={offset}")));
                }

                Say($"{name}, {part} page of {rows:N0} rows", Percentile(times), 100);
            }
        }

        await Evidence("evidence for a cluster", "clusters?limit=200&sort=demand&descending=true", r => $"clusters/{r["id"]}");
        await Evidence("mapping desk for a cluster", "clusters?limit=200&sort=demand&descending=true", r => $"page-map/{r["id"]}");
        await Evidence("evidence for a page", "pages?limit=200", r => $"pages/{r["id"]}");
        await Evidence("evidence for a finding", "findings?limit=200", r => $"findings/{Uri.EscapeDataString(r["key"]!.GetValue<string>())}");
        await Evidence("conflict view", "findings?limit=200&group=cannibalization", r => $"conflicts/{Uri.EscapeDataString(r["key"]!.GetValue<string>())}");
    }

    private async Task Evidence(string name, string list, Func<JsonNode, string> path)
    {
        var rows = (await Get(list))!["rows"]!.AsArray();
        if (rows.Count == 0)
            return;
        var times = new List<double>();
        for (var i = 0; i < Runs; i++)
        {
            var of = path(rows[_random.Next(rows.Count)]!);
            times.Add(await Timed(() => Get(of)));
        }

        Say(name, Percentile(times), 60);
    }

    private async Task Preview()
    {
        Say("grouping preview, when it is first opened", await Timed(() => Get("clusters/preview?depth=10&minOverlap=4&rule=primary")), 150);
        var times = new List<double>();
        for (var i = 0; i < Runs; i++)
        {
            await Task.Delay(300);
            var setting = i switch
            {
                < 12 => $"depth=10&minOverlap={2 + (i % 7)}&rule=primary",
                < 18 => $"depth=10&minOverlap={2 + (i % 7)}&rule=chain",
                < 22 => $"depth={9 - (i % 2)}&minOverlap=4&rule=primary",
                < 26 => $"depth=10&minOverlap={3 + (i % 3)}&rule=everyPair",
                _ => $"depth=10&minOverlap={3 + (i % 3)}&rule=primary&leftOutHosts=paddlewiki.example",
            };
            times.Add(await Timed(() => Get("clusters/preview?" + setting)));
        }

        Say("grouping preview, while a setting changes", Percentile(times), 150);
    }

    private IEnumerable<object?[]> Keywords() => Enumerable.Range(0, _count).Select(k => new object?[]
        { Phrase(k), 10_000_000L / (k + 20), k * 7 % 100, k * 31 % 5_000, k % 3 == 0 ? "commercial" : "informational" });

    // Eight keywords a subject draw from fourteen pages of it; one URL is in 15 % of the lists, ten others in 1 to 2 % each, own pages in some.
    private IEnumerable<object?[]> Results()
    {
        var random = new Random(5);
        for (var k = 0; k < _count; k++)
        {
            var subject = k / 8;
            var urls = new HashSet<string>();
            if (random.NextDouble() < 0.15)
                urls.Add("https://paddlewiki.example/kayak");
            if (random.NextDouble() < 0.15)
                urls.Add($"https://everywhere{random.Next(10)}.example/kayak");
            if (subject < _count / 50)
                urls.Add($"https://fenwater.example/p{subject}");
            while (urls.Count < 10)
                urls.Add(random.NextDouble() < 0.8 ? $"https://rival{random.Next(14)}.example/subject/{subject}" : $"https://far{random.Next(400)}.example/page/{random.Next(_count * 2)}?id=7");
            var position = 0;
            foreach (var url in urls.OrderBy(_ => random.Next()))
                yield return [Phrase(k), ++position, url, $"All about subject {subject} on the water", "What we found on the water, with prices, pictures and advice from people who paddle.", "2026-11-12"];
        }
    }

    // Ten days of the own page for each keyword, and for every fifth of a second page as well.
    private IEnumerable<object?[]> Performance()
    {
        var random = new Random(6);
        for (var row = 0; row < _count * 10; row++)
        {
            var (k, day) = (row / 10, row % 10);
            yield return [Phrase(k), $"https://fenwater.example/p{(k / 8) + (k % 5 == 0 && day > 5 ? 1 : 0)}", new DateOnly(2026, 11, 1).AddDays(-(day * 8)).ToString("yyyy-MM-dd", null), random.Next(3), 3 + random.Next(20), Math.Round(1 + (random.NextDouble() * 18), 2)];
        }
    }

    private static string PageText(int page)
    {
        var random = new Random(page);
        return string.Join(' ', Enumerable.Range(0, 300).Select(i => i % 12 == 0 ? $"kayak subject {page}" : i % 7 == 0 ? "sub" : $"word{(int)(5_000 * Math.Pow(random.NextDouble(), 3))}"));
    }

    private static string Phrase(int k) => $"kayak subject {k / 8} {"abcdefgh"[k % 8]} sub {k % 97}";

    // The rows are read beforehand: only the inserting is timed, with one prepared command in one transaction.
    private double BareInsert()
    {
        List<string[]> rows;
        using (var file = DelimitedFile.Open(Path.Combine(Folder, "results.csv")))
            rows = [.. file.Rows().Select(r => r.Row.Value!)];
        using var connection = new SqliteConnection($"Data Source={Path.Combine(Folder, "bare.db")}");
        connection.Open();
        using var setup = connection.CreateCommand();
        setup.CommandText = "pragma journal_mode = wal; create table result (keyword text, position integer, url text, title text, snippet text, captured_at text) strict";
        setup.ExecuteNonQuery();
        var clock = Stopwatch.StartNew();
        using var transaction = connection.BeginTransaction();
        using var command = connection.CreateCommand();
        command.CommandText = "insert into result values (@a, @b, @c, @d, @e, @f)";
        for (var i = 0; i < 6; i++)
            command.Parameters.AddWithValue("@" + "abcdef"[i], "");
        command.Prepare();
        foreach (var row in rows)
        {
            for (var i = 0; i < 6; i++)
                command.Parameters[i].Value = i == 1 ? long.Parse(row[i], System.Globalization.CultureInfo.InvariantCulture) : row[i];
            command.ExecuteNonQuery();
        }

        transaction.Commit();
        return clock.Elapsed.TotalMilliseconds;
    }
}
