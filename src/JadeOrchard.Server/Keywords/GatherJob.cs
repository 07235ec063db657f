using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Services;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Keywords;

/// <summary>Where keywords are to be gathered from.</summary>
public enum GatherFrom
{
    /// <summary>The research service's ideas for seeds.</summary>
    Ideas,

    /// <summary>Completions of what is typed.</summary>
    Suggestions,

    /// <summary>What a host or a page ranks for.</summary>
    Rankings,

    /// <summary>The site's own search performance.</summary>
    Performance,

    /// <summary>Questions and related searches of captured results.</summary>
    Results,

    /// <summary>Numbers of keywords that are there already.</summary>
    Numbers,
}

/// <summary>What is to be gathered.</summary>
/// <param name="Seeds">Seeds, beginnings, hosts or pages.</param>
/// <param name="Containing">Ideas that contain the seed's words.</param>
/// <param name="Related">Related ideas that do not; with results: related searches.</param>
/// <param name="Alphabet">Beginnings are also completed with each letter behind them.</param>
/// <param name="Questions">Beginnings are also completed with question words before them; with results: what people also ask.</param>
/// <param name="Selection">Which keywords, with results and numbers.</param>
/// <param name="Add">Rankings come into the keywords; else they are only kept for the comparison.</param>
/// <param name="ListId">The list that the keywords also come into; null for none.</param>
public sealed record GatherRequest(
    GatherFrom From, IReadOnlyList<string>? Seeds = null, bool Containing = true, bool Related = false, bool Alphabet = false, bool Questions = false,
    KeywordSelection? Selection = null, bool Add = true, ListId? ListId = null)
{
    public const int MostSeeds = 200;

    [JsonIgnore]
    public IReadOnlyList<string> CleanSeeds => [.. (Seeds ?? []).Select(s => s.Trim()).Where(s => s.Length > 0).Distinct(StringComparer.OrdinalIgnoreCase)];

    /// <returns>What is wrong with it, in words; null where nothing is.</returns>
    public string? Fault() =>
        From is GatherFrom.Ideas or GatherFrom.Suggestions or GatherFrom.Rankings && CleanSeeds.Count == 0 ? "Write at least one, a line each."
        : CleanSeeds.Count > MostSeeds ? $"{CleanSeeds.Count} are too many at once; write at most {MostSeeds}."
        : CleanSeeds.FirstOrDefault(s => s.Length > 200) is { } longSeed ? $"“{longSeed[..40]}…” is too long."
        : From == GatherFrom.Ideas && !Containing && !Related ? "Choose which ideas: those with the words of the seed, related ones, or both."
        : From == GatherFrom.Results && !Questions && !Related ? "Choose what to take: questions, related searches, or both."
        : null;

    /// <summary>What the job is called.</summary>
    [JsonIgnore]
    public string Label => From switch
    {
        GatherFrom.Ideas => $"Ideas for {Named}",
        GatherFrom.Suggestions => $"Suggestions for {Named}",
        GatherFrom.Rankings => $"Rankings of {Named}",
        GatherFrom.Performance => "Search performance",
        GatherFrom.Results => "Questions and related searches of results",
        _ => "Numbers of keywords",
    };

    private string Named => CleanSeeds is { Count: > 0 } seeds ? $"“{seeds[0]}”" + (seeds.Count > 1 ? $" and {seeds.Count - 1} more" : "") : "";
}

/// <summary>Gathers keywords from services and from captured results; what came is one undoable step.</summary>
public sealed class GatherJob(Project project, OutsideServices services) : IJob
{
    public const string Name = "gather";
    private const int PageSize = 500;

    /// <summary>More than this of one seed or host is not fetched.</summary>
    private const int MostOfSeed = 20_000;

    /// <summary>More queries than this are not fetched.</summary>
    private const int MostQueries = 200_000;

    /// <summary>Search performance counts over this many days.</summary>
    private const int PerformanceDays = 90;

    public string Kind => Name;

    public string Stage(JobRow job) => "keywords";

    public string Lane => Name;

