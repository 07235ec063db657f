using CsCheck;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Topics;

namespace JadeOrchard.Core.Tests.Topics;

public class TopicTests
{
    [Fact]
    public void ClustersAreLinkedByRareResultsAndByTheirWords()
    {
        // 0 and 1 share a result, 2 has one of its own; 2 and 3 have the same rarer word; URL 9 stands everywhere.
        var lists = Lists.Of([.. Enumerable.Range(0, 30).Select(k => k switch { 0 => [1, 2, 9], 1 => [2, 3, 9], 2 => [4, 9], _ => new[] { 20 + k, 9 } })]);
        var clusters = Enumerable.Range(0, 30).Select(k => new Cluster(k, [k])).ToList();
        var stems = Enumerable.Range(0, 30).Select(k => (IReadOnlyList<string>)(k switch { 2 => ["kayak", "paddl"], 3 => ["kayak", "paddl", "carbon"], _ => ["kayak", $"w{k}"] })).ToList();
        var links = ClusterLinks.Of(clusters, lists, stems);
        Assert.Equal([(0, 1), (2, 3)], links.Select(l => (l.A, l.B)));
        Assert.Equal(0.5, links[1].Weight, 9);   // one of two rarer words, "kayak" left out
        Assert.Equal(Math.Log(15) / Math.Log(30), links[0].Weight, 9);   // the URL stands in 2 of 30 clusters
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
    public void StemsAreThoseOfHalfTheKeywords()
    {
        using var analysis = new TextAnalysis("en");
        var keywords = Lists.Keywords(("best kayak paddles", null), ("kayak paddle", null), ("paddle for a kayak", null), ("carbon paddle", null));
        Assert.Equal(["kayak", "paddl"], ClusterStems.Of([new Cluster(0, [0, 1, 2, 3])], keywords, analysis)[0]);
    }

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
        Assert.Equal([1, 3], RankingRivals.Of([0, 1], keywords, Lists.Of([1, 2], [3, 1]), url => url == 2, 5));
    }
}
