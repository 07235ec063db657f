using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Site;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Clusters;

/// <summary>A cluster as lists show it.</summary>
/// <param name="Name">What the planner calls it, else its primary keyword.</param>
/// <param name="Size">Keywords with a result list.</param>
/// <param name="Expected">Keywords that are expected in it without one.</param>
/// <param name="Demand">Searches a month of all of them.</param>
/// <param name="Intent">That of most demand; null where none is known.</param>
/// <param name="Cohesion">0 to 1; null for a single keyword.</param>
/// <param name="AtStake">Clicks per month of its open and accepted findings.</param>
/// <param name="PageId">The assigned page; null where there is none.</param>
/// <param name="SuggestedPageId">The suggested page; null where there is none.</param>
/// <param name="Strength">0 to 100, of the suggested page.</param>
/// <param name="LostTo">The cluster that got this cluster's strongest page instead.</param>
/// <param name="WeakMembers">Keywords that another cluster would fit better.</param>
/// <param name="IsLocked">A re-grouping leaves it as it is.</param>
/// <param name="TopicId">Null where it is in no topic.</param>
/// <param name="Declined">Why the planner wants no page for it; null where that was not said.</param>
/// <param name="Season">Null where too few months are known.</param>
public sealed record ClusterRow(
    ClusterId Id,
    string Name,
    Coverage Mark,
    KeywordId PrimaryKeywordId,
    string Primary,
    long Size,
    long Expected,
    long Demand,
    double? MeanDifficulty,
    Intent? Intent,
    double? Cohesion,
    double AtStake,
    long OpenFindings,
    PageId? PageId,
    string? PageUrl,
    PageKind? PageKind,
    string? PageTitle,
    PageId? SuggestedPageId,
    string? SuggestedUrl,
    Verdict? Verdict,
    double? Strength,
    string? LostTo,
    long WeakMembers,
    bool IsLocked,
    TopicId? TopicId,
    string? TopicName,
    string? Declined,
    Season? Season)
{
    /// <summary>To be sent back with a change, so that one made meanwhile is not overwritten.</summary>
    public string Version => RowVersion.Of(Name, PrimaryKeywordId, Size, PageId, IsLocked, TopicId, Declined);
}

/// <summary>How well a keyword fits its cluster.</summary>
/// <param name="Fit">Silhouette, −1 to 1; negative for a weak member.</param>
/// <param name="NearestId">The other cluster that it would fit best; null where it shares nothing with any.</param>
/// <param name="BridgeId">The other cluster whose primary it overlaps by the minimum or more; null where there is none.</param>
public sealed record MemberFit(KeywordId KeywordId, double Fit, ClusterId? NearestId, ClusterId? BridgeId);

/// <summary>Which clusters are wanted.</summary>
/// <param name="Mark">Only with this coverage.</param>
/// <param name="MinDemand">Searches per month at least.</param>
/// <param name="MinSize">Keywords at least.</param>
/// <param name="Intent">Only this one.</param>
/// <param name="Verdict">Only with a suggestion of this verdict.</param>
/// <param name="Decided">Only those about which, or about which nothing, is decided: an assigned page, or none on purpose.</param>
/// <param name="PageId">Only those assigned to this page.</param>
/// <param name="TopicId">Only those of this topic.</param>
/// <param name="Trend">Only those that rise, fall, or do neither.</param>
/// <param name="PeakMonth">Only those that peak in this month, 1 to 12; 0 for those that peak at all.</param>
public sealed record ClusterFilter(
    Coverage? Mark = null, long? MinDemand = null, long? MinSize = null, Intent? Intent = null, Verdict? Verdict = null, bool? Decided = null, PageId? PageId = null, TopicId? TopicId = null,
    Direction? Trend = null, int? PeakMonth = null);

/// <summary>A cluster as it is to be written.</summary>
/// <param name="Id">The cluster whose identity it inherits; 0 for a new one.</param>
/// <param name="PrimaryKeywordId">Its primary keyword.</param>
/// <param name="KeywordIds">All its keywords.</param>
public sealed record GroupedCluster(ClusterId Id, KeywordId PrimaryKeywordId, IReadOnlyList<KeywordId> KeywordIds);

/// <summary>The clusters that are covered so far.</summary>
public sealed record CoverageShare(Coverage Coverage, long Clusters, long Demand);

