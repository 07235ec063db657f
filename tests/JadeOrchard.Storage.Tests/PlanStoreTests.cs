using JadeOrchard.Core;
using JadeOrchard.Core.Findings;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Storage.Tests;

/// <summary>What was decided of findings, and the keywords of each page.</summary>
public class PlanStoreTests : WithClusters
{
    private PageId _page;
    private PageId _other;

    public PlanStoreTests()
    {
        Keywords(5);
        Group([1, 3], [2], [4, 5]);
        Database.Write(s =>
        {
            _page = PageStore.Plan(s, "https://fenwater.example/a", "https://fenwater.example/a", "A");
            PageMapStore.Assign(s, new ClusterId(1), _page, Now);
            PageMapStore.Assign(s, new ClusterId(3), _page, Now);
            _other = PageStore.Plan(s, "https://fenwater.example/b", "https://fenwater.example/b", "B");
            PageMapStore.Assign(s, new ClusterId(2), _other, Now);
        });
    }

    [Fact]
    public void KeywordsOfAPageComeClusterByClusterThePrimaryFirst()
    {
        var keywords = Database.Read(PlanStore.Keywords);
        Assert.Equal(["a k1", "a k3", "a k4", "a k5", "b k2"], keywords.Select(k => $"{k.PageUrl[^1]} {k.Phrase}"));
        Assert.Equal([true, false, true, false, true], keywords.Select(k => k.IsPrimary));
        Assert.All(keywords, k => Assert.True(k.IsPlanned));
    }

    [Fact]
    public void ADecisionTakesThePlaceOfTheOneBefore()
    {
        Database.Write(s => PlanStore.Decide(s, Finding("c"), Remedy.Merge, _page, [_other], "", Now));
        Database.Write(s => PlanStore.Decide(s, Finding("c"), Remedy.Redirect, _other, [_page], "the newer stays", Now.AddDays(1)));
        var step = Assert.Single(Database.Read(PlanStore.Steps));
        Assert.Equal((Remedy.Redirect, _other, "the newer stays"), (step.Remedy, step.PageId, step.Note));
        Assert.Equal(["https://fenwater.example/a"], step.OtherPages.Select(p => p.Url));
    }

    [Fact]
    public void DecisionsComeNewestFirstAndCanBeTakenBack()
    {
        Database.Write(s => PlanStore.Decide(s, Finding("old"), Remedy.Merge, _page, [_other], "", Now));
        Database.Write(s => PlanStore.Decide(s, Finding("new"), Remedy.Redirect, _page, [_other], "", Now.AddDays(1)));
        Assert.Equal(["new", "old"], Database.Read(PlanStore.Steps).Select(s => s.FindingKey));
        Database.Write(s => PlanStore.Retract(s, "new"));
        Assert.Equal(["old"], Database.Read(PlanStore.Steps).Select(s => s.FindingKey));
        Assert.Null(Database.Read(s => PlanStore.StepFor(s, "new")));
        Assert.NotNull(Database.Read(s => PlanStore.StepFor(s, "old")));
    }

    [Fact]
    public void AClusterOfThePlanHasItsOtherKeywordsMostSearchedFirst()
    {
        var items = Database.Read(s => PlanStore.List(s, new ListQuery(Sort: "demand", Descending: true), new ClusterFilter())).Rows;
        Assert.Equal(["k3", "", "k5"], items.OrderBy(i => i.Cluster.Id.Value).Select(i => string.Join(' ', i.Secondary)));
        Assert.Equal(items.OrderByDescending(i => i.Cluster.Demand).Select(i => i.Cluster.Id), items.Select(i => i.Cluster.Id));
    }

    private static FindingRow Finding(string key) => new(
        key, FindingKind.Conflict, FindingState.Open, "", "", "", null, new ClusterId(1), null, 0, null, null, null, [], 0, null, 0, 0, [], "", "", "");
}
