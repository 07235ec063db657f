namespace JadeOrchard.Storage;

/// <summary>The results of a list are kept in one row where they were written together: a million rows took twice as long to write.</summary>
internal static class Migration10
{
    public const string Sql =
        """
        create table result_part (
          part_id integer primary key,
          list_id integer not null,
          -- "position,url_id,position,url_id,…"; readers take the best position of a URL that is in a list twice.
          ranks text not null,
          -- A JSON array of url, title, snippet, url, title, snippet, …, of the same results.
          shown text not null
        ) strict;
        insert into result_part (list_id, ranks, shown)
        select list_id, group_concat(position || ',' || url_id), '[' || group_concat(json_quote(url) || ',' || json_quote(title) || ',' || json_quote(snippet)) || ']'
        from (select * from result order by list_id, position, url_id)
        group by list_id;
        -- All that the rules ask of results, so that the table, which is ten times as large, need not be read.
        create index result_part_by_list on result_part (list_id, ranks);
        drop table result;
        """;
}
