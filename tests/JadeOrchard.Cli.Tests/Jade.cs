using System.Diagnostics;
using System.Text;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli.Tests;

/// <summary>Runs the real program in a folder of its own.</summary>
public sealed class Jade : IDisposable
{
    public string Folder { get; } = Directory.CreateTempSubdirectory("jade-cli-").FullName;

    public string Path(string name) => System.IO.Path.Combine(Folder, name);

    public string Write(string name, string text)
    {
        File.WriteAllText(Path(name), text);
        return Path(name);
    }

    public string WriteCsv(string name, string[] columns, IEnumerable<object?[]> rows)
    {
        using var stream = File.Create(Path(name));
        TableOutput.WriteCsv(stream, columns, rows, forSpreadsheets: false);
        return Path(name);
    }

    /// <returns>The rows of a CSV file that the program wrote, the header first.</returns>
    public List<string[]> Read(string name)
    {
        using var file = DelimitedFile.Open(Path(name));
        return [[.. file.Header], .. file.Rows().Select(r => r.Row.Value!)];
    }

    public (int Status, string Output, string Error) Run(params string[] arguments) => Given("", arguments);

    /// <summary>Runs it with something on standard input.</summary>
    public (int Status, string Output, string Error) Given(string input, params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet", [System.IO.Path.Combine(AppContext.BaseDirectory, "jade.dll"), .. arguments])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            StandardOutputEncoding = Encoding.UTF8,
            WorkingDirectory = Folder,
        };
        using var process = Process.Start(start)!;
        process.StandardInput.Write(input);
        process.StandardInput.Close();
        var error = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output, error.Result);
    }

    public void Dispose() => Directory.Delete(Folder, recursive: true);
}
