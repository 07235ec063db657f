using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Team;

/// <summary>Who can sign in, and who has: a small SQLite file of its own in the data folder, for all projects. Server and command line can use it at the same time.</summary>
public sealed class TeamStore
{
    /// <summary>The file, in the data folder.</summary>
    public const string FileName = "team.db";

    private const int LongestName = 60;
    private const string Columns = "user_id, name, role, added_at, signed_in_at";

    /// <summary>However often it is used meanwhile, a session ends after this.</summary>
    private static readonly TimeSpan LongestSession = TimeSpan.FromDays(30);

    private const string Shape =
        """
        create table if not exists user (
          user_id integer primary key autoincrement,
          name text not null,
          -- The name as it is compared.
          name_key text not null unique,
          role text not null check (role in ('planner', 'writer', 'reader')),
          password_hash text not null,
          added_at text not null,
          signed_in_at text
        ) strict;

        create table if not exists session (
          -- SHA-256 of what the browser holds: who reads this file cannot go on with a session.
          session_key text primary key,
          user_id integer not null references user on delete cascade,
          begun_at text not null
        ) strict, without rowid;

        pragma user_version = 1;
        """;

    private readonly string _connectionString;
    private readonly TimeProvider _clock;

    /// <param name="folder">The data folder, which must be there. The file is made with the first user.</param>
    /// <param name="clock">Tells when a session has lasted too long.</param>
    public TeamStore(string folder, TimeProvider clock)
    {
        File = Path.Combine(folder, FileName);
        _connectionString = new SqliteConnectionStringBuilder { DataSource = File, ForeignKeys = true, DefaultTimeout = 30, Pooling = false }.ToString();
        _clock = clock;
    }

    /// <summary>The file; there need not be one yet.</summary>
    public string File { get; }

    /// <returns>Everybody, in the order of their names.</returns>
    public IReadOnlyList<User> Users() => Read($"select {Columns} from user order by name_key", ReadUser);

    /// <summary>Lets somebody sign in from now on.</summary>
    /// <exception cref="TeamException">The name is none or taken, or the password is no good.</exception>
    public User Add(string name, Role role, string password)
    {
        var clean = CleanName(name);
        Passwords.Check(clean, password);
        ProjectFile.MakePrivate(File);
        using var connection = Connect();
        try
        {
            return List(
                connection, $"insert into user (name, name_key, role, password_hash, added_at) values (@name, @key, @role, @hash, @now) returning {Columns}", ReadUser,
                ("name", clean), ("key", KeyOf(clean)), ("role", role.Stored()), ("hash", Passwords.Hash(password)), ("now", Now))[0];
        }
        catch (SqliteException e) when (e.SqliteErrorCode == SqliteConstraint)
        {
            throw new TeamException("name", $"There is a user “{clean}” already. Choose another name.");
        }
    }

    /// <summary>Gives somebody another role. Their sessions end, so that nothing is left of the one before.</summary>
    /// <returns>False where there is no such user.</returns>
    /// <exception cref="TeamException">They are the last planner.</exception>
    public bool SetRole(UserId id, Role role) => Update(id, role, null);

    /// <summary>Gives somebody another password. Their sessions end.</summary>
    /// <returns>False where there is no such user.</returns>
    /// <exception cref="TeamException">The password is no good.</exception>
    public bool SetPassword(UserId id, string password) => Update(id, null, password);

    /// <summary>Gives somebody another role, another password or both, or neither where one of them is refused. Their sessions end.</summary>
    /// <param name="id">The user.</param>
    /// <param name="role">Null for the one they have.</param>
    /// <param name="password">Null for the one they have.</param>
    /// <returns>False where there is no such user.</returns>
    /// <exception cref="TeamException">They are the last planner, or the password is no good.</exception>
    public bool Update(UserId id, Role? role, string? password)
    {
        if (Users().FirstOrDefault(u => u.Id == id) is not { } user)
            return false;
        if (password is not null)
            Passwords.Check(user.Name, password);
        var hash = password is null ? null : Passwords.Hash(password);
        return Change(connection =>
        {
            if (role is not (null or Role.Planner))
                RefuseLastPlanner(connection, id);
            return Execute(
                connection,
                "update user set role = coalesce(@role, role), password_hash = coalesce(@hash, password_hash) where user_id = @id; delete from session where user_id = @id",
                ("role", role?.Stored()), ("hash", hash), ("id", id)) > 0;
        });
    }

    /// <summary>Lets somebody sign in no more; their sessions end.</summary>
    /// <returns>False where there is no such user.</returns>
    /// <exception cref="TeamException">They are the last planner.</exception>
    public bool Remove(UserId id) => Change(connection =>
    {
        RefuseLastPlanner(connection, id);
        return Execute(connection, "delete from user where user_id = @id", ("id", id)) > 0;
    });

    /// <returns>The user with the name; null where there is none.</returns>
    public User? Named(string name) => Read($"select {Columns} from user where name_key = @key", ReadUser, ("key", KeyOf(name))).FirstOrDefault();

