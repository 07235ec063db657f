using System.Globalization;
using JadeOrchard.Core.Results.Staged;
using JadeOrchard.Storage.Keywords;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Results;

/// <summary>How far a capture in stages is.</summary>
public enum StagedPhase
{
    /// <summary>Some keywords are neither captured nor expected yet.</summary>
    Capturing,

    /// <summary>Some of the expected ones are captured to see whether they were expected rightly.</summary>
    Auditing,

    Done,
}

/// <summary>A capture in stages.</summary>
/// <param name="Certainty">From which a keyword is expected.</param>
/// <param name="Audit">What the audit found; null before.</param>
public sealed record StagedRow(JobId JobId, double Certainty, StagedPhase Phase, CaptureAudit? Audit);

/// <summary>How a batch left things.</summary>
/// <param name="Captured">Lists that the capture had by then.</param>
/// <param name="Expected">Keywords whose cluster was certain enough without theirs.</param>
/// <param name="Unknown">Those that were neither.</param>
/// <param name="ProbablyRight">Of the expected ones by their probabilities.</param>
public sealed record StagedBatch(int Captured, int Expected, int Unknown, double ProbablyRight);

/// <summary>A keyword that is expected in the cluster of captured ones.</summary>
/// <param name="Supports">The captured keywords that speak for it, most first.</param>
public sealed record ExpectedRow(KeywordId KeywordId, double Certainty, IReadOnlyList<KeywordId> Supports, bool IsAudited);

/// <summary>A keyword that is expected in a cluster.</summary>
public sealed record ExpectedInCluster(KeywordId KeywordId, ClusterId ClusterId, double Certainty);

/// <summary>A keyword that was expected, and has a result list now.</summary>
/// <param name="ClusterId">The cluster that it was expected in; null where there is none any more.</param>
/// <param name="IsFree">It is in no cluster yet, and not declined.</param>
public sealed record ArrivedKeyword(KeywordId KeywordId, ClusterId? ClusterId, bool IsFree);

/// <summary>Captures in stages.</summary>
public static class StagedStore
{
    /// <param name="session">The transaction.</param>
    /// <param name="jobId">The job, which is there already.</param>
    /// <param name="certainty">From which a keyword is expected.</param>
    /// <param name="selection">Keywords that are to be captured or expected in the end.</param>
    public static void Begin(WriteSession session, JobId jobId, double certainty, KeywordSelection selection)
    {
        KeywordStore.Select(session, selection);
        session.Execute("insert into staged_capture values (@job, @certainty, 'capturing', null, null)", ("job", jobId), ("certainty", certainty));
        session.Execute("insert into staged_keyword select @job, keyword_id from temp.selected_keyword", ("job", jobId));
    }

    /// <returns>Null where the job is no capture in stages.</returns>
    public static StagedRow? Find(Session session, JobId jobId) => session.First($"{Columns} where job_id = @job", Read, ("job", jobId));

    /// <returns>The newest; null where there is none.</returns>
    public static StagedRow? Newest(Session session) => session.First($"{Columns} order by job_id desc limit 1", Read);

    /// <returns>Keywords that a capture in stages is about.</returns>
    public static IReadOnlyList<KeywordId> Keywords(Session session, JobId jobId) => session.List(
        "select s.keyword_id from staged_keyword s join keyword k on k.keyword_id = s.keyword_id where s.job_id = @job", r => r.Id<KeywordId>(0), ("job", jobId));

    /// <returns>Those of which it has asked for a list already, whatever came of it.</returns>
    public static IReadOnlyList<KeywordId> Asked(Session session, JobId jobId) => session.List("select keyword_id from capture_item where job_id = @job", r => r.Id<KeywordId>(0), ("job", jobId));

