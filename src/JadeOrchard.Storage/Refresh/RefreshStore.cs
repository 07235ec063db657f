using System.Globalization;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Storage.Refresh;

/// <summary>How reading search performance failed.</summary>
public enum TroubleKind
{
    /// <summary>The service refuses the key.</summary>
    Denied,

    /// <summary>It did not answer, or not as it should.</summary>
    Failed,
}

/// <summary>Why the last read of search performance failed.</summary>
/// <param name="Message">What went wrong and what to do.</param>
/// <param name="Arguments">The days that were asked for, as JSON.</param>
/// <param name="RetryAt">When they are asked for again; null where somebody has to do something first.</param>
public sealed record PerformanceTrouble(TroubleKind Kind, string Message, string At, string Arguments, string? RetryAt);

/// <summary>The keyword and cluster of a query, and the page that is assigned to the cluster; null for what there is not.</summary>
public readonly record struct QueryHome(int Query, KeywordId KeywordId, long? Volume, ClusterId? ClusterId, PageId? PageId);

/// <summary>What is known of a page beside its words.</summary>
/// <param name="TopicId">Of its cluster with most demand.</param>
/// <param name="Intent">Likewise: a page for it is of the type that goes with it.</param>
public sealed record PageAge(PageId PageId, TopicId? TopicId, Intent? Intent, DateOnly? PublishedOn, DateOnly? ModifiedOn)
{
    /// <summary>When it was changed or, where it does not say, published.</summary>
    public DateOnly? Newest => ModifiedOn ?? PublishedOn;
}

/// <summary>What the table of queries shows beside search performance.</summary>
public static class RefreshStore
{
    /// <returns>The queries that are keywords, by their own words or those of a merged variant.</returns>
    public static IReadOnlyList<QueryHome> Homes(Session session) => session.List(
        """
        select q.query_id, k.keyword_id, k.volume, m.cluster_id, a.page_id
        from (select normal_form, keyword_id from keyword union all select normal_form, keyword_id from keyword_alias) n
        cross join performance_query q on q.normal_form = n.normal_form
        join keyword k on k.keyword_id = n.keyword_id
        left join cluster_member m on m.keyword_id = n.keyword_id
        left join assignment a on a.cluster_id = m.cluster_id
        """,
        r => new QueryHome(r.GetInt32(0), r.Id<KeywordId>(1), r.LongOrNull(2), r.IdOrNull<ClusterId>(3), r.IdOrNull<PageId>(4)));

    /// <returns>The names of all clusters.</returns>
    public static IReadOnlyDictionary<ClusterId, string> ClusterNames(Session session) => session.List(
        "select c.cluster_id, coalesce(c.name, k.phrase) from cluster c join keyword k on k.keyword_id = c.primary_keyword_id", r => (r.Id<ClusterId>(0), r.GetString(1))).ToDictionary(c => c.Item1, c => c.Item2);

    /// <returns>For each page the topic and intent of its cluster with most demand, and its age as it says.</returns>
    public static IReadOnlyDictionary<PageId, PageAge> Ages(Session session)
    {
        var (topics, intents) = (new Dictionary<PageId, TopicId>(), new Dictionary<PageId, Intent>());
        session.Each("select a.page_id, c.topic_id, c.intent from assignment a join cluster c on c.cluster_id = a.cluster_id order by c.demand, c.cluster_id", r =>
        {
            if (r.IdOrNull<TopicId>(1) is { } topic)
                topics[r.Id<PageId>(0)] = topic;
            if (r.EnumOrNull<Intent>(2) is { } intent)
                intents[r.Id<PageId>(0)] = intent;
        });
        return session.List(
            "select page_id, published_on, modified_on from page where kind = 'existing'",
            r => new PageAge(r.Id<PageId>(0), topics.TryGetValue(r.Id<PageId>(0), out var topic) ? topic : null, intents.TryGetValue(r.Id<PageId>(0), out var intent) ? intent : null, Day(r.TextOrNull(1)), Day(r.TextOrNull(2)))).ToDictionary(p => p.PageId);
    }

    /// <returns>Null if the last read succeeded.</returns>
    public static PerformanceTrouble? Trouble(Session session) => session.First(
        "select kind, message, at, arguments, retry_at from performance_trouble", r => new PerformanceTrouble(r.Enum<TroubleKind>(0), r.GetString(1), r.GetString(2), r.GetString(3), r.TextOrNull(4)));

    /// <summary>Keeps why the last read failed; null if it succeeded.</summary>
    public static void SaveTrouble(WriteSession session, PerformanceTrouble? trouble)
    {
        session.Execute("delete from performance_trouble");
        if (trouble is not null)
        {
            session.Execute(
                "insert into performance_trouble values (1, @kind, @message, @at, @arguments, @retry)",
                ("kind", trouble.Kind.Stored()), ("message", trouble.Message), ("at", trouble.At), ("arguments", trouble.Arguments), ("retry", trouble.RetryAt));
        }
    }

    private static DateOnly? Day(string? day) => DateOnly.TryParse(day, CultureInfo.InvariantCulture, out var found) ? found : null;
}
