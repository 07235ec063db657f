using System.Globalization;

namespace JadeOrchard.Server.Projects;

/// <summary>Why Jade Orchard cannot start, or a project cannot be opened, in words.</summary>
public sealed class StartException(string message) : Exception(message);

/// <summary>The folder in which the projects lie, each in a folder of its own: open in one server at a time, and private to who started it.</summary>
/// <remarks>Projects that are worked on are in "projects", those put away in "archived", and those deleted in "trash", with the time of that in their name.</remarks>
public sealed class DataFolder : IDisposable
{
    /// <summary>The file of a project, in its folder.</summary>
    public const string ProjectFileName = "project.db";

    /// <summary>A server takes no longer to close: what it has committed is written already.</summary>
    private const int ClosingMilliseconds = 5_000;

    private readonly FileStream _lock;
    private readonly string _path;
    private readonly string _address;

    private DataFolder(string path)
    {
        PrivateFiles.MakeFolder(path);
        _path = path;
        _address = Path.Combine(path, "address");
        _lock = Lock(Path.Combine(path, "lock"));
        foreach (var folder in new[] { Active, Archived, Trash })
            PrivateFiles.MakeFolder(folder);
        TakeInOneProject();
    }

    public string Active => Path.Combine(_path, "projects");

    public string Archived => Path.Combine(_path, "archived");

    public string Trash => Path.Combine(_path, "trash");

    /// <summary>Opens a data folder, and makes it where it is missing.</summary>
    /// <exception cref="StartException">Another server has it, or it cannot be used.</exception>
    public static DataFolder Open(string path)
    {
        try
        {
            return new DataFolder(path);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            var address = Path.Combine(path, "address");
            throw new StartException(
                Storage.DatabaseFault.Says(e) is { } fault ? $"{path}: {fault}"
                : File.Exists(address) ? $"The projects in {path} are open already, at {File.ReadAllText(address).Trim()}. Use that, or stop it first."
                : $"The projects in {path} cannot be opened: {e.Message}");
        }
    }

    /// <summary>Says where the projects are reached, for a second start on the same folder.</summary>
    public void Publish(string address)
    {
        try
        {
            using var file = PrivateFiles.Open(_address, FileMode.Create);
            file.Write(System.Text.Encoding.UTF8.GetBytes(address));
        }
        catch (IOException)
        {
            // The lock alone does it.
        }
    }

    public void Dispose()
    {
        if (Directory.Exists(_path))
            File.Delete(_address);
        _lock.Dispose();
    }

    /// <summary>Earlier versions had one project, whose file lay in the data folder itself: it moves into a folder of its own.</summary>
    private void TakeInOneProject()
    {
        var file = Path.Combine(_path, ProjectFileName);
        if (!File.Exists(file))
            return;
        var home = Path.Combine(Active, ProjectNames.Free("project", name => Directory.Exists(Path.Combine(Active, name))));
        PrivateFiles.MakeFolder(home);
        if (Directory.Exists(Path.Combine(_path, "uploads")))
            Directory.Move(Path.Combine(_path, "uploads"), Path.Combine(home, "uploads"));
        // The file goes last: a kill in between moves the rest the next time.
        foreach (var name in new[] { ProjectFileName + "-shm", ProjectFileName + "-wal", ProjectFileName }.Where(name => File.Exists(Path.Combine(_path, name))))
            File.Move(Path.Combine(_path, name), Path.Combine(home, name), overwrite: true);
    }

    /// <summary>Takes the lock; where a server is just closing, which takes its address away first, waits for it.</summary>
    private FileStream Lock(string file)
    {
        for (var since = Environment.TickCount64; ;)
        {
            try
            {
                return PrivateFiles.Open(file, FileMode.OpenOrCreate);
            }
            catch (IOException) when (!File.Exists(_address) && Environment.TickCount64 - since < ClosingMilliseconds)
            {
                Thread.Sleep(50);
            }
        }
    }
}

/// <summary>Files and folders that only their user can look into.</summary>
public static class PrivateFiles
{
    private const UnixFileMode Mode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
    private const UnixFileMode FolderMode = Mode | UnixFileMode.UserExecute;

    /// <summary>Opens a file for itself alone, which only its user can read, and makes it so where it is not.</summary>
    public static FileStream Open(string file, FileMode mode)
    {
        var options = new FileStreamOptions { Mode = mode, Access = FileAccess.ReadWrite, Share = FileShare.None };
        if (OperatingSystem.IsWindows())
            return new FileStream(file, options);
        if (File.Exists(file))
            File.SetUnixFileMode(file, Mode);
        else
            options.UnixCreateMode = Mode;
        return new FileStream(file, options);
    }

    public static void MakeFolder(string path)
    {
        if (OperatingSystem.IsWindows())
            Directory.CreateDirectory(path);
        else if (Directory.Exists(path))
            File.SetUnixFileMode(path, FolderMode);
        else
            Directory.CreateDirectory(path, FolderMode);
    }
}

/// <summary>What projects are called in addresses and on disk: small letters, digits and hyphens.</summary>
public static class ProjectNames
{
    private const int Longest = 40;

    /// <returns>Whether it is one, so that no path leads elsewhere.</returns>
    public static bool IsOne(string text) => text.Length is > 0 and <= Longest + 8 && text.All(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c == '-') && text[0] != '-';

    /// <param name="texts">From which it is made: the first that has letters or digits of ASCII, without accents.</param>
    public static string Of(params ReadOnlySpan<string> texts)
    {
        foreach (var text in texts)
        {
            var plain = new string([.. text.Normalize(System.Text.NormalizationForm.FormD).Where(c => CharUnicodeInfo.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark)]).ToLowerInvariant();
            var parts = new string([.. plain.Select(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) ? c : '-')]).Split('-', StringSplitOptions.RemoveEmptyEntries);
            if (parts.Length == 0)
                continue;
            var name = string.Join('-', parts);
            return name.Length <= Longest ? name : name[..Longest].TrimEnd('-');
        }

        return "project";
    }

    /// <returns>The name, or that with a number where it is taken.</returns>
    public static string Free(string name, Func<string, bool> isTaken) =>
        !isTaken(name) ? name : Enumerable.Range(2, int.MaxValue - 2).Select(i => $"{name}-{i.ToString(CultureInfo.InvariantCulture)}").First(n => !isTaken(n));
}
