using System.Globalization;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Refresh;

/// <summary>What a change did, or several together.</summary>
/// <param name="Clicks">Clicks more than without it, in the days after it; null where that cannot be told, as the ends of the 95 % interval and what was expected.</param>
/// <param name="Days">Days after it that count, at most 28.</param>
/// <param name="Controls">Unchanged pages that were compared with.</param>
/// <param name="Says">All of it in a sentence.</param>
public sealed record EffectView(EffectVerdict Verdict, string Name, double? Clicks, double? Low, double? High, double? Expected, int Days, int Controls, string Says)
{
    internal static EffectView Of(ChangeEffect? effect)
    {
        var isTold = effect?.Verdict is EffectVerdict.Helped or EffectVerdict.Hurt or EffectVerdict.NoEffect;
        return new EffectView(
            effect?.Verdict ?? EffectVerdict.TooLittleData, EffectText.Name(effect?.Verdict ?? EffectVerdict.TooLittleData), isTold ? effect!.Clicks : null, isTold ? effect!.Low : null, isTold ? effect!.High : null,
            isTold ? effect!.Expected : null, effect?.Days ?? 0, effect?.Controls ?? 0, EffectText.Says(effect));
    }
}

/// <summary>Something that was changed about a page.</summary>
/// <param name="Before">What it was; of texts, headings and links what only the former one has, a line each.</param>
/// <param name="StepId">The step that went live; null for other sources.</param>
/// <param name="EnteredId">The entry, by which it can be removed; null for other sources.</param>
public sealed record MadeChangeView(DateOnly Day, ChangeSource Source, ChangeKind Kind, string Name, IReadOnlyList<string> Before, IReadOnlyList<string> After, StepId? StepId, EnteredChangeId? EnteredId);

/// <summary>Changes of a page that are close together.</summary>
/// <param name="Id">The page and the first day.</param>
/// <param name="Says">What was changed, in a few words.</param>
/// <param name="Effect">Null as long as it is being measured.</param>
public sealed record ChangeView(string Id, PageId PageId, string Url, string? Title, DateOnly Day, DateOnly LastDay, IReadOnlyList<string> Kinds, IReadOnlyList<ChangeSource> Sources, string Says, EffectView? Effect);

/// <summary>What all changes of one kind did together.</summary>
/// <param name="Count">How many there are.</param>
/// <param name="Measured">How many of them could be measured.</param>
public sealed record KindOfChangeView(ChangeKind Kind, string Name, int Count, int Measured, EffectView? Effect);

/// <summary>Part of the changes.</summary>
/// <param name="Tally">How many the filter lets through.</param>
/// <param name="All">How many there are.</param>
/// <param name="Kinds">By kind, over all that the filter lets through.</param>
/// <param name="Verdicts">How many of each verdict the filter lets through.</param>
/// <param name="IsMeasuring">Some effects are not measured yet: ask again in a moment.</param>
public sealed record ChangesPage(IReadOnlyList<ChangeView> Rows, ListTally Tally, int All, IReadOnlyList<KindOfChangeView> Kinds, IReadOnlyDictionary<EffectVerdict, int> Verdicts, bool IsMeasuring, bool HasPerformance);

/// <summary>A day around a change.</summary>
/// <param name="Clicks">Null where nothing is known of the day.</param>
/// <param name="Expected">What the page would have got without the change; null where that cannot be told.</param>
public sealed record CourseDay(DateOnly Day, long? Clicks, double? Expected);

/// <summary>Changes of a page with all that is known of them.</summary>
/// <param name="Before">Of the 28 days before; null where there is no search performance.</param>
/// <param name="After">Of the days after, at most 28.</param>
public sealed record ChangeDetail(ChangeView Change, IReadOnlyList<MadeChangeView> Changes, SpanView? Before, SpanView? After, IReadOnlyList<CourseDay> Course);

/// <summary>Which changes are wanted.</summary>
/// <param name="Verdict">Only those with this verdict.</param>
/// <param name="Kind">Only those of which one is of this kind.</param>
/// <param name="From">Made on this day or later.</param>
/// <param name="To">Made on this day or earlier.</param>
public sealed record ChangeFilter(PageId? PageId = null, ChangeKind? Kind = null, EffectVerdict? Verdict = null, DateOnly? From = null, DateOnly? To = null);

/// <summary>A change that a planner enters.</summary>
/// <param name="Page">Its address, or its path.</param>
/// <param name="Note">What was changed.</param>
public sealed record EnterChangeRequest(string Page, DateOnly Day, ChangeKind Kind, string? Note = null);

/// <summary>Changes of pages, and whether they helped.</summary>
public static class ChangeEndpoints
{
    private const int MostOfNote = 2_000;

    private static readonly OutputColumn[] Columns =
    [
        new("Page"), new("Title"), new("Date"), new("Last date"), new("Changed"), new("What"), new("Verdict"), new("Clicks gained"), new("Low (95 %)"), new("High (95 %)"), new("Clicks expected"), new("Days"), new("Pages compared with"),
    ];

