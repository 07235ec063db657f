using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Results;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Bench;

/// <summary>How far the engine reaches, beside a sparse matrix product and a self-join in a database, on the same lists in one run.</summary>
internal static class JoinBench
{
    private const int Minimum = 3;

    /// <summary>How long a baseline may take.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(6);

    /// <param name="root">The folder of the repository.</param>
    /// <param name="withDatabase">The self-join takes minutes.</param>
    public static void Run(string root, bool withDatabase)
    {
        var folder = Directory.CreateTempSubdirectory("jade-join-").FullName;
        try
        {
            var hundred = Measured(folder, "100000", 100_000);
            Against("scipy's sparse product", "scipy", hundred);
            if (withDatabase)
                Against("a self-join in SQLite", "sqlite", hundred);
            var million = Measured(folder, "1000000", 1_000_000);
            Console.WriteLine($"1,000,000 keywords take {million.Seconds / hundred.Seconds:0.0} times as long as 100,000");
            foreach (var (top, frequent, count) in new[] { (0.02, 0, 100_000), (0.40, 0, 100_000), (0.15, 3, 100_000), (0.15, 6, 20_000) })
                Measured(folder, $"{count}-{top}-{frequent}", count, top, frequent);
            WholeProcess(folder, root, million.Seconds);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }

        void Against(string name, string kind, (string File, long Pairs, double Seconds, double Megabytes) ours)
        {
            var (output, seconds, _) = Ran("/usr/bin/python3", Path.Combine(root, "bench", "baselines.py"), kind, ours.File, $"{Minimum}");
            if (output is null)
            {
                Console.WriteLine($"  {name}: stopped after {seconds:0} s, more than {seconds / ours.Seconds:0} times as long");
                return;
            }

            var said = output.Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToArray();
            if ((long)said[0] != ours.Pairs)
                throw new InvalidOperationException($"{name} found {said[0]} pairs, the join {ours.Pairs}.");
            Console.WriteLine($"  {name}: {said[1]:0.0} s and {said[3] - said[2]:0} MB for the same pairs, {said[1] / ours.Seconds:0} times as long, {(said[3] - said[2]) / ours.Megabytes:0.0} times the memory");
        }
    }

    /// <summary>The join alone, in a process of its own so that its memory can be told.</summary>
    public static void Alone(string file)
    {
        var urls = MemoryMarshal.Cast<byte, int>(File.ReadAllBytes(file).AsSpan()).ToArray();
        OverlapJoin.Pairs(ResultLists.OfEqualLength(urls[..Math.Min(urls.Length, 200_000)], 10), Minimum);
        var lists = ResultLists.OfEqualLength(urls, 10);
        GC.Collect();
        var before = Environment.WorkingSet;
        var (best, peak) = (double.MaxValue, 0L);
        var counts = default(JoinCounts);
        for (var i = 0; i < 9; i++)
        {
            var clock = Stopwatch.StartNew();
            OverlapJoin.Pairs(lists, Minimum, out counts);
            best = Math.Min(best, clock.Elapsed.TotalSeconds);
            // Later runs are there for the time alone.
            peak = i == 0 ? Process.GetCurrentProcess().PeakWorkingSet64 : peak;
        }

        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{best} {(peak - before) / 1048576.0} {counts.Found} {counts.Checked} {counts.Scanned}"));
    }

    private static (string File, long Pairs, double Seconds, double Megabytes) Measured(string folder, string name, int count, double top = 0.15, int frequent = 0)
    {
        var file = Path.Combine(folder, name);
        File.WriteAllBytes(file, MemoryMarshal.AsBytes<int>([.. ListGenerator.Lists(count, top, frequent).SelectMany(l => l)]));
        var (output, _, _) = Ran(Environment.ProcessPath!, "join-alone", file);
        var said = output!.Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToArray();
        Console.WriteLine($"join of {count:N0} keywords, the most frequent URL in {top:P0} of the lists, up to {frequent} very frequent ones in a list, minimum {Minimum}: "
            + $"{said[0]:0.00} s, {said[1]:0} MB, {said[2]:N0} pairs, {said[3] / said[2]:0.00} checked a pair, {said[4] / count:0.0} postings a keyword");
        return (file, (long)said[2], said[0], said[1]);
    }

    /// <summary>From CSV files to clusters.csv, a million keywords.</summary>
    private static void WholeProcess(string folder, string root, double join)
    {
        var lists = MemoryMarshal.Cast<byte, int>(File.ReadAllBytes(Path.Combine(folder, "1000000")).AsSpan()).ToArray();
        var (keywords, results, clusters) = (Path.Combine(folder, "k.csv"), Path.Combine(folder, "r.csv"), Path.Combine(folder, "clusters.csv"));
        using (var stream = File.Create(keywords))
            TableOutput.WriteCsv(stream, ["keyword", "volume"], Enumerable.Range(0, lists.Length / 10).Select(k => new object?[] { Phrase(k), 10_000_000L / (k + 20) }), forSpreadsheets: false);
        using (var stream = File.Create(results))
        {
            TableOutput.WriteCsv(stream, ["keyword", "position", "url"], lists.Select((url, i) => new object?[]
                { Phrase(i / 10), (i % 10) + 1, $"https://www.rival{url % 400}.example/guides/{url}" }), forSpreadsheets: false);
        }

        // The first time it is built.
        Ran(Path.Combine(root, "jade"), "--help");
        var (output, seconds, megabytes) = Ran(Path.Combine(root, "jade"), "cluster", "--keywords", keywords, "--results", results, "--min-overlap", $"{Minimum}", "--out", clusters);
        Console.WriteLine($"jade cluster, 1,000,000 keywords and {lists.Length:N0} results from CSV to CSV: {seconds:0.0} s, {seconds / join:0.0} times the join alone, peak {megabytes:0} MB. {output?.Trim()}");

        static string Phrase(int k) => $"kayak subject {k / 8} {"abcdefgh"[k % 8]}";
    }

    /// <returns>What it wrote, null where it had to be stopped; seconds; the peak of its memory in MB.</returns>
    private static (string? Output, double Seconds, double Megabytes) Ran(string program, params string[] arguments)
    {
        var clock = Stopwatch.StartNew();
        using var process = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true })!;
        var output = process.StandardOutput.ReadToEndAsync();
        var peak = 0L;
        while (!process.WaitForExit(50))
        {
            try
            {
                peak = Math.Max(peak, PeakOf(process.Id));
            }
            catch (IOException)
            {
                break;
            }

            if (clock.Elapsed > Patience)
            {
                process.Kill();
                process.WaitForExit();
                return (null, clock.Elapsed.TotalSeconds, peak >> 10);
            }
        }

        process.WaitForExit();
        if (process.ExitCode != 0)
            throw new InvalidOperationException($"{program} {string.Join(' ', arguments)} failed.");
        return (output.Result, clock.Elapsed.TotalSeconds, peak / 1024.0);
    }

    /// <summary>Kilobytes, as Linux tells.</summary>
    private static long PeakOf(int process)
    {
        foreach (var line in File.ReadLines($"/proc/{process}/status"))
        {
            if (line.StartsWith("VmHWM:", StringComparison.Ordinal))
                return long.Parse(line.AsSpan(6).Trim().TrimEnd("kB ").Trim(), CultureInfo.InvariantCulture);
        }

        return 0;
    }
}
