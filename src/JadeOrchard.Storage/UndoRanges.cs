namespace JadeOrchard.Storage;

/// <summary>
/// Adds rows at the end of tables as one range a table instead of one image a row, which at a million rows is most of the cost of recording.
/// Until it ends, no row that is added to a table that it does not name is recorded at all.
/// </summary>
internal sealed class UndoRanges : IGivesWay
{
    private readonly WriteSession _session;
    private readonly (string Table, long Before)[] _tables;
    private bool _isOn;

    public UndoRanges(WriteSession session, params string[] tables)
    {
        _session = session;
        _tables = [.. tables.Select(t => (t, 0L))];
        AfterOthers(haveChanged: true);
        session.Add(this);
    }

    /// <summary>To be called once, after the last row.</summary>
    public void End()
    {
        _session.Remove(this);
        BeforeOthers();
    }

    /// <summary>Begins after the rows that are there now.</summary>
    public void AfterOthers(bool haveChanged)
    {
        for (var i = 0; i < _tables.Length; i++)
            _tables[i].Before = Last(_tables[i].Table);
        // A row deleted by the same step could get its id again; then each row is recorded by itself.
        var step = _session.Count("select step_id from undo_recording");
        _isOn = step > 0 && Array.TrueForAll(_tables, t => _session.Count($"select coalesce(max(row_id), 0) from undo_{t.Table} where step_id = @step", ("step", step)) <= t.Before);
        if (_isOn)
            _session.Execute("update undo_recording set in_ranges = in_ranges + 1");
    }

    /// <summary>Records the rows that came since.</summary>
    public void BeforeOthers()
    {
        if (!_isOn)
            return;
        foreach (var (table, before) in _tables)
        {
            var last = Last(table);
            if (last > before)
            {
                _session.Execute(
                    "insert or replace into undo_range (step_id, table_name, first_id, last_id) select step_id, @table, @first, @last from undo_recording where step_id is not null",
                    ("table", table), ("first", before + 1), ("last", last));
            }
        }

        _session.Execute("update undo_recording set in_ranges = in_ranges - 1");
    }

    private long Last(string table) => _session.Count($"select max(rowid) from {table}");
}
