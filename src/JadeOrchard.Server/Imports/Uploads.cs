using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Projects;

namespace JadeOrchard.Server.Imports;

/// <summary>Files that were brought and are not imported yet; they lie beside the database until they are.</summary>
public sealed class Uploads(string folder)
{
    /// <summary>Larger files are refused.</summary>
    public const long MostBytes = 4L << 30;

    private readonly DateTime _started = DateTime.UtcNow;

    /// <returns>The id of the stored file.</returns>
    public async Task<string> SaveAsync(Stream body, CancellationToken stop)
    {
        PrivateFiles.MakeFolder(folder);
        var id = Guid.NewGuid().ToString("N");
        try
        {
            await using var file = PrivateFiles.Open(PathOf(id), FileMode.CreateNew);
            await body.CopyToAsync(file, stop);
            return id;
        }
        catch
        {
            // What did not come in whole would only take room.
            Delete(id);
            throw;
        }
    }

    /// <summary>Deletes what was left by an earlier run of the program, as after a kill.</summary>
    /// <param name="wanted">The files that are still to be imported.</param>
    public void DeleteExcept(IReadOnlyCollection<string> wanted)
    {
        if (!Directory.Exists(folder))
            return;
        foreach (var file in Directory.EnumerateFiles(folder, "*.upload").Where(f => !wanted.Contains(Path.GetFileNameWithoutExtension(f)) && File.GetLastWriteTimeUtc(f) < _started))
            TryDelete(file);
    }

    /// <exception cref="TableFormatException">It is gone, or is no table.</exception>
    public TableFile Open(string id) =>
        Guid.TryParseExact(id, "N", out _) && File.Exists(PathOf(id))
            ? TableFile.Open(PathOf(id))
            : throw new TableFormatException("The file is no longer there. Bring it again.");

    public void Delete(string id) => TryDelete(PathOf(id));

    /// <summary>What cannot be deleted now is deleted at the next start.</summary>
    private static void TryDelete(string file)
    {
        try
        {
            File.Delete(file);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
        }
    }

    private string PathOf(string id) => Path.Combine(folder, id + ".upload");
}
