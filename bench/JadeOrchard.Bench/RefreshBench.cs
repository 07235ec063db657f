namespace JadeOrchard.Bench;

/// <summary>A large site with 16 months of search performance: reading it, the table of its queries, fading pages.</summary>
internal sealed class RefreshBench : ServerBench
{
    private const int Pages = 20_000, QueriesOfPage = 10, DaysOfQuery = 5, Days = 486;

    private static readonly DateOnly First = new(2025, 8, 1);

    private RefreshBench(string? folder)
        : base(folder)
    {
    }

    /// <param name="folder">Where the project is kept for the next time; null for a new one.</param>
    public static async Task Run(string? folder)
    {
        using var bench = new RefreshBench(folder);
        await bench.Run();
    }

    private async Task Run()
    {
        Console.WriteLine($"\n{Pages:N0} pages, {Pages * QueriesOfPage:N0} page–query pairs, {Pages * QueriesOfPage * DaysOfQuery:N0} rows of search performance over 16 months; milliseconds, 95th percentile of {Runs}, over HTTP");
        if (!Directory.Exists(Path.Combine(Folder, "data")))
        {
            Write("pages.csv", ["url", "title", "h1", "text"], Enumerable.Range(0, Pages).Select(p => new object?[] { Url(p), $"Kayak subject {p} guide", $"Subject {p}", Text(p) }));
            Write("performance.csv", ["query", "page", "date", "clicks", "impressions", "position"], Performance());
            await Start();
            await Send(HttpMethod.Put, "project", new { name = "Bench", host = "fenwater.example", country = "GB", language = "en", brandTerms = Array.Empty<string>() });
            Say("import of pages, 300 words each", await Import("pages"), null);
            Steps.Clear();
            var import = await Import("performance");
            Say("import of search performance with all that follows", import, null);
            Say("  reading it", import - Steps.Values.Sum(), 8_000);
            Say("  mentions", Steps["QueryMentions"], 20_000);
            Say("  fading pages", Steps["FadingPages"], 2_000);
            foreach (var (step, took) in Steps.Where(s => s.Value >= 100 && s.Key is not ("QueryMentions" or "FadingPages")).OrderByDescending(s => s.Value))
                Say($"  {step}", took, null);
            Memory("peak of the server, MB", "VmHWM", 700);
            Stop();
        }

        await Start();
        await Task.Delay(8_000);
        Say("the first table after a start", await Timed(() => Get("refresh/queries?limit=100")), null);
        foreach (var (name, path) in new[]
        {
            ("table of queries", "refresh/queries?limit=100"),
            ("not mentioned and just below page one", "refresh/queries?limit=100&marks=not-mentioned,below-page-one"),
            ("under-clicked, words in and out, sorted by impressions", "refresh/queries?limit=100&marks=under-clicked&in=kayak&out=sub&sort=impressions&descending=true"),
            ("90 days compared with the year before", "refresh/queries?limit=100&days=90&yearBefore=true"),
            ("table of pages", "refresh/pages?limit=100"),
            ("one page", "refresh/pages/77"),
        })
        {
            await Get(path);
            await Lists(name, path);
        }

        await Send(HttpMethod.Post, "changes", new { page = Url(77), day = First.AddDays(Days - 60).ToString("yyyy-MM-dd", null), kind = "title" });
        Say("what a change did, the first time", await Timed(() => Get("changes")), 2_500);
        await Lists("changes", "changes");
        Memory("of the server in the end, MB", "VmRSS", null);
    }

    private async Task Lists(string name, string path)
    {
        var times = new List<double>();
        for (var run = 0; run < Runs; run++)
            times.Add(await Timed(() => Get(path)));
        Say(name, Percentile(times), 100);
    }

    private static string Url(int page) => $"https://www.fenwater.example/{(page % 7 == 0 ? "guides" : "shop")}/p{page}";

    private static string Text(int page)
    {
        var random = new Random(page);
        return string.Join(' ', Enumerable.Range(0, 300).Select(i => i % 12 == 0 ? $"kayak subject {page}" : i % 7 == 0 ? "sub" : $"word{(int)(5_000 * Math.Pow(random.NextDouble(), 3))}{(i % 10 == 9 ? "." : "")}"));
    }

    private static IEnumerable<object?[]> Performance()
    {
        var random = new Random(6);
        for (var day = 0; day < Days; day++)
        {
            for (var pair = 0; pair < Pages * QueriesOfPage; pair++)
            {
                // Five of the days each, spread over the months.
                if ((day + (pair * 31)) % (Days / DaysOfQuery) != 0 || day >= Days / DaysOfQuery * DaysOfQuery)
                    continue;
                var impressions = 3 + random.Next(20);
                yield return [$"kayak subject {pair / QueriesOfPage} {"abcdefghij"[pair % QueriesOfPage]} sub {pair % 97}", Url(pair / QueriesOfPage), First.AddDays(day).ToString("yyyy-MM-dd", null), random.Next(Math.Min(3, impressions)), impressions, Math.Round(1 + (random.NextDouble() * 18), 2)];
            }
        }
    }
}
