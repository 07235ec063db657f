using JadeOrchard.Core;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Storage.Tests;

/// <summary>Clusters through groupings and edits, on a real file.</summary>
public sealed class ClusterStoreTests : WithClusters
{
    [Fact]
    public void ANewGroupingKeepsIdsWhereItGoesOnAndDropsTheRest()
    {
        Keywords(6);
        Group([1, 2, 3], [4, 5]);
        Assert.Equal("1: 1 of 1,2,3; 2: 4 of 4,5", Clusters());
        Database.Write(s => ClusterStore.Rename(s, new ClusterId(1), "  Boats "));
        Database.Write(s => ClusterStore.Replace(s, [Made(1, 2, 1), Made(0, 3, 4, 6)]));
        Assert.Equal("1: 2 of 1,2; 3: 3 of 3,4,6", Clusters());
        Assert.Equal("Boats", Database.Read(s => ClusterStore.Find(s, new ClusterId(1)))!.Name);
        Assert.Null(Database.Read(s => ClusterStore.Find(s, new ClusterId(2))));
        Database.Write(s => ClusterStore.Replace(s, []));
        Assert.False(Database.Read(ClusterStore.HasAny));
    }

    [Fact]
    public void APrimaryThatLeavesIsFollowedByTheMostSearchedThatStays()
    {
        Keywords(6);
        Group([1, 3, 2], [4, 5]);
        Database.Write(s => ClusterStore.ChoosePrimary(s, new ClusterId(1), new KeywordId(3)));
        Database.Write(s => ClusterStore.Move(s, Ids(3), new ClusterId(2)));
        Assert.Equal("1: 1 of 1,2; 2: 4 of 3,4,5", Clusters());
        // What was moved stays there in later groupings, and a chosen primary that left is none any more.
        var fixedByHand = Database.Read(ClusterStore.FixedByHand);
        Assert.Equal(Ids(3), fixedByHand.Placed);
        Assert.Empty(fixedByHand.PrimaryChosen);
        Assert.Equal(new ClusterId(3), Database.Write(s => ClusterStore.Move(s, Ids(5, 6, 4), null)));
        Assert.Equal("1: 1 of 1,2; 2: 3 of 3; 3: 4 of 4,5,6", Clusters());
    }

    [Fact]
    public void AClusterThatIsLeftEmptyGoesWithItsPageAndWhatWasDecided()
    {
        Keywords(4);
        Group([1, 2], [3], [4]);
        var planned = Database.Write(s =>
        {
            var page = PageStore.Plan(s, "fenwater.example/new", "https://fenwater.example/new", "New");
            PageMapStore.Assign(s, new ClusterId(2), page, Now);
            PageMapStore.Decline(s, new ClusterId(3), "not ours", Now);
            return page;
        });
        Database.Write(s => ClusterStore.Move(s, Ids(3, 4), new ClusterId(1)));
        Assert.Equal("1: 1 of 1,2,3,4", Clusters());
        Assert.Equal(0, Database.Read(s => s.Count("select (select count(*) from assignment) + (select count(*) from cluster_decline)")));
        // A planned page that nothing is planned for any more goes too.
        Assert.Null(Database.Read(s => PageStore.Find(s, planned)));
    }

    [Fact]
    public void DeclinedKeywordsLeaveTheirClusterAndComeBackByMoving()
    {
        Keywords(3);
        Group([1, 2, 3]);
        Assert.Equal(1, Database.Write(s => KeywordStore.Decline(s, new KeywordSelection(Ids(1)), "not ours", Now)));
        Assert.Equal("1: 2 of 2,3", Clusters());
        Assert.Equal(Ids(1), Database.Read(KeywordStore.Declined));
        Database.Write(s => ClusterStore.Move(s, Ids(1), new ClusterId(1)));
        Assert.Equal("1: 2 of 1,2,3", Clusters());
        Assert.Empty(Database.Read(KeywordStore.Declined));
    }

    [Fact]
    public void FactsFollowFromTheMembersAndCoverageFromWhatIsDecided()
    {
        Keywords(4);
        Group([1, 2], [3], [4]);
        var rows = Database.Read(s => ClusterStore.List(s, new ListQuery(), new ClusterFilter())).Rows;
        Assert.Equal([(2L, 700L, 1.5), (1L, 200L, 3.0), (1L, 100L, 4.0)], rows.Select(r => (r.Size, r.Demand, r.MeanDifficulty!.Value)));
        Database.Write(s =>
        {
            PageMapStore.Assign(s, new ClusterId(1), PageStore.Plan(s, "fenwater.example/a", "https://fenwater.example/a", null), Now);
            PageMapStore.Decline(s, new ClusterId(2), "not ours", Now);
            ClusterStore.RefreshCoverage(s, null, new DateOnly(2026, 11, 24));
        });
        Assert.Equal(
            [(Coverage.Planned, 1L, 700L), (Coverage.Uncovered, 1, 100), (Coverage.Declined, 1, 200)],
            Database.Read(ClusterStore.ByCoverage).OrderBy(c => c.Coverage).Select(c => (c.Coverage, c.Clusters, c.Demand)));
        // The day is kept as it ended.
        Assert.Equal(1_000, Database.Read(ClusterStore.CoverageDays).Sum(d => d.Demand));
        Assert.Equal(2, Database.Read(s => ClusterStore.List(s, new ListQuery(), new ClusterFilter(Decided: true))).Tally.Rows);
    }
}
