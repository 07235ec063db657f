using JadeOrchard.Storage;

namespace JadeOrchard.Server;

/// <summary>Why Jade Orchard cannot start, in words.</summary>
public sealed class StartException(string message) : Exception(message);

/// <summary>The folder of a project: open in one server at a time, and private to who started it.</summary>
public sealed class ProjectFolder : IDisposable
{
    private const UnixFileMode Private = UnixFileMode.UserRead | UnixFileMode.UserWrite;
    private const UnixFileMode PrivateFolder = Private | UnixFileMode.UserExecute;

    /// <summary>Files up to this size are checked before they are opened, which takes well below a second.</summary>
    private const long CheckedAtStart = 64 << 20;

    /// <summary>A server takes no longer to close: what it has committed is written already.</summary>
    private const int ClosingMilliseconds = 5_000;

    private readonly FileStream _lock;

    private readonly string _address;
    private readonly string _file;

    private ProjectFolder(string path)
    {
        MakePrivate(path);
        _address = Path.Combine(path, "address");
        _lock = Lock(Path.Combine(path, "lock"));
        try
        {
            _file = Path.Combine(path, "project.db");
            Database = OpenDatabase(_file);
        }
        catch
        {
            _lock.Dispose();
            throw;
        }
    }

    public Database Database { get; }

    /// <summary>Takes the lock; where a server is just closing, which takes its address away first, waits for it.</summary>
    private FileStream Lock(string file)
    {
        for (var since = Environment.TickCount64; ;)
        {
            try
            {
                return OpenPrivate(file, FileMode.OpenOrCreate);
            }
            catch (IOException) when (!File.Exists(_address) && Environment.TickCount64 - since < ClosingMilliseconds)
            {
                Thread.Sleep(50);
            }
        }
    }

    /// <returns>What is wrong with a file that was too large to be checked before it was opened; null where nothing is. Takes some ten seconds a gigabyte.</returns>
    public string? FaultOfLargeFile() => new FileInfo(_file).Length > CheckedAtStart ? DatabaseCheck.Fault(_file) : null;

    /// <summary>Opens the project of a folder, and makes both where they are missing.</summary>
    /// <exception cref="StartException">Another server has it, or it cannot be used.</exception>
    public static ProjectFolder Open(string path)
    {
        try
        {
            return new ProjectFolder(path);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            var address = Path.Combine(path, "address");
            throw new StartException(
                DatabaseFault.Says(e) is { } fault ? $"{path}: {fault}"
                : File.Exists(address) ? $"The project in {path} is open already, at {File.ReadAllText(address).Trim()}. Use that, or stop it first."
                : $"The project in {path} cannot be opened: {e.Message}");
        }
    }

    private static Database OpenDatabase(string file)
    {
        try
        {
            // What SQLite makes beside it gets the mode of the file itself.
            OpenPrivate(file, FileMode.OpenOrCreate).Dispose();
            foreach (var beside in new[] { file + "-wal", file + "-shm" }.Where(File.Exists))
                OpenPrivate(beside, FileMode.Open).Dispose();
            if (new FileInfo(file).Length is > 0 and <= CheckedAtStart && DatabaseCheck.Fault(file) is { } damage)
                throw new StartException($"{file}: {damage}");
            return Database.Open(file);
        }
        catch (Exception e) when (e is not (IOException or UnauthorizedAccessException) && DatabaseFault.Says(e) is { } fault)
        {
            throw new StartException($"{file}: {fault}{(DatabaseFault.IsDamage(e) ? " " + DatabaseCheck.Readable(file) : "")}");
        }
    }

    /// <summary>Says where the project is reached, for a second start on the same folder.</summary>
    public void Publish(string address)
    {
        try
        {
            using var file = OpenPrivate(_address, FileMode.Create);
            file.Write(System.Text.Encoding.UTF8.GetBytes(address));
        }
        catch (IOException)
        {
            // The lock alone does it.
        }
    }

    public void Dispose()
    {
        File.Delete(_address);
        Database.Dispose();
        _lock.Dispose();
    }

    /// <summary>Opens a file for itself alone, which only its user can read, and makes it so where it is not.</summary>
    public static FileStream OpenPrivate(string file, FileMode mode)
    {
        var options = new FileStreamOptions { Mode = mode, Access = FileAccess.ReadWrite, Share = FileShare.None };
        if (OperatingSystem.IsWindows())
            return new FileStream(file, options);
        if (File.Exists(file))
            File.SetUnixFileMode(file, Private);
        else
            options.UnixCreateMode = Private;
        return new FileStream(file, options);
    }

    /// <summary>Makes a folder that only its user can look into.</summary>
    public static void MakePrivate(string path)
    {
        if (OperatingSystem.IsWindows())
            Directory.CreateDirectory(path);
        else if (Directory.Exists(path))
            File.SetUnixFileMode(path, PrivateFolder);
        else
            Directory.CreateDirectory(path, PrivateFolder);
    }
}
