using System.Globalization;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Refresh;

/// <summary>What stands out about a query on a page (DESIGN.md 4.17); several may.</summary>
[Flags]
public enum QueryMark
{
    None = 0,

    /// <summary>The page never mentions it.</summary>
    NotMentioned = 1 << 0,

    /// <summary>Its average position is just below page one.</summary>
    BelowPageOne = 1 << 1,

    /// <summary>It gets fewer clicks than its position earns, beyond chance.</summary>
    UnderClicked = 1 << 2,

    /// <summary>It asks something.</summary>
    Question = 1 << 3,

    /// <summary>The page was not shown for it in the period that is compared with.</summary>
    New = 1 << 4,

    /// <summary>It was shown more often than then, beyond chance.</summary>
    Rising = 1 << 5,

    /// <summary>It was shown less often than then, beyond chance.</summary>
    Falling = 1 << 6,

    /// <summary>It is another page's.</summary>
    OtherPage = 1 << 7,

    /// <summary>The planner doesn't want to be found for it.</summary>
    Irrelevant = 1 << 8,
}

/// <summary>Marks the queries of pages.</summary>
public static class QueryMarks
{
    /// <summary>Results of a first page.</summary>
    private const int PageOne = 10;

    /// <summary>The last position that is just below page one.</summary>
    private const int Below = 20;

    /// <summary>Places that a page can gain by being improved; from below page one it reaches its end (from memory).</summary>
    private const int Reach = 3;

    /// <summary>Pages younger than this are too new to judge (common practice: a month).</summary>
    public const int NewDays = 28;

    /// <summary>All marks, in order.</summary>
    public static IReadOnlyList<QueryMark> All { get; } = [.. Enum.GetValues<QueryMark>().Where(m => m != QueryMark.None)];

    /// <summary>A mark is written as its words: "not-mentioned".</summary>
    public static string NameOf(QueryMark mark) => mark switch
    {
        QueryMark.NotMentioned => "not-mentioned",
        QueryMark.BelowPageOne => "below-page-one",
        QueryMark.UnderClicked => "under-clicked",
        QueryMark.OtherPage => "other-page",
        _ => mark.ToString().ToLower(CultureInfo.InvariantCulture),
    };

    /// <returns>The names of some marks, in order.</returns>
    public static IEnumerable<string> NamesOf(QueryMark marks) => All.Where(m => marks.HasFlag(m)).Select(NameOf);

    /// <param name="now">The query on the page in the period.</param>
    /// <param name="before">In the period that it is compared with; null where nothing is known of it.</param>
    /// <param name="mentions">How often the page mentions it; null where its text is not known.</param>
    /// <param name="isQuestion">It asks something.</param>
    /// <param name="isOfOtherPage">It is another page's.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    /// <param name="exposure">For each day that is known of the period before, days that are known of this one.</param>
    public static QueryMark Of(QuerySpan now, QuerySpan? before, int? mentions, bool isQuestion, bool isOfOtherPage, ClickCurve curve, double exposure = 1)
    {
        var marks = QueryMark.None;
        if (mentions == 0)
            marks |= QueryMark.NotMentioned;
        if (now.Position is > PageOne and <= Below)
            marks |= QueryMark.BelowPageOne;
        if (now.Impressions > 0 && WilsonInterval.Of(now.Clicks, now.Impressions).Upper < curve.At(now.Position))
            marks |= QueryMark.UnderClicked;
        if (isQuestion)
            marks |= QueryMark.Question;
        if (before is { } earlier)
        {
            if (earlier.Impressions == 0)
                marks |= QueryMark.New;
            else if (TwoRates.Fewer(earlier.Impressions, now.Impressions, 1 / exposure) < FalseDiscoveries.Usual / 2)
                marks |= QueryMark.Rising;
            else if (TwoRates.Fewer(now.Impressions, earlier.Impressions, exposure) < FalseDiscoveries.Usual / 2)
                marks |= QueryMark.Falling;
        }

        return isOfOtherPage ? marks | QueryMark.OtherPage : marks;
    }

    /// <returns>Clicks that could be won in the period: impressions times what the position within reach earns beyond this one.</returns>
    public static double AtStake(QuerySpan span, ClickCurve curve) => span.Impressions * Math.Max(0, curve.At(WithinReach(span.Position)) - curve.At(span.Position));

    /// <returns>The position within reach of another.</returns>
    public static double WithinReach(double position) => position > PageOne ? PageOne : Math.Max(1, position - Reach);
}
