namespace JadeOrchard.Formats.Tables;

/// <summary>Which column of a file holds which of the columns that a kind of table can have.</summary>
public sealed class ColumnMapping
{
    private readonly int[] _places;

    private ColumnMapping(TableKind kind, int[] places)
    {
        Kind = kind;
        _places = places;
    }

    public TableKind Kind { get; }

    /// <summary>How many columns have a place.</summary>
    public int Recognised => _places.Count(p => p >= 0);

    /// <summary>Required columns without a place.</summary>
    public IReadOnlyList<string> Missing =>
        [.. TableColumns.Of(Kind).Where((c, i) => c.IsRequired && _places[i] < 0).Select(c => c.Name)];

    /// <summary>By the names in the header; case, spaces and dashes do not matter ("Title matches" is title_matches).</summary>
    public static ColumnMapping ByName(TableKind kind, IReadOnlyList<string> header)
    {
        var names = header.Select(Plain).ToList();
        return new ColumnMapping(kind, [.. TableColumns.Of(kind).Select(c => names.IndexOf(c.Name))]);
    }

    /// <summary>As the planner mapped it: for a column's name the place in the file, from 0; names that are left out have none.</summary>
    public static ColumnMapping ByHand(TableKind kind, IReadOnlyDictionary<string, int> places) =>
        new(kind, [.. TableColumns.Of(kind).Select(c => places.GetValueOrDefault(c.Name, -1))]);

    /// <param name="column">Place of the column in <see cref="TableColumns.Of"/>.</param>
    /// <returns>Its place in the file, from 0; -1 where it has none.</returns>
    public int this[int column] => _places[column];

    /// <returns>For each recognised column its name and place.</returns>
    public Dictionary<string, int> ToDictionary() => TableColumns.Of(Kind)
        .Select((c, i) => (c.Name, Place: _places[i]))
        .Where(c => c.Place >= 0)
        .ToDictionary(c => c.Name, c => c.Place);

    private static string Plain(string name) => name.Trim().ToLowerInvariant().Replace(' ', '_').Replace('-', '_');
}
