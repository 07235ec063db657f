using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Writes the files of a command; a file that is there already is replaced when the new one is complete.</summary>
internal static class Output
{
    public static void Write(string path, IReadOnlyList<string> columns, IEnumerable<object?[]> rows)
    {
        var unfinished = path + ".part";
        using (var stream = File.Create(unfinished))
            TableOutput.WriteCsv(stream, columns, rows, forSpreadsheets: false);
        File.Move(unfinished, path, overwrite: true);
    }

    /// <returns>What was rejected, in words; empty where nothing was.</returns>
    public static string Rejects(Inputs inputs, string? path)
    {
        if (path is not null)
        {
            Write(path, ["file", "line", "column", "reason", "value"],
                inputs.Rejected.Select(r => new object?[] { r.File, r.Row.Line, r.Row.Column, r.Row.Reason, r.Row.Value }));
        }

        return inputs.Rejected.Count switch
        {
            0 => "",
            1 => " 1 row rejected.",
            var count => $" {count} rows rejected.",
        };
    }
}
