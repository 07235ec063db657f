using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>One transaction, through which stores read and write.</summary>
public sealed class Session(SqliteConnection connection, SqliteTransaction transaction, Database? readsBeside = null, long writes = -1)
{
    /// <summary>Where something else can be read at the same time; null within a write, whose changes only it sees.</summary>
    internal Database? ReadsBeside => readsBeside;

    /// <summary>How many transactions had been written when a read began: as long as it is the same, so are the data. -1 within a write.</summary>
    public long Writes => writes;

    /// <summary>A command of this transaction.</summary>
    /// <param name="sql">One statement or several.</param>
    /// <param name="parameters">Names without "@"; null becomes NULL.</param>
    public SqliteCommand Command(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        var command = connection.CreateCommand();
        command.Transaction = transaction;
        command.CommandText = sql;
        foreach (var (name, value) in parameters)
            command.Parameters.AddWithValue("@" + name, value ?? DBNull.Value);
        return command;
    }

    /// <returns>Number of rows changed.</returns>
    public int Execute(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(sql, parameters);
        return command.ExecuteNonQuery();
    }

    /// <returns>The first value of the first row; null where there is none.</returns>
    public object? Scalar(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(sql, parameters);
        var value = command.ExecuteScalar();
        return value is DBNull ? null : value;
    }

    /// <returns>The first value of the first row as a whole number; 0 where there is none.</returns>
    public long Count(string sql, params ReadOnlySpan<(string Name, object? Value)> parameters) =>
        Scalar(sql, parameters) is long count ? count : 0;

    /// <returns>All rows.</returns>
    public List<T> List<T>(string sql, Func<SqliteDataReader, T> read, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(sql, parameters);
        using var reader = command.ExecuteReader();
        var rows = new List<T>();
        while (reader.Read())
            rows.Add(read(reader));
        return rows;
    }

    /// <returns>The first row; null where there is none.</returns>
    public T? First<T>(string sql, Func<SqliteDataReader, T> read, params ReadOnlySpan<(string Name, object? Value)> parameters)
        where T : class
    {
        using var command = Command(sql, parameters);
        using var reader = command.ExecuteReader();
        return reader.Read() ? read(reader) : null;
    }
}

/// <summary>Reads columns that may be NULL.</summary>
internal static class NullableColumns
{
    public static string? TextOrNull(this SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetString(column);

    public static long? LongOrNull(this SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetInt64(column);

    public static int? IntOrNull(this SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetInt32(column);

    public static double? DoubleOrNull(this SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetDouble(column);

    /// <summary>Enumerations are stored by name in lower case.</summary>
    public static T? EnumOrNull<T>(this SqliteDataReader reader, int column)
        where T : struct, Enum => reader.IsDBNull(column) ? null : System.Enum.Parse<T>(reader.GetString(column), ignoreCase: true);

    public static T Enum<T>(this SqliteDataReader reader, int column)
        where T : struct, Enum => System.Enum.Parse<T>(reader.GetString(column), ignoreCase: true);

    public static string Stored<T>(this T value)
        where T : struct, Enum => value.ToString().ToLowerInvariant();
}
