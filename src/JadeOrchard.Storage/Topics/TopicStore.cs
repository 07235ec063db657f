using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Refresh;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Topics;

/// <summary>A topic as lists show it.</summary>
/// <param name="Name">What the planner calls it, else its pillar.</param>
/// <param name="IsNamed">The planner gave it a name.</param>
/// <param name="PillarId">The cluster that represents the whole topic.</param>
/// <param name="Expected">Keywords that are expected in its clusters without a result list.</param>
/// <param name="Demand">Searches per month of its clusters.</param>
/// <param name="CoveredDemand">Of its clusters with an existing page.</param>
/// <param name="PlannedDemand">Of its clusters with a planned page.</param>
/// <param name="ContestedDemand">Of its clusters in which pages of the site compete with each other.</param>
/// <param name="Waiting">Subtopics that no keyword of a cluster covers yet.</param>
public sealed record TopicRow(
    TopicId Id, string Name, bool IsNamed, ClusterId PillarId, string PillarName, long Clusters, long Keywords, long Expected, long Demand, long CoveredDemand, long PlannedDemand, long ContestedDemand,
    double AtStake, long Waiting)
{
    /// <summary>To be sent back with a change, so that one made meanwhile is not overwritten.</summary>
    public string Version => RowVersion.Of(Name, IsNamed, PillarId);

    /// <summary>Searches for its clusters month by month; null where too few months are known.</summary>
    public Season? Season { get; init; }
}

/// <summary>A subtopic that the planner added manually.</summary>
/// <param name="ClusterId">The cluster that a keyword of this phrase came into; null as long as it waits.</param>
public sealed record Subtopic(SubtopicId Id, string Phrase, string Note, ClusterId? ClusterId, string? ClusterName);

/// <summary>Clusters of one topic that belong together.</summary>
public sealed record TopicLink(ClusterId ClusterId, ClusterId OtherClusterId, double Weight);

/// <summary>Whether the pages of a supporting cluster and of the pillar link to each other.</summary>
/// <param name="ToPillar">Null where the links of that page were not read.</param>
/// <param name="FromPillar">Likewise.</param>
public sealed record SupportLink(ClusterId ClusterId, bool? ToPillar, bool? FromPillar);

/// <summary>A topic by its id.</summary>
/// <param name="ChosenPillarId">The pillar that the planner chose; null where none was chosen.</param>
public sealed record StoredTopic(TopicId Id, ClusterId? ChosenPillarId);

/// <summary>The topic of a cluster.</summary>
/// <param name="TopicId">Null where it is in none.</param>
/// <param name="IsPlaced">The planner put it there.</param>
public readonly record struct TopicOfCluster(TopicId? TopicId, bool IsPlaced);

/// <summary>A topic as it is to be written.</summary>
/// <param name="Id">The topic whose identity it inherits; 0 for a new one.</param>
public sealed record GatheredTopic(TopicId Id, ClusterId PillarId, IReadOnlyList<ClusterId> ClusterIds);

/// <summary>Topics, their clusters and the subtopics that wait.</summary>
public static class TopicStore
{
    private const string Sums =
        """

        join (
          select c.topic_id, count(*) as clusters, sum(c.size) as keywords, sum(c.expected) as expected, sum(c.demand) as demand, sum(c.at_stake) as at_stake,
            sum(iif(c.coverage = 'covered', c.demand, 0)) as covered,
            sum(iif(c.coverage = 'planned', c.demand, 0)) as planned,
            sum(iif(c.coverage = 'contested', c.demand, 0)) as contested
          from cluster c
          where c.topic_id is not null
        """;

    private const string Each =
        """

          group by c.topic_id
        ) f on f.topic_id = t.topic_id
        """;

    private const string Pillar =
        """

        join cluster p on p.cluster_id = t.pillar_cluster_id
        join keyword pk on pk.keyword_id = p.primary_keyword_id
        """;

