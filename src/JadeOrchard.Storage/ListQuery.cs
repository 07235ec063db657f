using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>Which rows of a list are wanted, in what order.</summary>
/// <param name="Search">Text that must stand in the row; null or empty for all.</param>
/// <param name="Sort">Name of a column; null or unknown for the list's own order.</param>
/// <param name="Descending">Greatest first.</param>
/// <param name="Offset">Rows to pass over.</param>
/// <param name="Limit">Rows at most.</param>
public sealed record ListQuery(string? Search = null, string? Sort = null, bool Descending = false, int Offset = 0, int Limit = 100)
{
    /// <summary>A search as a pattern for LIKE with "\" as its escape.</summary>
    internal static string Pattern(string search) =>
        "%" + search.Trim().Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_", StringComparison.Ordinal) + "%";
}

/// <summary>Part of a list, with the tally of the whole of it.</summary>
/// <param name="Rows">The rows that were asked for.</param>
/// <param name="Tally">Of all rows that the conditions let through.</param>
public sealed record ListPage<T>(IReadOnlyList<T> Rows, ListTally Tally);

/// <summary>What stands in the bar below a table.</summary>
/// <param name="Rows">How many rows.</param>
/// <param name="Keywords">How many keywords they stand for.</param>
/// <param name="Demand">Searches per month.</param>
/// <param name="MeanDifficulty">0 to 100; null where none is known.</param>
/// <param name="AtStake">Clicks per month, where the list has them.</param>
/// <param name="Captured">How many of the keywords have a result list, where the list tells.</param>
public sealed record ListTally(long Rows, long Keywords, long Demand, double? MeanDifficulty, double AtStake, long Captured);

/// <summary>A list as SQL: where its rows come from, and what can be asked of it.</summary>
/// <param name="Key">The column that tells rows apart.</param>
/// <param name="Columns">The select list.</param>
/// <param name="From">The from clause.</param>
/// <param name="Tally">Six expressions for <see cref="ListTally"/>.</param>
/// <param name="SearchIn">The expression that a search looks through.</param>
/// <param name="Sorts">For each name a column can be sorted by its expression.</param>
/// <param name="Order">The list's own order; also breaks ties, so it must tell all rows apart.</param>
internal sealed record ListSource<T>(
    string Key,
    string Columns,
    string From,
    string Tally,
    string SearchIn,
    IReadOnlyDictionary<string, string> Sorts,
    string Order,
    Func<SqliteDataReader, T> Read)
{
    /// <summary>The from clause that conditions, tally and most sorts need; the joins of <see cref="From"/> cost much at 100,000 rows.</summary>
    public string? Narrow { get; init; }

    /// <summary>Names of the columns that only <see cref="From"/> can be sorted by.</summary>
    public IReadOnlySet<string> WideSorts { get; init; } = new HashSet<string>();

    /// <param name="session">The transaction.</param>
    /// <param name="query">What is wanted.</param>
    /// <param name="conditions">SQL conditions, all of which must hold; empty ones are left out.</param>
    /// <param name="parameters">Their parameters.</param>
    public ListPage<T> Page(Session session, ListQuery query, IEnumerable<string?> conditions, params (string Name, object? Value)[] parameters)
    {
        var search = query.Search?.Trim() ?? "";
        var all = conditions.Where(c => !string.IsNullOrEmpty(c)).ToList();
        if (search.Length > 0)
            all.Add($"{SearchIn} like @search escape '\\'");
        var where = all.Count == 0 ? "" : "where " + string.Join(" and ", all);
        (string, object?)[] given =
        [
            .. parameters,
            ("search", ListQuery.Pattern(search)),
            ("limit", Math.Clamp(query.Limit, 0, int.MaxValue)),
            ("offset", Math.Max(0, query.Offset)),
        ];
        var sort = query.Sort is { } name && Sorts.TryGetValue(name, out var expression)
            // Rows without a value come last, whichever way the others go; an order that the list has anyway can use its index.
            ? query.Descending && Order.StartsWith($"{expression} desc,", StringComparison.Ordinal) ? "" : $"{expression} {(query.Descending ? "desc" : "asc nulls last")}, "
            : "";
        var narrow = Narrow is null || (query.Sort is not null && WideSorts.Contains(query.Sort)) ? From : Narrow;
        ListTally TallyOf(Session reader) => reader.First(
            $"select {Tally} from {Narrow ?? From} {where}",
            r => new ListTally(r.GetInt64(0), r.GetInt64(1), r.GetInt64(2), r.DoubleOrNull(3), r.GetDouble(4), r.GetInt64(5)),
            given)!;
        // Both go through all rows; each takes a core where it can.
        var beside = session.ReadsBeside is { } database ? Task.Run(() => database.Read(TallyOf)) : null;
        // The rows are chosen by key first, so that the joins for their columns are made for these alone.
        var rows = session.List(
            $"""
            select {Columns}
            from {From}
            where {Key} in (select {Key} from {narrow} {where} order by {sort}{Order} limit @limit offset @offset)
            order by {sort}{Order}
            """,
            Read,
            given);
        return new ListPage<T>(rows, beside?.GetAwaiter().GetResult() ?? TallyOf(session));
    }
}
