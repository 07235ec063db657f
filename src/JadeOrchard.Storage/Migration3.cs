namespace JadeOrchard.Storage;

/// <summary>Rows added in great numbers are recorded for undo as ranges; clusters and pages keep the tally of their findings.</summary>
internal static class Migration3
{
    public static readonly string Sql = """
        -- How many writers are adding rows that they record as ranges.
        alter table undo_recording add column in_ranges integer not null default 0;

        """
        + StatementTriggers.InRangesTriggerFor("keyword")
        + StatementTriggers.InRangesTriggerFor("keyword_value")
        + StatementTriggers.InRangesTriggerFor("result_list")
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
        + StatementTriggers.TriggersFor("cluster", "name", "primary_keyword_id", "size", "demand", "mean_difficulty", "intent", "cohesion", "is_locked")
        + StatementTriggers.TriggersFor("cluster_member", "cluster_id", "is_placed")
        + """

        -- A cluster without a page is mostly absent as well: the same clicks, which count once.
        update cluster set at_stake = f.at_stake, open_findings = f.count, conflicts = f.conflicts
        from (
          select c.cluster_id, coalesce(t.count, 0) as count, coalesce(t.at_stake, 0.0) as at_stake, coalesce(t.conflicts, 0) as conflicts
          from cluster c
          left join (
            select cluster_id, count(*) as count, sum(iif(is_conflict, at_stake, 0.0)) + max(iif(is_conflict, 0.0, at_stake)) as at_stake, sum(is_conflict) as conflicts
            from (
              select cluster_id, kind in ('rivalsinresults', 'wrongpageranks', 'sharedtarget') as is_conflict, at_stake
              from finding where state in ('open', 'accepted')
              union all
              select other_cluster_id, 1, 0.0 from finding where state in ('open', 'accepted') and other_cluster_id is not null
            )
            group by cluster_id
          ) t on t.cluster_id = c.cluster_id
        ) f
        where f.cluster_id = cluster.cluster_id
          and (cluster.at_stake, cluster.open_findings, cluster.conflicts) <> (f.at_stake, f.count, f.conflicts);
        update page set open_findings = f.count
        from (
          select g.page_id, coalesce(t.count, 0) as count
          from page g
          left join (
            select page_id, count(*) as count
            from (
              select page_id, finding_key from finding where state in ('open', 'accepted')
              union
              select other_page_id, finding_key from finding where state in ('open', 'accepted')
            )
            group by page_id
          ) t on t.page_id = g.page_id
        ) f
        where f.page_id = page.page_id and page.open_findings <> f.count;
        """;
}
