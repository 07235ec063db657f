using JadeOrchard.Storage;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Tests;

/// <summary>An empty project, made once for all tests of an assembly: making one takes longer than many a test.</summary>
internal static class EmptyProject
{
    private static readonly Lazy<byte[]> Made = new(() =>
    {
        var folder = Directory.CreateTempSubdirectory("jade-empty-").FullName;
        try
        {
            var file = Path.Combine(folder, "project.db");
            using (Database.Open(file))
            {
                // It is written when it is closed.
            }

            return File.ReadAllBytes(file);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    });

    /// <summary>Puts it into a folder.</summary>
    /// <returns>Its file.</returns>
    public static string In(string folder, string name = "project.db")
    {
        var file = Path.Combine(folder, name);
        File.WriteAllBytes(file, Made.Value);
        // Services tell projects apart by it, so as to charge nothing twice.
        using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "update data_state set identity = lower(hex(randomblob(8)))";
        command.ExecuteNonQuery();
        return file;
    }
}
