using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.PageMap;

public class PageSuggestionTests
{
    private static readonly SitePage[] Pages =
    [
        new("https://f.example/dry-suits", "Dry suits for kayaking", "Dry suits"),
        new("https://f.example/paddles", "Kayak paddles", "Paddles"),
        new("https://f.example/guide", "How to choose a dry suit", "Choosing a dry suit"),
        new("https://f.example/unknown"),
    ];

    [Fact]
    public void ResultsEvidenceIsTheShareOfThePossibleClicks()
    {
        // The page stands at 2 for 300 searches a month and nowhere for 100: 300*0.15 of 400*0.28.
        var evidence = ResultsEvidence.Of(new Cluster(0, [0, 1]), [300, 100], Lists.Of([9, 1], [9]), Map(10, (1, 0)));
        Assert.Equal(300 * 0.15 / (400 * 0.28), evidence[0], 12);
        Assert.Single(evidence);
    }

    [Fact]
    public void MissingTextIsReweightedNotCountedAsBad()
    {
        Assert.Equal(100 * 0.5, new PageEvidence(0, 0.5, null).Strength, 9);
        Assert.Equal(100 * ((0.45 * 0.5) + (0.25 * 1)) / 0.7, new PageEvidence(0, 0.5, 1).Strength, 9);
    }

    // Robertson and Zaragoza, 2009, section 3.6, worked by hand for one page with one field of mean length:
    // tf' = 3, k1 = 1.2, so 3/(1.2+3); the model page has 7.5/(1.2+7.5), and idf cancels.
    [Fact]
    public void TextEvidenceFollowsTheFormula()
    {
        using var analysis = new TextAnalysis("en");
        var evidence = new TextEvidence([new SitePage("https://f.example/", "kayak")], analysis);
        var pages = new List<(int Page, double Share)>();
        evidence.Of(new Dictionary<string, double> { ["kayak"] = 1 }, pages);
        Assert.Equal(3 / 4.2 / (7.5 / 8.7), Assert.Single(pages).Share, 9);
    }

    [Fact]
    public void ASubjectThatNobodyWritesAboutHasNoStrongPage()
    {
        var suggestion = Suggest([("kayak roof rack", 100)], [[5, 6, 7, 8]], [])[0];
        Assert.Equal(Verdict.None, suggestion.Verdict);
        Assert.Null(suggestion.Page);
    }

    [Fact]
    public void AStandingPageThatIsAheadIsClear()
    {
        var suggestion = Suggest([("dry suit", 100)], [[0, 6, 7, 8]], [(0, 0)])[0];
        Assert.Equal(Verdict.Clear, suggestion.Verdict);
        Assert.Equal(0, suggestion.Page);
    }

    [Fact]
    public void TwoPagesNearlyAsStrongAreDoubtful()
    {
        var suggestion = Suggest([("dry suit", 100)], [[6, 7, 2, 0]], [(0, 0), (2, 2)])[0];
        Assert.Equal(Verdict.Doubtful, suggestion.Verdict);
    }

    [Fact]
    public void APageServesOneClusterAndTheLoserIsToldWhoGotIt()
    {
        var suggestions = Suggest([("dry suit", 100), ("kayak socks", 90)], [[0, 6, 7, 8], [0, 16, 17, 18]], [(0, 0)]);
        Assert.Equal(0, suggestions[0].Page);
        Assert.NotEqual(0, suggestions[1].Page);
        Assert.Equal(0, suggestions[1].LostTo);
    }

    [Fact]
    public void VolumesThatNobodyKnowsWeighTheSame()
    {
        var keywords = Lists.Keywords(("a", null), ("b", 0), ("c", null), ("d", 7));
        var weights = ClusterResults.SearchWeights([new Cluster(0, [0, 1]), new Cluster(3, [3, 2])], keywords);
        Assert.Equal([1, 1, 0, 7], weights);
    }

    private static IReadOnlyList<ClusterSuggestion> Suggest((string, long?)[] keywords, int[][] lists, (int Url, int Page)[] own)
    {
        using var analysis = new TextAnalysis("en");
        var clusters = keywords.Select((_, k) => new Cluster(k, [k])).ToArray();
        return PageSuggestions.For(clusters, new PageCandidates(Lists.Keywords(keywords), Lists.Of(lists), Pages, Map(20, own), analysis));
    }

    private static int[] Map(int urls, params (int Url, int Page)[] own)
    {
        var map = new int[urls];
        Array.Fill(map, -1);
        foreach (var (url, page) in own)
            map[url] = page;
        return map;
    }
}
