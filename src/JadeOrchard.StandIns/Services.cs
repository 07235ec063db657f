using System.Text.Json;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.StandIns;

/// <summary>Asks for one result list.</summary>
/// <param name="Query">What is searched for.</param>
/// <param name="Country">Two letters, ISO 3166-1.</param>
/// <param name="Language">Two letters, ISO 639-1.</param>
/// <param name="Depth">Results at most, 1 to 100.</param>
public sealed record SearchRequest(string Query, string Country, string Language, int Depth);

/// <summary>One result.</summary>
public sealed record SearchResult(int Position, string Url, string Title, string Snippet);

/// <summary>A result list; no results is an answer like any other.</summary>
/// <param name="Questions">What people also ask.</param>
/// <param name="Related">Related searches.</param>
public sealed record SearchAnswer(
    string Query, DateTimeOffset CapturedAt, IReadOnlyList<SearchResult> Results, IReadOnlyList<string> Questions, IReadOnlyList<string> Related);

/// <summary>Completions of what is typed.</summary>
public sealed record SuggestionsAnswer(IReadOnlyList<string> Suggestions);

/// <summary>A keyword with what the research service knows of it; numbers that it does not know are null.</summary>
/// <param name="Volume">Searches per month, an estimate.</param>
/// <param name="Difficulty">0 to 100.</param>
/// <param name="Cpc">Cost per click.</param>
/// <param name="Intent">informational, commercial, transactional or navigational.</param>
/// <param name="TitleMatches">Indexed pages with every word in their title.</param>
/// <param name="MonthlyVolumes">Searches in each of the last twelve or more months that are over, the newest last.</param>
public sealed record ResearchedKeyword(string Keyword, long? Volume, double? Difficulty, double? Cpc, string? Intent, long? TitleMatches, IReadOnlyList<long>? MonthlyVolumes)
{
    internal static ResearchedKeyword Of(Keyword k, World world) => new(
        k.Phrase, k.Volume, k.Difficulty, k.Cpc, k.Intent?.ToString().ToLowerInvariant(), k.TitleMatches, Seasons.Of(k, world.TopicOf(k.Phrase), DateOnly.FromDateTime(DateTime.UtcNow))?.Volumes);
}

/// <summary>Part of the ideas for a seed.</summary>
/// <param name="Total">How many there are in all.</param>
public sealed record IdeasAnswer(long Total, IReadOnlyList<ResearchedKeyword> Ideas);

/// <summary>Asks for the numbers of known keywords.</summary>
public sealed record NumbersRequest(IReadOnlyList<string> Keywords, string Country, string Language);

/// <summary>The keywords that are known; others are left out.</summary>
public sealed record NumbersAnswer(IReadOnlyList<ResearchedKeyword> Keywords);

/// <summary>Where a page ranks for a keyword.</summary>
public sealed record Ranking(ResearchedKeyword Keyword, string Url, int Position);

/// <summary>Part of what a host or a page ranks for.</summary>
public sealed record RankingsAnswer(long Total, IReadOnlyList<Ranking> Rankings);

/// <summary>What the site got: of a query, a page and a day, as far as they were asked for.</summary>
/// <param name="Position">Average, weighted by impressions.</param>
public sealed record PerformanceRow(string? Query, string? Page, DateOnly? Day, long Clicks, long Impressions, double Position);

/// <summary>Part of the search performance.</summary>
/// <param name="More">There are rows after these.</param>
public sealed record PerformanceAnswer(IReadOnlyList<PerformanceRow> Rows, bool More);

/// <summary>Lets time pass in the invented world.</summary>
public sealed record TimeRequest(int Days);

/// <summary>The day that it is there.</summary>
public sealed record TimeAnswer(DateOnly Today);

/// <summary>What a change did.</summary>
/// <param name="ChangedOn">Null where the page was not changed.</param>
/// <param name="Clicks">More than it would have got.</param>
public sealed record GainAnswer(DateOnly? ChangedOn, long Clicks);

/// <summary>The services of the outside world, answered from the invented one.</summary>
public static class Services
{
    private const int MostRows = 1_000;

    /// <summary>Search performance goes back this many months.</summary>
    public const int Months = 16;

