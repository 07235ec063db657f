using System.Globalization;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Refresh;

namespace JadeOrchard.Storage.Refresh;

/// <summary>Changes of pages: those that scans saw, steps that went live, and those that planners entered.</summary>
public static class ChangeStore
{
    /// <summary>A link that more pages than this got or lost in the same scan belongs to a menu, and is no change of a page.</summary>
    private const int MostWithLink = 20;

    /// <summary>Of texts that are not asked for in full, for a list.</summary>
    private const int CharactersShown = 400;

    /// <returns>All of them; of links those that only a few pages got or lost in the same scan.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="inFull">The page whose changes are told in full; of others the beginning.</param>
    public static IReadOnlyList<MadeChange> All(Session session, PageId? inFull = null)
    {
        var seen = session.List(
            """
            select page_id, day, kind, coalesce(iif(kind = 'links' or page_id = @full, before, substr(before, 1, @shown)), ''), coalesce(iif(kind = 'links' or page_id = @full, after, substr(after, 1, @shown)), ''), scan_id
            from page_change
            where kind not in ('new', 'gone', 'back')
            """,
            r => new MadeChange(r.Id<PageId>(0), Day(r.GetString(1)), ChangeSource.Scan, KindOf(r.GetString(2)), r.GetString(3), r.GetString(4)) is var change ? (Change: change, Scan: r.GetInt64(5)) : default,
            ("full", inFull), ("shown", CharactersShown));
        var often = seen.Where(c => c.Change.Kind == ChangeKind.Links).SelectMany(c => LinesOf(c.Change.Before).Concat(LinesOf(c.Change.After)).Select(l => (c.Scan, Link: l))).CountBy(l => l).Where(l => l.Value > MostWithLink).Select(l => l.Key).ToHashSet();
        string Rare(long scan, string links) => string.Join('\n', LinesOf(links).Where(l => !often.Contains((scan, l))));
        return
        [
            .. seen.Select(c => c.Change.Kind == ChangeKind.Links ? c.Change with { Before = Rare(c.Scan, c.Change.Before), After = Rare(c.Scan, c.Change.After) } : c.Change).Where(c => c.Before.Length + c.After.Length > 0),
            .. session.List(
                """
                select s.page_id, coalesce(s.done_at, s.checked_at, s.made_at), p.kind, p.work, p.says, coalesce(p.query, ''), s.work_step_id
                from work_step s join step_part p on p.work_step_id = s.work_step_id
                where s.status = 'live' and p.is_found = 1
                """,
                r => new MadeChange(r.Id<PageId>(0), Day(r.GetString(1)[..10]), ChangeSource.Step, KindOf(r.Enum<StepKind>(2), r.TextOrNull(3)), "", r.GetString(5) is { Length: > 0 } query ? $"for “{query}”" : r.GetString(4), StepId: r.Id<StepId>(6))),
            .. session.List(
                "select page_id, day, kind, note, entered_change_id from entered_change",
                r => new MadeChange(r.Id<PageId>(0), Day(r.GetString(1)), ChangeSource.Entered, r.Enum<ChangeKind>(2), "", r.GetString(3), EnteredId: r.Id<EnteredChangeId>(4))),
        ];
    }

    /// <returns>Its id.</returns>
    public static EnteredChangeId Enter(WriteSession session, PageId page, DateOnly day, ChangeKind kind, string note, DateTimeOffset now) => session.Id<EnteredChangeId>(
        "insert into entered_change (page_id, day, kind, note, made_at) values (@page, @day, @kind, @note, @now) returning entered_change_id",
        ("page", page), ("day", day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)), ("kind", kind.Stored()), ("note", note), ("now", now.UtcDateTime.ToString("O")));

    /// <returns>False where there is none.</returns>
    public static bool Remove(WriteSession session, EnteredChangeId id) => session.Execute("delete from entered_change where entered_change_id = @id", ("id", id)) > 0;

    private static string[] LinesOf(string lines) => lines.Split('\n', StringSplitOptions.RemoveEmptyEntries);

    private static ChangeKind KindOf(string seen) => seen switch
    {
        "title" => ChangeKind.Title,
        "description" => ChangeKind.Description,
        "h1" or "headings" => ChangeKind.Headings,
        "text" => ChangeKind.Text,
        "words" => ChangeKind.Words,
        "links" => ChangeKind.Links,
        _ => ChangeKind.Address,
    };

    private static ChangeKind KindOf(StepKind kind, string? work) => (kind, work) switch
    {
        (_, "title") => ChangeKind.Title,
        (_, "description") => ChangeKind.Description,
        (StepKind.Retitle, _) => ChangeKind.Title,
        (StepKind.Link, _) => ChangeKind.Links,
        (StepKind.Write or StepKind.Refresh or StepKind.Merge, _) => ChangeKind.Text,
        (StepKind.Redirect or StepKind.Canonical or StepKind.RemoveFromIndex, _) => ChangeKind.Address,
        _ => ChangeKind.Other,
    };

    private static DateOnly Day(string day) => DateOnly.ParseExact(day, "yyyy-MM-dd", CultureInfo.InvariantCulture);
}