/// <summary>The clusters that were covered so far at the end of a day.</summary>
public sealed record CoverageDay(DateOnly Day, Coverage Coverage, long Clusters, long Demand);

/// <summary>A cluster by its id, with what is decided of it.</summary>
/// <param name="PageId">The assigned page; null where there is none.</param>
/// <param name="IsPlanned">That page is planned.</param>
/// <param name="IsDeclined">The planner wants no page for it.</param>
public sealed record StoredCluster(ClusterId Id, KeywordId PrimaryKeywordId, PageId? PageId, bool IsPlanned, bool IsDeclined);

/// <summary>What the planner set.</summary>
/// <param name="Locked">Clusters that stay as they are.</param>
/// <param name="PrimaryChosen">Clusters whose primary was chosen.</param>
/// <param name="Placed">Keywords that were put into their cluster.</param>
public sealed record FixedByHand(IReadOnlySet<ClusterId> Locked, IReadOnlySet<ClusterId> PrimaryChosen, IReadOnlySet<KeywordId> Placed);

/// <summary>A cluster's name and demand.</summary>
public sealed record ClusterName(string Name, long Demand);

/// <summary>Clusters and their members.</summary>
public static class ClusterStore
{
    private static readonly ListSource<ClusterRow> Rows = new(
        "c.cluster_id",
        $"""
        c.cluster_id, coalesce(c.name, p.phrase), c.coverage, c.primary_keyword_id, p.phrase, c.size, c.demand, c.mean_difficulty, c.intent, c.cohesion,
        c.at_stake, c.open_findings, g.page_id, g.url, g.kind, g.title, s.page_id, sg.url, s.verdict, s.strength,
        (select coalesce(l.name, lp.phrase) from cluster l join keyword lp on lp.keyword_id = l.primary_keyword_id where l.cluster_id = s.lost_to_cluster_id),
        c.weak_members, c.is_locked, t.topic_id, coalesce(t.name, tc.name, tp.phrase), n.reason, c.expected, {SeasonStore.Columns("cs")}
        """,
        """
        cluster c
        join keyword p on p.keyword_id = c.primary_keyword_id
        left join assignment a on a.cluster_id = c.cluster_id
        left join page g on g.page_id = a.page_id
        left join suggestion s on s.cluster_id = c.cluster_id
        left join page sg on sg.page_id = s.page_id
        left join cluster_decline n on n.cluster_id = c.cluster_id
        left join topic t on t.topic_id = c.topic_id
        left join cluster tc on tc.cluster_id = t.pillar_cluster_id
        left join keyword tp on tp.keyword_id = tc.primary_keyword_id
        left join cluster_season cs on cs.cluster_id = c.cluster_id
        """,
        "count(*), coalesce(sum(c.size), 0), coalesce(sum(c.demand), 0), avg(c.mean_difficulty), coalesce(sum(c.at_stake), 0.0), 0",
        $"""
        c.cluster_id in (
          select cluster_id from cluster where name is not null and {ListSource<ClusterRow>.Like("name")}
          union select x.cluster_id from keyword k cross join cluster x on x.primary_keyword_id = k.keyword_id where {ListSource<ClusterRow>.Like("k.phrase")}
          union select x.cluster_id from page n cross join assignment x on x.page_id = n.page_id where {ListSource<ClusterRow>.Like("n.url")})
        """,
        new Dictionary<string, string>
        {
            ["name"] = "coalesce(c.name, p.phrase)",
            ["mark"] = "c.coverage",
            ["size"] = "c.size",
            ["demand"] = "c.demand",
            ["meanDifficulty"] = "c.mean_difficulty",
            ["intent"] = "c.intent",
            ["cohesion"] = "c.cohesion",
            ["weakMembers"] = "c.weak_members",
            ["atStake"] = "c.at_stake",
            ["pageUrl"] = "g.url",
            ["topicName"] = "coalesce(t.name, tc.name, tp.phrase)",
            ["suggestedUrl"] = "sg.url",
            ["strength"] = "s.strength",
            ["season"] = "cs.tau",
            ["verdict"] = "case s.verdict when 'clear' then 2 when 'doubtful' then 1 else 0 end",
        },
        "c.demand desc, c.cluster_id",
        Read)
    {
        Narrow = "cluster c left join assignment a on a.cluster_id = c.cluster_id left join page g on g.page_id = a.page_id left join suggestion s on s.cluster_id = c.cluster_id left join cluster_decline n on n.cluster_id = c.cluster_id",
        WideSorts = new HashSet<string> { "name", "suggestedUrl", "topicName", "season" },
    };

