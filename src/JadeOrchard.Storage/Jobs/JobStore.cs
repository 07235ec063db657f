using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Jobs;

/// <summary>How far a piece of long work has come.</summary>
public enum JobState
{
    Waiting,
    Running,

    /// <summary>Something outside does not answer; it can go on.</summary>
    Paused,
    Done,
    Failed,
    Stopped,
}

/// <summary>A piece of long work.</summary>
/// <param name="Kind">What is done.</param>
/// <param name="Label">What it is called for the planner.</param>
/// <param name="Arguments">JSON, enough to begin again after a restart.</param>
/// <param name="Message">What came of it, or what went wrong and what to do.</param>
/// <param name="StepId">The undo step that it makes in several transactions; null where it makes none.</param>
/// <param name="Author">Who began it, or went on with it last; empty where nobody has to sign in.</param>
public sealed record JobRow(
    JobId Id, string Kind, string Label, string Arguments, JobState State, string Message, string CreatedAt, string? FinishedAt, UndoStepId? StepId, string Author);

/// <summary>What an import did.</summary>
public sealed record ImportRow(
    JobId Id, string Kind, string FileName, long RowsAdded, long RowsUpdated, long RowsRejected, string State, string Message, string CreatedAt);

/// <summary>A row that an import rejected.</summary>
public sealed record RejectedRowRow(long Line, string Column, string Reason, string Value);

/// <summary>Long work and what came of it; what was under way at a restart is begun again.</summary>
public static class JobStore
{
    private const string Columns = "job_id, kind, label, arguments, state, message, created_at, finished_at, step_id, author";

    /// <returns>The id of the new job.</returns>
    public static JobId Add(WriteSession session, string kind, string label, string arguments, DateTimeOffset now) => session.Id<JobId>(
        """
        insert into job (kind, label, arguments, state, message, created_at, author)
        values (@kind, @label, @arguments, 'waiting', '', @now, @author)
        returning job_id
        """,
        ("kind", kind), ("label", label), ("arguments", arguments), ("now", now.UtcDateTime.ToString("O")), ("author", Author.Current));

    public static void SetState(WriteSession session, JobId jobId, JobState state, string message, DateTimeOffset? finished) => session.Execute(
        "update job set state = @state, message = @message, finished_at = @finished where job_id = @id",
        ("id", jobId), ("state", state.Stored()), ("message", message), ("finished", finished?.UtcDateTime.ToString("O")));

    /// <summary>Says in the transaction of what a job wrote that it is done, so that no kill in between makes it do that twice.</summary>
    /// <returns>The message.</returns>
    public static string Done(WriteSession session, JobId jobId, string message, DateTimeOffset now)
    {
        SetState(session, jobId, JobState.Done, message, now);
        return message;
    }

    /// <returns>The newest jobs of a kind, newest first.</returns>
    public static IReadOnlyList<JobRow> Newest(Session session, string kind, int count) => session.List(
        $"select {Columns} from job where kind = @kind order by job_id desc limit @count", Read, ("kind", kind), ("count", count));

    public static JobRow? Find(Session session, JobId jobId) => session.First($"select {Columns} from job where job_id = @id", Read, ("id", jobId));

    /// <returns>Jobs that wait or were under way when the program ended, oldest first.</returns>
    public static IReadOnlyList<JobRow> Unfinished(Session session) => session.List(
        $"select {Columns} from job where state in ('waiting', 'running') order by job_id", Read);

    /// <summary>Says that the program ended while a job ran.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="jobId">The job.</param>
    /// <param name="place">How far it was.</param>
    /// <returns>How often it ended there, one after another.</returns>
    public static long AddDeath(WriteSession session, JobId jobId, string place) => session.Count(
        "update job set died = case when died_at = @place then died + 1 else 1 end, died_at = @place where job_id = @id returning died", ("id", jobId), ("place", place));

    /// <summary>Puts a job that ended early back in the queue.</summary>
    public static void GoOn(WriteSession session, JobId jobId) =>
        session.Execute("update job set died = 0, died_at = '', state = 'waiting', message = '', finished_at = null, author = @author where job_id = @id", ("id", jobId), ("author", Author.Current));

    public static void SaveImport(WriteSession session, JobId jobId, string kind, string fileName, long added, long updated, long rejectedCount, IEnumerable<RejectedRowRow> rejected)
    {
        session.Execute(
            "insert into import values (@id, @kind, @file, @added, @updated, @rejected)",
            ("id", jobId), ("kind", kind), ("file", fileName), ("added", added), ("updated", updated), ("rejected", rejectedCount));
        using var command = session.Command(
            "insert into rejected_row values (@id, @line, @column, @reason, @value)",
            ("id", jobId), ("line", 0L), ("column", ""), ("reason", ""), ("value", ""));
        foreach (var row in rejected)
        {
            command.Parameters[1].Value = row.Line;
            command.Parameters[2].Value = row.Column;
            command.Parameters[3].Value = row.Reason;
            command.Parameters[4].Value = row.Value;
            command.ExecuteNonQuery();
        }
    }

    /// <returns>Imports, newest first.</returns>
    public static IReadOnlyList<ImportRow> Imports(Session session) => session.List(
        """
        select i.import_id, i.kind, i.file_name, i.rows_added, i.rows_updated, i.rows_rejected, j.state, j.message, j.created_at
        from import i
        join job j on j.job_id = i.import_id
        order by i.import_id desc
        limit 200
        """,
        r => new ImportRow(r.Id<JobId>(0), r.GetString(1), r.GetString(2), r.GetInt64(3), r.GetInt64(4), r.GetInt64(5), r.GetString(6), r.GetString(7), r.GetString(8)));

    public static IReadOnlyList<RejectedRowRow> Rejected(Session session, JobId importId, int limit) => session.List(
        "select line, column_name, reason, value from rejected_row where import_id = @id order by rowid limit @limit",
        r => new RejectedRowRow(r.GetInt64(0), r.GetString(1), r.GetString(2), r.GetString(3)),
        ("id", importId), ("limit", limit));

    private static JobRow Read(SqliteDataReader r) => new(
        r.Id<JobId>(0), r.GetString(1), r.GetString(2), r.GetString(3), r.Enum<JobState>(4), r.GetString(5), r.GetString(6), r.TextOrNull(7), r.IdOrNull<UndoStepId>(8), r.GetString(9));
}
