using JadeOrchard.Core.Results;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Storage.Results;

/// <summary>What a capture would ask for.</summary>
/// <param name="Chosen">Keywords that were chosen.</param>
/// <param name="Fresh">Of them with a list younger than the days that were given: skipped unless asked.</param>
/// <param name="ToAsk">Lists that would be asked for.</param>
public sealed record CaptureEstimate(long Chosen, long Fresh, long ToAsk);

/// <summary>How far a capture has come.</summary>
public sealed record CaptureCounts(long Waiting, long Captured, long Empty, long Failed)
{
    public long Done => Captured + Empty + Failed;

    public long Total => Waiting + Done;
}

/// <summary>A keyword of a capture.</summary>
public sealed record CaptureItem(KeywordId KeywordId, string Phrase, string NormalForm);

/// <summary>A keyword whose capture failed, and why.</summary>
public sealed record FailedCapture(KeywordId KeywordId, string Phrase, string Note);

/// <summary>Which keywords a capture asks for, and what came of each: so that it goes on where it stopped.</summary>
public static class CaptureStore
{
    /// <param name="session">The transaction.</param>
    /// <param name="selection">Which keywords.</param>
    /// <param name="freshSince">Lists of this day or later are fresh.</param>
    /// <param name="again">Fresh ones are asked for as well.</param>
    public static CaptureEstimate Estimate(Session session, KeywordSelection selection, DateOnly freshSince, bool again)
    {
        var chosen = KeywordStore.Select(session, selection);
        var fresh = session.Count(
            "select count(*) from temp.selected_keyword c join keyword k on k.keyword_id = c.keyword_id where k.captured_on >= @since", ("since", freshSince.DayNumber));
        return new CaptureEstimate(chosen, fresh, again ? chosen : chosen - fresh);
    }

    /// <returns>For each of some keywords that has a list how probably its results are others by now.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="selection">Which keywords.</param>
    /// <param name="depth">Positions that are compared.</param>
    /// <param name="today">The day.</param>
    public static IReadOnlyDictionary<KeywordId, double> Changed(Session session, KeywordSelection selection, int depth, DateOnly today)
    {
        var turnover = new Turnover(ResultStore.Repeats(session, selection, depth));
        return session.List(
            "select k.keyword_id, k.captured_on from temp.selected_keyword c join keyword k on k.keyword_id = c.keyword_id where k.captured_on is not null",
            r => (Id: r.Id<KeywordId>(0), Days: today.DayNumber - r.GetInt32(1))).ToDictionary(k => k.Id, k => turnover.Changed(k.Id, k.Days));
    }

    /// <summary>Writes down what a job is to ask for: what has no list first, then whose results have most probably changed, among these the most searched.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="jobId">The job.</param>
    /// <param name="selection">Which keywords.</param>
    /// <param name="freshSince">Lists of this day or later are fresh.</param>
    /// <param name="again">Fresh ones are asked for as well.</param>
    /// <param name="changed">How probably the results of keywords are others by now, told to the percent.</param>
    /// <param name="most">At most this many; the others wait.</param>
    public static void Begin(
        WriteSession session, JobId jobId, KeywordSelection selection, DateOnly freshSince, bool again, IReadOnlyDictionary<KeywordId, double> changed, long most = long.MaxValue)
    {
        KeywordStore.Select(session, selection);
        session.Execute("create temp table if not exists changed_keyword (keyword_id integer primary key, percent integer not null); delete from temp.changed_keyword;");
        using (var insert = new RowBuffer(session, "insert or fail into temp.changed_keyword", 8, 2))
        {
            foreach (var (keyword, probability) in changed)
                insert.Add(keyword, (long)Math.Round(100 * probability));
        }

        const string order = "k.captured_on is not null, h.percent desc, k.volume desc, k.normal_form";
        session.Execute(
            $"""
            insert into capture_item (job_id, place, keyword_id, state, note)
            select @job, row_number() over (order by {order}), k.keyword_id, 'waiting', ''
            from temp.selected_keyword c
            join keyword k on k.keyword_id = c.keyword_id
            left join temp.changed_keyword h on h.keyword_id = k.keyword_id
            where @again or k.captured_on is null or k.captured_on < @since
            order by {order}
            limit @most
            """,
            ("job", jobId), ("again", again), ("since", freshSince.DayNumber), ("most", most));
    }

