using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using JadeOrchard.Bench;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Results;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server;
using JadeOrchard.Server.Clusters;
using JadeOrchard.Server.Imports;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Site;
using Microsoft.Data.Sqlite;

// Measures, in one run on one set of rows: the import of results against the bare bulk insert of the same rows, the
// grouping, and the lists at that size. usage: JadeOrchard.Bench [KEYWORDS] (100,000 with ten results each)
// JadeOrchard.Bench join ROOT [--with-database]: the engine beside others.
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
switch (args)
{
    case ["join", var root, .. var rest]:
        JoinBench.Run(root, withDatabase: rest is ["--with-database"]);
        return;
    case ["join-alone", var file]:
        JoinBench.Alone(file);
        return;
}

var count = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 100_000;
var folder = Directory.CreateTempSubdirectory("jade-bench-").FullName;
try
{
    Write("keywords.csv", ["keyword", "volume", "difficulty", "title_matches", "intent"], Keywords());
    Write("results.csv", ["keyword", "position", "url", "title", "snippet", "captured_at"], Results());
    var pageCount = count / 5;
    Write("pages.csv", ["url", "title", "h1", "text"], Enumerable.Range(0, pageCount).Select(p => new object?[] { $"https://www.fenwater.example/p{p}", $"Kayak subject {p} guide", $"Subject {p}", PageText(p) }));
    Write("performance.csv", ["query", "page", "date", "clicks", "impressions", "position"], Performance());

    var bare = BareInsert();
    Console.WriteLine($"bare bulk insert of {count * 10:N0} rows: {bare:0.0} s");

    using var database = Database.Open(Path.Combine(folder, "project.db"));
    var orchard = new Orchard(database, TimeProvider.System);
    database.Write(s => ProjectStore.Save(s, new Project("Bench", "fenwater.example", "GB", "en", [])));
    Console.WriteLine($"import of {count:N0} keywords: {Import(orchard, TableKind.Keywords, "keywords.csv"):0.0} s");
    Console.WriteLine($"import of {pageCount:N0} pages with 300 words each: {Import(orchard, TableKind.Pages, "pages.csv"):0.0} s");
    var import = Import(orchard, TableKind.Results, "results.csv");
    Console.WriteLine($"import of {count * 10:N0} results: {import:0.0} s, {import / bare:0.00} times the bare insert; peak of the process {Process.GetCurrentProcess().PeakWorkingSet64 >> 20} MB");

    Console.WriteLine($"import of {count * 10:N0} rows of search performance: {Import(orchard, TableKind.Performance, "performance.csv"):0.0} s; peak of the process {Process.GetCurrentProcess().PeakWorkingSet64 >> 20} MB");

    var lists = orchard.Read((_, snapshot) => snapshot.Lists.Cut(10));
    var pairs = 0;
    Console.WriteLine($"overlap join, minimum 4: {Seconds(() => pairs = OverlapJoin.Pairs(lists, 4).Length):0.00} s, {pairs:N0} pairs");
    Console.WriteLine($"grouping with suggestions and findings, saved: {Seconds(() => orchard.Regroup(new ClusterSettings())):0.0} s");
    orchard.Read((_, _) => 0);
    Findings();
    Console.WriteLine($"a page assigned, with the findings that follow: {Seconds(() => database.Write(s => { PageMapStore.Assign(s, s.Count("select max(cluster_id) from cluster"), 1, orchard.Now); orchard.AfterDecision(s); }, "Assign")):0.00} s");

    var outlook = new Outlook();
    double Ahead(ClusterSettings settings) => Seconds(() => orchard.Read((s, snapshot) => outlook.Of(s, snapshot, settings, null))) * 1000;
    // A planner looks at it for a moment before another setting is tried; meanwhile other rules and depths are worked out.
    var opened = Ahead(new ClusterSettings());
    Thread.Sleep(3_000);
    Console.WriteLine($"outlook: {opened:0} ms when it is opened; three seconds later "
        + $"{Enumerable.Range(2, 7).Max(m => Ahead(new ClusterSettings(10, m))):0} ms at most as the minimum moves, {Ahead(new ClusterSettings(10, 4, LinkingRule.Chain)):0} ms for another rule, "
        + $"{Ahead(new ClusterSettings(9, 4)):0} ms for another depth, {Ahead(new ClusterSettings(10, 4, LeftOutHosts: ["paddlewiki.example"])):0} ms without a host");

    var (largest, keyword) = database.Read(s => (s.Count("select cluster_id from cluster order by demand desc limit 1"), s.Count("select max(keyword_id) from cluster_member")));
    Console.WriteLine($"a keyword moved by hand, with all that follows: {Seconds(() => orchard.ByHand("Move keywords", s => ClusterStore.Move(s, [keyword], largest))):0.00} s");
    Console.WriteLine($"split off again: {Seconds(() => orchard.ByHand("Split off keywords", s => ClusterStore.Move(s, [keyword], null))):0.00} s");

    Percentile("sift: volume, difficulty, words in and out, sorted", s => KeywordStore.List(
        s, new ListQuery(Sort: "difficulty"), new KeywordFilter(MinVolume: 20, MaxDifficulty: 60, WordsIn: "subject 7, sub 12", WordsOut: "sub 3")));
    Percentile("sift: title competition, intent, questions, brands out", s => KeywordStore.List(
        s, new ListQuery(Sort: "titleCompetition"), new KeywordFilter(MaxTitleCompetition: 1, Intents: "commercial,informational", Questions: false, WithoutBrands: true)));
    Percentile("sift: by source and list", s => KeywordStore.List(s, new ListQuery(Sort: "cpc", Descending: true), new KeywordFilter(SourceId: 1, NotListId: 1)));
    Percentile("sift: in a cluster without a page, a page in the middle", s => KeywordStore.List(s, new ListQuery(Offset: count / 2), new KeywordFilter(Progress: KeywordState.Unmapped)));
    Percentile("modifiers of all keywords", s => Modifiers.Of(KeywordStore.Words(s, null, new KeywordFilter()), 400));
    Percentile("close variants, first page", s => KeywordStore.Variants(s, new ListQuery(Limit: 50), new KeywordFilter()));
    Percentile("keywords by volume, first page", s => KeywordStore.List(s, new ListQuery(Sort: "volume", Descending: true), new KeywordFilter()));
    Percentile("keywords searched and sorted", s => KeywordStore.List(s, new ListQuery("sub 7", "difficulty"), new KeywordFilter(MinVolume: 20)));
    Percentile("keywords, last page", s => KeywordStore.List(s, new ListQuery(Sort: "phrase", Offset: count - 100), new KeywordFilter()));
    Percentile("clusters by what is at stake", s => ClusterStore.List(s, new ListQuery(Sort: "atStake", Descending: true), new ClusterFilter()));
    Percentile("findings", s => FindingStore.List(s, new ListQuery(), new FindingFilter()));
    Percentile("pages", s => PageStore.List(s, new ListQuery(), new PageFilter()));

    Console.WriteLine($"undo of the import of {count * 10:N0} results: {Seconds(() => UndoImport(database)):0.0} s");
    await ScanBench.Run(folder);

    // All findings anew, as after new data, and the parts of it.
    void Findings() => orchard.Read((s, _) =>
    {
        ProjectSnapshot? anew = null;
        Console.WriteLine($"image of the data: {Seconds(() => anew = ProjectSnapshot.Load(s)):0.0} s; words of the pages: {Seconds(() => anew!.Text(s)):0.0} s");
        var (ids, clusters) = Orchard.Clusters(s, anew!);
        IReadOnlyList<ClusterSuggestion>? suggested = null;
        Console.WriteLine($"pages suggested for {clusters.Count:N0} clusters: {Seconds(() => suggested = PageSuggestions.For(clusters, anew!.Candidates(s))):0.0} s");
        var map = suggested!.Select(c => c.AsMapped(_ => false)).ToList();
        var facts = anew!.Facts(s, clusters, map, ProjectStore.Brands(s));
        var found = 0;
        Console.WriteLine($"findings of all: {Seconds(() => found = anew.Findings.In(facts).Length):0.0} s, {found:N0}; again after a decision: {Seconds(() => anew.Findings.In(anew.Facts(s, clusters, [.. map.Select((m, c) => c == 5 ? m with { Page = null } : m)], ProjectStore.Brands(s)))):0.00} s");
        return ids.Count;
    });

    void Percentile(string name, Action<Session> read)
    {
        database.Write(_ => { });
        var times = Enumerable.Range(0, 20).Select(_ => Seconds(() => database.Read(s =>
        {
            read(s);
            return 0;
        }))).ToList();
        Console.WriteLine($"{name}: {times.Order().ElementAt(18) * 1000:0} ms at the 95th percentile of 20, {times[0] * 1000:0} ms the first after a write");
    }
}
finally
{
    SqliteConnection.ClearAllPools();
    Directory.Delete(folder, recursive: true);
}

