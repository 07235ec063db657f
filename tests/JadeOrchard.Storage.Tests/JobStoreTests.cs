using CsCheck;
using JadeOrchard.Core;
using JadeOrchard.Storage.Jobs;

namespace JadeOrchard.Storage.Tests;

/// <summary>Long work as it is kept: what goes on after a restart, what imports did, and columns that are remembered.</summary>
public sealed class JobStoreTests : WithDatabase
{
    private static readonly DateTimeOffset Now = new(2026, 11, 24, 12, 0, 0, TimeSpan.Zero);

    private JobId Add(string kind = "import", string label = "Importing a.csv") => Database.Write(s => JobStore.Add(s, kind, label, "{}", Now));

    [Fact]
    public void WhatWaitsOrRunsIsUnfinishedOldestFirst()
    {
        JobId[] jobs = [.. Enum.GetValues<JobState>().Select(_ => Add())];
        Database.Write(s =>
        {
            foreach (var (id, state) in jobs.Zip(Enum.GetValues<JobState>()))
                JobStore.SetState(s, id, state, $"now {state}", state is JobState.Waiting or JobState.Running ? null : Now);
        });
        Assert.Equal([jobs[0], jobs[1]], Database.Read(JobStore.Unfinished).Select(j => j.Id));
        Assert.Equal([JobState.Waiting, JobState.Running], Database.Read(JobStore.Unfinished).Select(j => j.State));
        var done = Database.Read(s => JobStore.Find(s, jobs[(int)JobState.Done]))!;
        Assert.Equal((JobState.Done, "now Done", Now.UtcDateTime.ToString("O")), (done.State, done.Message, done.FinishedAt));
        Assert.Null(Database.Read(s => JobStore.Find(s, new JobId(99))));
    }

    [Fact]
    public void TheNewestOfAKindComeFirst()
    {
        var (first, _, last) = (Add("scan"), Add("import"), Add("scan"));
        Assert.Equal([last, first], Database.Read(s => JobStore.Newest(s, "scan", 5)).Select(j => j.Id));
        Assert.Equal([last], Database.Read(s => JobStore.Newest(s, "scan", 1)).Select(j => j.Id));
        Assert.Empty(Database.Read(s => JobStore.Newest(s, "capture", 5)));
    }

    [Fact]
    public void EndsOfTheProgramAreCountedOnlyAtTheSamePlace()
    {
        var id = Add();
        Assert.Equal([1L, 2, 1, 2, 3], new[] { "40", "40", "80", "80", "80" }.Select(place => Database.Write(s => JobStore.AddDeath(s, id, place))));
        Database.Write(s => JobStore.GoOn(s, id));
        Assert.Equal(1, Database.Write(s => JobStore.AddDeath(s, id, "80")));
    }

    [Fact]
    public void AnImportSaysWhatItDidAndWhichRowsItRejected()
    {
        var (first, second) = (Add(), Add());
        RejectedRowRow[] rows = [new(4, "volume", "Is not a whole number.", "viele"), new(2, "keyword", "Is missing.", ""), new(9, "volume", "Is too large.", "\ud83d\udef6 1e99")];
        Database.Write(s =>
        {
            JobStore.SaveImport(s, first, "keywords", "a.csv", 10, 2, 3, rows);
            JobStore.SaveImport(s, second, "pages", "b.csv", 1, 0, 0, []);
            JobStore.Done(s, second, "1 new page.", Now);
        });
        var imports = Database.Read(JobStore.Imports);
        Assert.Equal([(second, "b.csv", "done", "1 new page."), (first, "a.csv", "waiting", "")], imports.Select(i => (i.Id, i.FileName, i.State, i.Message)));
        Assert.Equal((10L, 2L, 3L), (imports[1].RowsAdded, imports[1].RowsUpdated, imports[1].RowsRejected));
        Assert.Equal(rows, Database.Read(s => JobStore.Rejected(s, first, 10)));
        Assert.Equal(rows[..2], Database.Read(s => JobStore.Rejected(s, first, 2)));
        Assert.Empty(Database.Read(s => JobStore.Rejected(s, second, 10)));
    }

    [Fact]
    public void ColumnsAreRememberedByTheirHeaderWhateverItsCaseAndBlanks()
    {
        Database.Write(s => MappingStore.Save(s, ["Suchbegriff", "Volumen "], "keywords", new Dictionary<string, int> { ["keyword"] = 0, ["volume"] = 1 }));
        Assert.Equal(1, Database.Read(s => MappingStore.Find(s, [" suchBegriff", "VOLUMEN"], "keywords"))!["volume"]);
        Assert.Null(Database.Read(s => MappingStore.Find(s, ["Volumen", "Suchbegriff"], "keywords")));
        Assert.Null(Database.Read(s => MappingStore.Find(s, ["Suchbegriff", "Volumen"], "results")));
        Database.Write(s => MappingStore.Save(s, ["suchbegriff", "volumen"], "keywords", new Dictionary<string, int> { ["keyword"] = 0 }));
        Assert.Equal(["keyword"], Database.Read(s => MappingStore.Find(s, ["Suchbegriff", "Volumen"], "keywords"))!.Keys);
    }

    [Fact]
    public void AHeaderIsNotTakenForOneWithAnotherNumberOfColumns() =>
        Gen.Select(Gen.OneOf(Gen.Const("a"), Gen.Const("b\tc"), Gen.Const("\t"), Gen.Const(""), Gen.Const("ä"), Gen.Const("c")), Gen.OneOf(Gen.Const("a"), Gen.Const("b"), Gen.Const("\t")), (x, y) => (x, y)).Array[1, 4].Sample(
            names =>
            {
                string[] header = [.. names.SelectMany(n => new[] { n.x, n.y })];
                string[] joined = [string.Join('\t', header)];
                Database.Write(s => MappingStore.Save(s, header, "keywords", new Dictionary<string, int> { ["keyword"] = header.Length - 1 }));
                // A place that a file with one column has not.
                Assert.Null(Database.Read(s => MappingStore.Find(s, joined, "keywords")));
            },
            iter: 60);
}
