using CsCheck;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Findings;

public sealed class MinHashTests
{
    // Broder 1997: the chance that two signatures agree at a place is the Jaccard index, so that the share has a standard error of √(j(1−j)/128).
    [Theory]
    [InlineData(0)]
    [InlineData(25)]
    [InlineData(100)]
    [InlineData(400)]
    public void TheEstimateIsNearTheExactIndex(int common)
    {
        const int size = 400;
        var exact = (double)common / ((2 * size) - common);
        var (sum, worst) = (0.0, 0.0);
        const int draws = 50;
        for (ulong draw = 0; draw < draws; draw++)
        {
            var a = Enumerable.Range(0, size).Select(i => (ulong)i + (draw * 10_000));
            var b = Enumerable.Range(size - common, size).Select(i => (ulong)i + (draw * 10_000));
            var estimate = MinHash.Estimate(MinHash.Signature(a), MinHash.Signature(b));
            (sum, worst) = (sum + estimate, Math.Max(worst, Math.Abs(estimate - exact)));
        }

        var error = Math.Sqrt(exact * (1 - exact) / MinHash.Size);
        Assert.InRange(sum / draws, exact - (4 * error / Math.Sqrt(draws)) - 0.002, exact + (4 * error / Math.Sqrt(draws)) + 0.002);
        Assert.True(worst <= 4.5 * error + 1e-9, $"{worst} where the standard error is {error}");
    }

    // Jaccard's index by its definition, against comparing all pairs.
    [Fact]
    public void SetsAreJoinedAsIfAllWereCompared() => Gen.Int[0, 9].Array[1, 7].Select(s => s.Distinct().Order().ToArray()).Array[0, 30].Sample(sets =>
    {
        bool AreAlike(int a, int b) => Twins.Jaccard(sets[a], sets[b]) >= Twins.Alike;
        var first = MinHash.Join([.. sets.Select(s => (uint[]?)MinHash.Signature(s.Select(n => (ulong)n)))], AreAlike);
        int[] expected = [.. Enumerable.Range(0, sets.Length)];
        for (var round = 0; round < sets.Length; round++)
        {
            for (var a = 0; a < sets.Length; a++)
            {
                for (var b = 0; b < a; b++)
                {
                    if (AreAlike(a, b))
                        expected[a] = expected[b] = Math.Min(expected[a], expected[b]);
                }
            }
        }

        return first.SequenceEqual(expected);
    });

    [Fact]
    public void JaccardIsTheSharedPartOfBoth() => Gen.Int[0, 20].Array[0, 12].Select(s => s.Distinct().Order().ToArray()).Array[2].Sample(two =>
        Math.Abs(Twins.Jaccard(two[0], two[1]) - (two[0].Union(two[1]).Any() ? (double)two[0].Intersect(two[1]).Count() / two[0].Union(two[1]).Count() : 0)) < 1e-12);

    [Fact]
    public void TwentyThousandPagesWithOneHeadingAreOneFinding()
    {
        SitePage[] pages = [.. Enumerable.Range(0, 20_000).Select(i => new SitePage($"https://f.example/shop/{i}", $"Kayak model k{i}x{i * 7} for the sea", "All our kayaks"))];
        using var analysis = new TextAnalysis("en");
        var found = SiteFindings.In(SiteOf(pages) with { Titles = PageTitles.Of(pages, new BrandTerms([]), analysis) });
        var twins = Assert.Single(found, f => f.Kind == FindingKind.Twins);
        Assert.Equal(20_000, twins.Pages.Length);
        Assert.Equal([SignKind.TwinHeadings], twins.Signs.Select(s => s.Kind));
    }

    [Fact]
    public void AHeadingThatIsTheSitesNameMakesNoTwins()
    {
        SitePage[] pages = [.. new[] { "Dry suits", "Spray decks", "Paddles", "Helmets" }.Select((t, i) => new SitePage($"https://f.example/{i}", $"{t} | Fenwater Sea Kayaks", "Fenwater Sea Kayaks"))];
        using var analysis = new TextAnalysis("en");
        Assert.DoesNotContain(SiteFindings.In(SiteOf(pages) with { Titles = PageTitles.Of(pages, new BrandTerms([]), analysis) }), f => f.Kind == FindingKind.Twins);
    }

    [Fact]
    public void TextsThatAreNearlyTheSameAreTwins()
    {
        var words = Enumerable.Range(0, 300).Select(i => $"word{i * 7919 % 1000}").ToArray();
        string Text(int from, int changed) => string.Join(' ', words.Skip(from).Select((w, i) => i < changed ? $"other{i}" : w));
        SitePage[] pages = [.. Enumerable.Range(0, 4).Select(i => new SitePage($"https://f.example/{i}", $"Page {(char)('a' + i)}"))];
        using var analysis = new TextAnalysis("en");
        string?[] bodies = [Text(0, 0), Text(0, 10), Text(0, 150), "short text"];
        var twins = Assert.Single(SiteFindings.In(SiteOf(pages) with { Text = new Core.PageMap.SiteText(pages, bodies, [], analysis, "en") }), f => f.Kind == FindingKind.Twins);
        Assert.Equal([0, 1], twins.Pages.Order());
        Assert.Equal([SignKind.TwinTexts], twins.Signs.Select(s => s.Kind));
    }

    [Theory]
    [InlineData("https://f.example/kayaks?page=2", true)]
    [InlineData("https://f.example/kayaks/page/3", true)]
    [InlineData("https://f.example/kayaks?sort=price&order=asc", true)]
    [InlineData("https://f.example/kayaks?filter[colour]=red", true)]
    [InlineData("https://f.example/kayaks?colour=red", true)]
    [InlineData("https://f.example/fr/kayaks", true)]
    [InlineData("https://f.example/en-gb/kayaks", true)]
    [InlineData("https://f.example/kayaks?id=2", false)]
    [InlineData("https://f.example/canoes", false)]
    [InlineData("https://f.example/sea/kayaks", false)]
    public void GuisesOfOnePageAreTold(string url, bool isGuise) =>
        Assert.Equal(isGuise, PageVariants.KeyOf("https://f.example/kayaks") == PageVariants.KeyOf(url));

    private static SiteFacts SiteOf(SitePage[] pages) => new([], Lists.Of([]), [], [], [], [], new Core.Clusters.ClusterSettings(), new BrandTerms([])) { Pages = pages };
}
