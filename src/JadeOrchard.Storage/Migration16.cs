namespace JadeOrchard.Storage;

/// <summary>Changes of pages with what was changed, those that planners enter, and recaptures by a schedule.</summary>
internal static class Migration16
{
    public const string Sql =
        """
        create table page_change_now (
          change_id integer primary key,
          scan_id integer not null references scan on delete cascade,
          page_id integer not null,
          url text not null,
          kind text not null check (kind in ('new', 'gone', 'back', 'title', 'h1', 'status', 'indexable', 'description', 'headings', 'words', 'links', 'text')),
          -- Of texts and links what only the former one has, and what only the present one has, a line each.
          before text,
          after text,
          -- When it was changed: as the page says, else when the scan saw it. "2026-11-30".
          day text not null
        ) strict;
        insert into page_change_now
        select c.change_id, c.scan_id, c.page_id, c.url, c.kind, c.before, c.after, substr(s.started_at, 1, 10) from page_change c join scan s on s.scan_id = c.scan_id;
        drop table page_change;
        alter table page_change_now rename to page_change;
        create index page_change_by_scan on page_change (scan_id, kind);

        create table entered_change (
          entered_change_id integer primary key autoincrement,
          page_id integer not null,
          -- "2026-11-30".
          day text not null,
          kind text not null check (kind in ('title', 'description', 'headings', 'text', 'words', 'links', 'address', 'other')),
          note text not null,
          made_at text not null
        ) strict;

        -- When the schedule of captures last ran, and what it has to say; no row before it ever did.
        create table recapture (
          recapture_id integer primary key check (recapture_id = 1),
          -- "2026-11-30".
          ran_on text not null,
          says text not null
        ) strict;

        -- Impressions of queries month by month, see MonthlyVolumes.
        create table query_months (
          query_id integer primary key,
          months text not null
        ) strict;

        create table keyword_season (
          keyword_id integer primary key references keyword on delete cascade,
          -- See MonthlyVolumes.
          months text not null,
          -- They are the site's own impressions, not estimated searches.
          is_counted integer not null,
          -- 0 level, 1 rising, 2 falling.
          trend integer not null,
          tau real not null,
          -- A bit for each month of the year, 1 for January.
          peaks integer not null
        ) strict;

        create table cluster_season (
          cluster_id integer primary key references cluster on delete cascade,
          months text not null,
          is_counted integer not null,
          trend integer not null,
          tau real not null,
          peaks integer not null
        ) strict;
        """;
}