    public static void MapServices(this WebApplication app)
    {
        app.MapPost("/search", IResult (SearchRequest request, HttpContext context, World world, AnswerLog log, Misbehaviour misbehaviour) =>
            {
                if (string.IsNullOrWhiteSpace(request.Query) || request.Depth is < 1 or > 100)
                    return TypedResults.Problem("The query must not be empty, and the depth from 1 to 100.", statusCode: 400);
                var key = context.Request.Headers["Idempotency-Key"].ToString();
                if (key.Length > 0 && log.Find(key) is { } known)
                    return TypedResults.Text(known, "application/json");
                var results = world.Index.Search(request.Query, request.Depth);
                var (questions, related) = world.Around(KeywordNormalForm.Of(request.Query), results);
                var answer = new SearchAnswer(
                    request.Query, DateTimeOffset.UtcNow, [.. results.Select(r => new SearchResult(r.Position, r.Page.Url, r.Page.Title, r.Snippet))], questions, related);
                misbehaviour.Answered("search");
                var body = JsonSerializer.Serialize(answer, JsonSerializerOptions.Web);
                if (key.Length > 0)
                    log.Keep(key, body);
                return TypedResults.Text(body, "application/json");
            })
            .Produces<SearchAnswer>().WithName("search").WithSummary("One result list. A request that is repeated with the same Idempotency-Key gets the same answer and is charged once.");

        app.MapGet("/suggestions", (string query, string country, string language, World world, Misbehaviour misbehaviour) =>
            {
                misbehaviour.Answered("suggestions");
                return new SuggestionsAnswer(world.Suggest(query, 10));
            })
            .WithName("suggestions").WithSummary("At most ten completions of what is typed. \"*\" matches any words in the middle.");

        app.MapGet("/research/ideas", (string seed, string kind, string country, string language, int? offset, int? limit, World world, Misbehaviour misbehaviour) =>
            {
                misbehaviour.Answered("research");
                var ideas = world.Ideas(seed, kind == "related");
                return new IdeasAnswer(ideas.Count, [.. ideas.Skip(offset ?? 0).Take(Math.Clamp(limit ?? 100, 1, MostRows)).Select(k => ResearchedKeyword.Of(k, world))]);
            })
            .WithName("ideas").WithSummary("Keywords that contain the seed's words (kind \"containing\"), or related ones that do not (kind \"related\").");

        app.MapPost("/research/numbers", (NumbersRequest request, World world, Misbehaviour misbehaviour) =>
            {
                misbehaviour.Answered("research");
                return new NumbersAnswer([.. request.Keywords.Take(MostRows).Select(k => world.Keywords.GetValueOrDefault(KeywordNormalForm.Of(k))).OfType<Keyword>().Select(k => ResearchedKeyword.Of(k, world))]);
            })
            .WithName("numbers").WithSummary("What is known of up to 1,000 keywords.");

        app.MapGet("/rankings", (string? host, string? page, string country, string language, int? offset, int? limit, World world, Misbehaviour misbehaviour) =>
            {
                misbehaviour.Answered("rankings");
                var of = page is not null && Uri.TryCreate(page, UriKind.Absolute, out var url) ? url.Host : host ?? "";
                var all = world.RankingsOf(of).Where(r => page is null || r.Page.Url == page)
                    .OrderByDescending(r => r.Keyword.Volume ?? 0).ThenBy(r => r.Keyword.Phrase, StringComparer.Ordinal).ThenBy(r => r.Position).ToList();
                return new RankingsAnswer(all.Count, [.. all.Skip(offset ?? 0).Take(Math.Clamp(limit ?? 100, 1, MostRows)).Select(r => new Ranking(ResearchedKeyword.Of(r.Keyword, world), r.Page.Url, r.Position))]);
            })
            .WithName("rankings").WithSummary("The keywords for which a host or a page stands among the first 20 results.");

        app.MapGet("/performance", (string site, DateOnly from, DateOnly to, string dimensions, int? offset, int? limit, World world, Misbehaviour misbehaviour) =>
            {
                misbehaviour.Answered("performance");
                return PerformanceOf(world, site, from, to, [.. dimensions.Split(',')], offset ?? 0, Math.Clamp(limit ?? 1_000, 1, 25_000), misbehaviour.IsPartial("performance"));
            })
            .WithName("performance").WithSummary("Clicks, impressions and average position of the site, by query, page and day (dimensions, separated by commas); 16 months back.");

        app.MapPost("/draft", IResult (DraftRequest request, HttpContext context, AnswerLog log, Misbehaviour misbehaviour) =>
            {
                var key = context.Request.Headers["Idempotency-Key"].ToString();
                if (key.Length > 0 && log.Find(key) is { } known)
                    return TypedResults.Text(known, "application/json");
                if (Drafting.Of(request) is not { } answer)
                    return TypedResults.Problem("The kind is title, description, outline, introduction, answer or section.", statusCode: 400);
                misbehaviour.Answered("draft");
                var body = JsonSerializer.Serialize(answer, JsonSerializerOptions.Web);
                if (key.Length > 0)
                    log.Keep(key, body);
                return TypedResults.Text(body, "application/json");
            })
            .Produces<DraftAnswer>().WithName("draft").WithSummary("Texts to choose from for a page, made from the facts that are given and nothing else. A request that is repeated with the same Idempotency-Key gets the same answer and is charged once.");

        app.MapPost("/control", (ControlRequest request, Misbehaviour misbehaviour) =>
            {
                misbehaviour.Tell(request);
                return TypedResults.NoContent();
            })
            .WithName("control").WithSummary("Tells the stand-ins to be slow, to fail or to hang; not part of the contract.");
        app.MapPost("/control/site", (SiteChange change, SiteChanges changes, World world) =>
            {
                changes.Apply(change);
                world.Changed(change.Path);
                return TypedResults.NoContent();
            })
            .WithName("changeSite").WithSummary("Tells the own site to apply what a plan decided: a redirect, a title, a link, a new page; not part of the contract.");
        app.MapPost("/control/time", (TimeRequest request, World world) =>
            {
                world.Pass(request.Days);
                return new TimeAnswer(world.Today);
            })
            .WithName("passTime").WithSummary("Lets days pass in the invented world: its search performance goes on, and shows what changes of pages did; not part of the contract.");
        app.MapGet("/control/gain", (string path, int? days, World world) => new GainAnswer(world.ChangedOn(path), world.GainOf(path, days ?? 28)))
            .WithName("gain").WithSummary("How many clicks a changed page of the own site got from its change; not part of the contract.");
        app.MapGet("/control", (Misbehaviour misbehaviour) => misbehaviour.Counts).WithName("counts").WithSummary("How often each service was asked and worked; not part of the contract.");
    }

