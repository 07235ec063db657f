using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage;

namespace JadeOrchard.Server.Refresh;

/// <summary>Which queries are wanted; what is null asks nothing.</summary>
/// <param name="Marks">All of these marks, by name and separated by commas.</param>
/// <param name="WithoutMarks">None of these marks.</param>
/// <param name="In">All of these words, separated by commas.</param>
/// <param name="Out">None of these words.</param>
/// <param name="Folder">The address of the page begins with this path.</param>
/// <param name="LeastAtStake">Clicks a month.</param>
/// <param name="LeastPosition">Average position.</param>
/// <param name="OlderThan">Months since the page was last changed, at least.</param>
/// <param name="Irrelevant">True for those that the planner called irrelevant alone; without it they are left out.</param>
/// <param name="IsFading">Only pages that fade.</param>
/// <param name="PageType">Only pages whose main cluster has this intent, which tells their type: guide, comparison, shop page, page about the site.</param>
public sealed record QueryFilter(
    string? Marks = null, string? WithoutMarks = null, string? In = null, string? Out = null, string? Folder = null, PageId? PageId = null, ClusterId? ClusterId = null, TopicId? TopicId = null, double? LeastAtStake = null,
    long? LeastClicks = null, long? MostClicks = null, long? LeastImpressions = null, double? LeastPosition = null, double? MostPosition = null, int? OlderThan = null, bool? Irrelevant = null, bool? IsFading = null,
    Intent? PageType = null)
{
    private const int MostMonths = 1_200;

    /// <returns>What is wrong and with which field; null where nothing is.</returns>
    public SettingFault? Fault()
    {
        foreach (var (field, marks) in new[] { ("marks", Marks), ("withoutMarks", WithoutMarks) })
        {
            if (Split(marks).FirstOrDefault(m => QueryMarks.All.All(known => QueryMarks.NameOf(known) != m)) is { } unknown)
                return new SettingFault(field, $"There is no mark “{unknown}”. The marks are {string.Join(", ", QueryMarks.All.Select(QueryMarks.NameOf))}.");
        }

        return null;
    }

    /// <param name="board">The queries.</param>
    /// <param name="search">Text that must be in the query or the address.</param>
    /// <param name="today">By which ages are told.</param>
    internal List<MarkedQuery> Of(QueryBoard board, string? search, DateOnly today)
    {
        var (all, none) = (MarksOf(Marks), MarksOf(WithoutMarks));
        PhraseMatcher[] with = [.. Split(In).Select(w => new PhraseMatcher([w], null, null, null))], without = [.. Split(Out).Select(w => new PhraseMatcher([w], null, null, null))];
        var pages = PagesOf(board, today);
        var wanted = search?.Trim() ?? "";
        var daily = board.Image.Daily;
        var least = LeastAtStake is { } stake ? stake / board.Monthly(1) : double.NegativeInfinity;
        var found = new List<MarkedQuery>(board.Rows.Length);
        foreach (var row in board.Rows)
        {
            if ((row.Marks & all) != all || (row.Marks & none) != 0 || row.Marks.HasFlag(QueryMark.Irrelevant) != (Irrelevant ?? false) || row.AtStake < least
                || row.Now.Clicks < (LeastClicks ?? 0) || row.Now.Clicks > (MostClicks ?? long.MaxValue) || row.Now.Impressions < (LeastImpressions ?? 0)
                || row.Now.Position < (LeastPosition ?? 0) || row.Now.Position > (MostPosition ?? double.MaxValue))
                continue;
            var (page, query) = (daily.PageOf(row.Pair), daily.QueryOf(row.Pair));
            if (pages is not null && !pages[page])
                continue;
            if (ClusterId is { } cluster && board.HomeOf(query)?.ClusterId != cluster)
                continue;
            if (with.Length + without.Length > 0 && KeywordWords.Padded(board.Image.Forms[query]) is var padded && (with.Any(w => w.Find(padded) is null) || without.Any(w => w.Find(padded) is not null)))
                continue;
            if (wanted.Length > 0 && !board.Image.Phrases[query].Contains(wanted, StringComparison.OrdinalIgnoreCase) && !board.Snapshot.Pages[page].Url.Contains(wanted, StringComparison.OrdinalIgnoreCase))
                continue;
            found.Add(row);
        }

        return found;
    }

    /// <returns>For each page whether it is wanted; null where nothing is asked of pages.</returns>
    internal bool[]? PagesOf(QueryBoard board, DateOnly today)
    {
        if (Folder is null && PageId is null && TopicId is null && OlderThan is null && IsFading is null && PageType is null)
            return null;
        var wanted = new bool[board.Snapshot.Pages.Count];
        var oldest = today.AddMonths(-Math.Clamp(OlderThan ?? 0, 0, MostMonths));
        var folder = Folder?.Trim('/') is { Length: > 0 } path ? $"/{path}/" : null;
        for (var page = 0; page < wanted.Length; page++)
        {
            var age = board.Ages.GetValueOrDefault(board.Snapshot.PageIds[page]);
            wanted[page] = (PageId is null || board.Snapshot.PageIds[page] == PageId)
                && (folder is null || (Uri.TryCreate(board.Snapshot.Pages[page].Url, UriKind.Absolute, out var url) && (url.AbsolutePath + "/").StartsWith(folder, StringComparison.OrdinalIgnoreCase)))
                && (TopicId is null || age?.TopicId == TopicId)
                && (PageType is null || age?.Intent == PageType)
                && (OlderThan is null || age?.Newest <= oldest)
                && (IsFading is null || board.Fading.ContainsKey(board.Snapshot.PageIds[page]) == IsFading);
        }

        return wanted;
    }

    private static QueryMark MarksOf(string? names) => Split(names).Aggregate(QueryMark.None, (marks, name) => marks | QueryMarks.All.FirstOrDefault(m => QueryMarks.NameOf(m) == name));

    private static string[] Split(string? names) => (names ?? "").Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
}
