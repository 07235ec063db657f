using CsCheck;
using JadeOrchard.Core.Topics;

namespace JadeOrchard.Core.Tests.Topics;

/// <summary>Topics above topics.</summary>
public class ThemeTests
{
    private static List<Topic> Of(int topics, int size = 2) => [.. Enumerable.Range(0, topics).Select(t => new Topic(t * size, [.. Enumerable.Range(t * size, size)], -1))];

    [Fact]
    public void AShortListNeedsNone()
    {
        Assert.Empty(Themes.Of(Of(Themes.MostWithout), []));
        Assert.Equal(Themes.MostWithout + 1, Themes.Of(Of(Themes.MostWithout + 1), []).Count);
    }

    [Fact]
    public void TopicsWithoutLinksStandAlone() => Assert.Equal(Enumerable.Range(0, 50), Themes.Of(Of(50), []));

    /// <summary>Ten groups of five topics, each linked within and hardly between: the ten are the themes.</summary>
    [Fact]
    public void LinkedTopicsComeTogetherWhateverTheOrderOfTheLinks()
    {
        var topics = Of(50);
        var links = new List<Link>();
        for (var a = 0; a < 50; a++)
        {
            for (var b = a + 1; b < 50; b++)
                links.Add(new Link(topics[a].Pillar, topics[b].Pillar, a / 5 == b / 5 ? 0.9 : 0.001));
        }

        Assert.Equal(Enumerable.Range(0, 50).Select(t => t / 5), Themes.Of(topics, links));
        Gen.Shuffle(links.ToArray()).Sample(shuffled => Assert.Equal(Enumerable.Range(0, 50).Select(t => t / 5), Themes.Of(topics, shuffled)), iter: 10);
    }

    [Fact]
    public void LinksWithinATopicSayNothing()
    {
        var topics = Of(45);
        List<Link> within = [.. topics.Select(t => new Link(t.Clusters[0], t.Clusters[1], 1))];
        Assert.Equal(Themes.Of(topics, []), Themes.Of(topics, within));
    }
}