    private static PerformanceAnswer PerformanceOf(World world, string site, DateOnly from, DateOnly to, HashSet<string> dimensions, int offset, int limit, bool isPartial)
    {
        var last = world.Today.AddDays(-PerformancePlants.DaysBehind);
        var first = last.AddMonths(-Months);
        (from, to) = (from < first ? first : from, to > last ? last : to);
        var host = new UriBuilder("https://" + site.Replace("https://", "", StringComparison.Ordinal)).Host;
        if ((host.StartsWith("www.", StringComparison.Ordinal) ? host[4..] : host) != world.Scenario.Site.Host)
            return new PerformanceAnswer([], More: false);
        var rows = new Dictionary<(string?, string?, DateOnly?), (long Clicks, long Impressions, double Weighted)>();
        foreach (var (standing, day, clicks, impressions, position) in world.Performance(from, to))
        {
            if (isPartial && world.Plants.MissingDays.Contains(day))
                continue;
            var key = (
                dimensions.Contains("query") ? standing.Keyword.Phrase : null,
                dimensions.Contains("page") ? standing.Url : null,
                dimensions.Contains("day") ? day : (DateOnly?)null);
            var (c, i, w) = rows.GetValueOrDefault(key);
            rows[key] = (c + clicks, i + impressions, w + (position * impressions));
        }

        var page = rows.Skip(offset).Take(limit).Select(r => new PerformanceRow(
            r.Key.Item1, r.Key.Item2, r.Key.Item3, r.Value.Clicks, r.Value.Impressions, Math.Round(r.Value.Weighted / r.Value.Impressions, 2))).ToList();
        return new PerformanceAnswer(page, offset + limit < rows.Count);
    }
}
