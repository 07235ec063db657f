using System.Globalization;
using CsCheck;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Results.Staged;

namespace JadeOrchard.Core.Tests.Results;

public sealed class StagedCaptureTests
{
    /// <summary>Most of those that speak for it decide, among equals the first of them; in any order otherwise.</summary>
    [Fact]
    public void AKeywordIsExpectedWhereMostOfWhatSpeaksForItIs()
    {
        Assert.Null(SupportedCluster.Of([]));
        Gen.Int[1, 4].List[1, 8].Sample(of =>
        {
            var cluster = SupportedCluster.Of(of.Select(c => new ClusterId(c)))!.Value.Value;
            var most = of.GroupBy(c => c).Max(g => g.Count());
            Assert.Equal(of.First(c => of.Count(o => o == c) == most), cluster);
        });
    }

    /// <summary>Subjects that differ by one word, and modifiers that do too: some change nothing, others ask for another page. No word is in any language.</summary>
    private static (List<Keyword> Keywords, ResultLists Lists) OneWordApart(int seed, int nouns = 4, int subjects = 10, int modifiers = 8, double noise = 0.1)
    {
        var random = new Random(seed);
        var (keywords, builder, urls) = (new List<Keyword>(), new ResultLists.Builder(), 0);
        string[] words = [.. Enumerable.Range(0, 400).Select(i => $"{"bdfgklmnprstvz"[i % 14]}{"aeiou"[i % 5]}{"klmnprst"[i % 8]}{"aeiou"[i / 14 % 5]}{(char)('a' + (i % 26))}").Distinct()];
        random.Shuffle(words);
        for (var n = 0; n < nouns; n++)
        {
            for (var s = 0; s < subjects; s++)
            {
                var subject = $"{words[100 + ((s + (n * 3)) % (subjects * 2))]} {words[n]}";
                for (var kind = 0; kind < 2; kind++)
                {
                    var first = urls;
                    urls += 13;
                    for (var m = kind == 0 ? -1 : 0; m < modifiers; m++)
                    {
                        var modifier = words[20 + (kind * modifiers) + Math.Max(0, m)];
                        var phrase = m < 0 ? subject : m % 2 == 0 ? $"{modifier} {subject}" : $"{subject} {modifier}";
                        var list = new HashSet<int>();
                        while (list.Count < 10)
                            list.Add(random.NextDouble() < noise ? 1_000_000 + random.Next(1_000_000) : first + Math.Min(random.Next(13), random.Next(14)));
                        var position = 0;
                        foreach (var url in list)
                            builder.Add(keywords.Count, ++position, url);
                        keywords.Add(new Keyword(phrase, phrase, m < 0 ? random.Next(1_000, 9_000) : random.Next(10) == 0 ? null : random.Next(10, 2_000)));
                    }
                }
            }
        }

        return (keywords, builder.Build(keywords.Count, new string[2_000_000]));
    }

    private static StagedReplay Replay((List<Keyword> Keywords, ResultLists Lists) world) =>
        StagedReplay.Of(world.Keywords, world.Lists, new WordedKeywords(world.Keywords, "en", [], []), new ClusterSettings(), StagedCapture.UsualCertainty);

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void WhatAWordDoesIsLearnedWhereSubjectsAndModifiersDifferByOneWordEach(int seed)
    {
        var world = OneWordApart(seed);
        var last = Replay(world).Batches[^1];
        Assert.True(last.Captured <= 0.6 * world.Keywords.Count && last.AdjustedRandIndex >= 0.95, last.ToString());
    }

    [Fact]
    public void WhereResultsFollowNoWordsEverythingIsCaptured()
    {
        // Each list is of its own: nobody can know without paying.
        var keywords = Enumerable.Range(0, 200).Select(i => new Keyword($"word{i % 20} thing{i / 20}", $"word{i % 20} thing{i / 20}", i)).ToList();
        var lists = ResultLists.OfEqualLength([.. Enumerable.Range(0, 2_000)], 10);
        var replay = Replay((keywords, lists));
        Assert.Equal((200, 0), (replay.Batches[^1].Captured, replay.Batches[^1].Expected));
        Assert.Equal(1, replay.Batches[^1].AdjustedRandIndex, 9);
    }

    [Fact]
    public void AKeywordThatIsAlikeWithVeryManyIsNoTrouble()
    {
        // Each differs by two words, so that the most searched ones are compared with all; more than a thread's stack could hold.
        const int count = 250_000;
        var keywords = Enumerable.Range(0, count).Select(i => new Keyword($"kayak w{i} v{i}", $"kayak w{i} v{i}", i)).ToList();
        var builder = new ResultLists.Builder();
        for (var k = count - 40; k < count; k++)
        {
            for (var position = 1; position <= 10; position++)
                builder.Add(k, position, position);
        }

        var lists = builder.Build(count, new string[11]);
        var staged = new StagedCapture(keywords, new WordedKeywords(keywords, "en", [], []));
        Assert.True(Enumerable.Range(0, count).Max(k => staged.Like.Of(k).Length) > count / 2);
        var clusters = CapturedClusters.Of(Clustering.Of(keywords, lists, new ClusterSettings()), lists);
        Assert.Equal(count - 40, staged.Look(lists, 4, clusters.ClusterOf, clusters.Primaries, null, StagedCapture.UsualCertainty) is var stage ? stage.Expected.Length + stage.Unknown : 0);
    }

