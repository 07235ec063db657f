using JadeOrchard.Core.Findings;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;

namespace JadeOrchard.Storage.Plan;

/// <summary>A cluster with its page and all that is to be known of it to write or mend that page.</summary>
/// <param name="Secondary">The other keywords of the cluster, most searched first.</param>
/// <param name="Findings">Those that are open or accepted, most at stake first.</param>
/// <param name="Steps">What was decided to do about findings.</param>
public sealed record PlanItem(ClusterRow Cluster, IReadOnlyList<string> Secondary, IReadOnlyList<FindingRow> Findings, IReadOnlyList<PlanStep> Steps);

/// <summary>What was decided to do about a finding.</summary>
/// <param name="PageUrl">The page that is kept, or that is to link.</param>
/// <param name="OtherPages">The others.</param>
/// <param name="Waits">Its cause was still there in the newest data.</param>
public sealed record PlanStep(
    PlanStepId Id, string FindingKey, Remedy Remedy, ClusterId? ClusterId, PageId? PageId, string? PageUrl, IReadOnlyList<FindingPage> OtherPages, string Note, bool Waits, string DecidedAt)
{
    /// <summary>What is to be done, in words.</summary>
    public string RemedyName => FindingText.Name(Remedy);
}

/// <summary>How far a topic has come.</summary>
/// <param name="Open">Demand of clusters without a page, or with pages that compete.</param>
public sealed record TopicProgress(TopicId Id, string Name, long Demand, long Covered, long Planned, long Open, long StepsToDo, long StepsDone);

/// <summary>A keyword with the page that it is for.</summary>
public sealed record PageKeyword(string PageUrl, bool IsPlanned, string Cluster, string Phrase, bool IsPrimary, bool IsExpected, long? Volume, double? Difficulty, string? Topic);

/// <summary>The plan: every cluster with a page, and every one with something to do.</summary>
public static class PlanStore
{
    /// <param name="session">The transaction.</param>
    /// <param name="query">What is wanted; its own order is by what is at stake.</param>
    /// <param name="filter">Which clusters.</param>
    public static ListPage<PlanItem> List(Session session, ListQuery query, ClusterFilter filter)
    {
        var page = ClusterStore.List(session, query with { Sort = query.Sort ?? "atStake", Descending = query.Sort is null || query.Descending }, filter);
        // A page of the list is asked for by its ids; all of it in one go.
        var all = page.Rows.Count > 500;
        var secondary = Grouped(session.List(
            $"""
            select m.cluster_id, k.phrase
            from cluster_member m
            join cluster c on c.cluster_id = m.cluster_id
            join keyword k on k.keyword_id = m.keyword_id
            where k.keyword_id <> c.primary_keyword_id {(all ? "" : $"and m.cluster_id in ({string.Join(',', page.Rows.Select(r => r.Id))})")}
            order by m.cluster_id, k.volume desc, k.normal_form
            """,
            r => (r.Id<ClusterId>(0), r.GetString(1))));
        var findings = FindingStore.About(session, [.. page.Rows.Select(r => r.Id)]);
        var steps = Steps(session).Where(s => s.ClusterId is not null).ToLookup(s => s.ClusterId!.Value);
        return new ListPage<PlanItem>(
            [.. page.Rows.Select(c => new PlanItem(c, secondary.GetValueOrDefault(c.Id, []), [.. findings[c.Id]], [.. steps[c.Id]]))],
            page.Tally);
    }

    /// <returns>How far each topic has come, those with most demand first.</returns>
    public static IReadOnlyList<TopicProgress> ByTopic(Session session) => session.List(
        """
        with steps as (
          select c.topic_id, s.work_step_id, s.status in ('todo', 'inprogress', 'inreview') as is_open, s.status in ('done', 'live') as is_done
          from work_step s join step_part p on p.work_step_id = s.work_step_id
          join cluster c on c.cluster_id = p.cluster_id or c.cluster_id in (select a.cluster_id from assignment a where a.page_id = s.page_id)
          where c.topic_id is not null
          group by c.topic_id, s.work_step_id
        )
        select t.topic_id, coalesce(t.name, tc.name, tp.phrase), sum(c.demand), sum(iif(c.coverage = 'covered', c.demand, 0)), sum(iif(c.coverage = 'planned', c.demand, 0)),
          sum(iif(c.coverage in ('uncovered', 'contested'), c.demand, 0)),
          (select count(*) from steps s where s.topic_id = t.topic_id and s.is_open), (select count(*) from steps s where s.topic_id = t.topic_id and s.is_done)
        from topic t
        join cluster c on c.topic_id = t.topic_id
        left join cluster tc on tc.cluster_id = t.pillar_cluster_id
        left join keyword tp on tp.keyword_id = tc.primary_keyword_id
        group by t.topic_id
        order by 3 desc, 1
        """,
        r => new TopicProgress(r.Id<TopicId>(0), r.TextOrNull(1) ?? "", r.GetInt64(2), r.GetInt64(3), r.GetInt64(4), r.GetInt64(5), r.GetInt64(6), r.GetInt64(7)));