    private static readonly ListSource<TopicRow> Rows = new(
        "t.topic_id",
        """
        t.topic_id, coalesce(t.name, p.name, pk.phrase), t.name is not null, p.cluster_id, coalesce(p.name, pk.phrase), f.clusters, f.keywords, f.expected, f.demand, f.covered, f.planned,
        f.contested, f.at_stake,
        (select count(*) from subtopic s where s.topic_id = t.topic_id and not exists (
          select 1 from keyword k join cluster_member m on m.keyword_id = k.keyword_id where k.normal_form = s.normal_form))
        """,
        "topic t" + Pillar + Sums + Each,
        "count(*), coalesce(sum(f.keywords), 0), coalesce(sum(f.demand), 0), null, coalesce(sum(f.at_stake), 0.0), 0",
        ListSource<TopicRow>.Like("(coalesce(t.name, '') || ' ' || coalesce(p.name, '') || ' ' || pk.phrase)"),
        new Dictionary<string, string>
        {
            ["name"] = "coalesce(t.name, p.name, pk.phrase)",
            ["clusters"] = "f.clusters",
            ["keywords"] = "f.keywords",
            ["demand"] = "f.demand",
            ["covered"] = "cast(f.covered as real) / max(f.demand, 1)",
            ["atStake"] = "f.at_stake",
        },
        "f.demand desc, t.topic_id",
        Read)
    {
        Narrow = "topic t" + Sums + Each,
        FromChosen = "topic t" + Pillar + Sums + " and c.topic_id in (select key from chosen)" + Each,
        WideSorts = new HashSet<string> { "name" },
        SearchIsWide = true,
    };

    public static ListPage<TopicRow> List(Session session, ListQuery query)
    {
        var page = Rows.Page(session, query, []);
        var seasons = SeasonStore.OfTopics(session, page.Rows.Select(t => t.Id));
        return page with { Rows = [.. page.Rows.Select(t => t with { Season = seasons.GetValueOrDefault(t.Id) })] };
    }

    /// <returns>For each cluster, or each that is asked for, in a topic whose pillar it is not, that pillar.</returns>
    public static Dictionary<ClusterId, ClusterId> Pillars(Session session, IReadOnlySet<ClusterId>? clusterIds = null)
    {
        var pillars = new Dictionary<ClusterId, ClusterId>();
        session.Each(
            $"""
            select c.cluster_id, t.pillar_cluster_id
            from cluster c
            join topic t on t.topic_id = c.topic_id
            join cluster p on p.cluster_id = t.pillar_cluster_id
            where t.pillar_cluster_id <> c.cluster_id {(clusterIds is null ? "" : $"and c.cluster_id in ({string.Join(',', clusterIds)})")}
            """,
            r => pillars[r.Id<ClusterId>(0)] = r.Id<ClusterId>(1));
        return pillars;
    }

    public static TopicRow? Find(Session session, TopicId topicId) =>
        session.First($"with chosen as (select @id as key) select {Rows.Columns} from {Rows.FromChosen} where t.topic_id = @id", Read, ("id", topicId)) is { } topic
            ? topic with { Season = SeasonStore.OfTopics(session, [topicId]).GetValueOrDefault(topicId) } : null;

    public static long Count(Session session) => session.Count("select count(*) from topic");

    /// <returns>All topics by id.</returns>
    public static IReadOnlyList<StoredTopic> All(Session session) => session.List(
        "select topic_id, iif(is_pillar_chosen, pillar_cluster_id, null) from topic order by topic_id", r => new StoredTopic(r.Id<TopicId>(0), r.IdOrNull<ClusterId>(1)));

    /// <returns>For each cluster by id its topic.</returns>
    public static Dictionary<ClusterId, TopicOfCluster> OfClusters(Session session)
    {
        var topics = new Dictionary<ClusterId, TopicOfCluster>();
        session.Each(
            "select c.cluster_id, t.topic_id, c.is_topic_chosen from cluster c left join topic t on t.topic_id = c.topic_id",
            r => topics[r.Id<ClusterId>(0)] = new TopicOfCluster(r.IdOrNull<TopicId>(1), r.GetInt64(2) == 1));
        return topics;
    }

    /// <returns>The topic of one cluster; null where it is in none.</returns>
    public static TopicId? OfCluster(Session session, ClusterId clusterId) => session.IdOrNull<TopicId>("select topic_id from cluster where cluster_id = @id", ("id", clusterId));

    /// <returns>Clusters that are in no topic.</returns>
    public static IReadOnlyList<ClusterId> WithoutTopic(Session session) => session.Ids<ClusterId>("select cluster_id from cluster where topic_id is null order by cluster_id");

    /// <returns>Clusters that share a topic with some clusters, these included.</returns>
    public static IReadOnlySet<ClusterId> SharingTopics(Session session, IEnumerable<ClusterId> clusterIds) => session.Ids<ClusterId>(
        """
        select o.cluster_id from cluster o where o.topic_id in (select c.topic_id from json_each(@ids) j join cluster c on c.cluster_id = j.value)
        union select value from json_each(@ids)
        """,
        ("ids", "[" + string.Join(',', clusterIds) + "]")).ToHashSet();

