using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Clusters from a file: one that jade cluster wrote, or any with the columns cluster and keyword.</summary>
internal static class ClusterFile
{
    /// <param name="path">The file.</param>
    /// <param name="keywords">Gets the keywords as they are written there.</param>
    /// <param name="form">What keywords are compared by; null for how they are written.</param>
    /// <returns>For each keyword its cluster, and the names of the clusters.</returns>
    public static (Dictionary<int, int> ClusterOf, Names Names) Read(string path, Names keywords, Func<string, string>? form = null)
    {
        using var file = DelimitedFile.Open(path);
        int Place(string column) => file.Header.Select(h => h.Trim().ToLowerInvariant()).ToList().IndexOf(column) is var at and >= 0
            ? at
            : throw new TableFormatException($"{path}: there is no column named {column}. The columns are: {string.Join(", ", file.Header)}.");
        var (cluster, keyword) = (Place("cluster"), Place("keyword"));
        var (clusterOf, names) = (new Dictionary<int, int>(), new Names());
        foreach (var (line, row) in file.Rows())
        {
            if (row.Value is not { } fields || fields.Length <= Math.Max(cluster, keyword) || fields[cluster].Length == 0 || fields[keyword].Length == 0)
                throw new TableFormatException($"{path}, line {line}: {row.Rejected?.Reason ?? "a cluster and a keyword are needed."}");
            if (!clusterOf.TryAdd(keywords.IndexOf(form is null ? fields[keyword] : form(fields[keyword])), names.IndexOf(fields[cluster])))
                throw new TableFormatException($"{path}, line {line}: '{fields[keyword]}' is in the file twice; a keyword has one cluster.");
        }

        return (clusterOf, names);
    }

    /// <returns>For each cluster's name the form of its primary, where the file has the column.</returns>
    public static IReadOnlyDictionary<string, string> Primaries(string path, Func<string, string> form)
    {
        var primaries = new Dictionary<string, string>(StringComparer.Ordinal);
        using var file = DelimitedFile.Open(path);
        var columns = file.Header.Select(h => h.Trim().ToLowerInvariant()).ToList();
        var (cluster, primary) = (columns.IndexOf("cluster"), columns.IndexOf("primary"));
        foreach (var (_, row) in primary < 0 ? [] : file.Rows())
        {
            if (row.Value is { } fields && fields.Length > Math.Max(cluster, primary))
                primaries.TryAdd(fields[cluster], form(fields[primary]));
        }

        return primaries;
    }
}
