using JadeOrchard.Core;
using JadeOrchard.Core.Findings;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Storage.Tests;

/// <summary>Findings as they are stored, counted and decided.</summary>
public class FindingStoreTests : WithClusters
{
    private PageId _first;
    private PageId _second;

    public FindingStoreTests()
    {
        Keywords(4);
        Group([1, 2], [3], [4]);
        Database.Write(s =>
        {
            _first = PageStore.Plan(s, "https://fenwater.example/a", "https://fenwater.example/a", "A");
            _second = PageStore.Plan(s, "https://fenwater.example/b", "https://fenwater.example/b", "B");
        });
    }

    [Fact]
    public void AClustersClicksCountInTheLargestFindingAboutIt()
    {
        // Cluster 1 has 60 of the conflict's 100 clicks, but 70 in the gap: there they count, and not twice.
        Save(Conflict("c", 100, (1, 60), (2, 40)), Gap("g", 70, 1));
        var rows = Database.Read(s => FindingStore.List(s, new ListQuery(), new FindingFilter()));
        Assert.Equal(["c", "g"], rows.Rows.Select(f => f.Key));
        Assert.Equal([100, 70], rows.Rows.Select(f => f.AtStake));
        Assert.Equal(40 + 70, rows.Tally.AtStake);
        Assert.Equal([70.0, 40.0, 0.0], Stakes());
    }

    [Fact]
    public void WhatIsDismissedNoLongerCounts()
    {
        Save(Conflict("c", 100, (1, 60), (2, 40)), Gap("g", 70, 1));
        Decide(FindingState.Dismissed, "seasonal", "c");
        Assert.Equal(["g"], Database.Read(s => FindingStore.List(s, new ListQuery(), new FindingFilter())).Rows.Select(f => f.Key));
        Assert.Equal([70.0, 0.0, 0.0], Stakes());
        var any = Database.Read(s => FindingStore.List(s, new ListQuery(), new FindingFilter(AnyState: true))).Rows.Single(f => f.Key == "c");
        Assert.Equal((FindingState.Dismissed, "seasonal"), (any.State, any.Reason));
    }

    [Fact]
    public void AFindingWhoseCauseIsGoneIsResolvedAndOpensAgainWhenItReturns()
    {
        Save(Gap("g", 70, 1));
        Save();
        Assert.Equal(FindingState.Resolved, State("g"));
        Assert.Equal([0.0, 0.0, 0.0], Stakes());
        Save(Gap("g", 50, 1));
        Assert.Equal(FindingState.Open, State("g"));
        Assert.Equal(50.0, Stakes()[0]);
    }

    [Theory]
    [InlineData(null, "c g")]
    [InlineData("conflict", "c")]
    [InlineData("pageGap", "g")]
    public void KindsAreToldApart(string? kind, string keys)
    {
        Save(Conflict("c", 100, (1, 60)), Gap("g", 70, 2));
        var filter = new FindingFilter(kind is null ? null : Enum.Parse<FindingKind>(kind, true));
        Assert.Equal(keys, string.Join(' ', Database.Read(s => FindingStore.List(s, new ListQuery(), filter)).Rows.Select(f => f.Key)));
    }

    [Fact]
    public void FindingsAreFoundByTheirPageAndAssignee()
    {
        Save(Conflict("c", 100, (1, 60)), Gap("g", 70, 2));
        Database.Write(s => FindingDecisions.Annotate(s, ["g"], "Ada", "ask first", Now));
        Assert.Equal("c", Keys(new FindingFilter(PageId: _second)));
        Assert.Equal("g", Keys(new FindingFilter(Assignee: "ada")));
        Assert.Equal("c", Keys(new FindingFilter(Assignee: "")));
        Assert.Equal(["Ada"], Database.Read(FindingStore.Assignees));
        Assert.Equal("g", string.Join(' ', Database.Read(s => FindingStore.List(s, new ListQuery("ask first"), new FindingFilter())).Rows.Select(f => f.Key)));
    }

    [Fact]
    public void ADeliberatePairIsOnePairWhicheverComesFirst()
    {
        Database.Write(s => FindingDecisions.DeclarePair(s, _second, _first, "two audiences", Now));
        Database.Write(s => FindingDecisions.DeclarePair(s, _first, _second, "two audiences still", Now));
        Assert.Single(Database.Read(FindingDecisions.DeliberatePairs));
        Database.Write(s => FindingDecisions.UndeclarePair(s, _first, _second));
        Assert.Empty(Database.Read(FindingDecisions.DeliberatePairs));
    }

    private string Keys(FindingFilter filter) => string.Join(' ', Database.Read(s => FindingStore.List(s, new ListQuery(), filter)).Rows.Select(f => f.Key));

    private FindingState State(string key) => Database.Read(s => FindingStore.Find(s, key))!.State;

    private double[] Stakes() => [.. Database.Read(s => ClusterStore.List(s, new ListQuery(), new ClusterFilter())).Rows.OrderBy(c => c.Id.Value).Select(c => c.AtStake)];

    private void Save(params ComputedFinding[] findings) => Database.Write(s =>
    {
        var changes = new FindingChanges();
        ComputedFindings.Save(s, null, findings, Now, changes);
        ComputedFindings.Settle(s, changes, null, true, null, Now);
        FindingCounts.Refresh(s, changes, null);
    });

    private void Decide(FindingState state, string reason, params string[] keys) => Database.Write(s =>
    {
        FindingDecisions.Decide(s, keys, state, reason, Now);
        var changes = new FindingChanges();
        ComputedFindings.Settle(s, changes, null, true, null, Now);
        FindingCounts.Refresh(s, changes, null);
    });

    private ComputedFinding Conflict(string key, double atStake, params (long Cluster, double AtStake)[] clusters) =>
        Made(key, FindingKind.Conflict, SignKind.RivalsInResults, atStake, [_first, _second], clusters);

    private ComputedFinding Gap(string key, double atStake, long cluster) => Made(key, FindingKind.PageGap, SignKind.Absent, atStake, [_first], [(cluster, atStake)]);

    private static ComputedFinding Made(string key, FindingKind kind, SignKind sign, double atStake, PageId[] pages, (long Cluster, double AtStake)[] clusters) => new(
        key, kind, false, new FindingContent(
            [.. clusters.Select(c => new StoredStake(new ClusterId(c.Cluster), c.AtStake))], pages, null, null, atStake, 1,
            [new StoredSign(sign, new ClusterId(clusters[0].Cluster), null, pages[0], pages[1..], atStake, [])]));
}
