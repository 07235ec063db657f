using System.Globalization;

namespace JadeOrchard.Storage;

/// <summary>Undo and redo, kept in the database so that they survive a restart.</summary>
/// <remarks>
/// While a step is recorded, triggers keep for each row that it changes an image of the row as it was before the step, typed and once a row, in a table
/// beside the row's own ("undo_" and its name). Undoing puts these images back and keeps the rows as they were after the step in their place, so
/// that redoing is the same act. Large data (results, texts, links, search performance) is never copied: rows that own it are recorded, and it
/// stays as long as an owner is there or can come back.
/// <para>
/// Deriving what follows can change recorded rows too, such as when a finding was first seen. After an undo that is a layer upon the state that was put
/// back, which may never have been there as such where steps of several came in between each other; the layer is taken off before the next undo or redo, and becomes part of the step under it where something new is done.
/// </para>
/// </remarks>
public static class UndoLog
{
    private const string NextToUndo = "step_id = (select max(step_id) from undo_step where is_undone = 0)";
    private const string StepColumns = "step_id, label, is_undone, is_open, made_at, author, replayed_by";
    private const string PartsOfJob = "select p.step_id from undo_step p join job j on j.step_id = p.group_id where j.job_id = @job and p.is_undone = 0";
    private const string NextToRedo = "step_id = (select min(step_id) from undo_step where is_undone = 1)";

    /// <summary>A step that is being recorded.</summary>
    /// <param name="StepId">Its id.</param>
    /// <param name="GroupId">That of the job's first step; the same as <paramref name="StepId"/> for a step of its own; 0 where the job has none yet.</param>
    /// <param name="IsNew">It is no step before something was changed.</param>
    internal sealed record Recording(long StepId, long GroupId, JobId? JobId, bool IsNew);

    /// <returns>What would be undone and redone next; null where there is nothing.</returns>
    public static (UndoStep? Undo, UndoStep? Redo) Next(Session session) => (First(session, NextToUndo), First(session, NextToRedo));

    /// <returns>The steps, newest first; those that were undone can be redone as long as nothing new is done.</returns>
    public static IReadOnlyList<UndoStep> History(Session session) => session.List($"select {StepColumns} from undo_step order by step_id desc", ReadStep);

    /// <returns>How many steps were dropped because the history had grown too long or too large, and when last; null where none were.</returns>
    public static DroppedSteps? Dropped(Session session) => session.First(
        "select dropped_steps, dropped_at from undo_recording where dropped_steps > 0", r => new DroppedSteps(r.GetInt64(0), r.GetString(1)));

    /// <returns>What the newest change of something is called; null where there is none in the history.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="thing">What was changed.</param>
    public static string? LastChange(Session session, Thing thing)
    {
        foreach (var (step, label, isUndone) in session.List(
            "select step_id, label, is_undone from undo_step order by revision desc limit 200", r => (r.GetInt64(0), r.GetString(1), r.GetInt64(2) == 1)))
        {
            foreach (var (table, column) in thing.Where)
            {
                var (key, _) = ColumnsOf(session, Tables.RecordedOnes.Single(t => t.Name == table));
                var condition = column == key ? "i.row_id = @id" : $"(i.{column} = @id or t.{column} = @id)";
                if (session.Count($"select exists (select 1 from undo_{table} i left join {table} t on t.{key} = i.row_id where i.step_id = @step and {condition})", ("step", step), ("id", thing.Id)) == 1)
                    return isUndone ? $"{label} (undone)" : label;
            }
        }

        return null;
    }

    /// <returns>What was undone; null where there was nothing.</returns>
    /// <exception cref="StepUnderWayException">The step is still being made.</exception>
    public static string? Undo(WriteSession session) => Replay(session, NextToUndo, isUndone: 1);

    /// <returns>What was redone; null where there was nothing.</returns>
    /// <exception cref="StepUnderWayException">The step is still being made.</exception>
    public static string? Redo(WriteSession session) => Replay(session, NextToRedo, isUndone: 0);

