using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using JadeOrchard.Storage;

namespace JadeOrchard.Server.Tests;

/// <summary>
/// Requests made up from the interface's own description, mostly of the right shape and mostly senseless: each is answered, an error is a problem
/// with its type (RFC 9457), and whatever they did can be undone.
/// </summary>
public sealed class AnyRequestTests : IDisposable
{
    private const int Requests = 1_000;
    private const int LongText = 5_000;

    /// <summary>They ask the outside world, of which other tests tell.</summary>
    private static readonly string[] LeftOut = ["post /api/scans", "post /api/topics/{id}/read", "post /api/undo", "post /api/redo"];

    private static readonly string[] Texts =
        ["kayak dry suit", "kayak", "search", "gb", "/new-page", "", " ", "volume", "demand", "name", "no-page:1", "rivals-in-results:1:1:2", "absent:3", "https://www.fenwater.example/guide", "fenwater.example", "../../etc", "%", "_", "'; drop table page; --", "\"", "\ud83d\udef6", "\u0000", "=1+1", "a\nb", "ß", "\ud800"];

    private static readonly string[] Numbers = ["0", "1", "2", "3", "5", "10", "50", "-1", "100000", "2147483647", "9223372036854775807", "1e400", "x", "1.5"];

    private readonly Application _app = new();
    private string[] _keys = [];
    private readonly JsonNode _description = JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "api.json")))!;

    public void Dispose() => _app.Dispose();

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public async Task IsAnsweredOrRefusedInWords(int seed)
    {
        await _app.BringProject();
        await _app.Regroup();
        _keys = [.. Rows(await _app.Get("/api/findings?limit=50")).Select(f => Text(f, "key"))];
        var random = new Random(seed);
        var operations = _description["paths"]!.AsObject()
            .SelectMany(p => p.Value!.AsObject().Select(o => (Path: p.Key, Method: o.Key, Operation: o.Value!)))
            .Where(o => !LeftOut.Contains($"{o.Method} {o.Path}"))
            .ToList();
        var accepted = new HashSet<string>(StringComparer.Ordinal);
        for (var i = 0; i < Requests; i++)
        {
            var (path, method, operation) = operations[i < operations.Count ? i : random.Next(operations.Count)];
            // Without keywords there is little left to ask for.
            if (path == "/api/keywords/remove" && i < Requests - 50)
                continue;
            using var request = Made(path, method, operation, random, out var says);
            using var tooLong = new CancellationTokenSource(TimeSpan.FromSeconds(30));
            using var answer = await _app.Http.SendAsync(request, tooLong.Token);
            var text = await answer.Content.ReadAsStringAsync();
            Assert.True((int)answer.StatusCode < 500, $"{says}\n{(int)answer.StatusCode} {text}");
            if (answer.IsSuccessStatusCode)
                accepted.Add($"{method} {path}");
            else
            {
                Assert.True(answer.Content.Headers.ContentType?.MediaType == "application/problem+json", $"{says}\n{(int)answer.StatusCode} {answer.Content.Headers.ContentType} {text}");
                var problem = JsonSerializer.Deserialize<JsonElement>(text);
                Assert.True(Text(problem, "type").StartsWith("/problems/", StringComparison.Ordinal) && Text(problem, "title").Length > 0 && Text(problem, "detail").Length > 0, $"{says}\n{text}");
                Assert.DoesNotContain("   at ", text, StringComparison.Ordinal);
            }
        }

        // Most of what is asked in the right shape is done.
        Assert.True(accepted.Count > operations.Count / 2, $"{accepted.Count} of {operations.Count}: {string.Join(", ", accepted)}");
        foreach (var job in (await _app.Get("/api/jobs/active")).EnumerateArray())
            await _app.Ended(job);
        foreach (var list in new[] { "keywords", "pages", "clusters", "topics", "findings", "plan" })
            await _app.Get("/api/" + list);

        // What is undone and redone is as it was.
        var after = await State();
        var steps = 0;
        while (await Replay("undo") is not null)
            steps++;
        Assert.InRange(steps, 10, UndoBounds.MostSteps);
        for (; steps > 0; steps--)
            Assert.NotNull(await Replay("redo"));
        Assert.Null(await Replay("redo"));
        Assert.Equal(after, await State());
    }

    /// <returns>What was undone or redone; null where there was nothing.</returns>
    private async Task<string?> Replay(string way)
    {
        var (status, body) = await _app.Send(HttpMethod.Post, "/api/" + way);
        Assert.Equal(200, status);
        return body.GetProperty("label").GetString();
    }

    /// <summary>What the planner has: keywords, clusters with their pages and members, states of findings.</summary>
    private async Task<string> State()
    {
        var clusters = Rows(await _app.Get("/api/clusters?limit=500&sort=primary"));
        var keywords = Rows(await _app.Get("/api/keywords?limit=500&sort=phrase"));
        var findings = Rows(await _app.Get("/api/findings?limit=500&anyState=true"));
        return string.Join(
            '\n',
            keywords.Select(k => $"{Text(k, "phrase")} {k.GetProperty("volume")} {k.GetProperty("clusterName").GetString()}")
                .Concat(clusters.Select(c => $"{Text(c, "name")} {c.GetProperty("size")} {c.GetProperty("pageUrl").GetString()} {c.GetProperty("declined").GetString()} {c.GetProperty("isLocked")}"))
                .Concat(findings.Select(f => $"{Text(f, "key")} {Text(f, "state")} {f.GetProperty("assignee").GetString()}").Order(StringComparer.Ordinal)));
    }

    private HttpRequestMessage Made(string path, string method, JsonNode operation, Random random, out string says)
    {
        var query = new StringBuilder();
        foreach (var parameter in operation["parameters"]?.AsArray() ?? [])
        {
            var (name, isPath) = ((string)parameter!["name"]!, (string)parameter["in"]! == "path");
            if (!isPath && random.Next(4) > 0)
                continue;
            var value = name == "key" && random.Next(3) > 0 ? _keys[random.Next(_keys.Length)] : Value(parameter["schema"]!, random, 0);
            var text = Uri.EscapeDataString(WellFormed(value is JsonValue v && v.TryGetValue<string>(out var s) ? s : value?.ToJsonString() ?? ""));
            // The web server itself refuses a path with a null character.
            if (isPath)
                path = path.Replace($"{{{name}}}", text is "" or "%00" ? "1" : text, StringComparison.Ordinal);
            else
                query.Append(query.Length == 0 ? '?' : '&').Append(name).Append('=').Append(text);
        }

        var request = new HttpRequestMessage(new HttpMethod(method.ToUpperInvariant()), path + query);
        says = $"{method} {path}{query}";
        if (operation["requestBody"]?["content"]?["application/json"]?["schema"] is not { } schema)
            return request;
        var body = random.Next(25) == 0 ? "{\"" : Value(schema, random, 0)?.ToJsonString() ?? "null";
        says += "\n" + body[..Math.Min(1_000, body.Length)];
        request.Content = new StringContent(body, Encoding.UTF8, "application/json");
        return request;
    }

    /// <summary>A value that a schema describes, and now and then one that it does not.</summary>
    private JsonNode? Value(JsonNode schema, Random random, int depth)
    {
        if (depth > 0 && random.Next(60) == 0)
            return random.Next(3) switch { 0 => null, 1 => JsonValue.Create(new string('x', LongText)), _ => new JsonArray() };
        if (schema["$ref"] is { } reference)
            return Value(_description["components"]!["schemas"]![((string)reference!).Split('/')[^1]]!, random, depth + 1);
        if (schema["oneOf"] is JsonArray choices)
            return Value(choices[random.Next(choices.Count)]!, random, depth + 1);
        if (schema["enum"] is JsonArray names)
            return names[random.Next(names.Count)]?.DeepClone();
        List<string> types = schema["type"] is JsonArray several ? [.. several.Select(t => (string)t!)] : [(string?)schema["type"] ?? "object"];
        switch (types[random.Next(types.Count)])
        {
            case "null":
                return null;
            case "boolean":
                return random.Next(2) == 0;
            case "integer" or "number":
                var number = Numbers[random.Next(random.Next(3) > 0 ? 5 : Numbers.Length)];
                return long.TryParse(number, CultureInfo.InvariantCulture, out var whole) ? whole : depth == 0 ? number : 1.5;
            case "array":
                return new JsonArray([.. Enumerable.Range(0, random.Next(4)).Select(_ => Value(schema["items"]!, random, depth + 1))]);
            case "string":
                return WellFormed(Texts[random.Next(Texts.Length)]);
            default:
                var made = new JsonObject();
                foreach (var (name, property) in schema["properties"]?.AsObject() ?? [])
                {
                    if (random.Next(20) > 0)
                        made[name] = Value(property!, random, depth + 1);
                }

                return made;
        }
    }

    /// <summary>Half a surrogate pair cannot be sent.</summary>
    private static string WellFormed(string text) => text.Replace("\ud800", "\ufffd", StringComparison.Ordinal);
}
