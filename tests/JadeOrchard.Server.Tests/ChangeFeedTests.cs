using JadeOrchard.Storage;
using Microsoft.AspNetCore.Http;

namespace JadeOrchard.Server.Tests;

/// <summary>What windows are told of changes in others.</summary>
public class ChangeFeedTests
{
    private readonly ChangeFeed _feed = new();

    private void Tell(string? says, string window = "w1", params Area[] areas)
    {
        var context = new DefaultHttpContext();
        context.Request.Headers[ChangeFeed.WindowHeader] = window;
        _feed.Tell(context, areas.Length == 0 ? [Area.Keywords] : areas, says);
    }

    [Fact]
    public void EachWindowIsToldEverythingInOrderAndOnce()
    {
        using var first = _feed.Listen();
        Tell("one", areas: [Area.PageMap, Area.Findings]);
        using var second = _feed.Listen();
        Tell(null, "w2");
        Assert.Equal(["one", ""], first.Take().Select(t => t.Says));
        // Whoever listens later is told what comes later.
        var told = Assert.Single(second.Take());
        Assert.Equal(("", "w2", "keywords"), (told.Says, told.Window, Assert.Single(told.Areas)));
        Assert.Empty(first.Take());
        Tell("three", areas: [Area.PageMap, Area.Findings]);
        Assert.Equal(["pageMap", "findings"], Assert.Single(first.Take()).Areas);
    }

    [Fact]
    public async Task NewsWakeWhoeverWaits()
    {
        using var listening = _feed.Listen();
        var news = listening.News;
        Assert.False(news.IsCompleted);
        Tell("one");
        await news.WaitAsync(TimeSpan.FromSeconds(5));
        // They stay news until they are taken.
        Assert.True(listening.News.IsCompleted);
        listening.Take();
        Assert.False(listening.News.IsCompleted);
    }

    [Fact]
    public void AWindowThatTakesNothingIsToldOnceThatAnythingMayHaveChanged()
    {
        using var listening = _feed.Listen();
        for (var i = 0; i < 250; i++)
            Tell($"change {i}");
        var told = listening.Take();
        Assert.InRange(told.Count, 1, 100);
        // Nothing is missed: the first of them says that everything may have changed, and the newest ones follow.
        Assert.Equal(Enum.GetValues<Area>().Length, told[0].Areas.Count);
        Assert.Equal("change 249", told[^1].Says);
        Assert.Equal(told.Count - 1, told.Count(t => t.Says.Length > 0));
    }

    [Fact]
    public void WhoeverHasGoneIsToldNothing()
    {
        var gone = _feed.Listen();
        gone.Dispose();
        Tell("one");
        Assert.Empty(gone.Take());
        Assert.False(gone.News.IsCompleted);
    }

    [Fact]
    public void TheAuthorIsWhoeverSendsTheRequest()
    {
        using var listening = _feed.Listen();
        Author.Current = "Ada";
        Tell("one");
        Author.Current = "";
        Tell("two");
        Assert.Equal(["Ada", ""], listening.Take().Select(t => t.Author));
    }

    [Fact]
    public void ANameThatNoWindowGivesItselfIsLeftOut()
    {
        using var listening = _feed.Listen();
        Tell("one", new string('x', 5_000));
        Assert.Equal("", Assert.Single(listening.Take()).Window);
    }

    [Fact]
    public async Task ManyTellAndTakeAtOnce()
    {
        using var listening = _feed.Listen();
        var taken = 0;
        var telling = Task.WhenAll(Enumerable.Range(0, 4).Select(w => Task.Run(() =>
        {
            for (var i = 0; i < 500; i++)
            {
                Tell("change", $"w{w}");
                Interlocked.Add(ref taken, listening.Take().Count(t => t.Says.Length > 0));
            }
        })));
        await telling;
        taken += listening.Take().Count(t => t.Says.Length > 0);
        // Four at once never let a hundred wait, so that each one came through.
        Assert.Equal(2_000, taken);
    }
}
