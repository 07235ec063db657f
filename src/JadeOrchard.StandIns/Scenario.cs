using System.Collections.Immutable;
using System.Text.Json;

namespace JadeOrchard.StandIns;

/// <summary>The invented world of the demo, as it is written down; demo/scenario.json says what each field means.</summary>
public sealed record Scenario(
    int Seed,
    ScenarioSite Site,
    DateOnly CapturedOn,
    IReadOnlyList<string> Rivals,
    IReadOnlyList<string> Everywhere,
    IReadOnlyDictionary<string, ScenarioKind> Kinds,
    IReadOnlyList<ScenarioTopic> Topics,
    IReadOnlyDictionary<string, string> OtherPages,
    IReadOnlyList<IReadOnlyList<string>> Twins,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Guises,
    ScenarioVersions Versions,
    IReadOnlyList<string> SiteNamed,
    IReadOnlyList<string> Orphans,
    IReadOnlyList<string> FurtherQuestions)
{
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        ReadCommentHandling = JsonCommentHandling.Skip,
        RespectNullableAnnotations = true,
    };

    /// <summary>For each topic what is so of it, from the file facts.json beside the scenario.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<ScenarioFact>> Facts { get; init; } = ImmutableDictionary<string, IReadOnlyList<ScenarioFact>>.Empty;

    /// <summary>For each kind and pattern of keywords how pages speak of it, from the file phrasing.json beside the scenario.</summary>
    public IReadOnlyDictionary<string, IReadOnlyDictionary<string, IReadOnlyList<string>>> Phrasing { get; init; } = ImmutableDictionary<string, IReadOnlyDictionary<string, IReadOnlyList<string>>>.Empty;

    /// <summary>How pages speak of further names of the same thing.</summary>
    public IReadOnlyList<string> Also { get; init; } = [];

    /// <exception cref="JsonException">The file is no scenario, or one of those beside it is none.</exception>
    public static Scenario Read(string path)
    {
        T Beside<T>(string name) => JsonSerializer.Deserialize<T>(File.ReadAllText(Path.Combine(Path.GetDirectoryName(Path.GetFullPath(path))!, name)), Options) ?? throw new JsonException($"{name} is empty.");
        var facts = Beside<Dictionary<string, JsonElement[][]>>("facts.json");
        var phrasing = Beside<Dictionary<string, JsonElement>>("phrasing.json");
        return (JsonSerializer.Deserialize<Scenario>(File.ReadAllText(path), Options) ?? throw new JsonException("The scenario is empty.")) with
        {
            Facts = facts.ToDictionary(f => f.Key, f => (IReadOnlyList<ScenarioFact>)[.. f.Value.Select(v => new ScenarioFact(v[0].GetString()!, v[1].GetString()!, [.. v[2].EnumerateArray().Select(s => s.GetString()!)], v.Length > 3 ? v[3].GetString() : null))], StringComparer.Ordinal),
            Phrasing = phrasing.Where(k => k.Value.ValueKind == JsonValueKind.Object).ToDictionary(k => k.Key, k => (IReadOnlyDictionary<string, IReadOnlyList<string>>)k.Value.Deserialize<Dictionary<string, IReadOnlyList<string>>>(Options)!, StringComparer.Ordinal),
            Also = phrasing["also"].Deserialize<List<string>>(Options)!,
        };
    }
}

/// <summary>Something that is so of a topic.</summary>
/// <param name="Term">The words that those who know the subject use.</param>
/// <param name="Heading">Under which it is explained.</param>
/// <param name="Sentences">Each has the term.</param>
/// <param name="Question">That they answer; null for none.</param>
public sealed record ScenarioFact(string Term, string Heading, IReadOnlyList<string> Sentences, string? Question = null);

/// <summary>The project's own site and its market.</summary>
public sealed record ScenarioSite(string Name, string Host, string Country, string Language);

/// <summary>Pages of the site in another language.</summary>
/// <param name="Language">Two letters, ISO 639-1.</param>
public sealed record ScenarioVersions(string Language, IReadOnlyList<ScenarioVersion> Pages);

/// <summary>A page in another language.</summary>
/// <param name="Of">The path of the page of which it is the version.</param>
public sealed record ScenarioVersion(string Path, string Of, string Title, string Text);

/// <summary>How clusters of one kind are searched for and written about.</summary>
/// <param name="Intent">What the searcher is after.</param>
/// <param name="Patterns">Keywords: {0} is what the cluster is about, {1} what it is compared with.</param>
/// <param name="Titles">Rivals' titles; {many} is the plural of {0}, {rival} the rival's name.</param>
/// <param name="Paths">Rivals' paths.</param>
public sealed record ScenarioKind(
    string Intent, IReadOnlyList<string> Patterns, IReadOnlyList<string> Titles, IReadOnlyList<string> Paths);

/// <summary>Clusters about one thing.</summary>
/// <param name="Season">How much more it is searched for in the middle of its season than in the mean of the year: 0.45 is 45 % more, and as much less half a year later.</param>
/// <param name="SeasonMonth">The month in the middle of its season, 1 to 12.</param>
public sealed record ScenarioTopic(string Name, IReadOnlyList<ScenarioCluster> Clusters, double Season = 0.45, int SeasonMonth = 7);

/// <summary>One cluster with the trouble or the decoy that is planted in it.</summary>
public sealed record ScenarioCluster(
    string Kind,
    string About,
    long Volume,
    string? Versus = null,
    IReadOnlyList<string>? Also = null,
    string? Page = null,
    string? Title = null,
    bool Stands = true,
    SecondPage? Second = null,
    string? Supports = null,
    NearCluster? Near = null,
    string? Deep = null,
    bool Brand = false,
    string? Decoy = null,
    string? MappedTo = null,
    string? Unlinked = null);

/// <summary>Another page of the site in a cluster's way.</summary>
/// <param name="Page">Its path.</param>
/// <param name="Title">Its title.</param>
/// <param name="Plants">The kind of finding that it causes.</param>
public sealed record SecondPage(string Page, string Title, string Plants);

/// <summary>A cluster with which results are shared.</summary>
/// <param name="About">What the other cluster is about.</param>
/// <param name="Share">"target" for the minimum overlap or more, "little" for less.</param>
public sealed record NearCluster(string About, string Share);