    public static ListPage<ClusterRow> List(Session session, ListQuery query, ClusterFilter filter) => Rows.Page(
        session,
        query,
        [
            filter.Mark is null ? null : "c.coverage = @mark",
            filter.MinDemand is null ? null : "c.demand >= @demand",
            filter.MinSize is null ? null : "c.size >= @size",
            filter.Intent is null ? null : "c.intent = @intent",
            filter.Verdict is null ? null : "coalesce(s.verdict, 'none') = @verdict",
            filter.Decided switch { true => "(a.page_id is not null or n.cluster_id is not null)", false => "(a.page_id is null and n.cluster_id is null)", null => null },
            filter.PageId is null ? null : "a.page_id = @page",
            filter.TopicId is null ? null : "c.topic_id = @topic",
            .. SeasonStore.Conditions("cluster_season", "cluster_id", "c.cluster_id", filter.Trend, filter.PeakMonth),
        ],
        ("mark", filter.Mark?.Stored()),
        ("demand", filter.MinDemand),
        ("size", filter.MinSize),
        ("intent", filter.Intent?.Stored()),
        ("verdict", filter.Verdict?.Stored()),
        ("page", filter.PageId),
        ("topic", filter.TopicId));

    public static ClusterRow? Find(Session session, ClusterId clusterId) => session.First(
        $"select {Rows.Columns} from {Rows.From} where c.cluster_id = @id", Read, ("id", clusterId));

    /// <returns>How many clusters are covered how far, and their demand.</returns>
    public static IReadOnlyList<CoverageShare> ByCoverage(Session session) => session.List(
        "select coverage, count(*), sum(demand) from cluster group by coverage",
        r => new CoverageShare(r.Enum<Coverage>(0), r.GetInt64(1), r.GetInt64(2)));

    /// <returns>How many keywords are in clusters.</returns>
    public static long KeywordCount(Session session) => session.Count("select count(*) from cluster_member");

    public static bool HasAny(Session session) => session.Count("select exists (select 1 from cluster)") == 1;

    public static long Count(Session session) => session.Count("select count(*) from cluster");

    /// <returns>The keywords of a cluster, in no order.</returns>
    public static IReadOnlyList<KeywordId> Members(Session session, ClusterId clusterId) => session.Ids<KeywordId>(
        "select keyword_id from cluster_member where cluster_id = @id", ("id", clusterId));

    /// <returns>All memberships: cluster id by keyword id.</returns>
    public static Dictionary<KeywordId, ClusterId> Memberships(Session session)
    {
        var clusters = new Dictionary<KeywordId, ClusterId>();
        session.List("select keyword_id, cluster_id from cluster_member", r => clusters[r.Id<KeywordId>(0)] = r.Id<ClusterId>(1));
        return clusters;
    }

    /// <returns>The primary of each cluster, by id of the cluster.</returns>
    public static IReadOnlyList<(ClusterId Id, KeywordId Primary)> Primaries(Session session) =>
        session.List("select cluster_id, primary_keyword_id from cluster order by cluster_id", r => (r.Id<ClusterId>(0), r.Id<KeywordId>(1)));

    /// <returns>The cluster of most demand that a page is for; null where there is none.</returns>
    public static ClusterId? OfPage(Session session, PageId pageId) => session.List(
        "select c.cluster_id from assignment a join cluster c on c.cluster_id = a.cluster_id where a.page_id = @page order by c.demand desc, c.cluster_id limit 1", r => r.Id<ClusterId>(0), ("page", pageId)) is [var id] ? id : null;

    /// <returns>All clusters by id, or those that are asked for.</returns>
    public static IReadOnlyList<StoredCluster> All(Session session, IReadOnlySet<ClusterId>? ids = null) => session.List(
        $"""
        select c.cluster_id, c.primary_keyword_id, a.page_id, g.kind = 'planned', n.cluster_id is not null
        from cluster c
        left join assignment a on a.cluster_id = c.cluster_id
        left join page g on g.page_id = a.page_id
        left join cluster_decline n on n.cluster_id = c.cluster_id
        {(ids is null ? "" : $"where c.cluster_id in ({string.Join(',', ids)})")}
        order by c.cluster_id
        """,
        r => new StoredCluster(r.Id<ClusterId>(0), r.Id<KeywordId>(1), r.IdOrNull<PageId>(2), r.LongOrNull(3) == 1, r.GetInt64(4) == 1));

