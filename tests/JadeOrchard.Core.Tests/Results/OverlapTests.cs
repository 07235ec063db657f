using CsCheck;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Results;

public class OverlapTests
{
    private static readonly Gen<int[][]> SomeLists =
        Gen.Int[0, 25].Array[0, 12].Select(urls => urls.Distinct().ToArray()).Array[0, 40];

    [Fact]
    public void EmptyListsOverlapNothing() => Assert.Equal(0, Overlap.Count([], [1, 2]));

    [Fact]
    public void TheJoinFindsWhatABruteForceCountFinds() => Gen.Select(SomeLists, Gen.Int[1, 6]).Sample((lists, min) =>
    {
        var expected = new List<OverlapPair>();
        for (var a = 0; a < lists.Length; a++)
        {
            for (var b = a + 1; b < lists.Length; b++)
            {
                var shared = lists[a].Intersect(lists[b]).Count();
                if (shared >= min)
                    expected.Add(new OverlapPair(a, b, shared));
            }
        }

        return OverlapJoin.Pairs(Lists.Of(lists), min).SequenceEqual(expected);
    });

    [Fact]
    public void TheOrderOfRowsDoesNotMatter() => Gen.Select(SomeLists, Gen.Int[0, 10_000]).Sample((lists, seed) =>
    {
        var rows = lists.SelectMany((urls, k) => urls.Select((url, i) => (k, i, url))).ToArray();
        new Random(seed).Shuffle(rows);
        var builder = new ResultLists.Builder();
        foreach (var (k, i, url) in rows)
            builder.Add(k, i + 1, url);
        var shuffled = builder.Build(lists.Length, [.. Enumerable.Range(0, 26).Select(u => $"{u:D2}")]);
        return Enumerable.Range(0, lists.Length).All(k => shuffled.Urls(k).SequenceEqual(lists[k]));
    });

    [Fact]
    public void PairsAreFoundAcrossTheSlicesOfThreads()
    {
        // More keywords than one block of a thread: neighbours share all but one of their URLs.
        var lists = Enumerable.Range(0, 9_000).Select(k => Enumerable.Range(k, 5).ToArray()).ToArray();
        var pairs = OverlapJoin.Pairs(Lists.Of(lists), 4);
        Assert.Equal(Enumerable.Range(0, 8_999).Select(k => new OverlapPair(k, k + 1, 4)), pairs);
    }

    [Fact]
    public void AUrlTwiceInAListCountsOnceAtItsBestPosition()
    {
        var builder = new ResultLists.Builder();
        builder.Add(0, 7, 1);
        builder.Add(0, 2, 1);
        builder.Add(0, 3, 0);
        var lists = builder.Build(1, ["a", "b"]);
        Assert.Equal([1, 0], lists.Urls(0));
        Assert.Equal([2, 3], lists.Positions(0));
    }

    [Fact]
    public void TheNewestCaptureIsTheResultList()
    {
        var builder = new ResultLists.Builder();
        builder.Add(0, 1, 0, day: 5);
        builder.Add(0, 1, 1, day: 9);
        builder.Add(0, 2, 2, day: 9);
        Assert.Equal([1, 2], builder.Build(1, ["a", "b", "c"]).Urls(0));
    }

    /// <summary>Of rows of several days, in any order and with positions and URLs that come again, by the definition.</summary>
    [Fact]
    public void AListIsThatOfTheNewestDayWhateverTheOrderOfRows() => Gen.Select(Gen.Int[0, 3], Gen.Int[1, 12], Gen.Int[0, 9], Gen.Int[0, 2]).Array[0, 60].Sample(rows =>
    {
        string[] identities = [.. Enumerable.Range(0, 10).Select(u => $"https://u.example/{9 - u}")];
        var builder = new ResultLists.Builder();
        foreach (var (keyword, position, url, day) in rows)
            builder.Add(keyword, position, url, day);
        var lists = builder.Build(4, identities);
        for (var k = 0; k < 4; k++)
        {
            var own = rows.Where(r => r.Item1 == k).ToList();
            var expected = own.Where(r => r.Item4 == own.Max(o => o.Item4))
                .GroupBy(r => r.Item3, r => r.Item2)
                .Select(g => (Url: g.Key, Position: g.Min()))
                .OrderBy(u => u.Position).ThenBy(u => identities[u.Url], StringComparer.Ordinal)
                .ToList();
            Assert.Equal(expected.Select(u => u.Url), lists.Urls(k).ToArray());
            Assert.Equal(expected.Select(u => u.Position), lists.Positions(k).ToArray());
        }
    });

    [Fact]
    public void CuttingKeepsPositionsUpToTheDepth()
    {
        var builder = new ResultLists.Builder();
        builder.Add(0, 1, 0);
        builder.Add(0, 4, 1);
        builder.Add(0, 11, 2);
        var cut = builder.Build(1, ["a", "b", "c"]).Cut(10, url => url == 0);
        Assert.Equal([1], cut.Urls(0));
    }

    // Calculated on paper from equation 32 of Webber, Moffat and Zobel, ACM TOIS 28(4), 2010, with p = 0.9.
    [Theory]
    [InlineData(new[] { 1, 2, 3 }, new[] { 1, 2, 3 }, 1.0)]
    [InlineData(new[] { 1, 2, 3 }, new[] { 4, 5, 6 }, 0.0)]
    [InlineData(new[] { 1, 2 }, new[] { 2, 1 }, 0.9)]                   // X = 0, 2: 0.1/0.9 * 0.81 + 0.81
    [InlineData(new[] { 1 }, new[] { 1, 2 }, 1.0)]                      // s=1, l=2: (0.9 + 0.405 + 0.405)/9 + 0.81
    [InlineData(new[] { 2 }, new[] { 1, 2 }, 0.45)]                     // X = 0, 1: 0.405/9 + (1/2)*0.81
    public void RankBiasedOverlapFollowsThePaper(int[] a, int[] b, double expected)
    {
        Assert.Equal(expected, RankBiasedOverlap.Extrapolated(a, b), 12);
        Assert.Equal(expected, RankBiasedOverlap.Extrapolated(b, a), 12);
    }

    [Fact]
    public void RankBiasedOverlapStaysBetweenZeroAndOne() => Gen.Select(
        Gen.Int[0, 20].Array[0, 12].Select(x => x.Distinct().ToArray()), Gen.Int[0, 20].Array[0, 12].Select(x => x.Distinct().ToArray()))
        .Sample((a, b) => RankBiasedOverlap.Extrapolated(a, b) is >= 0 and <= 1 + 1e-12);

    [Theory]
    [InlineData(0, 0)]
    [InlineData(1, 0.28)]
    [InlineData(10, 0.023)]
    [InlineData(11, 0.01)]
    [InlineData(20, 0.01)]
    [InlineData(21, 0.003)]
    public void ClicksFallWithPosition(int position, double expected) => Assert.Equal(expected, ClickCurve.Default.At(position));
}
