using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using JadeOrchard.Server.Projects;
using JadeOrchard.Server.Services;
using JadeOrchard.Tests;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace JadeOrchard.Server.Tests;

/// <summary>The real application on a data folder of its own, over HTTP.</summary>
public sealed class Application : IDisposable
{
    private readonly WebApplicationFactory<Program> _factory;
    private readonly bool _keepsData;

    /// <summary>Services are given up on quickly, so that tests of their failures do not wait.</summary>
    private static readonly ServiceTiming Impatient = new(TimeSpan.FromSeconds(1.5), 3, TimeSpan.FromMilliseconds(20), TimeSpan.FromSeconds(5), 4);

    public Application(string? data = null, bool keepsData = false, string? services = null)
    {
        Data = data ?? Directory.CreateTempSubdirectory("jade-server-").FullName;
        Directory.CreateDirectory(Data);
        if (data is null)
            EmptyProject.In(Directory.CreateDirectory(Folder).FullName);
        _keepsData = keepsData;
        _factory = new WebApplicationFactory<Program>().WithWebHostBuilder(host => host
            .UseSetting("data", Data)
            .UseSetting("services", services)
            .ConfigureTestServices(s => s.AddSingleton(Impatient)));
        Http = _factory.CreateClient();
    }

    /// <summary>The folder of all projects.</summary>
    public string Data { get; }

    /// <summary>The folder of the first of them, which requests are about that name none.</summary>
    public string Folder => Path.Combine(Data, "projects", "project");

    public ProjectList Projects => _factory.Services.GetRequiredService<ProjectList>();

    private OpenProject Open
    {
        get
        {
            using var visit = Projects.Enter("project", CancellationToken.None).GetAwaiter().GetResult()!;
            return visit.Open;
        }
    }

    public HttpClient Http { get; }

    /// <summary>Another client of it.</summary>
    public HttpClient Client(bool followsRedirects) => _factory.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = followsRedirects });

    /// <summary>Long writes give way whenever anybody waits, however shortly.</summary>
    public void GiveWayAtOnce() => Open.Services.GetRequiredService<JadeOrchard.Storage.Database>().Piece = TimeSpan.Zero;

    /// <summary>One of the services in the background, to be told to look at once.</summary>
    public T Service<T>() where T : Microsoft.Extensions.Hosting.IHostedService => Open.Services.GetServices<Microsoft.Extensions.Hosting.IHostedService>().OfType<T>().Single();

    /// <summary>Does what the server does as soon as it listens.</summary>
    public void Warm() => Open.Project.Warm();

    public void Dispose()
    {
        Http.Dispose();
        _factory.Dispose();
        if (!_keepsData)
            Directory.Delete(Data, recursive: true);
    }

    public async Task<JsonElement> Get(string path)
    {
        var answer = await Http.GetAsync(path);
        Assert.True(answer.IsSuccessStatusCode, $"{path}: {(int)answer.StatusCode} {await answer.Content.ReadAsStringAsync()}");
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    public async Task<(int Status, JsonElement Body)> Send(HttpMethod method, string path, object? body = null)
    {
        using var request = new HttpRequestMessage(method, path);
        if (body is not null)
            request.Content = JsonContent.Create(body);
        var answer = await Http.SendAsync(request);
        var text = await answer.Content.ReadAsStringAsync();
        return ((int)answer.StatusCode, text.Length == 0 ? default : JsonSerializer.Deserialize<JsonElement>(text));
    }

    public async Task<JsonElement> Upload(string name, string text)
    {
        using var content = new ByteArrayContent(Encoding.UTF8.GetBytes(text));
        content.Headers.ContentType = new("application/octet-stream");
        var answer = await Http.PostAsync($"/api/uploads?fileName={name}", content);
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    /// <summary>Writes past the server, so that it meets what it does not expect.</summary>
    public async Task Sql(string sql)
    {
        await using var connection = new SqliteConnection($"Data Source={Path.Combine(Folder, "project.db")};Pooling=False");
        connection.Open();
        await using var command = connection.CreateCommand();
#pragma warning disable CA2100 // From the tests alone.
        command.CommandText = sql;
#pragma warning restore CA2100
        await command.ExecuteNonQueryAsync();
    }

    /// <returns>The job when it has ended.</returns>
    public async Task<JsonElement> Import(string kind, string text) => await Ended(await Begin(kind, text));

    /// <returns>The job that imports it.</returns>
    public async Task<JsonElement> Begin(string kind, string text)
    {
        var upload = await Upload(kind + ".csv", text);
        var (status, job) = await Send(HttpMethod.Post, "/api/imports", new
        {
            uploadId = upload.GetProperty("uploadId").GetString(),
            fileName = kind + ".csv",
            kind,
            columns = upload.GetProperty("columns").GetProperty(kind),
        });
        Assert.Equal(202, status);
        return job;
    }

    public async Task<JsonElement> Ended(JsonElement job)
    {
        for (var i = 0; i < 600; i++)
        {
            job = await Get($"/api/jobs/{job.GetProperty("id").GetInt64()}");
            if (job.GetProperty("state").GetString() is "done" or "failed" or "stopped" or "paused")
                return job;
            await Task.Delay(50);
        }

        throw new TimeoutException("The job did not end.");
    }

    public async Task<JsonElement> Regroup(int depth = 10, int minOverlap = 4, string rule = "primary")
    {
        var (status, job) = await Send(HttpMethod.Post, "/api/clusters/regroup", new { depth, minOverlap, rule });
        Assert.Equal(202, status);
        return await Ended(job);
    }

    /// <summary>A small project: two clusters with pages, two pages for one of them, and an uncovered cluster.</summary>
    public async Task BringProject()
    {
        Assert.Equal(204, (await Send(HttpMethod.Put, "/api/project",
            new { name = "Fenwater", host = "fenwater.example", country = "gb", language = "en", brandTerms = Array.Empty<string>() })).Status);
        await Import("pages", """
            url,title,h1
            https://www.fenwater.example/dry-suits,Dry suits for kayaking,Dry suits
            https://www.fenwater.example/guide,Choosing a suit for the water,Choosing
            https://www.fenwater.example/paddles,Kayak paddles,Paddles
            """);
        await Import("keywords", "keyword,volume,difficulty\nkayak dry suit,1000,20\ndry suit for kayaking,600,30\nkayak paddle,900,10\nkayak paddles,300,10\nhow to roll a kayak,800,5\nnot captured,70,1\n");
        var rows = new StringBuilder("keyword,position,url,title\n");
        Add("kayak dry suit", "a1", "www.fenwater.example/dry-suits", "a2", "a3", "a4", "fenwater.example/guide");
        Add("dry suit for kayaking", "a2", "a1", "www.fenwater.example/dry-suits", "a3", "fenwater.example/guide", "a5");
        Add("kayak paddle", "b1", "b2", "www.fenwater.example/paddles", "b3", "b4");
        Add("kayak paddles", "b2", "b1", "b3", "www.fenwater.example/paddles", "b5");
        Add("how to roll a kayak", "c1", "c2", "c3", "c4", "c5");
        await Import("results", rows.ToString());

        void Add(string keyword, params string[] urls)
        {
            for (var i = 0; i < urls.Length; i++)
                rows.AppendLine(System.Globalization.CultureInfo.InvariantCulture, $"{keyword},{i + 1},https://{(urls[i].Contains('.', StringComparison.Ordinal) ? urls[i] : urls[i] + ".example/")},T");
        }
    }
}