    public async Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        var request = JsonSerializer.Deserialize<GatherRequest>(job.Arguments)!;
        var gathering = new Gathering(project, services, request, progress, stop);
        await gathering.Fetch();
        return project.ChangeInJob(request.Label, session => JobStore.Done(session, job.Id, gathering.Save(session), project.Now), stop);
    }

    /// <summary>What one source said.</summary>
    private sealed record Batch(SourceKind Kind, string Label, List<(Keyword Keyword, QueryPerformance? Performance)> Keywords);

    private sealed class Gathering(Project project, OutsideServices services, GatherRequest request, Action<JobProgress> progress, CancellationToken stop)
    {
        private readonly List<Batch> _batches = [];
        private readonly Dictionary<string, List<(Keyword, string, int)>> _rankings = [];
        private readonly ProjectProfile _market = project.Read(ProjectStore.Get);

        private DateOnly Today => DateOnly.FromDateTime(project.Now.UtcDateTime);

        private string Market => $"country={Uri.EscapeDataString(_market.Country)}&language={Uri.EscapeDataString(_market.Language)}";

        public Task Fetch() => request.From switch
        {
            GatherFrom.Ideas => EachSeed("Asking for ideas", Ideas),
            GatherFrom.Suggestions => Suggestions(),
            GatherFrom.Rankings => EachSeed("Reading rankings", Rankings),
            GatherFrom.Performance => Performance(),
            GatherFrom.Results => Results(),
            _ => Numbers(),
        };

        public string Save(WriteSession session)
        {
            foreach (var (host, rows) in _rankings)
                RankingStore.Replace(session, host, rows, project.Now);
            var before = KeywordStore.Count(session);
            var ids = new HashSet<KeywordId>();
            foreach (var batch in _batches.Where(b => b.Keywords.Count > 0))
            {
                var source = SourceStore.Touch(session, batch.Kind, batch.Label, project.Now);
                using var writer = new KeywordStore.Writer(session, source, project.Now);
                foreach (var (keyword, performance) in batch.Keywords)
                    ids.Add(writer.Write(keyword, performance));
                writer.Finish();
            }

            if (request.ListId is { } list && ListStore.Find(session, list) is not null)
                ListStore.Add(session, list, new KeywordSelection([.. ids]));
            var added = KeywordStore.Count(session) - before;
            var read = _rankings.Sum(r => r.Value.Select(v => v.Item1.NormalForm).Distinct().Count());
            return request is { From: GatherFrom.Rankings, Add: false }
                ? $"{Number(read)} keywords for which {(_rankings.Count == 1 ? _rankings.Keys.First() : $"{_rankings.Count} sites")} stand, for the comparison."
                : ids.Count == 0 ? "Nothing came back for that. Try other words." : $"{Number(ids.Count)} keywords, {Number(added)} of them new.";
        }

        private async Task EachSeed(string phase, Func<string, Task> fetch)
        {
            var seeds = request.CleanSeeds;
            for (var i = 0; i < seeds.Count; i++)
            {
                progress(new JobProgress(i, seeds.Count, $"{phase}: {seeds[i]}"));
                await fetch(seeds[i]);
            }
        }

        private async Task Ideas(string seed)
        {
            var batch = Begin(SourceKind.Research, $"ideas for “{seed}”");
            foreach (var kind in new[] { request.Containing ? "containing" : "", request.Related ? "related" : "" }.Where(k => k.Length > 0))
            {
                for (var offset = 0; offset < MostOfSeed; offset += PageSize)
                {
                    var answer = await services.Ask<IdeasAnswer>(
                        ServiceName.Research, $"research/ideas?seed={Uri.EscapeDataString(seed)}&kind={kind}&offset={offset}&limit={PageSize}&{Market}", stop);
                    Add(batch, answer.Ideas);
                    if (answer.Ideas.Count < PageSize)
                        break;
                }
            }
        }

        private async Task Suggestions()
        {
            var asking = project.Read(ProjectStore.Questions).All.Distinct().ToArray();
            var typed = request.CleanSeeds.SelectMany(seed => new[] { (Seed: seed, Text: seed) }
                .Concat(request.Alphabet ? "abcdefghijklmnopqrstuvwxyz".Select(letter => (Seed: seed, Text: $"{seed} {letter}")) : [])
                .Concat(request.Questions ? asking.Select(word => (Seed: seed, Text: $"{word} * {seed}")) : [])
                .Concat(request.Questions ? asking.Select(word => (Seed: seed, Text: $"{word} {seed}")) : [])).ToList();
            for (var i = 0; i < typed.Count; i++)
            {
                progress(new JobProgress(i, typed.Count, $"Asking for suggestions: {typed[i].Text}"));
                var answer = await services.Ask<SuggestionsAnswer>(ServiceName.Suggestions, $"suggestions?query={Uri.EscapeDataString(typed[i].Text)}&{Market}", stop);
                var batch = Begin(SourceKind.Suggestions, $"suggestions for “{typed[i].Seed}”");
                Add(batch, answer.Suggestions.Select(s => new ResearchedKeyword(s)));
            }
        }

        private async Task Rankings(string target)
        {
            var isPage = target.Contains("://", StringComparison.Ordinal);
            var host = new Core.Site.OwnSite(target).Host;
            if (host.Length == 0)
                throw new ServiceException($"“{target}” is neither a host nor the address of a page. Write it like rival.example or https://rival.example/page.");
            var rows = new List<(Keyword, string, int)>();
            for (var offset = 0; offset < MostOfSeed; offset += PageSize)
            {
                var answer = await services.Ask<RankingsAnswer>(
                    ServiceName.Rankings, $"rankings?{(isPage ? "page" : "host")}={Uri.EscapeDataString(isPage ? target : host)}&offset={offset}&limit={PageSize}&{Market}", stop);
                rows.AddRange(answer.Rankings
                    .Select(r => (r.Keyword.ToKeyword(Today), Core.Site.UrlIdentity.TryOf(r.Url, Core.Site.UrlFolds.All, out var identity) ? identity : "", r.Position))
                    .Where(r => r.Item1 is not null && r.Item2.Length > 0 && r.Position > 0)!);
                progress(new JobProgress(Math.Min(offset + PageSize, answer.Total), answer.Total, $"Reading rankings: {target}"));
                if (answer.Rankings.Count < PageSize)
                    break;
            }

            if (!isPage)
                _rankings[host] = rows;
            if (request.Add)
                Begin(SourceKind.Rankings, isPage ? target : host).Keywords.AddRange(rows.Select(r => (r.Item1, (QueryPerformance?)null)));
        }

        private async Task Performance()
        {
            if (_market.Host.Length == 0)
                throw new ServiceException("Say first which site the project is about; its search performance is asked for by that.");
            var to = Today;
            var batch = Begin(SourceKind.Performance, _market.Host);
            foreach (var host in new Core.Site.OwnSite(_market.Host).Hosts)
                await Performance(host, to, batch);
        }

        private async Task Performance(string host, DateOnly to, Batch batch)
        {
            for (var offset = 0; offset < MostQueries; offset += PageSize * 2)
            {
                var answer = await services.Ask<PerformanceAnswer>(
                    ServiceName.Performance,
                    $"performance?site={Uri.EscapeDataString(host)}&from={to.AddDays(-PerformanceDays):yyyy-MM-dd}&to={to:yyyy-MM-dd}&dimensions=query&offset={offset}&limit={PageSize * 2}",
                    stop);
                foreach (var row in answer.Rows)
                {
                    if (row.Query is not null && new ResearchedKeyword(row.Query).ToKeyword(Today) is { } keyword)
                        batch.Keywords.Add((keyword, new QueryPerformance(row.Clicks, row.Impressions, row.Position)));
                }

                progress(new JobProgress(0, 0, $"{Number(batch.Keywords.Count)} queries read"));
                if (!answer.More || answer.Rows.Count == 0)
                    break;
            }
        }

        private Task Results()
        {
            var phrases = project.Read(session =>
            {
                KeywordStore.Select(session, request.Selection ?? new KeywordSelection());
                return (Questions: request.Questions ? ResultStore.PhrasesOfChosen(session, PhraseKind.Question) : [], Related: request.Related ? ResultStore.PhrasesOfChosen(session, PhraseKind.Related) : []);
            });
            Add(Begin(SourceKind.Results, "questions people also ask"), phrases.Questions.Select(p => new ResearchedKeyword(p)));
            Add(Begin(SourceKind.Results, "related searches"), phrases.Related.Select(p => new ResearchedKeyword(p)));
            return Task.CompletedTask;
        }

        private async Task Numbers()
        {
            var phrases = project.Read(session => KeywordStore.Phrases(session, request.Selection ?? new KeywordSelection()));
            var batch = Begin(SourceKind.Research, "numbers");
            for (var i = 0; i < phrases.Count; i += PageSize)
            {
                progress(new JobProgress(i, phrases.Count, "Asking for numbers"));
                var answer = await services.Ask<NumbersAnswer>(
                    ServiceName.Research, "research/numbers", stop, new NumbersRequest([.. phrases.Skip(i).Take(PageSize)], _market.Country, _market.Language));
                Add(batch, answer.Keywords);
            }
        }

        private Batch Begin(SourceKind kind, string label)
        {
            if (_batches.FirstOrDefault(b => b.Kind == kind && b.Label == label) is { } known)
                return known;
            _batches.Add(new Batch(kind, label, []));
            return _batches[^1];
        }

        private void Add(Batch batch, IEnumerable<ResearchedKeyword> keywords) =>
            batch.Keywords.AddRange(keywords.Select(k => (Keyword: k.ToKeyword(Today), (QueryPerformance?)null)).Where(k => k.Keyword is not null)!);

        private static string Number(long count) => count.ToString("N0", CultureInfo.InvariantCulture);
    }
}
