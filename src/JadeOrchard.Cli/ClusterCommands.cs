using System.Globalization;
using System.Runtime.CompilerServices;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Commands on keywords and result lists.</summary>
internal static class ClusterCommands
{
    public static string Overlap(string results, ClusterSettings settings, bool rawUrls, string output, string? rejects)
    {
        var inputs = new Inputs(rawUrls);
        inputs.ReadResults(results, addKeywords: true);
        // With keywords in ordinal order an index compares as its phrase does.
        var order = Enumerable.Range(0, inputs.Keywords.Count)
            .OrderBy(k => inputs.Keywords[k].Phrase, StringComparer.Ordinal)
            .ToArray();
        var place = new int[order.Length];
        for (var i = 0; i < order.Length; i++)
            place[order[i]] = i;

        var pairs = OverlapJoin.Pairs(settings.Compared(inputs.Lists(), inputs.UrlIdentities), settings.MinOverlap);
        for (var i = 0; i < pairs.Length; i++)
        {
            var (a, b) = (place[pairs[i].A], place[pairs[i].B]);
            pairs[i] = new OverlapPair(Math.Min(a, b), Math.Max(a, b), pairs[i].Count);
        }

        Array.Sort(pairs, (x, y) => x.A != y.A ? x.A.CompareTo(y.A) : x.B.CompareTo(y.B));
        Output.Write(output, ["keyword_a", "keyword_b", "overlap"], pairs.Select(p => new object?[]
        {
            inputs.Keywords[order[p.A]].Phrase, inputs.Keywords[order[p.B]].Phrase, p.Count,
        }));
        return $"{pairs.Length} pairs of {inputs.Keywords.Count} keywords share {settings.MinOverlap} or more of the first {settings.Depth}.{Output.Rejects(inputs, rejects)}";
    }

    public static string Cluster(
        string keywords, string results, ClusterSettings settings, bool rawUrls, string output, string? rejects)
    {
        var inputs = new Inputs(rawUrls);
        inputs.ReadKeywords(keywords);
        inputs.ReadResults(results, addKeywords: false);
        var lists = Compared(inputs, settings);
        inputs.ForgetNames();
        var (clustering, fits) = Grouped(inputs, lists, settings);
        inputs.Collect();
        Output.Write(output, ["cluster", "primary", "keyword", "volume", "overlap_with_primary", "fit", "weak", "bridge_to"],
            clustering.Clusters.SelectMany((cluster, number) => cluster.Members.Select(member => new object?[]
            {
                number + 1,
                inputs.Keywords[cluster.Primary].Phrase,
                inputs.Keywords[member].Phrase,
                inputs.Keywords[member].Volume,
                Core.Results.Overlap.Count(lists.Urls(cluster.Primary), lists.Urls(member)),
                Math.Round(fits[member].Fit, 4),
                fits[member].IsWeak ? "yes" : "no",
                fits[member].IsBridge ? fits[member].BridgeTo + 1 : null,
            })));
        return $"{clustering.Clusters.Length} clusters of {clustering.Clusters.Sum(c => c.Members.Length)} keywords; "
            + $"{clustering.NotCaptured.Length} not captured, {inputs.UnknownKeywords} with results but not among the keywords."
            + Output.Rejects(inputs, rejects);
    }

    /// <summary>By itself, so that nothing here holds on to the names of URLs once they are forgotten.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private static ResultLists Compared(Inputs inputs, ClusterSettings settings) => settings.Compared(inputs.Lists(), inputs.UrlIdentities);

    /// <summary>By itself, so that the index, which takes most, is let go of before anything is written.</summary>
    private static (Clustering Clustering, KeywordFit[] Fits) Grouped(Inputs inputs, ResultLists lists, ClusterSettings settings)
    {
        var order = Task.Run(() => KeywordOrder.Of(inputs.Keywords));
        var index = new OverlapIndex(lists, settings.MinOverlap);
        var postings = Task.Run(() => new UrlPostings(lists));
        var clustering = Clustering.Of(order.GetAwaiter().GetResult(), lists, index, settings.Rule).AtLeast(settings.Smallest);
        inputs.Collect();
        var clusters = clustering.Clusters;
        return (clustering, ClusterFits.Of(
            clusters, lists, postings.GetAwaiter().GetResult(), settings.Depth, clusterOf => clustering.Bridges ?? Bridges.Of(clusters, clusterOf, index)));
    }

    /// <summary>Pairs that are held for the table of minimums: 240 MB.</summary>
    private const long MostPairs = 20_000_000;

