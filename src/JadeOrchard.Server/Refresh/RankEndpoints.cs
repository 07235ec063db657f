using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Refresh;

/// <summary>What ranks are gathered by.</summary>
public enum RankGroup
{
    Keyword,
    Cluster,
    Page,
}

/// <summary>Which ranks are wanted.</summary>
/// <param name="From">The first of the two days that are compared; null for the capture before the newest.</param>
/// <param name="To">The second; null for the newest capture.</param>
/// <param name="Move">Only keywords with this move.</param>
public sealed record RankFilter(RankGroup? Group = null, DateOnly? From = null, DateOnly? To = null, RankMove? Move = null, ClusterId? ClusterId = null, PageId? PageId = null);

/// <summary>Where the site stands on two days: for a keyword, or for all keywords of a cluster or of a page.</summary>
/// <param name="Id">Tells rows apart.</param>
/// <param name="Keywords">How many keywords it has.</param>
/// <param name="Before">Position on the first day, for a cluster or page the mean of the keywords it ranks for; 0 if it ranks for none, null if nothing was captured.</param>
/// <param name="After">The same on the second day.</param>
/// <param name="CountedBefore">Average position in search performance over the seven days to the first day; null where the site was not shown.</param>
/// <param name="PageOneBefore">Keywords among the first ten on the first day.</param>
/// <param name="ClicksBefore">Clicks a month that the captured positions earn; estimated.</param>
public sealed record RankRow(
    string Id, string Name, KeywordId? KeywordId, ClusterId? ClusterId, string? ClusterName, PageId? PageId, string? Url, int Keywords, long? Volume, double? Before, double? After, RankMove Move,
    double? CountedBefore, double? CountedAfter, int PageOneBefore, int PageOneAfter, double ClicksBefore, double ClicksAfter);

/// <summary>Part of the ranks.</summary>
/// <param name="From">The first of the two days; null where there are fewer than two captures.</param>
/// <param name="Days">All days on which something was captured, the newest first.</param>
/// <param name="Moves">How many keywords moved in which way.</param>
public sealed record RanksPage(IReadOnlyList<RankRow> Rows, ListTally Tally, DateOnly? From, DateOnly? To, IReadOnlyList<DateOnly> Days, IReadOnlyDictionary<RankMove, int> Moves);

/// <summary>A position on a day.</summary>
/// <param name="Position">0 where the site was not in the list.</param>
public sealed record RankPoint(DateOnly Day, double Position, string? Url);

/// <summary>A page that came into the first ten results of a keyword or left them.</summary>
public sealed record RankedUrl(string Url, string? Title, int Position, bool IsOwn);

/// <summary>Where the site stood, day by day.</summary>
/// <param name="Captured">At each capture; for a cluster or page the mean of the keywords it ranks for.</param>
/// <param name="Counted">In search performance, by week.</param>
/// <param name="Arrived">Pages of all sites that came among the first ten between the two days; of keywords alone.</param>
/// <param name="Left">Pages that left them.</param>
public sealed record RankHistory(string Name, IReadOnlyList<RankPoint> Captured, IReadOnlyList<RankPoint> Counted, IReadOnlyList<RankedUrl> Arrived, IReadOnlyList<RankedUrl> Left);

/// <summary>Positions over time, from captures and from search performance.</summary>
public static class RankEndpoints
{
    private const int PageOne = 10, Week = 7;

    private static readonly OutputColumn[] Columns =
    [
        new("Name"), new("Cluster"), new("Page"), new("Keywords"), new("Volume (estimated)"), new("Position before"), new("Position after"), new("Move"), new("Average position before (counted)"), new("Average position after (counted)"),
        new("On page one before"), new("On page one after"), new("Clicks a month before (estimated)"), new("Clicks a month after (estimated)"),
    ];

