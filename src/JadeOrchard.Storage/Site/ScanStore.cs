using System.Globalization;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Storage.Site;

/// <summary>A scan of the site.</summary>
/// <param name="Id">That of its job.</param>
/// <param name="FoundBy">How pages were found, in words; empty before it began.</param>
/// <param name="Notes">What was wrong with sitemaps and the like, a line each.</param>
public sealed record ScanRow(JobId Id, ScanDepth Depth, string StartUrl, string FoundBy, string Notes, string StartedAt, string? FinishedAt);

/// <summary>How far a scan has come.</summary>
public sealed record ScanCounts(long Waiting, long Done, long Failed, long Skipped)
{
    public long Total => Waiting + Done + Failed + Skipped;
}

/// <summary>An address of the site.</summary>
/// <param name="Identity">See <see cref="UrlIdentity"/>.</param>
/// <param name="Url">As it was found.</param>
public readonly record struct SiteUrl(string Identity, string Url);

/// <summary>What changed between two scans.</summary>
public enum PageChangeKind
{
    New,
    Gone,
    Back,
    Title,
    H1,
    Status,
    Indexable,
    Description,
    Headings,
    Words,
    Links,
    Text,
}

/// <summary>A change of a page that a scan saw.</summary>
/// <param name="Before">What it was; of headings, links and texts what only the former one has, a line each.</param>
/// <param name="After">What it is; likewise.</param>
/// <param name="Day">When it was changed: as the page says, else when the scan saw it.</param>
public sealed record PageChangeRow(PageId PageId, string Url, PageChangeKind Kind, string? Before, string? After, DateOnly Day);

/// <summary>An address that a scan could not read, or passed over.</summary>
public sealed record UnreadUrl(string Url, string State, string Note);

/// <summary>A title that a page had, and since when it was seen.</summary>
public sealed record PageTitleRow(string SeenAt, string Title);

/// <summary>A link to a page.</summary>
public sealed record PageLinkRow(PageId PageId, string Url, string? Title, string Anchor);

/// <summary>Scans: what is still to be read, what was read, and what changed.</summary>
public static class ScanStore
{
    private const string Columns = "scan_id, depth, start_url, found_by, notes, started_at, finished_at";

    public static void Begin(WriteSession session, JobId scanId, ScanDepth depth, string startUrl, DateTimeOffset now) => session.Execute(
        "insert into scan (scan_id, depth, start_url, found_by, notes, started_at) values (@id, @depth, @url, '', '', @now)",
        ("id", scanId), ("depth", depth.Stored()), ("url", startUrl), ("now", now.UtcDateTime.ToString("O")));

    public static void SetFound(WriteSession session, JobId scanId, string foundBy, string notes) => session.Execute(
        "update scan set found_by = @by, notes = @notes where scan_id = @id", ("id", scanId), ("by", foundBy), ("notes", notes));

    public static ScanRow? Find(Session session, JobId scanId) => session.First($"select {Columns} from scan where scan_id = @id", Read, ("id", scanId));

    public static ScanRow? Newest(Session session) => session.First($"select {Columns} from scan order by scan_id desc limit 1", Read);

    /// <summary>Adds addresses that are to be read; those that are known already are passed over.</summary>
    public static void Add(WriteSession session, JobId scanId, IEnumerable<SiteUrl> urls, string state = "waiting", string note = "")
    {
        using var insert = session.Command(
            """
            insert or ignore into scan_url (scan_id, place, identity, url, state, note)
            values (@scan, @place, @identity, @url, @state, @note)
            """,
            ("scan", scanId), ("place", 0L), ("identity", ""), ("url", ""), ("state", state), ("note", note));
        var place = session.Count("select coalesce(max(place), 0) from scan_url where scan_id = @scan", ("scan", scanId));
        foreach (var (identity, url) in urls)
        {
            insert.Parameters[1].Value = ++place;
            insert.Parameters[2].Value = identity;
            insert.Parameters[3].Value = url;
            insert.ExecuteNonQuery();
        }
    }

    /// <returns>All addresses of a scan in order, and whether each still waits.</returns>
    public static IReadOnlyList<(string Identity, string Url, bool IsWaiting)> Urls(Session session, JobId scanId) => session.List(
        "select identity, url, state = 'waiting' from scan_url where scan_id = @id order by place",
        r => (r.GetString(0), r.GetString(1), r.GetInt64(2) == 1),
        ("id", scanId));

    public static void SetState(WriteSession session, JobId scanId, string identity, string state, string note) => session.Execute(
        "update scan_url set state = @state, note = @note where scan_id = @id and identity = @identity",
        ("id", scanId), ("identity", identity), ("state", state), ("note", note));

