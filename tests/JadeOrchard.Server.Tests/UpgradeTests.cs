using System.IO.Compression;
using System.Text.Json;
using JadeOrchard.Storage;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Server.Tests;

/// <summary>
/// Projects that earlier versions wrote open in this one and give the answers that those gave. The files of Upgrades/ were each made by the last
/// program that wrote their shape, from the same three tables; see the README there.
/// </summary>
public sealed class UpgradeTests : IDisposable
{
    private readonly string _data = Directory.CreateTempSubdirectory("jade-upgrade-").FullName;

    public void Dispose()
    {
        if (Directory.Exists(_data))
            Directory.Delete(_data, recursive: true);
    }

    private static int[] ShapesThere => [.. Directory.GetFiles(SourceTree.Path("tests/JadeOrchard.Server.Tests/Upgrades"), "*.gz").Select(f => int.Parse(Path.GetFileName(f).Split('-', '.')[1], System.Globalization.CultureInfo.InvariantCulture)).Order()];

    public static TheoryData<int> Shapes => [.. ShapesThere];

    [Fact]
    public void EveryEarlierShapeIsThere() => Assert.Equal(Enumerable.Range(1, (int)ProjectFile.NewestShape - 1), ShapesThere);

    [Theory]
    [MemberData(nameof(Shapes))]
    public async Task AProjectOfAnEarlierShapeGivesTheSameAnswers(int shape)
    {
        var file = await Unpack(shape);
        Assert.Equal(shape, ProjectFile.Facts(file)!.Shape);
        var before = Stored.Of(file);
        using var app = new Application(_data);
        app.Warm();
        Assert.Equal(before.Name, Text((await app.Get("/api/project")).GetProperty("project"), "name"));
        Assert.Equal(
            ["dry suit for kayaking 600 30", "drysuit kayak 400 30", "how to roll a kayak 800 5", "kayak dry suit 1000 20", "kayak paddle 900 10", "kayak paddles 300 10", "kayak roll lesson 200 5"],
            Rows(await app.Get("/api/keywords")).Select(k => $"{Text(k, "phrase")} {Number(k, "volume")} {Number(k, "difficulty")}").Order(StringComparer.Ordinal));
        Assert.Equal(before.Clusters, Rows(await app.Get("/api/clusters")).Select(c => $"{Text(c, "name")} {Number(c, "size")} {Number(c, "demand")} {Text(c, "pageUrl")}").Order(StringComparer.Ordinal));
        Assert.Equal(3, before.Clusters.Count);
        Assert.Equal(before.Pages, Rows(await app.Get("/api/pages")).Select(p => Text(p, "url")).Order(StringComparer.Ordinal));
        var suit = Rows(await app.Get("/api/keywords?search=kayak+dry+suit"))[0];
        Assert.Equal(
            ["a1.example/", "www.fenwater.example/dry-suits", "a2.example/", "a3.example/", "a4.example/", "www.fenwater.example/guide"],
            (await app.Get($"/api/keywords/{Id(suit)}/results")).GetProperty("results").EnumerateArray().Select(r => Text(r, "url").Replace("https://", "", StringComparison.Ordinal)));
        // Two pages of the site compete, and one cluster has no page: said with the kinds of today.
        Assert.Contains(Rows(await app.Get("/api/findings?anyState=true")), f => Text(f, "kind") == "conflict" && Text(f, "says").Length > 0);
        // It was backed up as it was, and can be worked on and undone.
        var backup = Assert.Single((await app.Get("/api/projects/project/backups")).EnumerateArray(), b => Text(b, "kind") == "upgrade");
        Assert.Equal(shape, ProjectFile.Facts(Path.Combine(app.Folder, "backups", Text(backup, "name")))!.Shape);
        await app.Send(HttpMethod.Post, "/api/keywords/paste", new { text = "one more" });
        Assert.Equal(200, (await app.Send(HttpMethod.Post, "/api/undo")).Status);
        Assert.Equal(7, Rows(await app.Get("/api/keywords")).Count);
        // A restored backup of before the upgrade is upgraded again.
        var (status, view) = await app.Send(HttpMethod.Post, $"/api/projects/project/backups/{Text(backup, "name")}/restore");
        Assert.True(status == 200, view.ToString());
        Assert.Equal(7, Rows(await app.Get("/api/keywords")).Count);
    }