    /// <summary>Puts topics in the place of those before; only what differs is written. Subtopics of a topic that goes follow most of its clusters.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="topics">Every cluster in one of them.</param>
    public static void Replace(WriteSession session, IReadOnlyList<GatheredTopic> topics)
    {
        session.Touch(Data.Topics);
        var before = OfClusters(session);
        using var update = session.Command("update topic set pillar_cluster_id = @pillar where topic_id = @id and pillar_cluster_id is not @pillar", ("pillar", 0L), ("id", 0L));
        session.Execute("create temp table if not exists topic_of (cluster_id integer primary key, topic_id integer not null); delete from temp.topic_of;");
        using var move = new RowBuffer(session, "insert or fail into temp.topic_of (cluster_id, topic_id)", 8, 2);
        using var add = new RowBuffer(session, "insert or fail into topic (topic_id, pillar_cluster_id)", 8, 2);
        var added = new UndoRanges(session, "topic");
        var last = session.Count("select seq from sqlite_sequence where name = 'topic'");
        var heirs = new Dictionary<TopicId, Dictionary<TopicId, int>>();
        var kept = new HashSet<TopicId>();
        foreach (var topic in topics)
        {
            var id = topic.Id;
            if (id == default)
            {
                id = new TopicId(++last);
                add.Add(id, topic.PillarId);
            }
            else
                update.Run(topic.PillarId, id);

            kept.Add(id);
            foreach (var cluster in topic.ClusterIds)
            {
                if (before.GetValueOrDefault(cluster).TopicId is { } old)
                {
                    if (old == id)
                        continue;
                    var heir = heirs.TryGetValue(old, out var known) ? known : heirs[old] = [];
                    heir[id] = heir.GetValueOrDefault(id) + 1;
                }

                move.Add(cluster, id);
            }
        }

        add.Flush();
        added.End();
        move.Flush();
        session.Execute("update cluster set topic_id = m.topic_id from temp.topic_of m where m.cluster_id = cluster.cluster_id");

        session.Execute("pragma defer_foreign_keys = on");
        foreach (var old in session.Ids<TopicId>("select topic_id from topic").Where(t => !kept.Contains(t)))
        {
            var heir = heirs.GetValueOrDefault(old, []).OrderByDescending(h => h.Value).ThenBy(h => h.Key.Value).Select(h => h.Key).FirstOrDefault(kept.MinBy(t => t.Value));
            if (heir != default)
                session.Execute("update subtopic set topic_id = @heir where topic_id = @old", ("heir", heir), ("old", old));
            session.Execute("delete from subtopic where topic_id = @old; delete from topic where topic_id = @old;", ("old", old));
        }
    }

    /// <summary>A topic of one cluster.</summary>
    /// <returns>Its id.</returns>
    public static TopicId Add(WriteSession session, ClusterId pillarId) =>
        session.Id<TopicId>("insert into topic (pillar_cluster_id) values (@pillar) returning topic_id", ("pillar", pillarId));

    /// <summary>Puts clusters into a topic as the planner wants.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="clusterIds">The clusters.</param>
    /// <param name="topicId">Null for a new one.</param>
    /// <returns>The topic.</returns>
    public static TopicId Move(WriteSession session, IReadOnlyList<ClusterId> clusterIds, TopicId? topicId)
    {
        var topic = topicId ?? Add(session, clusterIds[0]);
        session.Execute(
            "update cluster set topic_id = @topic, is_topic_chosen = 1 where cluster_id in (select value from json_each(@ids))",
            ("topic", topic), ("ids", "[" + string.Join(',', clusterIds) + "]"));
        session.Touch(Data.Topics, [.. clusterIds]);
        return topic;
    }

    /// <summary>Joins clusters that have no topic to one.</summary>
    public static void Join(WriteSession session, ClusterId clusterId, TopicId topicId)
    {
        session.Execute("update cluster set topic_id = @topic where cluster_id = @id", ("topic", topicId), ("id", clusterId));
        session.Touch(Data.Topics, clusterId);
    }