    public static void MapChanges(this RouteGroupBuilder api)
    {
        api.MapGet("/changes", ([AsParameters] Listing listing, [AsParameters] ChangeFilter filter, Project project, QueryImages images, ChangeEffects effects) => project.Read((session, snapshot) =>
            {
                var board = effects.Board(session, snapshot, images);
                var query = listing.ToQuery();
                var wanted = Wanted(board, filter, query);
                return new ChangesPage(
                    [.. wanted.Skip(query.Offset).Take(query.Limit).Select(i => View(board, i))], new ListTally(wanted.Count, 0, 0, null, 0, 0, query.PlaceOf(wanted, i => IdOf(board.Sets[i]))), board.Sets.Count, Kinds(board, wanted),
                    wanted.CountBy(i => board.Effects[i]?.Verdict ?? EffectVerdict.TooLittleData).ToDictionary(), board.IsMeasuring, board.HasPerformance);
            }))
            .WithName("changes");

        api.MapGet("/changes.{form}", (string form, [AsParameters] Listing listing, [AsParameters] ChangeFilter filter, Project project, QueryImages images, ChangeEffects effects) =>
            {
                var rows = project.Read((session, snapshot) =>
                {
                    var board = effects.Board(session, snapshot, images);
                    return Wanted(board, filter, listing.ToExport()).Select(i => View(board, i)).Select(c => new object?[]
                    {
                        c.Url, c.Title, c.Day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), c.LastDay.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), string.Join(", ", c.Kinds), c.Says, c.Effect?.Name,
                        Rounded(c.Effect?.Clicks), Rounded(c.Effect?.Low), Rounded(c.Effect?.High), Rounded(c.Effect?.Expected), c.Effect?.Days, c.Effect?.Controls,
                    }).ToList();
                });
                return form switch
                {
                    "csv" => Listing.Csv("changes.csv", [.. Columns.Select(c => c.Name)], rows),
                    "xlsx" => Listing.Xlsx("changes.xlsx", "changes", Columns, rows),
                    _ => (IResult)Problems.NotFound($"There is no file “changes.{form}”; there are csv and xlsx."),
                };
            })
            .ExcludeFromDescription();

        api.MapGet("/changes/{pageId:long}/{day}", Results<Ok<ChangeDetail>, ProblemHttpResult> (PageId pageId, DateOnly day, Project project, QueryImages images, ChangeEffects effects) =>
                project.Read<Results<Ok<ChangeDetail>, ProblemHttpResult>>((session, snapshot) =>
                {
                    var board = effects.Board(session, snapshot, images);
                    // An earlier change that was found since makes it the part of another one.
                    var set = Enumerable.Range(0, board.Sets.Count).FirstOrDefault(i => board.Sets[i].PageId == pageId && board.Sets[i].Day <= day && board.Sets[i].LastDay >= day, -1);
                    return set < 0 ? Problems.NotFound($"There is no change of page {pageId} on {day:yyyy-MM-dd} any more.") : TypedResults.Ok(Detail(session, board, set));
                }))
            .WithName("change");

        api.MapPost("/changes", Results<Ok<EnteredChangeId>, ProblemHttpResult> (EnterChangeRequest request, Project project) =>
            {
                var note = request.Note?.Trim() ?? "";
                if (note.Length > MostOfNote)
                    return Problems.Invalid("note", $"Write at most {MostOfNote} characters.");
                var (page, today) = project.Read((session, snapshot) =>
                {
                    var address = request.Page.Trim() is var given && given.StartsWith('/') ? new OwnSite(ProjectStore.Get(session).Host).UrlOf(given) : given;
                    var index = UrlIdentity.TryOf(address, UrlFolds.All, out var identity) ? snapshot.PageOf(identity) : -1;
                    // Where a file tells of later days than the clock, these have been too.
                    return (index >= 0 ? snapshot.PageIds[index] : (PageId?)null, new[] { StepEndpoints.Today(project), PerformanceStore.Summary(session).LastDay ?? DateOnly.MinValue }.Max());
                });
                if (page is null)
                    return Problems.Invalid("page", $"“{request.Page.Trim()}” is no page of the site. Write its address as it is in the list of pages.");
                if (request.Day > today || request.Day.Year < 2000)
                    return Problems.Invalid("day", request.Day > today ? "The day is in the future; enter a change once it is made." : "The year has to be 2000 or later.");
                return project.Change<EnteredChangeId>($"Enter a change of {request.Day:d MMMM yyyy}", session => ChangeStore.Enter(session, page.Value, request.Day, request.Kind, note, project.Now)).ToOk();
            })
            .WithName("enterChange");

        api.MapDelete("/changes/entered/{id:long}", Results<Ok<bool>, ProblemHttpResult> (EnteredChangeId id, Project project) =>
                project.Change<bool>("Remove an entered change", session => ChangeStore.Remove(session, id) ? true : Problems.NotFound("There is no such change any more.")).ToOk())
            .WithName("removeChange");
    }

    private static double? Rounded(double? number) => number is { } some ? Math.Round(some, 1) : null;

    private static List<int> Wanted(ChangeBoard board, ChangeFilter filter, ListQuery query)
    {
        var search = query.Search?.Trim() ?? "";
        var wanted = Enumerable.Range(0, board.Sets.Count).Where(i => board.Sets[i] is var set
            && (filter.PageId is null || set.PageId == filter.PageId) && (filter.Kind is null || set.Kinds.Contains(filter.Kind.Value))
            && (filter.From is null || set.LastDay >= filter.From) && (filter.To is null || set.Day <= filter.To)
            && (filter.Verdict is null || (board.Effects[i]?.Verdict ?? EffectVerdict.TooLittleData) == filter.Verdict)
            && (search.Length == 0 || PageOf(board, i) is var page && (page.Url.Contains(search, StringComparison.OrdinalIgnoreCase) || page.Title?.Contains(search, StringComparison.OrdinalIgnoreCase) == true)));
        Func<int, IComparable?> by = query.Sort switch
        {
            "page" => i => PageOf(board, i).Url,
            "effect" => i => board.Effects[i] is { Verdict: EffectVerdict.Helped or EffectVerdict.Hurt or EffectVerdict.NoEffect } e ? e.Clicks : double.NegativeInfinity,
            "verdict" => i => board.Effects[i]?.Verdict ?? EffectVerdict.TooLittleData,
            _ => i => board.Sets[i].Day,
        };
        return [.. (query.Sort is null || query.Descending ? wanted.OrderByDescending(by) : wanted.OrderBy(by)).ThenBy(i => i)];
    }

    private static SitePage PageOf(ChangeBoard board, int set) => board.Snapshot.Pages[board.Snapshot.IndexOfPage[board.Sets[set].PageId]];

    private static List<KindOfChangeView> Kinds(ChangeBoard board, List<int> wanted) =>
    [
        .. wanted.SelectMany(i => board.Sets[i].Kinds.Select(k => (Kind: k, Set: i))).GroupBy(k => k.Kind).OrderBy(g => g.Key).Select(g =>
        {
            List<ChangeEffect> effects = [.. g.Select(k => board.Effects[k.Set]).OfType<ChangeEffect>()];
            var together = ChangeEffect.Together(effects);
            return new KindOfChangeView(g.Key, EffectText.Name(g.Key, g.Count() != 1), g.Count(), effects.Count(e => e.High > e.Low), together is null ? null : EffectView.Of(together));
        }),
    ];

    private static string IdOf(ChangeSet changes) => $"{changes.PageId}-{changes.Day:yyyy-MM-dd}";

    private static ChangeView View(ChangeBoard board, int set)
    {
        var (changes, page) = (board.Sets[set], PageOf(board, set));
        return new ChangeView(
            IdOf(changes), changes.PageId, page.Url, page.Title, changes.Day, changes.LastDay, [.. changes.Kinds.Select(k => EffectText.Name(k))], [.. changes.Changes.Select(c => c.Source).Distinct().Order()],
            Says(changes), board.HasPerformance && board.Effects[set] is null ? null : EffectView.Of(board.Effects[set]));
    }

    /// <summary>The change that says most about it.</summary>
    private static string Says(ChangeSet set)
    {
        if (set.Changes.FirstOrDefault(c => c.Kind is ChangeKind.Title or ChangeKind.Description && c.Source == ChangeSource.Scan) is { } named)
            return $"“{named.Before}” → “{named.After}”";
        if (set.Changes.FirstOrDefault(c => c.Kind == ChangeKind.Text && c.Source == ChangeSource.Scan) is { } text)
            return $"{Lines(text.After)} added, {Lines(text.Before)} removed";
        return set.Changes.Select(c => c.After.Length > 0 ? c.After : c.Before).FirstOrDefault(t => t.Length > 0)?.Replace('\n', ' ') ?? "";
    }

    private static string Lines(string lines) => Parts(lines).Count is var count && count == 1 ? "1 passage" : $"{count} passages";

    private static List<string> Parts(string lines) => [.. lines.Split('\n', StringSplitOptions.RemoveEmptyEntries)];

    private static ChangeDetail Detail(Session session, ChangeBoard board, int set)
    {
        var inFull = ChangeSet.Of(ChangeStore.All(session, board.Sets[set].PageId)).First(s => s.PageId == board.Sets[set].PageId && s.Day == board.Sets[set].Day);
        var spans = board.Spans(set);
        return new ChangeDetail(
            View(board, set), [.. inFull.Changes.Select(c => new MadeChangeView(c.Day, c.Source, c.Kind, EffectText.Name(c.Kind), Parts(c.Before), Parts(c.After), c.StepId, c.EnteredId))],
            spans is { Before: var before } ? SpanView.Of(before) : null, spans is { After: var after } ? SpanView.Of(after) : null, [.. board.Course(set).Select(d => new CourseDay(d.Day, d.Clicks, d.Expected))]);
    }
}
