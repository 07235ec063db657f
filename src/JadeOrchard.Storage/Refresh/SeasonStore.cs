using System.Globalization;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Refresh;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Refresh;

/// <summary>Trend and season of keywords and clusters.</summary>
public static class SeasonStore
{
    /// <summary>Columns of a season in a query, read by <see cref="Read"/>.</summary>
    internal static string Columns(string of) => $"{of}.months, {of}.is_counted, {of}.trend, {of}.tau, {of}.peaks";

    /// <returns>The season in five columns; null where there is none.</returns>
    internal static Season? Read(SqliteDataReader r, int at)
    {
        if (r.IsDBNull(at))
            return null;
        var months = MonthlyVolumes.Stored(r.GetString(at));
        return new Season(months.Newest, months.Volumes, r.GetInt64(at + 1) == 1, (Direction)r.GetInt32(at + 2), r.GetDouble(at + 3), Season.MonthsOf(r.GetInt32(at + 4)));
    }

    /// <summary>Conditions on trend and peaks; <paramref name="table"/> is keyword_season or cluster_season.</summary>
    internal static IEnumerable<string> Conditions(string table, string key, string id, Direction? trend, int? peakMonth)
    {
        if (trend is { } direction)
            yield return $"{id} in (select {key} from {table} where trend = {((int)direction).ToString(CultureInfo.InvariantCulture)})";
        // 0 for any month.
        if (peakMonth is { } month)
            yield return $"{id} in (select {key} from {table} where peaks {(month is >= 1 and <= 12 ? $"& {Season.BitOf(month).ToString(CultureInfo.InvariantCulture)}" : "")} <> 0)";
    }

    /// <summary>Keeps how often the site was shown for its queries month by month.</summary>
    public static void SaveQueries(WriteSession session, IReadOnlyDictionary<int, MonthlyVolumes> months)
    {
        session.Execute("delete from query_months");
        using var buffer = new RowBuffer(session, "insert into query_months (query_id, months)", 12, 2);
        foreach (var (query, own) in months.OrderBy(m => m.Key))
            buffer.Add((long)query, own.ToString());
    }

    /// <summary>Computes the seasons of keywords whose monthly volumes are others, and of the clusters that these are in.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="clusters">Clusters whose keywords changed; null for all.</param>
    public static void Refresh(WriteSession session, IReadOnlySet<ClusterId>? clusters)
    {
        var changed = session.List(
            """
            select k.keyword_id, coalesce(k.monthly_volumes, q.months), k.monthly_volumes is null
            from keyword k
            left join performance_query n on n.normal_form = k.normal_form
            left join query_months q on q.query_id = n.query_id
            left join keyword_season s on s.keyword_id = k.keyword_id
            where coalesce(k.monthly_volumes, q.months) is not s.months or (s.months is not null and s.is_counted <> (k.monthly_volumes is null))
            """,
            r => (Id: r.Id<KeywordId>(0), Months: r.TextOrNull(1), IsCounted: r.GetInt64(2) == 1));
        foreach (var (id, months, _) in changed)
        {
            if (months is null)
                session.Execute("delete from keyword_season where keyword_id = @id", ("id", id));
        }

        Save(session, "keyword_season (keyword_id", [.. changed.Where(c => c.Months is not null).Select(c => (c.Id.Value, MonthlyVolumes.Stored(c.Months!), c.IsCounted))]);
        RefreshClusters(session, clusters, changed.Count > 0);
    }

    private static void RefreshClusters(WriteSession session, IReadOnlySet<ClusterId>? clusters, bool anyKeyword)
    {
        if (clusters is { Count: 0 } && !anyKeyword)
            return;
        // Without a list all are looked at, and written only where they are others.
        var ids = clusters is null || anyKeyword ? null : clusters;
        var before = session.List($"select cluster_id, months, is_counted from cluster_season {In(ids)}", r => (Id: r.GetInt64(0), Months: r.GetString(1), IsCounted: r.GetInt64(2) == 1)).ToDictionary(c => c.Id, c => (c.Months, c.IsCounted));
        var now = Together(session, $"select m.cluster_id, s.months, s.is_counted from cluster_member m join keyword_season s on s.keyword_id = m.keyword_id {In(ids, "m.")}");
        foreach (var id in before.Keys.Except(now.Keys).ToList())
            session.Execute("delete from cluster_season where cluster_id = @id", ("id", id));
        Save(
            session, "cluster_season (cluster_id",
            [.. now.Where(n => !before.TryGetValue(n.Key, out var old) || old != (n.Value.Months.ToString(), n.Value.IsCounted)).Select(n => (n.Key, n.Value.Months, n.Value.IsCounted))]);
    }

    /// <returns>The seasons of topics, from their clusters; those that have none are left out.</returns>
    public static IReadOnlyDictionary<TopicId, Season> OfTopics(Session session, IEnumerable<TopicId> topics) =>
        Together(session, $"select c.topic_id, s.months, s.is_counted from cluster c join cluster_season s on s.cluster_id = c.cluster_id where c.topic_id in ({string.Join(',', topics)})")
            .ToDictionary(t => new TopicId(t.Key), t => Season.Of(t.Value.Months, t.Value.IsCounted));

    /// <returns>The seasons of clusters; those that have none are left out.</returns>
    public static IReadOnlyDictionary<ClusterId, Season> OfClusters(Session session, IEnumerable<ClusterId> clusters) => session.List(
        $"select s.cluster_id, {Columns("s")} from cluster_season s where s.cluster_id in ({string.Join(',', clusters)})", r => (r.Id<ClusterId>(0), Season: Read(r, 1)!)).ToDictionary(c => c.Item1, c => c.Season);

    /// <summary>Sums of months by the first column: of estimates where there are any, else of counts, since the two are not of one kind.</summary>
    private static Dictionary<long, (MonthlyVolumes Months, bool IsCounted)> Together(Session session, string sql)
    {
        var months = new Dictionary<long, (List<MonthlyVolumes> Estimated, List<MonthlyVolumes> Counted)>();
        session.Each(sql, r =>
        {
            if (!months.TryGetValue(r.GetInt64(0), out var own))
                months[r.GetInt64(0)] = own = ([], []);
            (r.GetInt64(2) == 1 ? own.Counted : own.Estimated).Add(MonthlyVolumes.Stored(r.GetString(1)));
        });
        var sums = new Dictionary<long, (MonthlyVolumes, bool)>();
        foreach (var (id, (estimated, counted)) in months)
        {
            if (MonthlyVolumes.Sum(estimated.Count > 0 ? estimated : counted) is { } sum)
                sums[id] = (sum, estimated.Count == 0);
        }

        return sums;
    }

    /// <param name="session">The transaction.</param>
    /// <param name="into">The table and its key, up to the columns that both tables have.</param>
    /// <param name="rows">By their key.</param>
    private static void Save(WriteSession session, string into, List<(long Id, MonthlyVolumes Months, bool IsCounted)> rows)
    {
        using var buffer = new RowBuffer(session, $"insert or replace into {into}, months, is_counted, trend, tau, peaks)", 4, 6);
        foreach (var (id, season) in rows.AsParallel().AsOrdered().Select(r => (r.Id, Season: Season.Of(r.Months, r.IsCounted))))
            buffer.Add(id, new MonthlyVolumes(season.Newest, season.Volumes).ToString(), season.IsCounted ? 1L : 0L, (long)season.Direction, season.Tau, (long)season.PeakBits());
    }

    private static string In(IReadOnlySet<ClusterId>? ids, string of = "") => ids is null ? "" : $"where {of}cluster_id in ({string.Join(',', ids)})";
}
