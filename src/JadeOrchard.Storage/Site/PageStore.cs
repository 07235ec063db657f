using JadeOrchard.Core.Site;
using JadeOrchard.Storage.Results;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Site;

/// <summary>Whether a page is there or meant to be.</summary>
public enum PageKind
{
    Existing,
    Planned,
}

/// <summary>A page as lists show it.</summary>
/// <param name="Source">Where it is known from first: import, results, scan or plan.</param>
/// <param name="Status">HTTP status at the newest scan; null where no scan has been there, as the rest of what scans see.</param>
/// <param name="Indexable">"yes", or why not.</param>
/// <param name="Canonical">The canonical that it names.</param>
/// <param name="ModifiedOn">When it was changed or, where that is not known, published, as the page says.</param>
/// <param name="GoneSince">Since when it is gone; null while it is there.</param>
/// <param name="LinksIn">Pages of the site that link to it; null where no full scan has been.</param>
/// <param name="Clusters">How many clusters it is assigned to.</param>
/// <param name="ClusterName">The one with most demand; null where there is none.</param>
/// <param name="Demand">Searches per month of its clusters.</param>
/// <param name="SeenFor">Keywords in whose result list it stands among the first 20.</param>
/// <param name="Clicks">Clicks per month that this should bring, estimated.</param>
/// <param name="OpenFindings">Findings about it that are open or accepted.</param>
/// <param name="Form">What kind of page is planned; null for existing ones.</param>
/// <param name="Language">As the page says.</param>
/// <param name="TopicId">The topic that a planned page belongs to; null where there is none.</param>
public sealed record PageRow(
    PageId Id,
    string Url,
    PageKind Kind,
    string Source,
    string? Title,
    string? H1,
    string? Description,
    long? Words,
    string? H2,
    string? H3,
    long? Status,
    string? Indexable,
    string? Canonical,
    string? RedirectsTo,
    string? PublishedOn,
    string? ModifiedOn,
    string? FirstSeenAt,
    string? ScannedAt,
    string? GoneSince,
    long? LinksIn,
    long Clusters,
    string? ClusterName,
    long Demand,
    long SeenFor,
    double Clicks,
    long OpenFindings,
    PageForm? Form,
    TopicId? TopicId,
    string? TopicName,
    string? Language)
{
    /// <summary>To be sent back with a change, so that one made meanwhile is not overwritten.</summary>
    public string Version => RowVersion.Of(Url, Kind, GoneSince, Clusters, ClusterName);
}

/// <summary>An existing page, for the rules.</summary>
/// <param name="IsGone">The site no longer has it.</param>
/// <param name="StandsFor">Where it leads, by a redirect or its canonical; null for itself.</param>
/// <param name="IsRead">Its main text is kept.</param>
public sealed record ExistingPage(PageId Id, string Identity, SitePage Page, bool IsGone, string? StandsFor, bool IsRead);

/// <summary>What kind of page is planned.</summary>
public enum PageForm
{
    Guide,
    Comparison,
    Category,
    Product,
    Answer,
    Other,
}

/// <summary>Which pages are wanted.</summary>
/// <param name="Kind">Only this one.</param>
/// <param name="HasCluster">Only those with, or without, a cluster.</param>
/// <param name="IsSeen">Only those that stand, or do not stand, in a result list.</param>
/// <param name="Path">The address without scheme and host begins with it; with "*" in it, matches it.</param>
/// <param name="Status">HTTP status, or a class of it: 3 for 300 to 399.</param>
/// <param name="Indexable">Only those that a search service may list, or may not.</param>
/// <param name="MinAge">Days since it was changed or published, at least.</param>
/// <param name="MinLinksIn">Pages of the site that link to it, at least.</param>
/// <param name="IsGone">Only those that are gone, or are there.</param>
public sealed record PageFilter(
    PageKind? Kind = null, bool? HasCluster = null, bool? IsSeen = null, string? Path = null, int? Status = null, bool? Indexable = null, long? MinWords = null, long? MaxWords = null,
    int? MinAge = null, int? MaxAge = null, long? MinLinksIn = null, long? MaxLinksIn = null, bool? IsGone = null);

