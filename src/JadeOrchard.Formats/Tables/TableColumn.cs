namespace JadeOrchard.Formats.Tables;

/// <summary>A column that a kind of table can have.</summary>
/// <param name="Name">As in the header: "title_matches".</param>
/// <param name="IsRequired">A row without it cannot go in.</param>
/// <param name="Says">What it holds, for the planner who maps columns.</param>
public sealed record TableColumn(string Name, bool IsRequired, string Says);

/// <summary>The columns of each kind of table, in one place.</summary>
public static class TableColumns
{
    private static readonly TableColumn[] Keywords =
    [
        new("keyword", true, "The search phrase"),
        new("volume", false, "Searches per month, a whole number"),
        new("difficulty", false, "0 to 100"),
        new("title_matches", false, "Pages with every word in their title, a whole number"),
        new("intent", false, "Informational, commercial, transactional or navigational"),
        new("cpc", false, "Cost per click, a number"),
        new("monthly_volumes", false, "Searches of the last twelve or more months, separated by \"|\", the newest last"),
    ];

    private static readonly TableColumn[] Results =
    [
        new("keyword", true, "The search phrase"),
        new("position", true, "1 for the first result"),
        new("url", true, "The address of the result"),
        new("title", false, "Its title in the results"),
        new("snippet", false, "Its text in the results"),
        new("captured_at", false, "Date or date and time, ISO 8601"),
    ];

    private static readonly TableColumn[] Pages =
    [
        new("url", true, "The address of the page"),
        new("title", false, "The title element"),
        new("h1", false, "The main heading"),
        new("description", false, "The meta description"),
        new("words", false, "Words of the main text, a whole number"),
        new("h2", false, "Second headings, separated by \" | \""),
        new("h3", false, "Third headings, separated by \" | \""),
        new("text", false, "The main text"),
        new("language", false, "As the page says, such as en or fr-CA"),
    ];

    private static readonly TableColumn[] Performance =
    [
        new("query", false, "The search phrase; empty where it is not named"),
        new("page", true, "The address of the page that was shown"),
        new("date", true, "The day, ISO 8601"),
        new("clicks", true, "A whole number"),
        new("impressions", true, "A whole number"),
        new("position", true, "The average position, from 1"),
    ];

    public static IReadOnlyList<TableColumn> Of(TableKind kind) => kind switch
    {
        TableKind.Keywords => Keywords,
        TableKind.Results => Results,
        TableKind.Pages => Pages,
        TableKind.Performance => Performance,
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of table."),
    };

    /// <summary>The kind whose columns a header names best; null where it has the required ones of none.</summary>
    public static TableKind? KindOf(IReadOnlyList<string> header) =>
        Enum.GetValues<TableKind>()
            .Select(kind => (Kind: kind, Mapping: ColumnMapping.ByName(kind, header)))
            .Where(k => k.Mapping.Missing.Count == 0)
            .OrderByDescending(k => k.Mapping.Recognised)
            .Select(k => (TableKind?)k.Kind)
            .FirstOrDefault();
}
