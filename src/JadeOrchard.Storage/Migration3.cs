using JadeOrchard.Storage.Findings;

namespace JadeOrchard.Storage;

/// <summary>Rows added in great numbers are recorded for undo as ranges; clusters and pages keep the tally of their findings.</summary>
internal static class Migration3
{
    public static readonly string Sql = """
        -- How many writers are adding rows that they record as ranges.
        alter table undo_recording add column in_ranges integer not null default 0;

        """
        + UndoLog.InRangesTriggerFor("keyword")
        + UndoLog.InRangesTriggerFor("keyword_value")
        + UndoLog.InRangesTriggerFor("result_list")
        + """

        -- Of findings that are open or accepted; kept, since lists are sorted by them.
        alter table cluster add column at_stake real not null default 0;
        alter table cluster add column open_findings integer not null default 0;
        alter table cluster add column conflicts integer not null default 0;
        alter table page add column open_findings integer not null default 0;
        -- How well each keyword stands in its cluster, see KeywordFit.
        alter table cluster_member add column fit real;
        alter table cluster_member add column nearest_cluster_id integer;
        alter table cluster_member add column bridge_cluster_id integer;
        alter table cluster add column weak_members integer not null default 0;
        -- What the planner fixed by hand: a re-grouping keeps it.
        alter table cluster add column is_locked integer not null default 0;
        alter table cluster_member add column is_placed integer not null default 0;
        drop trigger undo_cluster_insert;
        drop trigger undo_cluster_update;
        drop trigger undo_cluster_delete;
        drop trigger undo_cluster_member_insert;
        drop trigger undo_cluster_member_update;
        drop trigger undo_cluster_member_delete;
        create index finding_no_page on finding (cluster_id, state) where kind = 'nopage';

        """
        + UndoLog.TriggersFor("cluster", "name", "primary_keyword_id", "size", "demand", "mean_difficulty", "intent", "cohesion", "is_locked")
        + UndoLog.TriggersFor("cluster_member", "cluster_id", "is_placed")
        + FindingStore.RefreshTalliesSql;
}
