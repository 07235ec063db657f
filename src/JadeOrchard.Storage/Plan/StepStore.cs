using System.Globalization;
using System.Text.Json;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Storage.Plan;

/// <summary>A step of the plan as it is stored.</summary>
/// <param name="Hours">As the planner says; null for those of the table.</param>
/// <param name="Reason">Why it was dropped; empty where it was not.</param>
/// <param name="CheckedAt">When a scan looked last; null where none has.</param>
/// <param name="PageIsPlanned">The page is to be written.</param>
public sealed record StoredStep(
    StepId Id, PageId PageId, string PageUrl, string? PageTitle, bool PageIsPlanned, long? Words, StepStatus Status, string Owner, DateOnly? Due, DateOnly? Week, double? Hours, string Note, string Reason,
    string MadeAt, string? DoneAt, string? CheckedAt, IReadOnlyList<StepPart> Parts);

/// <summary>One thing that is to be done to the page of a step.</summary>
/// <param name="Says">What the finding says, in short.</param>
/// <param name="Words">The words to link; empty for other kinds.</param>
/// <param name="Before">What was there before: see the table.</param>
/// <param name="AtStake">Clicks a month that it is about, where the clusters of the page do not tell.</param>
/// <param name="IsFound">A scan found it on the site; null where none has looked.</param>
/// <param name="Found">What the scan found, in words.</param>
/// <param name="Query">The query for which it is done; null where it is for none.</param>
/// <param name="Work">What is done for the query.</param>
public sealed record StepPart(
    StepPartId Id, StepId StepId, StepKind Kind, string? FindingKey, ClusterId? ClusterId, PageId? OtherPageId, string? OtherUrl, string Says, string Words, string? Before, double AtStake, bool IsDone,
    bool? IsFound, string Found, string? Query = null, QueryWork? Work = null)
{
    /// <summary>What is to be done, with the other page as it is to be shown.</summary>
    /// <param name="other">Null for none.</param>
    public string Line(string? other) => Work is { } work && Query is { } query ? QueryWorkText.Says(work, query) : StepText.Says(Kind, other, Words);
}

/// <summary>A part that is to be added to the step of its page.</summary>
public sealed record NewPart(
    StepKind Kind, PageId PageId, PageId? OtherPageId = null, ClusterId? ClusterId = null, string? FindingKey = null, string Says = "", string Words = "", double AtStake = 0, string? Before = null, string? Query = null,
    QueryWork? Work = null);

/// <summary>What is to be changed of steps; null for what stays.</summary>
/// <param name="Due">Empty to take it away.</param>
/// <param name="Week">Likewise.</param>
/// <param name="Hours">0 or less for those of the table.</param>
public sealed record StepChange(StepStatus? Status = null, string? Reason = null, string? Owner = null, string? Due = null, string? Week = null, double? Hours = null, string? Note = null);

/// <summary>What was said of a step or changed in it.</summary>
/// <param name="Author">By whom; empty where nobody has to sign in.</param>
public sealed record StepEntry(bool IsComment, string Says, string MadeAt, string Author);

/// <summary>A cluster of a step.</summary>
public sealed record StepCluster(ClusterId Id, string Name, string Primary, long Demand);

/// <summary>A cluster of a step, with its topic and keywords.</summary>
/// <param name="Season">Null where too few months are known.</param>
public sealed record StepClusterFacts(StepCluster Cluster, TopicId? TopicId, string? TopicName, IReadOnlyList<KeywordId> Keywords, Season? Season);

/// <summary>The steps of the plan.</summary>
public static class StepStore
{
    private const string OpenStatuses = "'todo', 'inprogress', 'inreview'";

    /// <returns>All steps with their parts, oldest first.</returns>
    public static IReadOnlyList<StoredStep> All(Session session) => Read(session, "true");

    /// <returns>How many steps are not dropped, and how many of these are live.</returns>
    public static (long Steps, long Live) Counts(Session session) => session.List(
        "select count(*), coalesce(sum(status = 'live'), 0) from work_step where status <> 'dropped'", r => (r.GetInt64(0), r.GetInt64(1)))[0];

    /// <returns>Null where there is none.</returns>
    public static StoredStep? Find(Session session, StepId id) => Read(session, "s.work_step_id = @id", ("id", id)).SingleOrDefault();

    public static IReadOnlyList<StepEntry> Entries(Session session, StepId id) => session.List(
        "select kind = 'comment', says, made_at, coalesce(author, '') from step_entry where work_step_id = @id order by entry_id desc", r => new StepEntry(r.GetInt64(0) == 1, r.GetString(1), r.GetString(2), r.GetString(3)), ("id", id));

