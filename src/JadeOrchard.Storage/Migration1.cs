namespace JadeOrchard.Storage;

/// <summary>The first shape of the data.</summary>
internal static class Migration1
{
    public static readonly string Sql = """
        create table project (
          project_id integer primary key check (project_id = 1),
          name text not null,
          host text not null,
          country text not null,
          language text not null,
          brand_terms text not null,
          data_version integer not null
        ) strict;
        insert into project values (1, '', '', 'GB', 'en', '', 0);

        create table grouping (
          grouping_id integer primary key check (grouping_id = 1),
          depth integer not null check (depth between 1 and 100),
          min_overlap integer not null check (min_overlap between 1 and depth),
          linking_rule text not null check (linking_rule in ('primary', 'everypair', 'chain')),
          grouped_at text
        ) strict;
        insert into grouping values (1, 10, 4, 'primary', null);

        create table keyword (
          keyword_id integer primary key,
          phrase text not null,
          normal_form text not null unique,
          volume integer check (volume >= 0),
          difficulty real check (difficulty between 0 and 100),
          title_matches integer check (title_matches >= 0),
          intent text check (intent in ('informational', 'commercial', 'transactional', 'navigational')),
          cpc real,
          captured_on integer
        ) strict;
        create index keyword_by_volume on keyword (volume);

        -- No identity stands here twice: the one writer of this table sees to it, by hash. An index over these long
        -- texts would cost more than all the rest of an import.
        create table url (
          url_id integer primary key,
          identity text not null,
          host text not null
        ) strict;

        -- Days are day numbers from 0001-01-01, so that they sort and compare as numbers.
        create table result (
          keyword_id integer not null references keyword,
          captured_on integer not null,
          url_id integer not null references url,
          position integer not null check (position >= 1),
          url text not null,
          title text,
          snippet text,
          primary key (keyword_id, captured_on, url_id)
        ) strict, without rowid;

        create table page (
          page_id integer primary key autoincrement,
          identity text not null unique,
          url text not null,
          kind text not null check (kind in ('existing', 'planned')),
          source text not null check (source in ('import', 'results', 'plan')),
          title text,
          h1 text,
          description text,
          words integer,
          h2 text,
          seen_for integer not null default 0,
          clicks real not null default 0
        ) strict;

        create table cluster (
          cluster_id integer primary key autoincrement,
          name text,
          primary_keyword_id integer not null references keyword,
          size integer not null default 0,
          demand integer not null default 0,
          mean_difficulty real,
          intent text,
          cohesion real
        ) strict;

        create table cluster_member (
          keyword_id integer primary key references keyword,
          cluster_id integer not null references cluster deferrable initially deferred
        ) strict;
        create index member_by_cluster on cluster_member (cluster_id);

        -- One cluster has at most one page: the key says so.
        create table assignment (
          cluster_id integer primary key references cluster on delete cascade,
          page_id integer not null references page deferrable initially deferred,
          decided_at text not null
        ) strict;
        create index assignment_by_page on assignment (page_id);

        create table suggestion (
          cluster_id integer primary key references cluster on delete cascade,
          page_id integer references page,
          verdict text not null check (verdict in ('none', 'doubtful', 'clear')),
          strength real not null,
          lost_to_cluster_id integer
        ) strict;

        create table page_candidate (
          cluster_id integer not null references cluster on delete cascade,
          place integer not null,
          page_id integer not null references page,
          results real not null,
          text real,
          strength real not null,
          primary key (cluster_id, place)
        ) strict, without rowid;

        create table finding (
          finding_key text primary key,
          kind text not null,
          cluster_id integer not null,
          other_cluster_id integer,
          keyword_id integer not null,
          page_id integer,
          other_page_id integer,
          at_stake real not null,
          facts text not null,
          present integer not null,
          state text not null check (state in ('open', 'accepted', 'dismissed', 'resolved')),
          first_found_at text not null
        ) strict, without rowid;
        create index finding_by_cluster on finding (cluster_id);
        create index finding_by_other_cluster on finding (other_cluster_id);

        create table finding_decision (
          decision_id integer primary key,
          finding_key text not null unique,
          state text not null check (state in ('open', 'accepted', 'dismissed', 'resolved')),
          reason text not null check (state <> 'dismissed' or trim(reason) <> ''),
          data_version integer not null,
          went_away integer not null,
          decided_at text not null
        ) strict;

        create table job (
          job_id integer primary key autoincrement,
          kind text not null,
          label text not null,
          arguments text not null,
          state text not null check (state in ('waiting', 'running', 'done', 'failed', 'stopped')),
          message text not null,
          created_at text not null,
          finished_at text
        ) strict;

        create table import (
          import_id integer primary key references job (job_id),
          kind text not null,
          file_name text not null,
          rows_added integer not null,
          rows_updated integer not null,
          rows_rejected integer not null
        ) strict;

        create table rejected_row (
          import_id integer not null references import,
          line integer not null,
          column_name text not null,
          reason text not null,
          value text not null
        ) strict;
        create index rejected_by_import on rejected_row (import_id);

        """
        + UndoLog.Schema
        + UndoLog.TriggersFor("grouping", "depth", "min_overlap", "linking_rule", "grouped_at")
        + UndoLog.TriggersFor("cluster", "name", "primary_keyword_id", "size", "demand", "mean_difficulty", "intent", "cohesion")
        + UndoLog.TriggersFor("cluster_member", "cluster_id")
        + UndoLog.TriggersFor("assignment", "page_id", "decided_at")
        + UndoLog.TriggersFor("page", "identity", "url", "kind", "source", "title", "h1", "description", "words", "h2", "seen_for", "clicks")
        + UndoLog.TriggersFor("finding_decision", "finding_key", "state", "reason", "data_version", "went_away", "decided_at");
}
