using JadeOrchard.Server.Projects;
using JadeOrchard.Storage;

namespace JadeOrchard.Server;

/// <summary>The folder of an open project: its file, what was brought and is not imported yet, and backups.</summary>
public sealed class ProjectFolder : IDisposable
{
    /// <summary>Files up to this size are checked before they are opened, which takes well below a second.</summary>
    private const long CheckedAtStart = 64 << 20;

    private ProjectFolder(string path, TimeProvider clock)
    {
        PrivateFiles.MakeFolder(path);
        Path = path;
        File = System.IO.Path.Combine(path, DataFolder.ProjectFileName);
        Database = OpenDatabase(File, clock);
    }

    public string Path { get; }

    /// <summary>The project's file.</summary>
    public string File { get; }

    public Database Database { get; }

    /// <returns>What is wrong with a file that was too large to be checked before it was opened; null where nothing is. Takes some ten seconds a gigabyte.</returns>
    public string? FaultOfLargeFile() => new FileInfo(File).Length > CheckedAtStart ? DatabaseCheck.Fault(File) : null;

    /// <summary>Opens the project of a folder, and makes both where they are missing. One of an older shape is backed up before it is brought to the newest.</summary>
    /// <exception cref="StartException">It cannot be used; the message says why.</exception>
    public static ProjectFolder Open(string path, TimeProvider clock)
    {
        try
        {
            return new ProjectFolder(path, clock);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new StartException(DatabaseFault.Says(e) is { } fault ? $"{path}: {fault}" : $"The project in {path} cannot be opened: {e.Message}");
        }
    }

    private static Database OpenDatabase(string file, TimeProvider clock)
    {
        try
        {
            // What SQLite makes beside it gets the mode of the file itself.
            PrivateFiles.Open(file, FileMode.OpenOrCreate).Dispose();
            foreach (var beside in new[] { file + "-wal", file + "-shm" }.Where(System.IO.File.Exists))
                PrivateFiles.Open(beside, FileMode.Open).Dispose();
            var size = new FileInfo(file).Length;
            if (size is > 0 and <= CheckedAtStart && DatabaseCheck.Fault(file) is { } damage)
                throw new StartException($"{file}: {damage}");
            if (size > 0 && ProjectFile.Facts(file) is { } facts && facts.Shape < ProjectFile.NewestShape)
                Backups.Make(file, BackupKind.Upgrade, clock.GetUtcNow());
            return Database.Open(file);
        }
        catch (Exception e) when (e is not (IOException or UnauthorizedAccessException) && DatabaseFault.Says(e) is { } fault)
        {
            throw new StartException($"{file}: {fault}{(DatabaseFault.IsDamage(e) ? " " + DatabaseCheck.Readable(file) : "")}");
        }
    }

    public void Dispose() => Database.Dispose();
}
