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
/// <param name="Says">The step that derives it, or why it is excluded; empty where it is recorded.</param>
internal sealed record TableRule(string Name, UndoRule Kind, string Says)
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
        Recorded("project", new TouchRule(Data.Project, null)),
        Recorded("grouping", new TouchRule(Data.Grouping, null)),
        Recorded("evidence", new TouchRule(Data.Evidence, null)),
        Recorded("keyword", new TouchRule(Data.Keywords, "keyword_id")) with
        {
            Derived = ["captured_on", "capture_state", "capture_note"],
        },
        Recorded("capture_failure", new TouchRule(Data.Results, "keyword_id")),
        Recorded("source"),
        Recorded("keyword_value"),
        Recorded("keyword_choice"),
        Recorded("keyword_alias", new TouchRule(Data.Keywords, "keyword_id")),
        Recorded("list"),
        Recorded("list_member"),
        Recorded("saved_filter"),
        Recorded("declined", new TouchRule(Data.Expected, "keyword_id")),
        Recorded("result_list", new TouchRule(Data.Results, "keyword_id")) with { PayloadBytes = "(select sum(octet_length(ranks) + octet_length(shown)) from result_part r where r.list_id = i.row_id)" },
        Recorded("page", new TouchRule(Data.Pages, "page_id") { Only = "{0}.kind = 'existing'" }) with
        {
            Derived = ["seen_for", "clicks", "open_findings", "tracked"],
            PayloadBytes = "(select length(c.text) + (select 80 * count(*) from page_link l where l.content_id = c.content_id) from page_content c where c.content_id = i.content_id)",
        },
        Recorded("page_title"),
        Recorded("performance_batch", new TouchRule(Data.Performance, null)) with { PayloadBytes = "28 * i.row_count" },
        Recorded("cluster", new TouchRule(Data.Clusters, "cluster_id", "primary_keyword_id"), new TouchRule(Data.Topics, "cluster_id", "topic_id")) with
        {
            Derived = ["size", "demand", "mean_difficulty", "intent", "cohesion", "weak_members", "at_stake", "open_findings", "conflicts", "coverage", "expected"],
        },
        Recorded("cluster_member", new TouchRule(Data.Clusters, "cluster_id", "cluster_id"), new TouchRule(Data.Expected, "keyword_id", [])) with { Derived = ["fit", "nearest_cluster_id", "bridge_cluster_id"] },
        Recorded("assignment", new TouchRule(Data.PageMap, "cluster_id", "page_id")),
        Recorded("cluster_decline", new TouchRule(Data.PageMap, "cluster_id", [])),
        Recorded("topic", new TouchRule(Data.Topics, "pillar_cluster_id", "pillar_cluster_id")),
        Recorded("subtopic"),
        Recorded("finding_decision", new TouchRule(Data.Decisions, "decision_id")),
        Recorded("finding_seen", new TouchRule(Data.FindingsSeen, "seen_id")),
        Recorded("deliberate_pair", new TouchRule(Data.Pairs, "page_id"), new TouchRule(Data.Pairs, "other_page_id")),
        Recorded("plan_step"),
        Recorded("work_step"),
        Recorded("step_part"),
        Recorded("step_entry"),
        Recorded("brief"),
        Recorded("brief_entry"),
        Recorded("brief_text"),
        Recorded("topic_heading"),
        Recorded("irrelevant_query"),
        Recorded("entered_change"),

        Derived("cluster_link", "TopicLinks"),
        Derived("suggestion", "Suggestions"),
        Derived("finding", "Findings"),
        Derived("finding_cluster", "Findings"),
        Derived("finding_page", "Findings"),
        Derived("subject_brand", "SubjectTerms"),
        Derived("performance_pair", "PerformanceSums"),
        Derived("performance_week", "PerformanceSums"),
        Derived("performance_state", "PerformanceSums"),
        Derived("page_stems", "PageStems"),
        Derived("page_mention", "QueryMentions"),
        Derived("fading_page", "FadingPages"),
        Derived("query_months", "FadingPages"),
        Derived("keyword_season", "Seasons"),
        Derived("cluster_season", "Seasons"),
        Derived("expected_support", "ExpectedMembers"),
        Derived("cluster_expected", "ExpectedMembers"),

        Excluded("former_finding", "read once, when findings are computed first"),
        Excluded("data_state", "tells the project from others, and counts images in memory"),
        Excluded("url", "addresses that were ever met, added to and never changed"),
        Excluded("result_part", "kept as long as its list is there or a step can bring it back"),
        Excluded("result_phrase", "kept as long as its list is there or a step can bring it back"),
        Excluded("page_content", "never changed; kept as long as its page is there or a step can bring it back"),
        Excluded("page_link", "kept with its page_content"),
        Excluded("performance_days", "kept as long as its batch is there or a step can bring it back"),
        Excluded("performance_query", "queries that were ever met, added to and never changed"),
        Excluded("performance_page", "addresses that were ever met, added to and never changed"),
        Excluded("performance_trouble", "whether a service answered"),
        Excluded("ranking", "what the rankings service said and was paid for"),
        Excluded("brief_link", "a link that was taken back must stay so"),
        Excluded("rival_page", "what was read of pages of others"),
        Excluded("column_mapping", "remembers a convenience, not work"),
        Excluded("service", "addresses of services, which undo must not bring back"),
        Excluded("service_key", "a key is in one place only"),
        Excluded("job", "what was run stays told"),
        Excluded("import", "what was run stays told"),
        Excluded("rejected_row", "what was run stays told"),
        Excluded("scan", "what was run stays told"),
        Excluded("scan_url", "what was run stays told"),
        Excluded("page_change", "what was run stays told"),
        Excluded("recapture", "when lists were last captured by schedule"),
        Excluded("capture_item", "what was run stays told"),
        Excluded("staged_capture", "what was run stays told"),
        Excluded("staged_keyword", "what was run stays told"),
        Excluded("staged_batch", "what was run stays told"),
        Excluded("expected_member", "computed again after each batch; counts only for keywords without a result list"),
        Excluded("coverage_day", "a diary: each day as it ended"),
        Excluded("undo_step", "the history itself"),
        Excluded("undo_range", "the history itself"),
        Excluded("undo_recording", "the history itself"),
    ];

    /// <summary>The recorded tables, in an order in which rows can be restored.</summary>
    public static readonly IReadOnlyList<TableRule> RecordedOnes = [.. All.Where(t => t.Kind == UndoRule.Recorded)];

    private static TableRule Recorded(string name, params TouchRule[] touches) => new(name, UndoRule.Recorded, "") { Touches = touches };

    private static TableRule Derived(string name, string step) => new(name, UndoRule.Derived, step);

    private static TableRule Excluded(string name, string reason) => new(name, UndoRule.Excluded, reason);
}