    /// <summary>Writes down how a batch left things, and who is expected now.</summary>
    public static void SaveBatch(WriteSession session, JobId jobId, StagedBatch batch, IEnumerable<ExpectedRow> expected)
    {
        session.Execute(
            "insert into staged_batch select @job, count(*) + 1, @captured, @expected, @unknown, @right from staged_batch where job_id = @job",
            ("job", jobId), ("captured", batch.Captured), ("expected", batch.Expected), ("unknown", batch.Unknown), ("right", batch.ProbablyRight));
        session.Execute("delete from expected_member where job_id = @job or keyword_id in (select keyword_id from staged_keyword where job_id = @job)", ("job", jobId));
        using var insert = session.Command(
            "insert into expected_member (keyword_id, job_id, certainty, supports, is_audited) values (@keyword, @job, @certainty, @supports, @audited)", ("keyword", 0L), ("job", jobId), ("certainty", 0.0), ("supports", ""), ("audited", 0L));
        session.Touch(Data.Expected);
        foreach (var member in expected)
            insert.Run(member.KeywordId, jobId, member.Certainty, string.Join(' ', member.Supports.Select(s => s.Value.ToString(CultureInfo.InvariantCulture))), member.IsAudited ? 1L : 0L);
    }

    /// <summary>Adds keywords whose lists a capture is to ask for next, in order.</summary>
    public static void Ask(WriteSession session, JobId jobId, IEnumerable<KeywordId> keywords)
    {
        using var insert = session.Command(
            "insert into capture_item select @job, coalesce(max(place), 0) + 1, @keyword, 'waiting', '' from capture_item where job_id = @job", ("job", jobId), ("keyword", 0L));
        foreach (var keyword in keywords)
            insert.Run(jobId, keyword);
    }

    public static void SetPhase(WriteSession session, JobId jobId, StagedPhase phase) => session.Execute(
        "update staged_capture set phase = @phase where job_id = @job", ("job", jobId), ("phase", phase.Stored()));

    public static void SaveAudit(WriteSession session, JobId jobId, CaptureAudit audit) => session.Execute(
        "update staged_capture set audited = @audited, audited_right = @right where job_id = @job", ("job", jobId), ("audited", audit.Audited), ("right", audit.Right));

    /// <returns>One after another.</returns>
    public static IReadOnlyList<StagedBatch> Batches(Session session, JobId jobId) => session.List(
        "select captured, expected, unknown, probably_right from staged_batch where job_id = @job order by batch",
        r => new StagedBatch(r.GetInt32(0), r.GetInt32(1), r.GetInt32(2), r.GetDouble(3)), ("job", jobId));

    /// <returns>Who is expected by a capture, the least certain first; those that were captured since are left out, but not those of the audit.</returns>
    public static IReadOnlyList<ExpectedRow> Expected(Session session, JobId jobId) => session.List(
        $"""
        select e.keyword_id, e.certainty, e.supports, e.is_audited
        from expected_member e
        join keyword k on k.keyword_id = e.keyword_id
        where e.job_id = @job and (e.is_audited or not {HasList})
        order by e.certainty, k.normal_form
        """,
        ReadExpected,
        ("job", jobId));

    /// <returns>How many keywords a capture expects that have no list yet.</returns>
    public static long CountExpected(Session session, JobId jobId) => session.Count(
        $"select count(*) from expected_member e where e.job_id = @job and {IsOpen}", ("job", jobId));

    /// <returns>How many keywords a capture in stages is about.</returns>
    public static long CountKeywords(Session session, JobId jobId) => session.Count(
        "select count(*) from staged_keyword s join keyword k on k.keyword_id = s.keyword_id where s.job_id = @job", ("job", jobId));

    /// <returns>In what a keyword without a result list is expected; null where it has one, or is not expected.</returns>
    public static ExpectedRow? FindExpected(Session session, KeywordId keywordId) => session.First(
        $"""
        select e.keyword_id, e.certainty, e.supports, e.is_audited
        from expected_member e
        join keyword k on k.keyword_id = e.keyword_id
        where e.keyword_id = @keyword and not {HasList}
        """,
        ReadExpected,
        ("keyword", keywordId));

