using System.Collections.Frozen;
using Microsoft.Data.Sqlite;
using SQLitePCL;

namespace JadeOrchard.Storage;

/// <summary>A part of the project that screens show, by which an answer says what a change touched.</summary>
public enum Area
{
    Project,
    Keywords,
    Results,
    Pages,
    Performance,
    Clusters,
    PageMap,
    Topics,
    Findings,
    Plan,
    Briefs,
    Refresh,
    Jobs,
}

/// <summary>Which areas the writes of one request touched, and the undo step they made.</summary>
/// <remarks>
/// SQLite tells which tables a statement writes when it is prepared (sqlite.org/c3ref/set_authorizer.html), with those that triggers write. A statement that
/// then finds no row counts too: an area too many is read again, but none is missed.
/// </remarks>
public sealed class ChangedAreas
{
    private static readonly AsyncLocal<ChangedAreas?> Watched = new();
    private static readonly FrozenDictionary<string, Area> ByTable = Tables.All.ToFrozenDictionary(t => t.Name, t => t.Area, StringComparer.Ordinal);

    private readonly SortedSet<Area> _written = [];
    private readonly SortedSet<Area> _areas = [];

    private ChangedAreas()
    {
    }

    /// <summary>The areas of all tables written and committed so far.</summary>
    public IReadOnlyCollection<Area> Areas => _areas;

    /// <summary>What the last undo step is called; null where none was made.</summary>
    public string? Step { get; private set; }

    /// <summary>What was done, in words, as others are told: the last undo step, or which one was undone or redone; null where it is none of these.</summary>
    public string? Says { get; private set; }

    /// <summary>Watches what the current request writes from now on.</summary>
    public static ChangedAreas Watch() => Watched.Value = new ChangedAreas();

    /// <summary>Whoever watches now; null where nobody does.</summary>
    internal static ChangedAreas? Current => Watched.Value;

    /// <summary>Watches a connection, until what is returned is disposed.</summary>
    internal IDisposable Attach(SqliteConnection connection)
    {
        raw.sqlite3_set_authorizer(
            connection.Handle!,
            (_, action, table, _, _, _) =>
            {
                if (action is raw.SQLITE_INSERT or raw.SQLITE_UPDATE or raw.SQLITE_DELETE && ByTable.TryGetValue(table.utf8_to_string() ?? "", out var area))
                    _written.Add(area);
                return raw.SQLITE_OK;
            },
            null);
        return new Attached(connection);
    }

    /// <summary>A step was undone or redone.</summary>
    internal void Replayed(string says) => Says = says;

    internal void Commit(string? step)
    {
        _areas.UnionWith(_written);
        Step = step ?? Step;
        Says = step ?? Says;
    }

    /// <summary>The connection goes back to the pool unwatched.</summary>
    private sealed class Attached(SqliteConnection connection) : IDisposable
    {
        public void Dispose() => raw.sqlite3_set_authorizer(connection.Handle!, (delegate_authorizer?)null, null);
    }
}
