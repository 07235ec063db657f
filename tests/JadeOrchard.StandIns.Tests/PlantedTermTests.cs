using System.Globalization;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using Xunit.Abstractions;

namespace JadeOrchard.StandIns.Tests;

/// <summary>Scores the terms that are found in the demo's pages against those that its facts planted.</summary>
public sealed class PlantedTermTests(ITestOutputHelper output)
{
    private const double LeastRecalled = 0.9;

    [Theory]
    [InlineData(null)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void PlantedTermsAreAmongTheFirst(int? seed)
    {
        var scenario = Scenario.Read(Path.Combine(AppContext.BaseDirectory, "scenario.json"));
        var world = Generator.Make(scenario, seed);
        var texts = new CorpusText(scenario, world);
        var pageOf = world.Corpus.ToDictionary(p => p.Url, StringComparer.Ordinal);
        List<WorldPage> pages = [.. world.Results.Select(r => r.Url).Distinct().Where(pageOf.ContainsKey).Select(u => pageOf[u])];
        var read = pages.Select(p => texts.Of(p) is var t ? Core.Briefs.PageText.Of(p.Url, p.Title, [.. t.Sections.Select(s => s.Heading)], t.Body) : null!).ToList();
        var indexOf = pages.Select((p, i) => (p.Url, i)).ToDictionary(p => p.Url, p => p.i, StringComparer.Ordinal);
        var lists = world.Results.ToLookup(r => r.Keyword, r => r.Url);
        var subjects = world.Subjects.Where(s => scenario.Facts.ContainsKey(scenario.Topics[s.Topic].Name) && s.Phrases.Any(p => lists[p].Any())).ToList();
        using var analysis = new TextAnalysis("en");
        var found = new Terms(read, analysis, "en").Of(
            [.. subjects.Select(s => ((IReadOnlyCollection<int>)[.. s.Phrases.SelectMany(p => lists[p]).Distinct().Where(indexOf.ContainsKey).Select(u => indexOf[u])], (IReadOnlyCollection<string>)s.Phrases))], []);
        var (right, planted) = (0, 0);
        for (var i = 0; i < subjects.Count; i++)
        {
            foreach (var fact in scenario.Facts[scenario.Topics[subjects[i].Topic].Name])
            {
                // What people search for anyway is no term beside the keywords.
                var stems = string.Join(' ', analysis.Stems(fact.Term));
                if (subjects[i].Phrases.Any(p => $" {string.Join(' ', analysis.Stems(p))} ".Contains($" {stems} ", StringComparison.Ordinal)))
                    continue;
                planted++;
                right += found[i].Any(t => $" {string.Join(' ', analysis.Stems(t.Text))} ".Contains($" {stems} ", StringComparison.Ordinal)) ? 1 : 0;
            }
        }

        output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"seed {seed?.ToString(CultureInfo.InvariantCulture) ?? "demo"}, planted terms among the first {Terms.UsualTop}: recall {(double)right / planted:0.00} ({planted} planted), precision left out, as a page says more than its facts"));
        Assert.True((double)right / planted >= LeastRecalled, $"{right} of {planted}");
    }
}