    /// <summary>
    /// Records what <paramref name="derive"/> changes of recorded rows where that is no step: as part of the newest step, or, where others could be redone,
    /// as a layer upon it.
    /// </summary>
    public static void AsLayer(WriteSession session, Action derive)
    {
        if (session.IsRecorded)
        {
            derive();
            return;
        }

        var newest = Newest(session);
        var canRedo = session.Count("select exists (select 1 from undo_step where is_undone = 1)") == 1;
        Record(session, canRedo ? Layer(newest) : newest == 0 ? null : newest);
        derive();
        Record(session, null);
    }

    /// <summary>Images under this id, which no step has, are of the layer upon a step; 0 for that upon none.</summary>
    private static long Layer(long step) => -(1L << 40) - step;

    private static long Newest(Session session) => session.Count("select max(step_id) from undo_step where is_undone = 0");

    private static void TakeOff(WriteSession session, long layer)
    {
        if (!HasImages(session, layer))
            return;
        PutBack(session, layer);
        foreach (var table in Tables.RecordedOnes)
            session.Execute($"delete from undo_{table.Name} where step_id = @layer", ("layer", layer));
    }

    /// <summary>Makes the layer a part of the step under it, since the next step is made upon both.</summary>
    private static void KeepLayer(WriteSession session)
    {
        var newest = Newest(session);
        foreach (var table in Tables.RecordedOnes)
        {
            if (newest > 0)
                session.Execute($"update or ignore undo_{table.Name} set step_id = @step where step_id = @layer", ("step", newest), ("layer", Layer(newest)));
            session.Execute($"delete from undo_{table.Name} where step_id = @layer", ("layer", Layer(newest)));
        }
    }

    /// <summary>Closes the step of a job, which can then be undone.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="jobId">The job; nothing happens where it changed nothing.</param>
    /// <param name="label">What the step is called now that it is known what came of it.</param>
    public static void Close(WriteSession session, JobId jobId, string label)
    {
        if (session.Scalar("select step_id from job where job_id = @job", ("job", jobId)) is not long group)
            return;
        var parts = session.List("select step_id from undo_step where group_id = @group and is_undone = 0 order by step_id", r => r.GetInt64(0), ("group", group));
        for (var i = 0; i < parts.Count; i++)
        {
            session.Execute(
                "update undo_step set is_open = 0, label = @label, bytes = @bytes where step_id = @step",
                ("step", parts[i]), ("label", parts.Count == 1 ? label : $"{label} (part {i + 1} of {parts.Count})"), ("bytes", UndoBounds.BytesOf(session, parts[i])));
        }

        UndoBounds.DropOldest(session);
    }

    /// <summary>Closes what a kill left open, so that it can be undone.</summary>
    public static void CloseOrphans(WriteSession session) => session.Execute("update undo_step set is_open = 0 where is_open = 1");

    /// <summary>
    /// Recreates the triggers and the tables of images from <see cref="Tables"/> and the schema, so that every column is covered. To be called after
    /// each migration.
    /// </summary>
    internal static void Install(WriteSession session)
    {
        DropTriggers(session);
        foreach (var table in Tables.RecordedOnes)
        {
            var (key, columns) = ColumnsOf(session, table);
            var images = session.List($"select name from pragma_table_info('undo_{table.Name}')", r => r.GetString(0));
            if (images.Count == 0)
                session.Execute($"create table undo_{table.Name} (step_id integer not null, row_id integer not null, existed integer not null, {string.Join(", ", columns)}, primary key (step_id, row_id)) without rowid");
            foreach (var column in images.Count == 0 ? [] : columns.Except(images))
                session.Execute($"alter table undo_{table.Name} add column {column}");
            const string isRecording = "(select step_id from undo_recording) is not null";
            var old = string.Join(", ", columns.Select(c => "old." + c));
            var differs = string.Join(" or ", columns.Select(c => $"old.{c} is not new.{c}"));
            var names = string.Join(", ", columns);
            // "insert or ignore" would not do: a conflict clause of the statement that fires a trigger takes its place (sqlite.org/lang_createtrigger.html).
            string New(string row) => $"from undo_recording where not exists (select 1 from undo_{table.Name} i where i.step_id = undo_recording.step_id and i.row_id = {row}.{key})";
            session.Execute($"""
                create trigger undo_{table.Name}_insert after insert on {table.Name} when (select step_id from undo_recording where in_ranges = 0) is not null begin
                  insert into undo_{table.Name} (step_id, row_id, existed) select step_id, new.{key}, 0 {New("new")};
                end;
                create trigger undo_{table.Name}_update after update of {names} on {table.Name} when {isRecording} and ({differs}) begin
                  insert into undo_{table.Name} (step_id, row_id, existed, {names}) select step_id, old.{key}, 1, {old} {New("old")};
                end;
                create trigger undo_{table.Name}_delete after delete on {table.Name} when {isRecording} begin
                  insert into undo_{table.Name} (step_id, row_id, existed, {names}) select step_id, old.{key}, 1, {old} {New("old")};
                end;
                """);
        }
    }

