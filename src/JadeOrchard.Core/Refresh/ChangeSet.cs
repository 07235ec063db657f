namespace JadeOrchard.Core.Refresh;

/// <summary>What was changed about a page.</summary>
public enum ChangeKind
{
    Title,
    Description,
    Headings,
    Text,
    Words,
    Links,

    /// <summary>Its status, its canonical, or whether it is indexable.</summary>
    Address,

    Other,
}

/// <summary>How a change is known.</summary>
public enum ChangeSource
{
    Scan,
    Step,
    Entered,
}

/// <summary>A change of a page.</summary>
/// <param name="Before">What it was before, one line each; empty if there was nothing.</param>
/// <param name="After">What it is.</param>
/// <param name="StepId">The step that went live; null for other sources.</param>
/// <param name="EnteredId">The entry; null for other sources.</param>
public sealed record MadeChange(PageId PageId, DateOnly Day, ChangeSource Source, ChangeKind Kind, string Before, string After, StepId? StepId = null, EnteredChangeId? EnteredId = null);

/// <summary>Changes of a page so close together that what they did cannot be told apart.</summary>
/// <param name="Day">The first day.</param>
/// <param name="LastDay">The last one.</param>
public sealed record ChangeSet(PageId PageId, DateOnly Day, DateOnly LastDay, IReadOnlyList<MadeChange> Changes)
{
    /// <summary>Changes with fewer days between them are one: the days after the first are no measure of it alone.</summary>
    public const int DaysApart = ChangeEffect.FewestDays;

    /// <summary>Each once, in the order of the kinds.</summary>
    public IReadOnlyList<ChangeKind> Kinds { get; } = [.. Changes.Select(c => c.Kind).Distinct().Order()];

    /// <returns>All changes, those of a page that are close together as one; the newest first, then by page.</returns>
    public static IReadOnlyList<ChangeSet> Of(IEnumerable<MadeChange> changes)
    {
        var sets = new List<ChangeSet>();
        foreach (var page in changes.GroupBy(c => c.PageId))
        {
            var some = new List<MadeChange>();
            foreach (var change in page.OrderBy(c => c.Day).ThenBy(c => c.Kind).ThenBy(c => c.Source).ThenBy(c => c.StepId).ThenBy(c => c.EnteredId).ThenBy(c => c.After, StringComparer.Ordinal))
            {
                if (some.Count > 0 && change.Day.DayNumber - some[^1].Day.DayNumber >= DaysApart)
                    Close(some);
                some.Add(change);
            }

            Close(some);
        }

        return [.. sets.OrderByDescending(s => s.Day).ThenBy(s => s.PageId)];

        void Close(List<MadeChange> some)
        {
            sets.Add(new ChangeSet(some[0].PageId, some[0].Day, some[^1].Day, [.. some]));
            some.Clear();
        }
    }

    /// <returns>For each set the pages that changed so near in time that they are no measure of it, the page itself too.</returns>
    /// <param name="sets">All sets.</param>
    /// <param name="pageOf">Index of a page; -1 where it has none.</param>
    public static IReadOnlyList<IReadOnlySet<int>> Near(IReadOnlyList<ChangeSet> sets, Func<PageId, int> pageOf)
    {
        // Sets of the same day have the same neighbours, and after a redesign that is all pages.
        var ofDay = new Dictionary<DateOnly, IReadOnlySet<int>>();
        return [.. sets.Select(s => ofDay.TryGetValue(s.Day, out var known) ? known : ofDay[s.Day] = NearDay(s.Day))];

        HashSet<int> NearDay(DateOnly day) =>
            [.. sets.Where(o => o.LastDay.DayNumber > day.DayNumber - ChangeEffect.DaysBefore && o.Day.DayNumber < day.DayNumber + ChangeEffect.DaysBefore).Select(o => pageOf(o.PageId)).Where(p => p >= 0)];
    }
}
