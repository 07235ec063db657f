using System.Text.Json;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>Which rows of a list are wanted, in what order.</summary>
/// <param name="Search">Text that must be in the row; null or empty for all.</param>
/// <param name="Sort">Name of a column; null or unknown for the list's own order.</param>
/// <param name="Descending">Greatest first.</param>
/// <param name="Offset">Rows to pass over.</param>
/// <param name="Limit">Rows at most.</param>
/// <param name="Find">The id of a row whose place in the list is wanted; null for none.</param>
public sealed record ListQuery(string? Search = null, string? Sort = null, bool Descending = false, int Offset = 0, int Limit = 100, string? Find = null)
{
    /// <returns>Where the row that is looked for stands, from 0; null where none is, or it is not among them.</returns>
    public int? PlaceOf<T>(IReadOnlyList<T> rows, Func<T, string> idOf)
    {
        for (var i = 0; Find is not null && i < rows.Count; i++)
        {
            if (idOf(rows[i]) == Find)
                return i;
        }

        return null;
    }

    /// <summary>A search as a pattern for LIKE with "\" as its escape.</summary>
    internal static string Pattern(string search) =>
        "%" + search.Trim().Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_", StringComparison.Ordinal) + "%";
}

/// <summary>Part of a list, with the tally of the whole of it.</summary>
/// <param name="Rows">The rows that were asked for.</param>
/// <param name="Tally">Of all rows that the conditions let through.</param>
public sealed record ListPage<T>(IReadOnlyList<T> Rows, ListTally Tally);

/// <summary>The totals in the bar below a table.</summary>
/// <param name="Rows">How many rows.</param>
/// <param name="Keywords">How many keywords they represent.</param>
/// <param name="Demand">Searches per month.</param>
/// <param name="MeanDifficulty">0 to 100; null where none is known.</param>
/// <param name="AtStake">Clicks per month, where the list has them.</param>
/// <param name="Captured">How many of the keywords have a result list, where the list tells.</param>
/// <param name="Place">Where the row that was looked for stands, from 0; null where none was, or the list does not have it.</param>
public sealed record ListTally(long Rows, long Keywords, long Demand, double? MeanDifficulty, double AtStake, long Captured, long? Place = null);

