namespace JadeOrchard.Storage;

/// <summary>
/// Undo by images of rows; large data apart from the rows that own it; what a scan read of a page as one content; findings that follow from
/// other data alone; coverage as a column of clusters. The undo history of before is dropped: it was kept in another way.
/// </summary>
internal static class Migration6
{
    public static readonly string Sql = """
        pragma defer_foreign_keys = on;
        drop trigger if exists list_dies;
        drop trigger if exists performance_dies;
        delete from result where list_id in (select list_id from dead_list where list_id not in (select list_id from result_list));
        delete from result_phrase where list_id in (select list_id from dead_list where list_id not in (select list_id from result_list));
        delete from performance where batch_id in (select batch_id from dead_performance where batch_id not in (select batch_id from performance_batch));
        drop table dead_list;
        drop table dead_performance;
        drop table undo_entry;
        drop table undo_step;
        drop table undo_recording;
        update job set step_id = null where step_id is not null;

        create table undo_step (
          step_id integer primary key,
          -- Steps of one job have the id of its first one.
          group_id integer not null,
          label text not null,
          is_undone integer not null default 0,
          is_open integer not null default 0,
          bytes integer not null default 0,
          -- That of the project when it was made, undone or redone last.
          revision integer not null default 0,
          made_at text not null
        ) strict;

        -- Rows that were added at the end of a table, recorded as one.
        create table undo_range (
          step_id integer not null,
          table_name text not null,
          first_id integer not null,
          last_id integer not null,
          primary key (step_id, table_name, first_id)
        ) strict, without rowid;

        create table undo_recording (
          recording_id integer primary key check (recording_id = 1),
          step_id integer,
          in_ranges integer not null default 0,
          last_step_id integer not null default 0,
          -- Grows with each recorded change, undo and redo.
          revision integer not null default 0,
          dropped_steps integer not null default 0,
          dropped_at text
        ) strict;
        insert into undo_recording (recording_id) values (1);


        alter table keyword rename column told_by to intent_rule;
        -- Why the last capture of a keyword failed.
        create table capture_failure (
          keyword_id integer primary key,
          note text not null
        ) strict;
        insert into capture_failure select keyword_id, capture_note from keyword where capture_note is not null;

        -- Which rules derived data were computed by; others compute them again.
        alter table data_state add column derived_version integer not null default 0;

        alter table result_list add column is_empty integer not null default 0;
        update result_list set is_empty = 1 where not exists (select 1 from result r where r.list_id = result_list.list_id);

        -- Grows with each capture, import of results, reading of pages and search performance.
        create table evidence (
          evidence_id integer primary key check (evidence_id = 1),
          version integer not null
        ) strict;
        insert into evidence select 1, version from data_state;

        create table page_content (
          content_id integer primary key autoincrement,
          text text not null
        ) strict;
        alter table page add column content_id integer;
        insert into page_content (content_id, text) select page_id, text from page_text;
        update page set content_id = page_id where exists (select 1 from page_text t where t.page_id = page.page_id);
        create index page_by_content on page (content_id);

        create table new_link (
          content_id integer not null,
          place integer not null,
          to_identity text not null,
          anchor text not null,
          primary key (content_id, place)
        ) strict, without rowid;
        insert into new_link select from_page_id, place, to_identity, anchor from page_link where from_page_id in (select content_id from page_content);
        drop table page_link;
        alter table new_link rename to page_link;
        create index page_link_by_target on page_link (to_identity);

        create table new_stems (
          content_id integer primary key,
          language text not null,
          stems text not null
        ) strict;
        insert into new_stems select page_id, language, stems from page_stems;
        drop table page_stems;
        alter table new_stems rename to page_stems;
        drop table page_text;

        create table new_title (
          title_id integer primary key,
          page_id integer not null,
          seen_at text not null,
          title text not null
        ) strict;
        insert into new_title (page_id, seen_at, title) select page_id, seen_at, title from page_title order by page_id, seen_at;
        drop table page_title;
        alter table new_title rename to page_title;
        create index page_title_by_page on page_title (page_id, seen_at);

        -- Nothing cascades: what a store deletes is written in the store.
        create table new_assignment (
          cluster_id integer primary key references cluster deferrable initially deferred,
          page_id integer not null references page deferrable initially deferred,
          decided_at text not null
        ) strict;
        insert into new_assignment select * from assignment;
        drop table assignment;
        alter table new_assignment rename to assignment;
        create index assignment_by_page on assignment (page_id);

        create table new_decline (
          cluster_id integer primary key references cluster deferrable initially deferred,
          reason text not null check (trim(reason) <> ''),
          declined_at text not null
        ) strict;
        insert into new_decline select * from cluster_decline;
        drop table cluster_decline;
        alter table new_decline rename to cluster_decline;

        create table new_suggestion (
          cluster_id integer primary key,
          page_id integer,
          verdict text not null check (verdict in ('none', 'doubtful', 'clear')),
          strength real not null,
          lost_to_cluster_id integer
        ) strict;
        insert into new_suggestion select * from suggestion;
        drop table suggestion;
        alter table new_suggestion rename to suggestion;

        create table new_candidate (
          cluster_id integer not null,
          place integer not null,
          page_id integer not null,
          results real,
          performance real,
          text real,
          named real not null default 0,
          strength real not null,
          primary key (cluster_id, place)
        ) strict, without rowid;
        drop table page_candidate;
        alter table new_candidate rename to page_candidate;

        create index page_planned on page (page_id) where kind = 'planned';
        create index topic_by_pillar on topic (pillar_cluster_id);

        create table new_link (
          cluster_id integer not null,
          other_cluster_id integer not null,
          weight real not null,
          primary key (cluster_id, other_cluster_id)
        ) strict, without rowid;
        insert into new_link select cluster_id, other_cluster_id, weight from cluster_link;
        drop table cluster_link;
        alter table new_link rename to cluster_link;
        create index cluster_link_by_other on cluster_link (other_cluster_id);

        alter table cluster add column coverage text not null default 'uncovered' check (coverage in ('covered', 'planned', 'uncovered', 'contested', 'declined'));
        update cluster set coverage = 'declined' where exists (select 1 from cluster_decline d where d.cluster_id = cluster.cluster_id);
        update cluster set coverage = 'contested' where coverage = 'uncovered' and conflicts > 0;
        update cluster set coverage = (select iif(g.kind = 'existing', 'covered', 'planned') from assignment a join page g on g.page_id = a.page_id where a.cluster_id = cluster.cluster_id)
        where coverage = 'uncovered' and exists (select 1 from assignment a where a.cluster_id = cluster.cluster_id);
        create index cluster_by_coverage on cluster (coverage, demand);
        create index cluster_by_demand on cluster (demand desc, cluster_id);
        alter table coverage rename to coverage_day;
        alter table coverage_day rename column part to coverage;
        update coverage_day set coverage = 'uncovered' where coverage = 'open';

        -- Keys in which the ids of clusters and pages are in a fixed order, so that no two findings share one.
        create temp table new_key (old text primary key, new text not null);
        insert into temp.new_key
        select finding_key, 'shared-target:' || min(cluster_id, other_cluster_id) || ':' || max(cluster_id, other_cluster_id) || ':' || min(page_id, other_page_id) || ':' || max(page_id, other_page_id)
        from finding where kind = 'sharedtarget' and other_cluster_id is not null and page_id is not null and other_page_id is not null
        union all
        select finding_key, 'mixed-target:' || page_id || ':' || min(cluster_id, other_cluster_id) || ':' || max(cluster_id, other_cluster_id)
        from finding where kind = 'mixedtarget' and other_cluster_id is not null and page_id is not null
        union all
        select finding_key, 'unlinked-support:' || cluster_id || ':' || page_id || ':' || other_page_id
        from finding where kind = 'unlinkedsupport' and cluster_id is not null and page_id is not null and other_page_id is not null;
        update or ignore finding set finding_key = (select new from temp.new_key where old = finding_key) where finding_key in (select old from temp.new_key);
        update or ignore finding_decision set finding_key = (select new from temp.new_key where old = finding_key) where finding_key in (select old from temp.new_key);
        update or ignore plan_step set finding_key = (select new from temp.new_key where old = finding_key) where finding_key in (select old from temp.new_key);
        drop table temp.new_key;

        -- When findings were first seen, and what they were about when their cause went away; all else follows from other data.
        create table finding_seen (
          seen_id integer primary key,
          finding_key text not null unique,
          first_found_at text not null,
          went_away integer not null default 0,
          kind text,
          cluster_id integer,
          other_cluster_id integer,
          keyword_id integer,
          page_id integer,
          other_page_id integer,
          at_stake real not null default 0,
          facts text not null default '[]'
        ) strict;
        insert into finding_seen (finding_key, first_found_at, went_away, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts)
        select finding_key, first_found_at, not present, iif(present, null, kind), iif(present, null, cluster_id), iif(present, null, other_cluster_id), iif(present, null, keyword_id),
          iif(present, null, page_id), iif(present, null, other_page_id), iif(present, 0.0, at_stake), iif(present, '[]', facts)
        from finding;
        create index finding_seen_gone on finding_seen (cluster_id) where went_away = 1;

        alter table finding_decision rename column data_version to evidence_version;

        create table new_finding (
          finding_id integer primary key,
          finding_key text not null unique,
          -- What was looked at to find it.
          scope text not null default '',
          -- Findings about the same clicks.
          matter text not null default '',
          kind text not null,
          cluster_id integer,
          other_cluster_id integer,
          keyword_id integer,
          page_id integer,
          other_page_id integer,
          at_stake real not null,
          facts text not null,
          facts_hash integer not null default 0,
          present integer not null,
          state text not null check (state in ('open', 'accepted', 'dismissed', 'resolved')),
          -- What is at stake apart from what a larger finding about the same matter counts already.
          counted real not null default 0
        ) strict;
        insert into new_finding (finding_key, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts, present, state, counted)
        select finding_key, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts, present, state, counted
        from finding;
        drop table finding;
        alter table new_finding rename to finding;
        create index finding_by_cluster on finding (cluster_id);
        create index finding_by_other_cluster on finding (other_cluster_id);
        create index finding_by_page on finding (page_id);
        create index finding_by_other_page on finding (other_page_id);
        create index finding_by_scope on finding (scope);
        create index performance_pair_by_page on performance_pair (performance_page_id);
        create index finding_by_matter on finding (matter);
        create index finding_absent on finding (finding_key) where present = 0;
        create index finding_by_stake on finding (at_stake desc, finding_key);
        create index finding_no_page on finding (cluster_id, state) where kind = 'nopage';
        create index finding_decided on finding (state) where state <> 'open';
        """;
}