/// <summary>The pages of the site, existing and planned.</summary>
public static class PageStore
{
    private const string AssignedTo = "(select count(*) from assignment a where a.page_id = g.page_id)";

    private const string DemandOf =
        "(select coalesce(sum(c.demand), 0) from assignment a join cluster c on c.cluster_id = a.cluster_id where a.page_id = g.page_id)";

    private const string LargestCluster =
        """
        (select coalesce(c.name, k.phrase)
         from assignment a
         join cluster c on c.cluster_id = a.cluster_id
         join keyword k on k.keyword_id = c.primary_keyword_id
         where a.page_id = g.page_id
         order by c.demand desc, c.cluster_id
         limit 1)
        """;

    /// <summary>The address without scheme and host, as filters by path see it.</summary>
    internal const string PathOf = "iif(instr(substr(g.identity, 9), '/') = 0, '/', substr(substr(g.identity, 9), instr(substr(g.identity, 9), '/')))";

    private const string AgeOf = "(julianday('now') - julianday(coalesce(g.modified_on, g.published_on)))";

    private static readonly ListSource<PageRow> Rows = new(
        "g.page_id",
        $"""
        g.page_id, g.url, g.kind, g.source, g.title, g.h1, g.description, g.words, g.h2, g.h3, g.status, g.indexable, g.canonical, g.redirects_to, g.published_on,
        coalesce(g.modified_on, g.published_on), g.first_seen_at, g.scanned_at, g.gone_since, g.links_in,
        {AssignedTo}, {LargestCluster}, {DemandOf}, g.seen_for, g.clicks, g.open_findings, g.form, g.topic_id,
        (select coalesce(t.name, c.name, k.phrase)
         from topic t
         left join cluster c on c.cluster_id = t.pillar_cluster_id
         left join keyword k on k.keyword_id = c.primary_keyword_id
         where t.topic_id = g.topic_id),
        g.language
        """,
        "page g",
        $"count(*), coalesce(sum(g.seen_for), 0), coalesce(sum({DemandOf}), 0), null, coalesce(sum(g.clicks), 0.0), 0",
        ListSource<PageRow>.Like("(g.url || ' ' || coalesce(g.title, ''))"),
        new Dictionary<string, string>
        {
            ["url"] = "g.url",
            ["kind"] = "g.kind",
            ["title"] = "g.title",
            ["words"] = "g.words",
            ["clusterName"] = LargestCluster,
            ["demand"] = DemandOf,
            ["seenFor"] = "g.seen_for",
            ["clicks"] = "g.clicks",
            ["openFindings"] = "g.open_findings",
            ["status"] = "g.status",
            ["indexable"] = "g.indexable",
            ["modifiedOn"] = "coalesce(g.modified_on, g.published_on)",
            ["linksIn"] = "g.links_in",
        },
        "g.clicks desc, g.identity",
        Read);

    public static ListPage<PageRow> List(Session session, ListQuery query, PageFilter filter) => Rows.Page(
        session,
        query,
        [
            "g.tracked = 0",
            filter.Kind is null ? null : "g.kind = @kind",
            filter.HasCluster switch { true => $"{AssignedTo} > 0", false => $"{AssignedTo} = 0", null => null },
            filter.IsSeen switch { true => "g.seen_for > 0", false => "g.seen_for = 0", null => null },
            string.IsNullOrWhiteSpace(filter.Path) ? null : $"{PathOf} glob @path",
            filter.Status is null ? null : filter.Status < 10 ? "g.status / 100 = @status" : "g.status = @status",
            filter.Indexable switch { true => "g.indexable = 'yes'", false => "g.indexable <> 'yes'", null => null },
            filter.MinWords is null ? null : "g.words >= @minWords",
            filter.MaxWords is null ? null : "g.words <= @maxWords",
            filter.MinAge is null ? null : $"{AgeOf} >= @minAge",
            filter.MaxAge is null ? null : $"{AgeOf} <= @maxAge",
            filter.MinLinksIn is null ? null : "g.links_in >= @minLinks",
            filter.MaxLinksIn is null ? null : "g.links_in <= @maxLinks",
            filter.IsGone switch { true => "g.gone_since is not null", false => "g.gone_since is null", null => null },
        ],
        ("kind", filter.Kind?.Stored()),
        ("path", Glob(filter.Path)),
        ("status", filter.Status),
        ("minWords", filter.MinWords),
        ("maxWords", filter.MaxWords),
        ("minAge", filter.MinAge),
        ("maxAge", filter.MaxAge),
        ("minLinks", filter.MinLinksIn),
        ("maxLinks", filter.MaxLinksIn));