    /// <returns>The keywords that are expected in a cluster, with what speaks for them, most searched first.</returns>
    public static IReadOnlyList<ExpectedRow> ExpectedIn(Session session, ClusterId clusterId) => session.List(
        """
        select e.keyword_id, e.certainty, e.supports, e.is_audited
        from cluster_expected x
        join expected_member e on e.keyword_id = x.keyword_id
        join keyword k on k.keyword_id = x.keyword_id
        where x.cluster_id = @cluster
        order by k.volume desc, k.normal_form
        """,
        ReadExpected,
        ("cluster", clusterId));

    /// <summary>Makes what speaks for expected keywords ready to be looked up, after a batch changed it.</summary>
    public static void RefreshSupports(WriteSession session) => session.Execute(
        """
        delete from expected_support;
        insert or ignore into expected_support (support_id, keyword_id, place)
        select j.value, e.keyword_id, j.key
        from expected_member e join json_each('[' || replace(e.supports, ' ', ',') || ']') j
        order by 1, 2;
        """);

    /// <summary>Keeps in which clusters keywords are expected, by the rule of <see cref="SupportedCluster"/>; only what differs is written.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="clusterIds">Clusters whose members may be others, with <paramref name="keywordIds"/>; null to look at all that are expected.</param>
    /// <param name="keywordIds">Keywords of which something else changed.</param>
    public static void RefreshClusters(WriteSession session, IReadOnlyCollection<ClusterId>? clusterIds, IReadOnlyCollection<KeywordId> keywordIds)
    {
        session.Execute("create temp table if not exists expected_scope (keyword_id integer primary key); delete from temp.expected_scope;");
        if (clusterIds is null)
            session.Execute("insert into temp.expected_scope select keyword_id from cluster_expected union select keyword_id from expected_support");
        else
        {
            session.Execute(
                """
                insert into temp.expected_scope
                select x.keyword_id from json_each(@clusters) j join cluster_expected x on x.cluster_id = j.value
                union select s.keyword_id from json_each(@clusters) j cross join cluster_member m on m.cluster_id = j.value cross join expected_support s on s.support_id = m.keyword_id
                union select value from json_each(@keywords)
                """,
                ("clusters", "[" + string.Join(',', clusterIds) + "]"), ("keywords", "[" + string.Join(',', keywordIds) + "]"));
        }

        var before = session.List(
            "select x.keyword_id, x.cluster_id, x.certainty from temp.expected_scope o join cluster_expected x on x.keyword_id = o.keyword_id", ReadInCluster).ToDictionary(x => x.KeywordId);
        var speaking = session.List(
            $"""
            select s.keyword_id, m.cluster_id, e.certainty
            from temp.expected_scope o
            cross join expected_support s on s.keyword_id = o.keyword_id
            join expected_member e on e.keyword_id = s.keyword_id
            join keyword k on k.keyword_id = s.keyword_id
            join cluster_member m on m.keyword_id = s.support_id
            where not {HasList}
              and not exists (select 1 from cluster_member own where own.keyword_id = s.keyword_id)
              and not exists (select 1 from declined d where d.keyword_id = s.keyword_id)
            order by s.keyword_id, s.place
            """,
            ReadInCluster);
        using var put = session.Command(
            "insert into cluster_expected values (@keyword, @cluster, @certainty) on conflict (keyword_id) do update set cluster_id = excluded.cluster_id, certainty = excluded.certainty",
            ("keyword", 0L), ("cluster", 0L), ("certainty", 0.0));
        using var drop = session.Command("delete from cluster_expected where keyword_id = @keyword", ("keyword", 0L));
        foreach (var of in speaking.GroupBy(s => s.KeywordId))
        {
            var now = of.First() with { ClusterId = SupportedCluster.Of(of.Select(s => s.ClusterId))!.Value };
            if (before.Remove(now.KeywordId, out var old) && old == now)
                continue;
            put.Run(now.KeywordId, now.ClusterId, now.Certainty);
            session.Touch(Data.ExpectedMembers, now.ClusterId);
            if (old is not null)
                session.Touch(Data.ExpectedMembers, old.ClusterId);
        }

        foreach (var gone in before.Values)
        {
            drop.Run(gone.KeywordId);
            session.Touch(Data.ExpectedMembers, gone.ClusterId);
        }
    }

