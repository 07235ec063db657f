using JadeOrchard.Tests;

namespace JadeOrchard.Storage.Tests;

/// <summary>A test with a database of its own, on a real file.</summary>
public abstract class WithDatabase : IDisposable
{
    protected WithDatabase() => Database = Database.Open(EmptyProject.In(Folder));

    protected string Folder { get; } = Directory.CreateTempSubdirectory("jade-storage-").FullName;

    protected Database Database { get; }

    public void Dispose()
    {
        Database.Dispose();
        Directory.Delete(Folder, recursive: true);
        GC.SuppressFinalize(this);
    }
}