    /// <returns>The cluster of a keyword, by its normal form; null where it is in none.</returns>
    public static ClusterId? OfKeyword(Session session, string normalForm) => session.IdOrNull<ClusterId>(
        "select m.cluster_id from cluster_member m join keyword k on k.keyword_id = m.keyword_id where k.normal_form = @form", ("form", normalForm));

    /// <returns>Whether a keyword is in a cluster.</returns>
    public static bool Has(Session session, ClusterId clusterId, KeywordId keywordId) =>
        session.Count("select count(*) from cluster_member where keyword_id = @keyword and cluster_id = @cluster", ("keyword", keywordId), ("cluster", clusterId)) == 1;

    /// <returns>For each cluster by id, or for those that are asked for, its name and demand.</returns>
    public static Dictionary<ClusterId, ClusterName> Names(Session session, IReadOnlySet<ClusterId>? ids = null)
    {
        var names = new Dictionary<ClusterId, ClusterName>();
        session.Each(
            "select c.cluster_id, coalesce(c.name, p.phrase), c.demand from cluster c join keyword p on p.keyword_id = c.primary_keyword_id"
            + (ids is null ? "" : $" where c.cluster_id in ({string.Join(',', ids)})"),
            r => names[r.Id<ClusterId>(0)] = new ClusterName(r.GetString(1), r.GetInt64(2)));
        return names;
    }

    /// <summary>Puts a new grouping in the place of the old one; only what differs is written.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="clusters">No keyword in two of them. Old clusters whose id is not among them are gone.</param>
    public static void Replace(WriteSession session, IReadOnlyList<GroupedCluster> clusters)
    {
        session.Execute("pragma defer_foreign_keys = on");
        session.Touch(Data.Clusters);
        session.Touch(Data.PageMap);
        var before = Memberships(session);
        var added = before.Count == 0 ? new UndoRanges(session, "cluster", "cluster_member") : null;
        var last = session.Count("select seq from sqlite_sequence where name = 'cluster'");
        using var insert = new RowBuffer(session, "insert or fail into cluster (cluster_id, primary_keyword_id)", 8, 2);
        using var update = session.Command(
            "update cluster set primary_keyword_id = @primary where cluster_id = @id and primary_keyword_id <> @primary", ("primary", 0L), ("id", 0L));
        using var join = new RowBuffer(session, "insert or fail into cluster_member (keyword_id, cluster_id)", 8, 2);
        using var move = session.Command("update cluster_member set cluster_id = @id where keyword_id = @keyword", ("keyword", 0L), ("id", 0L));
        if (added is null)
            Write();
        else
            session.WithoutIndexes("cluster", () => session.WithoutIndexes("cluster_member", Write));
        added?.End();

        using var leave = session.Command("delete from cluster_member where keyword_id = @keyword", ("keyword", 0L));
        foreach (var keyword in before.Keys)
            leave.Run(keyword);

        DropEmpty(session);

        void Write()
        {
            var joined = new List<(KeywordId Keyword, ClusterId Cluster)>();
            foreach (var cluster in clusters)
            {
                var id = cluster.Id;
                if (id == default)
                {
                    id = new ClusterId(++last);
                    insert.Add(id, cluster.PrimaryKeywordId);
                }
                else
                    update.Run(cluster.PrimaryKeywordId, id);
                foreach (var keyword in cluster.KeywordIds)
                {
                    if (!before.Remove(keyword, out var old))
                        joined.Add((keyword, id));
                    else if (old != id)
                        move.Run(keyword, id);
                }
            }

            // In the order of the table, so that each row comes right after the one before.
            joined.Sort((a, b) => a.Keyword.CompareTo(b.Keyword));
            foreach (var (keyword, cluster) in joined)
                join.Add(keyword, cluster);
            insert.Flush();
            join.Flush();
        }
    }

