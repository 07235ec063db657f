using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Tests;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Tests;

/// <summary>Backups of a project: made while it is used, kept as many as there should be, and put back in its place.</summary>
public sealed class BackupTests : IDisposable
{
    private static readonly DateTimeOffset Noon = new(2026, 11, 30, 12, 0, 0, TimeSpan.Zero);
    private readonly string _folder = Directory.CreateTempSubdirectory("jade-backups-").FullName;

    private string File => Path.Combine(_folder, "project.db");

    public BackupTests() => EmptyProject.In(_folder);

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private void Change(Action<WriteSession> change)
    {
        using var database = Database.Open(File);
        database.Change("a change", session =>
        {
            change(session);
            return 0;
        });
    }

    private void Name(string name) => Change(session => ProjectStore.Save(session, new ProjectProfile(name, "fenwater.example", "GB", "en", [])));

    private string NameNow()
    {
        using var database = Database.Open(File);
        return database.Read(ProjectStore.Get).Name;
    }

    private string PathOf(Backup backup) => Backups.PathOf(File, backup.Name)!;

    [Fact]
    public void ABackupHoldsWhatWasCommittedWhileTheProjectIsUsed()
    {
        using var database = Database.Open(File);
        database.Change("a change", session =>
        {
            ProjectStore.Save(session, new ProjectProfile("committed", "fenwater.example", "GB", "en", []));
            return 0;
        });
        Backup backup = null!;
        database.Change("another", session =>
        {
            ProjectStore.Save(session, new ProjectProfile("under way", "fenwater.example", "GB", "en", []));
            // Whoever backs up does not wait for whoever writes.
            backup = Backups.Make(File, BackupKind.Manual, Noon);
            return 0;
        });
        Assert.Equal("committed", ProjectFile.Facts(PathOf(backup))!.Name);
        Assert.Null(ProjectFile.WhyNot(PathOf(backup)));
        // One file, with nothing beside it.
        Assert.Equal([PathOf(backup)], Directory.GetFiles(Backups.FolderOf(File)));
        Assert.Equal(new FileInfo(PathOf(backup)).Length, backup.Bytes);
        Assert.Equal("under way", database.Read(ProjectStore.Get).Name);
    }

    [Fact]
    public void SevenOfAKindAreKeptAndAllThatSomebodyAskedFor()
    {
        for (var day = 0; day < 10; day++)
        {
            Backups.Make(File, BackupKind.Daily, Noon.AddDays(day));
            Backups.Make(File, BackupKind.Manual, Noon.AddDays(day));
        }

        var all = Backups.Of(File);
        Assert.Equal(Enumerable.Range(3, 7).Reverse().Select(day => Noon.AddDays(day).UtcDateTime), all.Where(b => b.Kind == BackupKind.Daily).Select(b => b.MadeAt));
        Assert.Equal(10, all.Count(b => b.Kind == BackupKind.Manual));
        Assert.Equal(all.OrderByDescending(b => b.MadeAt).Select(b => b.MadeAt), all.Select(b => b.MadeAt));
    }

    /// <summary>However many are made within a moment, each has a name of its own.</summary>
    [Fact]
    public void BackupsOfTheSameMomentAreTold()
    {
        var made = Enumerable.Range(0, 5).Select(_ => Backups.Make(File, BackupKind.Manual, Noon)).ToList();
        Assert.Equal(5, made.Select(b => b.Name).Distinct().Count());
        Assert.Equal(made.Select(b => b.Name).Reverse(), Backups.Of(File).Select(b => b.Name));
    }

    [Theory]
    [InlineData("../project.db")]
    [InlineData("project.db")]
    [InlineData("20261130T120000000Z-weekly.db")]
    [InlineData("notes.txt")]
    public void WhatIsNoBackupIsNotFound(string name)
    {
        Backups.Make(File, BackupKind.Daily, Noon);
        System.IO.File.WriteAllText(Path.Combine(Backups.FolderOf(File), Path.GetFileName(name)), "x");
        Assert.Null(Backups.PathOf(File, name));
        Assert.Single(Backups.Of(File));
    }

