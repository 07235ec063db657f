using CsCheck;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Topics;

namespace JadeOrchard.Core.Tests.Topics;

public class TopicTests
{
    [Fact]
    public void ClustersAreLinkedByRareResultsAndByTheirWords()
    {
        // 0 and 1 share a result, 2 has one of its own; 2 and 3 have the same rarer stems; URL 9 and stem 0 stand everywhere.
        const int count = 100;
        var lists = Lists.Of([.. Enumerable.Range(0, count).Select(k => k switch { 0 => [1, 2, 9], 1 => [2, 3, 9], 2 => [4, 9], _ => new[] { 20 + k, 9 } })]);
        var keywords = Lists.Keywords([.. Enumerable.Range(0, count).Select(k => ($"k{k:000}", (long?)null))]);
        var clusters = Enumerable.Range(0, count).Select(k => new Cluster(k, [k])).ToList();
        int[] StemsOf(int k) => k switch { 2 => [0, 1], 3 => [0, 1, 2], _ => [0, 10 + k] };
        var links = ClusterLinks.Of(clusters, keywords, lists, StemsOf);
        Assert.Equal([(0, 1), (2, 3)], links.Select(l => (l.A, l.B)));
        var rarityOfTwo = 1 - (Math.Log(2) / Math.Log(count));
        // The cosine of their results, of which each has one of its own; the mean of it and of no words in common.
        Assert.Equal(rarityOfTwo * rarityOfTwo / (1 + (rarityOfTwo * rarityOfTwo)) / 2, links[0].Weight, 9);   // the URL is in 2 of 100 lists
        Assert.Equal(rarityOfTwo / (rarityOfTwo + 1) / 2, links[1].Weight, 9);   // the other stem of 3 is in one
    }

    [Fact]
    public void AClusterKeepsItsStrongestLinks()
    {
        // All 40 share one result, and the first two share another.
        var lists = Lists.Of([.. Enumerable.Range(0, 40).Select(k => k < 2 ? new[] { 0, 1 } : [0, 10 + k])]);
        var keywords = Lists.Keywords([.. Enumerable.Range(0, 40).Select(k => ($"k{k:00}", (long?)null))]);
        var links = ClusterLinks.Of([.. Enumerable.Range(0, 40).Select(k => new Cluster(k, [k]))], keywords, lists, _ => []);
        Assert.Equal(1, links.MaxBy(l => l.Weight).B);
        Assert.InRange(links.Count, 1, 40 * ClusterLinkTable.Kept);
    }

    [Fact]
    public void ThePillarIsTheGreatestDemandTimesLinks()
    {
        // 0 has most demand but one link, 1 has three.
        Link[] links = [new(0, 1, 1), new(1, 2, 1), new(1, 3, 1)];
        var topic = Assert.Single(Core.Topics.Topics.Of([100, 60, 10, 10], links, StandingTopics.None(4)));
        Assert.Equal((1, "1 0 2 3"), (topic.Pillar, string.Join(' ', topic.Clusters)));
    }

    [Fact]
    public void WhatThePlannerDecidedStays() => Gen.Select(Gen.Int[1, 12], Gen.Int[0, 9_999]).Sample((count, seed) =>
    {
        var random = new Random(seed);
        long[] demands = [.. Enumerable.Range(0, count).Select(_ => (long)random.Next(5))];
        var links = Enumerable.Range(0, count).SelectMany(a => Enumerable.Range(a + 1, count - a - 1).Where(_ => random.Next(3) == 0).Select(b => new Link(a, b, 1 + random.Next(3)))).ToArray();
        int[] topicOf = [.. Enumerable.Range(0, count).Select(_ => random.Next(-1, 3))];
        var numbers = topicOf.Where(t => t >= 0).Distinct().ToList();
        topicOf = [.. topicOf.Select(t => t < 0 ? -1 : numbers.IndexOf(t))];
        var standing = new StandingTopics(topicOf, [.. topicOf.Select(_ => random.Next(3) == 0)],
            [.. numbers.Select((_, t) => random.Next(2) == 0 ? -1 : Array.IndexOf(topicOf, t))]);
        var topics = Core.Topics.Topics.Of(demands, links, standing);
        var place = Enumerable.Range(0, count).ToDictionary(c => c, c => topics.Single(t => t.Clusters.Contains(c)));
        return topics.All(t => t.Clusters[0] == t.Pillar && t.Clusters.Distinct().Count() == t.Clusters.Length)
            && topics.Where(t => t.GoesOnFrom >= 0).Select(t => t.GoesOnFrom).Distinct().Count() == topics.Count(t => t.GoesOnFrom >= 0)
            && Enumerable.Range(0, count).Where(c => topicOf[c] >= 0 && standing.IsPlaced[c]).All(c => place[c].GoesOnFrom == topicOf[c])
            && topics.Where(t => t.GoesOnFrom >= 0 && standing.ChosenPillars[t.GoesOnFrom] is var p and >= 0 && t.Clusters.Contains(p)).All(t => t.Pillar == standing.ChosenPillars[t.GoesOnFrom]);
    });

