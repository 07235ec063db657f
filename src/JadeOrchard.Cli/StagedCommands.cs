using System.Globalization;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Results.Staged;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Commands on capturing in stages.</summary>
internal static class StagedCommands
{
    /// <summary>Replays a capture in stages on lists that are complete, and compares what it finds with the clusters of all of them.</summary>
    public static string Savings(string keywords, string results, double certainty, ClusterSettings settings, string language, string[] brands, string output, string? assignments, string? rejects)
    {
        var (inputs, lists, staged) = Read(keywords, results, certainty, settings, language, brands);
        int[] known = [.. Enumerable.Range(0, lists.Count).Where(lists.IsCaptured)];
        var order = KeywordOrder.Of(inputs.Keywords);
        var whole = Clustering.Of(inputs.Keywords, lists, settings, order).ClusterOf(lists.Count);
        var isCaptured = new bool[lists.Count];
        var rows = new List<object?[]>();
        var (soFar, stage, clustering) = (lists.Without(_ => true), (Stage?)null, (Clustering?)null);
        int[] labels = [];
        var (captured, wrong, index) = (0, 0, 1.0);
        while (staged.Next(soFar, stage, lists.IsCaptured, StagedCapture.BatchOf(known.Length, captured)) is { Count: > 0 } batch)
        {
            foreach (var keyword in batch)
                isCaptured[keyword] = true;
            captured += batch.Count;
            soFar = lists.Without(k => !isCaptured[k]);
            clustering = Clustering.Of(inputs.Keywords, soFar, settings, order);
            var clusterOf = ClusterOfEach(clustering, soFar);
            stage = staged.Look(soFar, settings.MinOverlap, clusterOf.Of, clusterOf.Primaries, lists.IsCaptured, certainty, stage);
            var mostly = Mostly(clusterOf.Of, whole, clusterOf.Primaries.Count);
            wrong = stage.Expected.Count(e => whole[e.Keyword] != mostly[e.Cluster]);
            // What is neither captured nor expected stands by itself.
            labels = [.. Enumerable.Range(0, lists.Count).Select(k => clusterOf.Of[k])];
            foreach (var member in stage.Expected)
                labels[member.Keyword] = member.Cluster;
            var next = clusterOf.Primaries.Count;
            index = ClusteringParts.Of(Alone(whole, lists), [.. known.Aggregate((int[])labels.Clone(), (all, k) =>
            {
                all[k] = all[k] < 0 ? next++ : all[k];
                return all;
            })]).AdjustedRandIndex;
            rows.Add([captured, Math.Round((double)captured / known.Length, 4), stage.Expected.Length, Math.Round(index, 4), wrong]);
        }

        Output.Write(output, ["captured", "share", "certain", "ari", "wrong"], rows);
        if (assignments is not null)
        {
            Output.Write(assignments, ["cluster", "keyword", "state"], order.Where(k => lists.IsCaptured(k) && labels[k] >= 0).OrderBy(k => labels[k])
                .Select(k => new object?[] { labels[k] + 1, inputs.Keywords[k].Phrase, isCaptured[k] ? "captured" : "expected" }));
        }

        return Says() + Output.Rejects(inputs, rejects);

        string Says()
        {
            if (stage is null)
                return "No keyword has a result list, so there is nothing to replay.";
            var expected = stage.Expected.Length;
            var said = string.Create(CultureInfo.InvariantCulture,
                $"{captured} of {known.Length} lists captured ({Share(captured, known.Length)}), {expected} expected, {wrong} of them wrong; adjusted Rand index {index:0.0000} against the clusters of all.");
            if (expected == 0)
                return said;
            var audited = staged.Audit([.. stage.Expected.Select(e => e.Keyword)], 1).ToHashSet();
            var clusterOf = ClusterOfEach(clustering!, soFar).Of;
            var mostly = Mostly(clusterOf, whole, clusterOf.Max() + 1);
            var audit = CaptureAudit.Of(stage.Expected.Count(e => audited.Contains(e.Keyword) && whole[e.Keyword] == mostly[e.Cluster]), audited.Count);
            return said + string.Create(CultureInfo.InvariantCulture, $" An audit of {audit.Audited} would find {audit.Right} right: between {audit.Lower:0.0 %} and {audit.Upper:0.0 %} of all.");
        }
    }