    [Fact]
    public void ABackupOfTheDayIsDueOnceTheProjectWasChanged()
    {
        System.IO.File.SetLastWriteTimeUtc(File, Noon.UtcDateTime);
        Assert.True(Backups.IsDue(File, Noon));
        Backups.Make(File, BackupKind.Daily, Noon.AddMinutes(1));
        System.IO.File.SetLastWriteTimeUtc(File, Noon.AddHours(1).UtcDateTime);
        // There is one of that day.
        Assert.False(Backups.IsDue(File, Noon.AddHours(2)));
        Assert.True(Backups.IsDue(File, Noon.AddDays(1)));
        // What has not changed since any backup needs no other.
        Backups.Make(File, BackupKind.Manual, Noon.AddHours(3));
        Assert.False(Backups.IsDue(File, Noon.AddDays(1)));
        Assert.False(Backups.IsDue(Path.Combine(_folder, "nothing.db"), Noon));
    }

    [Fact]
    public void ARestoreCanItselfBeUndone()
    {
        Name("first");
        var first = Backups.Make(File, BackupKind.Manual, Noon);
        Name("second");
        var before = Backups.Restore(File, PathOf(first), Noon.AddHours(1))!;
        Assert.Equal("first", NameNow());
        Assert.Equal(BackupKind.Restore, before.Kind);
        Backups.Restore(File, PathOf(before), Noon.AddHours(2));
        Assert.Equal("second", NameNow());
        // History comes along, so that it can be undone to where it was.
        using var database = Database.Open(File);
        Assert.Equal("a change", database.Read(UndoLog.Next).Undo?.Label);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(17)]
    [InlineData(3_000)]
    public void ABackupIsRestoredOverADamagedFileWhichIsKept(int length)
    {
        Name("sound");
        var backup = Backups.Make(File, BackupKind.Daily, Noon);
        var damaged = Enumerable.Range(0, length).Select(i => (byte)(i * 7)).ToArray();
        System.IO.File.WriteAllBytes(File, damaged);
        System.IO.File.WriteAllBytes(File + "-wal", [1, 2, 3]);
        var before = Backups.Restore(File, PathOf(backup), Noon.AddDays(1))!;
        Assert.Equal(BackupKind.Damaged, before.Kind);
        Assert.Equal(damaged, System.IO.File.ReadAllBytes(PathOf(before)));
        Assert.Equal([1, 2, 3], System.IO.File.ReadAllBytes(PathOf(before) + "-wal"));
        Assert.Equal("sound", NameNow());
    }

    [Fact]
    public void AMissingFileIsRestored()
    {
        Name("sound");
        var backup = Backups.Make(File, BackupKind.Daily, Noon);
        System.IO.File.Delete(File);
        Assert.Null(Backups.Restore(File, PathOf(backup), Noon));
        Assert.Equal("sound", NameNow());
    }

    [Fact]
    public void WhatIsNoSoundProjectIsNotRestored()
    {
        Name("as it was");
        var elsewhere = Path.Combine(_folder, "elsewhere.db");
        System.IO.File.WriteAllText(elsewhere, "no database");
        Assert.Contains("no file of a project", Assert.Throws<InvalidDataException>(() => Backups.Restore(File, elsewhere, Noon)).Message, StringComparison.Ordinal);
        Sql(elsewhere + "2", "create table x (y)");
        Assert.Contains("not one of a project", Assert.Throws<InvalidDataException>(() => Backups.Restore(File, elsewhere + "2", Noon)).Message, StringComparison.Ordinal);
        ProjectFile.Copy(File, elsewhere);
        Sql(elsewhere, "pragma user_version = 99");
        Assert.Contains("newer Jade Orchard", Assert.Throws<InvalidDataException>(() => Backups.Restore(File, elsewhere, Noon)).Message, StringComparison.Ordinal);
        ProjectFile.Copy(File, elsewhere);
        using (var bytes = new FileStream(elsewhere, FileMode.Open))
            bytes.SetLength(bytes.Length / 2);
        Assert.Contains("damaged", Assert.Throws<InvalidDataException>(() => Backups.Restore(File, elsewhere, Noon)).Message, StringComparison.Ordinal);
        Assert.Equal("as it was", NameNow());
        Assert.Empty(Backups.Of(File));
        Assert.DoesNotContain(Directory.GetFiles(_folder), f => f.Contains("project.db.", StringComparison.Ordinal));
    }

