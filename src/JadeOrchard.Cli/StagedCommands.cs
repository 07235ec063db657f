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
        var (inputs, lists, words) = Read(keywords, results, certainty, settings, language, brands);
        int[] known = [.. KeywordOrder.Of(inputs.Keywords).Where(lists.IsCaptured)];
        var replay = StagedReplay.Of(inputs.Keywords, lists, words, settings, certainty);
        Output.Write(output, ["captured", "share", "certain", "ari", "wrong"],
            replay.Batches.Select(b => new object?[] { b.Captured, Math.Round((double)b.Captured / known.Length, 4), b.Expected, Math.Round(b.AdjustedRandIndex, 4), b.Wrong }));
        if (assignments is not null)
        {
            Output.Write(assignments, ["cluster", "keyword", "state"], known.OrderBy(k => replay.ClusterOf[k])
                .Select(k => new object?[] { replay.ClusterOf[k] + 1, inputs.Keywords[k].Phrase, replay.IsCaptured[k] ? "captured" : "expected" }));
        }

        return Says() + Output.Rejects(inputs, rejects);

        string Says() => replay.Batches.Count == 0 ? "No keyword has a result list, so there is nothing to replay." : string.Create(CultureInfo.InvariantCulture,
            $"{replay.Batches[^1].Captured} of {known.Length} lists captured ({(double)replay.Batches[^1].Captured / known.Length:0.0 %}), {replay.Batches[^1].Expected} expected, {replay.Batches[^1].Wrong} of them wrong; "
            + $"adjusted Rand index {replay.Batches[^1].AdjustedRandIndex:0.0000} against the clusters of all.")
            + (replay.Audit is { } audit ? string.Create(CultureInfo.InvariantCulture, $" An audit of {audit.Audited} finds {audit.Right} right: between {audit.Lower:0.0 %} and {audit.Upper:0.0 %} of all that are expected.") : "");
    }

    /// <summary>Names the keywords whose lists tell most, given those that are captured.</summary>
    public static string Next(string keywords, string results, int? count, double certainty, ClusterSettings settings, string language, string[] brands, string output, string? rejects)
    {
        if (count is < 1)
            throw new TableFormatException($"--count must be 1 or more, not {count}.");
        var (inputs, lists, words) = Read(keywords, results, certainty, settings, language, brands);
        var staged = new StagedCapture(inputs.Keywords, words);
        var captured = Enumerable.Range(0, lists.Count).Count(lists.IsCaptured);
        var clusters = CapturedClusters.Of(Clustering.Of(inputs.Keywords, lists, settings), lists);
        var stage = captured == 0 ? null : staged.Look(lists, settings.MinOverlap, clusters.ClusterOf, clusters.Primaries, null, certainty);
        var next = staged.Next(lists, stage, null, count ?? StagedCapture.BatchOf(lists.Count, captured));
        Output.Write(output, ["keyword", "volume", "certainty"], next.Select(k => new object?[] { inputs.Keywords[k].Phrase, inputs.Keywords[k].Volume, Math.Round(stage?.Certainty[k] ?? 0, 4) }));
        return $"{captured} of {lists.Count} keywords are captured, {stage?.Expected.Length ?? 0} expected; "
            + (next.Count == 0 ? "more lists would change nothing at this certainty." : $"{next.Count} to capture next.") + Output.Rejects(inputs, rejects);
    }

    private static (Inputs Inputs, ResultLists Lists, WordedKeywords Words) Read(string keywords, string results, double certainty, ClusterSettings settings, string language, string[] brands)
    {
        if (!(certainty is >= 0.5 and < 1))
            throw new TableFormatException(string.Create(CultureInfo.InvariantCulture, $"--certainty must be 0.5 or more and less than 1, not {certainty}."));
        var inputs = new Inputs(rawUrls: false, language: language);
        inputs.ReadKeywords(keywords);
        inputs.ReadResults(results, addKeywords: false);
        return (inputs, settings.Compared(inputs.Lists(), inputs.UrlIdentities), new WordedKeywords(inputs.Keywords, language, brands, []));
    }
}
