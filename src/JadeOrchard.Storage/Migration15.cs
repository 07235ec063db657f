using JadeOrchard.Core.Performance;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>Search performance with the days of a page and query in one value, what pages mention, and queries that are irrelevant.</summary>
internal static class Migration15
{
    public const string Sql =
        """
        -- The days of a batch, see DayFigures. The same day of the same query and page may come again in a later batch, which then counts.
        create table performance_days (
          query_id integer not null,
          performance_page_id integer not null,
          batch_id integer not null,
          days blob not null,
          primary key (query_id, performance_page_id, batch_id)
        ) strict, without rowid;
        insert into performance_days
        select query_id, performance_page_id, batch_id, packed_days(day, clicks, impressions, weighted)
        from performance
        group by query_id, performance_page_id, batch_id;
        drop table performance;
        create index performance_days_by_page on performance_days (performance_page_id, query_id);
        update performance_state set batches = 'none' where batches <> '';
        alter table performance_state add column fading_basis text not null default '';

        create table fading_page (
          page_id integer primary key,
          since integer not null,
          clicks_before integer not null,
          clicks_now integer not null,
          site_course real not null,
          p real not null,
          by_position real not null,
          by_searches real not null,
          by_click_rate real not null
        ) strict;

        -- How often and where the page of an address mentions its queries, see PageMentionRow.
        create table page_mention (
          performance_page_id integer primary key,
          -- A hash of the text of the page and its language.
          basis integer not null,
          mentions blob not null
        ) strict;

        -- The query for which the part is done, and what is done for it; null where it is no such part.
        alter table step_part add column query text;
        alter table step_part add column work text check (work in ('mention', 'answer', 'section', 'title', 'description'));

        -- Why the last read of search performance failed; no row if it succeeded.
        create table performance_trouble (
          performance_trouble_id integer primary key check (performance_trouble_id = 1),
          kind text not null check (kind in ('denied', 'failed')),
          message text not null,
          at text not null,
          -- The days that were asked for, as JSON, and when they are asked for again by themselves; null where somebody has to do something first.
          arguments text not null,
          retry_at text
        ) strict;

        -- Queries for which the planner doesn't want a page to be found.
        create table irrelevant_query (
          irrelevant_id integer primary key autoincrement,
          normal_form text not null,
          -- 0 for all pages.
          page_id integer not null,
          made_at text not null,
          unique (normal_form, page_id)
        ) strict;
        """;

    /// <summary>The function that <see cref="Sql"/> needs. It gets the days in the order of the old table's key.</summary>
    public static void Register(SqliteConnection connection) => connection.CreateAggregate<long, long, long, double, List<DayFigures>?, byte[]>(
        "packed_days",
        seed: null,
        (days, day, clicks, impressions, weighted) =>
        {
            // Each group has a list of its own.
            (days ??= []).Add(new DayFigures((int)day, clicks, impressions, weighted));
            return days;
        },
        days =>
        {
            days!.Sort((a, b) => a.Day.CompareTo(b.Day));
            return DayFigures.Packed(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(days));
        },
        isDeterministic: true);
}
