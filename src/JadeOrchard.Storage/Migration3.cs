namespace JadeOrchard.Storage;

/// <summary>Rows added in great numbers are recorded for undo as ranges.</summary>
internal static class Migration3
{
    public static readonly string Sql = """
        -- How many writers are adding rows that they record as ranges.
        alter table undo_recording add column in_ranges integer not null default 0;

        """
        + UndoLog.InRangesTriggerFor("keyword")
        + UndoLog.InRangesTriggerFor("keyword_value")
        + UndoLog.InRangesTriggerFor("result_list");
}
