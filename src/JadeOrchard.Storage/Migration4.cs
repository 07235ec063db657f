namespace JadeOrchard.Storage;

/// <summary>Topics, declined keywords, further settings of the grouping, and what is known of rivals' pages.</summary>
internal static class Migration4
{
    public static readonly string Sql = """
        alter table grouping add column smallest integer not null default 1;
        -- One host a line.
        alter table grouping add column left_out_hosts text not null default '';
        -- The list that was grouped; null for all keywords.
        alter table grouping add column list_id integer;

        -- Keywords that the planner does not want: they are kept, with the reason, and not grouped.
        create table declined (
          keyword_id integer primary key references keyword deferrable initially deferred,
          reason text not null,
          declined_at text not null
        ) strict;

        create table topic (
          topic_id integer primary key autoincrement,
          name text,
          -- The planner's choice; without one it is told by demand and links.
          pillar_cluster_id integer,
          is_pillar_chosen integer not null default 0
        ) strict;

        -- A subtopic that the planner heard of; it waits for keywords.
        create table subtopic (
          subtopic_id integer primary key autoincrement,
          topic_id integer not null references topic deferrable initially deferred,
          phrase text not null,
          normal_form text not null unique,
          note text not null,
          made_at text not null
        ) strict;
        create index subtopic_by_topic on subtopic (topic_id);

        alter table cluster add column is_primary_chosen integer not null default 0;
        alter table cluster add column topic_id integer;
        alter table cluster add column is_topic_chosen integer not null default 0;
        create index cluster_by_topic on cluster (topic_id);

        -- Clusters that belong together, for the outline; made anew with the topics.
        create table cluster_link (
          cluster_id integer not null,
          other_cluster_id integer not null,
          weight real not null,
          primary key (cluster_id, other_cluster_id)
        ) strict, without rowid;

        -- What stands in the headings of rivals' pages, read once for the ideas of topics.
        create table rival_page (
          identity text primary key,
          url text not null,
          title text,
          headings text not null,
          -- Why there is nothing; null where there is.
          fault text,
          read_at text not null
        ) strict, without rowid;

        drop trigger undo_cluster_insert;
        drop trigger undo_cluster_update;
        drop trigger undo_cluster_delete;
        drop trigger undo_grouping_insert;
        drop trigger undo_grouping_update;
        drop trigger undo_grouping_delete;

        """
        + StatementTriggers.TriggersFor("grouping", "depth", "min_overlap", "linking_rule", "grouped_at", "smallest", "left_out_hosts", "list_id")
        + StatementTriggers.TriggersFor("cluster", ["topic_id", "is_topic_chosen"],
            "name", "primary_keyword_id", "size", "demand", "mean_difficulty", "intent", "cohesion", "is_locked", "is_primary_chosen")
        + StatementTriggers.TriggersFor("declined", "reason", "declined_at")
        + StatementTriggers.TriggersFor("topic", "name", "pillar_cluster_id", "is_pillar_chosen")
        + StatementTriggers.TriggersFor("subtopic", "topic_id", "phrase", "normal_form", "note", "made_at");
}