    /// <returns>The user, where name and password are right; null where not. It takes as long either way.</returns>
    public User? Verify(string name, string password)
    {
        var (user, hash) = Read($"select {Columns}, password_hash from user where name_key = @key", r => (ReadUser(r), r.GetString(5)), ("key", KeyOf(name))).FirstOrDefault();
        var (isRight, isOld) = Passwords.Verify(hash, password);
        if (!isRight)
            return null;
        if (isOld)
            Change(connection => Execute(connection, "update user set password_hash = @hash where user_id = @id", ("hash", Passwords.Hash(password)), ("id", user.Id)));
        return user;
    }

    /// <summary>Begins a session.</summary>
    /// <returns>What the browser is to show with each request: 256 random bits.</returns>
    public string Begin(UserId id)
    {
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));
        Change(connection => Execute(
            connection,
            """
            delete from session where begun_at < @old;
            insert into session (session_key, user_id, begun_at) values (@key, @id, @now);
            update user set signed_in_at = @now where user_id = @id;
            """,
            ("old", Iso(_clock.GetUtcNow() - LongestSession)), ("key", SessionKey(token)), ("id", id), ("now", Now)));
        return token;
    }

    /// <returns>Whose session it is; null where it has ended.</returns>
    public User? OfSession(string token) => Read(
        "select u.user_id, u.name, u.role, u.added_at, u.signed_in_at from session s join user u on u.user_id = s.user_id where s.session_key = @key and s.begun_at >= @old",
        ReadUser, ("key", SessionKey(token)), ("old", Iso(_clock.GetUtcNow() - LongestSession))).FirstOrDefault();

    /// <summary>Ends a session.</summary>
    public void End(string token) => Change(connection => Execute(connection, "delete from session where session_key = @key", ("key", SessionKey(token))));

    private const int SqliteConstraint = 19;

    private string Now => Iso(_clock.GetUtcNow());

    private static string Iso(DateTimeOffset time) => time.UtcDateTime.ToString("yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture);

    private static string SessionKey(string token) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));

    /// <summary>Names that a reader would take for the same are the same (Unicode Standard Annex 15: compatibility composition).</summary>
    private static string KeyOf(string name) => Normalized(name.Trim(), NormalizationForm.FormKC).ToUpperInvariant();

    private static string Normalized(string text, NormalizationForm form)
    {
        try
        {
            return text.Normalize(form);
        }
        catch (ArgumentException)
        {
            // Half a surrogate pair is no text; nobody has such a name.
            return "";
        }
    }

    private static string CleanName(string name)
    {
        var clean = Normalized(name.Trim(), NormalizationForm.FormC);
        if (clean.Length is 0 or > LongestName || clean.Any(c => char.IsControl(c) || char.GetUnicodeCategory(c) is UnicodeCategory.Format or UnicodeCategory.LineSeparator or UnicodeCategory.ParagraphSeparator))
            throw new TeamException("name", $"Write a name of 1 to {LongestName} characters, on one line.");
        return clean;
    }

    private static void RefuseLastPlanner(SqliteConnection connection, UserId id)
    {
        var planners = List(connection, "select user_id from user where role = 'planner'", r => r.Id<UserId>(0));
        if (planners.Count == 1 && planners[0] == id)
            throw new TeamException(null, "This is the only planner. Add another one first, or nobody could change anything any more.");
    }

    private List<T> Read<T>(string sql, Func<SqliteDataReader, T> read, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        if (!System.IO.File.Exists(File))
            return [];
        using var connection = Connect();
        return List(connection, sql, read, parameters);
    }

    /// <summary>Changes something in one transaction; nothing where there is no file.</summary>
    private T? Change<T>(Func<SqliteConnection, T> change)
    {
        if (!System.IO.File.Exists(File))
            return default;
        using var connection = Connect();
        using var transaction = new Transaction(connection);
        transaction.Begin();
        var answer = change(connection);
        transaction.Commit();
        return answer;
    }

    private SqliteConnection Connect()
    {
        var connection = new SqliteConnection(_connectionString);
        connection.Open();
        if (List(connection, "pragma user_version", r => r.GetInt64(0))[0] == 0)
            Execute(connection, Shape);
        return connection;
    }

    private static List<T> List<T>(SqliteConnection connection, string sql, Func<SqliteDataReader, T> read, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(connection, sql, parameters);
        using var reader = command.ExecuteReader();
        var rows = new List<T>();
        while (reader.Read())
            rows.Add(read(reader));
        return rows;
    }

    private static int Execute(SqliteConnection connection, string sql, params ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        using var command = Command(connection, sql, parameters);
        return command.ExecuteNonQuery();
    }

    private static SqliteCommand Command(SqliteConnection connection, string sql, ReadOnlySpan<(string Name, object? Value)> parameters)
    {
        var command = connection.CreateCommand();
        command.CommandText = sql;
        foreach (var (name, value) in parameters)
            command.Parameters.AddWithValue("@" + name, Session.Stored(value));
        return command;
    }

    private static User ReadUser(SqliteDataReader r) => new(r.Id<UserId>(0), r.GetString(1), r.Enum<Role>(2), r.GetString(3), r.TextOrNull(4));
}
