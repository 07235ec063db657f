using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;

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

        var pairs = OverlapJoin.Pairs(inputs.Lists().Cut(settings.Depth), settings.MinOverlap);
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
        var lists = inputs.Lists().Cut(settings.Depth);
        var clustering = Clustering.Of(inputs.Keywords, lists, settings);
        Output.Write(output, ["cluster", "primary", "keyword", "volume", "overlap_with_primary"],
            clustering.Clusters.SelectMany((cluster, number) => cluster.Members.Select(member => new object?[]
            {
                number + 1,
                inputs.Keywords[cluster.Primary].Phrase,
                inputs.Keywords[member].Phrase,
                inputs.Keywords[member].Volume,
                Core.Results.Overlap.Count(lists.Urls(cluster.Primary), lists.Urls(member)),
            })));
        return $"{clustering.Clusters.Length} clusters of {inputs.Keywords.Count - clustering.NotCaptured.Length} keywords; "
            + $"{clustering.NotCaptured.Length} not captured, {inputs.UnknownKeywords} with results but not among the keywords."
            + Output.Rejects(inputs, rejects);
    }
}
