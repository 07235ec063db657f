using Microsoft.Data.Sqlite;

namespace JadeOrchard.StandIns;

/// <summary>Answers by the key of their request, so that a request that is repeated is not worked for, and charged, twice.</summary>
public sealed class AnswerLog : IDisposable
{
    private readonly SqliteConnection _connection;
    private readonly Lock _lock = new();

    /// <param name="folder">Where the log is kept from one start to the next; null to forget it.</param>
    public AnswerLog(string? folder)
    {
        if (folder is not null)
            Directory.CreateDirectory(folder);
        _connection = new SqliteConnection(folder is null ? "Data Source=:memory:" : $"Data Source={Path.Combine(folder, "answers.db")}");
        _connection.Open();
        Run("pragma journal_mode = wal; create table if not exists answer (key text primary key, body text not null) strict, without rowid");
    }

    /// <returns>The answer that was given before; null where there was none.</returns>
    public string? Find(string key)
    {
        lock (_lock)
        {
            using var command = _connection.CreateCommand();
            command.CommandText = "select body from answer where key = @key";
            command.Parameters.AddWithValue("@key", key);
            return command.ExecuteScalar() as string;
        }
    }

    public void Keep(string key, string body) => Run("insert or ignore into answer values (@key, @body)", ("@key", key), ("@body", body));

    public void Dispose() => _connection.Dispose();

    private void Run(string sql, params ReadOnlySpan<(string, string)> parameters)
    {
        lock (_lock)
        {
            using var command = _connection.CreateCommand();
            command.CommandText = sql;
            foreach (var (name, value) in parameters)
                command.Parameters.AddWithValue(name, value);
            command.ExecuteNonQuery();
        }
    }
}