    public static FixedByHand FixedByHand(Session session) => new(
        session.Ids<ClusterId>("select cluster_id from cluster where is_locked = 1").ToHashSet(),
        session.Ids<ClusterId>("select cluster_id from cluster where is_primary_chosen = 1").ToHashSet(),
        session.Ids<KeywordId>("select keyword_id from cluster_member where is_placed = 1").ToHashSet());

    /// <summary>Gives a cluster a name of the planner's; without one it is called by its primary keyword.</summary>
    public static void Rename(WriteSession session, ClusterId clusterId, string? name) => session.Execute(
        "update cluster set name = @name where cluster_id = @id", ("id", clusterId), ("name", string.IsNullOrWhiteSpace(name) ? null : name.Trim()));

    public static void Lock(WriteSession session, ClusterId clusterId, bool isLocked) => session.Execute(
        "update cluster set is_locked = @locked where cluster_id = @id", ("id", clusterId), ("locked", isLocked ? 1 : 0));

    /// <param name="session">The transaction.</param>
    /// <param name="clusterId">The cluster.</param>
    /// <param name="keywordId">One of its members.</param>
    public static void ChoosePrimary(WriteSession session, ClusterId clusterId, KeywordId keywordId)
    {
        session.Execute(
            "update cluster set primary_keyword_id = @keyword, is_primary_chosen = 1 where cluster_id = @id", ("id", clusterId), ("keyword", keywordId));
        session.Touch(Data.Clusters, clusterId);
    }

    /// <summary>Puts keywords that are in no cluster into clusters, by the rule and not by the planner.</summary>
    public static void Place(WriteSession session, IEnumerable<(KeywordId KeywordId, ClusterId ClusterId)> placed)
    {
        using var insert = session.Command("insert into cluster_member (keyword_id, cluster_id) values (@keyword, @cluster)", ("keyword", 0L), ("cluster", 0L));
        foreach (var (keyword, cluster) in placed)
        {
            insert.Run(keyword, cluster);
            session.Touch(Data.Clusters, cluster);
            session.Touch(Data.Expected, keyword);
        }
    }

    /// <summary>Puts keywords into a cluster manually; a cluster that is left without any goes, with its page.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="keywordIds">Those that are in no cluster come in as well.</param>
    /// <param name="clusterId">Null for a new one, whose primary is the most searched of them.</param>
    /// <returns>The cluster.</returns>
    public static ClusterId Move(WriteSession session, IReadOnlyList<KeywordId> keywordIds, ClusterId? clusterId)
    {
        session.Execute("pragma defer_foreign_keys = on");
        KeywordStore.Select(session, new KeywordSelection(keywordIds));
        var target = clusterId ?? session.Id<ClusterId>(
            """
            insert into cluster (primary_keyword_id, topic_id)
            values (
              @primary,
              (select o.topic_id from temp.selected_keyword c join cluster_member m on m.keyword_id = c.keyword_id join cluster o on o.cluster_id = m.cluster_id
               where o.topic_id is not null group by o.topic_id order by count(*) desc, o.topic_id limit 1))
            returning cluster_id
            """,
            ("primary", FirstOfEach(session, "select 0, k.keyword_id, k.volume, k.normal_form from temp.selected_keyword c join keyword k on k.keyword_id = c.keyword_id").Single().Primary));
        var left = session.Ids<ClusterId>(
            "select distinct cluster_id from cluster_member where cluster_id <> @id and keyword_id in (select keyword_id from temp.selected_keyword)", ("id", target));
        session.Execute(
            """
            update cluster_member set cluster_id = @id, is_placed = 1 where keyword_id in (select keyword_id from temp.selected_keyword);
            insert into cluster_member (keyword_id, cluster_id, is_placed)
            select c.keyword_id, @id, 1 from temp.selected_keyword c where not exists (select 1 from cluster_member m where m.keyword_id = c.keyword_id);
            delete from declined where keyword_id in (select keyword_id from temp.selected_keyword);
            """,
            ("id", target));
        session.Touch(Data.Clusters, target);
        session.Touch(Data.Expected, [.. keywordIds]);
        Settle(session, left);
        return target;
    }

