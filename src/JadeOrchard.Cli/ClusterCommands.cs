using System.Globalization;
using System.Runtime.CompilerServices;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Commands on keywords and result lists.</summary>
internal static class ClusterCommands
{
    public static string Overlap(string results, ClusterSettings settings, bool rawUrls, string[] tracking, string output, string? rejects)
    {
        var inputs = new Inputs(rawUrls) { Tracking = new(tracking) };
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
        string keywords, string results, ClusterSettings settings, bool rawUrls, string[] tracking, string? previous, string? language, string output, string? rejects)
    {
        var inputs = new Inputs(rawUrls, language: language) { Tracking = new(tracking) };
        inputs.ReadKeywords(keywords);
        inputs.ReadResults(results, addKeywords: false);
        var lists = Compared(inputs, settings);
        var held = previous is null ? null : Previous(previous, inputs, settings, language);
        var proposals = rawUrls ? [] : Proposals(inputs, lists);
        inputs.ForgetNames();
        var (clustering, fits) = Grouped(inputs, lists, settings, held);
        inputs.Collect();
        var margins = Margins.All(clustering, lists);
        Output.Write(output, ["cluster", "primary", "keyword", "volume", "overlap_with_primary", "fit", "weak", "bridge_to", "margin", "unsettled"],
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
                margins[member]?.Value,
                margins[member] is { IsUnsettled: true } ? "yes" : "no",
            })));
        return $"{clustering.Clusters.Length} clusters of {clustering.Clusters.Sum(c => c.Members.Length)} keywords; "
            + $"{clustering.NotCaptured.Length} not captured, {inputs.UnknownKeywords} with results but not among the keywords."
            + (held is null ? "" : $" {clustering.HeldBack.Length} keywords stayed where they were though their results moved a little.")
            + string.Concat(proposals.Select(p => $" '{p.Name}' has {p.Values} values in {p.Lists} lists while the rest of the addresses is the same; --tracking {p.Name} compares them without it."))
            + Output.Rejects(inputs, rejects);
    }

    /// <summary>By itself, so that nothing here holds on to the names of URLs once they are forgotten.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private static IReadOnlyList<TrackingProposal> Proposals(Inputs inputs, ResultLists lists)
    {
        bool[] hasParameters = [.. inputs.UrlIdentities.Select(u => u.Contains('?', StringComparison.Ordinal))];
        return TrackingParameters.Proposed(Enumerable.Range(0, lists.Count)
            .SelectMany(k => lists.Urls(k).ToArray().Where(u => hasParameters[u]).Select(u => (k, inputs.UrlIdentities[u]))));
    }

    /// <summary>The clusters of a file, which are to hold; keywords that are not among these are passed over.</summary>
    private static PreviousClusters Previous(string path, Inputs inputs, ClusterSettings settings, string? language)
    {
        if (settings.Rule != LinkingRule.Primary)
            throw new TableFormatException("--previous goes with the rule primary: the others have no primaries that could hold a cluster.");
        var names = new Names();
        var (clusterOf, clusters) = ClusterFile.Read(path, names, f => KeywordNormalForm.Of(f, language));
        var primaries = ClusterFile.Primaries(path, f => KeywordNormalForm.Of(f, language));
        int[] of = [.. inputs.Keywords.Select(k => names.Find(k.NormalForm) is { } known ? clusterOf[known] : -1)];
        var indexOf = inputs.Keywords.Select((k, i) => (k.NormalForm, i)).ToDictionary(k => k.NormalForm, k => k.i, StringComparer.Ordinal);
        // Where the primary is not given or is gone, the first keyword takes its place.
        var first = KeywordOrder.Of(inputs.Keywords).Where(k => of[k] >= 0).GroupBy(k => of[k]).ToDictionary(g => g.Key, g => g.First());
        return new PreviousClusters(
            of, [.. Enumerable.Range(0, clusters.Count).Select(c => primaries.TryGetValue(clusters[c], out var primary) && indexOf.TryGetValue(primary, out var known) ? known : first.GetValueOrDefault(c, 0))],
            settings.Hysteresis);
    }

    /// <summary>How many results two captures of the same keywords share, and what that alone does to clusters.</summary>
    public static string Noise(string[] results, string? keywords, ClusterSettings settings, string? output, string? rejects)
    {
        if (results.Length != 2)
            throw new TableFormatException($"--results is to be given twice, with two captures of the same keywords, not {results.Length} times.");
        var inputs = new Inputs(rawUrls: false);
        if (keywords is not null)
            inputs.ReadKeywords(keywords);
        inputs.ReadResults(results[0], addKeywords: true);
        var (lists, again) = inputs.ListsAnd(results[1]);
        var (first, second) = (settings.Compared(lists, inputs.UrlIdentities), settings.Compared(again, inputs.UrlIdentities));
        var twice = Enumerable.Range(0, inputs.Keywords.Count).Where(k => first.IsCaptured(k) && second.IsCaptured(k))
            .Select(k => (Keyword: k, Shared: Core.Results.Overlap.Count(first.Urls(k), second.Urls(k)), Length: Math.Max(first.Urls(k).Length, second.Urls(k).Length))).ToList();
        if (output is not null)
        {
            Output.Write(output, ["keyword", "shared", "of"], twice.OrderBy(t => inputs.Keywords[t.Keyword].NormalForm, StringComparer.Ordinal)
                .Select(t => new object?[] { inputs.Keywords[t.Keyword].Phrase, t.Shared, t.Length }));
        }

        var (before, after) = (Clustering.Of(inputs.Keywords, first, settings), Clustering.Of(inputs.Keywords, second, settings));
        var clusterOf = before.ClusterOf(inputs.Keywords.Count);
        var held = Clustering.Of(inputs.Keywords, second, settings, previous: new PreviousClusters(clusterOf, [.. before.Clusters.Select(c => c.Primary)], settings.Hysteresis));
        string Moved(Clustering again)
        {
            var both = twice.Select(t => t.Keyword).ToHashSet();
            int[] Only(int[] of) => [.. of.Select((c, k) => both.Contains(k) ? c : -1)];
            var moved = ClusteringComparison.Of(Only(clusterOf), Only(again.ClusterOf(inputs.Keywords.Count))).Moved.Length;
            return string.Create(CultureInfo.InvariantCulture, $"{(both.Count == 0 ? 0 : 100.0 * moved / both.Count):0.#} %");
        }

        return Core.Clusters.Noise.Of([.. twice.Select(t => (t.Shared, t.Length))]).On(before, Margins.All(before, first), settings.MinOverlap).Says
            + (twice.Count == 0 ? "" : $" Grouped again from scratch, {Moved(after)} of them change cluster; with --previous, {Moved(held)}.") + Output.Rejects(inputs, rejects);
    }

    /// <summary>By itself, so that nothing here holds on to the names of URLs once they are forgotten.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private static ResultLists Compared(Inputs inputs, ClusterSettings settings) => settings.Compared(inputs.Lists(), inputs.UrlIdentities);

    /// <summary>By itself, so that the index, which takes most, is let go of before anything is written.</summary>
    private static (Clustering Clustering, KeywordFit[] Fits) Grouped(Inputs inputs, ResultLists lists, ClusterSettings settings, PreviousClusters? previous)
    {
        var order = Task.Run(() => KeywordOrder.Of(inputs.Keywords));
        var index = new OverlapIndex(lists, settings.MinOverlap);
        var postings = Task.Run(() => new UrlPostings(lists));
        var clustering = Clustering.Of(order.GetAwaiter().GetResult(), lists, index, settings.Rule, previous: previous, shortLists: settings.ShortLists).AtLeast(settings.Smallest);
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
        var ofFirst = ClusterFile.Read(first, keywords);
        var ofSecond = ClusterFile.Read(second, keywords);
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

    private static string Code(LinkingRule rule) => rule == LinkingRule.EveryPair ? "every-pair" : rule.ToString().ToLowerInvariant();
}
