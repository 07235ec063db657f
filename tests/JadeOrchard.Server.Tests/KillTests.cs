using System.Diagnostics;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>The program as a process of its own, killed in the middle of its work (SIGKILL, as by kill -9).</summary>
[Collection(nameof(Outside))]
public sealed class KillTests(Outside outside) : IDisposable
{
    private readonly string _data = Directory.CreateTempSubdirectory("jade-kill-").FullName;
    private readonly int _port = FreePort();
    private readonly HttpClient _http = new();
    private Process? _server;

    public void Dispose()
    {
        Kill();
        _http.Dispose();
        Directory.Delete(_data, recursive: true);
    }

    [Fact]
    public async Task AKillInTheMiddleOfACaptureLosesNoListAndAsksForNoneTwice()
    {
        await outside.Tell(null, "none");
        await Start();
        foreach (var service in new[] { "search", "research" })
            await Put($"services/{service}", new { address = outside.Address, key = Outside.Key });
        await Put("project", new { name = "", host = "fenwater.example", country = "GB", language = "en", brandTerms = Array.Empty<string>() });
        await Ended(await Post("keywords/gather", new { from = "ideas", seeds = new[] { "paddle" } }));
        await outside.Tell("search", "slow", milliseconds: 60);
        var before = await outside.Counts("search");

        var job = await Post("captures", new { selection = new { } });
        for (var kills = 0; kills < 3; kills++)
        {
            var done = (await Counts()).Done;
            for (var i = 0; i < 600 && (await Counts()).Done < done + 12; i++)
                await Task.Delay(20);
            var told = (await Counts()).Done;
            Kill();
            await Start();
            // What was told as done before the kill is still done after it.
            Assert.True((await Counts()).Done >= told);
        }

        await outside.Tell("search", "none");
        Assert.Equal("done", (await Ended(job)).GetProperty("state").GetString());
        var (_, captured, total) = await Counts();
        Assert.Equal(total, captured);
        Assert.True(total > 60, $"Only {total} keywords.");
        Assert.Equal(total, (await outside.Counts("search")).Answered - before.Answered);
        var tally = (await Get("keywords?limit=0&capture=captured")).GetProperty("tally");
        Assert.Equal(total, tally.GetProperty("rows").GetInt64());
    }

    private async Task<(long Done, long Captured, long Total)> Counts()
    {
        var counts = (await Get("captures"))[0].GetProperty("counts");
        return (counts.GetProperty("done").GetInt64(), counts.GetProperty("captured").GetInt64(), counts.GetProperty("total").GetInt64());
    }

    private async Task Start()
    {
        var built = typeof(Program).Assembly.Location;
        var info = new ProcessStartInfo("dotnet", [built, "--port", $"{_port}", "--data", _data]) { RedirectStandardOutput = true, RedirectStandardError = true };
        _server = Process.Start(info)!;
        _server.OutputDataReceived += (_, _) => { };
        _server.BeginOutputReadLine();
        _server.BeginErrorReadLine();
        for (var i = 0; i < 300; i++)
        {
            try
            {
                using var answer = await _http.GetAsync(Url("project"));
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

    private void Kill()
    {
        _server?.Kill();
        _server?.WaitForExit();
        _server?.Dispose();
        _server = null;
    }

    private string Url(string path) => $"http://localhost:{_port}/api/{path}";

    private Task<JsonElement> Get(string path) => _http.GetFromJsonAsync<JsonElement>(Url(path));

    private async Task Put(string path, object body) => (await _http.PutAsJsonAsync(Url(path), body)).EnsureSuccessStatusCode();

    private async Task<JsonElement> Post(string path, object body)
    {
        var answer = await _http.PostAsJsonAsync(Url(path), body);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    private async Task<JsonElement> Ended(JsonElement job)
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

    private static int FreePort()
    {
        using var listener = new TcpListener(System.Net.IPAddress.Loopback, 0);
        listener.Start();
        return ((System.Net.IPEndPoint)listener.LocalEndpoint).Port;
    }
}