    public static void MapRanks(this RouteGroupBuilder api)
    {
        api.MapGet("/ranks", ([AsParameters] Listing listing, [AsParameters] RankFilter filter, Project project, QueryImages images) => project.Read((session, snapshot) =>
            {
                var query = listing.ToQuery();
                var (from, to, days) = DaysOf(session, filter);
                var all = All(session, snapshot, images, from, to);
                var rows = Wanted(all, filter, query);
                return new RanksPage(
                    [.. rows.Skip(query.Offset).Take(query.Limit)], new ListTally(rows.Count, rows.Sum(r => r.Keywords), rows.Sum(r => r.Volume ?? 0), null, rows.Sum(r => r.ClicksAfter), 0, query.PlaceOf(rows, r => r.Id)), from, to, days,
                    all.Where(r => Fits(r, filter)).CountBy(r => r.Move).ToDictionary());
            }))
            .WithName("ranks");

        api.MapGet("/ranks.{form}", (string form, [AsParameters] Listing listing, [AsParameters] RankFilter filter, Project project, QueryImages images) =>
            {
                var rows = project.Read((session, snapshot) =>
                {
                    var (from, to, _) = DaysOf(session, filter);
                    return Wanted(All(session, snapshot, images, from, to), filter, listing.ToExport()).Select(r => new object?[]
                    {
                        r.Name, r.ClusterName, r.Url, r.Keywords, r.Volume, Rounded(r.Before), Rounded(r.After), r.Move.ToString().ToLowerInvariant(), Rounded(r.CountedBefore), Rounded(r.CountedAfter), r.PageOneBefore, r.PageOneAfter,
                        Rounded(r.ClicksBefore), Rounded(r.ClicksAfter),
                    }).ToList();
                });
                return form switch
                {
                    "csv" => Listing.Csv("ranks.csv", [.. Columns.Select(c => c.Name)], rows),
                    "xlsx" => Listing.Xlsx("ranks.xlsx", "ranks", Columns, rows),
                    _ => (IResult)Problems.NotFound($"There is no file “ranks.{form}”; there are csv and xlsx."),
                };
            })
            .ExcludeFromDescription();

        api.MapGet("/ranks/history", Results<Ok<RankHistory>, ProblemHttpResult> (KeywordId? keywordId, ClusterId? clusterId, PageId? pageId, DateOnly? from, DateOnly? to, Project project, QueryImages images) =>
                project.Read<Results<Ok<RankHistory>, ProblemHttpResult>>((session, snapshot) =>
                {
                    var (first, last, _) = DaysOf(session, new RankFilter(From: from, To: to));
                    if (keywordId is { } one)
                    {
                        return snapshot.IndexOfKeyword.TryGetValue(one, out var keyword)
                            ? TypedResults.Ok(History(session, snapshot, images, snapshot.Keywords[keyword].Phrase, [one], null) with { Arrived = Turned(session, snapshot, one, first, last, isArrival: true), Left = Turned(session, snapshot, one, first, last, isArrival: false) })
                            : Problems.NotFound($"There is no keyword {one}.");
                    }

                    if (clusterId is { } cluster)
                        return ClusterStore.Find(session, cluster) is { } row ? TypedResults.Ok(History(session, snapshot, images, row.Name, ClusterStore.Members(session, cluster), null)) : Problems.NotFound($"There is no cluster {cluster}.");
                    if (pageId is { } page && snapshot.IndexOfPage.TryGetValue(page, out var index))
                    {
                        var seen = All(session, snapshot, images, first, last).Where(r => r.PageId == page).Select(r => r.KeywordId!.Value).ToList();
                        return TypedResults.Ok(History(session, snapshot, images, snapshot.Pages[index].Url, seen, page));
                    }

                    return Problems.NotFound("Name a keyword, a cluster or a page.");
                }))
            .WithName("rankHistory");
    }

    private static double? Rounded(double? number) => number is { } some ? Math.Round(some, 1) : null;

    private static (DateOnly? From, DateOnly? To, IReadOnlyList<DateOnly> Days) DaysOf(Session session, RankFilter filter)
    {
        var days = RankStore.Days(session);
        var to = filter.To ?? (days.Count > 0 ? days[0] : null);
        return (filter.From ?? (days.FirstOrDefault(d => d < to) is var before && before != default ? before : null), to, days);
    }

    private static List<RankRow> All(Session session, ProjectSnapshot snapshot, QueryImages images, DateOnly? from, DateOnly? to) => images.Ranks.Of(session.Writes, $"{from} {to}", () =>
    {
        if (to is not { } second)
            return [];
        var after = RankStore.On(session, second).ToDictionary(r => r.KeywordId);
        var before = from is { } first ? RankStore.On(session, first).ToDictionary(r => r.KeywordId) : [];
        var (countedBefore, countedAfter) = (Counted(session, snapshot, images, from), Counted(session, snapshot, images, second));
        var clusters = ClusterStore.Memberships(session);
        var names = RefreshStore.ClusterNames(session);
        var rows = new List<RankRow>(after.Count);
        for (var k = 0; k < snapshot.Keywords.Count; k++)
        {
            var (id, keyword) = (snapshot.KeywordIds[k], snapshot.Keywords[k]);
            var (has, had) = (after.TryGetValue(id, out var now), before.TryGetValue(id, out var then));
            // A list that is the newest on both days tells nothing of what happened in between.
            had &= !has || then.ListId != now.ListId;
            if (!has && !countedAfter.ContainsKey(id))
                continue;
            var page = now.PageId is { } p && snapshot.IndexOfPage.TryGetValue(p, out var index) ? index : -1;
            ClusterId? cluster = clusters.TryGetValue(id, out var c) ? c : null;
            rows.Add(new RankRow(
                $"k{id}", keyword.Phrase, id, cluster, cluster is { } known ? names.GetValueOrDefault(known) : null, page < 0 ? null : snapshot.PageIds[page], page < 0 ? null : snapshot.Pages[page].Url, 1, keyword.Volume,
                had ? then.Position : null, has ? now.Position : null, RankMoves.Of(had ? then.Position : null, has ? now.Position : null), countedBefore.TryGetValue(id, out var cb) ? cb : null, countedAfter.TryGetValue(id, out var ca) ? ca : null,
                had && then.Position is > 0 and <= PageOne ? 1 : 0, has && now.Position is > 0 and <= PageOne ? 1 : 0,
                had && then.Position > 0 ? (keyword.Volume ?? 0) * snapshot.Curve.At(then.Position) : 0, has && now.Position > 0 ? (keyword.Volume ?? 0) * snapshot.Curve.At(now.Position) : 0));
        }

        return rows;
    });

