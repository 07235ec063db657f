namespace JadeOrchard.Storage;

/// <summary>The plan as steps: each one piece of work on one page, with parts to check off.</summary>
internal static class Migration13
{
    public const string Sql =
        """
        -- It is in a sitemap of the site; null where none was read.
        alter table page add column in_sitemap integer;

        -- Searches month by month: "2026-10|120|140|90", the newest month, then the numbers, oldest first.
        alter table keyword add column monthly_volumes text;
        alter table keyword_value add column monthly_volumes text;

        -- The diary of coverage by topic; 0 for clusters without a topic, and for days on which topics were not told apart.
        create table coverage_by_topic (
          day integer not null,
          topic_id integer not null,
          coverage text not null,
          clusters integer not null,
          demand integer not null,
          primary key (day, topic_id, coverage)
        ) strict, without rowid;
        insert into coverage_by_topic select day, 0, coverage, clusters, demand from coverage_day;
        drop table coverage_day;
        alter table coverage_by_topic rename to coverage_day;

        -- The whole page of another site for its words, as JSON; null where it was read before this was kept.
        alter table rival_page add column content text;

        create table brief (
          brief_id integer primary key autoincrement,
          cluster_id integer not null unique,
          -- What was proposed, from the facts of that moment, and what the planner made of it; both as JSON.
          proposal text not null,
          edits text not null default '{}',
          state text not null default 'draft' check (state in ('draft', 'ready', 'sent', 'returned', 'done')),
          writer text not null default '',
          -- A day, "2026-11-30".
          due text,
          notes text not null default '',
          made_at text not null,
          updated_at text not null
        ) strict;

        create table work_step (
          work_step_id integer primary key autoincrement,
          page_id integer not null,
          status text not null default 'todo' check (status in ('todo', 'inprogress', 'inreview', 'done', 'live', 'dropped')),
          owner text not null default '',
          -- Days, "2026-11-30".
          due text,
          -- The Monday of the week that the planner chose.
          week text,
          -- Hours as the planner says; null for those of the table.
          hours real,
          note text not null default '',
          -- Why it was dropped.
          reason text not null default '' check (status <> 'dropped' or trim(reason) <> ''),
          made_at text not null,
          done_at text,
          checked_at text
        ) strict;
        create index work_step_by_page on work_step (page_id);

        create table step_part (
          part_id integer primary key autoincrement,
          work_step_id integer not null,
          kind text not null check (kind in ('write', 'refresh', 'merge', 'redirect', 'canonical', 'retitle', 'link', 'removefromindex', 'leaveout')),
          -- The finding that asks for it; null where a planner added it or a page is planned.
          finding_key text,
          cluster_id integer,
          -- The page that it leads to, is merged with, or links to.
          other_page_id integer,
          -- What the finding says; the words to link.
          says text not null default '',
          words text not null default '',
          -- What must not get lost when texts are merged, as JSON: sentences that only the other page has. What the title was before it was to change.
          before text,
          -- Clicks a month that it is about, where the clusters of the page do not tell.
          at_stake real not null default 0,
          is_done integer not null default 0,
          -- What a scan found: null as long as none has looked.
          is_found integer,
          found text not null default ''
        ) strict;
        create index step_part_by_step on step_part (work_step_id);
        create index step_part_by_finding on step_part (finding_key);

        -- Comments, and what was changed.
        create table step_entry (
          entry_id integer primary key autoincrement,
          work_step_id integer not null,
          kind text not null check (kind in ('comment', 'change')),
          says text not null,
          made_at text not null
        ) strict;
        create index step_entry_by_step on step_entry (work_step_id);
        """;
}