    /// <returns>Keywords that were expected and whose lists have come since, before they are <see cref="Settle">settled</see>.</returns>
    public static IReadOnlyList<ArrivedKeyword> Arrived(Session session)
    {
        var rows = session.List(
            $"""
            select e.keyword_id, m.cluster_id,
              not exists (select 1 from cluster_member own where own.keyword_id = e.keyword_id) and not exists (select 1 from declined d where d.keyword_id = e.keyword_id)
            from expected_member e
            join keyword k on k.keyword_id = e.keyword_id
            left join json_each('[' || replace(e.supports, ' ', ',') || ']') j
            left join cluster_member m on m.keyword_id = j.value
            where not e.is_settled and {HasList}
            order by e.keyword_id, j.key
            """,
            r => (Keyword: r.Id<KeywordId>(0), Cluster: r.IdOrNull<ClusterId>(1), IsFree: r.GetInt64(2) == 1));
        return [.. rows.GroupBy(r => r.Keyword).Select(g => new ArrivedKeyword(g.Key, SupportedCluster.Of(g.Where(r => r.Cluster is not null).Select(r => r.Cluster!.Value)), g.First().IsFree))];
    }

    /// <summary>Marks keywords that were expected as placed by their own lists.</summary>
    public static void Settle(WriteSession session, IEnumerable<KeywordId> keywordIds) => session.Execute(
        "update expected_member set is_settled = 1 where keyword_id in (select value from json_each(@ids))", ("ids", "[" + string.Join(',', keywordIds) + "]"));

    private static ExpectedInCluster ReadInCluster(SqliteDataReader r) => new(r.Id<KeywordId>(0), r.Id<ClusterId>(1), r.GetDouble(2));

    private static ExpectedRow ReadExpected(SqliteDataReader r) => new(
        r.Id<KeywordId>(0), r.GetDouble(1), [.. r.GetString(2).Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(s => new KeywordId(long.Parse(s, CultureInfo.InvariantCulture)))], r.GetInt64(3) == 1);

    /// <returns>How many keywords of the project have a list, are expected without one, and neither.</returns>
    public static (long Captured, long Expected, long Unknown) Counts(Session session)
    {
        var captured = session.Count("select count(distinct keyword_id) from result_list");
        var expected = session.Count($"select count(*) from expected_member e where {IsOpen}");
        return (captured, expected, KeywordStore.Count(session) - captured - expected);
    }

    /// <summary>The condition under which keyword k counts as expected, if it has no list.</summary>
    internal const string IsExpected = "exists (select 1 from expected_member e where e.keyword_id = k.keyword_id)";

    // Keywords are told of the lists of a capture when that ends.
    private const string HasList = "exists (select 1 from result_list l where l.keyword_id = k.keyword_id)";

    /// <summary>The condition under which expected_member e is of a keyword that is still there and has no list.</summary>
    private const string IsOpen =
        "not exists (select 1 from result_list l where l.keyword_id = e.keyword_id) and exists (select 1 from keyword k where k.keyword_id = e.keyword_id)";

    private const string Columns = "select job_id, certainty, phase, audited, audited_right from staged_capture";

    private static StagedRow Read(SqliteDataReader r) => new(
        r.Id<JobId>(0), r.GetDouble(1), r.Enum<StagedPhase>(2), r.IsDBNull(3) ? null : CaptureAudit.Of(r.GetInt32(4), r.GetInt32(3)));
}
