using System.Diagnostics;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text;
using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>The program as a process of its own, on a folder of its own.</summary>
public sealed class ServerProcess : IDisposable
{
    private readonly HttpClient _http = new();
    private Process? _process;

    public string Data { get; } = Directory.CreateTempSubdirectory("jade-process-").FullName;

    /// <summary>The folder of the first project.</summary>
    public string Folder => Path.Combine(Data, "projects", "project");

    public int Port { get; } = FreePort();

    public void Dispose()
    {
        Kill();
        _http.Dispose();
        Directory.Delete(Data, recursive: true);
    }

    /// <summary>Starts it where it is not to run: it must end by itself.</summary>
    /// <returns>Its exit code, and all that it said.</returns>
    public static async Task<(int Exit, string Says)> Ends(string data, int port)
    {
        using var process = Process.Start(Info(data, port))!;
        var says = Task.WhenAll(process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        try
        {
            await process.WaitForExitAsync(patience.Token);
        }
        finally
        {
            process.Kill();
        }

        return (process.ExitCode, string.Concat(await says));
    }

    /// <param name="asks">What it answers when it has started.</param>
    public async Task Start(string asks = "project")
    {
        _process = Process.Start(Info(Data, Port))!;
        _process.OutputDataReceived += (_, _) => { };
        _process.BeginOutputReadLine();
        _process.BeginErrorReadLine();
        for (var i = 0; i < 300; i++)
        {
            try
            {
                using var answer = await _http.GetAsync(Url(asks));
                if (answer.IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException)
            {
            }

            await Task.Delay(100);
        }

        throw new TimeoutException("The server did not start.");
    }

    public void Kill()
    {
        _process?.Kill();
        _process?.WaitForExit();
        _process?.Dispose();
        _process = null;
    }

    private string Url(string path) => $"http://localhost:{Port}/api/{path}";

    public Task<JsonElement> Get(string path) => _http.GetFromJsonAsync<JsonElement>(Url(path));

    public async Task<(int Status, JsonElement Body)> Answer(string path)
    {
        var answer = await _http.GetAsync(Url(path));
        return ((int)answer.StatusCode, await answer.Content.ReadFromJsonAsync<JsonElement>());
    }

    public async Task Put(string path, object body) => (await _http.PutAsJsonAsync(Url(path), body)).EnsureSuccessStatusCode();

    public async Task<JsonElement> Post(string path, object body)
    {
        var answer = await _http.PostAsJsonAsync(Url(path), body);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    /// <summary>Kills the server while a job runs, or after it has where it is quicker, and starts it again.</summary>
    public async Task KilledAfter(JsonElement job, int milliseconds)
    {
        await Running(job);
        await Task.Delay(milliseconds);
        Kill();
        await Start();
    }

    public async Task<string> Running(JsonElement job)
    {
        for (var i = 0; i < 600; i++)
        {
            if (Answers.Text(await Get($"jobs/{job.GetProperty("id").GetInt64()}"), "state") is var state and not "waiting")
                return state;
            await Task.Delay(5);
        }

        throw new TimeoutException("The job did not begin.");
    }

    /// <returns>The job of the import.</returns>
    public async Task<JsonElement> Import(string kind, string rows)
    {
        using var content = new ByteArrayContent(Encoding.UTF8.GetBytes(rows));
        content.Headers.ContentType = new("application/octet-stream");
        var upload = await (await _http.PostAsync(Url($"uploads?fileName={kind}.csv"), content)).Content.ReadFromJsonAsync<JsonElement>();
        return await Post("imports", new { uploadId = upload.GetProperty("uploadId").GetString(), fileName = $"{kind}.csv", kind, columns = upload.GetProperty("columns").GetProperty(kind) });
    }

    public async Task<JsonElement> Ended(JsonElement job)
    {
        for (var i = 0; i < 1_200; i++)
        {
            job = await Get($"jobs/{job.GetProperty("id").GetInt64()}");
            if (job.GetProperty("state").GetString() is "done" or "failed" or "stopped" or "paused")
                return job;
            await Task.Delay(50);
        }

        throw new TimeoutException("The job did not end.");
    }

    public static int FreePort()
    {
        using var listener = new TcpListener(System.Net.IPAddress.Loopback, 0);
        listener.Start();
        return ((System.Net.IPEndPoint)listener.LocalEndpoint).Port;
    }

    private static ProcessStartInfo Info(string data, int port) =>
        new("dotnet", [typeof(Program).Assembly.Location, "--port", $"{port}", "--data", data]) { RedirectStandardOutput = true, RedirectStandardError = true };
}
