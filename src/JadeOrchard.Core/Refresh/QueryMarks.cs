using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Refresh;

/// <summary>What stands out about a query on a page (DESIGN.md 4.17).</summary>
public enum QueryMark
{
    NotMentioned,
    BelowPageOne,
    UnderClicked,
    Question,
    New,
    Rising,
    Falling,
    OtherPage,
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

    /// <summary>A mark is written as its words: "not-mentioned".</summary>
    public static string NameOf(QueryMark mark) => mark switch
    {
        QueryMark.NotMentioned => "not-mentioned",
        QueryMark.BelowPageOne => "below-page-one",
        QueryMark.UnderClicked => "under-clicked",
        QueryMark.OtherPage => "other-page",
        _ => mark.ToString().ToLowerInvariant(),
    };

    /// <param name="now">The query on the page in the period.</param>
    /// <param name="before">In the period before; null where nothing is known of it.</param>
    /// <param name="mentions">How often the page mentions it; null where its text is not known.</param>
    /// <param name="isQuestion">It asks something.</param>
    /// <param name="isOfOtherPage">It is another page's.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    public static IReadOnlyList<QueryMark> Of(QuerySpan now, QuerySpan? before, int? mentions, bool isQuestion, bool isOfOtherPage, ClickCurve curve)
    {
        var marks = new List<QueryMark>();
        if (mentions == 0)
            marks.Add(QueryMark.NotMentioned);
        if (now.Position is > PageOne and <= Below)
            marks.Add(QueryMark.BelowPageOne);
        if (now.Impressions > 0 && WilsonInterval.Of(now.Clicks, now.Impressions).Upper < curve.At(now.Position))
            marks.Add(QueryMark.UnderClicked);
        if (isQuestion)
            marks.Add(QueryMark.Question);
        if (before is { } earlier)
        {
            if (earlier.Impressions == 0)
                marks.Add(QueryMark.New);
            else if (TwoRates.Fewer(earlier.Impressions, now.Impressions, 1) < FalseDiscoveries.Usual / 2)
                marks.Add(QueryMark.Rising);
            else if (TwoRates.Fewer(now.Impressions, earlier.Impressions, 1) < FalseDiscoveries.Usual / 2)
                marks.Add(QueryMark.Falling);
        }

        if (isOfOtherPage)
            marks.Add(QueryMark.OtherPage);
        return marks;
    }

    /// <returns>Clicks that could be won in the period: impressions times what the position within reach earns beyond this one.</returns>
    public static double AtStake(QuerySpan span, ClickCurve curve) => span.Impressions * Math.Max(0, curve.At(WithinReach(span.Position)) - curve.At(span.Position));

    /// <returns>The position within reach of another.</returns>
    public static double WithinReach(double position) => position > PageOne ? PageOne : Math.Max(1, position - Reach);
}