/// <summary>A list as SQL: where its rows come from, and what can be asked of it.</summary>
/// <param name="Key">The column that tells rows apart.</param>
/// <param name="Columns">The select list.</param>
/// <param name="From">The from clause.</param>
/// <param name="Tally">Six expressions for <see cref="ListTally"/>.</param>
/// <param name="Search">The condition that a search makes, with @search as the pattern for <see cref="Like"/>.</param>
/// <param name="Sorts">For each name a column can be sorted by its expression.</param>
/// <param name="Order">The list's own order; also breaks ties, so it must tell all rows apart.</param>
internal sealed record ListSource<T>(
    string Key,
    string Columns,
    string From,
    string Tally,
    string Search,
    IReadOnlyDictionary<string, string> Sorts,
    string Order,
    Func<SqliteDataReader, T> Read)
{
    /// <summary>The from clause that conditions, tally and most sorts need; the joins of <see cref="From"/> cost much at 100,000 rows.</summary>
    public string? Narrow { get; init; }

    /// <summary>As <see cref="From"/>, with sums of only those rows whose keys are in "chosen".</summary>
    public string? FromChosen { get; init; }

    /// <summary>Names of the columns that only <see cref="From"/> can be sorted by.</summary>
    public IReadOnlySet<string> WideSorts { get; init; } = new HashSet<string>();

    /// <summary>Whether <see cref="Search"/> needs <see cref="From"/>.</summary>
    public bool SearchIsWide { get; init; }

    /// <summary>Pages beyond this many rows are read from the nearer end.</summary>
    private const int DeepOffset = 1000;

    /// <summary>That an expression contains what is searched for.</summary>
    public static string Like(string expression) => $"{expression} like @search escape '\\'";

    // A bound may be beyond all numbers.
    private static readonly JsonSerializerOptions AnyNumber = new() { NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.AllowNamedFloatingPointLiterals };

    /// <param name="session">The transaction.</param>
    /// <param name="query">What is wanted.</param>
    /// <param name="conditions">SQL conditions, all of which must hold; empty ones are left out.</param>
    /// <param name="parameters">Their parameters.</param>
    public ListPage<T> Page(Session session, ListQuery query, IEnumerable<string?> conditions, params (string Name, object? Value)[] parameters)
    {
        var search = query.Search?.Trim() ?? "";
        var all = conditions.Where(c => !string.IsNullOrEmpty(c)).ToList();
        if (search.Length > 0)
            all.Add(Search);
        var where = all.Count == 0 ? "" : "where " + string.Join(" and ", all);
        (string, object?)[] given =
        [
            .. parameters,
            ("search", ListQuery.Pattern(search)),
        ];
        var order = OrderOf(query);
        // A search may look through columns that come by the joins alone.
        var needed = Narrow is null || (search.Length > 0 && SearchIsWide) ? From : Narrow;
        var narrow = query.Sort is not null && WideSorts.Contains(query.Sort) ? From : needed;
        var tallySql = $"select {Tally} from {needed} {where}";
        ListTally TallyOf(Session reader) => reader.First(
            tallySql,
            r => new ListTally(r.GetInt64(0), r.GetInt64(1), r.GetInt64(2), r.DoubleOrNull(3), r.GetDouble(4), r.GetInt64(5)),
            given)!;
        // Both go through all rows; each takes a core where it can.
        var beside = session.ReadsBeside is { } database
            ? Task.Run(() => database.Tallies.Of(database.Writes, JsonSerializer.Serialize<object?[]>([tallySql, .. given.Select(p => p.Item2)], AnyNumber), () => database.Read(TallyOf)))
            : null;
        var (first, limit, offset) = (order, query.Limit, query.Offset);
        ListTally? tally = null;
        if (offset > DeepOffset && offset > session.Count($"select count(*) from {From.Split(' ', 2)[0]}") / 2)
        {
            // SQLite keeps all rows up to the last one wanted in order, so what is nearer to the end is looked for from there.
            tally = beside?.GetAwaiter().GetResult() ?? TallyOf(session);
            if (offset > tally.Rows / 2)
            {
                first = [.. order.Select(o => o.Reversed())];
                limit = (int)Math.Clamp(tally.Rows - offset, 0, limit);
                offset = (int)Math.Max(0, tally.Rows - offset - limit);
            }
        }

        // The rows are chosen by key first, so that the joins for their columns are made for these alone.
        var rows = session.List(
            $"""
            with chosen as materialized (select {Key} as key from {narrow} {where} order by {string.Join(", ", first)} limit @limit offset @offset)
            select {Columns}
            from {FromChosen ?? From}
            where {Key} in (select key from chosen)
            order by {string.Join(", ", order)}
            """,
            Read,
            [.. given, ("limit", Math.Clamp(limit, 0, int.MaxValue)), ("offset", Math.Max(0, offset))]);
        tally ??= beside?.GetAwaiter().GetResult() ?? TallyOf(session);
        return new ListPage<T>(rows, query.Find is null ? tally : tally with { Place = Place() });

        long? Place() => session.List(
            $"select place from (select cast({Key} as text) as key, row_number() over (order by {string.Join(", ", order)}) - 1 as place from {narrow} {where}) where key = @find",
            r => (long?)r.GetInt64(0),
            [.. given, ("find", query.Find)]).FirstOrDefault();
    }

    private List<OrderTerm> OrderOf(ListQuery query)
    {
        var own = Order.Split(", ").Select(o => o.EndsWith(" desc", StringComparison.Ordinal) ? new OrderTerm(o[..^5], true) : new OrderTerm(o, false)).ToList();
        // An order that the list has anyway can use its index.
        return query.Sort is { } name && Sorts.TryGetValue(name, out var expression) && new OrderTerm(expression, query.Descending) is var sort && (sort != own[0] || !sort.IsDescending)
            ? [sort with { NullsLast = true }, .. own]
            : own;
    }
}

/// <summary>An expression that rows are ordered by.</summary>
/// <param name="NullsLast">Rows without a value come last, whichever way the others go; else they count as the least.</param>
internal readonly record struct OrderTerm(string Expression, bool IsDescending, bool NullsLast = false, bool NullsFirst = false)
{
    /// <summary>The same order from its end.</summary>
    public OrderTerm Reversed() => new(Expression, !IsDescending, NullsFirst, NullsLast);

    public override string ToString() => Expression + (IsDescending ? " desc" : "") + (NullsLast ? " nulls last" : NullsFirst ? " nulls first" : "");
}
