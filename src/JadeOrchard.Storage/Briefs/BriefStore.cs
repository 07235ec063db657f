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
/// <param name="Previous">What was proposed before the newest facts; null where the planner has seen what they changed.</param>
public sealed record StoredBrief(
    BriefId Id, ClusterId ClusterId, Brief Proposal, BriefEdits Edits, BriefState State, string Writer, DateOnly? Due, string Notes, string MadeAt, string UpdatedAt, Brief? Previous = null)
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

    private const string Columns = "brief_id, cluster_id, proposal, edits, state, writer, due, notes, made_at, updated_at, previous";

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
        on conflict (cluster_id) do update set previous = iif(brief.proposal = excluded.proposal, brief.previous, coalesce(brief.previous, brief.proposal)), proposal = excluded.proposal, updated_at = excluded.updated_at
        returning brief_id
        """,
        ("cluster", clusterId), ("proposal", JsonSerializer.Serialize(proposal, Json)), ("writer", writer), ("due", Day(due)), ("now", SourceStore.Iso(now)));

    /// <summary>Changes what the planner made of a brief, and how far it has come.</summary>
    public static void Change(WriteSession session, StoredBrief brief) => session.Execute(
        "update brief set edits = @edits, state = @state, writer = @writer, due = @due, notes = @notes, previous = iif(@seen, null, previous) where brief_id = @id",
        ("edits", JsonSerializer.Serialize(brief.Edits, Json)), ("state", brief.State.Stored()), ("writer", brief.Writer), ("due", Day(brief.Due)), ("notes", brief.Notes), ("seen", brief.Previous is null), ("id", brief.Id));

    /// <summary>Takes a brief away.</summary>
    public static void Delete(WriteSession session, BriefId id) => session.Execute(
        "delete from brief where brief_id = @id; delete from brief_entry where brief_id = @id; delete from brief_text where brief_id = @id; delete from brief_link where brief_id = @id", ("id", id));

    /// <summary>Adds to the history of a brief.</summary>
    public static void Note(WriteSession session, BriefId id, string says, DateTimeOffset now) =>
        session.Execute("insert into brief_entry (brief_id, says, made_at, author) values (@id, @says, @now, @author)", ("id", id), ("says", says), ("now", SourceStore.Iso(now)), ("author", Author.Current));

    /// <returns>The history of a brief, the newest first.</returns>
    public static IReadOnlyList<BriefEntry> Entries(Session session, BriefId id) =>
        session.List("select says, made_at, coalesce(author, '') from brief_entry where brief_id = @id order by entry_id desc", r => new BriefEntry(r.GetString(0), r.GetString(1), r.GetString(2)), ("id", id));

    /// <returns>The versions of its text, the newest first, without their contents.</returns>
    public static IReadOnlyList<BriefText> Texts(Session session, BriefId id) =>
        session.List("select text_id, brief_id, name, title, description, '', words, made_at, coalesce(author, '') from brief_text where brief_id = @id order by text_id desc", ReadText, ("id", id));

    /// <returns>Null where there is no such version.</returns>
    public static BriefText? Text(Session session, BriefTextId id) =>
        session.First("select text_id, brief_id, name, title, description, content, words, made_at, coalesce(author, '') from brief_text where text_id = @id", ReadText, ("id", id));

    /// <summary>Keeps a version of a text.</summary>
    public static BriefTextId AddText(WriteSession session, BriefText text, DateTimeOffset now) => session.Id<BriefTextId>(
        "insert into brief_text (brief_id, name, title, description, content, words, made_at, author) values (@brief, @name, @title, @description, @content, @words, @now, @author) returning text_id",
        ("brief", text.BriefId), ("name", text.Name), ("title", text.Title), ("description", text.Description), ("content", text.Content), ("words", text.Words), ("now", SourceStore.Iso(now)), ("author", Author.Current));

    /// <returns>The link by which a writer sees a brief; null where there is none, or it has expired.</returns>
    public static BriefLinkRow? Link(Session session, BriefId id, DateTimeOffset now) => session.First(
        "select token, brief_id, expires_at from brief_link where brief_id = @id and expires_at > @now", ReadLink, ("id", id), ("now", SourceStore.Iso(now)));

    /// <returns>The link with a token; null where there is none, or it has expired.</returns>
    public static BriefLinkRow? Link(Session session, string token, DateTimeOffset now) => session.First(
        "select token, brief_id, expires_at from brief_link where token = @token and expires_at > @now", ReadLink, ("token", token), ("now", SourceStore.Iso(now)));

    /// <summary>Gives a brief a link; the one before no longer works.</summary>
    public static void SaveLink(WriteSession session, string token, BriefId id, DateTimeOffset expires, DateTimeOffset now) => session.Execute(
        "delete from brief_link where brief_id = @brief; insert into brief_link (token, brief_id, made_at, expires_at) values (@token, @brief, @now, @expires)",
        ("token", token), ("brief", id), ("now", SourceStore.Iso(now)), ("expires", SourceStore.Iso(expires)));

    /// <summary>Takes the link of a brief back.</summary>
    public static void DeleteLink(WriteSession session, BriefId id) => session.Execute("delete from brief_link where brief_id = @id", ("id", id));

    /// <returns>Headings that were saved for a topic.</returns>
    public static IReadOnlyList<string> Headings(Session session, TopicId topicId) =>
        session.List("select heading from topic_heading where topic_id = @id order by heading_id", r => r.GetString(0), ("id", topicId));

    /// <summary>Saves a heading for a topic; one that is saved already stays as it is.</summary>
    public static void AddHeading(WriteSession session, TopicId topicId, string heading) =>
        session.Execute("insert or ignore into topic_heading (topic_id, heading) values (@id, @heading)", ("id", topicId), ("heading", heading));

    /// <summary>Forgets a heading of a topic.</summary>
    public static void DeleteHeading(WriteSession session, TopicId topicId, string heading) =>
        session.Execute("delete from topic_heading where topic_id = @id and heading = @heading", ("id", topicId), ("heading", heading));

    /// <returns>Our page for its words; null where it is planned, or there is none.</returns>
    public static PageText? OwnText(Session session, PageId pageId) => OwnTexts(session, [pageId]).GetValueOrDefault(pageId);

    /// <returns>Our pages for their words; those that are planned, or that there are not, are left out.</returns>
    public static IReadOnlyDictionary<PageId, PageText> OwnTexts(Session session, IReadOnlyCollection<PageId> pageIds) => session.List(
        $"""
        select p.page_id, p.url, p.title, p.description, p.h1, p.h2, p.h3, c.text, p.published_on, p.modified_on, p.links_in, (select count(*) from page_link l where l.content_id = p.content_id)
        from page p left join page_content c on c.content_id = p.content_id
        where p.page_id in ({string.Join(',', pageIds)}) and p.kind = 'existing'
        """,
        r => (Id: r.Id<PageId>(0), Text: new PageText(
            r.GetString(1), r.TextOrNull(2), r.TextOrNull(3), r.TextOrNull(4) is { } h1 ? [h1] : [], [.. PageHeading.Of(r.TextOrNull(5), 2), .. PageHeading.Of(r.TextOrNull(6), 3)], r.TextOrNull(7) is { } text ? [text] : [], [])
        {
            Facts = new PageFacts(null, null, null, r.IsDBNull(7) ? null : r.IntOrNull(11), null, DayOf(r.TextOrNull(8)), DayOf(r.TextOrNull(9)), r.IntOrNull(10)),
        })).ToDictionary(p => p.Id, p => p.Text);

    /// <returns>Pages of the site with their texts, by which it is told what is said of a subject more than of others.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="most">How many at most.</param>
    public static IReadOnlyList<PageText> OwnTexts(Session session, int most) => session.List(
        "select p.url, p.title, p.h2, p.h3, c.text from page p join page_content c on c.content_id = p.content_id where p.kind = 'existing' order by p.page_id limit @most",
        r => PageText.Of(r.GetString(0), r.TextOrNull(1), [], r.GetString(4)) with { H2 = [.. PageHeading.Of(r.TextOrNull(2), 2), .. PageHeading.Of(r.TextOrNull(3), 3)] }, ("most", most));

    /// <returns>The main texts of all pages of the site that are there.</returns>
    public static IReadOnlyList<(string Url, string Text)> SiteTexts(Session session) => session.List(
        "select p.url, c.text from page p join page_content c on c.content_id = p.content_id where p.kind = 'existing' and p.gone_since is null order by p.page_id", r => (r.GetString(0), r.GetString(1)));

    /// <returns>Changes whenever texts of the site do.</returns>
    public static string SiteTextsVersion(Session session) => session.First(
        "select count(*) || '-' || coalesce(max(p.content_id), 0) || '-' || coalesce(sum(p.content_id), 0) from page p where p.kind = 'existing' and p.gone_since is null", r => r.GetString(0))!;

    private static string? Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static StoredBrief Read(SqliteDataReader r) => new(
        r.Id<BriefId>(0), r.Id<ClusterId>(1), JsonSerializer.Deserialize<Brief>(r.GetString(2), Json)!, JsonSerializer.Deserialize<BriefEdits>(r.GetString(3), Json)!, r.Enum<BriefState>(4), r.GetString(5),
        DayOf(r.TextOrNull(6)), r.GetString(7), r.GetString(8), r.GetString(9), r.TextOrNull(10) is { } previous ? JsonSerializer.Deserialize<Brief>(previous, Json) : null);

    private static DateOnly? DayOf(string? day) => day is null ? null : DateOnly.ParseExact(day, "yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static BriefText ReadText(SqliteDataReader r) => new(r.Id<BriefTextId>(0), r.Id<BriefId>(1), r.GetString(2), r.GetString(3), r.GetString(4), r.GetString(5), r.GetInt32(6), r.GetString(7), r.GetString(8));

    private static BriefLinkRow ReadLink(SqliteDataReader r) => new(r.GetString(0), r.Id<BriefId>(1), r.GetString(2));
}

/// <summary>An entry in the history of a brief.</summary>
/// <param name="Author">By whom; empty where nobody has to sign in.</param>
public sealed record BriefEntry(string Says, string MadeAt, string Author);

/// <summary>A version of the text of a brief.</summary>
/// <param name="Name">Where it came from: a file, an address, or "pasted".</param>
/// <param name="Content">Markdown; empty in lists.</param>
/// <param name="Author">Who kept it; empty where nobody has to sign in.</param>
public sealed record BriefText(BriefTextId Id, BriefId BriefId, string Name, string Title, string Description, string Content, int Words, string MadeAt, string Author);

/// <summary>A link by which a writer sees one brief and nothing else.</summary>
/// <param name="Token">128 random bits.</param>
public sealed record BriefLinkRow(string Token, BriefId BriefId, string ExpiresAt);
