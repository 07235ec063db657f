using JadeOrchard.Core;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Storage.Tests;

/// <summary>What a capture asks for, in which order, and what came of each.</summary>
public sealed class CaptureStoreTests : WithClusters
{
    private static readonly DateOnly Today = new(2026, 11, 24);
    private static readonly KeywordSelection All = new();

    private JobId Begin(bool again = false, long most = long.MaxValue, Dictionary<KeywordId, double>? changed = null) => Database.Write(s =>
    {
        var id = JobStore.Add(s, "capture", "Capture", "{}", Now);
        CaptureStore.Begin(s, id, All, Today.AddDays(-30), again, changed ?? [], most);
        return id;
    });

    private void Listed(long keyword, int daysAgo) => Database.Write(s =>
    {
        s.Execute("insert into result_list (keyword_id, captured_on, captured_at, origin, depth, is_empty) values (@k, @day, '', 'import', 10, 0)", ("k", keyword), ("day", Today.AddDays(-daysAgo).DayNumber));
        CaptureStore.RefreshKeywords(s, null);
    });

    private IEnumerable<long> Waiting(JobId id) => Database.Read(s => CaptureStore.Waiting(s, id)).Select(i => i.KeywordId.Value);

    [Fact]
    public void WhatHasNoListComesFirstThenWhatHasMostProbablyChanged()
    {
        Keywords(6);
        Listed(1, 90);
        Listed(2, 40);
        Listed(3, 5);
        Dictionary<KeywordId, double> changed = new() { [new(1)] = 0.4, [new(2)] = 0.9 };
        Assert.Equal([4, 5, 6, 2, 1], Waiting(Begin(changed: changed)));
        Assert.Equal([4, 5, 6, 2, 1, 3], Waiting(Begin(again: true, changed: changed)));
        Assert.Equal([4, 5], Waiting(Begin(most: 2)));
    }

    [Fact]
    public void AnEstimateCountsWhatBeginningWouldAskFor()
    {
        Keywords(5);
        Listed(1, 90);
        Listed(2, 30);
        Listed(3, 29);
        foreach (var again in new[] { false, true })
        {
            var estimate = Database.Read(s => CaptureStore.Estimate(s, All, Today.AddDays(-30), again));
            Assert.Equal(new CaptureEstimate(5, 2, again ? 5 : 3), estimate);
            Assert.Equal(estimate.ToAsk, Waiting(Begin(again)).Count());
        }
    }

    [Fact]
    public void WhatFailedIsNamedAskedForAgainOrForgiven()
    {
        Keywords(4);
        var job = Begin();
        Database.Write(s =>
        {
            CaptureStore.SetState(s, job, new KeywordId(1), CaptureState.Captured, "");
            CaptureStore.SetState(s, job, new KeywordId(2), CaptureState.Empty, "");
            foreach (var k in Ids(3, 4))
            {
                CaptureStore.SetState(s, job, k, CaptureState.Failed, "did not answer");
                CaptureStore.MarkFailed(s, k, "did not answer");
            }
        });
        Assert.Equal(new CaptureCounts(0, 1, 1, 2), Database.Read(s => CaptureStore.Counts(s, job)));
        Assert.Equal(["k3: did not answer", "k4: did not answer"], Database.Read(s => CaptureStore.Failed(s, job, 9)).Select(f => $"{f.Phrase}: {f.Note}"));
        Assert.Single(Database.Read(s => CaptureStore.Failed(s, job, 1)));
        Database.Write(s => CaptureStore.Forgive(s, job, new KeywordId(4)));
        Assert.Equal([4], Waiting(job));
        Database.Write(s => CaptureStore.RetryFailed(s, job));
        Assert.Equal([3, 4], Waiting(job));
        Assert.Equal(new CaptureCounts(2, 1, 1, 0), Database.Read(s => CaptureStore.Counts(s, job)));
    }

    [Fact]
    public void AFailureLeavesTheListThatThereIs()
    {
        Keywords(2);
        Listed(1, 60);
        Database.Write(s =>
        {
            foreach (var k in Ids(1, 2))
                CaptureStore.MarkFailed(s, k, "the service is down");
            CaptureStore.RefreshKeywords(s, Ids(1, 2));
        });
        Assert.Equal(["captured", "failed"], States());
        Database.Write(s =>
        {
            CaptureStore.MarkFailed(s, new KeywordId(2), "again");
            s.Execute("insert into result_list (keyword_id, captured_on, captured_at, origin, depth, is_empty) values (2, @day, '', 'import', 10, 1)", ("day", Today.DayNumber));
            CaptureStore.RefreshKeywords(s, null);
        });
        Assert.Equal(["captured", "empty"], States());

        IEnumerable<string> States() => Database.Read(s => s.List("select capture_state from keyword order by keyword_id", r => r.GetString(0)));
    }

    [Fact]
    public void TheScheduleRemembersItsLastRun()
    {
        Assert.Null(Database.Read(RecaptureStore.Last));
        foreach (var day in new[] { Today.AddDays(-28), Today })
            Database.Write(s => RecaptureStore.Save(s, day, $"{day.Day} lists"));
        Assert.Equal(new Recapture(Today, "24 lists"), Database.Read(RecaptureStore.Last));
    }
}
