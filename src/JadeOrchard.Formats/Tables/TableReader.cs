namespace JadeOrchard.Formats.Tables;

/// <summary>Reads the rows of a file into values, rejecting those at fault.</summary>
public static class TableReader
{
    /// <param name="file">An opened file.</param>
    /// <param name="mapping">Where its columns are.</param>
    /// <param name="read">Makes a value of the fields of a row; what it returns is dropped where the fields were rejected.</param>
    /// <exception cref="TableFormatException">A required column is missing.</exception>
    public static IEnumerable<TableRow<T>> Read<T>(TableFile file, ColumnMapping mapping, Func<Fields, T?> read)
        where T : class
    {
        if (mapping.Missing.Count > 0)
        {
            throw new TableFormatException(
                $"There is no column named {string.Join(" and none named ", mapping.Missing)}. The columns are: {string.Join(", ", file.Header)}.");
        }

        return Rows(file, mapping, read);
    }

    private static IEnumerable<TableRow<T>> Rows<T>(TableFile file, ColumnMapping mapping, Func<Fields, T?> read)
        where T : class
    {
        var fields = new Fields(mapping);
        foreach (var (line, row) in file.Rows())
        {
            if (row.Value is null)
            {
                yield return new(null, row.Rejected);
                continue;
            }

            fields.Begin(line, row.Value);
            var value = read(fields);
            yield return fields.Rejected is { } rejected ? new(null, rejected) : new(value, null);
        }
    }
}