    /// <summary>"/guides" is all below it, "*kayak*" whatever has the word; other signs of GLOB mean themselves.</summary>
    private static string? Glob(string? path)
    {
        if (string.IsNullOrWhiteSpace(path))
            return null;
        var text = path.Trim().Replace("[", "[[]", StringComparison.Ordinal).Replace("?", "[?]", StringComparison.Ordinal);
        return text.Contains('*', StringComparison.Ordinal) ? text : text + "*";
    }

    public static PageRow? Find(Session session, PageId pageId) => session.First(
        $"select {Rows.Columns} from {Rows.From} where g.page_id = @id", Read, ("id", pageId));

    /// <returns>A page as the newest scan saw it; null where there is none.</returns>
    public static Core.Plan.SeenPage? Seen(Session session, PageId pageId)
    {
        var links = session.List(
            "select l.to_identity from page p join page_link l on l.content_id = p.content_id where p.page_id = @id", r => r.GetString(0), ("id", pageId)).ToHashSet(StringComparer.Ordinal);
        string? IdentityOf(string? url) => url is not null && UrlIdentity.TryOf(url, UrlFolds.All, out var identity) ? identity : null;
        return session.First(
            """
            select p.identity, p.scanned_at is not null, p.status, p.redirects_to, p.indexable, p.canonical, p.in_sitemap, p.title, p.h1, c.text, p.h2, p.h3
            from page p left join page_content c on c.content_id = p.content_id
            where p.page_id = @id
            """,
            r => new Core.Plan.SeenPage(
                r.GetString(0), r.GetInt64(1) == 1, r.LongOrNull(2), IdentityOf(r.TextOrNull(3)), r.TextOrNull(4), IdentityOf(r.TextOrNull(5)), r.LongOrNull(6) is { } listed ? listed == 1 : null, r.TextOrNull(7),
                r.TextOrNull(8), [.. new[] { r.TextOrNull(10), r.TextOrNull(11) }.SelectMany(h => Core.Briefs.PageHeading.Of(h, 2)).Select(h => h.Text)], r.TextOrNull(9), r.TextOrNull(9) is null ? null : links),
            ("id", pageId));
    }

    public static PageRow? FindByIdentity(Session session, string identity) => session.First(
        $"select {Rows.Columns} from {Rows.From} where g.identity = @identity", Read, ("identity", identity));

    /// <returns>The titles of the pages that are there; null where one has none.</returns>
    public static IReadOnlyList<string?> Titles(Session session) => session.List("select title from page where kind = 'existing' and gone_since is null and tracked = 0 order by page_id", r => r.TextOrNull(0));

    /// <summary>Existing pages by id, for the rules.</summary>
    public static IReadOnlyList<ExistingPage> Existing(Session session) => session.List(
        """
        select page_id, identity, url, title, h1, description, words, h2, h3, gone_since is null and tracked = 0 and coalesce(indexable, 'yes') = 'yes', links_in,
          gone_since is not null, redirects_to, iif(indexable = 'canonical elsewhere', canonical, null),
          content_id is not null, language, versions
        from page
        where kind = 'existing'
        order by identity
        """,
        r => new ExistingPage(
            r.Id<PageId>(0),
            r.GetString(1),
            new SitePage(
                r.GetString(2), r.TextOrNull(3), r.TextOrNull(4), r.TextOrNull(5), r.LongOrNull(6), r.TextOrNull(7), r.TextOrNull(8), r.GetInt64(9) == 1, r.LongOrNull(10),
                r.TextOrNull(15), r.TextOrNull(16)),
            r.GetInt64(11) == 1,
            r.TextOrNull(12) ?? r.TextOrNull(13),
            r.GetInt64(14) == 1));