    /// <summary>Drops the triggers, so that a migration can change tables.</summary>
    internal static void DropTriggers(WriteSession session)
    {
        foreach (var trigger in session.List("select name from sqlite_master where type = 'trigger' and name like 'undo\\_%' escape '\\'", r => r.GetString(0)))
            session.Execute($"drop trigger {trigger}");
    }

    /// <returns>The primary key of a recorded table, and its recorded columns.</returns>
    internal static (string Key, IReadOnlyList<string> Columns) ColumnsOf(Session session, TableRule table)
    {
        var all = session.List($"select name, pk from pragma_table_info('{table.Name}')", r => (Name: r.GetString(0), IsKey: r.GetInt64(1) > 0));
        return (all.Single(c => c.IsKey).Name, [.. all.Where(c => !c.IsKey && !table.Derived.Contains(c.Name)).Select(c => c.Name)]);
    }

    /// <summary>Begins to record; a step is made of it only where something is changed.</summary>
    internal static Recording Start(WriteSession session, JobId? jobId)
    {
        var group = jobId is { } job ? session.Count("select step_id from job where job_id = @job", ("job", job)) : 0;
        var last = session.Count("select max(step_id) from undo_step");
        // A job goes on with its own step as long as nothing else was done meanwhile.
        var goesOn = group != 0 && session.Count("select count(*) from undo_step where step_id = @last and group_id = @group and is_undone = 0", ("last", last), ("group", group)) == 1;
        var step = goesOn ? last : Math.Max(last, session.Count("select last_step_id from undo_recording")) + 1;
        Record(session, step);
        return new Recording(step, group, jobId, !goesOn);
    }

    /// <summary>Ends the recording; where nothing was changed there is no step, and what was undone can still be redone.</summary>
    /// <returns>True where there is a step.</returns>
    internal static bool Finish(WriteSession session, Recording recording, string label)
    {
        Record(session, null);
        if (recording.IsNew)
        {
            if (!HasImages(session, recording.StepId))
                return false;
            UndoBounds.ForgetUndone(session);
            if (recording.GroupId != 0 && UndoJoins.Joined(session, recording))
                return true;
            KeepLayer(session);
            var isJob = recording.JobId is not null;
            session.Execute(
                """
                update undo_recording set last_step_id = @step, revision = revision + 1;
                insert into undo_step (step_id, group_id, label, is_open, bytes, revision, made_at, author)
                select @step, @group, @label, @open, @bytes, revision, strftime('%Y-%m-%dT%H:%M:%SZ', 'now'), @author from undo_recording;
                """,
                ("step", recording.StepId), ("group", recording.GroupId == 0 ? recording.StepId : recording.GroupId), ("label", label), ("open", isJob ? 1 : 0),
                ("bytes", isJob ? 0 : UndoBounds.BytesOf(session, recording.StepId)), ("author", Author.Current));
            if (recording.GroupId == 0 && isJob)
                session.Execute("update job set step_id = @step where job_id = @job", ("step", recording.StepId), ("job", recording.JobId));
            UndoBounds.DropOldest(session);
        }
        else
            session.Execute(
                """
                update undo_recording set revision = revision + 1;
                update undo_step set is_open = 1, revision = (select revision from undo_recording) where step_id = @step;
                """,
                ("step", recording.StepId));
        return true;
    }