    public static ScanCounts Counts(Session session, JobId scanId) => session.First(
        """
        select coalesce(sum(state = 'waiting'), 0), coalesce(sum(state = 'done'), 0), coalesce(sum(state = 'failed'), 0), coalesce(sum(state = 'skipped'), 0)
        from scan_url
        where scan_id = @id
        """,
        r => new ScanCounts(r.GetInt64(0), r.GetInt64(1), r.GetInt64(2), r.GetInt64(3)),
        ("id", scanId))!;

    /// <returns>What couldn't be read or was passed over, and why.</returns>
    public static IReadOnlyList<UnreadUrl> Unread(Session session, JobId scanId, int limit) => session.List(
        "select url, state, note from scan_url where scan_id = @id and state in ('failed', 'skipped') order by state, place limit @limit",
        r => new UnreadUrl(r.GetString(0), r.GetString(1), r.GetString(2)),
        ("id", scanId), ("limit", limit));

    public static IReadOnlyList<PageChangeRow> Changes(Session session, JobId scanId, int limit) => session.List(
        "select page_id, url, kind, before, after, day from page_change where scan_id = @id order by kind, change_id limit @limit",
        r => new PageChangeRow(r.Id<PageId>(0), r.GetString(1), r.Enum<PageChangeKind>(2), r.TextOrNull(3), r.TextOrNull(4), DateOnly.ParseExact(r.GetString(5), "yyyy-MM-dd", CultureInfo.InvariantCulture)),
        ("id", scanId), ("limit", limit));

    public static IReadOnlyDictionary<PageChangeKind, long> ChangeCounts(Session session, JobId scanId) => session.List(
            "select kind, count(*) from page_change where scan_id = @id group by kind", r => (r.Enum<PageChangeKind>(0), r.GetInt64(1)), ("id", scanId))
        .ToDictionary(c => c.Item1, c => c.Item2);

    /// <returns>The titles that a page had, newest first.</returns>
    public static IReadOnlyList<PageTitleRow> Titles(Session session, PageId pageId) => session.List(
        "select seen_at, title from page_title where page_id = @id order by seen_at desc", r => new PageTitleRow(r.GetString(0), r.GetString(1)), ("id", pageId));

    /// <summary>Goes through the links of the pages whose links were read by a full scan: the page, and the identity that it links to.</summary>
    public static void EachLink(Session session, Action<PageId, string> read) => session.Each(
        "select p.page_id, l.to_identity from page p join page_link l on l.content_id = p.content_id", r => read(r.Id<PageId>(0), r.GetString(1)));

    /// <returns>Pages that link to a page, with the anchor texts.</returns>
    public static IReadOnlyList<PageLinkRow> LinksTo(Session session, PageId pageId, int limit) => session.List(
        """
        select f.page_id, f.url, f.title, l.anchor
        from page p
        join page_link l on l.to_identity = p.identity
        join page f on f.content_id = l.content_id
        where p.page_id = @id and f.page_id <> p.page_id
        order by f.clicks desc, f.identity, l.place
        limit @limit
        """,
        r => new PageLinkRow(r.Id<PageId>(0), r.GetString(1), r.TextOrNull(2), r.GetString(3)),
        ("id", pageId), ("limit", limit));

