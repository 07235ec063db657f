namespace JadeOrchard.Storage;

/// <summary>What becomes of a table when a step is undone.</summary>
internal enum UndoRule
{
    /// <summary>Its rows are recorded and restored, but for columns that are derived.</summary>
    Recorded,

    /// <summary>It follows from other tables and is computed again.</summary>
    Derived,

    /// <summary>It is left as it is, for the reason given.</summary>
    Excluded,
}

/// <summary>A table, and what becomes of it when a step is undone.</summary>
/// <param name="Name">The table.</param>
/// <param name="Kind">What becomes of it.</param>
/// <param name="Area">Where its rows are shown.</param>
/// <param name="Says">The step that derives it, or why it is excluded; empty where it is recorded.</param>
internal sealed record TableRule(string Name, UndoRule Kind, Area Area, string Says)
{
    /// <summary>Columns of a recorded table that are derived.</summary>
    public IReadOnlyList<string> Derived { get; init; } = [];

    /// <summary>What a restored row touches.</summary>
    public IReadOnlyList<TouchRule> Touches { get; init; } = [];

    /// <summary>Bytes of the large data that a recorded row keeps in other tables, as SQL on "i"; null where it keeps none.</summary>
    public string? PayloadBytes { get; init; }
}

/// <summary>What a restored row touches.</summary>
/// <param name="Kind">The kind of data.</param>
/// <param name="Column">The column with the id; null for all of the kind.</param>
/// <param name="When">Only where one of these columns has another value, or the row came or went; empty for any change.</param>
internal sealed record TouchRule(Data Kind, string? Column, params string[] When)
{
    /// <summary>A condition on the row as it was or is, with {0} for its name.</summary>
    public string Only { get; init; } = "true";
}