    /// <summary>Takes the selected keywords out of their clusters; a cluster that is left without any goes, with its page.</summary>
    internal static void TakeOut(WriteSession session)
    {
        session.Execute("pragma defer_foreign_keys = on");
        var left = session.Ids<ClusterId>("select distinct cluster_id from cluster_member where keyword_id in (select keyword_id from temp.selected_keyword)");
        session.Touching(Data.Expected, "delete from cluster_member where keyword_id in (select keyword_id from temp.selected_keyword) returning keyword_id");
        Settle(session, left);
    }

    /// <summary>Of clusters that lost keywords: one whose primary left takes the most searched of those that stayed, and one without any goes.</summary>
    private static void Settle(WriteSession session, List<ClusterId> clusterIds)
    {
        if (clusterIds.Count == 0)
            return;
        session.Touch(Data.Clusters, [.. clusterIds]);
        var ids = "(" + string.Join(',', clusterIds) + ")";
        using var update = session.Command("update cluster set is_primary_chosen = 0, primary_keyword_id = @primary where cluster_id = @id", ("id", 0L), ("primary", 0L));
        var orphaned = FirstOfEach(
            session,
            $"""
            select m.cluster_id, k.keyword_id, k.volume, k.normal_form
            from cluster c
            join cluster_member m on m.cluster_id = c.cluster_id
            join keyword k on k.keyword_id = m.keyword_id
            where c.cluster_id in {ids} and not exists (select 1 from cluster_member p where p.cluster_id = c.cluster_id and p.keyword_id = c.primary_keyword_id)
            """);
        foreach (var (cluster, primary) in orphaned)
            update.Run(cluster, primary);
        DropEmpty(session, $"and cluster_id in {ids}");
    }

    /// <param name="session">The transaction.</param>
    /// <param name="rows">Cluster, keyword, volume and normal form.</param>
    /// <returns>Of each cluster the keyword that comes first by <see cref="KeywordOrder"/>, as when clusters are made.</returns>
    private static List<(ClusterId Cluster, KeywordId Primary)> FirstOfEach(Session session, string rows)
    {
        var byOrder = Comparer<(KeywordId Id, long Volume, string Form)>.Create((a, b) => KeywordOrder.Compare(a.Volume, a.Form, b.Volume, b.Form));
        var given = session.List(rows, r => (Cluster: r.Id<ClusterId>(0), Keyword: (Id: r.Id<KeywordId>(1), Volume: r.LongOrNull(2), Form: r.GetString(3))));
        var median = given.Exists(r => r.Keyword.Volume is null) ? KeywordStore.MedianVolume(session) : 0;
        return [.. given.Select(r => (r.Cluster, Keyword: (r.Keyword.Id, r.Keyword.Volume ?? median, r.Keyword.Form)))
            .GroupBy(r => r.Cluster, r => r.Keyword)
            .Select(g => (g.Key, g.Min(byOrder).Id))];
    }

    private static void DropEmpty(WriteSession session, string which = "")
    {
        string Empty(string table) => $"where not exists (select 1 from cluster_member m where m.cluster_id = {table}.cluster_id) {which}";
        session.Touching(Data.PageMap, $"delete from assignment {Empty("assignment")} returning cluster_id");
        session.Touching(Data.PageMap, $"delete from cluster_decline {Empty("cluster_decline")} returning cluster_id");
        session.Touching(Data.Clusters, $"delete from cluster {Empty("cluster")} returning cluster_id");
        PageStore.DropUnusedPlanned(session);
    }

    /// <summary>Keeps the cohesion of clusters; only what differs is written.</summary>
    public static void SaveCohesions(WriteSession session, IEnumerable<(ClusterId ClusterId, double? Cohesion)> cohesions)
    {
        using var update = session.Command("update cluster set cohesion = @cohesion where cluster_id = @id and cohesion is not @cohesion", ("id", 0L), ("cohesion", null));
        foreach (var (id, cohesion) in cohesions)
            update.Run(id, cohesion);
    }