    public static string Sensitivity(string keywords, string results, int depth, bool rawUrls, string output, string? rejects)
    {
        var inputs = new Inputs(rawUrls);
        inputs.ReadKeywords(keywords);
        inputs.ReadResults(results, addKeywords: false);
        var lists = inputs.Lists().Cut(depth);
        var sensitivity = new Sensitivity(inputs.Keywords, lists, OverlapPairs.Of(lists, depth, MostPairs));
        var rows = Enum.GetValues<LinkingRule>().SelectMany(rule => sensitivity.Rows(rule)).ToList();
        Output.Write(output, ["rule", "min_overlap", "clusters", "singleton_share", "largest", "mean_cohesion"], rows.Select(r => new object?[]
        {
            Code(r.Rule), r.MinOverlap, r.Clusters, Math.Round(r.SingletonShare, 4), r.Largest, r.Cohesion is { } cohesion ? Math.Round(cohesion, 4) : null,
        }));
        return $"{rows.Count} ways to group {inputs.Keywords.Count} keywords."
            + Output.Rejects(inputs, rejects);
    }

    /// <summary>What differs between two files that <see cref="Cluster"/> wrote, or any with the columns cluster and keyword.</summary>
    public static string Compare(string first, string second, string? output)
    {
        var keywords = new Names();
        var ofFirst = Assigned(first, keywords);
        var ofSecond = Assigned(second, keywords);
        int[] a = Indexes(ofFirst), b = Indexes(ofSecond);
        var both = Enumerable.Range(0, keywords.Count).Count(k => a[k] >= 0 && b[k] >= 0);
        var comparison = ClusteringComparison.Of(a, b);
        string NameA(int cluster) => ofFirst.Names[cluster];
        string NameB(int cluster) => ofSecond.Names[cluster];
        if (output is not null)
        {
            Output.Write(output, ["change", "keyword", "from", "to"],
                comparison.Moved.Select(k => new object?[] { "moved", keywords[k], NameA(a[k]), NameB(b[k]) })
                    .Concat(comparison.Splits.SelectMany(s => s.Parts.Select(p => new object?[] { "split", null, NameA(s.Cluster), NameB(p.Cluster) })))
                    .Concat(comparison.Merges.SelectMany(m => m.Parts.Select(p => new object?[] { "merged", null, NameA(p.Cluster), NameB(m.Cluster) }))));
        }

        return string.Create(CultureInfo.InvariantCulture,
            $"adjusted Rand index {comparison.AdjustedRandIndex:0.0000} over {both} keywords; {comparison.Moved.Length} moved, {comparison.Splits.Length} clusters split, {comparison.Merges.Length} merged; ")
            + $"{Enumerable.Range(0, keywords.Count).Count(k => b[k] < 0)} only in the first file, {Enumerable.Range(0, keywords.Count).Count(k => a[k] < 0)} only in the second.";

        int[] Indexes((Dictionary<int, int> ClusterOf, Names Names) assigned) =>
            [.. Enumerable.Range(0, keywords.Count).Select(k => assigned.ClusterOf.GetValueOrDefault(k, -1))];
    }

    private static (Dictionary<int, int> ClusterOf, Names Names) Assigned(string path, Names keywords)
    {
        using var file = DelimitedFile.Open(path);
        int Place(string column) => file.Header.Select(h => h.Trim().ToLowerInvariant()).ToList().IndexOf(column) is var at and >= 0
            ? at
            : throw new TableFormatException($"{path}: there is no column named {column}. The columns are: {string.Join(", ", file.Header)}.");
        var (cluster, keyword) = (Place("cluster"), Place("keyword"));
        var (clusterOf, names) = (new Dictionary<int, int>(), new Names());
        foreach (var (line, row) in file.Rows())
        {
            if (row.Value is not { } fields || fields.Length <= Math.Max(cluster, keyword) || fields[cluster].Length == 0 || fields[keyword].Length == 0)
                throw new TableFormatException($"{path}, line {line}: {row.Rejected?.Reason ?? "a cluster and a keyword are needed."}");
            if (!clusterOf.TryAdd(keywords.IndexOf(fields[keyword]), names.IndexOf(fields[cluster])))
                throw new TableFormatException($"{path}, line {line}: '{fields[keyword]}' is in the file twice; a keyword has one cluster.");
        }

        return (clusterOf, names);
    }

    private static string Code(LinkingRule rule) => rule == LinkingRule.EveryPair ? "every-pair" : rule.ToString().ToLowerInvariant();
}
