namespace JadeOrchard.Storage;

/// <summary>Undo and redo of hand work, kept in the database so that they survive a restart.</summary>
/// <remarks>
/// While a step is being recorded, triggers write for each changed row the statement that puts it back ("Automatic
/// undo/redo using SQLite", sqlite.org/undoredo.html). Undoing a step runs its statements backwards; the triggers then record
/// the way forward in their place, so that redoing is the same act.
/// </remarks>
public static class UndoLog
{
    /// <summary>Older steps are forgotten.</summary>
    public const int StepsKept = 200;

    internal const string Schema = """
        create table undo_step (
          step_id integer primary key autoincrement,
          label text not null,
          is_undone integer not null default 0,
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
    internal static string TriggersFor(string table, params string[] columns)
    {
        const string recording = "when (select step_id from undo_recording) is not null";
        const string entry = "insert into undo_entry (step_id, statement) select step_id,";
        var assignments = string.Join(" || ', ", columns.Select(c => $"{c} = ' || quote(old.{c})"));
        var values = string.Join(" || ', ' || ", columns.Select(c => $"quote(old.{c})"));
        return $"""

            create trigger undo_{table}_insert after insert on {table} {recording} begin
              {entry} 'delete from {table} where rowid = ' || new.rowid from undo_recording;
            end;
            create trigger undo_{table}_update after update on {table} {recording} begin
              {entry} 'update {table} set {assignments} || ' where rowid = ' || old.rowid from undo_recording;
            end;
            create trigger undo_{table}_delete before delete on {table} {recording} begin
              {entry} 'insert into {table} (rowid, {string.Join(", ", columns)}) values (' || old.rowid || ', ' || {values} || ')' from undo_recording;
            end;

            """;
    }

    /// <summary>What would be undone and redone next.</summary>
    /// <returns>The labels; null where there is nothing.</returns>
    public static (string? Undo, string? Redo) Next(Session session) =>
    (
        session.Scalar("select label from undo_step where is_undone = 0 order by step_id desc limit 1") as string,
        session.Scalar("select label from undo_step where is_undone = 1 order by step_id limit 1") as string);

    /// <returns>The label of what was undone; null where there was nothing.</returns>
    public static string? Undo(Session session) =>
        Replay(session, "select step_id from undo_step where is_undone = 0 order by step_id desc limit 1", isUndone: 1);

    /// <returns>The label of what was redone; null where there was nothing.</returns>
    public static string? Redo(Session session) =>
        Replay(session, "select step_id from undo_step where is_undone = 1 order by step_id limit 1", isUndone: 0);

    internal static void Begin(Session session, string label)
    {
        session.Execute("delete from undo_step where is_undone = 1");
        session.Execute(
            """
            insert into undo_step (label, made_at) values (@label, datetime('now'));
            update undo_recording set step_id = last_insert_rowid();
            """,
            ("label", label));
    }

    /// <summary>Ends the recording; a step that changed nothing is no step.</summary>
    internal static void End(Session session) => session.Execute(
        """
        delete from undo_step
        where step_id = (select step_id from undo_recording)
          and not exists (select 1 from undo_entry e where e.step_id = undo_step.step_id);
        update undo_recording set step_id = null;
        delete from undo_step
        where step_id <= (select max(step_id) from undo_step) - @kept;
        """,
        ("kept", StepsKept));

    private static string? Replay(Session session, string choose, int isUndone)
    {
        if (session.Scalar(choose) is not long step)
            return null;
        var statements = session.List(
            "select statement from undo_entry where step_id = @step order by entry_id desc", r => r.GetString(0), ("step", step));
        session.Execute(
            """
            pragma defer_foreign_keys = on;
            delete from undo_entry where step_id = @step;
            update undo_recording set step_id = @step;
            """,
            ("step", step));
        foreach (var statement in statements)
            session.Execute(statement);
        session.Execute("update undo_recording set step_id = null");
        session.Execute("update undo_step set is_undone = @undone where step_id = @step", ("undone", isUndone), ("step", step));
        return (string?)session.Scalar("select label from undo_step where step_id = @step", ("step", step));
    }
}