    /// <returns>Everybody who owns a step or works on a finding.</returns>
    public static IReadOnlyList<string> Owners(Session session) => session.List(
        "select distinct owner from work_step where owner <> '' union select distinct assignee from finding_decision where assignee <> '' order by 1", r => r.GetString(0));

    /// <returns>Who owns the open step on the page of a cluster, and when it is due; nobody where there is none.</returns>
    public static (string Owner, DateOnly? Due) OwnerOf(Session session, ClusterId clusterId) => session.First(
        $"select s.owner, s.due from assignment a join work_step s on s.page_id = a.page_id where a.cluster_id = @cluster and s.status in ({OpenStatuses}) order by s.work_step_id limit 1",
        r => new { Owner = r.GetString(0), Due = r.TextOrNull(1) }, ("cluster", clusterId)) is { } step
        ? (step.Owner, step.Due is { } due ? DateOnly.ParseExact(due, "yyyy-MM-dd", CultureInfo.InvariantCulture) : null)
        : ("", null);

    /// <returns>The page of each cluster that has one.</returns>
    public static IReadOnlyList<(PageId Page, ClusterId Cluster)> Assignments(Session session) =>
        session.List("select page_id, cluster_id from assignment order by cluster_id", r => (r.Id<PageId>(0), r.Id<ClusterId>(1)));

    /// <returns>What steps need to know of clusters.</returns>
    public static IReadOnlyList<StepClusterFacts> Clusters(Session session, IReadOnlyCollection<ClusterId> ids)
    {
        var wanted = ("ids", (object?)("[" + string.Join(',', ids) + "]"));
        var members = session.List(
            "select cluster_id, keyword_id from cluster_member where cluster_id in (select value from json_each(@ids)) order by cluster_id, keyword_id",
            r => (Cluster: r.Id<ClusterId>(0), Keyword: r.Id<KeywordId>(1)), wanted).ToLookup(m => m.Cluster, m => m.Keyword);
        var seasons = SeasonStore.OfClusters(session, ids);
        return session.List(
            """
            select c.cluster_id, coalesce(c.name, k.phrase), k.phrase, c.demand, c.topic_id, coalesce(t.name, pc.name, pk.phrase)
            from cluster c
            join keyword k on k.keyword_id = c.primary_keyword_id
            left join topic t on t.topic_id = c.topic_id
            left join cluster pc on pc.cluster_id = t.pillar_cluster_id
            left join keyword pk on pk.keyword_id = pc.primary_keyword_id
            where c.cluster_id in (select value from json_each(@ids))
            """,
            r => new StepClusterFacts(new StepCluster(r.Id<ClusterId>(0), r.GetString(1), r.GetString(2), r.GetInt64(3)), r.IdOrNull<TopicId>(4), r.TextOrNull(5), [.. members[r.Id<ClusterId>(0)]],
                seasons.GetValueOrDefault(r.Id<ClusterId>(0))),
            wanted);
    }

    /// <summary>Adds parts to the open steps of their pages, or makes a step where a page has none.</summary>
    /// <returns>The steps that have them, each once; parts that are there already are not added again.</returns>
    public static IReadOnlyList<StepId> Add(WriteSession session, IReadOnlyCollection<NewPart> parts, DateTimeOffset now)
    {
        var (at, steps) = (now.UtcDateTime.ToString("O"), new List<StepId>());
        foreach (var page in parts.GroupBy(p => p.PageId))
        {
            var step = session.First(
                $"select work_step_id from work_step where page_id = @page and status in ({OpenStatuses}) order by work_step_id limit 1", r => new { Id = r.Id<StepId>(0) }, ("page", page.Key))?.Id
                ?? session.Id<StepId>("insert into work_step (page_id, made_at) values (@page, @at) returning work_step_id", ("page", page.Key), ("at", at));
            steps.Add(step);
            foreach (var part in page)
            {
                session.Execute(
                    """
                    insert into step_part (work_step_id, kind, finding_key, cluster_id, other_page_id, says, words, before, at_stake, query, work)
                    select @step, @kind, @finding, @cluster, @other, @says, @words, @before, @stake, @query, @work
                    where not exists (select 1 from step_part where work_step_id = @step and kind = @kind and other_page_id is @other and query is @query and work is @work and (finding_key is @finding or kind in ('link', 'redirect', 'canonical', 'write')))
                    """,
                    ("step", step), ("kind", part.Kind.Stored()), ("finding", part.FindingKey), ("cluster", part.ClusterId), ("other", part.OtherPageId), ("says", part.Says), ("words", part.Words),
                    ("before", part.Before), ("stake", part.AtStake), ("query", part.Query), ("work", part.Work?.Stored()));
            }
        }

        return steps;
    }