    /// <returns>The keywords of clusters that have a page, page by page, the primary of each cluster first, those that are expected last.</returns>
    public static IReadOnlyList<PageKeyword> Keywords(Session session) => session.List(
        """
        select g.url, g.kind = 'planned', coalesce(c.name, p.phrase), k.phrase, k.keyword_id = c.primary_keyword_id, m.is_expected, k.volume, k.difficulty, coalesce(t.name, tc.name, tp.phrase)
        from assignment a
        join page g on g.page_id = a.page_id
        join cluster c on c.cluster_id = a.cluster_id
        join keyword p on p.keyword_id = c.primary_keyword_id
        join (select cluster_id, keyword_id, 0 as is_expected from cluster_member union all select cluster_id, keyword_id, 1 from cluster_expected) m on m.cluster_id = c.cluster_id
        join keyword k on k.keyword_id = m.keyword_id
        left join topic t on t.topic_id = c.topic_id
        left join cluster tc on tc.cluster_id = t.pillar_cluster_id
        left join keyword tp on tp.keyword_id = tc.primary_keyword_id
        order by g.identity, c.demand desc, c.cluster_id, k.keyword_id <> c.primary_keyword_id, m.is_expected, k.volume desc, k.normal_form
        """,
        r => new PageKeyword(r.GetString(0), r.GetInt64(1) == 1, r.GetString(2), r.GetString(3), r.GetInt64(4) == 1, r.GetInt64(5) == 1, r.LongOrNull(6), r.DoubleOrNull(7), r.TextOrNull(8)));

    /// <summary>Keeps what is to be done about a finding, in the place of what was decided before.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="finding">The finding.</param>
    /// <param name="remedy">What is to be done.</param>
    /// <param name="keptPageId">The page that is kept, or that is to link.</param>
    /// <param name="otherPageIds">The others.</param>
    /// <param name="note">What the planner adds.</param>
    /// <param name="now">When.</param>
    public static void Decide(WriteSession session, FindingRow finding, Remedy remedy, PageId? keptPageId, IReadOnlyList<PageId> otherPageIds, string note, DateTimeOffset now) => session.Execute(
        """
        insert into plan_step (finding_key, remedy, cluster_id, page_id, other_page_ids, note, decided_at) values (@key, @remedy, @cluster, @page, @other, @note, @now)
        on conflict (finding_key) do update set
          remedy = excluded.remedy, cluster_id = excluded.cluster_id, page_id = excluded.page_id, other_page_ids = excluded.other_page_ids,
          note = excluded.note, decided_at = excluded.decided_at
        """,
        ("key", finding.Key), ("remedy", remedy.Stored()), ("cluster", finding.ClusterId), ("page", keptPageId), ("other", "[" + string.Join(',', otherPageIds) + "]"), ("note", note),
        ("now", now.UtcDateTime.ToString("O")));

    /// <summary>Takes back what was to be done about a finding.</summary>
    public static void Retract(WriteSession session, string findingKey) => session.Execute("delete from plan_step where finding_key = @key", ("key", findingKey));

    /// <returns>What was decided, newest first.</returns>
    public static IReadOnlyList<PlanStep> Steps(Session session) => Steps(session, null);

    /// <returns>What was decided to do about a finding; null where nothing was.</returns>
    public static PlanStep? StepFor(Session session, string findingKey) => Steps(session, findingKey).SingleOrDefault();

    private static List<PlanStep> Steps(Session session, string? findingKey) => session.List(
        $"""
        select s.plan_step_id, s.finding_key, s.remedy, s.cluster_id, g.page_id, g.url, (select json_group_array(json_array(o.page_id, o.url, o.title) order by j.key) from json_each(coalesce(s.other_page_ids, '[]')) j join page o on o.page_id = j.value), s.note, coalesce(f.present, 0), s.decided_at
        from plan_step s
        left join page g on g.page_id = s.page_id
        left join finding f on f.finding_key = s.finding_key
        {(findingKey is null ? "" : "where s.finding_key = @key")}
        order by s.decided_at desc, s.plan_step_id desc
        """,
        r => new PlanStep(
            r.Id<PlanStepId>(0), r.GetString(1), r.Enum<Remedy>(2), r.IdOrNull<ClusterId>(3), r.IdOrNull<PageId>(4), r.TextOrNull(5), FindingStore.PagesIn(r.GetString(6)), r.GetString(7), r.GetInt64(8) == 1,
            r.GetString(9)),
        ("key", findingKey));

    private static Dictionary<ClusterId, List<T>> Grouped<T>(IEnumerable<(ClusterId Key, T Value)> pairs) =>
        pairs.GroupBy(p => p.Key, p => p.Value).ToDictionary(g => g.Key, g => g.ToList());
}
