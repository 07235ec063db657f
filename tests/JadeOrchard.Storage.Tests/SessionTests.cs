using JadeOrchard.Core;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Storage.Jobs;
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

    [Fact]
    public async Task OthersWriteWhereALongWriteGivesWayAndItIsStillOneStep()
    {
        Database.Piece = TimeSpan.Zero;
        var job = Database.Change(null, s => JobStore.Add(s, "import", "Importing", "{}", default));
        var other = Task.CompletedTask;
        Database.Change(
            "Import",
            session =>
            {
                using var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.File, "keywords.csv", default), default);
                writer.Write(new Keyword("first", "first"));
                other = Task.Run(() => Database.Change("Paste", s => Add(s, "other")));
                while (!session.GiveWay())
                    Thread.Sleep(1);
                writer.Write(new Keyword("last", "last"));
                Assert.Equal(2, writer.NewKeywords);
                writer.Finish();
                return 0;
            },
            job,
            isLast: true,
            beforeOthers: _ => { });
        await other;
        Assert.Equal(["first", "other", "last"], Phrases());
        Assert.Equal(["Paste", "Import"], Database.Read(UndoLog.History).Select(s => s.Label));
        Database.Change(null, UndoLog.Undo);
        Assert.Equal(["first", "last"], Phrases());
        Database.Change(null, UndoLog.Undo);
        Assert.Empty(Phrases());
        Database.Change(null, UndoLog.Redo);
        Database.Change(null, UndoLog.Redo);
        Assert.Equal(["first", "other", "last"], Phrases());
    }

    [Fact]
    public async Task WhatALongWriteWroteBeforeItFailedIsTakenBackUnlessOthersUseIt()
    {
        Database.Piece = TimeSpan.Zero;
        foreach (var isUsed in new[] { false, true })
        {
            var job = Database.Change(null, s => JobStore.Add(s, "import", "Importing", "{}", default));
            var other = Task.CompletedTask;
            Assert.Throws<InvalidOperationException>(() => Database.Change<int>(
                "Import",
                session =>
                {
                    Add(session, "brought");
                    other = Task.Run(() => Database.Change("List", s =>
                    {
                        if (isUsed)
                            ListStore.Add(s, ListStore.Make(s, "Mine", "", default), new KeywordSelection(s.Ids<KeywordId>("select keyword_id from keyword where phrase = 'brought'")));
                        return 0;
                    }));
                    while (!session.GiveWay())
                        Thread.Sleep(1);
                    throw new InvalidOperationException("The file is broken.");
                },
                job,
                isLast: true,
                beforeOthers: _ => { }));
            await other;
            Assert.Equal(["brought"], Phrases());
            int TakeBack() => Database.Change(null, s =>
            {
                UndoLog.TakeBack(s, job);
                return 0;
            });
            if (isUsed)
            {
                Assert.Throws<UsedMeanwhileException>(() => TakeBack());
                Assert.Equal(["brought"], Phrases());
            }
            else
            {
                TakeBack();
                Assert.Empty(Phrases());
                Assert.Empty(Database.Read(UndoLog.History));
            }
        }
    }

    private List<string> Phrases() => Database.Read(s => s.List("select phrase from keyword order by keyword_id", r => r.GetString(0)));

    private static int Add(WriteSession session, string phrase)
    {
        var now = new DateTimeOffset(2026, 11, 24, 12, 0, 0, TimeSpan.Zero);
        using var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.File, "keywords.csv", now), now);
        writer.Write(new Keyword(phrase, phrase));
        writer.Finish();
        return 1;
    }
}