    [Fact]
    public void TheOrderOfRowsDoesNotMatter()
    {
        var (keywords, lists) = OneWordApart(5, nouns: 2, subjects: 6);
        var plain = Replay((keywords, lists));
        int[] order = [.. Enumerable.Range(0, keywords.Count)];
        new Random(3).Shuffle(order);
        var shuffled = Replay(([.. order.Select(k => keywords[k])], lists.Select(order)));
        Assert.Equal(plain.Batches.Select(b => (b.Captured, b.Expected)), shuffled.Batches.Select(b => (b.Captured, b.Expected)));
        Assert.All(Enumerable.Range(0, order.Length), i => Assert.Equal(plain.IsCaptured[order[i]], shuffled.IsCaptured[i]));
    }

    [Fact]
    public void AnyPhrasesCanBeStaged() => Gen.String.Where(p => KeywordNormalForm.Of(p).Length > 0).Array[1, 40].Sample(
        phrases =>
        {
            var keywords = phrases.Select(p => KeywordNormalForm.Of(p)).Distinct(StringComparer.Ordinal).Select(f => new Keyword(f, f)).ToList();
            var lists = ResultLists.OfEqualLength([.. Enumerable.Range(0, keywords.Count).SelectMany(k => Enumerable.Range(k / 3 * 10, 10))], 10);
            var replay = Replay((keywords, lists));
            // Each keyword is captured or expected in the end, and none is asked for twice.
            Assert.Equal(keywords.Count, replay.Batches[^1].Captured + replay.Batches[^1].Expected);
            Assert.Equal(replay.Batches[^1].Captured, replay.IsCaptured.Count(c => c));
        },
        iter: 200);

    [Theory]
    [InlineData("de", "kajak trockenanzug kaufen", "trockenanzug kajak kaufen")]
    [InlineData("ja", "カヤック ドライスーツ", "ドライスーツ カヤック")]
    [InlineData("en", "dry suit", "dry suits")]
    public void TheSameWordsAreMoreAlikeThanOthersBeforeAnythingIsCaptured(string language, string one, string same)
    {
        var keywords = new[] { one, same, "something else entirely" }.Select(p => new Keyword(p, p)).ToList();
        var model = SharingModel.Before(new WordedKeywords(keywords, language, [], []));
        Assert.True(model.LogOdds(0, 1) > 0 && model.LogOdds(0, 2) < 0);
        Assert.Equal(model.LogOdds(0, 2), model.LogOdds(2, 0), 12);
    }

    /// <summary>sklearn.linear_model.LogisticRegression with C = 1 ÷ ridge, see Golden/make.py.</summary>
    [Fact]
    public void LogisticRegressionIsThatOfTheLibrary()
    {
        foreach (var parts in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", "logistic.txt")).Select(l => l.Split(';')))
        {
            double[] Numbers(string text) => [.. text.Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture))];
            var rows = parts[1].Split('|').Select(Numbers).ToList();
            var fit = LogisticRegression.Fit(rows, [.. parts[2].Select(c => c == '1')], double.Parse(parts[0], CultureInfo.InvariantCulture));
            var expected = Numbers(parts[3]);
            Assert.Equal(expected[0], fit.Intercept, 1e-4);
            for (var i = 1; i < expected.Length; i++)
                Assert.Equal(expected[i], fit.Coefficients[i - 1], 1e-4);
        }
    }

    [Fact]
    public void TheIntervalOfAnAuditHoldsTheTruthInNineteenOfTwentyDraws()
    {
        var staged = new StagedCapture([.. Enumerable.Range(0, 2_000).Select(i => new Keyword($"k{i}", $"k{i}"))], new WordedKeywords([], "en", [], []), []);
        var (holds, draws) = (0, 0);
        foreach (var (expected, right) in new[] { 600, 1_000, 2_000 }.SelectMany(e => Enumerable.Range(80, 20).Select(r => (e, r / 100.0))))
        {
            var isRight = Enumerable.Range(0, expected).Select(k => k < right * expected).ToArray();
            var tooMuch = 0;
            for (var draw = 0; draw < 1_000; draw++)
            {
                var audited = staged.Audit([.. Enumerable.Range(0, expected)], draw);
                Assert.Equal(Math.Max(30, expected / 20), audited.Distinct().Count());
                var audit = CaptureAudit.Of(audited.Count(k => isRight[k]), audited.Count);
                var truth = (double)isRight.Count(r => r) / expected;
                holds += audit.Lower <= truth && truth <= audit.Upper ? 1 : 0;
                tooMuch += audit.Lower > truth ? 1 : 0;
                draws++;
            }

            // What the lower bound claims holds in 39 of 40 draws whatever the truth; by chance a few less in a thousand.
            Assert.InRange(tooMuch, 0, 40);
        }

        // For single shares Wilson's interval holds a little more or less often; on average as often as it says (Brown, Cai and DasGupta, "Interval estimation for a binomial proportion", 2001).
        Assert.InRange((double)holds / draws, 0.945, 1);
    }
}
