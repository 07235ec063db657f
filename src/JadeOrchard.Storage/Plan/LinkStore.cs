namespace JadeOrchard.Storage.Plan;

/// <summary>A page as far as links need it.</summary>
/// <param name="IsRead">A full scan read its links.</param>
public sealed record LinkPage(PageId Id, string Url, bool IsPlanned, bool IsRead);

/// <summary>A cluster of a topic, with its page.</summary>
public sealed record LinkCluster(ClusterId Id, string Name, TopicId TopicId, bool IsPillar, long Demand, PageId? PageId);

/// <summary>The text of a page as far as links need it.</summary>
/// <param name="Headings">In order.</param>
/// <param name="Anchors">The words that link already, in order.</param>
public sealed record LinkText(string Text, IReadOnlyList<string> Headings, IReadOnlyList<string> Anchors);

/// <summary>What is known of links between the pages of topics.</summary>
public static class LinkStore
{
    /// <returns>The clusters of a topic, or of all, topics with most demand first.</returns>
    public static IReadOnlyList<LinkCluster> Clusters(Session session, TopicId? topicId) => session.List(
        """
        select c.cluster_id, coalesce(c.name, k.phrase), c.topic_id, c.cluster_id = t.pillar_cluster_id, c.demand, a.page_id
        from cluster c
        join topic t on t.topic_id = c.topic_id
        join keyword k on k.keyword_id = c.primary_keyword_id
        left join assignment a on a.cluster_id = c.cluster_id
        where @topic is null or c.topic_id = @topic
        order by sum(c.demand) over (partition by c.topic_id) desc, c.topic_id, c.demand desc, c.cluster_id
        """,
        r => new LinkCluster(r.Id<ClusterId>(0), r.GetString(1), r.Id<TopicId>(2), r.GetInt64(3) == 1, r.GetInt64(4), r.IdOrNull<PageId>(5)), ("topic", topicId));

    /// <returns>The pages of clusters.</returns>
    public static IReadOnlyList<LinkPage> Pages(Session session) => session.List(
        """
        select g.page_id, g.url, g.kind = 'planned', exists (select 1 from page_link l where l.content_id = g.content_id)
        from page g where g.page_id in (select page_id from assignment) order by g.page_id
        """,
        r => new LinkPage(r.Id<PageId>(0), r.GetString(1), r.GetInt64(2) == 1, r.GetInt64(3) == 1));

    /// <returns>Pairs of pages of clusters of which the first links to the second.</returns>
    public static IReadOnlySet<(PageId Source, PageId Target)> Linked(Session session) => session.List(
        """
        select distinct s.page_id, t.page_id
        from page s join page_link l on l.content_id = s.content_id join page t on t.identity = l.to_identity
        where s.page_id in (select page_id from assignment) and t.page_id in (select page_id from assignment)
        """,
        r => (r.Id<PageId>(0), r.Id<PageId>(1))).ToHashSet();

    /// <returns>Pairs of pages for which a step asks for a link.</returns>
    public static IReadOnlySet<(PageId Source, PageId Target)> Planned(Session session) => session.List(
        "select s.page_id, p.other_page_id from work_step s join step_part p on p.work_step_id = s.work_step_id where p.kind = 'link' and p.other_page_id is not null and s.status <> 'dropped'",
        r => (r.Id<PageId>(0), r.Id<PageId>(1))).ToHashSet();

    /// <returns>How heavily clusters are linked by their results and words, both ways.</returns>
    public static IReadOnlyDictionary<(ClusterId, ClusterId), double> Weights(Session session, TopicId? topicId)
    {
        var weights = new Dictionary<(ClusterId, ClusterId), double>();
        foreach (var (a, b, weight) in session.List(
            "select l.cluster_id, l.other_cluster_id, l.weight from cluster_link l join cluster c on c.cluster_id = l.cluster_id where @topic is null or c.topic_id = @topic",
            r => (r.Id<ClusterId>(0), r.Id<ClusterId>(1), r.GetDouble(2)), ("topic", topicId)))
        {
            weights[(a, b)] = weight;
            weights.TryAdd((b, a), weight);
        }

        return weights;
    }

    /// <returns>The keywords of clusters, the primary first, then most searched first.</returns>
    public static ILookup<ClusterId, string> Phrases(Session session, IReadOnlyCollection<ClusterId> clusters) => session.List(
        """
        select m.cluster_id, k.phrase
        from cluster_member m join cluster c on c.cluster_id = m.cluster_id join keyword k on k.keyword_id = m.keyword_id
        where m.cluster_id in (select value from json_each(@ids))
        order by m.cluster_id, k.keyword_id <> c.primary_keyword_id, k.volume desc, k.normal_form
        """,
        r => (Cluster: r.Id<ClusterId>(0), Phrase: r.GetString(1)), ("ids", "[" + string.Join(',', clusters) + "]")).ToLookup(k => k.Cluster, k => k.Phrase);

    /// <returns>The text of a page; null where none was read.</returns>
    public static LinkText? Text(Session session, PageId pageId)
    {
        var anchors = session.List(
            "select l.anchor from page g join page_link l on l.content_id = g.content_id where g.page_id = @id order by l.place", r => r.GetString(0), ("id", pageId));
        return session.First(
            "select c.text, g.h1, g.h2, g.h3 from page g join page_content c on c.content_id = g.content_id where g.page_id = @id",
            r => new LinkText(r.GetString(0), [.. new[] { r.TextOrNull(1), r.TextOrNull(2), r.TextOrNull(3) }.SelectMany(h => (h ?? "").Split(" | ", StringSplitOptions.RemoveEmptyEntries))], anchors),
            ("id", pageId));
    }
}
