namespace JadeOrchard.Storage;

/// <summary>Something that two windows may change at once.</summary>
public sealed class Thing
{
    private Thing(object id, params (string Table, string Column)[] where) => (Id, Where) = (id, where);

    internal object Id { get; }

    /// <summary>The tables in which its state stands, and the columns that name it.</summary>
    internal IReadOnlyList<(string Table, string Column)> Where { get; }

    public static Thing Cluster(ClusterId id) =>
        new(id, ("cluster", "cluster_id"), ("assignment", "cluster_id"), ("cluster_decline", "cluster_id"), ("cluster_member", "cluster_id"));

    public static Thing Page(PageId id) => new(id, ("page", "page_id"), ("assignment", "page_id"), ("deliberate_pair", "page_id"), ("deliberate_pair", "other_page_id"));

    public static Thing Finding(string key) => new(key, ("finding_decision", "finding_key"), ("plan_step", "finding_key"));

    public static Thing Step(StepId id) => new(id, ("work_step", "work_step_id"), ("step_part", "work_step_id"), ("step_entry", "work_step_id"));

    public static Thing Brief(BriefId id) => new(id, ("brief", "brief_id"));

    public static Thing Topic(TopicId id) => new(id, ("topic", "topic_id"));
}