    /// <summary>The first day's program had another shape under the number 1. Its projects can be brought as a file, too.</summary>
    [Fact]
    public async Task AProjectOfTheFirstDayIsImported()
    {
        var file = await Unpack(1);
        var before = Stored.Of(file);
        using var app = new Application();
        await app.Projects.Listening(CancellationToken.None);
        using var content = new ByteArrayContent(await File.ReadAllBytesAsync(file));
        content.Headers.ContentType = new("application/octet-stream");
        var answer = await app.Http.PostAsync("/api/projects/import", content);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        var path = $"/p/{Text(JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement, "id")}/api";
        Assert.Equal(before.Pages, Rows(await app.Get(path + "/pages")).Select(p => Text(p, "url")).Order(StringComparer.Ordinal));
        // Result lists are of the day on which they were captured, and steps of then are not undone.
        var suit = Rows(await app.Get(path + "/keywords?search=kayak+dry+suit"))[0];
        var list = await app.Get($"{path}/keywords/{Id(suit)}/results");
        Assert.Equal((6, "2026-11-30"), (list.GetProperty("results").GetArrayLength(), Text(list.GetProperty("list"), "capturedOn")));
        Assert.Empty((await app.Get(path + "/history")).EnumerateArray());
        // What phrases tell is computed again, with everything that is derived, as soon as somebody looks.
        var questions = Rows(await app.Get(path + "/keywords?questions=true"));
        for (var tries = 0; questions.Count == 0 && tries < 100; tries++)
        {
            await Task.Delay(100);
            questions = Rows(await app.Get(path + "/keywords?questions=true"));
        }

        Assert.Equal(["how to roll a kayak"], questions.Select(k => Text(k, "phrase")));
        Assert.Equal(2, (await app.Get(path + "/clusters?decided=true")).GetProperty("tally").GetProperty("rows").GetInt32());
    }

    /// <summary>As earlier versions had it: the one project in the data folder itself.</summary>
    private async Task<string> Unpack(int shape)
    {
        var file = Path.Combine(_data, "project.db");
        await using var packed = new GZipStream(File.OpenRead(SourceTree.Path($"tests/JadeOrchard.Server.Tests/Upgrades/shape-{shape:00}.db.gz")), CompressionMode.Decompress);
        await using var target = File.Create(file);
        await packed.CopyToAsync(target);
        return file;
    }

    private static string Number(JsonElement row, string name) => row.GetProperty(name).GetDouble().ToString("0.##", System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>What a file holds, by the tables that every shape has.</summary>
    private static class Stored
    {
        public static (string Name, List<string> Clusters, List<string> Pages) Of(string file)
        {
            using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
            connection.Open();
            return (List("select name from project")[0], List("""
                select coalesce(c.name, k.phrase) || ' ' || count(*) || ' ' || sum(coalesce(m.volume, 0)) || ' ' || coalesce((select p.url from assignment a join page p using (page_id) where a.cluster_id = c.cluster_id), '')
                from cluster c join keyword k on k.keyword_id = c.primary_keyword_id join cluster_member cm on cm.cluster_id = c.cluster_id join keyword m on m.keyword_id = cm.keyword_id
                group by c.cluster_id
                """), List("select url from page"));

            List<string> List(string sql)
            {
                using var command = connection.CreateCommand();
#pragma warning disable CA2100 // From above.
                command.CommandText = sql;
#pragma warning restore CA2100
                using var reader = command.ExecuteReader();
                var rows = new List<string>();
                while (reader.Read())
                    rows.Add(reader.GetString(0));
                rows.Sort(StringComparer.Ordinal);
                return rows;
            }
        }
    }
}
