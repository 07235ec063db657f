namespace JadeOrchard.Storage;

/// <summary>The candidates of a cluster are kept with its suggestion: they are written and read together only.</summary>
internal static class Migration9
{
    public const string Sql =
        """
        -- Arrays of page id, results, performance, text, named and strength, best first.
        alter table suggestion add column candidates text not null default '[]';
        update suggestion set candidates = n.candidates
        from (
          select cluster_id, json_group_array(json_array(page_id, results, performance, text, named, strength)) as candidates
          from (select * from page_candidate order by cluster_id, place)
          group by cluster_id
        ) n
        where n.cluster_id = suggestion.cluster_id;
        drop table page_candidate;
        """;
}
