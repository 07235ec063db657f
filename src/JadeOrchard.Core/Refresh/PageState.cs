using System.Globalization;
using System.Text.RegularExpressions;

namespace JadeOrchard.Core.Refresh;

/// <summary>What is known of a page's search performance in a period.</summary>
public enum PageState
{
    /// <summary>It was shown, and for long enough.</summary>
    Shown,

    /// <summary>It is shown for less than 28 days: too new to judge.</summary>
    TooNew,

    /// <summary>It was shown before, but not in the period.</summary>
    NotInPeriod,

    /// <summary>It was never shown.</summary>
    Never,
}

/// <summary>Says in a sentence what is known of a page.</summary>
public static partial class PageStates
{
    /// <returns>One sentence, without a full stop; empty where the numbers speak for themselves.</returns>
    public static string Says(PageState state) => state switch
    {
        PageState.TooNew => "shown for less than 28 days, too new to judge",
        PageState.NotInPeriod => "not shown in this period, but before",
        PageState.Never => "never shown in search results",
        _ => "",
    };

    /// <returns>A year before the one of a day that a title mentions; null where it mentions none.</returns>
    /// <param name="title">As the page has it.</param>
    /// <param name="today">The day.</param>
    public static int? PastYear(string? title, DateOnly today) =>
        Years().Matches(title ?? "").Select(m => int.Parse(m.Value, CultureInfo.InvariantCulture)).Where(year => year < today.Year && year > today.Year - 15).Select(y => (int?)y).Max();

    // Not a part of a longer number: "iso 20150" is no year.
    [GeneratedRegex(@"(?<![\d.,])20\d\d(?![\d]|[.,]\d)")]
    private static partial Regex Years();
}
