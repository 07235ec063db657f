using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Keywords;

/// <summary>A host that can be compared with.</summary>
/// <param name="Seen">Captured keywords for which it stands among the first ten.</param>
/// <param name="RankingsReadAt">When its rankings were read; null where they never were.</param>
/// <param name="Ranked">Keywords of its rankings.</param>
public sealed record RivalHost(string Host, int Seen, string? RankingsReadAt, long Ranked, bool IsOwn);

/// <summary>A keyword for which rivals stand and the own site does not, or far behind.</summary>
/// <param name="NormalForm">Its identity.</param>
/// <param name="KeywordId">Null where it is not among the keywords yet.</param>
public sealed record GapRow(string Phrase, string NormalForm, KeywordId? KeywordId, long? Volume, double? Difficulty, int? OwnPosition, IReadOnlyList<GapStanding> Rivals);

/// <summary>Where a rival stands.</summary>
public sealed record GapStanding(string Host, string Url, int Position);

/// <summary>Part of the gaps, those of most volume first.</summary>
public sealed record GapsAnswer(IReadOnlyList<GapRow> Rows, int Total, long Demand, int NewKeywords);

/// <summary>Takes keywords of the comparison into the project.</summary>
/// <param name="Rivals">Hosts, separated by commas.</param>
/// <param name="NormalForms">Which; null for all that the comparison shows.</param>
/// <param name="ListId">The list that they also come into; null for none.</param>
public sealed record AddGapsRequest(string Rivals, int Depth, IReadOnlyList<string>? NormalForms = null, string? Search = null, ListId? ListId = null);

/// <summary>Compares sites: where rivals stand and the own site does not.</summary>
public static class ComparisonEndpoints
{
    private const int HostsShown = 60;
    private const int PagesShown = 200;

