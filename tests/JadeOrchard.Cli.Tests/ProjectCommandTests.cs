using JadeOrchard.Storage;

namespace JadeOrchard.Cli.Tests;

/// <summary>Backups on the command line, on project files of the application.</summary>
public sealed class ProjectCommandTests : IDisposable
{
    private readonly Jade _jade = new();

    public void Dispose() => _jade.Dispose();

    /// <returns>The folder of a project, as it lies in a data folder.</returns>
    private string Project(string name)
    {
        var folder = Directory.CreateDirectory(_jade.Path($"projects/{name}")).FullName;
        Rename(folder, name);
        return folder;
    }

    private static void Rename(string folder, string name)
    {
        using var database = Database.Open(Path.Combine(folder, "project.db"));
        database.Change("a change", session =>
        {
            ProjectStore.Save(session, new ProjectProfile(name, "fenwater.example", "GB", "en", []));
            return 0;
        });
    }

    private static string NameOf(string folder) => ProjectFile.Facts(Path.Combine(folder, "project.db"))!.Name;

    [Fact]
    public void AProjectIsBackedUpRestoredAndThatUndone()
    {
        var folder = Project("first");
        var (status, output, error) = _jade.Run("backup", folder);
        Assert.True(status == 0, error);
        var backup = output.Split(": ")[0];
        Assert.Equal(Path.Combine(folder, "backups"), Path.GetDirectoryName(backup));
        Rename(folder, "second");
        (status, output, error) = _jade.Run("restore", backup, "--to", folder);
        Assert.True(status == 0, error);
        Assert.Equal("first", NameOf(folder));
        var before = output.Trim().TrimEnd('.').Split("before: ")[1];
        Assert.Equal(0, _jade.Run("restore", before, "--to", Path.Combine(folder, "project.db")).Status);
        Assert.Equal("second", NameOf(folder));
    }

    [Fact]
    public void ABackupGoesWhereItIsToldAndBecomesAProjectElsewhere()
    {
        var folder = Project("first");
        Assert.Equal(0, _jade.Run("backup", Path.Combine(folder, "project.db"), "--out", _jade.Path("kept.db")).Status);
        var (status, output, _) = _jade.Run("restore", _jade.Path("kept.db"), "--to", _jade.Path("elsewhere/projects/again"));
        Assert.Equal(0, status);
        Assert.DoesNotContain("before", output, StringComparison.Ordinal);
        Assert.Equal("first", NameOf(_jade.Path("elsewhere/projects/again")));
    }

    [Fact]
    public void ChecksSayWhatIsSoundAndEndWithOneWhereSomethingIsNot()
    {
        var folder = Project("first");
        var (status, output, _) = _jade.Run("check", folder);
        Assert.Equal(0, status);
        Assert.Contains("sound; 0 keywords, 0 result lists", output, StringComparison.Ordinal);
        (status, output, _) = _jade.Run("check", folder, _jade.Write("broken.db", "no database"), _jade.Path("nothing"));
        Assert.Equal(1, status);
        Assert.Equal(3, output.Trim().Split('\n').Length);
        Assert.Contains("broken.db: This is no file of a project.", output, StringComparison.Ordinal);
        Assert.Contains("project.db: There is no project here.", output, StringComparison.Ordinal);
    }

    [Fact]
    public void WhatCannotBeDoneIsSaidAndNothingIsChanged()
    {
        var folder = Project("first");
        Refuses("There is no project at", "backup", _jade.Path("nothing"));
        Refuses("is a folder of projects. Name one of them:", "backup", _jade.Folder);
        Refuses("--out is the project itself.", "backup", folder, "--out", Path.Combine(folder, "project.db"));
        Refuses("There is no file", "restore", _jade.Path("none.db"), "--to", folder);
        Refuses("This is no file of a project.", "restore", _jade.Write("x.db", "x"), "--to", folder);
        Refuses("This is the project itself.", "restore", Path.Combine(folder, "project.db"), "--to", folder);
        Refuses("Name the projects or files to check.", "check");
        Assert.Equal("first", NameOf(folder));
        Assert.False(Directory.Exists(Path.Combine(folder, "backups")));
    }

    /// <summary>A server has the file open, and would go on with what it remembers.</summary>
    [Fact]
    public void NothingIsRestoredUnderARunningServer()
    {
        var folder = Project("first");
        Assert.Equal(0, _jade.Run("backup", folder, "--out", _jade.Path("kept.db")).Status);
        File.WriteAllText(_jade.Path("address"), "http://localhost:5180");
        using (new FileStream(_jade.Path("lock"), FileMode.CreateNew, FileAccess.ReadWrite, FileShare.None))
        {
            Refuses("The project is open, at http://localhost:5180.", "restore", _jade.Path("kept.db"), "--to", folder);
            // Backing up is in nobody's way.
            Assert.Equal(0, _jade.Run("backup", folder).Status);
        }

        Assert.Equal(0, _jade.Run("restore", _jade.Path("kept.db"), "--to", folder).Status);
    }

    private void Refuses(string says, params string[] arguments)
    {
        var (status, output, error) = _jade.Run(arguments);
        Assert.True(status == 2, output);
        Assert.StartsWith("jade: ", error, StringComparison.Ordinal);
        Assert.Contains(says, error, StringComparison.Ordinal);
        Assert.Single(error.Trim().Split('\n'));
    }
}
