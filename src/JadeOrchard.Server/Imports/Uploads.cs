using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Server.Imports;

/// <summary>Files that were brought and are not imported yet; they lie beside the database until they are.</summary>
public sealed class Uploads(string folder)
{
    /// <summary>Larger files are refused.</summary>
    public const long MostBytes = 4L << 30;

    /// <returns>The id of the stored file.</returns>
    public async Task<string> SaveAsync(Stream body, CancellationToken stop)
    {
        Directory.CreateDirectory(folder);
        var id = Guid.NewGuid().ToString("N");
        await using var file = File.Create(PathOf(id));
        await body.CopyToAsync(file, stop);
        return id;
    }

    /// <exception cref="TableFormatException">It is gone, or is no table.</exception>
    public TableFile Open(string id) =>
        Guid.TryParseExact(id, "N", out _) && File.Exists(PathOf(id))
            ? TableFile.Open(PathOf(id))
            : throw new TableFormatException("The file is no longer there. Bring it again.");

    public void Delete(string id) => File.Delete(PathOf(id));

    private string PathOf(string id) => Path.Combine(folder, id + ".upload");
}
