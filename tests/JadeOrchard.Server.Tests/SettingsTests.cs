using System.Text;

namespace JadeOrchard.Server.Tests;

/// <summary>How keywords and addresses are read, over HTTP: what follows from a change of it, and what is refused.</summary>
public sealed class SettingsTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task AddressesThatDifferByATrackingParameterAreOnePageOnceThatIsDropped()
    {
        await _app.Send(HttpMethod.Put, "/api/project", new { name = "", host = "fenwater.example", country = "GB", language = "en", brandTerms = Array.Empty<string>() });
        var (keywords, results) = (new StringBuilder("keyword,volume\n"), new StringBuilder("keyword,position,url\n"));
        for (var k = 0; k < 30; k++)
        {
            keywords.AppendLine(System.Globalization.CultureInfo.InvariantCulture, $"kayak {k},{100 - k}");
            for (var p = 1; p <= 6; p++)
                results.AppendLine(System.Globalization.CultureInfo.InvariantCulture, $"kayak {k},{p},https://{(p == 3 ? "www.fenwater" : $"s{p}")}.example/kayaks?vid={(k * 100) + p}");
        }

        await _app.Import("keywords", keywords.ToString());
        await _app.Import("results", results.ToString());
        await _app.Regroup();
        Assert.Equal(30, (await _app.Get("/api/clusters")).GetProperty("tally").GetProperty("rows").GetInt32());
        Assert.Equal(30, (await _app.Get("/api/pages")).GetProperty("tally").GetProperty("rows").GetInt32());
        var proposal = Assert.Single((await _app.Get("/api/tracking/proposals")).EnumerateArray());
        Assert.Equal(("vid", 180), (proposal.GetProperty("name").GetString(), proposal.GetProperty("lists").GetInt32()));

        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/tracking", new[] { "vid" })).Status);
        Assert.Equal("https://www.fenwater.example/kayaks", Assert.Single((await _app.Get("/api/pages")).GetProperty("rows").EnumerateArray()).GetProperty("url").GetString());
        await _app.Regroup();
        Assert.Equal(1, (await _app.Get("/api/clusters")).GetProperty("tally").GetProperty("rows").GetInt32());
        Assert.Empty((await _app.Get("/api/tracking/proposals")).EnumerateArray());

        await _app.Send(HttpMethod.Post, "/api/undo");
        await _app.Send(HttpMethod.Post, "/api/undo");
        Assert.Equal(30, (await _app.Get("/api/pages")).GetProperty("tally").GetProperty("rows").GetInt32());
        Assert.Equal(400, (await _app.Send(HttpMethod.Put, "/api/settings/tracking", new[] { "a b" })).Status);
    }

    [Fact]
    public async Task ABrandThatIsTheSubjectCountsOnceItIsConfirmed()
    {
        await _app.BringProject();
        async Task<int> Branded() => (await _app.Get("/api/keywords?ownBrand=true")).GetProperty("tally").GetProperty("rows").GetInt32();
        await _app.Send(HttpMethod.Put, "/api/project", new { name = "", host = "fenwater.example", country = "GB", language = "en", brandTerms = new[] { "kayak", "roll" } });
        Assert.Equal(4, await Branded());
        await _app.Import("pages", "url,title\nhttps://www.fenwater.example/kayaks,Kayaks\nhttps://www.fenwater.example/carts,Kayak carts\n");
        var settings = await _app.Get("/api/settings");
        var subject = Assert.Single(settings.GetProperty("subjectBrands").EnumerateArray());
        Assert.Equal(("kayak", 0.8), (subject.GetProperty("term").GetString(), Math.Round(subject.GetProperty("share").GetDouble(), 2)));
        Assert.Equal(1, await Branded());
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/confirmed-brands", new[] { "Kayak" })).Status);
        Assert.Equal(4, await Branded());
    }

    [Fact]
    public async Task QuestionWordsAndRulesOfIntentAreThoseOfTheLanguageUntilTheyAreEdited()
    {
        await _app.BringProject();
        async Task<int> Questions() => (await _app.Get("/api/keywords?questions=true")).GetProperty("tally").GetProperty("rows").GetInt32();
        Assert.Equal(1, await Questions());
        Assert.False((await _app.Get("/api/settings")).GetProperty("areOwnRules").GetBoolean());
        Assert.Equal(204, (await _app.Send(HttpMethod.Put, "/api/settings/questions", new { last = new[] { "captured" } })).Status);
        Assert.Equal(1, await Questions());
        Assert.Equal("not captured", (await _app.Get("/api/keywords?questions=true")).GetProperty("rows")[0].GetProperty("phrase").GetString());
        Assert.True((await _app.Get("/api/settings")).GetProperty("areOwnRules").GetBoolean());
        Assert.Equal(204, (await _app.Send(HttpMethod.Delete, "/api/settings/intents")).Status);
        Assert.Equal("how to roll a kayak", (await _app.Get("/api/keywords?questions=true")).GetProperty("rows")[0].GetProperty("phrase").GetString());
        await _app.Send(HttpMethod.Put, "/api/project", new { name = "", host = "fenwater.example", country = "DE", language = "de", brandTerms = Array.Empty<string>() });
        Assert.Equal(0, await Questions());
        Assert.Contains("wie", (await _app.Get("/api/settings")).GetProperty("questions").GetProperty("first").EnumerateArray().Select(w => w.GetString()));
    }
}
