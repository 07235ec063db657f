using System.Globalization;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Storage;

namespace JadeOrchard.Cli;

/// <summary>Commands on projects as a whole: their backups, and whether their files are sound.</summary>
internal static class ProjectCommands
{
    private const string FileName = "project.db";

    /// <summary>Backs a project up, whoever uses it meanwhile.</summary>
    /// <param name="project">Its folder or its file.</param>
    /// <param name="to">The file to write; null for a new one among the project's backups.</param>
    public static string Backup(string project, string? to)
    {
        var file = FileOf(project);
        if (!File.Exists(file))
            throw new TableFormatException($"There is no project at {project}.");
        if (ProjectFile.WhyNot(file) is { } fault)
            throw new TableFormatException($"{file}: {fault}");
        if (to is null)
            to = Path.Combine(Backups.FolderOf(file), Backups.Make(file, BackupKind.Manual, DateTimeOffset.UtcNow).Name);
        else if (Path.GetFullPath(to) == Path.GetFullPath(file))
            throw new TableFormatException("--out is the project itself.");
        else
            ProjectFile.Copy(file, to);
        return $"{to}: {Size(to)}.";
    }

    /// <summary>Puts a backup in a project's place; what was there is kept as a backup.</summary>
    public static string Restore(string backup, string project)
    {
        if (!File.Exists(backup))
            throw new TableFormatException($"There is no file {backup}.");
        var file = FileOf(project);
        if (Path.GetFullPath(backup) == Path.GetFullPath(file))
            throw new TableFormatException("This is the project itself. Choose one of its backups.");
        if (ServerOf(file) is { } server)
            throw new TableFormatException($"The project is open{server}. Restore the backup in its list of projects, or stop it first.");
        Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(file))!);
        try
        {
            var before = Backups.Restore(file, backup, DateTimeOffset.UtcNow);
            return $"{file} is as it was in {Path.GetFileName(backup)}."
                + (before is null ? "" : $" What was there before: {Path.Combine(Backups.FolderOf(file), before.Name)}{(before.Kind == BackupKind.Damaged ? ", damaged as it was" : "")}.");
        }
        catch (InvalidDataException e)
        {
            throw new TableFormatException($"{backup}: {e.Message}");
        }
    }

    /// <returns>What was found of each file, and whether all are sound.</returns>
    public static (string Says, bool IsSound) Check(IReadOnlyList<string> projects)
    {
        if (projects.Count == 0)
            throw new TableFormatException("Name the projects or files to check.");
        var found = projects.Select(given =>
        {
            var file = FileOf(given);
            var fault = !File.Exists(file) ? "There is no project here." : ProjectFile.WhyNot(file);
            return (Says: $"{file}: {fault ?? $"sound; {DatabaseCheck.Holds(file)}."}", IsSound: fault is null);
        }).ToList();
        return (string.Join('\n', found.Select(f => f.Says)), found.TrueForAll(f => f.IsSound));
    }

    private static string FileOf(string project)
    {
        if (!Directory.Exists(project))
            return Path.HasExtension(project) ? project : Path.Combine(project, FileName);
        var file = Path.Combine(project, FileName);
        var several = Path.Combine(project, "projects");
        return File.Exists(file) || !Directory.Exists(several) ? file
            : throw new TableFormatException($"{project} is a folder of projects. Name one of them: {string.Join(", ", Directory.GetDirectories(several).Order(StringComparer.Ordinal))}.");
    }

    /// <returns>Where the server is reached that has the project's data folder open; null where none has.</returns>
    private static string? ServerOf(string file)
    {
        var data = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(Path.GetFullPath(file))!, "..", ".."));
        var held = Path.Combine(data, "lock");
        if (!File.Exists(held))
            return null;
        try
        {
            new FileStream(held, FileMode.Open, FileAccess.ReadWrite, FileShare.None).Dispose();
            return null;
        }
        catch (IOException)
        {
            var address = Path.Combine(data, "address");
            return File.Exists(address) ? $", at {File.ReadAllText(address).Trim()}" : "";
        }
    }

    private static string Size(string file) => (new FileInfo(file).Length / 1e6).ToString("0.0 MB", CultureInfo.InvariantCulture);
}