    /// <returns>What is still to be asked for, in order.</returns>
    public static IReadOnlyList<CaptureItem> Waiting(Session session, JobId jobId) => session.List(
        """
        select k.keyword_id, k.phrase, k.normal_form
        from capture_item i
        join keyword k on k.keyword_id = i.keyword_id
        where i.job_id = @job and i.state = 'waiting'
        order by i.place
        """,
        r => new CaptureItem(r.Id<KeywordId>(0), r.GetString(1), r.GetString(2)),
        ("job", jobId));

    public static CaptureCounts Counts(Session session, JobId jobId) => session.First(
        """
        select
          coalesce(sum(state = 'waiting'), 0), coalesce(sum(state = 'captured'), 0), coalesce(sum(state = 'empty'), 0), coalesce(sum(state = 'failed'), 0)
        from capture_item
        where job_id = @job
        """,
        r => new CaptureCounts(r.GetInt64(0), r.GetInt64(1), r.GetInt64(2), r.GetInt64(3)),
        ("job", jobId))!;

    public static void SetState(WriteSession session, JobId jobId, KeywordId keywordId, CaptureState state, string note) =>
        SetState(session, jobId, keywordId, state.Stored(), note);

    private static void SetState(WriteSession session, JobId jobId, KeywordId keywordId, string state, string note) => session.Execute(
        "update capture_item set state = @state, note = @note where job_id = @job and keyword_id = @keyword",
        ("job", jobId), ("keyword", keywordId), ("state", state), ("note", note));

    /// <summary>Says of a keyword that it could not be captured; a list that it has stays.</summary>
    public static void MarkFailed(WriteSession session, KeywordId keywordId, string note)
    {
        session.Execute("insert into capture_failure values (@keyword, @note) on conflict do update set note = excluded.note", ("keyword", keywordId), ("note", note));
        session.Touch(Data.Results, keywordId);
    }

    /// <summary>What failed while the service was down as a whole is asked for again, as if it never had been.</summary>
    public static void Forgive(WriteSession session, JobId jobId, KeywordId keywordId)
    {
        SetState(session, jobId, keywordId, "waiting", "");
        session.Execute("delete from capture_failure where keyword_id = @keyword", ("keyword", keywordId));
        session.Touch(Data.Results, keywordId);
    }

    /// <summary>Computes what came of capturing keywords: the day of the newest list, whether it is empty, why the last capture failed.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="keywordIds">Which keywords; null for all.</param>
    public static void RefreshKeywords(WriteSession session, IReadOnlyCollection<KeywordId>? keywordIds) => session.Execute(
        $"""
        update keyword set captured_on = n.day, capture_state = n.state, capture_note = n.note
        from (
          select k.keyword_id, l.captured_on as day, iif(l.list_id is not null, iif(l.is_empty, 'empty', 'captured'), iif(f.note is null, null, 'failed')) as state, f.note
          from keyword k
          left join result_list l on l.keyword_id = k.keyword_id and l.captured_on = (select max(x.captured_on) from result_list x where x.keyword_id = k.keyword_id)
          left join capture_failure f on f.keyword_id = k.keyword_id
          {(keywordIds is null ? "" : "where k.keyword_id in (select value from json_each(@ids))")}
        ) n
        where n.keyword_id = keyword.keyword_id and (keyword.captured_on is not n.day or keyword.capture_state is not n.state or keyword.capture_note is not n.note)
        """,
        ("ids", keywordIds is null ? null : "[" + string.Join(',', keywordIds) + "]"));

    /// <summary>What failed is asked for again.</summary>
    public static void RetryFailed(WriteSession session, JobId jobId) => session.Execute(
        "update capture_item set state = 'waiting', note = '' where job_id = @job and state = 'failed'", ("job", jobId));

    public static IReadOnlyList<FailedCapture> Failed(Session session, JobId jobId, int limit) => session.List(
        """
        select k.keyword_id, k.phrase, i.note
        from capture_item i
        join keyword k on k.keyword_id = i.keyword_id
        where i.job_id = @job and i.state = 'failed'
        order by i.place
        limit @limit
        """,
        r => new FailedCapture(r.Id<KeywordId>(0), r.GetString(1), r.GetString(2)),
        ("job", jobId), ("limit", limit));
}
