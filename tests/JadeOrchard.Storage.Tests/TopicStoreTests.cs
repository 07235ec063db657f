using JadeOrchard.Core;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Storage.Tests;

/// <summary>Topics, their pillars and the subtopics that wait, on a real file.</summary>
public sealed class TopicStoreTests : WithClusters
{
    private static readonly TopicId First = new(1), Second = new(2);

    [Fact]
    public void TopicsAddUpTheirClusters()
    {
        Gather();
        var rows = Database.Read(s => TopicStore.List(s, new ListQuery())).Rows;
        Assert.Equal([("k1", 2L, 3L, 1_500L), ("k4", 2, 2, 500)], rows.Select(t => (t.Name, t.Clusters, t.Keywords, t.Demand)));
        Database.Write(s => TopicStore.Rename(s, Second, " Paddles "));
        Assert.Equal(("Paddles", true), Database.Read(s => TopicStore.Find(s, Second)) is { } named ? (named.Name, named.IsNamed) : default);
        Database.Write(s => TopicStore.Rename(s, Second, " "));
        Assert.False(Database.Read(s => TopicStore.Find(s, Second))!.IsNamed);
        Assert.Equal([3L, 4], Database.Read(s => TopicStore.SharingTopics(s, [new ClusterId(4)])).Select(c => c.Value).Order());
    }

    [Fact]
    public void APillarThatLeavesIsFollowedByTheClusterOfMostDemand()
    {
        Gather();
        Database.Write(s => TopicStore.ChoosePillar(s, First, new ClusterId(2)));
        Assert.Equal([new StoredTopic(First, new ClusterId(2)), new StoredTopic(Second, null)], Database.Read(TopicStore.All));
        Database.Write(s =>
        {
            TopicStore.Move(s, [new ClusterId(2)], Second);
            TopicStore.Mend(s);
        });
        Assert.Equal((new ClusterId(1), 3L), Database.Read(s => (TopicStore.Find(s, First)!.PillarId, TopicStore.Find(s, Second)!.Clusters)));
        Assert.Equal(new TopicOfCluster(Second, true), Database.Read(TopicStore.OfClusters)[new ClusterId(2)]);
        Assert.Null(Database.Read(TopicStore.All)[0].ChosenPillarId);
    }

    [Fact]
    public void SubtopicsWaitForKeywordsAndFollowTheirTopic()
    {
        Gather();
        Database.Write(s =>
        {
            Assert.Null(TopicStore.AddSubtopic(s, Second, " Paddle  Repair", "asked on the phone", Now));
            // Another way to write the same is the same.
            Assert.Equal(Second, TopicStore.AddSubtopic(s, First, "paddle repair", "", Now));
            Assert.Null(TopicStore.AddSubtopic(s, Second, "K4", "", Now));
        });
        var subtopics = Database.Read(s => TopicStore.Subtopics(s, Second));
        Assert.Equal([("K4", new ClusterId(3)), ("Paddle  Repair", (ClusterId?)null)], subtopics.Select(t => (t.Phrase, t.ClusterId)));
        Assert.Equal(1, Database.Read(s => TopicStore.Find(s, Second))!.Waiting);

        // The topic goes: they follow most of its clusters, and where all are gone, the topic of most demand.
        Database.Write(s => TopicStore.Replace(s, [new GatheredTopic(First, new ClusterId(1), [.. new long[] { 1, 2, 3, 4 }.Select(c => new ClusterId(c))])]));
        Assert.Equal(2, Database.Read(s => TopicStore.Subtopics(s, First)).Count);
        Assert.Null(Database.Read(s => TopicStore.Find(s, Second)));
        Assert.True(Database.Write(s => TopicStore.RemoveSubtopic(s, subtopics[0].Id)));
        Assert.False(Database.Write(s => TopicStore.RemoveSubtopic(s, subtopics[0].Id)));
        Database.Write(s =>
        {
            TopicStore.Move(s, [new ClusterId(4)], null);
            s.Execute("update subtopic set topic_id = (select max(topic_id) from topic)");
            ClusterStore.Move(s, Ids(5), new ClusterId(1));
            TopicStore.Mend(s);
        });
        Assert.Equal(First, Assert.Single(Database.Read(TopicStore.All)).Id);
        Assert.Equal("Paddle  Repair", Assert.Single(Database.Read(s => TopicStore.Subtopics(s, First))).Phrase);
    }

    [Fact]
    public void LinksAreKeptByEachClusterAndReadBothWays()
    {
        Gather();
        static TopicLink Link(long from, long to, double weight) => new(new ClusterId(from), new ClusterId(to), weight);
        Database.Write(s => TopicStore.SaveLinks(
            s, new Dictionary<ClusterId, IReadOnlyList<TopicLink>> { [new(1)] = [Link(1, 2, 0.7), Link(1, 3, 0.2)], [new(2)] = [Link(2, 1, 0.7)] }, isAll: true));
        Assert.Equal([Link(1, 2, 0.7), Link(2, 1, 0.7)], Database.Read(s => TopicStore.Links(s, First)));
        Database.Write(s => TopicStore.SaveLinks(s, new Dictionary<ClusterId, IReadOnlyList<TopicLink>> { [new(1)] = [] }, isAll: false));
        Assert.Equal([Link(2, 1, 0.7)], Database.Read(TopicStore.AllLinks));
        Assert.Equal(2, Database.Read(s => TopicStore.Links(s, First)).Count);
    }

    /// <summary>Clusters 1 (k1, k2) and 2 (k3) in the first topic, 3 (k4) and 4 (k5) in the second.</summary>
    private void Gather()
    {
        Keywords(5);
        Group([1, 2], [3], [4], [5]);
        Database.Write(s => s.Execute("update keyword set volume = case keyword_id when 1 then 700 when 2 then 500 when 3 then 300 when 4 then 300 else 200 end"));
        Database.Write(s =>
        {
            ClusterStore.RefreshFacts(s);
            TopicStore.Replace(s, [new GatheredTopic(default, new ClusterId(1), [new(1), new(2)]), new GatheredTopic(default, new ClusterId(3), [new(3), new(4)])]);
        });
    }
}
