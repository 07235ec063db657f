using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.StandIns;

/// <summary>What the generator makes of a scenario.</summary>
/// <param name="Results">The newest capture of each keyword.</param>
/// <param name="Earlier">A capture a month before that, of some keywords.</param>
/// <param name="Corpus">Every page of every site.</param>
/// <param name="Subjects">What pages are about: the clusters, in order.</param>
/// <param name="Standings">Where the site's own pages stand, as search performance sees it.</param>
/// <param name="Unlinked">Links that should be there and are not, from and to a page.</param>
/// <param name="Mapped">Clusters that the planner gave a page which no result speaks for, by their head keyword: one that is about something else, or stands nowhere yet.</param>
public sealed record GeneratedWorld(
    IReadOnlyList<Keyword> Keywords,
    IReadOnlyList<GeneratedResult> Results,
    IReadOnlyList<GeneratedResult> Earlier,
    IReadOnlyList<SitePage> Pages,
    IReadOnlyList<PlantedFact> Truth,
    IReadOnlyList<WorldPage> Corpus,
    IReadOnlyList<WorldSubject> Subjects,
    IReadOnlyList<OwnStanding> Standings,
    IReadOnlySet<(string From, string To)> Unlinked,
    IReadOnlyDictionary<string, string> Mapped);

/// <summary>A page of the invented world.</summary>
/// <param name="Subject">Index of what it is about; -1 where it is about paddling in general.</param>
/// <param name="Authority">How well it ranks among pages that fit as well, 0 to about 1.</param>
/// <param name="Own">What is known of it where it is a page of the project's own site.</param>
public sealed record WorldPage(string Url, string Title, int Subject, double Authority, SitePage? Own = null)
{
    /// <summary>Further subjects that it has a part about.</summary>
    public List<int> AlsoAbout { get; } = [];

    public string Host => new Uri(Url).Host;

    /// <summary>With its parameters.</summary>
    public string Path => new Uri(Url).PathAndQuery;

    /// <summary>False for a page that search finds under another address or in another market.</summary>
    public bool IsFound { get; init; } = true;

    /// <summary>The page of which it is another guise or another language's version.</summary>
    public WorldPage? Of { get; init; }
}

/// <summary>Something that people search for and write about.</summary>
/// <param name="Topic">Index of its topic.</param>
/// <param name="Phrases">Its keywords, the head first.</param>
public sealed record WorldSubject(int Topic, ScenarioCluster Cluster, IReadOnlyList<string> Phrases);

/// <summary>Where a page of the site ranks for a keyword over time.</summary>
/// <param name="Turn">0 or 1: it stands there in every other spell only, taking turns with another page; null for always.</param>
public sealed record OwnStanding(Keyword Keyword, string Url, int Position, int? Turn)
{
    /// <summary>Days of a turn.</summary>
    public const int Spell = 7;

    /// <summary>True where it is shown on a day.</summary>
    public bool IsShownOn(DateOnly day) => Turn is null || day.DayNumber / Spell % 2 == Turn;
}

/// <summary>One result of one keyword.</summary>
public sealed record GeneratedResult(string Keyword, int Position, string Url, string Title, string Snippet);

/// <summary>Something planted, which findings are scored against.</summary>
/// <param name="Kind">The kind of finding, as files name it.</param>
/// <param name="Phrase">The head keyword of the cluster.</param>
/// <param name="Page">The page that should stand there; empty where none.</param>
/// <param name="OtherPage">The page in its way; empty where none.</param>
/// <param name="IsDecoy">It looks like trouble and is none: raising it is wrong.</param>
/// <param name="Why">In words.</param>
public sealed record PlantedFact(string Kind, string Phrase, string Page, string OtherPage, bool IsDecoy, string Why);