    /// <summary>Keeps what was read of a page in the place of what was kept; what was kept stays for undo.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="pageId">The page.</param>
    /// <param name="text">Its main text; null where there is none.</param>
    /// <param name="links">Identities and anchor texts of the pages it links to; null to keep those it has.</param>
    internal static void SaveContent(WriteSession session, PageId pageId, string? text, IEnumerable<(string To, string Anchor)>? links)
    {
        var before = session.Scalar("select content_id from page where page_id = @id", ("id", pageId)) as long?;
        long? content = null;
        if (text is not null)
        {
            content = session.Count("insert into page_content (text) values (@text) returning content_id", ("text", text));
            if (links is null)
            {
                session.Execute(
                    "insert into page_link (content_id, place, to_identity, anchor) select @now, place, to_identity, anchor from page_link where content_id = @before",
                    ("now", content), ("before", before));
            }
            else
            {
                using var insert = session.Command(
                    "insert into page_link (content_id, place, to_identity, anchor) values (@id, @place, @to, @anchor)", ("id", content), ("place", 0), ("to", ""), ("anchor", ""));
                var place = 0;
                foreach (var (to, anchor) in links)
                {
                    insert.Parameters[1].Value = ++place;
                    insert.Parameters[2].Value = to;
                    insert.Parameters[3].Value = anchor;
                    insert.ExecuteNonQuery();
                }
            }
        }

        session.Execute("update page set content_id = @content where page_id = @id", ("content", content), ("id", pageId));
    }

    /// <summary>Computes the stems of main texts that are new or were computed for another language.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="language">Of the project.</param>
    public static void RefreshStems(WriteSession session, string language)
    {
        var waiting = session.List(
            """
            select p.content_id from page p
            where p.content_id is not null and not exists (select 1 from page_stems s where s.content_id = p.content_id and s.language = @language)
            """,
            r => r.GetInt64(0), ("language", language));
        if (waiting.Count == 0)
            return;
        using var analysis = new Core.Keywords.TextAnalysis(language);
        using var text = session.Command("select text from page_content where content_id = @id", ("id", 0L));
        using var save = session.Command("insert or replace into page_stems values (@id, @language, @stems)", ("id", 0L), ("language", language), ("stems", ""));
        foreach (var some in waiting.Chunk(200))
        {
            session.GiveWay();
            string?[] texts = [.. some.Select(content =>
            {
                text.Parameters[0].Value = content;
                return text.ExecuteScalar() as string;
            })];
            Parallel.For(0, texts.Length, t => texts[t] = texts[t] is { } given ? string.Join(' ', analysis.Stems(given)) : null);
            // What went away meanwhile has none.
            foreach (var (content, stems) in some.Zip(texts).Where(t => t.Second is not null))
                save.Run(content, language, stems);
        }
    }

    /// <summary>Goes through the stems of main texts, by page, as far as they were read.</summary>
    public static IEnumerable<(PageId PageId, string Stems)> Stems(Session session)
    {
        using var command = session.Command("select p.page_id, s.stems from page p join page_stems s on s.content_id = p.content_id");
        using var reader = command.ExecuteReader();
        while (reader.Read())
            yield return (reader.Id<PageId>(0), reader.GetString(1));
    }

    public static long Count(Session session) => session.Count("select count(*) from page where kind = 'existing' and tracked = 0");

    /// <returns>Addresses of the pages that are there and lead nowhere else.</returns>
    public static IReadOnlyList<string> Addresses(Session session) => session.List(
        "select url from page where kind = 'existing' and redirects_to is null and tracked = 0", r => r.GetString(0));

