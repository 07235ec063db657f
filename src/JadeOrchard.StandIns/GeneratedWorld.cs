using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.StandIns;

/// <summary>What the generator makes of a scenario.</summary>
public sealed record GeneratedWorld(
    IReadOnlyList<Keyword> Keywords,
    IReadOnlyList<GeneratedResult> Results,
    IReadOnlyList<SitePage> Pages,
    IReadOnlyList<PlantedFact> Truth);

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