    /// <summary>Takes back what a job wrote, as if it had never begun.</summary>
    /// <exception cref="UsedMeanwhileException">Others changed the same rows since, or point to them. The transaction must not be kept.</exception>
    public static void TakeBack(WriteSession session, JobId jobId)
    {
        (string, object?)[] job = [("job", jobId)];
        if (UndoJoins.AreTouched(session, $"n.step_id in ({PartsOfJob})", $"s.step_id > n.step_id and s.is_undone = 0 and s.step_id not in ({PartsOfJob})", job))
            throw new UsedMeanwhileException();
        UndoBounds.ForgetUndone(session);
        foreach (var part in session.List($"{PartsOfJob} order by p.step_id desc", r => r.GetInt64(0), job))
        {
            TakeOff(session, Layer(part));
            PutBack(session, part);
            UndoBounds.Forget(session, part);
        }

        session.Execute("update job set step_id = null where job_id = @job", job);
        if (Tables.RecordedOnes.Any(t => session.Scalar($"select 1 from pragma_foreign_key_check('{t.Name}') limit 1") is not null))
            throw new UsedMeanwhileException();
    }

    /// <returns>Whether something that a job wrote is there.</returns>
    public static bool IsThere(Session session, JobId jobId) =>
        session.Count($"select exists ({PartsOfJob})", ("job", jobId)) == 1;

    private static UndoStep? First(Session session, string which) => session.First($"select {StepColumns} from undo_step where {which}", ReadStep);

    private static UndoStep ReadStep(Microsoft.Data.Sqlite.SqliteDataReader r) =>
        new(r.Id<UndoStepId>(0), r.GetString(1), r.GetInt64(2) == 1, r.GetInt64(3) == 1, r.GetString(4), r.GetString(5), r.GetString(6));

    private static void Record(WriteSession session, long? step) => session.Execute("update undo_recording set step_id = @step, in_ranges = 0", ("step", step));

    private static bool HasImages(Session session, long step) =>
        session.Count("select exists (select 1 from undo_range where step_id = @step)", ("step", step)) == 1
        || Tables.RecordedOnes.Any(t => session.Count($"select exists (select 1 from undo_{t.Name} where step_id = @step)", ("step", step)) == 1);

    private static string? Replay(WriteSession session, string which, int isUndone)
    {
        var found = session.First($"select step_id, label, is_open from undo_step where {which}", r => Tuple.Create(r.GetInt64(0), r.GetString(1), r.GetInt64(2) == 1));
        if (found is null)
            return null;
        var (step, label, isOpen) = found;
        if (isOpen)
            throw new StepUnderWayException(label);
        TakeOff(session, Layer(Newest(session)));
        PutBack(session, step);
        session.Execute(
            """
            delete from undo_range where step_id = @step;
            update undo_recording set revision = revision + 1;
            update undo_step set is_undone = @undone, replayed_by = @author, revision = (select revision from undo_recording) where step_id = @step;
            """,
            ("step", step), ("undone", isUndone), ("author", Author.Current));
        ChangedAreas.Current?.Replayed(isUndone == 1 ? $"Undone: {label}" : $"Redone: {label}");
        return label;
    }

    /// <summary>Puts the images of a step back, and keeps the rows as they are in their place.</summary>
    private static void PutBack(WriteSession session, long step)
    {
        session.IsReplay = true;
        session.Execute("pragma defer_foreign_keys = on; create temp table if not exists undo_row (row_id integer primary key, is_new integer not null);");
        foreach (var table in Tables.RecordedOnes)
            Restore(session, table, step);
    }