/// <summary>Every table of the database. A test compares this with the schema.</summary>
internal static class Tables
{
    public static readonly IReadOnlyList<TableRule> All =
    [
        Recorded("project", Area.Project, new TouchRule(Data.Project, null)),
        Recorded("grouping", Area.Project, new TouchRule(Data.Grouping, null)),
        Recorded("evidence", Area.Project, new TouchRule(Data.Evidence, null)),
        Recorded("keyword", Area.Keywords, new TouchRule(Data.Keywords, "keyword_id")) with
        {
            Derived = ["captured_on", "capture_state", "capture_note"],
        },
        Recorded("capture_failure", Area.Results, new TouchRule(Data.Results, "keyword_id")),
        Recorded("source", Area.Keywords),
        Recorded("keyword_value", Area.Keywords),
        Recorded("keyword_choice", Area.Keywords),
        Recorded("keyword_alias", Area.Keywords, new TouchRule(Data.Keywords, "keyword_id")),
        Recorded("list", Area.Keywords),
        Recorded("list_member", Area.Keywords),
        Recorded("saved_filter", Area.Keywords),
        Recorded("declined", Area.Keywords, new TouchRule(Data.Expected, "keyword_id")),
        Recorded("result_list", Area.Results, new TouchRule(Data.Results, "keyword_id")) with { PayloadBytes = "(select sum(octet_length(ranks) + octet_length(shown)) from result_part r where r.list_id = i.row_id)" },
        Recorded("page", Area.Pages, new TouchRule(Data.Pages, "page_id") { Only = "{0}.kind = 'existing'" }) with
        {
            Derived = ["seen_for", "clicks", "open_findings", "tracked"],
            PayloadBytes = "(select length(c.text) + (select 80 * count(*) from page_link l where l.content_id = c.content_id) from page_content c where c.content_id = i.content_id)",
        },
        Recorded("page_title", Area.Pages),
        Recorded("performance_batch", Area.Performance, new TouchRule(Data.Performance, null)) with { PayloadBytes = "28 * i.row_count" },
        Recorded("cluster", Area.Clusters, new TouchRule(Data.Clusters, "cluster_id", "primary_keyword_id"), new TouchRule(Data.Topics, "cluster_id", "topic_id")) with
        {
            Derived = ["size", "demand", "mean_difficulty", "intent", "cohesion", "weak_members", "at_stake", "open_findings", "conflicts", "coverage", "expected"],
        },
        Recorded("cluster_member", Area.Clusters, new TouchRule(Data.Clusters, "cluster_id", "cluster_id"), new TouchRule(Data.Expected, "keyword_id", [])) with { Derived = ["fit", "nearest_cluster_id", "bridge_cluster_id"] },
        Recorded("assignment", Area.PageMap, new TouchRule(Data.PageMap, "cluster_id", "page_id")),
        Recorded("cluster_decline", Area.Clusters, new TouchRule(Data.PageMap, "cluster_id", [])),
        Recorded("topic", Area.Topics, new TouchRule(Data.Topics, "pillar_cluster_id", "pillar_cluster_id")),
        Recorded("subtopic", Area.Topics),
        Recorded("finding_decision", Area.Findings, new TouchRule(Data.Decisions, "decision_id")),
        Recorded("finding_seen", Area.Findings, new TouchRule(Data.FindingsSeen, "seen_id")),
        Recorded("deliberate_pair", Area.Findings, new TouchRule(Data.Pairs, "page_id"), new TouchRule(Data.Pairs, "other_page_id")),
        Recorded("plan_step", Area.Plan),
        Recorded("work_step", Area.Plan),
        Recorded("step_part", Area.Plan),
        Recorded("step_entry", Area.Plan),
        Recorded("brief", Area.Briefs),
        Recorded("brief_entry", Area.Briefs),
        Recorded("brief_text", Area.Briefs),
        Recorded("topic_heading", Area.Refresh),
        Recorded("irrelevant_query", Area.Refresh),
        Recorded("entered_change", Area.Refresh),

        Derived("cluster_link", Area.Topics, "TopicLinks"),
        Derived("suggestion", Area.PageMap, "Suggestions"),
        Derived("finding", Area.Findings, "Findings"),
        Derived("finding_cluster", Area.Findings, "Findings"),
        Derived("finding_page", Area.Findings, "Findings"),
        Derived("subject_brand", Area.Project, "SubjectTerms"),
        Derived("performance_pair", Area.Performance, "PerformanceSums"),
        Derived("performance_week", Area.Performance, "PerformanceSums"),
        Derived("performance_state", Area.Performance, "PerformanceSums"),
        Derived("page_stems", Area.Pages, "PageStems"),
        Derived("page_mention", Area.Refresh, "QueryMentions"),
        Derived("fading_page", Area.Refresh, "FadingPages"),
        Derived("query_months", Area.Performance, "FadingPages"),
        Derived("keyword_season", Area.Keywords, "Seasons"),
        Derived("cluster_season", Area.Clusters, "Seasons"),
        Derived("expected_support", Area.Results, "ExpectedMembers"),
        Derived("cluster_expected", Area.Clusters, "ExpectedMembers"),

        Excluded("former_finding", Area.Findings, "read once, when findings are computed first"),
        Excluded("data_state", Area.Project, "tells the project from others, and counts images in memory"),
        Excluded("url", Area.Project, "addresses that were ever met, added to and never changed"),
        Excluded("result_part", Area.Results, "kept as long as its list is there or a step can bring it back"),
        Excluded("result_phrase", Area.Results, "kept as long as its list is there or a step can bring it back"),
        Excluded("page_content", Area.Pages, "never changed; kept as long as its page is there or a step can bring it back"),
        Excluded("page_link", Area.Pages, "kept with its page_content"),
        Excluded("performance_days", Area.Performance, "kept as long as its batch is there or a step can bring it back"),
        Excluded("performance_query", Area.Performance, "queries that were ever met, added to and never changed"),
        Excluded("performance_page", Area.Performance, "addresses that were ever met, added to and never changed"),
        Excluded("performance_trouble", Area.Performance, "whether a service answered"),
        Excluded("ranking", Area.Results, "what the rankings service said and was paid for"),
        Excluded("brief_link", Area.Briefs, "a link that was taken back must stay so"),
        Excluded("rival_page", Area.Pages, "what was read of pages of others"),
        Excluded("column_mapping", Area.Project, "remembers a convenience, not work"),
        Excluded("service", Area.Project, "addresses of services, which undo must not bring back"),
        Excluded("service_key", Area.Project, "a key is in one place only"),
        Excluded("job", Area.Jobs, "what was run stays told"),
        Excluded("import", Area.Jobs, "what was run stays told"),
        Excluded("rejected_row", Area.Jobs, "what was run stays told"),
        Excluded("scan", Area.Pages, "what was run stays told"),
        Excluded("scan_url", Area.Pages, "what was run stays told"),
        Excluded("page_change", Area.Pages, "what was run stays told"),
        Excluded("recapture", Area.Results, "when lists were last captured by schedule"),
        Excluded("capture_item", Area.Results, "what was run stays told"),
        Excluded("staged_capture", Area.Results, "what was run stays told"),
        Excluded("staged_keyword", Area.Results, "what was run stays told"),
        Excluded("staged_batch", Area.Results, "what was run stays told"),
        Excluded("expected_member", Area.Results, "computed again after each batch; counts only for keywords without a result list"),
        Excluded("coverage_day", Area.Project, "a diary: each day as it ended"),
        Excluded("undo_step", Area.Project, "the history itself"),
        Excluded("undo_range", Area.Project, "the history itself"),
        Excluded("undo_recording", Area.Project, "the history itself"),
    ];

    /// <summary>The recorded tables, in an order in which rows can be restored.</summary>
    public static readonly IReadOnlyList<TableRule> RecordedOnes = [.. All.Where(t => t.Kind == UndoRule.Recorded)];

    private static TableRule Recorded(string name, Area area, params TouchRule[] touches) => new(name, UndoRule.Recorded, area, "") { Touches = touches };

    private static TableRule Derived(string name, Area area, string step) => new(name, UndoRule.Derived, area, step);

    private static TableRule Excluded(string name, Area area, string reason) => new(name, UndoRule.Excluded, area, reason);
}