static void UndoImport(Database database)
{
    // The grouping was done after it and is undone with it.
    for (var label = ""; label != "Import of results.csv";)
        label = database.Write(UndoLog.Undo)!.Label;
}

IEnumerable<object?[]> Keywords() => Enumerable.Range(0, count).Select(k => new object?[]
    { Phrase(k), 10_000_000L / (k + 20), k * 7 % 100, k * 31 % 5_000, k % 3 == 0 ? "commercial" : "informational" });

// Eight keywords a subject draw from fourteen pages of it; one URL stands in 15 % of the lists, own pages in some.
IEnumerable<object?[]> Results()
{
    var random = new Random(5);
    for (var k = 0; k < count; k++)
    {
        var subject = k / 8;
        var urls = new HashSet<string>();
        if (random.NextDouble() < 0.15)
            urls.Add("https://paddlewiki.example/kayak");
        if (subject < 2_000)
            urls.Add($"https://fenwater.example/p{subject}");
        while (urls.Count < 10)
            urls.Add(random.NextDouble() < 0.8 ? $"https://rival{random.Next(14)}.example/subject/{subject}" : $"https://far{random.Next(400)}.example/page/{random.Next(count * 2)}?id=7");
        var position = 0;
        foreach (var url in urls.OrderBy(_ => random.Next()))
            yield return [Phrase(k), ++position, url, $"All about subject {subject} on the water", "What we found on the water, with prices, pictures and advice from people who paddle.", "2026-11-12"];
    }
}

