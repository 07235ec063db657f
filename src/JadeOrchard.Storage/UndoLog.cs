using System.Globalization;

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

    /// <summary>Makes the insert trigger of a table silent while rows are added <see cref="Ranges">in ranges</see>.</summary>
    internal static string InRangesTriggerFor(string table) => $"""

        drop trigger undo_{table}_insert;
        create trigger undo_{table}_insert after insert on {table} when (select step_id from undo_recording where in_ranges = 0) is not null begin
          insert into undo_entry (step_id, statement) select step_id, 'delete from {table} where rowid = ' || new.rowid from undo_recording;
        end;

        """;

    /// <summary>What would be undone and redone next.</summary>
    /// <returns>The labels; null where there is nothing.</returns>
    public static (string? Undo, string? Redo) Next(Session session) =>
    (
        session.Scalar($"select label from undo_step where {NextToUndo}") as string,
        session.Scalar($"select label from undo_step where {NextToRedo}") as string);

    /// <returns>The steps, newest first; those that were undone can be redone as long as nothing new is done.</returns>
    public static IReadOnlyList<UndoStep> History(Session session) => session.List(
        "select step_id, label, is_undone, is_open, made_at from undo_step order by step_id desc",
        r => new UndoStep(r.GetInt64(0), r.GetString(1), r.GetInt64(2) == 1, r.GetInt64(3) == 1, r.GetString(4)));

    /// <returns>What was undone; null where there was nothing.</returns>
    /// <exception cref="StepUnderWayException">The step is still being made.</exception>
    public static ReplayedStep? Undo(Session session) => Replay(session, NextToUndo, isUndone: 1);

    /// <returns>What was redone; null where there was nothing.</returns>
    public static ReplayedStep? Redo(Session session) => Replay(session, NextToRedo, isUndone: 0);

    /// <summary>Begins a step that is made in several transactions, such as a capture.</summary>
    /// <returns>Its id, for <see cref="Database.Continue{T}"/>.</returns>
    public static long Open(Session session, string label)
    {
        var step = Begin(session, label);
        session.Execute("update undo_step set is_open = 1 where step_id = @step; update undo_recording set step_id = null;", ("step", step));
        return step;
    }

    /// <returns>True where a step of several transactions can go on: it is there and was not undone.</returns>
    public static bool CanContinue(Session session, long step) =>
        session.Count("select count(*) from undo_step where step_id = @step and is_undone = 0", ("step", step)) > 0;

    /// <summary>Goes on with a step that was closed, so that it cannot be undone meanwhile.</summary>
    public static void Reopen(Session session, long step) => session.Execute("update undo_step set is_open = 1 where step_id = @step", ("step", step));

    /// <summary>Ends a step of several transactions.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="step">Its id.</param>
    /// <param name="label">What it is called now that it is known what came of it.</param>
    public static void Close(Session session, long step, string label)
    {
        session.Execute("update undo_step set is_open = 0, label = @label where step_id = @step", ("step", step), ("label", label));
        Forget(session, step);
    }

    /// <summary>Does what follows from other data and is computed again after an undo: it needs no record of its own.</summary>
    public static void Unrecorded(Session session, Action change)
    {
        var step = session.Scalar("select step_id from undo_recording") as long?;
        Record(session, null);
        change();
        Record(session, step);
    }

    internal static long Begin(Session session, string label)
    {
        session.Execute("delete from undo_step where is_undone = 1");
        Bury(session);
        var step = session.Count("insert into undo_step (label, made_at) values (@label, strftime('%Y-%m-%dT%H:%M:%SZ', 'now')) returning step_id", ("label", label));
        Start(session, step);
        return step;
    }

    /// <summary>Begins to record what belongs to a step.</summary>
    internal static void Start(Session session, long step) =>
        session.Execute("update undo_recording set step_id = @step, in_ranges = 0", ("step", step));

    /// <summary>Writes an entry of the step being recorded, if there is one.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="statement">Begins as those of the triggers do (see <see cref="TableOf"/>); run before all entries written earlier.</param>
    internal static void Enter(Session session, string statement) => session.Execute(
        "insert into undo_entry (step_id, statement) select step_id, @statement from undo_recording where step_id is not null", ("statement", statement));

    internal static void Record(Session session, long? step) => session.Execute("update undo_recording set step_id = @step", ("step", step));

    /// <summary>Ends the recording; a step that changed nothing is no step.</summary>
    internal static void End(Session session)
    {
        var step = session.Count("select step_id from undo_recording");
        Record(session, null);
        Forget(session, step);
    }

    /// <summary>
    /// Adds rows at the end of tables as one entry a table instead of one a row, which at a million rows is most of the cost
    /// of recording. The tables are those with an <see cref="InRangesTriggerFor"/>.
    /// </summary>
    internal sealed class Ranges
    {
        private readonly Session _session;
        private readonly (string Table, long Before)[] _tables;

        public Ranges(Session session, params string[] tables)
        {
            _session = session;
            session.Execute("update undo_recording set in_ranges = in_ranges + 1");
            _tables = [.. tables.Select(t => (t, Last(t)))];
        }

        /// <summary>To be called once, after the last row.</summary>
        public void End()
        {
            foreach (var (table, before) in _tables)
            {
                var last = Last(table);
                if (last > before)
                    Enter(_session, string.Create(CultureInfo.InvariantCulture, $"delete from {table} where rowid between {before + 1} and {last}"));
            }

            _session.Execute("update undo_recording set in_ranges = in_ranges - 1");
        }

        private long Last(string table) => _session.Count($"select max(rowid) from {table}");
    }

    private const string NextToUndo = "step_id = (select max(step_id) from undo_step where is_undone = 0)";
    private const string NextToRedo = "step_id = (select min(step_id) from undo_step where is_undone = 1)";

    private static void Forget(Session session, long step)
    {
        session.Execute(
            """
            delete from undo_step
            where step_id = @step
              and not exists (select 1 from undo_entry e where e.step_id = undo_step.step_id);
            delete from undo_step
            where step_id <= (select max(step_id) from undo_step) - @kept;
            """,
            ("step", step), ("kept", StepsKept));
        Bury(session);
    }

    /// <summary>Drops the results of lists, and the rows of search performance, that no step can bring back any more.</summary>
    private static void Bury(Session session)
    {
        session.Execute(
            """
            delete from dead_list where list_id in (select list_id from result_list);
            delete from result
            where list_id in (select list_id from dead_list d where not exists (select 1 from undo_step s where s.step_id = d.step_id));
            delete from result_phrase
            where list_id in (select list_id from dead_list d where not exists (select 1 from undo_step s where s.step_id = d.step_id));
            delete from dead_list where not exists (select 1 from undo_step s where s.step_id = dead_list.step_id);
            delete from dead_performance where batch_id in (select batch_id from performance_batch);
            """);
        // To look for the rows of a batch is to go through all of them.
        if (session.Count("select count(*) from dead_performance d where not exists (select 1 from undo_step s where s.step_id = d.step_id)") == 0)
            return;
        session.Execute(
            """
            delete from performance
            where batch_id in (select batch_id from dead_performance d where not exists (select 1 from undo_step s where s.step_id = d.step_id));
            delete from dead_performance where not exists (select 1 from undo_step s where s.step_id = dead_performance.step_id);
            """);
    }

    private static ReplayedStep? Replay(Session session, string which, int isUndone)
    {
        var found = session.First(
            $"select step_id, label, is_open from undo_step where {which}", r => Tuple.Create(r.GetInt64(0), r.GetString(1), r.GetInt64(2) == 1));
        if (found is null)
            return null;
        var (step, label, isOpen) = found;
        if (isOpen)
            throw new StepUnderWayException(label);
        var statements = session.List(
            "select statement from undo_entry where step_id = @step order by entry_id desc", r => r.GetString(0), ("step", step));
        session.Execute("pragma defer_foreign_keys = on; delete from undo_entry where step_id = @step;", ("step", step));
        Record(session, step);
        var tables = new HashSet<string>(StringComparer.Ordinal);
        foreach (var statement in statements)
        {
            session.Execute(statement);
            tables.Add(TableOf(statement));
        }

        Record(session, null);
        session.Execute("update undo_step set is_undone = @undone where step_id = @step", ("undone", isUndone), ("step", step));
        return new ReplayedStep(label, tables);
    }

    /// <summary>"delete from T", "update T", "insert into T": the triggers write no others.</summary>
    private static string TableOf(string statement)
    {
        var words = statement.Split(' ', 4);
        return words[0] == "update" ? words[1] : words[2];
    }
}

/// <summary>A step of the history.</summary>
/// <param name="IsOpen">It is still being made.</param>
/// <param name="MadeAt">ISO 8601, UTC.</param>
public sealed record UndoStep(long Id, string Label, bool IsUndone, bool IsOpen, string MadeAt);

/// <summary>A step that was undone or redone.</summary>
/// <param name="Tables">The tables that it changed.</param>
public sealed record ReplayedStep(string Label, IReadOnlySet<string> Tables);

/// <summary>A step cannot be undone while it is being made.</summary>
public sealed class StepUnderWayException(string label) : Exception($"“{label}” is still under way. Stop it first, then undo it.");