    /// <summary>Drops topics without clusters, whose subtopics go to the topic of most demand, and gives those whose pillar left another one.</summary>
    public static void Mend(WriteSession session)
    {
        session.Execute(
            """
            pragma defer_foreign_keys = on;
            update subtopic set topic_id = (select t.topic_id from topic t join cluster c on c.topic_id = t.topic_id order by c.demand desc, t.topic_id limit 1)
            where not exists (select 1 from cluster c where c.topic_id = subtopic.topic_id)
              and exists (select 1 from topic t join cluster c on c.topic_id = t.topic_id);
            delete from subtopic where not exists (select 1 from cluster c where c.topic_id = subtopic.topic_id);
            delete from topic where not exists (select 1 from cluster c where c.topic_id = topic.topic_id);
            """);
        foreach (var topic in session.Ids<TopicId>(
            "select topic_id from topic where not exists (select 1 from cluster c where c.cluster_id = topic.pillar_cluster_id and c.topic_id = topic.topic_id)"))
        {
            var clusters = session.List("select cluster_id, demand from cluster where topic_id = @id order by cluster_id", r => (Id: r.Id<ClusterId>(0), Demand: r.GetInt64(1)), ("id", topic));
            var linked = Links(session, topic).CountBy(l => l.ClusterId).ToDictionary();
            var pillar = Core.Topics.Topics.PillarOf(Enumerable.Range(0, clusters.Count), [.. clusters.Select(c => c.Demand)], [.. clusters.Select(c => linked.GetValueOrDefault(c.Id))]);
            session.Execute("update topic set is_pillar_chosen = 0, pillar_cluster_id = @pillar where topic_id = @id", ("pillar", clusters[pillar].Id), ("id", topic));
            session.Touch(Data.Topics, clusters[pillar].Id);
        }
    }

    public static void Rename(WriteSession session, TopicId topicId, string? name) => session.Execute(
        "update topic set name = @name where topic_id = @id", ("id", topicId), ("name", string.IsNullOrWhiteSpace(name) ? null : name.Trim()));

    /// <param name="session">The transaction.</param>
    /// <param name="topicId">The topic.</param>
    /// <param name="clusterId">One of its clusters.</param>
    public static void ChoosePillar(WriteSession session, TopicId topicId, ClusterId clusterId)
    {
        session.Execute("update topic set pillar_cluster_id = @cluster, is_pillar_chosen = 1 where topic_id = @id", ("id", topicId), ("cluster", clusterId));
        session.Touch(Data.Topics, clusterId);
    }

    public static IReadOnlyList<Subtopic> Subtopics(Session session, TopicId topicId) => session.List(
        """
        select s.subtopic_id, s.phrase, s.note, c.cluster_id, coalesce(c.name, p.phrase)
        from subtopic s
        left join keyword k on k.normal_form = s.normal_form
        left join cluster_member m on m.keyword_id = k.keyword_id
        left join cluster c on c.cluster_id = m.cluster_id
        left join keyword p on p.keyword_id = c.primary_keyword_id
        where s.topic_id = @id
        order by s.phrase, s.subtopic_id
        """,
        r => new Subtopic(r.Id<SubtopicId>(0), r.GetString(1), r.GetString(2), r.IdOrNull<ClusterId>(3), r.TextOrNull(4)),
        ("id", topicId));

    /// <returns>The topic that has this subtopic already; null where none has and it was added.</returns>
    public static TopicId? AddSubtopic(WriteSession session, TopicId topicId, string phrase, string note, DateTimeOffset now)
    {
        var form = KeywordNormalForm.Of(phrase);
        if (session.IdOrNull<TopicId>("select topic_id from subtopic where normal_form = @form", ("form", form)) is { } known)
            return known;
        session.Execute(
            "insert into subtopic (topic_id, phrase, normal_form, note, made_at) values (@topic, @phrase, @form, @note, @now)",
            ("topic", topicId), ("phrase", phrase.Trim()), ("form", form), ("note", note.Trim()), ("now", SourceStore.Iso(now)));
        return null;
    }

    /// <returns>Whether it was there.</returns>
    public static bool RemoveSubtopic(WriteSession session, SubtopicId subtopicId) =>
        session.Execute("delete from subtopic where subtopic_id = @id", ("id", subtopicId)) > 0;

    /// <summary>Keeps which clusters belong together; only what differs is written.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="links">For each cluster the links that it keeps, strongest first; none for one that is gone.</param>
    /// <param name="isAll">They are all there are.</param>
    public static void SaveLinks(WriteSession session, IReadOnlyDictionary<ClusterId, IReadOnlyList<TopicLink>> links, bool isAll)
    {
        using var delete = session.Command("delete from cluster_link where cluster_id = @id", ("id", 0L));
        if (isAll)
            session.Execute("delete from cluster_link");
        using var insert = new RowBuffer(session, "insert or fail into cluster_link (cluster_id, other_cluster_id, weight)", 6, 3);
        foreach (var (cluster, kept) in links)
        {
            if (!isAll)
                delete.Run(cluster);

            foreach (var link in kept)
                insert.Add(cluster, link.OtherClusterId, link.Weight);
        }
    }

