namespace JadeOrchard.Storage;

/// <summary>Indexes for lists of 100,000 keywords: for what they are sorted, searched and summed by.</summary>
internal static class Migration7
{
    public const string Sql =
        """
        -- The demand of a finding's cluster, so that findings are sorted by it without joining.
        alter table finding add column demand integer not null default 0;
        update finding set demand = c.demand from cluster c where c.cluster_id = finding.cluster_id;

        drop index finding_by_cluster;
        drop index finding_by_stake;
        create index finding_listed on finding (cluster_id, state, kind, counted, at_stake, demand);
        create index finding_by_stake on finding (at_stake desc, finding_key, state, kind);
        create index finding_by_demand on finding (demand desc, at_stake desc, finding_key, state, kind);
        create index finding_by_kind on finding (kind, state, at_stake);
        create index finding_by_keyword on finding (keyword_id);

        drop index cluster_by_topic;
        create index cluster_by_topic on cluster (topic_id, size, demand, at_stake, coverage);
        create index cluster_by_primary on cluster (primary_keyword_id);
        create index cluster_by_name on cluster (name) where name is not null;
        create index keyword_by_phrase on keyword (phrase);
        create index page_by_url on page (url);
        """;
}