    /// <summary>Adds what follows from findings that were accepted, with the remedy that was decided for each.</summary>
    public static IReadOnlyList<StepId> AddDecided(WriteSession session, IReadOnlyCollection<string> findingKeys, DateTimeOffset now)
    {
        var remedies = PlanStore.Steps(session).ToDictionary(s => s.FindingKey, StringComparer.Ordinal);
        var homes = session.List("select page_id, cluster_id from assignment", r => (Page: r.Id<PageId>(0), Cluster: r.Id<ClusterId>(1))).ToLookup(a => a.Page, a => a.Cluster);
        var parts = new List<NewPart>();
        foreach (var (key, kind, content) in session.List(
            "select finding_key, kind, content from finding where finding_key in (select value from json_each(@keys)) order by weight desc, finding_key",
            r => (r.GetString(0), r.Enum<FindingKind>(1), FindingContent.Of(r.GetString(2))), ("keys", JsonSerializer.Serialize(findingKeys))))
        {
            var remedy = remedies.GetValueOrDefault(key);
            var clusters = content.Clusters.Select(c => c.Id).ToHashSet();
            var made = PlanParts.Of(
                new DecidedFinding<PageId, ClusterId>(
                    kind, content.Pages, [.. content.Clusters.Select(c => c.Id)], [.. content.Signs.Select(s => new DecidedSign<PageId, ClusterId>(s.Kind, s.PageId, s.Others, s.ClusterId))], content.Says),
                remedy?.Remedy, remedy?.PageId, page => homes[page].Any(c => !clusters.Contains(c)));
            // What it is about is gained by all its steps together.
            var shares = Math.Max(1, made.Select(p => p.Page).Distinct().Count());
            parts.AddRange(made.Select(p => new NewPart(
                p.Kind, p.Page, p.Other, p.Cluster, key, p.Says,
                AtStake: p.Kind == StepKind.Link ? content.Clusters.Where(c => c.Id == p.Cluster).Sum(c => c.AtStake) : content.AtStake / shares)));
        }

        var steps = Add(session, parts, now);
        // Whoever works on a finding works on what follows from it.
        session.Execute(
            """
            update work_step set owner = (select d.assignee from step_part p join finding_decision d on d.finding_key = p.finding_key where p.work_step_id = work_step.work_step_id and d.assignee <> '' order by p.part_id limit 1)
            where owner = '' and work_step_id in (select value from json_each(@ids))
              and exists (select 1 from step_part p join finding_decision d on d.finding_key = p.finding_key where p.work_step_id = work_step.work_step_id and d.assignee <> '')
            """,
            ("ids", "[" + string.Join(',', steps) + "]"));
        return steps;
    }

    /// <summary>Takes back what follows from findings, as far as it is not done; steps without parts go with it.</summary>
    public static void TakeBack(WriteSession session, IReadOnlyCollection<string> findingKeys)
    {
        session.Execute(
            $"""
            delete from step_part
            where finding_key in (select value from json_each(@keys)) and work_step_id in (select work_step_id from work_step where status in ({OpenStatuses}))
            """,
            ("keys", JsonSerializer.Serialize(findingKeys)));
        DropEmpty(session);
    }

    /// <returns>Findings that were accepted, and planned pages, for which no step was made.</returns>
    public static (IReadOnlyList<string> Findings, IReadOnlyList<(PageId Page, ClusterId Cluster)> Pages) Unplanned(Session session) => (
        session.List(
            """
            select f.finding_key from finding f
            where f.state = 'accepted' and f.present = 1 and f.kind not in ('uncovered', 'idlepages') and not exists (select 1 from step_part p where p.finding_key = f.finding_key)
            """,
            r => r.GetString(0)),
        session.List(
            """
            select g.page_id, min(a.cluster_id)
            from page g join assignment a on a.page_id = g.page_id
            where g.kind = 'planned' and not exists (select 1 from work_step s join step_part p on p.work_step_id = s.work_step_id where s.page_id = g.page_id and p.kind = 'write')
            group by g.page_id
            """,
            r => (r.Id<PageId>(0), r.Id<ClusterId>(1))));

    /// <returns>New parts of kinds that change what is there, with their page and the other one: what was there is not kept yet.</returns>
    public static IReadOnlyList<(StepPart Part, PageId Page, PageId? Other)> WithoutBefore(Session session) =>
    [
        .. Read(session, "s.work_step_id in (select work_step_id from step_part where before is null and kind in ('write', 'retitle', 'merge', 'link'))")
            .SelectMany(s => s.Parts.Where(p => p.Before is null && p.Kind is StepKind.Write or StepKind.Retitle or StepKind.Merge or StepKind.Link).Select(p => (p, s.PageId, p.OtherPageId))),
    ];

