using JadeOrchard.Core.Findings;

namespace JadeOrchard.Storage.Findings;

/// <summary>Two pages that the planner wants as they are.</summary>
public sealed record DeliberatePair(PageId PageId, string PageUrl, PageId OtherPageId, string OtherPageUrl, string Reason, string DeclaredAt);

/// <summary>What the planner says of findings and of pairs of pages.</summary>
public static class FindingDecisions
{
    /// <summary>Keeps what the planner says of findings.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="keys">The findings.</param>
    /// <param name="state">The state.</param>
    /// <param name="reason">Needed where it is dismissed.</param>
    /// <param name="now">When.</param>
    public static void Decide(WriteSession session, IReadOnlyList<string> keys, FindingState state, string reason, DateTimeOffset now)
    {
        using var command = session.Command(
            """
            insert into finding_decision (finding_key, state, reason, evidence_version, went_away, decided_at)
            values (@key, @state, @reason, (select version from evidence), 0, @now)
            on conflict (finding_key) do update set
              state = excluded.state, reason = excluded.reason, evidence_version = excluded.evidence_version, went_away = 0, decided_at = excluded.decided_at
            """,
            ("key", ""), ("state", state.Stored()), ("reason", reason), ("now", now.UtcDateTime.ToString("O")));
        foreach (var key in keys)
            command.Run(key);

        session.Touch(Data.Decisions);
    }

    /// <summary>Says that two pages are wanted as they are, so that they raise nothing.</summary>
    public static void DeclarePair(WriteSession session, PageId pageId, PageId otherPageId, string reason, DateTimeOffset now)
    {
        session.Execute(
            """
            insert into deliberate_pair (page_id, other_page_id, reason, declared_at) values (@page, @other, @reason, @now)
            on conflict (page_id, other_page_id) do update set reason = excluded.reason, declared_at = excluded.declared_at
            """,
            ("page", Math.Min(pageId.Value, otherPageId.Value)), ("other", Math.Max(pageId.Value, otherPageId.Value)), ("reason", reason), ("now", now.UtcDateTime.ToString("O")));
        session.Touch(Data.Pairs, pageId, otherPageId);
    }

    /// <summary>Takes back that two pages are wanted as they are.</summary>
    /// <returns>False where that was not said of them.</returns>
    public static bool UndeclarePair(WriteSession session, PageId pageId, PageId otherPageId)
    {
        if (session.Execute("delete from deliberate_pair where page_id = @page and other_page_id = @other", ("page", Math.Min(pageId.Value, otherPageId.Value)), ("other", Math.Max(pageId.Value, otherPageId.Value))) == 0)
            return false;
        session.Touch(Data.Pairs, pageId, otherPageId);
        return true;
    }

    /// <returns>The pairs of pages that are wanted as they are, newest first.</returns>
    public static IReadOnlyList<DeliberatePair> DeliberatePairs(Session session) => session.List(
        """
        select d.page_id, g.url, d.other_page_id, og.url, d.reason, d.declared_at
        from deliberate_pair d
        join page g on g.page_id = d.page_id
        join page og on og.page_id = d.other_page_id
        order by d.declared_at desc, d.pair_id
        """,
        r => new DeliberatePair(r.Id<PageId>(0), r.GetString(1), r.Id<PageId>(2), r.GetString(3), r.GetString(4), r.GetString(5)));

    /// <summary>Keeps who works on findings, or what was noted; null leaves it as it is.</summary>
    public static void Annotate(WriteSession session, IReadOnlyList<string> keys, string? assignee, string? note, DateTimeOffset now)
    {
        using var command = session.Command(
            """
            insert into finding_decision (finding_key, state, reason, evidence_version, went_away, decided_at, assignee, note)
            values (@key, 'open', '', (select version from evidence), 0, @now, coalesce(@assignee, ''), coalesce(@note, ''))
            on conflict (finding_key) do update set assignee = coalesce(@assignee, assignee), note = coalesce(@note, note)
            """,
            ("key", ""), ("now", now.UtcDateTime.ToString("O")), ("assignee", assignee?.Trim()), ("note", note?.Trim()));
        foreach (var key in keys)
            command.Run(key);

        session.Touch(Data.Decisions);
    }
}
