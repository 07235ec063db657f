namespace JadeOrchard.Storage;

/// <summary>Search performance, findings about pages alone, what the planner decided of conflicts, and pages as they are planned.</summary>
internal static class Migration5
{
    public static readonly string Sql = """
        create table performance_query (
          query_id integer primary key,
          normal_form text not null unique,
          phrase text not null
        ) strict;

        create table performance_page (
          performance_page_id integer primary key,
          identity text not null unique,
          url text not null
        ) strict;

        -- Rows that came together: of a file, or of a range of days that the service was asked for.
        create table performance_batch (
          batch_id integer primary key autoincrement,
          label text not null,
          origin text not null check (origin in ('import', 'service')),
          row_count integer not null,
          first_day integer not null,
          last_day integer not null,
          made_at text not null
        ) strict;

        -- The same day of the same query and page may come again in a later batch, which then counts.
        create table performance (
          query_id integer not null,
          performance_page_id integer not null,
          day integer not null,
          batch_id integer not null,
          clicks integer not null,
          impressions integer not null,
          -- Sum of position times impressions.
          weighted real not null,
          primary key (query_id, performance_page_id, day, batch_id)
        ) strict, without rowid;

        -- Batches that are gone but may come back by undo or redo; their rows stay until the step is forgotten.
        create table dead_performance (
          batch_id integer primary key,
          step_id integer not null
        ) strict;
        create trigger performance_dies after delete on performance_batch begin
          insert or replace into dead_performance select old.batch_id, step_id from undo_recording where step_id is not null;
        end;

        -- Worked out once from all batches: the sums of the newest days, and the best page of each week where several were shown.
        create table performance_pair (
          query_id integer not null,
          performance_page_id integer not null,
          clicks integer not null,
          impressions integer not null,
          position real not null,
          primary key (query_id, performance_page_id)
        ) strict, without rowid;
        create table performance_week (
          query_id integer not null,
          week integer not null,
          performance_page_id integer not null,
          primary key (query_id, week)
        ) strict, without rowid;
        create table performance_state (
          performance_state_id integer primary key check (performance_state_id = 1),
          -- The batches that it was worked out from.
          batches text not null,
          first_day integer not null,
          last_day integer not null,
          days integer not null
        ) strict;
        insert into performance_state values (1, '', 0, 0, 0);

        -- Stems of the main text, in order, parted by spaces; made anew when the text or the language changes.
        create table page_stems (
          page_id integer primary key references page on delete cascade,
          language text not null,
          stems text not null
        ) strict;

        alter table page add column form text check (form in ('guide', 'comparison', 'category', 'product', 'answer', 'other'));
        alter table page add column topic_id integer;
        drop trigger undo_page_insert;
        drop trigger undo_page_update;
        drop trigger undo_page_delete;

        -- A finding may be about pages alone.
        create table new_finding (
          finding_key text primary key,
          kind text not null,
          cluster_id integer,
          other_cluster_id integer,
          keyword_id integer,
          page_id integer,
          other_page_id integer,
          at_stake real not null,
          facts text not null,
          present integer not null,
          state text not null check (state in ('open', 'accepted', 'dismissed', 'resolved')),
          first_found_at text not null,
          -- What is at stake apart from what a larger finding about the same matter counts already.
          counted real not null default 0
        ) strict, without rowid;
        insert into new_finding
        select finding_key, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts, present, state, first_found_at, 0
        from finding;
        drop table finding;
        alter table new_finding rename to finding;
        create index finding_by_cluster on finding (cluster_id);
        create index finding_by_other_cluster on finding (other_cluster_id);
        create index finding_by_page on finding (page_id);
        create index finding_by_other_page on finding (other_page_id);

        alter table finding_decision add column assignee text not null default '';
        alter table finding_decision add column note text not null default '';
        drop trigger undo_finding_decision_insert;
        drop trigger undo_finding_decision_update;
        drop trigger undo_finding_decision_delete;

        -- Pairs of pages that the planner wants as they are; the smaller id first.
        create table deliberate_pair (
          pair_id integer primary key,
          page_id integer not null,
          other_page_id integer not null check (page_id < other_page_id),
          reason text not null check (trim(reason) <> ''),
          declared_at text not null,
          unique (page_id, other_page_id)
        ) strict;

        -- What is to be done about a finding.
        create table plan_step (
          plan_step_id integer primary key autoincrement,
          finding_key text not null unique,
          remedy text not null check (remedy in ('redirect', 'merge', 'newtarget', 'canonical', 'link')),
          cluster_id integer,
          page_id integer,
          other_page_id integer,
          note text not null,
          decided_at text not null
        ) strict;
        create index plan_step_by_cluster on plan_step (cluster_id);

        -- Clusters that the planner does not want a page for.
        create table cluster_decline (
          cluster_id integer primary key references cluster on delete cascade,
          reason text not null check (trim(reason) <> ''),
          declined_at text not null
        ) strict;

        -- Demand by state of coverage at the end of each day, for before and now.
        create table coverage (
          day integer not null,
          part text not null,
          clusters integer not null,
          demand integer not null,
          primary key (day, part)
        ) strict, without rowid;

        drop table page_candidate;
        create table page_candidate (
          cluster_id integer not null references cluster on delete cascade,
          place integer not null,
          page_id integer not null references page,
          results real,
          performance real,
          text real,
          strength real not null,
          primary key (cluster_id, place)
        ) strict, without rowid;

        """
        + StatementTriggers.TriggersFor("performance_batch", "label", "origin", "row_count", "first_day", "last_day", "made_at")
        + StatementTriggers.TriggersFor(
            "page", "identity", "url", "kind", "source", "title", "h1", "description", "words", "h2", "h3", "status", "indexable", "canonical", "redirects_to",
            "published_on", "modified_on", "first_seen_at", "scanned_at", "gone_since", "links_in", "seen_for", "clicks", "form", "topic_id")
        + StatementTriggers.TriggersFor("finding_decision", "finding_key", "state", "reason", "data_version", "went_away", "decided_at", "assignee", "note")
        + StatementTriggers.TriggersFor("deliberate_pair", "page_id", "other_page_id", "reason", "declared_at")
        + StatementTriggers.TriggersFor("plan_step", "finding_key", "remedy", "cluster_id", "page_id", "other_page_id", "note", "decided_at")
        + StatementTriggers.TriggersFor("cluster_decline", "reason", "declined_at");
}