    /// <summary>Writes what a scan saw of a page, and what changed since it was last scanned.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="scanId">The scan.</param>
    /// <param name="page">What it saw.</param>
    /// <param name="depth">A light scan leaves words, text and links as they are.</param>
    /// <param name="now">When.</param>
    public static void SavePage(WriteSession session, JobId scanId, ScannedPage page, ScanDepth depth, DateTimeOffset now)
    {
        var time = now.UtcDateTime.ToString("O");
        var before = session.First(
            """
            select p.page_id, p.title, p.h1, p.status, p.indexable, p.scanned_at is not null, p.gone_since is not null, p.kind = 'planned', p.description, p.h2, p.h3, p.words, p.modified_on, c.text
            from page p left join page_content c on c.content_id = p.content_id
            where p.identity = @identity
            """,
            r => new Before(
                r.Id<PageId>(0), r.TextOrNull(1), r.TextOrNull(2), r.LongOrNull(3), r.TextOrNull(4), r.GetInt64(5) == 1, r.GetInt64(6) == 1, r.GetInt64(7) == 1,
                r.TextOrNull(8), HeadingsOf(r.TextOrNull(9), r.TextOrNull(10)), r.LongOrNull(11), r.TextOrNull(12), r.TextOrNull(13)),
            ("identity", page.Identity));
        var isGone = page.Status is 404 or 410;
        // An address that was never there is no page of the site.
        if (before is null && isGone)
            return;
        var (content, full) = (page.Content, depth == ScanDepth.Full);
        var day = content?.ModifiedOn is { } modified && Iso(modified) is var said && said != before?.ModifiedOn && modified <= DateOnly.FromDateTime(now.UtcDateTime) ? said : time[..10];
        var id = session.Id<PageId>(
            """
            insert into page (identity, url, kind, source, title, h1, description, words, h2, h3, status, indexable, canonical, redirects_to, published_on, modified_on, first_seen_at, scanned_at, gone_since, language, versions)
            values (@identity, @url, 'existing', 'scan', @title, @h1, @description, @words, @h2, @h3, @status, @indexable, @canonical, @redirects, @published, @modified, @now, @now, @gone, @language, @versions)
            on conflict (identity) do update set
              kind = iif(@gone is null, 'existing', kind),
              source = iif(kind = 'planned' and @gone is null, 'scan', source),
              url = iif(@read, excluded.url, url),
              title = iif(@read, excluded.title, title),
              h1 = iif(@read, excluded.h1, h1),
              description = iif(@read, excluded.description, description),
              words = iif(@read and @full, excluded.words, words),
              h2 = iif(@read, excluded.h2, h2),
              h3 = iif(@read, excluded.h3, h3),
              status = excluded.status,
              indexable = excluded.indexable,
              canonical = excluded.canonical,
              redirects_to = excluded.redirects_to,
              published_on = iif(@read and @full, excluded.published_on, published_on),
              modified_on = iif(@read and @full, excluded.modified_on, modified_on),
              language = iif(@read, excluded.language, language),
              versions = iif(@read, excluded.versions, versions),
              first_seen_at = coalesce(first_seen_at, excluded.first_seen_at),
              scanned_at = excluded.scanned_at,
              gone_since = iif(@gone is null, null, coalesce(gone_since, @gone))
            returning page_id
            """,
            ("identity", page.Identity), ("url", page.Url), ("title", content?.Title), ("h1", content?.H1), ("description", content?.Description),
            ("words", full ? content?.Words : null), ("h2", content?.H2), ("h3", content?.H3), ("status", page.Status), ("indexable", page.Indexable),
            ("canonical", content?.Canonical), ("redirects", page.RedirectsTo), ("published", full ? content?.PublishedOn?.ToString("yyyy-MM-dd", null) : null),
            ("modified", full ? content?.ModifiedOn?.ToString("yyyy-MM-dd", null) : null), ("now", time), ("gone", isGone ? time : null), ("read", content is not null), ("full", full),
            ("language", content?.Language), ("versions", content?.Versions));

        if (before is not { WasScanned: true })
        {
            if (before is null || before.WasPlanned)
                AddChange(PageChangeKind.New, null, content?.Title);
        }
        else
        {
            if (isGone != before.WasGone)
                AddChange(isGone ? PageChangeKind.Gone : PageChangeKind.Back, before.Title, content?.Title);
            if (!isGone && before.Status != page.Status)
                AddChange(PageChangeKind.Status, before.Status?.ToString(CultureInfo.InvariantCulture), page.Status.ToString(CultureInfo.InvariantCulture));
            if (!isGone && before.Indexable != page.Indexable)
                AddChange(PageChangeKind.Indexable, before.Indexable, page.Indexable);
            if (content is not null && before.Title != content.Title)
                AddChange(PageChangeKind.Title, before.Title, content.Title);
            if (content is not null && before.H1 != content.H1)
                AddChange(PageChangeKind.H1, before.H1, content.H1);
            if (content is not null && before.Description != content.Description)
                AddChange(PageChangeKind.Description, before.Description, content.Description);
            if (content is not null)
                AddLines(PageChangeKind.Headings, before.Headings, HeadingsOf(content.H2, content.H3));
            // Only where an earlier scan read the text can it be told what is new in it.
            if (full && content is not null && before.Text is { Length: > 0 } text)
            {
                var (removed, added) = (StepChecks.OnlyIn(text, content.Text), StepChecks.OnlyIn(content.Text, text));
                if (removed.Count + added.Count > 0)
                    AddChange(PageChangeKind.Text, Lines(removed), Lines(added));
                if (before.Words is { } words && Math.Abs(content.Words - words) >= LeastOfWords * words)
                    AddChange(PageChangeKind.Words, words.ToString(CultureInfo.InvariantCulture), content.Words.ToString(CultureInfo.InvariantCulture));
                var linked = session.List("select distinct l.to_identity from page p join page_link l on l.content_id = p.content_id where p.page_id = @id", r => r.GetString(0), ("id", before.Id));
                if (linked.Count > 0)
                    AddLines(PageChangeKind.Links, linked, [.. content.Links.Select(l => UrlIdentity.TryOf(l.Url, UrlFolds.All, out var to) ? to : "").Where(to => to.Length > 0)]);
            }
        }

        if (content?.Title is { } title)
        {
            session.Execute(
                """
                insert into page_title (page_id, seen_at, title)
                select @id, @now, @title
                where @title is not (select title from page_title where page_id = @id order by seen_at desc limit 1)
                """,
                ("id", id), ("now", time), ("title", title));
        }

        if (full)
        {
            PageStore.SaveContent(session, id, content?.Text, content?.Links
                .Select(l => (To: UrlIdentity.TryOf(l.Url, UrlFolds.All, out var identity) ? identity : "", l.Anchor)).Where(l => l.To.Length > 0));
        }

        session.Touch(Data.Pages, id);
        session.Touch(Data.Evidence);

        void AddChange(PageChangeKind kind, string? old, string? current) => session.Execute(
            "insert into page_change (scan_id, page_id, url, kind, before, after, day) values (@scan, @page, @url, @kind, @before, @after, @day)",
            ("scan", scanId), ("page", id), ("url", page.Url), ("kind", kind.Stored()), ("before", old), ("after", current), ("day", day));

        void AddLines(PageChangeKind kind, IReadOnlyList<string> old, IReadOnlyList<string> current)
        {
            if (Lines(old.Except(current)) is var removed && Lines(current.Except(old)) is var added && (removed, added) is not (null, null))
                AddChange(kind, removed, added);
        }
    }

