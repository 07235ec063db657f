using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using JadeOrchard.Formats.Tables;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Bench;

/// <summary>What benches of the running application over HTTP share.</summary>
internal abstract partial class ServerBench : IDisposable
{
    /// <summary>Times that each measurement is taken.</summary>
    protected const int Runs = 30;

    private readonly bool _isKept;
    private readonly HttpClient _http = new() { Timeout = TimeSpan.FromMinutes(20) };
    private Process? _server;

    /// <param name="folder">Where the project is kept for the next time; null for a new one that is deleted.</param>
    protected ServerBench(string? folder)
    {
        _isKept = folder is not null;
        Folder = folder is null ? Directory.CreateTempSubdirectory("jade-bench-").FullName : Directory.CreateDirectory(folder).FullName;
    }

    protected string Folder { get; }

    public void Dispose()
    {
        Stop();
        _http.Dispose();
        SqliteConnection.ClearAllPools();
        if (!_isKept)
            Directory.Delete(Folder, recursive: true);
    }

    protected double Started { get; private set; }

    protected async Task Start()
    {
        var port = FreePort();
        var clock = Stopwatch.StartNew();
        _server = Process.Start(new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, "JadeOrchard.Server.dll"), "--port", $"{port}", "--data", Path.Combine(Folder, "data")])
        {
            RedirectStandardOutput = true,
            WorkingDirectory = AppContext.BaseDirectory,
            Environment = { ["Logging__LogLevel__JadeOrchard.Server.Project"] = "Debug" },
        })!;
        _server.OutputDataReceived += (_, line) => Took(line.Data);
        _server.BeginOutputReadLine();
        _address = $"http://localhost:{port}/api/";
        while (true)
        {
            try
            {
                await _http.GetAsync(_address + "jobs/active");
                break;
            }
            catch (HttpRequestException)
            {
                await Task.Delay(20);
            }
        }

        Started = clock.Elapsed.TotalMilliseconds;
    }

    private string _address = "";

    /// <summary>How long steps of the chain took since the server started, added up, in milliseconds, as it logs them.</summary>
    protected ConcurrentDictionary<string, double> Steps { get; } = new();

    private void Took(string? line)
    {
        if (line is not null && StepTook().Match(line) is { Success: true } match)
            Steps.AddOrUpdate(match.Groups[1].Value, Milliseconds(match), (_, before) => before + Milliseconds(match));

        static double Milliseconds(Match match) => double.Parse(match.Groups[2].ValueSpan, CultureInfo.InvariantCulture);
    }

    [GeneratedRegex(@"(\w+) took (\d+) ms")]
    private static partial Regex StepTook();

    protected void Stop()
    {
        if (_server is null)
            return;
        _server.Kill();
        _server.WaitForExit();
        _server.Dispose();
        _server = null;
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    protected async Task<JsonNode?> Get(string path) => await Send(HttpMethod.Get, path);

    protected async Task<JsonNode?> TryGet(string path)
    {
        var answer = await _http.GetAsync(_address + path);
        return answer.IsSuccessStatusCode ? await answer.Content.ReadFromJsonAsync<JsonNode>() : null;
    }

    protected async Task<bool> Exists(long cluster) => await TryGet($"clusters/{cluster}") is not null;

    protected async Task<JsonNode?> Send(HttpMethod method, string path, object? body = null)
    {
        using var request = new HttpRequestMessage(method, _address + path);
        if (body is not null)
            request.Content = JsonContent.Create(body);
        var answer = await _http.SendAsync(request);
        var text = await answer.Content.ReadAsStringAsync();
        return answer.IsSuccessStatusCode ? text.Length == 0 ? null : JsonNode.Parse(text) : throw new InvalidOperationException($"{method} {path}: {(int)answer.StatusCode} {text}");
    }

    /// <summary>As Send, where a refusal is an answer too.</summary>
    protected async Task Try(HttpMethod method, string path, object body)
    {
        using var request = new HttpRequestMessage(method, _address + path) { Content = JsonContent.Create(body) };
        await (await _http.SendAsync(request)).Content.ReadAsStringAsync();
    }

    protected async Task<double> Import(string kind)
    {
        using var file = new StreamContent(File.OpenRead(Path.Combine(Folder, kind + ".csv")));
        file.Headers.ContentType = new("application/octet-stream");
        var answer = await _http.PostAsync($"{_address}uploads?fileName={kind}.csv", file);
        var upload = (await answer.Content.ReadFromJsonAsync<JsonNode>())!;
        return await Timed(async () => await Ended(await Send(HttpMethod.Post, "imports", new
        {
            uploadId = upload["uploadId"]!.GetValue<string>(),
            fileName = kind + ".csv",
            kind,
            columns = upload["columns"]![kind],
        })));
    }

    protected async Task Ended(JsonNode? job)
    {
        while (true)
        {
            var now = await Get($"jobs/{job!["id"]}");
            switch (now!["state"]!.GetValue<string>())
            {
                case "done":
                    return;
                case "failed" or "stopped" or "paused":
                    throw new InvalidOperationException(now.ToJsonString());
            }

            await Task.Delay(20);
        }
    }

    protected static async Task<double> Timed(Func<Task> action)
    {
        var clock = Stopwatch.StartNew();
        await action();
        return clock.Elapsed.TotalMilliseconds;
    }

    protected static double Percentile(List<double> times) => times.Order().ElementAt((int)Math.Ceiling(0.95 * times.Count) - 1);

    internal static void Say(string name, double value, double? target) =>
        Console.WriteLine($"{name,-72}{value,10:N0}{(target is { } most ? $"{most,10:N0}{(value > most ? "  missed" : "")}" : "")}");

    protected void Memory(string name, string field, double? target)
    {
        var line = File.ReadLines($"/proc/{_server!.Id}/status").FirstOrDefault(l => l.StartsWith(field, StringComparison.Ordinal));
        if (line is not null)
            Say(name, long.Parse(line.Split(' ', StringSplitOptions.RemoveEmptyEntries)[1], CultureInfo.InvariantCulture) / 1024.0, target);
    }

    protected void Write(string name, string[] columns, IEnumerable<object?[]> rows)
    {
        using var stream = File.Create(Path.Combine(Folder, name));
        TableOutput.WriteCsv(stream, columns, rows, forSpreadsheets: false);
    }
}