    /// <summary>Average positions of keywords over the seven days to a day.</summary>
    private static Dictionary<KeywordId, double> Counted(Session session, ProjectSnapshot snapshot, QueryImages images, DateOnly? to)
    {
        var found = new Dictionary<KeywordId, double>();
        if (to is not { } day || PerformanceStore.Days(session) == 0)
            return found;
        var image = images.Image(session, snapshot);
        if (day < image.Daily.First)
            return found;
        // Search performance is known some days later than a capture.
        var end = day > image.Daily.Last ? image.Daily.Last : day;
        var homes = RefreshStore.Homes(session).ToDictionary(h => h.Query, h => h.KeywordId);
        var sums = new Dictionary<KeywordId, (long Impressions, double Weighted)>();
        for (var pair = 0; pair < image.Daily.PairCount; pair++)
        {
            if (!homes.TryGetValue(image.Daily.QueryOf(pair), out var keyword) || image.Daily.Sum(pair, end.AddDays(1 - Week), end) is not { Impressions: > 0 } span)
                continue;
            var (impressions, weighted) = sums.GetValueOrDefault(keyword);
            sums[keyword] = (impressions + span.Impressions, weighted + (span.Position * span.Impressions));
        }

        foreach (var (keyword, (impressions, weighted)) in sums)
            found[keyword] = weighted / impressions;
        return found;
    }

    private static bool Fits(RankRow row, RankFilter filter) => (filter.ClusterId is null || row.ClusterId == filter.ClusterId) && (filter.PageId is null || row.PageId == filter.PageId);

    private static List<RankRow> Wanted(List<RankRow> all, RankFilter filter, ListQuery query)
    {
        var search = query.Search?.Trim() ?? "";
        IEnumerable<RankRow> rows = all.Where(r => Fits(r, filter) && (filter.Move is null || r.Move == filter.Move));
        rows = filter.Group switch
        {
            RankGroup.Cluster => rows.Where(r => r.ClusterId is not null).GroupBy(r => r.ClusterId).Select(g => Together(g, $"c{g.Key}", g.First().ClusterName ?? "")),
            RankGroup.Page => rows.Where(r => r.PageId is not null).GroupBy(r => r.PageId).Select(g => Together(g, $"p{g.Key}", g.First().Url ?? "") with { ClusterId = null, ClusterName = null }),
            _ => rows,
        };
        if (search.Length > 0)
            rows = rows.Where(r => r.Name.Contains(search, StringComparison.OrdinalIgnoreCase) || r.Url?.Contains(search, StringComparison.OrdinalIgnoreCase) == true);
        Func<RankRow, IComparable?> by = query.Sort switch
        {
            "name" => r => r.Name,
            "url" => r => r.Url,
            "cluster" => r => r.ClusterName,
            "before" => r => r.Before is > 0 and var p ? p : double.MaxValue,
            "after" => r => r.After is > 0 and var p ? p : double.MaxValue,
            "move" => r => Moved(r),
            "counted" => r => r.CountedAfter ?? double.MaxValue,
            "clicks" => r => r.ClicksAfter - r.ClicksBefore,
            "pageOne" => r => r.PageOneAfter,
            "keywords" => r => r.Keywords,
            _ => r => r.Volume ?? -1,
        };
        var down = query.Sort is null || query.Descending;
        return [.. (down ? rows.OrderByDescending(by) : rows.OrderBy(by)).ThenBy(r => r.Name, StringComparer.Ordinal).ThenBy(r => r.Id, StringComparer.Ordinal)];
    }

    /// <summary>Places won; what arrived or left counts as if it had stood just behind the first hundred.</summary>
    private static double Moved(RankRow row) => row is { Before: { } before, After: { } after } ? (before == 0 ? 101 : before) - (after == 0 ? 101 : after) : 0.0;