    /// <summary>Writes a page that was imported; a planned page with its URL becomes existing, and keeps its clusters.</summary>
    /// <remarks>The rule is that of <see cref="SitePage.UpdatedBy"/>.</remarks>
    /// <returns>True where the page is new.</returns>
    public static bool Import(WriteSession session, string identity, SitePage page, string? text = null)
    {
        var isNew = session.Count("select count(*) from page where identity = @identity", ("identity", identity)) == 0;
        session.Execute(
            """
            insert into page (identity, url, kind, source, title, h1, description, words, h2, h3, language)
            values (@identity, @url, 'existing', 'import', @title, @h1, @description, @words, @h2, @h3, @language)
            on conflict (identity) do update set
              kind = 'existing',
              source = iif(kind = 'planned' or source = 'results', 'import', source),
              url = excluded.url,
              title = coalesce(excluded.title, title),
              h1 = coalesce(excluded.h1, h1),
              description = coalesce(excluded.description, description),
              words = coalesce(excluded.words, words),
              h2 = coalesce(excluded.h2, h2),
              h3 = coalesce(excluded.h3, h3),
              language = coalesce(excluded.language, language)
            """,
            ("identity", identity), ("url", page.Url), ("title", page.Title), ("h1", page.H1), ("description", page.Description),
            ("words", page.Words), ("h2", page.H2), ("h3", page.H3), ("language", page.Language));
        var id = session.Id<PageId>("select page_id from page where identity = @identity", ("identity", identity));
        session.Touch(Data.Pages, id);
        if (text is not null)
            SaveContent(session, id, text, links: null);
        if (text is not null || page.Title is not null || page.H1 is not null || page.Description is not null || page.Words is not null || page.H2 is not null)
            session.Touch(Data.Evidence);
        return isNew;
    }

    /// <summary>
    /// Marks pages that are known from results or search performance alone and are another page without the parameters that the project drops; takes in that
    /// page where it is not known.
    /// </summary>
    public static void MarkTracked(WriteSession session)
    {
        var tracking = ProjectStore.Tracking(session);
        var pages = session.List(
            "select page_id, identity, url, tracked, source = 'results' and scanned_at is null from page where kind = 'existing' and (tracked = 1 or (@any and source = 'results' and instr(identity, '?') > 0))",
            r => (Id: r.Id<PageId>(0), Identity: r.GetString(1), Url: r.GetString(2), WasTracked: r.GetInt64(3), IsKnownFromResults: r.GetInt64(4) == 1),
            ("any", !tracking.IsEmpty));
        foreach (var page in pages)
        {
            var folded = tracking.Fold(page.Identity);
            var isTracked = page.IsKnownFromResults && folded != page.Identity;
            if (isTracked)
            {
                session.Touching(
                    Data.Pages,
                    "insert into page (identity, url, kind, source) values (@identity, @url, 'existing', 'results') on conflict (identity) do update set kind = 'existing', source = 'results' where kind <> 'existing' returning page_id",
                    ("identity", folded), ("url", tracking.Fold(page.Url)));
            }

            if (page.WasTracked == (isTracked ? 1 : 0))
                continue;
            session.Execute("update page set tracked = @tracked where page_id = @id", ("tracked", isTracked ? 1L : 0L), ("id", page.Id));
            session.Touch(Data.Pages, page.Id);
        }
    }

    /// <summary>Takes in the pages of the site that are in result lists but were not imported.</summary>
    /// <returns>How many were new or planned before.</returns>
    public static int AdoptFromResults(WriteSession session, OwnSite site)
    {
        if (site.Host.Length == 0)
            return 0;
        var unknown = new Dictionary<long, string>();
        foreach (var host in site.Hosts)
        {
            session.Each(
                """
                select u.url_id, u.identity
                from url u
                where (u.host = @host or u.host like @below escape '\')
                  and not exists (select 1 from page p where p.identity = u.identity and p.kind = 'existing')
                """,
                r =>
                {
                    if (site.Owns(r.GetString(1)))
                        unknown[r.GetInt64(0)] = r.GetString(1);
                },
                ("host", host), ("below", "%." + host.Replace("_", "\\_", StringComparison.Ordinal)));
        }

        if (unknown.Count == 0)
            return 0;
        session.Execute("create temp table if not exists result_url (identity text not null, url text not null); delete from temp.result_url;");
        using (var found = new RowBuffer(session, "insert into temp.result_url", 8, 2))
        {
            session.Each("select p.ranks, p.shown from result_part p join result_list l on l.list_id = p.list_id", r =>
            {
                var places = ResultParts.Ranks(r.GetString(0)).Select((rank, i) => (Identity: unknown.GetValueOrDefault(rank.UrlId), Place: i)).Where(u => u.Identity is not null).ToList();
                if (places.Count == 0)
                    return;
                var shown = ResultParts.Shown(r.GetString(1));
                foreach (var (identity, place) in places)
                    found.Add(identity, shown[place].Url);
            });
        }

        return session.Touching(
            Data.Pages,
            """
            insert into page (identity, url, kind, source)
            select identity, min(url), 'existing', 'results'
            from temp.result_url
            where true
            group by identity
            on conflict (identity) do update set kind = 'existing', source = 'results'
            returning page_id
            """);
    }