    public static void MapComparison(this RouteGroupBuilder api)
    {
        api.MapGet("/compare/hosts", (Project project) => project.Read((session, snapshot) =>
            {
                var own = new OwnSite(ProjectStore.Get(session).Host);
                var ranked = RankingStore.Hosts(session).GroupBy(h => RivalOf(h.Host, own)).ToDictionary(g => g.Key, g => new RankedHost(g.Key, g.Sum(h => h.Keywords), g.Max(h => h.ReadAt)!));
                var seen = new Dictionary<string, int>(StringComparer.Ordinal);
                foreach (var standing in Captured(snapshot, 10, own).DistinctBy(s => (s.Keyword, s.Host)))
                    seen[standing.Host] = seen.GetValueOrDefault(standing.Host) + 1;
                return seen.Keys.Union(ranked.Keys)
                    .Select(h => new RivalHost(h, seen.GetValueOrDefault(h), ranked.GetValueOrDefault(h)?.ReadAt, ranked.GetValueOrDefault(h)?.Keywords ?? 0, own.OwnsHost(h)))
                    .OrderByDescending(h => h.IsOwn).ThenByDescending(h => h.Seen).ThenByDescending(h => h.Ranked).ThenBy(h => h.Host, StringComparer.Ordinal)
                    .Take(HostsShown).ToList();
            }))
            .WithName("compareHosts");

        api.MapGet("/compare", (string rivals, int depth, string? search, int? offset, int? limit, Project project) => project.Read((session, snapshot) =>
            {
                var rows = Gaps(session, snapshot, rivals, depth, search);
                return new GapsAnswer(
                    [.. rows.Skip(offset ?? 0).Take(Math.Clamp(limit ?? 100, 0, Listing.MostRows))], rows.Count, rows.Sum(r => r.Volume ?? 0), rows.Count(r => r.KeywordId is null));
            }))
            .WithName("compare");

        api.MapGet("/compare.csv", (string rivals, int depth, string? search, Project project) => Listing.Csv(
                "comparison.csv",
                ["keyword", "volume", "difficulty", "own_position", "rivals"],
                project.Read((session, snapshot) => Gaps(session, snapshot, rivals, depth, search)).Select(r => new object?[]
                {
                    r.Phrase, r.Volume, r.Difficulty, r.OwnPosition, string.Join(" | ", r.Rivals.Select(s => $"{s.Position} {s.Url}")),
                })))
            .ExcludeFromDescription();

        api.MapGet("/compare/pages", (string rivals, int depth, Project project) => project.Read((session, snapshot) =>
            {
                var volumes = Numbers(session, snapshot);
                return SiteComparison.Pages(Standings(session, snapshot, Math.Max(depth, 20)), Hosts(rivals, new OwnSite(ProjectStore.Get(session).Host)), depth, k => volumes.GetValueOrDefault(k)?.Volume ?? 0, snapshot.Curve).Take(PagesShown).ToList();
            }))
            .WithName("comparePages");

        api.MapPost("/compare/add", Results<Ok<ChangedAnswer>, ProblemHttpResult> (AddGapsRequest request, Project project) =>
            {
                if (ListEndpoints.Unknown(project, request.ListId) is { } unknown)
                    return unknown;
                return project.Change<ChangedAnswer>("Take keywords from a comparison", session =>
                {
                    var snapshot = project.Snapshot(session);
                    var numbers = Numbers(session, snapshot);
                    var chosen = request.NormalForms?.ToHashSet(StringComparer.Ordinal);
                    var rows = Gaps(session, snapshot, request.Rivals, request.Depth, request.Search).Where(r => chosen is null || chosen.Contains(r.NormalForm)).ToList();
                    var ids = new List<KeywordId>();
                    // A keyword comes from the rival that stands best for it.
                    foreach (var ofHost in rows.GroupBy(r => r.Rivals[0].Host))
                    {
                        using var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.Rankings, ofHost.Key, project.Now), project.Now);
                        ids.AddRange(ofHost.Select(row => writer.Write(numbers.GetValueOrDefault(row.NormalForm) ?? new Keyword(row.Phrase, row.NormalForm))));
                        writer.Finish();
                    }

                    if (request.ListId is { } list)
                        ListStore.Add(session, list, new KeywordSelection(ids));
                    return new ChangedAnswer(ids.Count);
                }).ToOk();
            })
            .WithName("addGaps");
    }

    private static List<GapRow> Gaps(Session session, ProjectSnapshot snapshot, string rivals, int depth, string? search)
    {
        var own = new OwnSite(ProjectStore.Get(session).Host);
        var numbers = Numbers(session, snapshot);
        var ids = new Dictionary<string, KeywordId>(StringComparer.Ordinal);
        for (var k = 0; k < snapshot.Keywords.Count; k++)
            ids[snapshot.Keywords[k].NormalForm] = snapshot.KeywordIds[k];
        var wanted = search?.Trim() ?? "";
        return
        [
            .. SiteComparison.Gaps(Standings(session, snapshot, 100), own.Owns, Hosts(rivals, own), Math.Clamp(depth, 1, 100))
                .Select(g => (Gap: g, Keyword: numbers.GetValueOrDefault(g.Keyword)))
                .Where(g => wanted.Length == 0 || (g.Keyword?.Phrase ?? g.Gap.Keyword).Contains(wanted, StringComparison.OrdinalIgnoreCase))
                .OrderByDescending(g => g.Keyword?.Volume ?? 0).ThenBy(g => g.Gap.Keyword, StringComparer.Ordinal)
                .Select(g => new GapRow(
                    g.Keyword?.Phrase ?? g.Gap.Keyword, g.Gap.Keyword, ids.TryGetValue(g.Gap.Keyword, out var id) ? id : null, g.Keyword?.Volume, g.Keyword?.Difficulty, g.Gap.OwnPosition,
                    [.. g.Gap.Rivals.Select(r => new GapStanding(r.Host, r.Url, r.Position))])),
        ];
    }

    /// <summary>What is known of keywords by normal form: what the project has, else what the rankings service said.</summary>
    private static Dictionary<string, Keyword> Numbers(Session session, ProjectSnapshot snapshot)
    {
        var numbers = RankingStore.Keywords(session);
        foreach (var keyword in snapshot.Keywords)
            numbers[keyword.NormalForm] = numbers.TryGetValue(keyword.NormalForm, out var ranked) ? ranked.UpdatedBy(keyword) with { Phrase = keyword.Phrase } : keyword;
        return numbers;
    }

    private static IEnumerable<HostStanding> Standings(Session session, ProjectSnapshot snapshot, int depth)
    {
        var own = new OwnSite(ProjectStore.Get(session).Host);
        return Captured(snapshot, depth, own).Concat(RankingStore.Standings(session).Select(s => s with { Host = RivalOf(s.Host, own) }));
    }

    private static IEnumerable<HostStanding> Captured(ProjectSnapshot snapshot, int depth, OwnSite own)
    {
        var sites = snapshot.UrlHosts.Distinct().ToDictionary(h => h, h => RivalOf(h, own), StringComparer.Ordinal);
        string[] hosts = [.. snapshot.UrlHosts.Select(h => sites[h])];
        for (var k = 0; k < snapshot.Keywords.Count; k++)
        {
            var (urls, positions) = (snapshot.Lists.Urls(k).ToArray(), snapshot.Lists.Positions(k).ToArray());
            for (var i = 0; i < urls.Length; i++)
            {
                if (positions[i] <= depth)
                    yield return new HostStanding(snapshot.Keywords[k].NormalForm, hosts[urls[i]], snapshot.UrlIdentities[urls[i]], positions[i]);
            }
        }
    }

    /// <summary>A rival is a registrable domain: its subdomains are its own. The site's hosts stay as they are.</summary>
    private static string RivalOf(string host, OwnSite own) => own.OwnsHost(host) ? host : PublicSuffixes.RegistrableDomain(host);

    private static HashSet<string> Hosts(string rivals, OwnSite own) => [.. new OwnSite(rivals).Hosts.Select(h => RivalOf(h, own))];
}
