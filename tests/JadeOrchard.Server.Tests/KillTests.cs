namespace JadeOrchard.Server.Tests;

/// <summary>The program as a process of its own, killed in the middle of its work (SIGKILL, as by kill -9).</summary>
[Collection(nameof(Outside))]
public sealed class KillTests(Outside outside) : IDisposable
{
    private readonly ServerProcess _server = new();

    public void Dispose() => _server.Dispose();

    [Theory]
    [InlineData(null)]
    [InlineData(0.95)]
    public async Task AKillInTheMiddleOfACaptureLosesNoListAndAsksForNoneTwice(double? certainty)
    {
        await outside.Tell(null, "none");
        await _server.Start();
        foreach (var service in new[] { "search", "research" })
            await _server.Put($"services/{service}", new { address = outside.Address, key = Outside.Key });
        await _server.Put("project", new { name = "", host = "fenwater.example", country = "GB", language = "en", brandTerms = Array.Empty<string>() });
        await _server.Ended(await _server.Post("keywords/gather", new { from = "ideas", seeds = new[] { "paddle" } }));
        await outside.Tell("search", "slow", milliseconds: 60);
        var before = await outside.Counts("search");

        var job = await _server.Post("captures", new { selection = new { }, certainty });
        for (var kills = 0; kills < 3; kills++)
        {
            var done = (await Counts()).Done;
            for (var i = 0; i < 600 && (await Counts()).Done < done + 12; i++)
                await Task.Delay(20);
            var told = (await Counts()).Done;
            _server.Kill();
            await _server.Start();
            // What was reported as done before the kill is still done after it.
            Assert.True((await Counts()).Done >= told);
        }

        await outside.Tell("search", "none");
        Assert.Equal("done", (await _server.Ended(job)).GetProperty("state").GetString());
        var (_, captured, total) = await Counts();
        Assert.Equal(total, captured);
        Assert.True(total > 60, $"Only {total} keywords.");
        Assert.Equal(total, (await outside.Counts("search")).Answered - before.Answered);
        var tally = (await _server.Get("keywords?limit=0&capture=captured")).GetProperty("tally");
        Assert.Equal(total, tally.GetProperty("rows").GetInt64());
    }

    [Fact]
    public async Task AJobThatEndsTheProgramTwiceAtTheSamePlaceIsLeftToThePlanner()
    {
        await outside.Tell(null, "none");
        await _server.Start();
        await _server.Put("services/research", new { address = outside.Address, key = Outside.Key });
        await outside.Tell("research", "hang");
        var job = await _server.Post("keywords/gather", new { from = "ideas", seeds = new[] { "paddle" } });
        await _server.KilledAfter(job, 0);
        Assert.Equal("running", await _server.Running(job));
        _server.Kill();
        await outside.Tell("research", "none");
        await _server.Start();
        job = await _server.Ended(job);
        Assert.Equal("failed", Text(job, "state"));
        Assert.Contains("ended twice in the middle of this, at the same place", Text(job, "message"), StringComparison.Ordinal);
        Assert.EndsWith("Nothing was changed.", Text(job, "message"), StringComparison.Ordinal);
    }

    private async Task<(long Done, long Captured, long Total)> Counts()
    {
        var counts = (await _server.Get("captures"))[0].GetProperty("counts");
        return (counts.GetProperty("done").GetInt64(), counts.GetProperty("captured").GetInt64(), counts.GetProperty("total").GetInt64());
    }
}