    /// <summary>Names the keywords whose lists tell most, given those that are captured.</summary>
    public static string Next(string keywords, string results, int? count, double certainty, ClusterSettings settings, string language, string[] brands, string output, string? rejects)
    {
        if (count is < 1)
            throw new TableFormatException($"--count must be 1 or more, not {count}.");
        var (inputs, lists, staged) = Read(keywords, results, certainty, settings, language, brands);
        var captured = Enumerable.Range(0, lists.Count).Count(lists.IsCaptured);
        Stage? stage = null;
        if (captured > 0)
        {
            var clusterOf = ClusterOfEach(Clustering.Of(inputs.Keywords, lists, settings), lists);
            stage = staged.Look(lists, settings.MinOverlap, clusterOf.Of, clusterOf.Primaries, null, certainty);
        }

        var next = staged.Next(lists, stage, null, count ?? StagedCapture.BatchOf(lists.Count, captured));
        Output.Write(output, ["keyword", "volume", "certainty"], next.Select(k => new object?[] { inputs.Keywords[k].Phrase, inputs.Keywords[k].Volume, Math.Round(stage?.Certainty[k] ?? 0, 4) }));
        return $"{captured} of {lists.Count} keywords are captured, {stage?.Expected.Length ?? 0} expected; "
            + (next.Count == 0 ? "more lists would change nothing at this certainty." : $"{next.Count} to capture next.") + Output.Rejects(inputs, rejects);
    }

    private static (Inputs Inputs, ResultLists Lists, StagedCapture Staged) Read(string keywords, string results, double certainty, ClusterSettings settings, string language, string[] brands)
    {
        if (!(certainty is > 0.5 and < 1))
            throw new TableFormatException(string.Create(CultureInfo.InvariantCulture, $"--certainty must be more than 0.5 and less than 1, not {certainty}."));
        var inputs = new Inputs(rawUrls: false, language: language);
        inputs.ReadKeywords(keywords);
        inputs.ReadResults(results, addKeywords: false);
        var lists = settings.Compared(inputs.Lists(), inputs.UrlIdentities);
        return (inputs, lists, new StagedCapture(inputs.Keywords, new WordedKeywords(inputs.Keywords, language, brands, [])));
    }

    /// <summary>Clusters with those that are too small as well: each captured keyword is in one.</summary>
    private static (int[] Of, List<int> Primaries) ClusterOfEach(Clustering clustering, ResultLists lists)
    {
        var of = clustering.ClusterOf(lists.Count);
        var primaries = clustering.Clusters.Select(c => c.Primary).ToList();
        for (var k = 0; k < of.Length; k++)
        {
            if (of[k] >= 0 || !lists.IsCaptured(k))
                continue;
            of[k] = primaries.Count;
            primaries.Add(k);
        }

        return (of, primaries);
    }

    /// <returns>For each cluster the one of all lists in which most of its captured keywords are.</returns>
    private static int[] Mostly(int[] clusterOf, int[] whole, int clusters)
    {
        var mostly = new int[clusters];
        Array.Fill(mostly, -1);
        foreach (var group in Enumerable.Range(0, clusterOf.Length).Where(k => clusterOf[k] >= 0).GroupBy(k => clusterOf[k]))
            mostly[group.Key] = group.GroupBy(k => whole[k]).OrderByDescending(g => g.Count()).ThenBy(g => g.Key).First().Key;
        return mostly;
    }

    /// <summary>Keywords of clusters that are too small stand by themselves.</summary>
    private static int[] Alone(int[] clusterOf, ResultLists lists)
    {
        var next = clusterOf.DefaultIfEmpty(-1).Max() + 1;
        return [.. clusterOf.Select((c, k) => c < 0 && lists.IsCaptured(k) ? next++ : c)];
    }

    private static string Share(int part, int all) => string.Create(CultureInfo.InvariantCulture, $"{(double)part / all:0.0 %}");
}