    private static RankRow Together<TKey>(IGrouping<TKey, RankRow> rows, string id, string name)
    {
        static double? Mean(IEnumerable<double?> positions)
        {
            List<double> known = [.. positions.OfType<double>()];
            return known.Count == 0 ? null : known.Where(p => p > 0).DefaultIfEmpty(0).Average();
        }

        var (before, after) = (Mean(rows.Select(r => r.Before)), Mean(rows.Where(r => r.Before is not null || rows.All(o => o.Before is null)).Select(r => r.After)));
        var first = rows.First();
        var main = rows.Where(r => r.PageId is not null).GroupBy(r => (r.PageId, r.Url)).OrderByDescending(g => g.Sum(r => r.ClicksAfter)).Select(g => g.Key).FirstOrDefault();
        return new RankRow(
            id, name, null, first.ClusterId, first.ClusterName, main.PageId, main.Url, rows.Count(), rows.Sum(r => r.Volume ?? 0), before, after,
            before is { } b && after is { } a ? RankMoves.Of((int)Math.Round(b * 10), (int)Math.Round(a * 10)) : RankMove.Unknown, Mean(rows.Select(r => r.CountedBefore)), Mean(rows.Select(r => r.CountedAfter)),
            rows.Sum(r => r.PageOneBefore), rows.Sum(r => r.PageOneAfter), rows.Sum(r => r.ClicksBefore), rows.Sum(r => r.ClicksAfter));
    }

    private static RankHistory History(Session session, ProjectSnapshot snapshot, QueryImages images, string name, IReadOnlyList<KeywordId> keywords, PageId? page)
    {
        string? UrlOf(PageId? id) => id is { } some && snapshot.IndexOfPage.TryGetValue(some, out var index) ? snapshot.Pages[index].Url : null;
        var captured = RankStore.History(session, keywords).Where(r => page is null || r.PageId == page || r.Position == 0).GroupBy(r => r.Day).OrderBy(g => g.Key)
            .Select(g => new RankPoint(g.Key, g.Where(r => r.Position > 0).Select(r => (double)r.Position).DefaultIfEmpty(0).Average(), g.Count() == 1 ? UrlOf(g.First().PageId) : null)).ToList();
        return new RankHistory(name, captured, CountedByWeek(session, snapshot, images, keywords.ToHashSet(), page), [], []);
    }

    private static List<RankPoint> CountedByWeek(Session session, ProjectSnapshot snapshot, QueryImages images, HashSet<KeywordId> keywords, PageId? page)
    {
        if (PerformanceStore.Days(session) == 0)
            return [];
        var daily = images.Image(session, snapshot).Daily;
        var queries = RefreshStore.Homes(session).Where(h => keywords.Contains(h.KeywordId)).Select(h => h.Query).ToHashSet();
        var weeks = new (long Impressions, double Weighted)[daily.Days / Week];
        var start = daily.Last.DayNumber + 1 - (weeks.Length * Week);
        for (var pair = 0; pair < daily.PairCount; pair++)
        {
            if (!queries.Contains(daily.QueryOf(pair)) || (page is { } only && snapshot.PageIds[daily.PageOf(pair)] != only))
                continue;
            foreach (var day in DayFigures.Between(daily.DaysOf(pair), start, daily.Last.DayNumber))
            {
                ref var week = ref weeks[(day.Day - start) / Week];
                week = (week.Impressions + day.Impressions, week.Weighted + day.Weighted);
            }
        }

        return [.. weeks.Select((w, i) => (Week: w, Day: DateOnly.FromDayNumber(start + (i * Week)))).Where(w => w.Week.Impressions > 0).Select(w => new RankPoint(w.Day, w.Week.Weighted / w.Week.Impressions, null))];
    }

    /// <summary>Pages that are in the newer list and not in the older one, or the reverse.</summary>
    private static List<RankedUrl> Turned(Session session, ProjectSnapshot snapshot, KeywordId keyword, DateOnly? from, DateOnly? to, bool isArrival)
    {
        var lists = ResultStore.Lists(session, keyword);
        if (lists.FirstOrDefault(l => l.CapturedOn <= to) is not { } after || lists.FirstOrDefault(l => l.CapturedOn <= from) is not { } before || before.ListId == after.ListId)
            return [];
        var (had, has) = (ResultStore.Results(session, before.ListId).Where(r => r.Position <= PageOne).ToList(), ResultStore.Results(session, after.ListId).Where(r => r.Position <= PageOne).ToList());
        var others = (isArrival ? had : has).Select(r => r.Identity).ToHashSet(StringComparer.Ordinal);
        return [.. (isArrival ? has : had).Where(r => !others.Contains(r.Identity)).Select(r => new RankedUrl(r.Url, r.Title, r.Position, r.PageId is not null))];
    }
}