    /// <summary>Puts the images of one table back, and keeps the rows as they are in their place.</summary>
    private static void Restore(WriteSession session, TableRule table, long step)
    {
        var name = table.Name;
        // is_new: the step added the row, so before it there was none.
        session.Execute("delete from temp.undo_row");
        var count = session.Execute($"insert into temp.undo_row select row_id, not existed from undo_{name} where step_id = @step", ("step", step));
        count += session.Execute(
            $"""
            insert into temp.undo_row
            select t.rowid, 1 from undo_range r join {name} t on t.rowid between r.first_id and r.last_id
            where r.step_id = @step and r.table_name = @name
            on conflict do update set is_new = 1
            """,
            ("step", step), ("name", name));
        if (count == 0)
            return;
        var (key, columns) = ColumnsOf(session, table);
        var names = string.Join(", ", columns);
        foreach (var touch in table.Touches)
            TouchRestored(session, touch, name, key, step);
        session.Execute(
            $"""
            insert into undo_{name} (step_id, row_id, existed, {names})
            select -@step, a.row_id, t.{key} is not null, {string.Join(", ", columns.Select(c => "t." + c))}
            from temp.undo_row a left join {name} t on t.{key} = a.row_id;
            delete from {name} where {key} in (select row_id from temp.undo_row where is_new);
            """,
            ("step", step));
        var which = $"from undo_{name} i join temp.undo_row a on a.row_id = i.row_id and not a.is_new where i.step_id = @step";
        try
        {
            session.Execute($"update {name} set ({names}) = (i.{string.Join(", i.", columns)}) from (select i.* {which}) i where i.row_id = {name}.{key}", ("step", step));
        }
        catch (Microsoft.Data.Sqlite.SqliteException e) when (e.SqliteErrorCode == SqliteConstraint)
        {
            // Two rows that changed names with each other: each is in the way of the other, so both go first.
            session.Execute($"delete from {name} where {key} in (select i.row_id {which})", ("step", step));
            foreach (var touch in table.Touches)
                session.Touch(touch.Kind);
        }

        session.Execute(
            $"""
            insert into {name} ({key}, {names})
            select i.row_id, i.{string.Join(", i.", columns)} {which} and not exists (select 1 from {name} t where t.{key} = i.row_id);
            delete from undo_{name} where step_id = @step;
            update undo_{name} set step_id = @step where step_id = -@step;
            """,
            ("step", step));
    }

    private const int SqliteConstraint = 19;

    private static void TouchRestored(WriteSession session, TouchRule touch, string name, string key, long step)
    {
        if (touch.Column is not { } column)
        {
            session.Touch(touch.Kind);
            return;
        }

        string Of(string row) => column == key ? "a.row_id" : $"{row}.{column}";
        var when = touch.When.Length == 0 ? "true" : string.Join(" or ", ["i.row_id is null", $"t.{key} is null", .. touch.When.Select(c => c == key ? "false" : $"t.{c} is not i.{c}")]);
        session.Touching(
            touch.Kind,
            $"""
            with changed as (
              select {Of("t")} as now, {Of("i")} as before
              from temp.undo_row a
              left join {name} t on t.{key} = a.row_id
              left join undo_{name} i on i.step_id = @step and i.row_id = a.row_id and i.existed and not a.is_new
              where ({when}) and ({string.Format(CultureInfo.InvariantCulture, touch.Only, "t")} or {string.Format(CultureInfo.InvariantCulture, touch.Only, "i")})
            )
            select now from changed where now is not null union select before from changed where before is not null
            """,
            ("step", step));
    }

}

/// <summary>A step of the history.</summary>
/// <param name="IsOpen">It is still being made.</param>
/// <param name="MadeAt">ISO 8601, UTC.</param>
/// <param name="Author">Who made it; empty where nobody had to sign in.</param>
/// <param name="ReplayedBy">Who undid or redid it last; empty where nobody did, or nobody had to sign in.</param>
public sealed record UndoStep(UndoStepId Id, string Label, bool IsUndone, bool IsOpen, string MadeAt, string Author, string ReplayedBy);

/// <summary>Steps that cannot be undone any more, because the history had grown too long or too large.</summary>
/// <param name="At">When the last of them was dropped, ISO 8601 in UTC.</param>
public sealed record DroppedSteps(long Count, string At);

/// <summary>What is to be taken back was changed or used by others since.</summary>
public sealed class UsedMeanwhileException() : Exception("It was used meanwhile. Undo what came after it first.");

/// <summary>A step cannot be undone while it is being made.</summary>
public sealed class StepUnderWayException(string label) : Exception($"“{label}” is still under way. Stop it first, then undo it.");
