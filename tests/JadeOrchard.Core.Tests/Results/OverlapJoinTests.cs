using CsCheck;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Results;

/// <summary>The join against a plain count, and what it takes. The counts depend on the lists alone.</summary>
public class OverlapJoinTests
{
    /// <summary>Few URLs have bits of their own and many do not; some stand nearly everywhere.</summary>
    [Fact]
    public void PairsAreThoseOfAPlainCountWithFrequentUrlsAndRareOnes() => Gen.Select(Gen.Int[0, 10_000], Gen.Int[1, 6], Gen.Int[0, 6]).Sample((seed, min, frequent) =>
    {
        var lists = Some(140, 0.3, frequent, seed);
        var expected = new List<OverlapPair>();
        for (var a = 0; a < lists.Length; a++)
        {
            for (var b = a + 1; b < lists.Length; b++)
            {
                if (Overlap.Count(lists[a], lists[b]) is var shared && shared >= min)
                    expected.Add(new OverlapPair(a, b, shared));
            }
        }

        var index = new OverlapIndex(Lists.Of(lists), min);
        var scratch = new OverlapIndex.Scratch(index);
        return OverlapJoin.Pairs(Lists.Of(lists), min).SequenceEqual(expected) && Enumerable.Range(0, lists.Length).All(k =>
        {
            index.Neighbours(k, scratch);
            return scratch.Found.Select(n => (n.Keyword, n.Count)).Order().SequenceEqual(expected.Where(p => p.A == k || p.B == k).Select(p => (p.A == k ? p.B : p.A, p.Count)).Order());
        });
    }, iter: 60);

    [Theory]
    [InlineData(3, 0)]
    [InlineData(4, 0)]
    [InlineData(3, 3)]
    [InlineData(4, 3)]
    [InlineData(3, 6)]
    [InlineData(4, 6)]
    public void FewPairsAreCheckedInVain(int min, int frequent)
    {
        OverlapJoin.Pairs(Lists.Of(Some(8_000, 0.15, frequent, 5)), min, out var counts);
        Assert.InRange(counts.Checked, counts.Found, 1.5 * counts.Found);
    }

    [Fact]
    public void AUrlThatRanksForEverythingCostsNextToNothing()
    {
        OverlapJoin.Pairs(Lists.Of(Some(8_000, 0.02, 0, 5)), 3, out var rare);
        OverlapJoin.Pairs(Lists.Of(Some(8_000, 0.40, 0, 5)), 3, out var frequent);
        Assert.InRange((double)frequent.Scanned / rare.Scanned, 0.85, 1.15);
    }

    [Fact]
    public void UrlsSeenOnceAreNotScanned()
    {
        OverlapJoin.Pairs(Lists.Of([.. Enumerable.Range(0, 50).Select(k => Enumerable.Range(k * 10, 10).ToArray())]), 1, out var counts);
        Assert.Equal(default, counts);
    }

    /// <summary>
    /// Eight keywords a subject draw from fourteen URLs of it; one URL is in a share of all lists, forty more in many.
    /// </summary>
    private static int[][] Some(int count, double topShare, int frequent, int seed)
    {
        var random = new Random(seed);
        var lists = new int[count][];
        for (var k = 0; k < count; k++)
        {
            var urls = new HashSet<int>();
            if (random.NextDouble() < topShare)
                urls.Add(0);
            for (var i = 0; i < frequent; i++)
                urls.Add(1 + random.Next(40));
            while (urls.Count < 10)
                urls.Add(random.NextDouble() < 0.8 ? 41 + (k / 8 * 14) + random.Next(14) : 41 + random.Next(count * 4));
            lists[k] = [.. urls];
        }

        return lists;
    }
}
