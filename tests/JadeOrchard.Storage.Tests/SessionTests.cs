using JadeOrchard.Core.Keywords;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Storage.Tests;

/// <summary>What is written beside the caller's own work, on one connection.</summary>
public sealed class SessionTests : WithDatabase
{
    [Fact]
    public void WhatIsWrittenBesideIsInItsOrderAndThereForWhateverComesNext()
    {
        var seen = Database.Change("Write beside", session =>
        {
            using var go = new ManualResetEventSlim();
            session.Beside(() =>
            {
                go.Wait();
                Add(session, "first");
            });
            session.Beside(() => Add(session, "second"));
            go.Set();
            return session.List("select phrase from keyword order by keyword_id", r => r.GetString(0));
        });
        Assert.Equal(["first", "second"], seen);
        Assert.Equal(2, Database.Read(KeywordStore.Count));
    }

    [Fact]
    public void WhatIsStillBeingWrittenAtTheEndIsPartOfTheChange()
    {
        Database.Change("Write beside", session =>
        {
            session.Beside(() =>
            {
                Thread.Sleep(50);
                Add(session, "late");
            });
            return 0;
        });
        Assert.Equal(1, Database.Read(KeywordStore.Count));
    }

    [Fact]
    public void AnErrorInWhatIsWrittenBesideTakesTheChangeBack()
    {
        Assert.Throws<InvalidOperationException>(() => Database.Change("Write beside", session =>
        {
            Add(session, "before");
            session.Beside(() => throw new InvalidOperationException("It failed."));
            session.Beside(() => Add(session, "never"));
            return 0;
        }));
        Assert.Equal(0, Database.Read(KeywordStore.Count));
    }

    [Fact]
    public void AChangeThatFailsWaitsForWhatIsWrittenBeside()
    {
        var isWritten = false;
        Assert.Throws<InvalidOperationException>(() => Database.Change<int>("Write beside", session =>
        {
            session.Beside(() =>
            {
                Thread.Sleep(50);
                Add(session, "late");
                isWritten = true;
            });
            throw new InvalidOperationException("It failed.");
        }));
        Assert.True(isWritten);
        Assert.Equal(0, Database.Read(KeywordStore.Count));
        Assert.Equal(1, Database.Change("And on", session => Add(session, "after")));
    }

    private static int Add(WriteSession session, string phrase)
    {
        var now = new DateTimeOffset(2026, 11, 24, 12, 0, 0, TimeSpan.Zero);
        using var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.File, "keywords.csv", now), now);
        writer.Write(new Keyword(phrase, phrase));
        writer.Finish();
        return 1;
    }
}
