namespace JadeOrchard.Storage;

/// <summary>The undo triggers that migrations 1 to 5 made, which wrote statements; kept for those migrations alone. <see cref="UndoLog"/> replaced them.</summary>
internal static class StatementTriggers
{
    internal const string Schema = """
        create table undo_step (
          step_id integer primary key autoincrement,
          label text not null,
          is_undone integer not null default 0,
          is_open integer not null default 0,
          made_at text not null
        ) strict;

        create table undo_entry (
          entry_id integer primary key autoincrement,
          step_id integer not null references undo_step on delete cascade,
          statement text not null
        ) strict;
        create index undo_entry_by_step on undo_entry (step_id);

        create table undo_recording (
          recording_id integer primary key check (recording_id = 1),
          step_id integer
        ) strict;
        insert into undo_recording values (1, null);

        """;

    /// <summary>Triggers that record the changes of a table with an integer primary key.</summary>
    internal static string TriggersFor(string table, params string[] columns) => TriggersFor(table, [], columns);

    /// <inheritdoc cref="TriggersFor(string, string[])"/>
    /// <param name="table">The table.</param>
    /// <param name="apart">Columns that change often and by themselves; their changes are recorded apart, in fewer words.</param>
    /// <param name="columns">All other columns.</param>
    internal static string TriggersFor(string table, string[] apart, params string[] columns)
    {
        const string recording = "when (select step_id from undo_recording) is not null";
        const string entry = "insert into undo_entry (step_id, statement) select step_id,";
        string[] all = [.. columns, .. apart];
        string Assignments(string[] some) => string.Join(" || ', ", some.Select(c => $"{c} = ' || quote(old.{c})"));
        string Update(string name, string of, string[] some) => $"""
            create trigger undo_{table}_{name} after update of {of} on {table} {recording} begin
              {entry} 'update {table} set {Assignments(some)} || ' where rowid = ' || old.rowid from undo_recording;
            end;
            """;
        var values = string.Join(" || ', ' || ", all.Select(c => $"quote(old.{c})"));
        return $"""

            create trigger undo_{table}_insert after insert on {table} {recording} begin
              {entry} 'delete from {table} where rowid = ' || new.rowid from undo_recording;
            end;
            {Update("update", string.Join(", ", columns), columns)}
            {(apart.Length == 0 ? "" : Update("update_apart", string.Join(", ", apart), apart))}
            create trigger undo_{table}_delete before delete on {table} {recording} begin
              {entry} 'insert into {table} (rowid, {string.Join(", ", all)}) values (' || old.rowid || ', ' || {values} || ')' from undo_recording;
            end;

            """;
    }

    /// <summary>Makes the insert trigger of a table silent while rows are added in ranges.</summary>
    internal static string InRangesTriggerFor(string table) => $"""

        drop trigger undo_{table}_insert;
        create trigger undo_{table}_insert after insert on {table} when (select step_id from undo_recording where in_ranges = 0) is not null begin
          insert into undo_entry (step_id, statement) select step_id, 'delete from {table} where rowid = ' || new.rowid from undo_recording;
        end;

        """;
}