    /// <summary>Keeps how well keywords fit their clusters; only what differs is written.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="fits">Of all keywords in clusters, or of those that changed.</param>
    /// <param name="clusterIds">The clusters of these keywords; null for all.</param>
    public static void SaveFits(WriteSession session, IEnumerable<MemberFit> fits, IReadOnlyCollection<ClusterId>? clusterIds = null)
    {
        session.Execute(
            """
            create temp table if not exists fit (keyword_id integer primary key, fit real, nearest_cluster_id integer, bridge_cluster_id integer);
            delete from temp.fit;
            """);
        using (var insert = new RowBuffer(session, "insert or fail into temp.fit", 8, 4))
        {
            foreach (var fit in fits)
                insert.Add(fit.KeywordId, fit.Fit, fit.NearestId, fit.BridgeId);
        }

        // With a plus sign, members are looked up by what is new and not the other way round.
        session.Execute(
            """
            update cluster_member set fit = f.fit, nearest_cluster_id = f.nearest_cluster_id, bridge_cluster_id = f.bridge_cluster_id
            from temp.fit f
            where +f.keyword_id = cluster_member.keyword_id
              and (cluster_member.fit, cluster_member.nearest_cluster_id, cluster_member.bridge_cluster_id) is not (f.fit, f.nearest_cluster_id, f.bridge_cluster_id);
            delete from temp.fit;
            """);
        session.Execute(
            $"""
            update cluster set weak_members = w.count
            from (select cluster_id, sum(coalesce(fit, 0) < 0) as count from cluster_member {Among("cluster_id", clusterIds)} group by cluster_id) w
            where w.cluster_id = cluster.cluster_id and cluster.weak_members <> w.count
            """);
    }

    /// <summary>"where column in (…)"; nothing for all.</summary>
    private static string Among(string column, IReadOnlyCollection<ClusterId>? ids) => ids is null ? "" : $"where {column} in ({string.Join(',', ids)})";

    /// <returns>For each keyword of a cluster how well it stands there, with the names of the other clusters.</returns>
    public static Dictionary<KeywordId, (MemberFit Fit, string? Nearest, string? Bridge)> Fits(Session session, ClusterId clusterId) => session.List(
        """
        select m.keyword_id, coalesce(m.fit, 0.0), n.cluster_id, b.cluster_id, coalesce(n.name, np.phrase), coalesce(b.name, bp.phrase)
        from cluster_member m
        left join cluster n on n.cluster_id = m.nearest_cluster_id
        left join keyword np on np.keyword_id = n.primary_keyword_id
        left join cluster b on b.cluster_id = m.bridge_cluster_id
        left join keyword bp on bp.keyword_id = b.primary_keyword_id
        where m.cluster_id = @id
        """,
        r => (new MemberFit(r.Id<KeywordId>(0), r.GetDouble(1), r.IdOrNull<ClusterId>(2), r.IdOrNull<ClusterId>(3)), r.TextOrNull(4), r.TextOrNull(5)),
        ("id", clusterId)).ToDictionary(f => f.Item1.KeywordId);

    /// <summary>Computes again what follows from the members: size, demand, mean difficulty, intent of most demand. Of those that are expected, demand alone.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="clusterIds">Of which clusters; null for all.</param>
    public static void RefreshFacts(WriteSession session, IReadOnlyCollection<ClusterId>? clusterIds = null) => session.Execute(
        $"""
        update cluster
        set size = f.size, expected = f.expected, demand = f.demand, mean_difficulty = f.difficulty, intent = f.intent
        from (
          select cluster_id, sum(size) as size, sum(1 - size) as expected, sum(demand) as demand, round(sum(difficulty) / nullif(sum(known), 0), 6) as difficulty,
            (select intent_of from (
              select k.intent as intent_of, sum(coalesce(k.volume, 0)) as d
              from cluster_member n join keyword k on k.keyword_id = n.keyword_id
              where n.cluster_id = g.cluster_id and k.intent is not null
              group by k.intent order by d desc, k.intent limit 1)) as intent
          from (
            select m.cluster_id, 1 as size, coalesce(k.volume, 0) as demand, coalesce(k.difficulty, 0) as difficulty, k.difficulty is not null as known
            from cluster_member m join keyword k on k.keyword_id = m.keyword_id
            {Among("m.cluster_id", clusterIds)}
            union all
            select x.cluster_id, 0, coalesce(k.volume, 0), 0, 0
            from cluster_expected x join keyword k on k.keyword_id = x.keyword_id
            {Among("x.cluster_id", clusterIds)}
          ) g
          group by cluster_id
        ) f
        where f.cluster_id = cluster.cluster_id
          and (cluster.size, cluster.expected, cluster.demand, coalesce(cluster.mean_difficulty, -1), coalesce(cluster.intent, ''))
            <> (f.size, f.expected, f.demand, coalesce(f.difficulty, -1), coalesce(f.intent, ''))
        """);

