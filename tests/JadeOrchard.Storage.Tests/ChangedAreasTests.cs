using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Storage.Tests;

/// <summary>What the writes of one request touched.</summary>
public class ChangedAreasTests : WithClusters
{
    [Fact]
    public void AreThoseOfTheTablesThatWereWritten()
    {
        Keywords(3);
        var areas = ChangedAreas.Watch();
        Database.Change("Group", s =>
        {
            ClusterStore.Replace(s, [Made(0, 1, 2)]);
            return 0;
        });
        Assert.Contains(Area.Clusters, areas.Areas);
        Assert.DoesNotContain(Area.Briefs, areas.Areas);
        Assert.DoesNotContain(Area.Performance, areas.Areas);
        Assert.Equal("Group", areas.Step);
    }

    [Fact]
    public void AreNoneWhereTheChangeWasRolledBack()
    {
        Keywords(3);
        var areas = ChangedAreas.Watch();
        Assert.Throws<InvalidOperationException>(() => Database.Change<int>("Group", s =>
        {
            ClusterStore.Replace(s, [Made(0, 1, 2)]);
            throw new InvalidOperationException();
        }));
        Assert.Empty(areas.Areas);
        Assert.Null(areas.Step);
    }

    [Fact]
    public void AreNotThoseOfARequestBefore()
    {
        Keywords(3);
        var before = ChangedAreas.Watch();
        Database.Change("Group", s =>
        {
            ClusterStore.Replace(s, [Made(0, 1, 2)]);
            return 0;
        });
        var areas = ChangedAreas.Watch();
        Database.Change("List", s => ListStore.Make(s, "mine", "", Now));
        Assert.Equal([Area.Project, Area.Keywords], areas.Areas);
        Assert.Contains(Area.Clusters, before.Areas);
    }

    [Fact]
    public void HaveNoStepWhereNothingIsThereToUndo()
    {
        var areas = ChangedAreas.Watch();
        Database.Change("Nothing", _ => 0);
        Assert.Null(areas.Step);
    }
}
