namespace JadeOrchard.Server.Tests;

/// <summary>Files of the source tree that tests hold against the program.</summary>
internal static class SourceTree
{
    private static readonly string Folder = Find();

    public static string Path(string name) => System.IO.Path.Combine(Folder, name);

    private static string Find()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(System.IO.Path.Combine(folder.FullName, "JadeOrchard.slnx")))
            folder = folder.Parent!;
        return folder.FullName;
    }
}