    /// <returns>The clusters that keywords are in or expected in.</returns>
    public static IReadOnlySet<ClusterId> OfKeywords(Session session, IEnumerable<KeywordId> keywordIds) => session.Ids<ClusterId>(
        """
        select m.cluster_id from json_each(@ids) j join cluster_member m on m.keyword_id = j.value
        union select x.cluster_id from json_each(@ids) j join cluster_expected x on x.keyword_id = j.value
        """,
        ("ids", "[" + string.Join(',', keywordIds) + "]")).ToHashSet();

    /// <summary>Keeps how far clusters are covered, by the rule of <see cref="Coverages"/>, and the demand of each part for today.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="clusterIds">Of which clusters; null for all.</param>
    /// <param name="today">The day.</param>
    public static void RefreshCoverage(WriteSession session, IReadOnlyCollection<ClusterId>? clusterIds, DateOnly today)
    {
        var rows = session.List(
            $"""
            select c.cluster_id, c.coverage, n.cluster_id is not null, c.conflicts > 0, a.page_id is not null, coalesce(g.kind = 'planned', 0)
            from cluster c
            left join assignment a on a.cluster_id = c.cluster_id
            left join page g on g.page_id = a.page_id
            left join cluster_decline n on n.cluster_id = c.cluster_id
            {Among("c.cluster_id", clusterIds)}
            """,
            r => (Id: r.GetInt64(0), Before: r.GetString(1), Now: Coverages.Of(r.GetInt64(2) == 1, r.GetInt64(3) == 1, r.GetInt64(4) == 1, r.GetInt64(5) == 1).Stored()));
        using var update = session.Command("update cluster set coverage = @coverage where cluster_id = @id", ("coverage", ""), ("id", 0L));
        foreach (var (id, before, now) in rows)
        {
            if (now == before)
                continue;
            update.Run(now, id);
        }

        session.Execute(
            """
            delete from coverage_day where day = @day;
            insert into coverage_day select @day, coalesce(topic_id, 0), coverage, count(*), sum(demand) from cluster group by 2, 3;
            """,
            ("day", today.DayNumber));
    }

    /// <returns>For each day on which something changed how many clusters were covered how far, oldest first.</returns>
    public static IReadOnlyList<CoverageDay> CoverageDays(Session session) => session.List(
        "select day, coverage, sum(clusters), sum(demand) from coverage_day group by day, coverage order by day, coverage",
        r => new CoverageDay(DateOnly.FromDayNumber(r.GetInt32(0)), r.Enum<Coverage>(1), r.GetInt64(2), r.GetInt64(3)));

    /// <returns>How far clusters of each topic were covered at the end of a day; no topic for those without one, and for days on which topics were not told apart.</returns>
    public static ILookup<TopicId?, CoverageShare> CoverageOn(Session session, DateOnly day) => session.List(
        "select nullif(topic_id, 0), coverage, clusters, demand from coverage_day where day = @day",
        r => (Topic: r.IdOrNull<TopicId>(0), Share: new CoverageShare(r.Enum<Coverage>(1), r.GetInt64(2), r.GetInt64(3))), ("day", day.DayNumber)).ToLookup(c => c.Topic, c => c.Share);

    private static ClusterRow Read(SqliteDataReader r) => new(
        r.Id<ClusterId>(0), r.GetString(1), r.Enum<Coverage>(2), r.Id<KeywordId>(3), r.GetString(4), r.GetInt64(5), r.GetInt64(26), r.GetInt64(6), r.DoubleOrNull(7),
        r.EnumOrNull<Intent>(8), r.DoubleOrNull(9), r.GetDouble(10), r.GetInt64(11), r.IdOrNull<PageId>(12), r.TextOrNull(13),
        r.EnumOrNull<PageKind>(14), r.TextOrNull(15), r.IdOrNull<PageId>(16), r.TextOrNull(17), r.EnumOrNull<Verdict>(18), r.DoubleOrNull(19), r.TextOrNull(20), r.GetInt64(21), r.GetInt64(22) == 1,
        r.IdOrNull<TopicId>(23), r.TextOrNull(24), r.TextOrNull(25), SeasonStore.Read(r, 27));
}
