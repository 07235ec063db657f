namespace JadeOrchard.Storage.Tests;

public sealed class TurnsTests
{
    [Fact]
    public async Task WhoWaitsComesBeforeWhoGoesAgain()
    {
        var turns = new Turns();
        var came = new List<string>();
        Assert.True(turns.Take(TimeSpan.Zero));
        var waiting = new List<Task>();
        foreach (var name in new[] { "first", "second" })
        {
            waiting.Add(Task.Factory.StartNew(
                () =>
                {
                    Assert.True(turns.Take(TimeSpan.FromSeconds(30)));
                    came.Add(name);
                    turns.Pass();
                },
                TaskCreationOptions.LongRunning));
            // Each is in the queue before the next one comes.
            while (turns.Waiting < waiting.Count)
                await Task.Delay(1);
        }

        turns.Pass();
        Assert.True(turns.Take(TimeSpan.FromSeconds(30)));
        came.Add("again");
        turns.Pass();
        await Task.WhenAll(waiting);
        Assert.Equal(["first", "second", "again"], came);
    }

    [Fact]
    public void WhoGaveUpIsPassedOver()
    {
        var turns = new Turns();
        Assert.True(turns.Take(TimeSpan.Zero));
        Assert.False(turns.Take(TimeSpan.FromMilliseconds(5)));
        turns.Pass();
        Assert.True(turns.Take(TimeSpan.Zero));
    }

    [Fact]
    public void OneAtATimeGoesThrough()
    {
        var turns = new Turns();
        var (within, most, count) = (0, 0, 0);
        Parallel.For(0, 200, new ParallelOptions { MaxDegreeOfParallelism = 8 }, _ =>
        {
            if (!turns.Take(TimeSpan.FromSeconds(60)))
                return;
            most = Math.Max(most, Interlocked.Increment(ref within));
            count++;
            Interlocked.Decrement(ref within);
            turns.Pass();
        });
        Assert.Equal((1, 200), (most, count));
    }
}