    /// <summary>A backup that was made while something was captured does not go on capturing, which would be paid again.</summary>
    [Fact]
    public void WhatWasUnderWayDoesNotGoOnAfterARestore()
    {
        Change(session => JobStore.SetState(session, JobStore.Add(session, "capture", "Capturing", "{}", Noon), JobState.Running, "", null));
        var backup = Backups.Make(File, BackupKind.Daily, Noon);
        Backups.Restore(File, PathOf(backup), Noon);
        using var database = Database.Open(File);
        Assert.Empty(database.Read(JobStore.Unfinished));
        Assert.Equal(JobState.Stopped, database.Read(session => JobStore.Newest(session, "capture", 1))[0].State);
    }

    [Fact]
    public void ACopyIsAProjectOfItsOwn()
    {
        Change(session =>
        {
            KeywordStore.Count(session);
            ServiceStore.Save(session, ServiceName.Search, "https://search.example", "X-Key", "secret-of-the-search-service");
            session.Execute("insert into brief_link (token, brief_id, made_at, expires_at) values ('t', 1, '', '')");
            JobStore.Add(session, "capture", "Capturing", "{}", Noon);
        });
        using var original = Database.Open(File);
        var identity = original.Read(ProjectStore.Identity);
        foreach (var keepsKeys in new[] { true, false })
        {
            var path = Path.Combine(_folder, "copy.db");
            ProjectFile.Copy(File, path);
            ProjectFile.Detach(path, keepsKeys);
            Assert.Equal(keepsKeys, System.Text.Encoding.Latin1.GetString(System.IO.File.ReadAllBytes(path)).Contains("secret-of-the-search-service", StringComparison.Ordinal));
            using var copy = Database.Open(path);
            Assert.NotEqual(identity, copy.Read(ProjectStore.Identity));
            Assert.Equal(keepsKeys ? "secret-of-the-search-service" : null, copy.Read(session => ServiceStore.Key(session, ServiceName.Search)));
            Assert.Equal("https://search.example", copy.Read(ServiceStore.All).Single(s => s.Name == ServiceName.Search).Address);
            Assert.Equal(0L, copy.Read(session => session.Count("select count(*) from brief_link")));
            Assert.Empty(copy.Read(JobStore.Unfinished));
        }

        Assert.Equal(1L, original.Read(session => session.Count("select count(*) from brief_link")));
        Assert.Single(original.Read(JobStore.Unfinished));
    }

    /// <summary>Copies of a file that is written all the time are whole ones.</summary>
    [Fact]
    public async Task CopiesUnderSteadyWritingAreSound()
    {
        using var database = Database.Open(File);
        using var stop = new CancellationTokenSource();
        var writing = Task.Run(() =>
        {
            for (var i = 0; !stop.IsCancellationRequested; i++)
            {
                database.Change("a change", session =>
                {
                    ProjectStore.Save(session, new ProjectProfile($"name {i}", $"host{i}.example", "GB", "en", []));
                    return 0;
                });
            }
        });
        for (var i = 0; i < 8; i++)
        {
            var backup = Backups.Make(File, BackupKind.Manual, Noon);
            Assert.Null(ProjectFile.WhyNot(PathOf(backup)));
            var facts = ProjectFile.Facts(PathOf(backup))!;
            if (facts.Name.StartsWith("name", StringComparison.Ordinal))
                Assert.Equal($"host{facts.Name[5..]}.example", facts.Host);
        }

        await stop.CancelAsync();
        await writing;
    }

    private static void Sql(string file, string sql)
    {
        using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // From this test alone.
        command.CommandText = sql;
#pragma warning restore CA2100
        command.ExecuteNonQuery();
    }
}