    /// <summary>Makes a page that is meant to be written.</summary>
    /// <returns>Its id.</returns>
    public static PageId Plan(WriteSession session, string identity, string url, string? workingTitle, PageForm? form = null, TopicId? topicId = null) => session.Id<PageId>(
        """
        insert into page (identity, url, kind, source, title, form, topic_id)
        values (@identity, @url, 'planned', 'plan', @title, @form, @topic)
        returning page_id
        """,
        ("identity", identity), ("url", url), ("title", workingTitle), ("form", form?.Stored()), ("topic", topicId));

    /// <summary>A planned page without a cluster is of no use any more, and neither are the steps on it.</summary>
    public static void DropUnusedPlanned(WriteSession session) => session.Execute(
        """
        delete from page
        where kind = 'planned'
          and not exists (select 1 from assignment a where a.page_id = page.page_id);
        delete from step_part where work_step_id in (select s.work_step_id from work_step s where not exists (select 1 from page g where g.page_id = s.page_id));
        delete from step_entry where work_step_id in (select s.work_step_id from work_step s where not exists (select 1 from page g where g.page_id = s.page_id));
        delete from work_step where not exists (select 1 from page g where g.page_id = work_step.page_id);
        """);

    /// <summary>Says of each page for how many keywords it is seen in their newest results, and which clicks that should bring.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="depth">How far down counts as being seen.</param>
    /// <param name="curve">The share of clicks at a position.</param>
    public static void SaveStandings(WriteSession session, int depth, Func<int, double> curve)
    {
        var pages = ResultStore.OwnPages(session, r => r.Id<PageId>(1));
        var volumes = new Dictionary<KeywordId, long>();
        session.Each("select keyword_id, volume from keyword where volume > 0", r => volumes[r.Id<KeywordId>(0)] = r.GetInt64(1));
        var standings = new Dictionary<PageId, (int SeenFor, double Clicks)>();
        var best = new Dictionary<PageId, int>();
        ResultStore.EachNewest(session, (keyword, ranks) =>
        {
            best.Clear();
            foreach (var rank in ranks)
            {
                if (rank.Position <= depth && pages.TryGetValue(rank.UrlId, out var page) && !(best.TryGetValue(page, out var better) && better <= rank.Position))
                    best[page] = rank.Position;
            }

            foreach (var (page, position) in best)
            {
                var (seen, clicks) = standings.GetValueOrDefault(page);
                standings[page] = (seen + 1, clicks + (volumes.GetValueOrDefault(keyword) * curve(position)));
            }
        });
        using var command = session.Command(
            "update page set seen_for = @seen, clicks = @clicks where page_id = @id and (seen_for, clicks) <> (@seen, @clicks)", ("seen", 0), ("clicks", 0.0), ("id", 0L));
        foreach (var page in session.Ids<PageId>("select page_id from page"))
        {
            var (seen, clicks) = standings.GetValueOrDefault(page);
            command.Run(seen, clicks, page);
        }
    }

    private static PageRow Read(SqliteDataReader r) => new(
        r.Id<PageId>(0), r.GetString(1), r.Enum<PageKind>(2), r.GetString(3), r.TextOrNull(4), r.TextOrNull(5), r.TextOrNull(6), r.LongOrNull(7),
        r.TextOrNull(8), r.TextOrNull(9), r.LongOrNull(10), r.TextOrNull(11), r.TextOrNull(12), r.TextOrNull(13), r.TextOrNull(14), r.TextOrNull(15), r.TextOrNull(16),
        r.TextOrNull(17), r.TextOrNull(18), r.LongOrNull(19), r.GetInt64(20), r.TextOrNull(21), r.GetInt64(22), r.GetInt64(23), r.GetDouble(24), r.GetInt64(25),
        r.EnumOrNull<PageForm>(26), r.IdOrNull<TopicId>(27), r.TextOrNull(28), r.TextOrNull(29));
}
