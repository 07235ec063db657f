using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>What panes say of a list, going anywhere by a few letters, and what an answer says it changed.</summary>
public class ListsAtAGlanceTests
{
    [Theory]
    [InlineData("keywords", "keywords", "")]
    [InlineData("pages", "pages", "")]
    [InlineData("clusters", "clusters", "")]
    [InlineData("page-map", "clusters", "")]
    [InlineData("findings", "findings", "AnyState=true")]
    public async Task AShareOfAListIsWhatItsFilterShows(string summary, string list, string all)
    {
        using var app = await Grouped();
        var rows = (await app.Get($"/api/{list}?{all}")).GetProperty("tally").GetProperty("rows").GetInt64();
        var distributions = (await app.Get($"/api/{summary}/summary")).GetProperty("distributions").EnumerateArray().ToList();
        Assert.NotEmpty(distributions);
        var filtered = 0;
        foreach (var distribution in distributions)
        {
            var title = distribution.GetProperty("title").GetString()!;
            var shares = distribution.GetProperty("shares").EnumerateArray().ToList();
            if (title is not ("Largest folders" or "Suggestions for those to decide" or "Open, by kind" or "Assignee of those to do"))
                Assert.True(rows == shares.Sum(Count), $"{title}: {shares.Sum(Count)} of {rows}");
            foreach (var share in shares)
            {
                var filter = share.GetProperty("filter").EnumerateObject().Select(p => $"{char.ToUpperInvariant(p.Name[0])}{p.Name[1..]}={Uri.EscapeDataString(p.Value.GetString()!)}").ToList();
                if (filter.Count == 0)
                    continue;
                // Findings are asked for by state, and those that are open or accepted where none is asked for.
                if (title == "Open, by kind")
                    filter.Add("State=open");
                var shown = await app.Get($"/api/{list}?{string.Join('&', filter)}");
                Assert.True(Count(share) == shown.GetProperty("tally").GetProperty("rows").GetInt64(), $"{title}: {share} against {shown.GetProperty("tally")}");
                filtered++;
            }
        }

        Assert.True(filtered > 0);

        static long Count(JsonElement share) => share.GetProperty("count").GetInt64();
    }

    [Fact]
    public async Task AnythingIsFoundByAFewLetters()
    {
        using var app = await Grouped();
        var found = (await app.Get("/api/places?search=kayak")).EnumerateArray().ToList();
        Assert.Equal(["cluster", "page", "topic", "keyword"], found.Select(p => p.GetProperty("kind").GetString()).Distinct());
        foreach (var place in found)
        {
            var path = place.GetProperty("kind").GetString() + "s";
            var one = await app.Get($"/api/{path}/{place.GetProperty("id").GetString()}");
            Assert.NotEqual(JsonValueKind.Undefined, one.ValueKind);
        }

        Assert.Empty((await app.Get("/api/places?search=%20")).EnumerateArray());
        Assert.Empty((await app.Get("/api/places?search=100%25_")).EnumerateArray());
    }

    [Fact]
    public async Task AnAnswerSaysWhatItChangedAndTheStepItMade()
    {
        using var app = await Grouped();
        var cluster = (await app.Get("/api/clusters")).GetProperty("rows")[0].GetProperty("id").GetInt64();
        var renamed = await app.Http.PutAsync($"/api/clusters/{cluster}", Json(new { name = "Trockenanzüge" }));
        Assert.True(renamed.IsSuccessStatusCode, await renamed.Content.ReadAsStringAsync());
        var areas = Areas(renamed);
        Assert.Contains("clusters", areas);
        Assert.DoesNotContain("briefs", areas);
        Assert.DoesNotContain("performance", areas);
        var step = Uri.UnescapeDataString(renamed.Headers.GetValues("Jade-Step").Single());
        Assert.Equal((await app.Get("/api/project")).GetProperty("undo").GetString(), step);

        var undone = await app.Http.PostAsync("/api/undo", null);
        Assert.Contains("clusters", Areas(undone));
        Assert.False(undone.Headers.Contains("Jade-Step"));
    }

    [Fact]
    public async Task WhatIsReadOrRefusedChangesNothing()
    {
        using var app = await Grouped();
        Assert.False((await app.Http.GetAsync("/api/clusters")).Headers.Contains("Jade-Changed"));
        var refused = await app.Http.PutAsync("/api/clusters/999", Json(new { name = "x" }));
        Assert.Equal(404, (int)refused.StatusCode);
        Assert.Empty(Areas(refused));
        Assert.False(refused.Headers.Contains("Jade-Step"));
    }

    [Fact]
    public async Task TheDemoGoesIntoAnEmptyProjectOnly()
    {
        using var app = new Application();
        Assert.False((await app.Get("/api/project")).GetProperty("canLoadDemo").GetBoolean());
        Assert.Equal(409, (await app.Send(HttpMethod.Post, "/api/demo")).Status);
    }

    private static async Task<Application> Grouped()
    {
        var app = new Application();
        await app.BringProject();
        await app.Import("pages", "url,title\nhttps://www.fenwater.example/magazine/roll,How to roll\nhttps://www.fenwater.example/magazine/rescue/self,Self rescue\nhttps://www.fenwater.example/magazine,Magazine\n");
        await app.Regroup();
        return app;
    }

    private static StringContent Json(object body) => new(JsonSerializer.Serialize(body), System.Text.Encoding.UTF8, "application/json");

    private static IReadOnlyList<string> Areas(HttpResponseMessage answer) =>
        [.. answer.Headers.GetValues("Jade-Changed").Single().Split(',', StringSplitOptions.RemoveEmptyEntries)];
}
