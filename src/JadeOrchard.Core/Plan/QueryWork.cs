using System.Globalization;
using JadeOrchard.Core.Refresh;

namespace JadeOrchard.Core.Plan;

/// <summary>What is done on a page for a query for which it is shown.</summary>
public enum QueryWork
{
    /// <summary>The page mentions it.</summary>
    Mention,

    /// <summary>The page answers it in a few sentences.</summary>
    Answer,

    /// <summary>The page gets a section about it.</summary>
    Section,

    /// <summary>The page gets a title that wins more clicks.</summary>
    Title,

    /// <summary>The page gets a description that wins more clicks.</summary>
    Description,
}

/// <summary>What work for a query is called, and when it is done.</summary>
public static class QueryWorkText
{
    /// <returns>"Mention “kayak hire”".</returns>
    public static string Says(QueryWork work, string query) => work switch
    {
        QueryWork.Mention => $"Mention “{query}”",
        QueryWork.Answer => $"Answer “{query}”",
        QueryWork.Section => $"Add a section on “{query}”",
        QueryWork.Title => $"Change the title for “{query}”",
        QueryWork.Description => $"Change the description for “{query}”",
        _ => throw new ArgumentOutOfRangeException(nameof(work), work, "Not work for a query."),
    };

    /// <summary>Why it is done, and where it belongs.</summary>
    /// <param name="impressions">How often the page was shown for it in the period.</param>
    /// <param name="position">Average; null without impressions.</param>
    /// <param name="clickRate">Clicks for each impression; likewise.</param>
    /// <param name="expectedRate">What the position earns.</param>
    /// <param name="mentions">How often the page mentions it; null where its text was not read.</param>
    /// <param name="work">What is done.</param>
    /// <param name="passage">The sentence of the page that comes closest; null for none.</param>
    public static string Because(long impressions, double? position, double? clickRate, double expectedRate, int? mentions, QueryWork work, string? passage)
    {
        var shown = string.Create(CultureInfo.InvariantCulture, $"shown {impressions:N0} times{(position is { } at ? $" at position {at:0.0}" : "")}");
        var reason = work switch
        {
            QueryWork.Title or QueryWork.Description when clickRate is { } rate => string.Create(CultureInfo.InvariantCulture, $"; {100 * rate:0.0} % click, the position earns {100 * expectedRate:0.0} %"),
            _ when mentions == 0 => ", never mentioned",
            _ when mentions == 1 => ", mentioned once",
            _ when mentions is { } count => string.Create(CultureInfo.InvariantCulture, $", mentioned {count} times"),
            _ => "",
        };
        return $"{shown}{reason}{(passage is null ? work is QueryWork.Mention or QueryWork.Answer ? "; no passage comes close, so give it a heading" : "" : $"; closest passage: “{passage}”")}";
    }

    /// <summary>The kind of the step that it is a part of.</summary>
    public static StepKind KindOf(QueryWork work) => work == QueryWork.Title ? StepKind.Retitle : StepKind.Refresh;

    /// <summary>Whether the work for a query is on the site.</summary>
    /// <param name="work">What was to be done.</param>
    /// <param name="query">The query.</param>
    /// <param name="mention">Where the page mentions it now; null where its text was not read.</param>
    /// <param name="before">The description that was to be changed; null for other work.</param>
    /// <param name="description">The description now.</param>
    /// <returns>Whether it was found, and what was.</returns>
    public static (bool IsFound, string Says) Check(QueryWork work, string query, Mention? mention, string? before, string? description) => work switch
    {
        QueryWork.Description => before == (description ?? "") ? (false, "the description is still the same") : (true, $"the description is “{description}” now"),
        _ when mention is null => (false, "its text was not read; a full scan reads it"),
        QueryWork.Section => mention.Value.Places.HasFlag(MentionPlace.Headings) || mention.Value.Places.HasFlag(MentionPlace.H1) ? (true, $"a heading has “{query}”") : (false, $"no heading has “{query}”"),
        _ => mention.Value.Count > 0 ? (true, $"the page mentions “{query}”") : (false, $"the page does not mention “{query}”"),
    };
}
