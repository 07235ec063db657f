using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Topics;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Commands on topics.</summary>
internal static class TopicCommands
{
    /// <summary>Gathers the clusters of a file into topics, and those into themes where there are many.</summary>
    public static string Topics(string clusters, string results, double resolution, int depth, string language, string output, string? rejects)
    {
        if (resolution is not (> 0 and <= 1))
            throw new TableFormatException($"--resolution must be above 0 and at most 1, not {resolution}.");
        var names = new Names();
        var (clusterOf, clusterNames) = ClusterFile.Read(clusters, names, f => KeywordNormalForm.Of(f, language));
        var inputs = new Inputs(rawUrls: false, language: language);
        // The volumes are in the same file, where jade cluster wrote it.
        inputs.ReadKeywords(clusters);
        inputs.SortKeywords();
        inputs.ReadResults(results, addKeywords: false);
        var lists = inputs.Lists().Cut(depth);
        var order = KeywordOrder.Ranks(KeywordOrder.Of(inputs.Keywords));
        var members = Enumerable.Range(0, inputs.Keywords.Count).Where(k => names.Find(inputs.Keywords[k].NormalForm) is not null)
            .GroupBy(k => clusterOf[names.Find(inputs.Keywords[k].NormalForm)!.Value])
            .Select(g => (Cluster: g.Key, Members: g.OrderBy(k => order[k]).ToList()))
            .OrderBy(c => order[c.Members[0]]).ToList();
        Cluster[] made = [.. members.Select(m => new Cluster(m.Members[0], [.. m.Members]))];
        using var analysis = new TextAnalysis(language);
        var stems = ClusterLinks.Stems(inputs.Keywords, analysis);
        var links = ClusterLinks.Of(made, inputs.Keywords, lists, k => stems[k]);
        var topics = Core.Topics.Topics.Of([.. made.Select(c => c.Members.Sum(k => inputs.Keywords[k].Volume ?? 0))], links, StandingTopics.None(made.Length), resolution);
        var themes = Themes.Of(topics, links);
        Output.Write(output, ["topic", "theme", "cluster", "primary", "pillar"], topics.SelectMany((topic, t) => topic.Clusters.Select(c => new object?[]
        {
            t + 1, themes.Count == 0 ? null : themes[t] + 1, clusterNames[members[c].Cluster], inputs.Keywords[made[c].Primary].Phrase, c == topic.Pillar ? "yes" : "no",
        })));
        return $"{topics.Count} topics of {made.Length} clusters{(themes.Count == 0 ? "" : $", in {themes.Distinct().Count()} themes")}.{Output.Rejects(inputs, rejects)}";
    }
}
