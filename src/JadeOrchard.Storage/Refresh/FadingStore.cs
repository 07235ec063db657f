using JadeOrchard.Core.Refresh;

namespace JadeOrchard.Storage.Refresh;

/// <summary>A page that fades, with what it lost clicks by.</summary>
public sealed record StoredFading(PageId PageId, DateOnly Since, long Before, long Now, double Course, double P, ClickShift Shift)
{
    /// <summary>Clicks a month that it lost beyond the site's course.</summary>
    public double Lost => ((Before * Course) - Now) * 365.25 / 12 / Fading.Days;
}

/// <summary>Pages that fade, as the newest search performance tells.</summary>
public static class FadingStore
{
    /// <returns>Those that fade, the greatest loss first.</returns>
    public static IReadOnlyList<StoredFading> All(Session session) =>
    [
        .. session.List(
            "select page_id, since, clicks_before, clicks_now, site_course, p, by_position, by_searches, by_click_rate from fading_page",
            r => new StoredFading(
                r.Id<PageId>(0), DateOnly.FromDayNumber(r.GetInt32(1)), r.GetInt64(2), r.GetInt64(3), r.GetDouble(4), r.GetDouble(5), new ClickShift(r.GetDouble(6), r.GetDouble(7), r.GetDouble(8))))
            .OrderByDescending(f => f.Lost).ThenBy(f => f.PageId),
    ];

    /// <returns>What the pages were computed from.</returns>
    public static string Basis(Session session) => session.Scalar("select fading_basis from performance_state") as string ?? "";

    /// <summary>Replaces them.</summary>
    public static void Replace(WriteSession session, IEnumerable<StoredFading> pages, string basis)
    {
        session.Execute("delete from fading_page; update performance_state set fading_basis = @basis", ("basis", basis));
        foreach (var page in pages)
        {
            session.Execute(
                "insert into fading_page values (@page, @since, @before, @now, @course, @p, @position, @searches, @rate)",
                ("page", page.PageId), ("since", page.Since.DayNumber), ("before", page.Before), ("now", page.Now), ("course", page.Course), ("p", page.P),
                ("position", page.Shift.ByPosition), ("searches", page.Shift.BySearches), ("rate", page.Shift.ByClickRate));
        }
    }
}