    /// <returns>All links that clusters keep; a pair that both keep comes twice.</returns>
    public static IReadOnlyList<TopicLink> AllLinks(Session session) => session.List(
        "select cluster_id, other_cluster_id, weight from cluster_link order by cluster_id, other_cluster_id", r => new TopicLink(r.Id<ClusterId>(0), r.Id<ClusterId>(1), r.GetDouble(2)));

    /// <returns>The links among the clusters of a topic, each both ways, the heaviest first.</returns>
    public static IReadOnlyList<TopicLink> Links(Session session, TopicId topicId) => session.List(
        """
        with kept as (
          select l.cluster_id as a, l.other_cluster_id as b, l.weight
          from cluster c
          join cluster_link l on l.cluster_id = c.cluster_id
          join cluster o on o.cluster_id = l.other_cluster_id and o.topic_id = c.topic_id
          where c.topic_id = @id
        )
        select a, b, max(weight) as weight from (select a, b, weight from kept union all select b, a, weight from kept) group by a, b order by weight desc, a, b
        """,
        r => new TopicLink(r.Id<ClusterId>(0), r.Id<ClusterId>(1), r.GetDouble(2)),
        ("id", topicId));

    /// <returns>For each supporting cluster whether its page and that of the pillar link to each other; only where both have an existing page.</returns>
    public static IReadOnlyList<SupportLink> Support(Session session, TopicId topicId) => session.List(
        """
        select c.cluster_id,
          iif(exists (select 1 from page_link l where l.content_id = s.content_id),
            exists (select 1 from page_link l where l.content_id = s.content_id and l.to_identity = p.identity), null),
          iif(exists (select 1 from page_link l where l.content_id = p.content_id),
            exists (select 1 from page_link l where l.content_id = p.content_id and l.to_identity = s.identity), null)
        from topic t
        join assignment pa on pa.cluster_id = t.pillar_cluster_id
        join page p on p.page_id = pa.page_id and p.kind = 'existing'
        join cluster c on c.topic_id = t.topic_id and c.cluster_id <> t.pillar_cluster_id
        join assignment a on a.cluster_id = c.cluster_id
        join page s on s.page_id = a.page_id and s.kind = 'existing' and s.page_id <> p.page_id
        where t.topic_id = @id
        order by c.cluster_id
        """,
        r => new SupportLink(r.Id<ClusterId>(0), Flag(r.LongOrNull(1)), Flag(r.LongOrNull(2))),
        ("id", topicId));

    /// <returns>The ids of the keywords of a topic's clusters.</returns>
    public static IReadOnlyList<KeywordId> Keywords(Session session, TopicId topicId) => session.Ids<KeywordId>(
        "select m.keyword_id from cluster c join cluster_member m on m.cluster_id = c.cluster_id where c.topic_id = @id", ("id", topicId));

    /// <summary>Titles and headings of the site's pages that are assigned to clusters of a topic or suggested for them; planned ones with their working titles.</summary>
    public static IReadOnlyList<IReadOnlyList<string>> OwnHeadings(Session session, TopicId topicId) => session.List(
        """
        select g.title, g.h1, g.h2, g.h3
        from page g
        where g.page_id in (
          select coalesce(a.page_id, s.page_id)
          from cluster c
          left join assignment a on a.cluster_id = c.cluster_id
          left join suggestion s on s.cluster_id = c.cluster_id and s.verdict <> 'none'
          where c.topic_id = @id)
        """,
        r => (IReadOnlyList<string>)[.. Enumerable.Range(0, 4).SelectMany(i => (r.TextOrNull(i) ?? "").Split(" | ", StringSplitOptions.RemoveEmptyEntries))],
        ("id", topicId));

    /// <returns>The greatest volume of the keywords that are these close variants, and the cluster of one of them; null where none is known.</returns>
    public static (long? Volume, ClusterId? ClusterId) KnownOf(Session session, string variantKey) => session.List(
        "select max(k.volume), max(m.cluster_id) from keyword k left join cluster_member m on m.keyword_id = k.keyword_id where k.variant_key = @key",
        r => (r.LongOrNull(0), r.IdOrNull<ClusterId>(1)),
        ("key", variantKey))[0];

    private static bool? Flag(long? value) => value is { } given ? given == 1 : null;

    private static TopicRow Read(SqliteDataReader r) => new(
        r.Id<TopicId>(0), r.GetString(1), r.GetInt64(2) == 1, r.Id<ClusterId>(3), r.GetString(4), r.GetInt64(5), r.GetInt64(6), r.GetInt64(7), r.GetInt64(8), r.GetInt64(9), r.GetInt64(10),
        r.GetInt64(11), r.GetDouble(12), r.GetInt64(13));
}
