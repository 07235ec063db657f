using System.Globalization;

namespace JadeOrchard.Storage;

/// <summary>How long and how large the history may grow, and what goes with a step that is dropped.</summary>
internal static class UndoBounds
{
    /// <summary>Older steps are dropped.</summary>
    public const int MostSteps = 5_000;

    /// <summary>Older steps are dropped when images and the large data that only steps can bring back take more.</summary>
    public const long MostBytes = 256L << 20;

    /// <summary>About how much a step takes, with the large data that only it can bring back.</summary>
    public static long BytesOf(Session session, long step)
    {
        var bytes = 0L;
        foreach (var table in Tables.RecordedOnes)
        {
            if (session.Count($"select exists (select 1 from undo_{table.Name} where step_id = @step)", ("step", step)) == 0)
                continue;
            var texts = session.List($"select name from pragma_table_info('{table.Name}') where type = 'TEXT' and not pk", r => r.GetString(0)).Except(table.Derived);
            bytes += session.Count(
                $"""
                select 24 * count(*) + coalesce(sum(iif(existed, 40{string.Concat(texts.Select(t => $" + coalesce(length({t}), 0)"))}, 0)), 0)
                  {(table.PayloadBytes is { } payload ? $"+ coalesce(sum(iif(existed, {payload}, 0)), 0)" : "")}
                from undo_{table.Name} i
                where step_id = @step
                """,
                ("step", step));
        }

        return bytes;
    }

    /// <summary>Drops the steps that were undone, once something else is done.</summary>
    public static void ForgetUndone(WriteSession session)
    {
        foreach (var step in session.List("select step_id from undo_step where is_undone = 1", r => r.GetInt64(0)))
            Forget(session, step);
    }

    /// <summary>Drops the oldest steps as long as there are too many, or they take too much; the newest stays.</summary>
    public static void DropOldest(WriteSession session)
    {
        var (steps, bytes) = session.First("select count(*), coalesce(sum(bytes), 0) from undo_step", r => Tuple.Create(r.GetInt64(0), r.GetInt64(1)))!;
        if (steps <= MostSteps && bytes <= MostBytes)
            return;
        var dropped = 0;
        foreach (var (step, size) in session.List(
            "select step_id, bytes from undo_step where is_open = 0 and step_id < (select max(step_id) from undo_step) order by step_id", r => (r.GetInt64(0), r.GetInt64(1))))
        {
            if (steps <= MostSteps && bytes <= MostBytes)
                break;
            Forget(session, step);
            (steps, bytes, dropped) = (steps - 1, bytes - size, dropped + 1);
        }

        if (dropped > 0)
        {
            session.Execute(
                "update undo_recording set dropped_steps = dropped_steps + @dropped, dropped_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now')", ("dropped", dropped));
        }
    }

    /// <summary>Drops a step, with the large data that only it could bring back.</summary>
    public static void Forget(WriteSession session, long step)
    {
        var lists = Owned(session, "undo_result_list", "row_id", step);
        var contents = Owned(session, "undo_page", "content_id", step);
        var batches = Owned(session, "undo_performance_batch", "row_id", step);
        foreach (var table in Tables.RecordedOnes)
            session.Execute($"delete from undo_{table.Name} where step_id = @step", ("step", step));
        session.Execute("delete from undo_range where step_id = @step; delete from undo_step where step_id = @step;", ("step", step));
        foreach (var list in lists.Where(id => IsGone(session, "result_list", "list_id", "undo_result_list", "row_id", id)))
            session.Execute("delete from result_part where list_id = @id; delete from result_phrase where list_id = @id;", ("id", list));
        foreach (var content in contents.Where(id => IsGone(session, "page", "content_id", "undo_page", "content_id", id)))
            session.Execute("delete from page_link where content_id = @id; delete from page_stems where content_id = @id; delete from page_content where content_id = @id;", ("id", content));
        var gone = batches.Where(id => IsGone(session, "performance_batch", "batch_id", "undo_performance_batch", "row_id", id)).ToList();
        // To look for the rows of a batch is to go through all of them.
        if (gone.Count > 0)
            session.Execute($"delete from performance_days where batch_id in ({string.Join(',', gone)})");
    }

    private static List<long> Owned(Session session, string images, string column, long step) => session.List(
        $"select {column} from {images} where step_id = @step and {column} is not null", r => r.GetInt64(0), ("step", step));

    private static bool IsGone(Session session, string table, string column, string images, string imageColumn, long id) => session.Count(
        string.Create(CultureInfo.InvariantCulture, $"select exists (select 1 from {table} where {column} = @id) or exists (select 1 from {images} where {imageColumn} = @id)"), ("id", id)) == 0;
}