    /// <summary>Keeps what was there before a part is done, as JSON.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="id">The part.</param>
    /// <param name="before">What was there.</param>
    /// <param name="words">The words to link; null to leave them.</param>
    public static void SaveBefore(WriteSession session, StepPartId id, string before, string? words = null) =>
        session.Execute("update step_part set before = @before, words = coalesce(@words, words) where part_id = @id", ("before", before), ("words", words), ("id", id));

    /// <summary>Changes steps and keeps in their history what was changed.</summary>
    /// <returns>How many were changed.</returns>
    public static int Change(WriteSession session, IReadOnlyCollection<StepId> ids, StepChange change, DateTimeOffset now)
    {
        var (at, count) = (now.UtcDateTime.ToString("O"), 0);
        foreach (var step in Read(session, "s.work_step_id in (select value from json_each(@ids))", ("ids", "[" + string.Join(',', ids) + "]")))
        {
            var says = new List<string>();
            void Set(string column, object? value, string before, string after, string name)
            {
                if (before == after)
                    return;
                session.Execute($"update work_step set {column} = @value where work_step_id = @id", ("value", value), ("id", step.Id));
                says.Add($"{name}: {(before.Length == 0 ? "none" : before)} → {(after.Length == 0 ? "none" : after)}");
            }

            if (change.Reason is { } reason)
                Set("reason", reason, step.Reason, reason, "reason");
            if (change.Status is { } status && status != step.Status)
            {
                Set("status", status.Stored(), StepText.Name(step.Status), StepText.Name(status), "status");
                session.Execute(
                    "update work_step set done_at = @at where work_step_id = @id", ("id", step.Id), ("at", status.IsOpen() || status == StepStatus.Dropped ? null : step.DoneAt ?? at));
                if (status == StepStatus.Done)
                    session.Execute("update step_part set is_done = 1 where work_step_id = @id", ("id", step.Id));
                if (status.IsOpen())
                    session.Execute("update step_part set is_found = null, found = '' where work_step_id = @id", ("id", step.Id));
            }

            if (change.Owner is { } owner)
                Set("owner", owner.Trim(), step.Owner, owner.Trim(), "owner");
            if (change.Due is { } due)
                Set("due", due.Length == 0 ? null : due, Day(step.Due), due, "due");
            if (change.Week is { } week)
                Set("week", week.Length == 0 ? null : week, Day(step.Week), week, "week");
            if (change.Hours is { } hours)
                Set("hours", hours > 0 ? hours : null, Number(step.Hours), hours > 0 ? Number(hours) : "", "hours");
            if (change.Note is { } note)
                Set("note", note, step.Note, note, "note");
            if (says.Count == 0)
                continue;
            Say(session, step.Id, "change", string.Join("; ", says), at);
            count++;
        }

        return count;
    }

    /// <summary>Checks a part off, or not.</summary>
    public static void Check(WriteSession session, StepPartId id, bool isDone) =>
        session.Execute("update step_part set is_done = @done where part_id = @id", ("done", isDone ? 1L : 0L), ("id", id));

    public static bool HasPart(Session session, StepPartId id) => session.Count("select exists (select 1 from step_part where part_id = @id)", ("id", id)) == 1;

    public static void Remove(WriteSession session, StepPartId id)
    {
        session.Execute("delete from step_part where part_id = @id", ("id", id));
        DropEmpty(session);
    }

    /// <returns>What is to be done on a page for queries, and is not done: for those of a cluster, and those of none.</returns>
    public static IReadOnlyList<(QueryWork Work, string Query)> QueryWorkOf(Session session, PageId pageId, ClusterId clusterId) => session.List(
        """
        select p.work, p.query from work_step s join step_part p on p.work_step_id = s.work_step_id
        where s.page_id = @page and s.status in ('todo', 'inprogress', 'inreview') and p.is_done = 0 and p.query is not null and coalesce(p.cluster_id, @cluster) = @cluster
        order by p.part_id
        """,
        r => (r.Enum<QueryWork>(0), r.GetString(1)), ("page", pageId), ("cluster", clusterId));

    public static void Comment(WriteSession session, StepId id, string says, DateTimeOffset now) => Say(session, id, "comment", says, now.UtcDateTime.ToString("O"));

    /// <summary>Keeps that a scan found a part of a step that nobody said is done.</summary>
    public static void CheckOff(WriteSession session, StepPartId id, string found) =>
        session.Execute("update step_part set is_done = 1, is_found = 1, found = @found where part_id = @id", ("found", found), ("id", id));

