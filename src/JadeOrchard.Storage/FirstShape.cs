namespace JadeOrchard.Storage;

/// <summary>
/// Projects of the first day's program. It kept the results of a keyword by day, without a list that they belong to, and its shape has the number of
/// <see cref="Migration1"/>, which took its place on the second day. What its planners brought and decided is kept; steps made before then cannot be undone.
/// </summary>
internal static class FirstShape
{
    /// <summary>Those that refer to others come before them.</summary>
    private static readonly string[] Dropped =
    [
        "undo_entry", "undo_recording", "undo_step", "rejected_row", "import", "job", "finding_decision", "finding", "page_candidate", "suggestion", "assignment", "cluster_member", "cluster", "result", "url",
        "page", "keyword", "grouping", "project",
    ];

    // Day 719162 is 1970-01-01. What a phrase tells is computed again, with everything else that is derived.
    private const string Kept = """
        update project set (name, host, country, language, brand_terms) = (select name, host, country, language, brand_terms from first_project);
        update data_state set version = (select data_version from first_project);
        update grouping set (depth, min_overlap, linking_rule, grouped_at) = (select depth, min_overlap, linking_rule, grouped_at from first_grouping);
        insert into keyword (keyword_id, phrase, normal_form, volume, difficulty, title_matches, intent, cpc, words, word_count, is_question, brand, variant_key, captured_on, capture_state)
          select keyword_id, phrase, normal_form, volume, difficulty, title_matches, intent, cpc, '', 1, 0, 'none', '', captured_on, iif(captured_on is null, null, 'captured') from first_keyword;
        insert into url select url_id, identity, host from first_url;
        insert into result_list (keyword_id, captured_on, captured_at, origin)
          select distinct keyword_id, captured_on, strftime('%Y-%m-%dT00:00:00Z', (captured_on - 719162) * 86400, 'unixepoch'), 'import' from first_result order by keyword_id, captured_on;
        insert into result (list_id, url_id, position, url, title, snippet)
          select l.list_id, r.url_id, r.position, r.url, r.title, r.snippet from first_result r join result_list l using (keyword_id, captured_on) order by l.list_id, r.position, r.url_id;
        insert into page (page_id, identity, url, kind, source, title, h1, description, words, h2, seen_for, clicks)
          select page_id, identity, url, kind, source, title, h1, description, words, h2, seen_for, clicks from first_page;
        insert into cluster select cluster_id, name, primary_keyword_id, size, demand, mean_difficulty, intent, cohesion from first_cluster;
        insert into cluster_member select keyword_id, cluster_id from first_cluster_member;
        insert into assignment select cluster_id, page_id, decided_at from first_assignment;
        insert into suggestion select cluster_id, page_id, verdict, strength, lost_to_cluster_id from first_suggestion;
        insert into page_candidate select cluster_id, place, page_id, results, text, strength from first_page_candidate;
        insert into finding select finding_key, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, facts, present, state, first_found_at from first_finding;
        insert into finding_decision select decision_id, finding_key, state, reason, data_version, went_away, decided_at from first_finding_decision;
        insert into job (job_id, kind, label, arguments, state, message, created_at, finished_at)
          select job_id, kind, label, arguments, iif(state in ('waiting', 'running'), 'stopped', state), message, created_at, coalesce(finished_at, created_at) from first_job;
        insert into import select import_id, kind, file_name, rows_added, rows_updated, rows_rejected from first_import;
        insert into rejected_row select import_id, line, column_name, reason, value from first_rejected_row;
        """;

    /// <param name="session">The transaction.</param>
    /// <returns>True for a database under the number 1 that is not of <see cref="Migration1"/>.</returns>
    public static bool IsIn(Session session) => session.Count("select not exists (select 1 from sqlite_master where name = 'data_state')") == 1;

    /// <summary>Puts the data into the shape of <see cref="Migration1"/>.</summary>
    public static void Replace(WriteSession session)
    {
        foreach (var (kind, name) in session.List("select type, name from sqlite_master where type in ('trigger', 'index') and sql is not null", r => (r.GetString(0), r.GetString(1))))
            session.Execute($"drop {kind} \"{name}\"");
        foreach (var table in Dropped)
            session.Execute($"alter table {table} rename to first_{table}");
        session.Execute(Migration1.Sql);
        session.Execute(Kept);
        foreach (var table in Dropped)
            session.Execute($"drop table first_{table}");
    }
}
