namespace JadeOrchard.Storage;

/// <summary>Which parts of a job become one step of the history though others wrote in between.</summary>
internal static class UndoJoins
{
    /// <summary>
    /// Puts what a job did into the step that it made before, though others came in between: possible as long as none of these changed the same rows,
    /// since then it does not matter which is undone first.
    /// </summary>
    public static bool Joined(WriteSession session, UndoLog.Recording recording)
    {
        (string, object?)[] steps =
        [
            ("now", recording.StepId),
            ("step", session.Scalar("select max(step_id) from undo_step where group_id = @group and is_undone = 0", ("group", recording.GroupId))),
        ];
        if (steps[1].Item2 is null)
            return false;
        var tables = Tables.RecordedOnes.Where(t => session.Count($"select exists (select 1 from undo_{t.Name} where step_id = @now)", steps) == 1).ToList();
        const string between = "s.step_id > @step and s.step_id < @now";
        if (AreTouched(session, "n.step_id = @now", between, steps) || Tables.RecordedOnes.Any(t => Replaces(session, t, between, steps) || DependsOn(session, t, between, steps)))
            return false;
        foreach (var table in tables)
        {
            session.Execute(
                $"""
                update or ignore undo_{table.Name} set step_id = @step where step_id = @now;
                delete from undo_{table.Name} where step_id = @now;
                """,
                steps);
        }

        session.Execute(
            """
            update or ignore undo_range set step_id = @step where step_id = @now;
            update undo_recording set last_step_id = @now, revision = revision + 1;
            update undo_step set is_open = 1, revision = (select revision from undo_recording) where step_id = @step;
            """,
            steps);
        return true;
    }

    /// <returns>Whether steps changed rows that another one changed too.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="own">Which images, and ranges, "n".</param>
    /// <param name="others">Which steps "s".</param>
    /// <param name="parameters">For both.</param>
    public static bool AreTouched(Session session, string own, string others, (string, object?)[] parameters)
    {
        static string Within(string range, string table, string row) => $"{range}.table_name = '{table}' and {row} between {range}.first_id and {range}.last_id";
        return Tables.RecordedOnes.Any(t => new[]
        {
            $"undo_{t.Name} o on o.step_id = s.step_id join undo_{t.Name} n on n.row_id = o.row_id",
            $"undo_{t.Name} o on o.step_id = s.step_id join undo_range n on {Within("n", t.Name, "o.row_id")}",
            $"undo_range o on o.step_id = s.step_id join undo_{t.Name} n on {Within("o", t.Name, "n.row_id")}",
            $"undo_range o on o.step_id = s.step_id join undo_range n on {Within("o", t.Name, "n.first_id")} and n.table_name = o.table_name",
            $"undo_range o on o.step_id = s.step_id join undo_range n on {Within("n", t.Name, "o.first_id")} and n.table_name = o.table_name",
        }.Any(pairs => session.Count($"select exists (select 1 from undo_step s join {pairs} where {own} and {others})", parameters) == 1));
    }

    /// <returns>Whether a row of step "@now" has a unique key that a row had which others changed or deleted: with that row back, both would have it.</returns>
    private static bool Replaces(Session session, TableRule table, string others, (string, object?)[] parameters)
    {
        var (key, recorded) = UndoLog.ColumnsOf(session, table);
        return session.List($"select name from pragma_index_list('{table.Name}') where \"unique\" and not partial and origin <> 'pk'", r => r.GetString(0))
            .Select(index => session.List($"select name from pragma_index_info('{index}')", r => r.GetString(0)))
            .Where(columns => columns.All(recorded.Contains))
            .Any(columns => session.Count(
                $"""
                select exists (
                  select 1 from undo_step s
                  join undo_{table.Name} o on o.step_id = s.step_id and o.existed
                  join {table.Name} t on {string.Join(" and ", columns.Select(c => $"t.{c} = o.{c}"))} and t.{key} <> o.row_id
                  where {others} and {IsNow(table, key)})
                """, parameters) == 1);
    }

    /// <returns>Whether rows of step "@now" point to rows that others added, or others' rows pointed to rows that it deleted.</returns>
    private static bool DependsOn(Session session, TableRule table, string others, (string, object?)[] parameters)
    {
        var (key, recorded) = UndoLog.ColumnsOf(session, table);
        return session.List($"select \"from\", \"table\" from pragma_foreign_key_list('{table.Name}')", r => (Column: r.GetString(0), Parent: r.GetString(1)))
            .Where(f => (f.Column == key || recorded.Contains(f.Column)) && Tables.RecordedOnes.Any(t => t.Name == f.Parent))
            .Any(f => new[]
            {
                $"undo_{f.Parent} o on o.step_id = s.step_id and not o.existed join {table.Name} t on t.{f.Column} = o.row_id and {IsNow(table, key)}",
                $"undo_range o on o.step_id = s.step_id and o.table_name = '{f.Parent}' join {table.Name} t on t.{f.Column} between o.first_id and o.last_id and {IsNow(table, key)}",
                $"undo_{table.Name} o on o.step_id = s.step_id and o.existed join undo_{f.Parent} n on n.step_id = @now and n.existed and n.row_id = o.{(f.Column == key ? "row_id" : f.Column)}",
            }.Any(pairs => session.Count($"select exists (select 1 from undo_step s join {pairs} where {others})", parameters) == 1));
    }

    /// <summary>Row "t" of a table was added or changed by step "@now".</summary>
    private static string IsNow(TableRule table, string key) => $"""
        (exists (select 1 from undo_{table.Name} n where n.step_id = @now and n.row_id = t.{key})
         or exists (select 1 from undo_range n where n.step_id = @now and n.table_name = '{table.Name}' and t.{key} between n.first_id and n.last_id))
        """;
}