    /// <summary>Keeps what a scan found of a step that is done: it goes live when all of it is there.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="step">The step.</param>
    /// <param name="found">For each of its parts whether it was found, and what.</param>
    /// <param name="now">When.</param>
    public static void SaveFound(WriteSession session, StoredStep step, IReadOnlyList<(bool IsFound, string Says)> found, DateTimeOffset now)
    {
        var at = now.UtcDateTime.ToString("O");
        foreach (var (part, (isFound, says)) in step.Parts.Zip(found))
            session.Execute("update step_part set is_found = @found, found = @says where part_id = @id", ("found", isFound ? 1L : 0L), ("says", says), ("id", part.Id));
        var status = found.All(f => f.IsFound) ? StepStatus.Live : StepStatus.Done;
        session.Execute("update work_step set checked_at = @at, status = @status where work_step_id = @id", ("at", at), ("status", status.Stored()), ("id", step.Id));
        if (status != step.Status)
            Say(session, step.Id, "change", $"status: {StepText.Name(step.Status)} → {StepText.Name(status)}, as a scan found", at);
    }

    private static void Say(WriteSession session, StepId id, string kind, string says, string at) => session.Execute(
        "insert into step_entry (work_step_id, kind, says, made_at, author) values (@id, @kind, @says, @at, @author)", ("id", id), ("kind", kind), ("says", says), ("at", at), ("author", Author.Current));

    private static void DropEmpty(WriteSession session) => session.Execute(
        """
        delete from step_entry where work_step_id in (select s.work_step_id from work_step s where not exists (select 1 from step_part p where p.work_step_id = s.work_step_id));
        delete from work_step where not exists (select 1 from step_part p where p.work_step_id = work_step.work_step_id);
        """);

    private static string Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? "";

    private static string Number(double? number) => number?.ToString("0.##", CultureInfo.InvariantCulture) ?? "";

    private static DateOnly? DayOrNull(string? text) => text is null ? null : DateOnly.ParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static List<StoredStep> Read(Session session, string where, params (string, object?)[] parameters)
    {
        var parts = session.List(
            $"""
            select p.part_id, p.work_step_id, p.kind, p.finding_key, p.cluster_id, o.page_id, o.url, p.says, p.words, p.before, p.at_stake, p.is_done, p.is_found, p.found, p.query, p.work
            from work_step s join step_part p on p.work_step_id = s.work_step_id
            left join page o on o.page_id = p.other_page_id
            where {where}
            order by p.part_id
            """,
            r => new StepPart(
                r.Id<StepPartId>(0), r.Id<StepId>(1), r.Enum<StepKind>(2), r.TextOrNull(3), r.IdOrNull<ClusterId>(4), r.IdOrNull<PageId>(5), r.TextOrNull(6), r.GetString(7), r.GetString(8), r.TextOrNull(9),
                r.GetDouble(10), r.GetInt64(11) == 1, r.LongOrNull(12) is { } found ? found == 1 : null, r.GetString(13), r.TextOrNull(14), r.EnumOrNull<QueryWork>(15)),
            parameters).ToLookup(p => p.StepId);
        return session.List(
            $"""
            select s.work_step_id, s.page_id, g.url, g.title, g.kind = 'planned', g.words, s.status, s.owner, s.due, s.week, s.hours, s.note, s.reason, s.made_at, s.done_at, s.checked_at
            from work_step s join page g on g.page_id = s.page_id
            where {where}
            order by s.work_step_id
            """,
            r => new StoredStep(
                r.Id<StepId>(0), r.Id<PageId>(1), r.GetString(2), r.TextOrNull(3), r.GetInt64(4) == 1, r.LongOrNull(5), r.Enum<StepStatus>(6), r.GetString(7), DayOrNull(r.TextOrNull(8)), DayOrNull(r.TextOrNull(9)),
                r.DoubleOrNull(10), r.GetString(11), r.GetString(12), r.GetString(13), r.TextOrNull(14), r.TextOrNull(15), [.. parts[r.Id<StepId>(0)]]),
            parameters);
    }
}

/// <summary>What a change of a step must have seen.</summary>
public static class RowVersions
{
    /// <returns>A short text that is the same as long as nobody changed the step.</returns>
    public static string Of(StoredStep step) => RowVersion.Of(
        step.Status, step.Owner, step.Due, step.Week, step.Hours, step.Note, step.Reason, string.Join(',', step.Parts.Select(p => $"{p.Id}:{p.IsDone}:{p.IsFound}")));
}
