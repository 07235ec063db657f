using Microsoft.Data.Sqlite;

namespace JadeOrchard.Server.Tests;

/// <summary>The program says in one sentence why it cannot start, and ends; and nobody else can read what it keeps.</summary>
[System.Runtime.Versioning.SupportedOSPlatform("linux")]
public sealed class StartTests : IDisposable
{
    private readonly ServerProcess _server = new();

    private string File => Path.Combine(_server.Folder, "project.db");

    public void Dispose() => _server.Dispose();

    [Fact]
    public async Task OneServerHasAProjectAndTheSecondIsToldWhere()
    {
        await _server.Start();
        await Ends($"The projects in {_server.Data} are open already, at http://localhost:{_server.Port}.", ServerProcess.FreePort());
        // One that was killed is in nobody's way.
        _server.Kill();
        await _server.Start();
    }

    [Fact]
    public async Task APortInUseIsNamed()
    {
        await _server.Start();
        using var other = new ServerProcess();
        var (exit, says) = await ServerProcess.Ends(other.Data, _server.Port);
        Assert.Equal(1, exit);
        Assert.Contains($"Port {_server.Port} is in use by another program. Start with another one: ./run --port NUMBER", says, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", says, StringComparison.Ordinal);
    }

    /// <summary>The program runs all the same, for the other projects and for the backups of this one.</summary>
    [Fact]
    public async Task AProjectThatCannotBeReadSaysSo()
    {
        await _server.Start();
        await _server.Post("keywords/paste", new { text = "kayak\npaddle" });
        _server.Kill();
        await Execute("pragma wal_checkpoint(truncate)");
        var sound = await System.IO.File.ReadAllBytesAsync(File);
        // The root page of the table of results is no page of a table any more.
        var damaged = sound.ToArray();
        var page = await Root("result_part");
        damaged[(page - 1) * 4096] ^= 0x55;
        await CannotBeOpened(damaged, "The project file is damaged. Put a backup of it in its place. What can still be read: 2 keywords");
        await CannotBeOpened("no database"u8.ToArray(), "The project file is damaged. Put a backup of it in its place. Nothing can be read of it.");
        await System.IO.File.WriteAllBytesAsync(File, sound);
        await Execute("pragma user_version = 99");
        await CannotBeOpened(await System.IO.File.ReadAllBytesAsync(File), "written by a newer Jade Orchard");
        await System.IO.File.WriteAllBytesAsync(File, sound);
        await _server.Start();
        Assert.Equal(2, (await _server.Get("keywords")).GetProperty("tally").GetProperty("rows").GetInt32());
    }

    private async Task CannotBeOpened(byte[] content, string saying)
    {
        foreach (var beside in Directory.GetFiles(_server.Folder, "project.db-*"))
            System.IO.File.Delete(beside);
        await System.IO.File.WriteAllBytesAsync(File, content);
        await _server.Start("projects");
        var (status, problem) = await _server.Answer("keywords");
        Assert.Equal(507, status);
        Assert.Contains(saying, Text(problem, "detail"), StringComparison.Ordinal);
        Assert.Contains(saying, Text((await _server.Get("projects"))[0], "fault"), StringComparison.Ordinal);
        _server.Kill();
    }

    /// <summary>Files that are too large to be checked before the first screen are checked beside it.</summary>
    [Fact]
    public async Task ALargeFileIsCheckedWhileItIsOpen()
    {
        await _server.Start();
        await _server.Post("keywords/paste", new { text = "kayak\npaddle" });
        _server.Kill();
        await Execute("create table filler (bytes blob); insert into filler values (zeroblob(70000000)); pragma wal_checkpoint(truncate)");
        var page = await Root("result_part");
        await using (var file = new FileStream(File, FileMode.Open))
        {
            file.Position = (page - 1) * 4096;
            file.WriteByte(0x55);
        }

        await _server.Start();
        for (var i = 0; i < 100 && (await _server.Get("project")).GetProperty("damage").ValueKind == System.Text.Json.JsonValueKind.Null; i++)
            await Task.Delay(100);
        Assert.StartsWith("The project file is damaged. Put a backup of it in its place. What can still be read: 2 keywords", Text(await _server.Get("project"), "damage"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task NobodyElseCanReadWhatIsKept()
    {
        await _server.Start();
        Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute, new DirectoryInfo(_server.Data).UnixFileMode);
        // What SQLite puts beside the file goes when nobody uses it.
        var beside = false;
        for (var i = 0; i < 100 && !beside; i++)
        {
            await _server.Post("keywords/paste", new { text = $"kayak {i}" });
            beside = ModeOf(File + "-wal") is { } mode && mode == Private;
        }

        Assert.True(beside);
        Assert.All(Directory.GetFiles(_server.Data), f => Assert.Equal(Private, ModeOf(f) ?? Private));
    }

    private const UnixFileMode Private = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    private static UnixFileMode? ModeOf(string file)
    {
        try
        {
            return System.IO.File.GetUnixFileMode(file);
        }
        catch (FileNotFoundException)
        {
            return null;
        }
    }

    private async Task Ends(string saying, int port)
    {
        var (exit, says) = await ServerProcess.Ends(_server.Data, port);
        Assert.Equal(1, exit);
        Assert.Contains(saying, says, StringComparison.Ordinal);
        Assert.Single(says.Split('\n', StringSplitOptions.RemoveEmptyEntries));
    }

    private async Task<int> Root(string table)
    {
        await using var connection = new SqliteConnection($"Data Source={File};Pooling=False");
        connection.Open();
        await using var command = connection.CreateCommand();
        command.CommandText = "select rootpage from sqlite_master where name = @name";
        command.Parameters.AddWithValue("@name", table);
        return (int)(long)(await command.ExecuteScalarAsync())!;
    }

    private async Task Execute(string sql)
    {
        await using var connection = new SqliteConnection($"Data Source={File};Pooling=False");
        connection.Open();
        await using var command = connection.CreateCommand();
#pragma warning disable CA2100 // From this test alone.
        command.CommandText = sql;
#pragma warning restore CA2100
        await command.ExecuteNonQueryAsync();
    }
}