    [Fact]
    public void ANewClusterJoinsTheTopicOfItsHeaviestLinks() =>
        Assert.Equal([0, 1, 1, -1], Core.Topics.Topics.Joined([0, 1, -1, -1], [new(0, 2, 1), new(1, 2, 2)]));

    [Fact]
    public void IdeasAreWhatSeveralRivalsHaveAndTheSiteHasNot()
    {
        using var analysis = new TextAnalysis("en");
        HeadedPage[] rivals =
        [
            new("a.example", "https://a.example/1", ["Dry suits: neck seals and care", "Latex neck seals", "Our notes"]),
            new("b.example", "https://b.example/1", ["Dry suit neck seal repair", "Our notes"]),
            new("c.example", "https://c.example/1", ["How a dry suit fits", "Our notes"]),
        ];
        HeadedPage[] elsewhere = [.. Enumerable.Range(0, 20).Select(i => new HeadedPage($"e{i}.example", $"https://e{i}.example/", ["Our notes", "Paddles"]))];
        var ideas = TopicIdeas.Of(rivals, ["Dry suits for kayaking"], elsewhere, analysis, 10);
        var idea = Assert.Single(ideas);
        Assert.Equal(("neck seals", "neck seal", 2, 2), (idea.Phrase, idea.VariantKey, idea.Sites, idea.Pages));
        Assert.Equal("https://a.example/1", idea.Examples[0].Url);
    }

    [Fact]
    public void TheLikelihoodIsThatOfThePapersFormula()
    {
        // Dunning 1993: G² is twice the mutual information of the table times its size; the cells of his first table, from memory, written the other way.
        static double ByEntropy(double a, double b, double c, double d)
        {
            static double H(params double[] k) => k.Sum(x => x == 0 ? 0 : x * Math.Log(x / k.Sum()));
            return 2 * (H(a, b, c, d) - H(a + b, c + d) - H(a + c, b + d));
        }

        Assert.Equal(ByEntropy(110, 29, 2_442, 29_114), TopicIdeas.LogLikelihood(110, 2_552, 29, 29_143), 6);
        Assert.Equal(0, TopicIdeas.LogLikelihood(1, 10, 5, 10));
    }

    [Fact]
    public void RivalsAreRankedByTheClicksTheyGet()
    {
        var keywords = Lists.Keywords(("a", 100), ("b", 10));
        string[] identities = ["https://a.example", "https://b.example", "https://c.example", "https://d.example"];
        var rivals = RankingRivals.Of([0, 1], keywords, Lists.Of([1, 2], [3, 1]), ClickCurve.Default, identities, url => url == 2, 5);
        Assert.Equal([new RankingRival(1, (100 * ClickCurve.Default.At(1)) + (10 * ClickCurve.Default.At(2)), 2), new RankingRival(3, 10 * ClickCurve.Default.At(1), 1)], rivals);
    }

    [Fact]
    public void WhereNoVolumeIsKnownRivalsAreRankedByPositionsAlone()
    {
        var keywords = Lists.Keywords(("a", null), ("b", null));
        string[] identities = ["https://z.example", "https://b.example", "https://a.example"];
        var rivals = RankingRivals.Of([0, 1], keywords, Lists.Of([0, 1], [0, 2]), ClickCurve.Default, identities, _ => false, 5);
        Assert.Equal([new RankingRival(0, 0, 2), new RankingRival(2, 0, 1), new RankingRival(1, 0, 1)], rivals);
    }
}