    /// <summary>Fewer words more or less are no change by themselves.</summary>
    private const double LeastOfWords = 0.05;

    private static string? Lines(IEnumerable<string> lines) => string.Join('\n', lines.Distinct(StringComparer.Ordinal)) is { Length: > 0 } text ? text : null;

    private static IReadOnlyList<string> HeadingsOf(string? h2, string? h3) => [.. new[] { h2, h3 }.OfType<string>().SelectMany(h => h.Split(" | ", StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))];

    private static string Iso(DateOnly day) => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    /// <summary>Says of each page whether it is in a sitemap.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="identities">What the addresses in the sitemaps are compared by; none where no sitemap was read.</param>
    public static void SaveSitemap(WriteSession session, IReadOnlyCollection<string> identities)
    {
        session.Execute("create temp table if not exists in_sitemap (identity text primary key) without rowid; delete from temp.in_sitemap;");
        using (var listed = new RowBuffer(session, "insert or ignore into temp.in_sitemap (identity)", 8, 1))
        {
            foreach (var identity in identities)
                listed.Add(identity);
        }

        session.Execute(
            """
            update page set in_sitemap = n.listed
            from (select p.page_id, iif(@any, exists (select 1 from temp.in_sitemap s where s.identity = p.identity), null) as listed from page p) n
            where n.page_id = page.page_id and page.in_sitemap is not n.listed
            """,
            ("any", identities.Count > 0));
    }

    /// <summary>Counts the links to each page, and says that the scan is done.</summary>
    public static void Finish(WriteSession session, JobId scanId, ScanDepth depth, DateTimeOffset now)
    {
        if (depth == ScanDepth.Full)
        {
            session.Execute(
                """
                update page
                set links_in = coalesce(n.count, 0)
                from page p
                left join (
                  select l.to_identity as identity, count(distinct f.page_id) as count
                  from page_link l
                  join page f on f.content_id = l.content_id and f.identity <> l.to_identity
                  group by l.to_identity
                ) n on n.identity = p.identity
                where page.page_id = p.page_id and page.kind = 'existing' and page.links_in is not coalesce(n.count, 0)
                """);
            session.Touch(Data.Pages);
        }

        session.Execute("update scan set finished_at = @now where scan_id = @id", ("id", scanId), ("now", now.UtcDateTime.ToString("O")));
    }

    private static ScanRow Read(Microsoft.Data.Sqlite.SqliteDataReader r) => new(
        r.Id<JobId>(0), r.Enum<ScanDepth>(1), r.GetString(2), r.GetString(3), r.GetString(4), r.GetString(5), r.TextOrNull(6));

    private sealed record Before(
        PageId Id, string? Title, string? H1, long? Status, string? Indexable, bool WasScanned, bool WasGone, bool WasPlanned, string? Description, IReadOnlyList<string> Headings, long? Words, string? ModifiedOn, string? Text);
}