// Ten days of the own page for each keyword, and for every fifth of a second page as well.
IEnumerable<object?[]> Performance()
{
    var random = new Random(6);
    for (var row = 0; row < count * 10; row++)
    {
        var (k, day) = (row / 10, row % 10);
        yield return [Phrase(k), $"https://fenwater.example/p{(k / 8) + (k % 5 == 0 && day > 5 ? 1 : 0)}", new DateOnly(2026, 11, 1).AddDays(-(day * 8)).ToString("yyyy-MM-dd", null), random.Next(3), 3 + random.Next(20), Math.Round(1 + (random.NextDouble() * 18), 2)];
    }
}

static string PageText(int page)
{
    var random = new Random(page);
    return string.Join(' ', Enumerable.Range(0, 300).Select(i => i % 12 == 0 ? $"kayak subject {page}" : i % 7 == 0 ? "sub" : $"word{(int)(5_000 * Math.Pow(random.NextDouble(), 3))}"));
}

static string Phrase(int k) => $"kayak subject {k / 8} {"abcdefgh"[k % 8]} sub {k % 97}";

void Write(string name, string[] columns, IEnumerable<object?[]> rows)
{
    using var stream = File.Create(Path.Combine(folder, name));
    TableOutput.WriteCsv(stream, columns, rows, forSpreadsheets: false);
}

static double Seconds(Action action)
{
    var clock = Stopwatch.StartNew();
    action();
    return clock.Elapsed.TotalSeconds;
}

// The rows are read beforehand: only the inserting is timed, with one prepared command in one transaction.
double BareInsert()
{
    List<string[]> rows;
    using (var file = DelimitedFile.Open(Path.Combine(folder, "results.csv")))
        rows = [.. file.Rows().Select(r => r.Row.Value!)];
    using var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "bare.db")}");
    connection.Open();
    using var setup = connection.CreateCommand();
    setup.CommandText = "pragma journal_mode = wal; create table result (keyword text, position integer, url text, title text, snippet text, captured_at text) strict";
    setup.ExecuteNonQuery();
    return Seconds(() =>
    {
        using var transaction = connection.BeginTransaction();
        using var command = connection.CreateCommand();
        command.CommandText = "insert into result values (@a, @b, @c, @d, @e, @f)";
        for (var i = 0; i < 6; i++)
            command.Parameters.AddWithValue("@" + "abcdef"[i], "");
        command.Prepare();
        foreach (var row in rows)
        {
            for (var i = 0; i < 6; i++)
                command.Parameters[i].Value = i == 1 ? long.Parse(row[i], CultureInfo.InvariantCulture) : row[i];
            command.ExecuteNonQuery();
        }

        transaction.Commit();
    });
}

double Import(Orchard orchard, TableKind kind, string name)
{
    var uploads = new Uploads(Path.Combine(folder, "uploads"));
    string upload;
    using (var stream = File.OpenRead(Path.Combine(folder, name)))
        upload = uploads.SaveAsync(stream, CancellationToken.None).GetAwaiter().GetResult();
    Dictionary<string, int> columns;
    using (var file = uploads.Open(upload))
        columns = ColumnMapping.ByName(kind, file.Header).ToDictionary();
    var job = orchard.Database.Write(s => JobStore.Find(s, JobStore.Add(s, ImportJob.Name, name, JsonSerializer.Serialize(new ImportArguments(upload, name, kind, columns)), orchard.Now))!);
    return Seconds(() => new ImportJob(orchard, uploads).RunAsync(job, _ => { }, CancellationToken.None).GetAwaiter().GetResult());
}
