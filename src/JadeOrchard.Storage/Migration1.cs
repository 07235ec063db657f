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
          settings text not null
        ) strict;
        insert into project values (1, '', '', 'GB', 'en', '', '{}');

        create table data_state (
          data_state_id integer primary key check (data_state_id = 1),
          version integer not null,
          -- Tells this project from all others, to services.
          identity text not null
        ) strict;
        insert into data_state values (1, 0, lower(hex(randomblob(8))));

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
          -- Told from the phrase alone, see KeywordReading.
          words text not null,
          word_count integer not null,
          is_question integer not null,
          brand text not null check (brand in ('none', 'own', 'other')),
          told_intent text check (told_intent in ('informational', 'commercial', 'transactional', 'navigational')),
          told_by text,
          variant_key text not null,
          -- Day of the newest result list, and what came of the newest capture.
          captured_on integer,
          capture_state text check (capture_state in ('captured', 'empty', 'failed')),
          capture_note text
        ) strict;
        create index keyword_by_volume on keyword (volume desc, normal_form);
        create index keyword_by_variant on keyword (variant_key);

        -- No identity stands here twice: the one writer of this table sees to it, by hash. An index over these long
        -- texts would cost more than all the rest of an import.
        create table url (
          url_id integer primary key,
          identity text not null,
          host text not null
        ) strict;

        -- Days are day numbers from 0001-01-01, so that they sort and compare as numbers.
        create table result_list (
          list_id integer primary key autoincrement,
          keyword_id integer not null references keyword,
          captured_on integer not null,
          captured_at text not null,
          origin text not null check (origin in ('import', 'capture')),
          depth integer,
          unique (keyword_id, captured_on)
        ) strict;

        -- Written in the order in which they come, which costs least at a million rows; who reads a list takes a URL
        -- that stands in it twice at its best position.
        create table result (
          result_id integer primary key,
          list_id integer not null,
          url_id integer not null,
          position integer not null check (position >= 1),
          url text not null,
          title text,
          snippet text
        ) strict;
        create index result_by_list on result (list_id);

        -- What people also ask, and related searches.
        create table result_phrase (
          list_id integer not null,
          kind text not null check (kind in ('question', 'related')),
          place integer not null,
          phrase text not null,
          primary key (list_id, kind, place)
        ) strict, without rowid;

        -- Result lists that are gone but may come back by undo or redo; their results stay until the step is forgotten.
        create table dead_list (
          list_id integer primary key,
          step_id integer not null
        ) strict;

        create trigger list_dies after delete on result_list begin
          insert or replace into dead_list select old.list_id, step_id from undo_recording where step_id is not null;
          delete from result where list_id = old.list_id and (select step_id from undo_recording) is null;
          delete from result_phrase where list_id = old.list_id and (select step_id from undo_recording) is null;
        end;

        create table page (
          page_id integer primary key autoincrement,
          identity text not null unique,
          url text not null,
          kind text not null check (kind in ('existing', 'planned')),
          source text not null check (source in ('import', 'results', 'scan', 'plan')),
          title text,
          h1 text,
          description text,
          words integer,
          h2 text,
          h3 text,
          -- What the newest scan saw; null where no scan has been there.
          status integer,
          indexable text,
          canonical text,
          redirects_to text,
          published_on text,
          modified_on text,
          first_seen_at text,
          scanned_at text,
          gone_since text,
          links_in integer,
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
          state text not null check (state in ('waiting', 'running', 'paused', 'done', 'failed', 'stopped')),
          step_id integer,
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
        + StatementTriggers.Schema
        + StatementTriggers.TriggersFor("project", "name", "host", "country", "language", "brand_terms", "settings")
        + StatementTriggers.TriggersFor("grouping", "depth", "min_overlap", "linking_rule", "grouped_at")
        + StatementTriggers.TriggersFor("keyword", ["captured_on", "capture_state", "capture_note"],
            "phrase", "normal_form", "volume", "difficulty", "title_matches", "intent", "cpc", "words", "word_count", "is_question", "brand",
            "told_intent", "told_by", "variant_key")
        + StatementTriggers.TriggersFor("result_list", "keyword_id", "captured_on", "captured_at", "origin", "depth")
        + StatementTriggers.TriggersFor("cluster", "name", "primary_keyword_id", "size", "demand", "mean_difficulty", "intent", "cohesion")
        + StatementTriggers.TriggersFor("cluster_member", "cluster_id")
        + StatementTriggers.TriggersFor("assignment", "page_id", "decided_at")
        + StatementTriggers.TriggersFor(
            "page", "identity", "url", "kind", "source", "title", "h1", "description", "words", "h2", "h3", "status", "indexable", "canonical", "redirects_to",
            "published_on", "modified_on", "first_seen_at", "scanned_at", "gone_since", "links_in", "seen_for", "clicks")
        + StatementTriggers.TriggersFor("finding_decision", "finding_key", "state", "reason", "data_version", "went_away", "decided_at");
}
