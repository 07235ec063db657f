using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Storage.Keywords;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Briefs;

/// <summary>How far a brief has come.</summary>
public enum BriefState
{
    Draft,
    Ready,
    Sent,
    Returned,
    Done,
}

/// <summary>A brief as it is stored.</summary>
/// <param name="Proposal">From the facts of the moment at which it was made or updated.</param>
/// <param name="Edits">What the planner made of it.</param>
public sealed record StoredBrief(
    BriefId Id, ClusterId ClusterId, Brief Proposal, BriefEdits Edits, BriefState State, string Writer, DateOnly? Due, string Notes, string MadeAt, string UpdatedAt)
{
    /// <summary>The brief as the planner has it.</summary>
    public Brief Brief => Edits.Apply(Proposal);

    /// <summary>A short text that is the same as long as nobody changed it.</summary>
    public string Version => RowVersion.Of(JsonSerializer.Serialize(Edits), State, Writer, Due, Notes, UpdatedAt);
}

/// <summary>The briefs of a project, one for each cluster at most.</summary>
public static class BriefStore
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) } };

    private const string Columns = "brief_id, cluster_id, proposal, edits, state, writer, due, notes, made_at, updated_at";

    /// <returns>All of them, those that are due first.</returns>
    public static IReadOnlyList<StoredBrief> All(Session session) => session.List($"select {Columns} from brief order by due is null, due, brief_id", Read);

    /// <returns>Null where there is none.</returns>
    public static StoredBrief? Find(Session session, BriefId id) => session.First($"select {Columns} from brief where brief_id = @id", Read, ("id", id));

    /// <returns>Null where the cluster has none.</returns>
    public static StoredBrief? Of(Session session, ClusterId clusterId) => session.First($"select {Columns} from brief where cluster_id = @id", Read, ("id", clusterId));

    /// <returns>The briefs of the clusters that a page is for.</returns>
    public static IReadOnlyList<StoredBrief> OfPage(Session session, PageId pageId) =>
        session.List($"select {Columns} from brief where cluster_id in (select cluster_id from assignment where page_id = @page) order by brief_id", Read, ("page", pageId));

    /// <returns>How many there are, and how many are with the writer or further.</returns>
    public static (long All, long Sent) Counts(Session session) => session.List("select count(*), coalesce(sum(state in ('sent', 'returned', 'done')), 0) from brief", r => (r.GetInt64(0), r.GetInt64(1)))[0];

    /// <summary>Adds a brief, or puts a newer proposal into the one that the cluster has; the planner's edits stay.</summary>
    public static BriefId Save(WriteSession session, ClusterId clusterId, Brief proposal, string writer, DateOnly? due, DateTimeOffset now) => session.Id<BriefId>(
        """
        insert into brief (cluster_id, proposal, writer, due, made_at, updated_at) values (@cluster, @proposal, @writer, @due, @now, @now)
        on conflict (cluster_id) do update set proposal = excluded.proposal, updated_at = excluded.updated_at
        returning brief_id
        """,
        ("cluster", clusterId), ("proposal", JsonSerializer.Serialize(proposal, Json)), ("writer", writer), ("due", Day(due)), ("now", SourceStore.Iso(now)));

    /// <summary>Changes what the planner made of a brief, and how far it has come.</summary>
    public static void Change(WriteSession session, StoredBrief brief) => session.Execute(
        "update brief set edits = @edits, state = @state, writer = @writer, due = @due, notes = @notes where brief_id = @id",
        ("edits", JsonSerializer.Serialize(brief.Edits, Json)), ("state", brief.State.Stored()), ("writer", brief.Writer), ("due", Day(brief.Due)), ("notes", brief.Notes), ("id", brief.Id));

    /// <summary>Takes a brief away.</summary>
    public static void Delete(WriteSession session, BriefId id) => session.Execute("delete from brief where brief_id = @id", ("id", id));

    /// <returns>Our page for its words; null where it is planned, or there is none.</returns>
    public static PageText? OwnText(Session session, PageId pageId) => session.First(
        """
        select p.url, p.title, p.description, p.h1, p.h2, p.h3, c.text
        from page p left join page_content c on c.content_id = p.content_id
        where p.page_id = @id and p.kind = 'existing'
        """,
        r => new PageText(
            r.GetString(0), r.TextOrNull(1), r.TextOrNull(2), r.TextOrNull(3) is { } h1 ? [h1] : [], [.. PageHeading.Of(r.TextOrNull(4), 2), .. PageHeading.Of(r.TextOrNull(5), 3)], r.TextOrNull(6) is { } text ? [text] : [], []),
        ("id", pageId));

    /// <returns>Pages of the site with their texts, by which it is told what is said of a subject more than of others.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="most">How many at most.</param>
    public static IReadOnlyList<PageText> OwnTexts(Session session, int most) => session.List(
        "select p.url, p.title, c.text from page p join page_content c on c.content_id = p.content_id where p.kind = 'existing' order by p.page_id limit @most",
        r => PageText.Of(r.GetString(0), r.TextOrNull(1), [], r.GetString(2)), ("most", most));

    private static string? Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static StoredBrief Read(SqliteDataReader r) => new(
        r.Id<BriefId>(0), r.Id<ClusterId>(1), JsonSerializer.Deserialize<Brief>(r.GetString(2), Json)!, JsonSerializer.Deserialize<BriefEdits>(r.GetString(3), Json)!, r.Enum<BriefState>(4), r.GetString(5),
        r.TextOrNull(6) is { } due ? DateOnly.ParseExact(due, "yyyy-MM-dd", CultureInfo.InvariantCulture) : null, r.GetString(7), r.GetString(8), r.GetString(9));
}
