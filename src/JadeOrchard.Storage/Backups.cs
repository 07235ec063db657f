using System.Globalization;

namespace JadeOrchard.Storage;

/// <summary>Why a backup was made.</summary>
public enum BackupKind
{
    /// <summary>The project was used that day.</summary>
    Daily,

    /// <summary>Somebody asked for it.</summary>
    Manual,

    /// <summary>A newer Jade Orchard was about to bring the file to its own shape.</summary>
    Upgrade,

    /// <summary>Another backup was about to take the project's place; restoring this one undoes that.</summary>
    Restore,

    /// <summary>A copy of the damaged file that a backup replaced.</summary>
    Damaged,
}

/// <summary>A backup of a project.</summary>
/// <param name="Name">Of its file.</param>
/// <param name="MadeAt">In UTC.</param>
public sealed record Backup(string Name, BackupKind Kind, DateTime MadeAt, long Bytes);

/// <summary>Backups of a project: files of the same shape as its own, in a folder beside it.</summary>
public static class Backups
{
    /// <summary>The newest of each kind that are kept; those made on demand are all kept.</summary>
    public const int Kept = 7;

    private const string TimeFormat = "yyyyMMdd'T'HHmmssfff'Z'";
    private const string Ending = ".db";

    /// <param name="file">The project's file.</param>
    public static string FolderOf(string file) => Path.Combine(Path.GetDirectoryName(Path.GetFullPath(file))!, "backups");

    /// <returns>The backups of a project, newest first.</returns>
    public static IReadOnlyList<Backup> Of(string file)
    {
        var folder = FolderOf(file);
        return Directory.Exists(folder)
            ? [.. new DirectoryInfo(folder).EnumerateFiles("*" + Ending).Select(Read).OfType<Backup>().OrderByDescending(b => b.Name, StringComparer.Ordinal)]
            : [];
    }

    /// <returns>Whether the project was used since its last backup, and none of today is there yet.</returns>
    public static bool IsDue(string file, DateTimeOffset now)
    {
        var backups = Of(file);
        var changed = new[] { file, file + "-wal" }.Where(File.Exists).Select(File.GetLastWriteTimeUtc).DefaultIfEmpty(DateTime.MinValue).Max();
        return changed > DateTime.MinValue
            && backups.All(b => b.Kind != BackupKind.Daily || b.MadeAt.Date < now.UtcDateTime.Date)
            && backups.Where(b => b.Kind != BackupKind.Damaged).All(b => b.MadeAt < changed);
    }

    /// <param name="file">The project's file.</param>
    /// <param name="name">As <see cref="Of"/> tells it.</param>
    /// <returns>Where the backup lies; null where there is none of that name.</returns>
    public static string? PathOf(string file, string name) => Of(file).FirstOrDefault(b => b.Name == name) is { } backup ? Path.Combine(FolderOf(file), backup.Name) : null;

    /// <summary>Makes a backup, whoever uses the project meanwhile, and deletes the oldest of its kind where there are too many.</summary>
    /// <exception cref="Microsoft.Data.Sqlite.SqliteException">The file cannot be read, or the backup not be written.</exception>
    public static Backup Make(string file, BackupKind kind, DateTimeOffset now)
    {
        var path = NewPath(file, kind, now);
        ProjectFile.Copy(file, path);
        Prune(file);
        return Read(new FileInfo(path))!;
    }

    /// <summary>
    /// Puts a backup in the project's place. What was there is kept as a backup itself, so that this can be undone; where it cannot be read any more, as the
    /// files that they are. Nobody may have the project open.
    /// </summary>
    /// <param name="file">The project's file, which may be damaged or missing.</param>
    /// <param name="backup">The file to put there: a backup, wherever it lies.</param>
    /// <param name="now">When.</param>
    /// <returns>What was there before; null where there was nothing.</returns>
    /// <exception cref="InvalidDataException">The backup is no sound project; the message says why. Nothing is changed.</exception>
    public static Backup? Restore(string file, string backup, DateTimeOffset now)
    {
        if (ProjectFile.WhyNot(backup) is { } fault)
            throw new InvalidDataException(fault);
        var fresh = file + ".restored";
        ProjectFile.Copy(backup, fresh);
        try
        {
            ProjectFile.StopJobs(fresh);
            var before = !File.Exists(file) ? null : IsSound(file) ? Make(file, BackupKind.Restore, now) : SetAside(file, now);
            foreach (var beside in Beside(file))
                File.Delete(beside);
            File.Move(fresh, file, overwrite: true);
            return before;
        }
        finally
        {
            File.Delete(fresh);
        }
    }

    private static bool IsSound(string file) => ProjectFile.IsDatabase(file) && DatabaseCheck.Fault(file) is null;

    /// <summary>Keeps a damaged file byte for byte, with its log.</summary>
    private static Backup SetAside(string file, DateTimeOffset now)
    {
        var path = NewPath(file, BackupKind.Damaged, now);
        File.Copy(file, path);
        foreach (var beside in Beside(file))
            File.Copy(beside, path + beside[file.Length..], overwrite: true);
        Prune(file);
        return Read(new FileInfo(path))!;
    }

    private static IEnumerable<string> Beside(string file) => new[] { file + "-wal", file + "-shm", file + "-journal" }.Where(File.Exists);

    private static string NewPath(string file, BackupKind kind, DateTimeOffset now)
    {
        var folder = FolderOf(file);
        if (OperatingSystem.IsWindows())
            Directory.CreateDirectory(folder);
        else
            Directory.CreateDirectory(folder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        string path;
        // Names are in the order of time, whatever the clock does.
        for (var at = now.UtcDateTime; ; at = at.AddMilliseconds(1))
        {
            path = Path.Combine(folder, at.ToString(TimeFormat, CultureInfo.InvariantCulture) + "-" + kind.Stored() + Ending);
            if (!File.Exists(path))
                return path;
        }
    }

    private static void Prune(string file)
    {
        foreach (var old in Of(file).Where(b => b.Kind != BackupKind.Manual).GroupBy(b => b.Kind).SelectMany(kind => kind.Skip(Kept)))
        {
            var path = Path.Combine(FolderOf(file), old.Name);
            foreach (var beside in Beside(path))
                File.Delete(beside);
            File.Delete(path);
        }
    }

    private static Backup? Read(FileInfo file) =>
        Path.GetFileNameWithoutExtension(file.Name).Split('-', 2) is [var time, var kind]
        && DateTime.TryParseExact(time, TimeFormat, CultureInfo.InvariantCulture, DateTimeStyles.AdjustToUniversal | DateTimeStyles.AssumeUniversal, out var at)
        && Enum.GetValues<BackupKind>().FirstOrDefault(k => k.Stored() == kind, (BackupKind)(-1)) is var known && known >= 0
            ? new Backup(file.Name, known, at, file.Length)
            : null;
}
