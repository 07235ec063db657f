namespace JadeOrchard.Storage;

/// <summary>Sources of keywords, lists, services, scans and captures.</summary>
internal static class Migration2
{
    public static readonly string Sql = """
        -- Where keywords come from: a file, a seed, a rival's host, a result list.
        create table source (
          source_id integer primary key autoincrement,
          kind text not null check (kind in ('file', 'paste', 'research', 'suggestions', 'rankings', 'performance', 'results', 'hand')),
          label text not null,
          made_at text not null
        ) strict;

        -- What a source said of a keyword.
        create table keyword_value (
          value_id integer primary key,
          keyword_id integer not null references keyword,
          source_id integer not null references source,
          -- As this source writes it, and whether it is a close variant that was merged.
          phrase text not null,
          of_variant integer not null default 0,
          volume integer,
          difficulty real,
          title_matches integer,
          intent text,
          cpc real,
          clicks integer,
          impressions integer,
          position real,
          said_at text not null,
          unique (keyword_id, source_id)
        ) strict;
        create index value_by_source on keyword_value (source_id, keyword_id);

        -- The planner's choice among what sources say; without one the newest counts.
        create table keyword_choice (
          choice_id integer primary key,
          keyword_id integer not null references keyword,
          field text not null check (field in ('volume', 'difficulty', 'title_matches', 'intent', 'cpc')),
          source_id integer not null references source,
          unique (keyword_id, field)
        ) strict;

        -- Close variants that were merged: their words now mean the keyword.
        create table keyword_alias (
          alias_id integer primary key,
          normal_form text not null unique,
          phrase text not null,
          keyword_id integer not null references keyword
        ) strict;
        create index alias_by_keyword on keyword_alias (keyword_id);

        create table list (
          list_id integer primary key autoincrement,
          name text not null unique collate nocase,
          notes text not null,
          made_at text not null
        ) strict;

        create table list_member (
          member_id integer primary key,
          list_id integer not null references list deferrable initially deferred,
          keyword_id integer not null references keyword deferrable initially deferred,
          unique (list_id, keyword_id)
        ) strict;
        create index list_member_by_keyword on list_member (keyword_id);

        create table saved_filter (
          filter_id integer primary key,
          name text not null unique collate nocase,
          query text not null
        ) strict;

        -- Columns mapped by hand, remembered by the shape of the header.
        create table column_mapping (
          header text not null,
          kind text not null,
          columns text not null,
          primary key (header, kind)
        ) strict, without rowid;

        -- Keys stand apart, so that they are in no list, no undo step and no answer.
        create table service (
          name text primary key check (name in ('search', 'suggestions', 'research', 'rankings', 'performance')),
          address text not null,
          header text not null
        ) strict, without rowid;

        create table service_key (
          name text primary key,
          key text not null
        ) strict, without rowid;

        create table scan (
          scan_id integer primary key references job (job_id),
          depth text not null check (depth in ('light', 'full')),
          start_url text not null,
          found_by text not null,
          notes text not null,
          started_at text not null,
          finished_at text
        ) strict;

        create table scan_url (
          scan_id integer not null references scan on delete cascade,
          place integer not null,
          identity text not null,
          url text not null,
          state text not null check (state in ('waiting', 'done', 'failed', 'skipped')),
          note text not null,
          primary key (scan_id, identity)
        ) strict, without rowid;
        create index scan_url_by_place on scan_url (scan_id, state, place);

        create table page_change (
          change_id integer primary key,
          scan_id integer not null references scan on delete cascade,
          page_id integer not null,
          url text not null,
          kind text not null check (kind in ('new', 'gone', 'back', 'title', 'h1', 'status', 'indexable')),
          before text,
          after text
        ) strict;
        create index page_change_by_scan on page_change (scan_id, kind);

        create table page_title (
          page_id integer not null references page on delete cascade,
          seen_at text not null,
          title text not null,
          primary key (page_id, seen_at)
        ) strict, without rowid;

        create table page_link (
          from_page_id integer not null references page on delete cascade,
          place integer not null,
          to_identity text not null,
          anchor text not null,
          primary key (from_page_id, place)
        ) strict, without rowid;
        create index page_link_by_target on page_link (to_identity);

        -- Main text of pages of a full scan, for the text evidence and for briefs.
        create table page_text (
          page_id integer primary key references page on delete cascade,
          text text not null
        ) strict;

        -- What hosts stand for, as the rankings service says.
        create table ranking (
          host text not null,
          normal_form text not null,
          url text not null,
          phrase text not null,
          position integer not null,
          volume integer,
          difficulty real,
          title_matches integer,
          intent text,
          cpc real,
          read_at text not null,
          primary key (host, normal_form, url)
        ) strict, without rowid;

        create table capture_item (
          job_id integer not null references job (job_id) on delete cascade,
          place integer not null,
          keyword_id integer not null,
          state text not null check (state in ('waiting', 'captured', 'empty', 'failed')),
          note text not null,
          primary key (job_id, keyword_id)
        ) strict, without rowid;
        create index capture_item_by_place on capture_item (job_id, state, place);

        """
        + StatementTriggers.TriggersFor("keyword_value", "keyword_id", "source_id", "phrase", "of_variant", "volume", "difficulty", "title_matches", "intent", "cpc", "clicks", "impressions", "position", "said_at")
        + StatementTriggers.TriggersFor("keyword_choice", "keyword_id", "field", "source_id")
        + StatementTriggers.TriggersFor("keyword_alias", "normal_form", "phrase", "keyword_id")
        + StatementTriggers.TriggersFor("list", "name", "notes", "made_at")
        + StatementTriggers.TriggersFor("list_member", "list_id", "keyword_id")
        + StatementTriggers.TriggersFor("saved_filter", "name", "query");
}
