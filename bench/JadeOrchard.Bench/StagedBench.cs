using System.Diagnostics;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Results.Staged;

namespace JadeOrchard.Bench;

/// <summary>Capturing in stages at 100,000 keywords: learning from what is captured, looking at the rest, and the next batch.</summary>
internal static class StagedBench
{
    private const int Modifiers = 20, Kinds = 2, Pool = 14;

    public static void Run(int count)
    {
        Console.WriteLine($"\n{count:N0} keywords, captured in stages; milliseconds");
        var (keywords, lists) = Made(count);
        var settings = new ClusterSettings();
        var clock = Stopwatch.StartNew();
        var words = new WordedKeywords(keywords, "en", [], []);
        Say("words of the keywords, once", null);
        var staged = new StagedCapture(keywords, words);
        Say($"keywords that are alike, once ({staged.Like.Pairs:N0} pairs)", null);
        var captured = new bool[count];
        Stage? stage = null;
        var soFar = lists.Without(_ => true);
        foreach (var share in new[] { 0.1, 0.2, 0.3 })
        {
            while (captured.Count(c => c) < share * count && staged.Next(soFar, stage, null, Math.Max(1, (int)(share * count) - captured.Count(c => c))) is { Count: > 0 } more)
            {
                foreach (var k in more)
                    captured[k] = true;
            }

            soFar = lists.Without(k => !captured[k]);
            clock.Restart();
            var clustering = Clustering.Of(keywords, soFar, settings);
            Say($"{share:0 %} captured: clusters", null);
            int[] of = clustering.ClusterOf(count), primaries = [.. clustering.Clusters.Select(c => c.Primary)];
            for (var run = 0; run < 3; run++)
            {
                clock.Restart();
                stage = staged.Look(soFar, settings.MinOverlap, of, primaries, null, StagedCapture.UsualCertainty, stage);
                Say($"{share:0 %} captured: learning and looking at the rest, {stage.Expected.Length:N0} expected", 1_000);
                clock.Restart();
                var next = staged.Next(soFar, stage, null, StagedCapture.BatchOf(count, captured.Count(c => c)));
                Say($"{share:0 %} captured: the next batch of {next.Count:N0}", 500);
            }
        }

        void Say(string name, double? target)
        {
            ServerBench.Say(name, clock.Elapsed.TotalMilliseconds, target);
            clock.Restart();
        }
    }

    private static (List<Keyword> Keywords, ResultLists Lists) Made(int count)
    {
        var random = new Random(17);
        var (keywords, builder, seen) = (new List<Keyword>(), new ResultLists.Builder(), new HashSet<string>());
        var urls = 0;
        string[] modifiers = [.. Enumerable.Range(0, Modifiers * Kinds).Select(m => $"m{Letters(m)}")];
        for (var subject = 0; keywords.Count < count; subject++)
        {
            var head = $"s{Letters(subject / 30)} t{Letters(subject % 997)}";
            for (var kind = 0; kind < Kinds; kind++)
            {
                var first = urls;
                urls += Pool;
                for (var m = 0; m < Modifiers && keywords.Count < count; m++)
                {
                    var word = modifiers[(kind * Modifiers) + m];
                    var phrase = m == 0 && kind == 0 ? head : m % 3 == 0 ? $"{word} {head}" : $"{head} {word}";
                    if (random.NextDouble() > 0.6 || !seen.Add(phrase))
                        continue;
                    var list = new HashSet<int>();
                    while (list.Count < 10)
                        list.Add(random.NextDouble() < 0.1 ? (1 << 24) + random.Next(1 << 20) : first + random.Next(Pool - 1));
                    var position = 0;
                    foreach (var url in list)
                        builder.Add(keywords.Count, ++position, url >= 1 << 24 ? url - (1 << 24) + (count * 20) : url);
                    keywords.Add(new Keyword(phrase, phrase, m == 0 && kind == 0 ? random.Next(1_000, 10_000) : random.Next(10, 1_000)));
                }
            }
        }

        return (keywords, builder.Build(keywords.Count, new string[(count * 20) + (1 << 20)]));
    }

    private static string Letters(int number) => number < 26 ? $"{(char)('a' + number)}" : Letters((number / 26) - 1) + (char)('a' + (number % 26));
}
