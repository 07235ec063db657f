using CsCheck;
using JadeOrchard.Core;
using JadeOrchard.Core.Results.Staged;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Storage.Tests;

/// <summary>Captures in stages, and the clusters that keywords are expected in, on a real file.</summary>
public sealed class StagedStoreTests : WithClusters
{
    [Fact]
    public void ABatchReplacesWhatTheOneBeforeExpected()
    {
        Keywords(6);
        var job = Begin();
        Assert.Equal(new StagedRow(job, 0.9, StagedPhase.Capturing, null), Database.Read(StagedStore.Newest));
        Assert.Equal(6, Database.Read(s => StagedStore.Keywords(s, job)).Count);
        Expect(job, (5, [1, 2]), (6, [1]));
        Expect(job, (6, [2]));
        Assert.Equal([(0, 2, 4), (0, 1, 5)], Database.Read(s => StagedStore.Batches(s, job)).Select(b => (b.Captured, b.Expected, b.Unknown)));
        var expected = Assert.Single(Database.Read(s => StagedStore.Expected(s, job)));
        Assert.Equal((new KeywordId(6), 0.95, "2"), (expected.KeywordId, expected.Certainty, string.Join(' ', expected.Supports.Select(k => k.Value))));
        Assert.Equal((0L, 1L, 5L), Database.Read(StagedStore.Counts));
        Assert.Null(Database.Read(s => StagedStore.FindExpected(s, new KeywordId(5))));

        Capture(6, 1);
        Assert.Equal((2L, 0L, 4L), Database.Read(StagedStore.Counts));
        Assert.Empty(Database.Read(s => StagedStore.Expected(s, job)));
        Database.Write(s =>
        {
            StagedStore.SaveAudit(s, job, CaptureAudit.Of(29, 30));
            StagedStore.SetPhase(s, job, StagedPhase.Done);
        });
        Assert.Equal((StagedPhase.Done, 29, 30), Database.Read(s => StagedStore.Find(s, job)) is { Audit: { } audit } row ? (row.Phase, audit.Right, audit.Audited) : default);
    }

    [Fact]
    public void WhatArrivesIsToldOnceWithTheClusterItWasExpectedIn()
    {
        Keywords(8);
        Capture(1, 2, 3, 4);
        Group([1, 2], [3, 4]);
        var job = Begin();
        Expect(job, (5, [1, 3, 4]), (6, [2]), (7, [1]), (8, [4]));
        Assert.Empty(Database.Read(StagedStore.Arrived));
        Capture(5, 6, 7);
        Database.Write(s => KeywordStore.Decline(s, new KeywordSelection(Ids(7)), "not ours", Now));
        Database.Write(s => ClusterStore.Move(s, Ids(6), new ClusterId(2)));
        Assert.Equal(
            [(5L, new ClusterId(2), true), (6, new ClusterId(1), false), (7, new ClusterId(1), false)],
            Database.Read(StagedStore.Arrived).Select(a => (a.KeywordId.Value, a.ClusterId!.Value, a.IsFree)));
        Database.Write(s => StagedStore.Settle(s, Ids(5, 6)));
        Assert.Equal(Ids(7), Database.Read(StagedStore.Arrived).Select(a => a.KeywordId));
    }

    /// <summary>Whatever is moved, declined, captured or taken out: what is brought up to date is what looking at everything gives.</summary>
    [Fact]
    public void ExpectedMembersAreBroughtUpToDateExactly()
    {
        const int captured = 12, all = 20;
        Keywords(all);
        Capture([.. Enumerable.Range(1, captured).Select(k => (long)k)]);
        Group([.. Enumerable.Range(0, 4).Select(c => new long[] { (c * 3) + 1, (c * 3) + 2, (c * 3) + 3 })]);
        var random = new Random(5);
        var job = Begin();
        Expect(job, [.. Enumerable.Range(captured + 1, all - captured).Select(k => ((long)k, (long[])[.. Enumerable.Range(1, captured).OrderBy(_ => random.Next()).Take(1 + random.Next(4)).Select(s => (long)s)]))]);
        Refresh(whole: true);
        Gen.Select(Gen.Int[0, 5], Gen.Long[1, all], Gen.Int[0, 20]).Sample(
            change =>
            {
                var (kind, keyword, at) = change;
                var clusters = Database.Read(ClusterStore.Primaries);
                Database.Write(s =>
                {
                    var id = Ids(keyword);
                    switch (kind)
                    {
                        case 0 or 1 or 2:
                            ClusterStore.Move(s, id, clusters.Count == 0 || at % 7 == 0 ? null : clusters[at % clusters.Count].Id);
                            break;
                        case 3:
                            KeywordStore.Decline(s, new KeywordSelection(id), "not ours", Now);
                            break;
                        case 4:
                            KeywordStore.TakeBack(s, new KeywordSelection(id));
                            break;
                        default:
                            if (clusters.Count > 1)
                                ClusterStore.Move(s, ClusterStore.Members(s, clusters[at % clusters.Count].Id), clusters[(at + 1) % clusters.Count].Id);
                            break;
                    }

                    var touched = s.TakeTouched();
                    StagedStore.RefreshClusters(s, touched.Ids<ClusterId>(Data.Clusters), touched.Ids<KeywordId>(Data.Expected)!);
                });
                var kept = State();
                Refresh(whole: true);
                Assert.Equal(State(), kept);
            },
            iter: 150, threads: 1);

        string State() => Database.Read(s => string.Join(' ', s.List("select keyword_id, cluster_id, certainty from cluster_expected order by 1", r => $"{r.GetInt64(0)}:{r.GetInt64(1)}:{r.GetDouble(2)}")));
    }

    private void Refresh(bool whole) => Database.Write(s =>
    {
        if (whole)
            StagedStore.RefreshSupports(s);
        StagedStore.RefreshClusters(s, null, []);
    });

    private JobId Begin() => Database.Write(s =>
    {
        var job = JobStore.Add(s, "capture", "Capture", "{}", Now);
        StagedStore.Begin(s, job, 0.9, new KeywordSelection());
        return job;
    });

    private void Expect(JobId job, params (long Keyword, long[] Supports)[] expected) => Database.Write(s => StagedStore.SaveBatch(
        s, job, new StagedBatch(0, expected.Length, 6 - expected.Length, 0.95 * expected.Length),
        expected.Select(e => new ExpectedRow(new KeywordId(e.Keyword), 0.95, Ids(e.Supports), IsAudited: false))));

    private void Capture(params long[] keywords) => Database.Write(s =>
    {
        foreach (var keyword in keywords)
            s.Execute("insert into result_list (keyword_id, captured_on, captured_at, origin) values (@keyword, 5, '', 'import')", ("keyword", keyword));
    });
}
